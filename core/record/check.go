package record

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"unicode/utf8"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/experiment"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Bounds of what an event may hold.
const (
	maxDay      = 7 * 24 * 3600 * 1000 // ms, the longest session
	MaxData     = 64 << 10             // bytes of data
	maxPieces   = 5000
	maxUnlogged = 500
	maxTags     = 20 // in an event; a person gives fewer
	maxCounted  = 1000
	maxSplits   = 10_000
	maxMade     = 50
	maxWord     = 400 // bytes of a word of a list
	maxCode     = 40  // bytes of a word of our own, such as a verdict or a reason to end
	maxJudge    = 100 // more judgements than there will be
	maxID       = 64  // bytes of an id that is not the event's own
	maxAsked    = 60  // dimensions that one trial asks for
	maxReads    = 2000
	maxReasons  = 30
	maxErrors   = 12              // of one trial
	maxBetween  = 100             // trials
	MaxWall     = 253402300799999 // UTC Unix ms: the end of the year 9999
)

// Check says why an event cannot be taken, as a sentence; nil where it can. What it refuses stays
// with the sender and is shown there.
func Check(e Event) error {
	switch {
	case e.V < 1 || e.V > Version:
		return fmt.Errorf("envelope version %d is not one this server reads", e.V)
	case !isUUID(e.ID):
		return fmt.Errorf("the event's id is not a UUID")
	case !isUUID(e.Session):
		return fmt.Errorf("the session's id is not a UUID")
	case e.Dev == "" || len(e.Dev) > 64:
		return fmt.Errorf("the device has no usable name")
	case e.Seq < 1 || e.Seq > 1<<53:
		return fmt.Errorf("the sequence number is below 1")
	case e.Wall < 0 || e.Wall > MaxWall:
		return fmt.Errorf("the device's clock says a day that is none")
	case e.T < 0 || e.T > maxDay:
		return fmt.Errorf("the time lies outside the session")
	case e.Kind == "" || len(e.Kind) > 32:
		return fmt.Errorf("the event has no kind")
	case len(e.By) > 64 || len(e.Handler) > 64:
		return fmt.Errorf("a person's id is too long")
	case len(e.Data) > MaxData:
		return fmt.Errorf("the data is over %d KB", MaxData>>10)
	}
	data, err := decode(e.Kind, e.Data)
	if err != nil || data != nil && !isObject(e.Data) {
		return fmt.Errorf("the data of “%s” cannot be read", e.Kind)
	}
	if m, is := data.(*MoveData); is && m.New != nil && !sound(*m.New) {
		return fmt.Errorf("the new step cannot stand")
	}
	if b, is := data.(*BlockData); is {
		for _, m := range b.Made {
			if !sound(m.Step) || len(m.Above) > maxID {
				return fmt.Errorf("a step made in the field cannot stand")
			}
		}
	}
	if !withinLengths(data) {
		return fmt.Errorf("a word or a list of “%s” is too long", e.Kind)
	}
	return checkData(e, data)
}

// sound tells whether a step that was made in the field can be one of a plan.
func sound(s progression.Step) bool {
	return isUUID(s.ID) && s.Rev >= 0 && s.Rev <= 1e6 && len(s.Criteria.Check()) == 0
}

// withinLengths tells whether the texts and lists of an event keep to their bounds. They are checked at the door alone:
// what is stored already is read unchecked.
func withinLengths(data any) bool {
	switch d := data.(type) {
	case *OpenData:
		return short(maxID, d.Dog, d.Place, d.Core, d.Sheet) && short(maxWord, d.Tags...) && short(maxWord, d.Named)
	case *BlockData:
		return d.Judge >= 0 && d.Judge <= maxJudge &&
			short(maxID, d.Dog, d.Skill, d.Plan, d.Level, d.With, d.Reached, d.Since, d.Half) && short(maxWord, d.Track, d.ClearedBy) &&
			len(d.Skills) <= criteria.MaxItems && short(maxWord, d.Skills...) && len(d.Spoils) <= maxErrors && short(maxWord, d.Spoils...)
	case *CueData:
		return short(maxCode, d.Mode)
	case *trial.Roles:
		return short(maxID, d.Holds, d.Feeds)
	case *MarkData:
		return short(maxID, d.For)
	case *HelpData:
		return short(maxWord, d.How)
	case *TrialData:
		return max(len(d.Errors), len(d.Ticks)) <= maxErrors && short(maxWord, d.Ticks...) && short(maxWord, d.Errors...) &&
			keyed(d.Asked) && keyed(d.Worked) &&
			short(maxWord, d.Broke, d.Instead, d.Source, d.After, d.Skill, d.Prompt, d.Mistake) &&
			d.Elsewhere.short()
	case *ExposureData:
		return short(maxWord, d.Site, d.Tool, d.Part, d.Mistake) && d.Elsewhere.short() && keyed(d.Worked) &&
			(d.Touched == nil || short(maxWord, d.Touched.Site, d.Touched.Tool, d.Touched.Part))
	case *TriggerData:
		return short(maxWord, d.Site, d.Tool, d.Part) && short(maxCode, d.How)
	case *TurnData:
		return short(maxID, d.Block)
	case *PayData:
		return short(maxCode, d.Taken, d.Where, string(d.As)) && short(maxID, d.For, d.Reward) && short(maxWord, d.Reason)
	case *DecoyData:
		return short(maxCode, d.Reaction) && short(maxWord, d.Tool)
	case *CountData:
		return short(maxCode, d.What)
	case *UnloggedData:
		return short(maxID, d.Block)
	case *VerdictData:
		return short(maxCode, d.Recommended, d.Action, d.Core) && short(maxID, d.Step, d.Trial) &&
			len(d.TrialIDs) <= maxReads && short(maxID, d.TrialIDs...)
	case *MoveData:
		return short(maxID, d.From, d.To, d.Above) && short(maxCode, string(d.Why))
	case *AmendData:
		return short(maxID, d.Target)
	case *RetractData:
		return short(maxID, d.Target)
	case *AlignData:
		return short(maxID, d.Dev)
	case *EndData:
		return short(maxCode, d.Reason)
	}
	return true
}

func short(limit int, texts ...string) bool {
	for _, text := range texts {
		if len(text) > limit {
			return false
		}
	}
	return true
}

// checkData checks what an event holds, but for new steps: those are never amended.
func checkData(e Event, data any) error {
	if d, is := data.(*RetractData); is && d.Target == e.ID {
		return fmt.Errorf("an event cannot take itself back")
	}
	if d, bounded := data.(interface{ check() error }); bounded {
		return d.check()
	}
	return nil
}

// keyed tells whether figures by dimension are few, and their names short.
func keyed(figures map[criteria.Key]float64) bool {
	for key := range figures {
		if len(key) > maxID {
			return false
		}
	}
	return len(figures) <= maxAsked
}

// bounded tells whether figures by dimension are figures.
func bounded(figures map[criteria.Key]float64) bool {
	for _, x := range figures {
		if !(math.Abs(x) <= 1e6) {
			return false
		}
	}
	return true
}

func (e Elsewhere) short() bool {
	return short(maxID, e.Handler, e.Block, e.Step) && (e.Holds == nil || short(maxID, *e.Holds)) && (e.Feeds == nil || short(maxID, *e.Feeds))
}

func (d *TrialData) check() error {
	if d.Outcome != "" && !d.Outcome.Valid() {
		return fmt.Errorf("there is no outcome “%s”", d.Outcome)
	}
	if negative(d.LatencyS) || negative(d.HeldS) || negative(d.Position) || d.Cues < 0 || d.Cues > 100 ||
		d.Prompts != nil && (*d.Prompts < 0 || *d.Prompts > 100) {
		return fmt.Errorf("a measure of the trial is out of range")
	}
	if min(d.Paces, d.Pulls, d.CheckIns) < 0 || max(d.Paces, d.Pulls, d.CheckIns) > maxCounted || negative(d.SlackS) ||
		negative(d.ReturnS) || negative(d.OutS) ||
		d.LeadS != nil &&
			!(*d.LeadS >= -maxDay/1000 && *d.LeadS <= maxDay/1000) || d.Offered != nil && (*d.Offered < 0 || *d.Offered >= criteria.MaxItems) {
		return fmt.Errorf("a measure of the trial is out of range")
	}
	if d.Card < 0 || d.Card > criteria.MaxItems {
		return fmt.Errorf("there is no such card")
	}
	if err := checkPhases(d.Phases); err != nil {
		return err
	}
	if !bounded(d.Asked) || !bounded(d.Worked) {
		return fmt.Errorf("a figure that the trial asked for is out of range")
	}
	return nil
}

func checkPhases(phases []trial.Phase) error {
	if len(phases) > work.MaxPhases {
		return fmt.Errorf("a trial has at most %d phases", work.MaxPhases)
	}
	for _, p := range phases {
		if !short(maxWord, p.Name) || !(p.S >= 0 && p.S <= maxDay/1000) || !(p.Asked >= 0 && p.Asked <= maxDay/1000) ||
			p.Outcome != "" && !p.Outcome.Valid() || p.State != nil && (*p.State < 0 || *p.State > 4) {
			return fmt.Errorf("a phase of the trial is out of range")
		}
	}
	return nil
}

func (d *CueData) check() error {
	if d.N < 0 || d.N > 100 || d.End != nil && (*d.End < 0 || *d.End > maxDay) {
		return fmt.Errorf("a cue is the 1st to the 100th, and ends within the session")
	}
	return nil
}

func (d *JoinData) check() error {
	if d.Offset < -maxDay || d.Offset > maxDay {
		return fmt.Errorf("the device's clock is more than seven days off the session's")
	}
	return nil
}

func (d *AlignData) check() error {
	if d.Shift < -maxDay || d.Shift > maxDay {
		return fmt.Errorf("a device is shifted by at most seven days")
	}
	return nil
}

func (d *ExposureData) check() error {
	if d.State < 0 || d.State > 4 || negative(d.RecoveryS) || negative(d.HeldS) || !bounded(d.Worked) {
		return fmt.Errorf("a state is 0 to 4")
	}
	return nil
}

func (d *TriggerData) check() error {
	if d.M != nil && !(*d.M >= 0 && *d.M <= 10000) {
		return fmt.Errorf("a trigger is 0 to 10000 m off")
	}
	return nil
}

func (d *RecoverData) check() error {
	switch d.What {
	case Distance, Looked, Asked, Answered, TooSlow, GoesOn, GoesHome:
	default:
		return fmt.Errorf("there is no recovery “%s”", d.What)
	}
	return nil
}

func (d *PayData) check() error {
	if d.Pieces < 0 || d.Pieces > 100 || d.Tier < 0 || d.Tier > 5 {
		return fmt.Errorf("a pay has 0 to 100 pieces")
	}
	if negative(d.Seconds) {
		return fmt.Errorf("a pay lasts 0 s or longer")
	}
	return nil
}

func (d *FoodData) check() error {
	if max(len(d.Reward), len(d.Turn)) > maxID || d.Tier < 0 || d.Tier > 5 {
		return fmt.Errorf("a food is one of the dog's rewards")
	}
	return nil
}

func (d *WarmupData) check() error {
	if negative(d.S) || len(d.Ticks) > maxErrors || !short(maxWord, d.Ticks...) || !short(maxCode, string(d.Part)) {
		return fmt.Errorf("a part of a readiness test cannot be read")
	}
	if !d.Answer.Valid() && !(d.Given && d.Answer == "") {
		return fmt.Errorf("there is no answer “%s”", d.Answer)
	}
	return nil
}

func (d *StateData) check() error {
	if d.State < 0 || d.State > 4 {
		return fmt.Errorf("a state is 0 to 4")
	}
	return nil
}

func (d *ArousalData) check() error {
	if d.Level < 0 || d.Level > 2 {
		return fmt.Errorf("arousal is 0 to 2")
	}
	return nil
}

func (d *PhaseData) check() error {
	if d.Outcome != "" && !d.Outcome.Valid() || d.State != nil && (*d.State < 0 || *d.State > 4) {
		return fmt.Errorf("a phase ends with an outcome, or a state of 0 to 4")
	}
	return nil
}

func (d *TallyData) check() error {
	if min(d.Met, d.Late, d.Helped, d.Missed) < 0 || d.Met+d.Late+d.Helped+d.Missed > 100 {
		return fmt.Errorf("a tally holds 0 to 100 trials")
	}
	return nil
}

func (d *UnloggedData) check() error {
	if d.N < 0 || d.N > maxUnlogged || outside(d.Left) {
		return fmt.Errorf("not logged: 0 to %d trials", maxUnlogged)
	}
	return nil
}

func (d *OpenData) check() error {
	if outside(d.Pieces) {
		return fmt.Errorf("pieces: 0 to %d", maxPieces)
	}
	if d.Named != "" && (!isUUID(d.Place) || utf8.RuneCountInString(d.Named) > criteria.MaxName) {
		return fmt.Errorf("a new place has an id of its own, and a name of at most %d characters", criteria.MaxName)
	}
	if len(d.Tags) > maxTags {
		return fmt.Errorf("at most %d tags", maxTags)
	}
	return nil
}

func (d *BlockData) check() error {
	if d.Splits < 0 || d.Splits > maxSplits {
		return fmt.Errorf("a step was split 0 to %d times", maxSplits)
	}
	if len(d.Made) > maxMade {
		return fmt.Errorf("at most %d steps are made in the field", maxMade)
	}
	if len(d.Deck) > criteria.MaxItems || slices.ContainsFunc(d.Deck, func(c Card) bool { return !keyed(c) || !bounded(c) }) {
		return fmt.Errorf("a deck has at most %d cards", criteria.MaxItems)
	}
	if e := d.Experiment; e != nil && (e.Pair < 0 || e.Pair >= experiment.MaxPairs || e.First != experiment.A && e.First != experiment.B ||
		e.Each < experiment.MinEach || e.Each > experiment.MaxEach || !short(maxWord, e.ID, e.Ways[0], e.Ways[1])) {
		return errors.New("there is no such experiment")
	}
	for _, p := range d.Phases {
		if len(d.Phases) > work.MaxPhases || !short(maxWord, p.Name) || !(p.Seconds >= 0 && p.Seconds <= maxDay/1000) {
			return fmt.Errorf("a trial has at most %d phases", work.MaxPhases)
		}
	}
	if d.Quota < 0 || d.Quota > maxBetween {
		return fmt.Errorf("a side has 0 to %d trials", maxBetween)
	}
	if d.Interlude < 0 || d.Interlude > maxBetween {
		return fmt.Errorf("a block is worked beside another for 0 to %d trials", maxBetween)
	}
	if !d.Mode.Valid() {
		return fmt.Errorf("there is no block “%s”", d.Mode)
	}
	return nil
}

func (d *CountData) check() error {
	if d.N < 0 || d.N > maxCounted {
		return fmt.Errorf("a count is 0 to %d", maxCounted)
	}
	return nil
}

func (d *EndData) check() error {
	if outside(d.Left) || utf8.RuneCountInString(d.Next) > criteria.MaxNote {
		return fmt.Errorf("the end's line or pieces are out of range")
	}
	return nil
}

func (d *NoteData) check() error {
	if utf8.RuneCountInString(d.Text) > criteria.MaxNote {
		return fmt.Errorf("a note has at most %d characters", criteria.MaxNote)
	}
	if d.Sign != "" && work.SignName(d.Sign) == "" {
		return fmt.Errorf("there is no sign %q", d.Sign)
	}
	return nil
}

// check looks into what a verdict carries: a rule, and reasons with their figures.
func (d *VerdictData) check() error {
	var rule decision.Rule
	if len(d.Rule) > 0 && (!isObject(d.Rule) || json.Unmarshal(d.Rule, &rule) != nil) || !rule.Bounded() {
		return fmt.Errorf("the verdict's rule cannot be read")
	}
	var reasons []decision.Reason
	if len(d.Reasons) > 0 && json.Unmarshal(d.Reasons, &reasons) != nil || len(reasons) > maxReasons {
		return fmt.Errorf("the verdict's reasons cannot be read")
	}
	for _, r := range reasons {
		if len(r.Code) > maxCode {
			return fmt.Errorf("the verdict's reasons cannot be read")
		}
	}
	return nil
}

func negative(x *float64) bool { return x != nil && !(*x >= 0 && *x <= maxDay/1000) }

func outside(n *int) bool { return n != nil && (*n < 0 || *n > maxPieces) }

func isUUID(s string) bool {
	if len(s) != 36 {
		return false
	}
	for i, c := range s {
		if i == 8 || i == 13 || i == 18 || i == 23 {
			if c != '-' {
				return false
			}
		} else if !(c >= '0' && c <= '9' || c >= 'a' && c <= 'f') {
			return false
		}
	}
	return true
}
