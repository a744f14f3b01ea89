package field

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/sheet"
	"patientfox/core/trial"
)

// Sheet is a planned session as a phone follows it.
type Sheet struct {
	ID      string            `json:"id"`
	Day     string            `json:"day"` // YYYY-MM-DD, in the practice's zone
	At      int               `json:"at"`  // minutes from midnight there
	Place   string            `json:"place"`
	Handler string            `json:"handler"`
	Names   map[string]string `json:"names"` // of its plans
	Pieces  int               `json:"pieces"`
	Plan    sheet.Sheet       `json:"plan"`
}

// warming names what decides before the work; a reader knows that no rule of the plan did.
var warming = decision.Rule{Kind: "warmup"}

// Skipped is the deed of a warm-up that was left out.
const Skipped = "skipped"

// Readiness tells whether a verdict is of a warm-up and not of a plan.
func Readiness(advice, deed string) bool {
	switch decision.Verdict(advice) {
	case decision.WorkHere, decision.MakeEasier, decision.GoElsewhere:
		return true
	}
	return deed == Skipped
}

// Follow makes the session that is about to begin follow a sheet, or a running one go on following it.
func (r *Run) Follow(s Sheet) {
	r.sheet = &s
	r.fold()
}

// warms tells whether the session still warms up.
func (r *Run) warms() bool {
	if r.sheet == nil || r.sheet.Plan.WarmS <= 0 || len(r.s.Blocks) != 1 || len(r.s.Trials) > 0 || r.s.Trying != nil {
		return false
	}
	for _, v := range r.s.Verdicts {
		if Readiness(v.Advice, v.Deed) {
			return false
		}
	}
	return true
}

// decideReady answers in a warm-up.
func (r *Run) decideReady() decided {
	answers := make([]decision.Answer, len(r.s.Warm))
	for i, w := range r.s.Warm {
		answers[i] = w.Answer
	}
	d := decided{rule: warming}
	d.Verdict, d.Due = decision.Ready(answers)
	return d
}

// warm answers one try of a warm-up; what is eaten before the work is in no rate.
func (r *Run) warm(a decision.Answer) []record.Draft {
	drafts := []record.Draft{record.NewDraft(record.KWarmup, record.Warmup{Answer: a})}
	if a != decision.AnswerNone {
		drafts = append(drafts, record.NewDraft(record.KPay, record.Pay{Pieces: 1, Warm: true}))
	}
	return drafts
}

// ready does what a warm-up says, or something else.
func (r *Run) ready(deed decision.Verdict) []record.Draft {
	drafts := []record.Draft{r.verdict(string(deed))}
	if deed == decision.MakeEasier {
		drafts = append(drafts, r.moves(-1, progression.WhyStart)...)
	}
	return drafts
}

// at is which block of the sheet is the running one, and which comes next: the blocks of the session in turn, as
// far as they are the sheet's.
func (r *Run) at() (now, next int) {
	worked := make([]string, len(r.s.Blocks))
	for i, b := range r.s.Blocks {
		worked[i] = b.Plan
	}
	now = -1
	for _, i := range sheet.Match(r.sheet.Plan.Blocks, worked) {
		if now = i; i >= 0 {
			next = i + 1
		}
	}
	return now, next
}

// SheetView is how far a session has come on its sheet.
type SheetView struct {
	Line  string      `json:"line"` // "Block 2 of 3 · 5 of 10 trials"
	Done  bool        `json:"done"` // what was planned of this block is done
	Next  string      `json:"next"` // what comes then
	Parts []SheetPart `json:"parts,omitempty"`
}

// SheetPart is what can come after the running block.
type SheetPart struct {
	Plan   string `json:"plan"`
	Name   string `json:"name"`
	Step   string `json:"step"`
	Mode   string `json:"mode,omitempty"`
	Finish bool   `json:"finish,omitempty"`
}

// sheetView shows how far the sheet has come.
func (r *Run) sheetView() SheetView {
	b := r.block()
	if r.sheet == nil || b == nil {
		return SheetView{}
	}
	plan := r.sheet.Plan
	now, next := r.at()
	v := SheetView{}
	if now >= 0 {
		one := plan.Blocks[now]
		done := 0
		for _, t := range r.s.Trials {
			if t.Block == b.ID && t.Outcome != trial.Void {
				done++
			}
		}
		v.Line = fmt.Sprintf("Block %d of %d · %d of %s", now+1, len(plan.Blocks), done, say.Count(one.Trials(), "trial"))
		v.Done = done >= one.Trials()
		if one.Probe && b.Mode == record.Probe {
			v.Line, v.Done = fmt.Sprintf("Block %d of %d · a cold probe", now+1, len(plan.Blocks)), r.probed(b)
		}
		if one.BreakS > 0 {
			v.Next = "A minute of being a dog"
		}
	}
	for i := next; i < len(plan.Blocks); i++ {
		o := plan.Blocks[i]
		part := SheetPart{Plan: o.Plan, Name: r.sheet.Names[o.Plan]}
		if o.Chosen {
			part.Step = o.Step
		}
		if o.Probe {
			part.Mode = string(record.Probe)
		}
		v.Parts = append(v.Parts, part)
	}
	if plan.Finish != "" && !r.finishing() {
		v.Parts = append(v.Parts, SheetPart{Plan: plan.Finish, Name: "Finish: " + r.sheet.Names[plan.Finish], Finish: true})
	}
	if len(v.Parts) > 0 {
		name := v.Parts[0].Name
		if v.Next == "" {
			v.Next = "Next: " + name
		} else {
			v.Next += ", then " + name
		}
	} else {
		v.Next = "That was all that was planned"
	}
	return v
}

// finishStep is the step to finish on: two below the one the dog works at today, or stands at.
func (r *Run) finishStep(place progression.Place, steps []progression.Step) int {
	return max(0, progression.Index(steps, place.Today)-finishDown)
}

// finishDown is how many steps down a session finishes.
const finishDown = 2

// outline says in a line what the sheet holds.
func (r *Run) outline() string {
	plan := r.sheet.Plan
	var parts []string
	if plan.WarmS > 0 {
		parts = append(parts, "warm-up")
	}
	for _, b := range plan.Blocks {
		parts = append(parts, r.sheet.Names[b.Plan])
	}
	if plan.Finish != "" {
		parts = append(parts, "an easy finish")
	}
	return say.Upper(say.List(parts)) + "."
}
