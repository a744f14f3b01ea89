// Package decision holds the rules that read a dog's record and answer: step up, repeat, step back,
// split, stop or finished. A rule is a pure function: same trials, same answer; no clock and no
// chance. Answers carry codes and figures; package phrase puts them into words.
package decision

import (
	"fmt"

	"patientfox/core/evidence"
)

// Verdict is what a rule answers.
type Verdict string

// The verdicts. Stop is only ever a verdict; a spoiled trial is void.
const (
	StepUp   Verdict = "step_up"
	Repeat   Verdict = "repeat"
	StepBack Verdict = "step_back"
	Split    Verdict = "split"
	Stop     Verdict = "stop"
	Finished Verdict = "finished"
)

// Trial is what a rule reads of one trial.
type Trial struct {
	ID      string // the event that logged it
	Outcome evidence.Outcome
	State   int    // 0…4, 0 where none was noted; 4 is over threshold
	Session string // names; equal ones belong together
	Place   string
	Block   string
	Easy    bool // asked for less than the criterion on purpose: in the record, in no rate
	Cold    bool // the first counted trial of the skill on its day
	Tally   bool // from a count after the set: its place in the order is unknown
}

// counts tells whether rules and rates read the trial.
func (t Trial) counts() bool { return t.Outcome != evidence.Void && !t.Easy }

// Kind names a rule.
type Kind string

// The rules that exist so far.
const (
	Set Kind = "set" // decides on every full set of trials
	Run Kind = "run" // decides on the last few trials in a row
)

// Rule is a rule with its figures, as a plan keeps it. Zero guards are off.
type Rule struct {
	Kind       Kind `json:"kind"`
	Size       int  `json:"size,omitempty"`        // set: trials in a set, 2…20
	Up         int  `json:"up"`                    // set: met in a full set; run: met in a row
	Back       int  `json:"back"`                  // set: right in a full set, or fewer; run: not right in a row
	SplitAfter int  `json:"split_after,omitempty"` // set: repeats in a row that become a split
	MissGuard  int  `json:"miss_guard"`            // misses in a row that send back at once; 0 is off
	ErrorGuard bool `json:"error_guard,omitempty"` // 3 of the last 5 not right send back at once
	Lenient    bool `json:"lenient,omitempty"`     // late counts towards the step up
}

// Defaults are Patient Fox's own figures, not findings; a plan can change every one.
func Defaults(kind Kind) Rule {
	if kind == Run {
		return Rule{Kind: Run, Up: 3, Back: 2, MissGuard: 2}
	}
	return Rule{Kind: Set, Size: 5, Up: 5, Back: 2, SplitAfter: 3, MissGuard: 2}
}

// Regain is the way back up from a step below the reached one.
func Regain() Rule { return Rule{Kind: Run, Up: 3, Back: 2, MissGuard: 2} }

// Problem is a figure that cannot stand, with the field it belongs to.
type Problem struct{ Field, Text string }

// Check says which figures of the rule cannot stand.
func (r Rule) Check() []Problem {
	var problems []Problem
	bad := func(field, format string, args ...any) {
		problems = append(problems, Problem{field, fmt.Sprintf(format, args...)})
	}
	switch r.Kind {
	case Set:
		if r.Size < 2 || r.Size > 20 {
			bad("size", "A set has 2 to 20 trials.")
			break
		}
		if r.Up < 1 || r.Up > r.Size {
			bad("up", "Step up needs 1 to %d met of a set of %d.", r.Size, r.Size)
		}
		if r.Back < 0 || r.Back >= r.Up {
			bad("back", "Step back must ask for fewer than step up does: 0 to %d.", max(r.Up-1, 0))
		}
		if r.SplitAfter < 1 || r.SplitAfter > 20 {
			bad("split_after", "A split comes after 1 to 20 repeats.")
		}
	case Run:
		if r.Up < 1 || r.Up > 50 {
			bad("up", "Step up needs 1 to 50 met in a row.")
		}
		if r.Back < 1 || r.Back > 20 {
			bad("back", "Step back needs 1 to 20 misses in a row.")
		}
	default:
		bad("kind", "There is no rule called “%s”.", r.Kind)
	}
	if r.MissGuard < 0 || r.MissGuard > 10 {
		bad("miss_guard", "The guard takes 1 to 10 misses in a row, or 0 for none.")
	}
	return problems
}

// Code names a reason; package phrase has its sentence.
type Code string

// The reasons a decision can carry.
const (
	FullSet      Code = "full_set"      // Of of Out trials of the set met
	FewRight     Code = "few_right"     // only Of of Out right
	BetweenSet   Code = "between"       // Of of Out met: neither enough for up nor few enough for back
	SetGoing     Code = "set_going"     // Of of Out trials of the set are in
	Slow         Code = "slow"          // Of late trials in the set
	ManyRepeats  Code = "many_repeats"  // Of repeats in a row
	RunMet       Code = "run_met"       // the last Of all met
	RunWrong     Code = "run_wrong"     // the last Of all not right
	RunGoing     Code = "run_going"     // Of of Out met in a row so far
	GuardMisses  Code = "guard_misses"  // Of misses in a row
	GuardErrors  Code = "guard_errors"  // Of of Out not right
	OverThresh   Code = "over"          // state 4
	FirstStep    Code = "first_step"    // there is no step below
	LastStep     Code = "last_step"     // there is no step above
	OrderUnknown Code = "order_unknown" // a tally has no order
)

// Reason is one reason with its figures.
type Reason struct {
	Code Code `json:"code"`
	Of   int  `json:"of,omitempty"`
	Out  int  `json:"out,omitempty"`
}

// Decision is a rule's answer with what it rests on.
type Decision struct {
	Verdict Verdict  `json:"verdict"`
	Due     bool     `json:"due"` // the rule had something to decide; false while a set or a run is under way
	Reasons []Reason `json:"reasons"`
	Reads   []string `json:"reads,omitempty"` // ids of the trials it rests on
}

// Question is what a rule is asked: the stretch in order, and where its step stands.
type Question struct {
	Trials []Trial
	Step   int // index of the stretch's step, 0 is the easiest
	Last   int // index of the last step
	// Guarded are the trials the guards read where they are not the stretch's own (below the reached
	// step). Nil means Trials.
	Guarded []Trial
}

// Decide asks a rule. Guards come first; step back wins over step up; at the first step a step back
// becomes a split, at the last a step up becomes finished.
func Decide(rule Rule, q Question) Decision {
	guarded := q.Guarded
	if guarded == nil {
		guarded = q.Trials
	}
	d, held := guards(rule, guarded)
	if !held {
		counted := make([]Trial, 0, len(q.Trials))
		for _, t := range q.Trials {
			if t.counts() {
				counted = append(counted, t)
			}
		}
		if rule.Kind == Run {
			d = run(rule, counted)
		} else {
			d = set(rule, counted)
		}
	}
	switch {
	case d.Verdict == StepBack && q.Step <= 0:
		d.Verdict = Split
		d.Reasons = append(d.Reasons, Reason{Code: FirstStep})
	case d.Verdict == StepUp && q.Step >= q.Last:
		d.Verdict = Finished
		d.Reasons = append(d.Reasons, Reason{Code: LastStep})
	}
	return d
}

// DecideRegain asks the rule of the way back up, for a step below the reached one. It only ever
// changes today's step, so at the first step its back is a repeat, and there is no last step.
func DecideRegain(trials []Trial, step int) Decision {
	d := Decide(Regain(), Question{Trials: trials, Step: max(step, 1), Last: step + 2})
	if step <= 0 && d.Verdict == StepBack {
		d.Verdict = Repeat
		d.Reasons = append(d.Reasons, Reason{Code: FirstStep})
	}
	return d
}

// guards looks at the latest trial and at the running session, which is that of the last trial that
// is not void.
func guards(rule Rule, trials []Trial) (Decision, bool) {
	if n := len(trials); n > 0 && trials[n-1].State >= 4 {
		return Decision{Stop, true, []Reason{{Code: OverThresh}}, ids(trials[n-1:])}, true
	}
	var running []Trial
	for i := len(trials) - 1; i >= 0; i-- {
		t := trials[i]
		if t.Outcome == evidence.Void {
			continue
		}
		if len(running) > 0 && t.Session != running[0].Session {
			break
		}
		running = append(running, t) // newest first
	}
	if g := rule.MissGuard; g > 0 && len(running) >= g && all(running[:g], missed) && !anyTally(running[:g]) {
		return Decision{StepBack, true, []Reason{{Code: GuardMisses, Of: g}}, ids(running[:g])}, true
	}
	if rule.ErrorGuard && len(running) >= 5 && !anyTally(running[:5]) {
		if wrong := count(running[:5], notRight); wrong >= 3 {
			return Decision{StepBack, true, []Reason{{Code: GuardErrors, Of: wrong, Out: 5}}, ids(running[:5])}, true
		}
	}
	return Decision{}, false
}

func met(t Trial) bool      { return t.Outcome == evidence.Met }
func missed(t Trial) bool   { return t.Outcome == evidence.Missed }
func late(t Trial) bool     { return t.Outcome == evidence.Late }
func right(t Trial) bool    { return t.Outcome.Right() }
func notRight(t Trial) bool { return !t.Outcome.Right() }

// up is what counts towards a step up.
func (r Rule) up(t Trial) bool { return met(t) || r.Lenient && late(t) }

func count(trials []Trial, is func(Trial) bool) int {
	n := 0
	for _, t := range trials {
		if is(t) {
			n++
		}
	}
	return n
}

func all(trials []Trial, is func(Trial) bool) bool { return count(trials, is) == len(trials) }

func anyTally(trials []Trial) bool {
	return count(trials, func(t Trial) bool { return t.Tally }) > 0
}

func ids(trials []Trial) []string {
	var list []string
	for _, t := range trials {
		list = append(list, t.ID)
	}
	return list
}
