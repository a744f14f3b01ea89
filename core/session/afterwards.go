package session

import (
	"fmt"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/work"
)

// Afterwards is a session that is written down after it was worked, from memory or from paper: how it began and ended, and the sets
// that were counted in it, in their order.
type Afterwards struct {
	Begins Choice
	Sets   []SetTyped
	Note   string
	Ends   Closing
	MS     int64 // how long it took, in ms
}

// SetTyped is a set that was counted, at a step of the plan; one without figures is none.
type SetTyped struct {
	Step string // its id; "" is the step that was worked before it
	TallyTyped
}

// SetField names a field of a set, from 0 on, as a Problem does; the set itself where the field is "".
func SetField(set int, field string) string {
	if field == "" {
		return fmt.Sprintf("set%d", set+1)
	}
	return fmt.Sprintf("set%d_%s", set+1, field)
}

// Enter does all of it with a Run in which nothing has happened yet. Nobody was told a verdict on that day, so none is logged, but for a
// step up or back that was due and was made, as the next set shows. After a problem the hand is of no use any more.
func (h *Hand) Enter(a Afterwards) *Problem {
	drafts, problem := h.Run.Begin(a.Begins)
	if problem != nil {
		return problem
	}
	h.Do(0, drafts)
	counted, done := int64(0), int64(0)
	for _, set := range a.Sets {
		if set.TallyTyped != (TallyTyped{}) {
			counted++
		}
	}
	for i, set := range a.Sets {
		if set.TallyTyped == (TallyTyped{}) {
			continue
		}
		done++
		at := a.MS * done / (counted + 1)
		if wrong := h.goesTo(set.Step, at); wrong != "" {
			return &Problem{Field: SetField(i, "step"), Code: wrong}
		}
		d, problem := h.Run.counts(set.TallyTyped)
		if problem != nil {
			if problem.Code != NotWhole { // it is of the set as a whole
				problem.Field = ""
			}
			problem.Field = SetField(i, problem.Field)
			return problem
		}
		h.Do(at, []record.Draft{record.NewDraft(record.KTally, d)})
	}
	return h.leaves(a)
}

// leaves notes what was said of the session, and ends it.
func (h *Hand) leaves(a Afterwards) *Problem {
	if a.Note != "" {
		drafts, problem := h.Run.Note(a.Note)
		if problem != nil {
			return problem
		}
		h.Do(a.MS, drafts)
	}
	a.Ends.End, a.Ends.Take = true, false
	drafts, problem := h.Run.Close(a.Ends)
	if problem != nil {
		return problem
	}
	h.Do(a.MS, slices.DeleteFunc(drafts, func(d record.Draft) bool { return d.Kind == record.KVerdict }))
	return nil
}

// goesTo makes a step today's: by the verdict that is due where that leads there, by hand otherwise. It answers why
// it cannot be, "" where it can.
func (h *Hand) goesTo(step string, at int64) ProblemCode {
	_, steps := h.Run.Position()
	from, to := progression.Index(steps, h.Run.today().ID), progression.Index(steps, step)
	switch verdict := h.Run.Now().Verdict; {
	case step == "" || to == from:
		return ""
	case to < 0:
		return StepGone
	case to > h.Run.top(steps) && h.Run.pack.Held != "":
		return NotShown
	case to > h.Run.top(steps):
		return AboveMain
	case h.Run.Phase() == Deciding && (verdict == decision.StepUp && to == from+1 || verdict == decision.StepBack && to == from-1):
		if h.Press(work.Main, at); h.Run.Today().ID == step {
			return ""
		}
	}
	h.Do(at, []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: h.Run.today().ID, To: step, Why: progression.WhyHand})})
	return ""
}
