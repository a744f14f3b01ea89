package decision

import (
	"cmp"
	"fmt"

	"patientfox/core/trial"
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

// Kind names a rule.
type Kind string

// The rules.
const (
	Set     Kind = "set"      // decides on every full set of trials
	Run     Kind = "run"      // decides on the last few trials in a row
	Gate    Kind = "gate"     // decides on a rate over a window, from several sessions and places
	Proof   Kind = "proof"    // decides by points in rounds, for what must not fail
	CountUp Kind = "count_up" // one more each time; a miss begins again
	Calm    Kind = "calm"     // decides on the states of exposures
)

// Kinds lists the rules in the order in which pages show them.
var Kinds = []Kind{Set, Run, Gate, Proof, CountUp, Calm}

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
	SlowWrong  bool `json:"slow_wrong,omitempty"`  // a slow answer is not right
	AgainWrong bool `json:"again_wrong,omitempty"` // an answer to a repeated cue is not right

	Rate       float64 `json:"rate,omitempty"`        // gate: 0…1, met of the window
	Window     int     `json:"window,omitempty"`      // gate: trials
	Sessions   int     `json:"sessions,omitempty"`    // gate, proof: how many the window needs at least
	Places     int     `json:"places,omitempty"`      // gate, proof: how many the window needs at least
	BackWindow int     `json:"back_window,omitempty"` // gate: trials
	BackBelow  float64 `json:"back_below,omitempty"`  // gate: 0…1, right of the back window

	Target   float64 `json:"target,omitempty"`    // proof: 0…1, the rate that is to be proved
	Conf     float64 `json:"conf,omitempty"`      // proof: 0…1
	LookBack int     `json:"look_back,omitempty"` // proof: trials that a step back reads
	BackRate float64 `json:"back_rate,omitempty"` // proof: 0…1
	BackConf float64 `json:"back_conf,omitempty"` // proof: 0…1
	BackMin  int     `json:"back_min,omitempty"`  // proof: trials

	MinDays int     `json:"min_days,omitempty"` // days on which a step is worked before a step up, 0 for no bound
	Clean   int     `json:"clean,omitempty"`    // count_up: met in a row for one step up
	Restart Restart `json:"restart,omitempty"`  // count_up: where a miss begins again
	Expect  int     `json:"expect,omitempty"`   // calm: how many of the last Up are in state 0
}

// Defaults are Patient Fox's own figures, not findings; a plan can change every one.
func Defaults(kind Kind) Rule {
	switch kind {
	case Run:
		return Rule{Kind: Run, Up: 3, Back: 2, MissGuard: 2}
	case Gate:
		return Rule{Kind: Gate, Rate: 0.9, Window: 20, Sessions: 2, Places: 1, BackWindow: 10, BackBelow: 0.6, MissGuard: 2}
	case Proof:
		return Rule{
			Kind: Proof, Target: 0.95, Conf: 0.9, LookBack: 80, Sessions: 3, Places: 3, BackRate: 0.8, BackConf: 0.9, BackMin: 5,
			MissGuard: 2,
		}
	case CountUp:
		return Rule{Kind: CountUp, Clean: 1, Restart: RestartOne, SplitAfter: 3}
	case Calm:
		return Rule{Kind: Calm, Up: 5, Expect: 2}
	}
	return Rule{Kind: Set, Size: 5, Up: 5, Back: 2, SplitAfter: 3, MissGuard: 2}
}

// Usual are the figures that new plans get; plans keep those that they have. Runs ask for six met: of three, 33 to 38 of 100 trials of
// simulated dogs were not right, of six 19 to 23 (docs/judgement.md). No rule but counting up asks for more errors than one in four.
func Usual(kind Kind) Rule {
	r := Defaults(kind)
	if r.Kind == Run {
		r.Up = 6
	}
	return r
}

// Regain is the way back up from a step below the reached one; what is right is what the rule says that decides there.
func (r Rule) Regain() Rule {
	return Rule{Kind: Run, Up: 3, Back: 2, MissGuard: 2, SlowWrong: r.SlowWrong, AgainWrong: r.AgainWrong}
}

// Problem is what is wrong with a figure.
type Problem struct{ Field, Text string }

// Bounded tells whether the rule's figures lie where a rule's can at all: what a verdict carries is bounded so, whatever its
// plan could have. Counts are 0 to 10 000, rates 0 to 1.
func (r Rule) Bounded() bool {
	for _, n := range []int{
		r.Size, r.Up, r.Back, r.SplitAfter, r.MissGuard, r.Window, r.Sessions, r.Places, r.BackWindow, r.LookBack, r.BackMin,
		r.Clean, r.Expect, r.MinDays,
	} {
		if n < 0 || n > 10_000 {
			return false
		}
	}
	for _, x := range []float64{r.Rate, r.BackBelow, r.Target, r.Conf, r.BackRate, r.BackConf} {
		if !(x >= 0 && x <= 1) {
			return false
		}
	}
	return len(r.Kind) <= 20 && len(r.Restart) <= 20
}

// Check lists which figures of the rule are wrong.
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
	case Gate:
		whole(bad, "window", r.Window, 2, 200, "The window has 2 to 200 trials.")
		whole(bad, "back_window", r.BackWindow, 2, 200, "The back window has 2 to 200 trials.")
		part(bad, "rate", r.Rate)
		part(bad, "back_below", r.BackBelow)
		if r.BackBelow >= r.Rate {
			bad("back_below", "Step back must ask for less than step up does.")
		}
		r.spread(bad)
	case Proof:
		whole(bad, "look_back", r.LookBack, 5, 500, "Looks back over 5 to 500 trials.")
		whole(bad, "back_min", r.BackMin, 1, 100, "1 to 100 trials.")
		part(bad, "target", r.Target)
		part(bad, "conf", r.Conf)
		part(bad, "back_rate", r.BackRate)
		part(bad, "back_conf", r.BackConf)
		r.spread(bad)
	case CountUp:
		whole(bad, "clean", r.Clean, 1, 20, "1 to 20 met in a row.")
		whole(bad, "split_after", r.SplitAfter, 1, 20, "A split comes after 1 to 20 trials that were not met.")
		if r.Restart != RestartOne && r.Restart != RestartHalf && r.Restart != RestartBottom {
			bad("restart", "Begin again one down, half way, or at the bottom.")
		}
	case Calm:
		whole(bad, "up", r.Up, 1, 50, "1 to 50 exposures.")
		whole(bad, "expect", r.Expect, 0, max(0, r.Up), "No more than the exposures that are looked at.")
	default:
		bad("kind", "There is no rule called “%s”.", r.Kind)
	}
	whole(bad, "min_days", r.MinDays, 0, maxMinDays, "A step is worked on 0 to 60 days at least.")
	whole(bad, "miss_guard", r.MissGuard, 0, 10, "The guard takes 1 to 10 misses in a row, or 0 for none.")
	return problems
}

// maxMinDays is for how many days a plan can hold a dog at a step.
const maxMinDays = 60

type problem func(field, format string, args ...any)

func whole(bad problem, field string, n, low, high int, text string) {
	if n < low || n > high {
		bad(field, "%s", text)
	}
}

func part(bad problem, field string, x float64) {
	if !(x > 0 && x < 1) {
		bad(field, "A share between 0 and 100 %%.")
	}
}

func (r Rule) spread(bad problem) {
	whole(bad, "sessions", r.Sessions, 1, 20, "1 to 20 sessions.")
	whole(bad, "places", r.Places, 1, 20, "1 to 20 places.")
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
	GuardWary    Code = "guard_wary"    // Of exposures in a row that the dog was not at ease in
	FewDays      Code = "few_days"      // worked on Of of the Out days that the plan asks for
	AfterHelp    Code = "after_help"    // Of of Out were right, after the help that the step plans
	GuardErrors  Code = "guard_errors"  // Of of Out not right
	OverThresh   Code = "over"          // state 4
	FirstStep    Code = "first_step"    // there is no step below
	Lowest       Code = "lowest"        // there is no step below, and none to make: on the way back up nothing is split
	LastStep     Code = "last_step"     // there is no step above
	AtCeiling    Code = "ceiling"       // no higher today
	AboveMain    Code = "above_main"    // no handler goes above the main one
	NotShown     Code = "not_shown"     // the next step is a safety step that was not shown to the handler
	EndedEarly   Code = "ended_early"   // Of of Out were ended early: a step up waits
	OrderUnknown Code = "order_unknown" // a tally has no order
	WindowGoing  Code = "window_going"  // Of of Out trials of the window are in
	WindowRate   Code = "window_rate"   // Of of the window's Out met
	BelowRate    Code = "below_rate"    // only Of of Out right
	FewSessions  Code = "few_sessions"  // Of of Out sessions
	FewPlaces    Code = "few_places"    // Of of Out places
	ProofRound   Code = "proof_round"   // the proof round is the Of-th
	ProofPoints  Code = "proof_points"  // Of of the Out points that the round needs; Of may be below 0
	ProofCost    Code = "proof_cost"    // a trial that is not met costs Of points
	RoundOver    Code = "round_over"    // the round is lost; each trial that was not met cost Of points
	Unmeasured   Code = "unmeasured"    // Of of Out were logged without their times: too many for proof
	FewCold      Code = "few_cold"      // Of of Out cold trials
	ColdMissed   Code = "cold_missed"   // Of of the last Out cold trials met
	NotEnded     Code = "not_ended"     // decided at the end of the session

	// Of proof as it was before it went by points; they stand in verdicts that were given then.
	ProofCount  Code = "proof_count"  // Of of Out met, those not logged counted as not met
	ProofNeeds  Code = "proof_needs"  // Of more clean trials, with Out misses so far
	LowCoverage Code = "low_coverage" // Of % logged; Out % is needed

	CountBroken Code = "count_broken" // not met, Of in a row
	CalmGoing   Code = "calm_going"   // Of of Out exposures at ease in a row
	CalmMet     Code = "calm_met"     // the last Of at ease, Out of them expecting good; Out is 0 where that is not asked
	FewExpect   Code = "few_expect"   // Of of Out expecting good
	FirstWary   Code = "first_wary"   // the session's first exposure was not at ease
	Worried     Code = "worried"      // state 3
	NotCalmer   Code = "not_calmer"   // wary Of times in the last Out, and no calmer
	ProbeCold   Code = "probe_cold"   // the first trial of the day is the probe
	ProbeMet    Code = "probe_met"    // met cold
	ProbeMissed Code = "probe_missed" // missed cold; Of of Out repeats are in
	ProbeKept   Code = "probe_kept"   // missed cold, then Of of Of met
	ProbeLost   Code = "probe_lost"   // missed cold, and only Of of the Out repeats met
	PlaceNext   Code = "place_next"   // Of is the step to try
	PlacedBelow Code = "placed_below" // met up to step Of (0: none), not at step Out
	PlacedTop   Code = "placed_top"   // met up to the last step
)

// Reason is one reason with its figures.
type Reason struct {
	Code Code `json:"code"`
	Of   int  `json:"of,omitempty"`
	Out  int  `json:"out,omitempty"`
}

// Decision is a rule's answer and the evidence for it.
type Decision struct {
	Verdict Verdict  `json:"verdict"`
	Due     bool     `json:"due"` // the rule had something to decide; false while a set or a run is under way
	Reasons []Reason `json:"reasons"`
	Reads   []string `json:"reads,omitempty"` // ids of the trials behind it
	To      int      `json:"to,omitempty"`    // count_up, a probe, placing: the index of the step it leads to
}

// Question is what a rule is asked: the stretch in order, and where its step is on the ladder.
type Question struct {
	Trials   []trial.Trial
	Step     int  // index of the stretch's step, 0 is the easiest
	Last     int  // index of the last step
	Ended    bool // the session is over: proof steps up only then
	Withheld int  // cues of the stretch that the trainer did not give in the end
	// RoundsBefore are the proof rounds that were over before the stretch.
	RoundsBefore RoundsOver
	// Unlogged are trials said not to be logged, by block of the stretch; those of "" are of the proof round under way. Proof counts
	// them as not met.
	Unlogged map[string]int
	// Guarded are the trials the guards read where they are not the stretch's own (below the reached
	// step). Nil means Trials.
	Guarded []trial.Trial
}

// Decide asks a rule. Guards come first; step back wins over step up; at the first step a step back
// becomes a split, at the last a step up becomes finished.
func Decide(rule Rule, q Question) Decision {
	guarded := q.Guarded
	if guarded == nil {
		guarded = q.Trials
	}
	d, held := guards(&rule, guarded)
	if !held {
		counted := trial.Without(q.Trials, uncounted)
		switch rule.Kind {
		case Run:
			d = run(&rule, counted)
		case Gate:
			d = gate(&rule, counted)
		case Proof:
			d = proof(&rule, q, counted)
		case CountUp:
			d = countUp(&rule, q, counted)
		case Calm:
			d = calm(&rule, counted)
		default:
			d = set(&rule, counted)
		}
		if ended := endedEarly(q); d.Verdict == StepUp && tooMany(ended, len(counted)) {
			d.Verdict = Repeat
			d.Reasons = append(d.Reasons, Reason{Code: EndedEarly, Of: ended, Out: ended + len(counted)})
		}
		if days := daysOf(counted); d.Verdict == StepUp && days < rule.MinDays {
			d.Verdict = Repeat
			d.Reasons = append(d.Reasons, Reason{Code: FewDays, Of: days, Out: rule.MinDays})
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

// daysOf counts the days on which trials were; sessions of which the day is not known are a day each.
func daysOf(trials []trial.Trial) int {
	days := map[string]bool{}
	for i := range trials {
		days[cmp.Or(trials[i].Day, trials[i].Session)] = true
	}
	return len(days)
}

// endedEarly counts the trials of a stretch that the trainer took back once the cue was given, and the cues withheld.
func endedEarly(q Question) int {
	return count(q.Trials, (*trial.Trial).Ended) + q.Withheld
}

// tooMany tells whether so many ended early that a step up waits: two or more, and over one in ten of themselves and the counted.
// Ending half of the failures that are coming makes a rate of 0.60 look like one of 0.75.
func tooMany(ended, counted int) bool { return ended >= 2 && 10*ended > ended+counted }

// DecideRegain asks the rule of the way back up of a plan's rule, for a step below the reached one. It only ever
// changes today's step, so at the first step its back is a repeat, and there is no last step.
func DecideRegain(of Rule, trials []trial.Trial, step int) Decision {
	d := Decide(of.Regain(), Question{Trials: trials, Step: max(step, 1), Last: step + 2})
	if step <= 0 && d.Verdict == StepBack {
		d.Verdict = Repeat
		d.Reasons = append(d.Reasons, Reason{Code: Lowest})
	}
	return d
}

// errorsOf is among how many of the latest trials three errors send the dog back.
const errorsOf = 5

// guards looks at the latest trial and at the running session, which is that of the last trial that
// is neither void nor ended early.
func guards(rule *Rule, trials []trial.Trial) (Decision, bool) {
	for i := len(trials) - 1; i >= 0; i-- {
		if trials[i].Shown() >= over {
			return Decision{Verdict: Stop, Due: true, Reasons: []Reason{{Code: OverThresh}}, Reads: ids(trials[i : i+1])}, true
		}
		if trials[i].Outcome != trial.Void { // a void one after it changes nothing
			break
		}
	}
	if rule.Kind == CountUp || rule.Kind == Calm {
		return Decision{}, false
	}
	running := make([]trial.Trial, 0, max(rule.MissGuard, errorsOf))
	for i := len(trials) - 1; i >= 0 && len(running) < cap(running); i-- {
		t := &trials[i]
		if t.Outcome.Unread() || t.Above {
			continue
		}
		if len(running) > 0 && t.Session != running[0].Session {
			break
		}
		running = append(running, *t) // newest first
	}
	if g := rule.MissGuard; g > 0 && len(running) >= g && all(running[:g], missed) && !anyTally(running[:g]) {
		code := GuardMisses
		if running[0].State != nil {
			code = GuardWary
		}
		return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: code, Of: g}}, Reads: ids(running[:g])}, true
	}
	if last := running[:min(len(running), errorsOf)]; rule.ErrorGuard && len(last) == errorsOf && !anyTally(last) {
		if wrong := count(last, rule.notRight); wrong >= 3 {
			return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: GuardErrors, Of: wrong, Out: errorsOf}}, Reads: ids(last)}, true
		}
	}
	return Decision{}, false
}

func met(t *trial.Trial) bool    { return t.Outcome == trial.Met }
func missed(t *trial.Trial) bool { return t.Outcome == trial.Missed }
func late(t *trial.Trial) bool   { return t.Outcome == trial.Late }

// right tells whether a trial is right by the rule: met, and late where what it is late by may be.
func (r *Rule) right(t *trial.Trial) bool {
	slow := t.Slow || !t.Again
	return met(t) || late(t) && !(r.SlowWrong && slow) && !(r.AgainWrong && t.Again)
}

func (r *Rule) notRight(t *trial.Trial) bool { return !r.right(t) }

// up is what counts towards a step up: what the dog did on its own, without the help that the step plans.
func (r *Rule) up(t *trial.Trial) bool {
	return !t.Assisted && (met(t) || r.Lenient && late(t) && r.right(t))
}

// assisted is what would count towards a step up, had it come before the help.
func (r *Rule) assisted(t *trial.Trial) bool {
	own := *t
	own.Assisted = false
	return t.Assisted && r.up(&own)
}

// afterHelp says how many of the trials were right only after the help that their step plans, where that keeps the dog from a step up.
func (r *Rule) afterHelp(trials []trial.Trial) []Reason {
	if n := count(trials, r.assisted); n > 0 {
		return []Reason{{Code: AfterHelp, Of: n, Out: len(trials)}}
	}
	return nil
}

func count(trials []trial.Trial, is func(*trial.Trial) bool) int {
	n := 0
	for i := range trials {
		if is(&trials[i]) {
			n++
		}
	}
	return n
}

func all(trials []trial.Trial, is func(*trial.Trial) bool) bool {
	return count(trials, is) == len(trials)
}

func anyTally(trials []trial.Trial) bool {
	return count(trials, func(t *trial.Trial) bool { return t.Tally }) > 0
}

func ids(trials []trial.Trial) []string {
	var list []string
	for t := range trial.Each(trials) {
		list = append(list, t.ID)
	}
	return list
}
