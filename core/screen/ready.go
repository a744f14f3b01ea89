package screen

import (
	"fmt"
	"math"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/work"
)

// asked is how one part of a readiness test is asked: what is done first, what the dog then does, and what it does otherwise.
type asked struct{ what, give, does, not string }

var parts = map[decision.Part]asked{
	decision.PartLook: {"Ask nothing. Does it look at you by itself?", "", "It looked", "No look"},
	decision.PartName: {"Its name, once", "Say its name", "It looks", "No answer"},
	decision.PartBack: {"Throw a treat away. Does it come back?", "Throw a treat", "It is back", "Not back"},
	decision.PartFood: {"Did it eat it?", "", "It ate it", "Left it"},
	decision.PartCue:  {"An easy cue that it knows", "Give the cue", "It answers", "No answer"},
}

// ready shows the part of a readiness test that comes now.
func (r Screen) ready(v *View, at float64) {
	if r.TriedBefore() {
		v.Set = r.warmSet()
		v.Step, v.Where = "Warm-up: uncued, let it offer something", fmt.Sprintf("Try %d of %d", len(r.Session().Warm)+1, decision.ReadyTries)
		return
	}
	part, since, given := r.ReadyPart()
	one := parts[part]
	v.Step, v.Where = one.what, fmt.Sprintf("Is it ready to work here? %d of %d", len(r.Session().Warm)+1, len(decision.ReadyParts))
	v.Main = work.Button{Key: work.Main, Label: one.give, Sub: "the time runs from there"}
	v.Row, v.Dial = work.Outcomes("", "", "Skip it", one.not), Dial{}
	if given {
		v.Main.Label, v.Main.Sub = one.does, "paid"
		v.Dial = Dial{Big: fmt.Sprintf("%.1f", math.Floor(math.Max(0, at-since)*10)/10), Of: "seconds", Live: true}
	}
	if part == decision.PartFood {
		v.Row = work.Outcomes("", "Slowly", "", one.not)
		v.Main.Sub = "it takes food here"
	}
	if len(r.Session().Warm) > 0 && part != decision.PartFood {
		v.Row = work.Outcomes("", "", "", one.not)
	}
	v.Set = SetView{Label: "Readiness"}
	shapes := map[decision.Answer]string{decision.AnswerEager: "met", decision.AnswerSlow: "late", decision.AnswerNone: "missed"}
	for _, w := range r.Session().Warm {
		v.Set.Places = append(v.Set.Places, SetMember{shapes[w.Answer], w.Answer != decision.AnswerNone})
	}
	for len(v.Set.Places) < len(decision.ReadyParts) {
		v.Set.Places = append(v.Set.Places, SetMember{})
	}
}

// readyWhy says what a readiness test rests on.
func (r Screen) readyWhy() string {
	if r.TriedBefore() {
		return say.Upper(fmt.Sprintf("%s of %s eager", say.Among(r.eager()), say.Number(len(r.Session().Warm))))
	}
	return phrase.Ready(r.Tried())
}

// ticks are the keys of what an engaged dog looks like.
func (r Screen) ticks() []work.Button {
	_, ticks, ok := r.Ticked()
	if !ok {
		return nil
	}
	return named(work.TickOf, r.Pack().Engaged, ticks)
}
