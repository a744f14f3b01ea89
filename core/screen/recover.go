package screen

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/work"
)

// RecoverView is a recovery as a guided exchange.
type RecoverView struct {
	Say  string `json:"say"`  // what to do now
	Then string `json:"then"` // what comes of it
}

// recovering says what a recovery asks for now, with the keys that answer it.
func (r Screen) recovering(at float64) (v RecoverView, main work.Button, row []work.Button) {
	moves, distances, answers := r.Recovery()
	if len(moves) == 0 {
		return v, main, nil
	}
	last := moves[len(moves)-1]
	on := "one step easier"
	if r.StepBy(-1) == nil {
		on = "at this step, and further off"
	}
	v.Then = "Two easy answers, and it goes on " + on + "."
	further := work.Button{Key: work.NoAnswerKey, Label: "No answer"}
	switch last.What {
	case record.Distance:
		left := decision.FurtherOffS - (at - last.At)
		v.Say = "Go further off. Feed on the way if it eats, and ask for nothing."
		main = work.Button{Key: work.Main, Label: "Wait", Sub: fmt.Sprintf("%d s more", int(math.Ceil(max(0, left))))}
		if left <= 0 {
			v.Say, main = "Wait for it to look at you. Do not call.", work.Button{Key: work.Main, Label: "It looked", Sub: "offered by itself"}
		}
		further.Label = "No look: further off"
	case record.Looked:
		v.Say, main = "Give one easy cue that it knows well.", work.Button{Key: work.Main, Label: "Cue", Sub: "as you give it"}
	case record.Asked:
		v.Say, main = "Answered within three seconds?", work.Button{Key: work.Main, Label: "Answered", Sub: "and pay it"}
	case record.Answered:
		v.Say, main = "Good. One more easy cue.", work.Button{Key: work.Main, Label: "Cue", Sub: "as you give it"}
		if answers >= decision.EasyCues {
			v.Say, main = "It is back. Go on "+on+"; the harder place waits a day.",
				work.Button{Key: work.Main, Label: "Go on", Sub: on}
			further.Key = ""
		}
	default: // no answer, or too late
		v.Say, main = "Not yet. Once more distance.", work.Button{Key: work.Main, Label: "Further off", Sub: "and wait there"}
		further.Key = ""
	}
	if last.What == record.GoesHome || last.What == record.TooSlow && distances >= decision.DistancesAdded {
		v.Say, v.Then = "Home. Feed while leaving; that was enough for today.", "Nothing more of this is asked today."
		return v, work.Button{Key: work.Main, Label: endHere, Sub: "it fell apart: stop"}, nil
	}
	if distances >= decision.DistancesAdded {
		v.Then = "This is the second distance: without an answer it goes home."
		if further.Label != "No answer" {
			further.Label = "No look: home"
		}
	}
	if further.Key != "" {
		row = append(row, further)
	}
	return v, main, append(row, work.Button{Key: work.HomeKey, Label: "Home now"})
}

// AdviceView is what a session should do now, in one calm line.
type AdviceView struct {
	Line   string `json:"line"`
	Urgent bool   `json:"urgent"`
	Rest   bool   `json:"rest"`   // it is time for one, which the dog must not hear
	Finish bool   `json:"finish"` // an easy one at the end is advised, and can be had by one press
}

// advise reads the session's signs.
func (r Screen) advise(at float64) AdviceView {
	a, ok := r.Advice(at)
	if !ok {
		return AdviceView{}
	}
	return AdviceView{
		Line: phrase.Advice(a, r.capped(a)), Urgent: a.Do == decision.LeaveNow, Rest: a.Sign == decision.RestDue,
		Finish: !r.Helps() && (a.Do == decision.EndEasily || a.Do == decision.PayFaster) && r.StepBy(-1) != nil &&
			!(a.Sign == decision.FoodGone && a.Of == 0),
	}
}

// capped names the step that an advice caps the day at, "" for others.
func (r Screen) capped(a decision.Advice) string {
	if a.Do != decision.CapToday {
		return ""
	}
	_, steps := r.Position()
	return r.say().Short(steps[min(a.Of, len(steps)-1)].Criteria)
}
