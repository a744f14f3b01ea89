package session

import (
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/schedule"
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
	Plan    schedule.Sheet    `json:"plan"`
}

// Skipped is the action of a warm-up that was left out.
const Skipped = "skipped"

// Readiness tells whether a verdict is of a warm-up and not of a plan.
func Readiness(advice, action string) bool {
	switch decision.Verdict(advice) {
	case decision.WorkHere, decision.MakeEasier, decision.GoElsewhere:
		return true
	}
	return action == Skipped
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
		if Readiness(v.Recommended, v.Action) {
			return false
		}
	}
	return true
}

// decideReady answers in a warm-up.
func (r *Run) decideReady() Decided {
	answers := make([]decision.Answer, len(r.s.Warm))
	for i, w := range r.s.Warm {
		answers[i] = w.Answer
	}
	d := Decided{Rule: decision.Rule{Kind: ByWarmUp}}
	d.Verdict, d.Due = decision.Ready(answers)
	return d
}

// warm answers one try of a warm-up; what is eaten before the work is in no rate.
func (r *Run) warm(a decision.Answer) []record.Draft {
	drafts := []record.Draft{record.NewDraft(record.KWarmup, record.WarmupData{Answer: a})}
	if a != decision.AnswerNone {
		drafts = append(drafts, record.NewDraft(record.KPay, record.PayData{Pieces: 1, Warm: true}))
	}
	return drafts
}

// ready does what a warm-up says, or something else.
func (r *Run) ready(action decision.Verdict) []record.Draft {
	drafts := []record.Draft{r.verdict(string(action))}
	if action == decision.MakeEasier {
		drafts = append(drafts, r.moves(-1, progression.WhyStart)...)
	}
	return drafts
}

// SheetAt is which block of the sheet is the running one, and which comes next: the blocks of the session in turn, as
// far as they are the sheet's.
func (r *Run) SheetAt() (now, next int) {
	worked := make([]string, len(r.s.Blocks))
	for i, b := range r.s.Blocks {
		worked[i] = b.Plan
	}
	now = -1
	for _, i := range schedule.Match(r.sheet.Plan.Blocks, worked) {
		if now = i; i >= 0 {
			next = i + 1
		}
	}
	return now, next
}

// finishStep is the step to finish on: two below the one the dog works at today, or has reached.
func (r *Run) finishStep(place progression.Position, steps []progression.Step) int {
	return max(0, progression.Index(steps, place.Today)-finishDown)
}

// finishDown is how many steps down a session finishes.
const finishDown = 2
