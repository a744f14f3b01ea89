package load

import (
	"maps"

	"patientfox/core/criteria"
	"patientfox/core/trial"
)

// Unsaid is how strong a trigger counts as whose distance is named and whose strength is not.
const Unsaid = 3

// Step are the conditions that a step's criteria name, without value, rate, the place, cold and practice.
func Step(c criteria.Criteria) Conditions {
	at := Conditions{
		TriggerM: c.Get(criteria.Trigger), Intensity: c.Get(criteria.Intensity), Moving: c.Get(criteria.Moving) > 0,
		DurationS: c.Get(criteria.Duration), HandlerM: c.Get(criteria.Handler), Novelty: c.Get(criteria.Novelty),
		Help: helpGiven(c),
	}
	if at.Intensity == 0 && at.TriggerM > 0 && !c.Has(criteria.Intensity) {
		at.Intensity = Unsaid
	}
	return at
}

// AsWorked are a step's criteria as a trial really had them: what varied as it was asked, and settings as people had them.
func AsWorked(c criteria.Criteria, t *trial.Trial) criteria.Criteria {
	if len(t.Asked)+len(t.Worked) == 0 {
		return c
	}
	values := maps.Clone(c.Values)
	if values == nil {
		values = map[criteria.Key]float64{}
	}
	maps.Copy(values, t.Asked)
	maps.Copy(values, t.Worked)
	c.Values = values
	return c
}

// helpGiven is the share of the fade list that is still given: 1 at its first word, 0 at its end, or where the step names no help.
func helpGiven(c criteria.Criteria) float64 {
	d, known := c.Dimension(criteria.Help)
	last := float64(len(d.Items) - 1)
	if !known || !c.Has(criteria.Help) || last <= 0 {
		return 0
	}
	return 1 - c.Get(criteria.Help)/last
}

// Experience is how much a dog has worked a skill, and where.
type Experience struct {
	Counted int            `json:"counted"` // trials
	Opened  int            `json:"opened"`  // sessions
	There   map[string]int `json:"there"`   // sessions by place
}

// Ahead are the conditions of the next trial under criteria, at a place: value is that of the reinforcer in hand, 0 where it is not known,
// rate the planned one per minute. Where the criteria do not say how new the place is, it goes by the sessions there.
func (e Experience) Ahead(c criteria.Criteria, place string, value, rate float64) Conditions {
	at := Step(c)
	at.Value, at.Rate, at.Practice = value, rate, e.Counted
	if !c.Has(criteria.Novelty) {
		at.Novelty = e.novelty(place)
	}
	return at
}

// novelty is how new a place counts as: 2 at the skill's first session there, 1 at the second, 0 from then on. The place of the very first
// session is no new one: nothing else is known yet.
func (e Experience) novelty(place string) float64 {
	switch there := e.There[place]; {
	case e.Opened == 0 || there >= 2:
		return 0
	case there == 1:
		return 1
	}
	return 2
}
