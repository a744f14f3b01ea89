package record

import (
	"fmt"
	"unicode/utf8"

	"patientfox/core/criteria"
)

// Bounds of what an event may hold.
const (
	maxDay      = 7 * 24 * 3600 * 1000 // ms, the longest session
	MaxData     = 64 << 10             // bytes of data
	maxPieces   = 5000
	maxUnlogged = 500
	maxTags     = 20 // in an event; a person gives fewer
	maxCounted  = 1000
	maxMade     = 50
	maxWord     = 400 // bytes of a word of a list
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
	case e.Seq < 1:
		return fmt.Errorf("the sequence number is below 1")
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
	if err != nil {
		return fmt.Errorf("the data of “%s” cannot be read", e.Kind)
	}
	if m, is := data.(*Move); is && m.New != nil && (!isUUID(m.New.ID) || len(m.New.Criteria.Check()) > 0) {
		return fmt.Errorf("the new step cannot stand")
	}
	if b, is := data.(*Block); is {
		for _, m := range b.Made {
			if !isUUID(m.Step.ID) || len(m.Step.Criteria.Check()) > 0 {
				return fmt.Errorf("a step made in the field cannot stand")
			}
		}
	}
	return checkData(e, data)
}

// checkData checks what an event holds, but for new steps: those are never amended.
func checkData(e Event, data any) error {
	switch d := data.(type) {
	case *Trial:
		if d.Outcome != "" && !d.Outcome.Valid() {
			return fmt.Errorf("there is no outcome “%s”", d.Outcome)
		}
		if negative(d.LatencyS) || negative(d.HeldS) || d.Cues < 0 || d.Cues > 100 {
			return fmt.Errorf("a measure of the trial is out of range")
		}
		if min(d.Paces, d.Pulls, d.CheckIns) < 0 || max(d.Paces, d.Pulls, d.CheckIns) > maxCounted || negative(d.SlackS) || negative(d.ReturnS) || negative(d.OutS) ||
			d.LeadS != nil && !(*d.LeadS >= -maxDay/1000 && *d.LeadS <= maxDay/1000) || d.Offered != nil && (*d.Offered < 0 || *d.Offered >= criteria.MaxItems) {
			return fmt.Errorf("a measure of the trial is out of range")
		}
	case *Exposure:
		if d.State < 0 || d.State > 4 || negative(d.RecoveryS) {
			return fmt.Errorf("a state is 0 to 4")
		}
		if len(d.Site) > maxWord {
			return fmt.Errorf("a site has at most %d bytes", maxWord)
		}
	case *Trigger:
		if d.M != nil && !(*d.M >= 0 && *d.M <= 10000) || len(d.Site) > maxWord || len(d.How) > 20 {
			return fmt.Errorf("a trigger is 0 to 10000 m off")
		}
	case *Recover:
		switch d.What {
		case Distance, Looked, Asked, Answered, TooSlow, GoesOn, GoesHome:
		default:
			return fmt.Errorf("there is no recovery “%s”", d.What)
		}
	case *Pay:
		if d.Pieces < 0 || d.Pieces > 100 || d.Tier < 0 || d.Tier > 5 {
			return fmt.Errorf("a pay has 0 to 100 pieces")
		}
	case *Food:
		if len(d.Reward) > 64 || d.Tier < 0 || d.Tier > 5 {
			return fmt.Errorf("a food is one of the dog's rewards")
		}
	case *Warmup:
		if !d.Answer.Valid() {
			return fmt.Errorf("there is no answer “%s”", d.Answer)
		}
	case *State:
		if d.State < 0 || d.State > 4 {
			return fmt.Errorf("a state is 0 to 4")
		}
	case *Tally:
		if min(d.Met, d.Late, d.Helped, d.Missed) < 0 || d.Met+d.Late+d.Helped+d.Missed > 100 {
			return fmt.Errorf("a tally holds 0 to 100 trials")
		}
	case *Unlogged:
		if d.N < 0 || d.N > maxUnlogged || outside(d.Left) {
			return fmt.Errorf("not logged: 0 to %d trials", maxUnlogged)
		}
	case *Open:
		if outside(d.Pieces) {
			return fmt.Errorf("pieces: 0 to %d", maxPieces)
		}
		if len(d.Tags) > maxTags {
			return fmt.Errorf("at most %d tags", maxTags)
		}
	case *Block:
		if len(d.Made) > maxMade {
			return fmt.Errorf("at most %d steps are made in the field", maxMade)
		}
		if !d.Mode.Valid() {
			return fmt.Errorf("there is no block “%s”", d.Mode)
		}
	case *Count:
		if d.N < 0 || d.N > maxCounted {
			return fmt.Errorf("a count is 0 to %d", maxCounted)
		}
	case *End:
		if outside(d.Left) || utf8.RuneCountInString(d.Next) > criteria.MaxNote {
			return fmt.Errorf("the end's line or pieces are out of range")
		}
	case *Note:
		if utf8.RuneCountInString(d.Text) > criteria.MaxNote {
			return fmt.Errorf("a note has at most %d characters", criteria.MaxNote)
		}
	case *Retract:
		if d.Target == e.ID {
			return fmt.Errorf("an event cannot take itself back")
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
