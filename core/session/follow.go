package session

import (
	"math"

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
	if len(r.s.Blocks) != 1 || len(r.s.Trials) > 0 || r.s.Trying != nil {
		return false
	}
	if planned := r.sheet != nil && r.sheet.Plan.WarmS > 0; !planned && !r.s.Blocks[0].Ready {
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
	d := Decided{Rule: decision.Rule{Kind: ByWarmUp}}
	if r.TriedBefore() {
		answers := make([]decision.Answer, len(r.s.Warm))
		for i, w := range r.s.Warm {
			answers[i] = w.Answer
		}
		d.Verdict, d.Due = decision.Ready(answers)
		return d
	}
	d.Verdict, _, d.Due = decision.ReadyTo(r.Tried())
	return d
}

// TriedBefore tells whether the session was warmed up by tries, as it was done before there were readiness tests.
func (r *Run) TriedBefore() bool { return len(r.s.Warm) > 0 && r.s.Warm[0].Part == "" }

// Tried are the parts of the readiness test so far.
func (r *Run) Tried() []decision.Tried {
	tried := make([]decision.Tried, len(r.s.Warm))
	for i, w := range r.s.Warm {
		tried[i] = decision.Tried{Part: w.Part, Answer: w.Answer}
	}
	return tried
}

// ReadyPart is the part of the readiness test that comes now, and since when its answer is waited for (s): since it was given, or for a
// look and for food since the part before.
func (r *Run) ReadyPart() (part decision.Part, since float64, given bool) {
	part = decision.ReadyParts[min(len(r.s.Warm), len(decision.ReadyParts)-1)]
	if r.s.WarmGiven != nil {
		return part, *r.s.WarmGiven, true
	}
	since = r.s.Blocks[0].At
	if n := len(r.s.Warm); n > 0 {
		since = r.s.Warm[n-1].At
	}
	given = !part.Given()
	return part, since, given
}

// warm answers what is asked in a readiness test, or gives it; what is eaten before the work is in no rate.
func (r *Run) warm(a decision.Answer, at float64) []record.Draft {
	one := func(d record.WarmupData) []record.Draft { return []record.Draft{record.NewDraft(record.KWarmup, d)} }
	if r.TriedBefore() { // one that was begun before the program was brought up to date
		return r.fedFor(a, one(record.WarmupData{Answer: a}))
	}
	part, since, given := r.ReadyPart()
	if !given && a != decision.AnswerNone {
		return one(record.WarmupData{Part: part, Given: true})
	}
	d := record.WarmupData{Part: part, Answer: a}
	if took := max(0, math.Round(10*(at-since))/10); a == decision.AnswerEager && part != decision.PartFood {
		d.S = &took
		if part.Given() {
			d.Answer = decision.InTime(took)
		}
	}
	if part == decision.PartBack { // it has eaten what was thrown, or not: that is asked next
		return one(d)
	}
	return r.fedFor(a, one(d))
}

// fedFor adds a treat for an answer.
func (r *Run) fedFor(a decision.Answer, drafts []record.Draft) []record.Draft {
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
