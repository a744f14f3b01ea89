package progression

import "patientfox/core/criteria"

// Ask is something that a generator asks for.
type Ask string

// What generators ask for.
const (
	AskWhat    Ask = "what"    // the dimension
	AskFrom    Ask = "from"    // where it starts
	AskTo      Ask = "to"      // the goal
	AskBy      Ask = "by"      // how much a step grows
	AskGrow    Ask = "grow"    // whether that is added or multiplied
	AskTrigger Ask = "trigger" // what the trigger is, and its greatest strength
	AskItems   Ask = "items"   // a list, easiest first
	AskTools   Ask = "tools"   // mildest first
	AskParts   Ask = "parts"   // parts of a stimulus, and which of them come together
)

var asks = map[Make][]Ask{
	MakeRamp:     {AskWhat, AskFrom, AskTo, AskBy, AskGrow},
	MakeCountUp:  {AskTo},
	MakeApproach: {AskTrigger, AskFrom, AskTo, AskBy, AskGrow},
	MakeFade:     {AskWhat, AskItems},
	MakePause:    {AskFrom, AskTo, AskBy},
	MakeLead:     {AskFrom, AskTo, AskBy},
	MakeParts:    {AskParts},
	MakeSites:    {AskItems, AskTools, AskFrom, AskTo, AskBy},
	MakeFigures:  {AskWhat, AskItems},
}

// Asks is what a generator asks for; listed tells whether its dimension is a list of words, along which a ramp goes.
func (m Make) Asks(listed bool) []Ask {
	if listed && m == MakeRamp {
		return []Ask{AskWhat, AskItems}
	}
	return asks[m]
}

// fixed are the dimensions of generators that have only one.
var fixed = map[Make]criteria.Key{
	MakeCountUp: criteria.Paces, MakeApproach: criteria.Trigger, MakePause: criteria.HelpAfter, MakeLead: criteria.Lead,
	MakeSites: criteria.Duration,
}

// Dimension is the dimension of a generator's figures; ok is false where it is chosen (AskWhat), or where it has no figures.
func (m Make) Dimension() (d criteria.Dimension, ok bool) {
	key, ok := fixed[m]
	if !ok {
		return d, false
	}
	return criteria.Find(key)
}
