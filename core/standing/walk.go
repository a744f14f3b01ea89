package standing

import (
	"slices"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
)

// Standing is where a dog is on a ladder between two sessions.
type Standing struct {
	Position        progression.Position
	Since           Since
	Visits          int      // sessions of the plan so far
	Been            []string // where it was worked, by id
	LastPlace       string   // the last that was said, by id
	Stopped         bool     // the last session ended by a stop, on this plan
	Finished        bool     // the top step was passed, and that was taken
	Rung            int      // how far the thinning of pay has come
	Rounds          Rounds   // proof rounds that were over before the stretch, nil for none
	UnfollowedMoves int      // moves that did not begin where the dog stood
	Entries         int      // how often the dog came to the reached step, lately
	Repeats         int      // verdicts since then that did not pass
	Stalled         int      // sessions since the dog came to a step that was higher than any before, or fell by a setback
	Probe           Probe
	Recommended     string // of the latest verdict
	Action          string
}

// Since is when the reached step became that: a moment of a session; the zero value is the beginning.
type Since struct {
	Session string
	At      float64 // s of its clock
}

// Probe is when a finished skill is next probed; a Gap of 0 days is never.
type Probe struct {
	Gap int
	Day int // as Day counts them
}

// Ladder is what a dog climbs.
type Ladder struct {
	All      []progression.Step // every step that the plan ever had
	Now      []progression.Step // those that it has
	Versions []Version          // the newest first; only where there are setbacks
	MaxRung  int                // how thin its pay may become
	Lo       float64            // planned pays per minute
	Proof    Proof
}

// Version is one version of a ladder.
type Version struct {
	Made  int64 // UTC ms
	Steps []progression.Step
}

// Visit is one session as far as it worked the plan.
type Visit struct {
	Session  string
	Opened   int64  // UTC ms
	Day      string // YYYY-MM-DD
	Place    string // by id, "" where none was said
	Stopped  bool   // it ended by a stop, and the plan's block was its last
	Apart    bool   // it worked the plan, but not the level that is followed: another handler's
	Moves    []Move
	Verdicts []Verdict
	Blocks   []Work
	Trials   []trial.Trial // in order; read only where steps are proved
}

// Move is one move of a visit.
type Move struct {
	progression.Move
	At float64 // s
}

// Verdict is one verdict of a visit.
type Verdict struct {
	Step        string
	At          float64 // s
	Recommended decision.Verdict
	Action      string
	Codes       []decision.Code // of its reasons
	Sets        bool            // a rule said it that decides on whole sets
}

// Between is what changed a level between two sessions: something that forced the dog past its step, or what came back from home.
type Between struct {
	ID    string
	At    int64              // UTC ms
	Made  int64              // when it was logged, UTC ms
	Steps int                // that the dog falls by, of a setback
	Moves []progression.Move // that a household's line made
}

// Of is where a dog is after visits in their order, with what was between them in its own: each comes before the sessions that were
// opened after it. begun is the ladder on which the first of them was worked.
func Of(l Ladder, begun []progression.Step, visits []Visit, between []Between) Standing {
	w := walk{Ladder: l, visits: len(visits), Standing: Standing{Position: progression.StartOf(begun), Rung: 1}, proved: proving(l.Proof)}
	w.came, w.highest = map[string]int{w.Position.Reached: 1}, w.Position.Reached
	for i, v := range visits {
		for ; len(between) > 0 && between[0].At <= v.Opened; between = between[1:] {
			w.between(between[0], visits[:i])
		}
		w.visit(v)
	}
	for ; len(between) > 0; between = between[1:] {
		last := len(visits)
		for last > 0 && visits[last-1].Opened >= between[0].At {
			last--
		}
		w.between(between[0], visits[:last])
	}
	return w.ends()
}

// After is where a dog is after one more visit. What Of knows of all visits alone (UnfollowedMoves, Entries, Repeats, Stalled, Probe) is
// that of this one.
func (s Standing) After(l Ladder, v Visit) Standing {
	w := walk{Ladder: l, visits: 1, Standing: s, finished: s.Finished, proved: proving(l.Proof)}
	w.Since = Since{}
	w.came, w.highest, w.Stalled = map[string]int{w.Position.Reached: 1}, w.Position.Reached, 0
	w.visit(v)
	return w.ends()
}

// lateVisits is how far back coming to a step again and again says that it is stuck now.
const lateVisits = 10

// afterAll is a moment behind everything in a session, s.
const afterAll = 1e9

// walk follows visits, one after another.
type walk struct {
	Standing
	Ladder
	visits   int // that there are
	at       int // of them so far
	came     map[string]int
	highest  string // step that was reached
	said     []said // since the reached step became that
	repeated string // the session of the latest repeat
	finished bool   // it was, and the reached step is still that one
	probes   []Probed
	proved   proved
}

// said is a verdict with what walk makes of it.
type said struct {
	Verdict
	again bool // a repeat, like the latest one of its session
}

func (w *walk) visit(v Visit) {
	lately := w.at >= w.visits-lateVisits
	w.at++
	w.Position = w.Position.Open()
	verdicts, trials := v.Verdicts, v.Trials
	for _, b := range v.Blocks {
		w.proved.works[b.Block] = b
	}
	take := func(n int) {
		if len(w.Proof.Rules) > 0 {
			w.proved.trials = append(w.proved.trials, trials[:n]...)
		}
		trials = trials[n:]
	}
	var ups []bool
	for _, m := range v.Moves {
		for len(verdicts) > 0 && verdicts[0].At < m.At {
			w.reads(verdicts[0], v)
			verdicts = verdicts[1:]
		}
		earlier := 0
		for earlier < len(trials) && trials[earlier].At < m.At {
			earlier++
		}
		take(earlier)
		before := w.Position
		var followed bool
		if w.Position, followed = w.Position.Apply(w.All, m.Move); !followed {
			w.UnfollowedMoves++
		} else if from, to := progression.Index(w.All, m.From),
			progression.Index(w.All, m.To); m.Why == progression.WhyStepUp && from >= 0 && to >= 0 {
			ups = append(ups, progression.NewDimension(w.All[from].Criteria, w.All[to].Criteria))
		}
		if w.Position.Since != before.Since {
			w.overRounds(before.Reached, v.Session)
			w.anew(Since{v.Session, m.At})
			if lately {
				w.came[w.Position.Reached]++
			}
		}
	}
	for _, one := range verdicts {
		w.reads(one, v)
	}
	take(len(trials))
	switch {
	case w.risen():
		w.Stalled = 0
	case !v.Apart:
		w.Stalled++
	}
	w.Rung = reinforce.Climb(w.Rung, []reinforce.Visit{visited(w.Visits, w.Been, v.Place, ups, v.Blocks)}, w.MaxRung, w.Lo)
	w.Visits, w.Been, w.Stopped = w.Visits+1, Been(w.Been, v.Place), v.Stopped
	if v.Place != "" {
		w.LastPlace = v.Place
	}
}

// risen tells whether the reached step is higher than any before, and remembers it then.
func (w *walk) risen() bool {
	if progression.Index(w.All, w.Position.Reached) <= progression.Index(w.All, w.highest) {
		return false
	}
	w.highest = w.Position.Reached
	return true
}

// anew begins the stretch of the step that is reached from here on.
func (w *walk) anew(since Since) { w.Since, w.said, w.finished = since, nil, false }

// between follows what happened after the visits before it.
func (w *walk) between(b Between, before []Visit) {
	since := Since{}
	if n := len(before); n > 0 {
		since = Since{before[n-1].Session, afterAll}
	}
	if b.Steps > 0 {
		w.fall(b, since)
	}
	for _, m := range b.Moves {
		was := w.Position
		var followed bool
		if w.Position, followed = w.Position.Open().Apply(w.All, m); !followed {
			w.UnfollowedMoves++
		}
		if w.Position.Since != was.Since {
			w.overRounds(was.Reached, "")
			w.anew(since)
			w.came[w.Position.Reached]++
			if w.risen() {
				w.Stalled = 0
			}
		}
	}
}

// fall lowers the reached step by a setback, on the ladder as it was when that was logged.
func (w *walk) fall(s Between, since Since) {
	steps := w.Now
	for _, one := range w.Versions {
		if steps = one.Steps; one.Made <= s.Made {
			break
		}
	}
	w.overRounds(w.Position.Reached, "")
	w.Position = w.Position.Settle(w.All, steps).Fall(steps, s.Steps, s.ID)
	w.anew(since)
	w.came[w.Position.Reached]++
	w.highest, w.Stalled = w.Position.Reached, 0 // the way back is a way up
}

func (w *walk) reads(v Verdict, visit Visit) {
	one := said{Verdict: v}
	if v.Recommended == decision.Repeat || v.Recommended == decision.Split {
		one.again, w.repeated = visit.Session == w.repeated, visit.Session
	}
	w.said = append(w.said, one)
	w.Recommended, w.Action = string(v.Recommended), v.Action
	if what := probed(v); what != "" {
		day, _ := Day(visit.Day)
		w.probes = append(w.probes, Probed{Day: day, What: what})
	}
}

// ends settles on the current ladder, and reads what was said since the reached step became that.
func (w *walk) ends() Standing {
	w.Position = w.Position.Settle(w.All, w.Now)
	top := w.Now[len(w.Now)-1]
	w.Entries, w.Repeats, w.Finished, w.Probe = max(1, w.came[w.Position.Reached]), 0, w.finished, Probe{}
	for _, v := range w.said {
		if v.Step != w.Position.Reached {
			continue
		}
		switch v.Recommended {
		case decision.Repeat, decision.Split:
			// A set is as much as a session of a rule that looks after every trial. A proof round takes sessions, and says so
			// before it begins: only a lost one did not pass.
			underWay := slices.Contains(v.Codes, decision.ProofRound) && !slices.Contains(v.Codes, decision.RoundOver)
			if !underWay && (v.Sets || !v.again) {
				w.Repeats++
			}
		default:
			w.Repeats = 0
		}
		w.Finished = w.Finished || v.Action == string(decision.Finished)
	}
	w.Finished = w.Finished && w.Position.Reached == top.ID
	if at, gap, due := NextProbe(w.probes, top.Safety); w.Finished && due {
		w.Probe = Probe{Gap: gap, Day: at}
	}
	w.Position = w.Position.Open()
	return w.Standing
}

// probed reads what a verdict says of a finished skill, "" where it says nothing.
func probed(v Verdict) string {
	switch {
	case v.Action == string(decision.Finished):
		return ProbeFinished
	case v.Recommended != decision.Held && v.Recommended != decision.StepBack:
		return ""
	}
	for _, code := range v.Codes {
		switch code {
		case decision.ProbeMet:
			return ProbeHeld
		case decision.ProbeKept:
			return ProbeKept
		case decision.ProbeLost:
			return ProbeLost
		}
	}
	return ""
}
