package outlook

import (
	"slices"

	"patientfox/core/decision"
	"patientfox/core/reinforce"
)

// Course is the work that lies ahead of a dog: the steps with their rules, and how it is gone about.
type Course struct {
	Rules   []decision.Rule // by step, easiest first
	Heights []float64       // by step, in steps as they were laid out: a half step that was put in later is half way; nil for Heights
	At      int             // index of the reached step
	To      int             // index of the step that is to be reached; 0: the last one is to be passed
	Halved  bool            // a half step just below it was split off, and has not led back up yet
	Since   []Trial         // the stretch so far, at At
	Trials  []int           // in sessions so far; each session ahead has as many as one of them, by lot
	Places  []uint8         // of sessions so far, below 64
	Gap     int             // days from one session to the next
	Pieces  int             // a pay
	Pay     reinforce.Schedule
	Rung    int  // of thinning by now, 0 for the first
	MaxRung int  // how thin it may become, 0 for not at all
	Calm    bool // exposures: the rules read states
	// RoundsBefore are the proof rounds that were over at the step At before Since.
	RoundsBefore int
	Waits        bool // the last of them was over in the session that Since begins in: the next begins after that
}

func (c Course) heights() []float64 {
	if c.Heights == nil {
		return Heights(len(c.Rules))
	}
	return c.Heights
}

// Trial is one counted trial of a record, as far as a learner is fitted to it.
type Trial struct {
	Step  int  // index; below 0 where the step is gone
	Opens bool // the first of its session
	Days  int  // since the session before, for one that opens
	Place uint8
	Mark  decision.Mark
	State int // of an exposure, 0…4
	Paid  bool
	// Splits are how many had been taken since the reached step became that.
	Splits int
}

// Bounds of a run: what takes longer is cut off, and said to be at least that.
const (
	MaxSessions = 300
	maxTrials   = 30_000
	moreLevels  = 3 // times as many levels as the plan has steps, by splitting
	maxBacks    = 2 // step backs in one session after which the skill is left for the day
)

// SureEnough is the chance of success under which a step up counts as false.
const SureEnough = 0.8

// Result is how one run went.
type Result struct {
	Done     bool // the last step was passed
	Sessions int
	Trials   int
	Misses   int // trials that were not right
	Pieces   int
	Ups      int
	FalseUps int // taken while the chance of success at that step was under SureEnough
}

// runner runs courses, one after another, without new memory for each.
type runner struct {
	course Course
	kinds  []decision.Rule   // the rules that differ
	meters []*decision.Meter // by rule
	which  []int             // the rule of each level
	levels []Level
	regain *decision.Meter
	pool   []uint8 // where sessions are held
}

// regain is the way back up of the course's first rule.
func (c Course) regain() decision.Rule {
	if len(c.Rules) == 0 {
		return decision.Rule{}.Regain()
	}
	return c.Rules[0].Regain()
}

func newRunner(c Course) *runner {
	r := &runner{course: c, regain: decision.NewMeter(c.regain())}
	need := 1
	for _, rule := range c.Rules {
		if !slices.Contains(r.kinds, rule) {
			r.kinds, r.meters = append(r.kinds, rule), append(r.meters, decision.NewMeter(rule))
		}
		need = max(need, rule.Places)
	}
	r.pool = slices.Clone(c.Places)
	if len(r.pool) == 0 {
		r.pool = []uint8{0}
	}
	// A rule that asks for more places than the record has is met by going to others.
	used := map[uint8]bool{}
	for _, p := range r.pool {
		used[p] = true
	}
	for p := uint8(0); len(used) < need && p < maxPlaces; p++ {
		if !used[p] {
			used[p] = true
			for range max(1, len(c.Places)/need) {
				r.pool = append(r.pool, p)
			}
		}
	}
	return r
}

// run goes through the course once with a learner and the levels as it knows them.
func (r *runner) run(l *Learner, levels []Level) Result {
	w := r.walk(l, levels)
	for w.goesOn() {
		w.next()
	}
	return w.Result
}

// walk begins a run.
func (r *runner) walk(l *Learner, levels []Level) *walk {
	c := r.course
	r.levels = append(r.levels[:0], levels...)
	r.which = r.which[:0]
	for _, rule := range c.Rules {
		r.which = append(r.which, slices.Index(r.kinds, rule))
	}
	w := &walk{runner: r, l: l, reached: c.At, today: c.At, to: c.To, rung: max(1, c.Rung)}
	for _, m := range r.meters {
		m.Anew()
		m.Before(c.At, c.RoundsBefore, c.Waits)
	}
	w.begin()
	w.half = c.Halved && c.At > 0
	for i, t := range c.Since {
		if t.Opens || i == 0 {
			w.meter.Session()
		}
		if t.Splits != w.splits {
			w.splits = t.Splits
			w.meter.Split()
		}
		w.meter.Trial(t.Mark, t.State, t.Opens, t.Place)
	}
	if w.half {
		w.meter.Split()
	}
	return w
}

func (w *walk) goesOn() bool {
	return w.Sessions < MaxSessions && w.Trials < maxTrials && !w.Done
}

// UsualTrials is how many a session has where there is no record of any.
const UsualTrials = 15

// next goes through the next session.
func (w *walk) next() {
	c, l := w.course, w.l
	w.Sessions++
	l.Rest(c.Gap)
	place := w.pool[int(l.Chance()*float64(len(w.pool)))]
	trials := UsualTrials
	if n := len(c.Trials); n > 0 {
		trials = c.Trials[int(l.Chance()*float64(n))]
	}
	w.session(place, trials)
}

// walk is a run under way.
type walk struct {
	Result
	*runner
	l              *Learner
	meter          *decision.Meter // of the reached step
	reached, today int
	to             int  // as of the course; a level that is put in below it moves it up
	splits         int  // taken since the reached step became that
	half           bool // a half step was split off below the reached one: sessions open there until it has led back up
	backs          int
	rung           int // of thinning
	rights         int // trials that were right, for a schedule that counts them
	// times that the reached step was left otherwise than by a step up
	falls int
	seen  func(level *Level, mark decision.Mark, state int, place uint8, first, paid bool) // may be nil
}

// begin starts a stretch at the reached step.
func (w *walk) begin() {
	w.today, w.half, w.splits = w.reached, false, 0
	w.meter = w.meters[w.which[w.reached]]
	w.meter.Begin(w.reached, len(w.levels)-1)
}

func (w *walk) session(place uint8, trials int) {
	l := w.l
	strange := l.been != 0 && l.been>>(place%maxPlaces)&1 == 0
	l.Enter(place)
	for _, m := range w.meters { // one session for all: a round waits for the next
		m.Session()
	}
	if strange {
		w.rung = 1
	}
	w.backs, w.today = 0, w.reached
	if strange || w.half || w.course.Gap > 7 {
		visit := decision.Visit{Reached: w.reached, Steps: len(w.levels), Days: w.course.Gap, NewPlace: strange}
		if w.half {
			visit.Halved = 1
		}
		w.today, _ = decision.StartStep(visit)
	}
	if w.today < w.reached {
		w.regain.Begin(w.today+1, w.today+3)
		w.regain.Session()
	}
	for i := range trials {
		level := &w.levels[w.today]
		l.Meet(level)
		p := l.ProbMet(level, place)
		mark := l.Toss(p)
		right := mark <= decision.MarkLate
		paid := w.pays(right)
		w.Trials++
		if paid {
			w.Pieces += w.course.Pieces
		}
		if !right {
			w.Misses++
		}
		l.Learn(level, place, p, right, paid)
		state := 0
		if w.course.Calm {
			state = stateOf(mark, l.Chance())
		}
		if w.seen != nil {
			w.seen(level, mark, state, place, i == 0, paid)
		}
		if w.today < w.reached {
			w.back(w.regain.Trial(mark, state, i == 0, place))
			continue
		}
		if w.take(w.meter.Trial(mark, state, i == 0, place), p); w.Done || w.backs >= maxBacks {
			return
		}
	}
	if w.today == w.reached {
		level := &w.levels[w.today]
		w.take(w.meter.Ended(), l.ProbMet(level, place))
	}
}

// pays tells whether a trial is paid: exposures always, others when they were right and the plan's schedule has their turn. A schedule that
// is not foreseen, and the best ones, are taken by chance at their share.
func (w *walk) pays(right bool) bool {
	if w.course.Calm || !right {
		return w.course.Calm
	}
	s := w.course.Pay.At(w.rung)
	switch s.Way {
	case reinforce.Fixed:
		w.rights++
		return (w.rights-1)%max(1, s.K) == 0
	case reinforce.Variable, reinforce.Best:
		return w.l.Chance() < s.PaidShare()
	}
	return true
}

// stateOf is what an exposure shows that went as well as a mark says; u is a number by lot.
func stateOf(mark decision.Mark, u float64) int {
	switch {
	case mark == decision.MarkMet && u < 0.6:
		return 0
	case mark == decision.MarkMet:
		return 1
	case mark == decision.MarkMissed && u < 1.0/3:
		return 3
	}
	return 2
}

// back takes a verdict of the way back up.
func (w *walk) back(v decision.Verdict) {
	switch v {
	case decision.StepUp:
		w.today++
	case decision.StepBack:
		w.today = max(0, w.today-1)
	default:
		return
	}
	w.half = w.half && w.today < w.reached
	w.regain.Begin(w.today+1, w.today+3)
}

// take takes a verdict at the reached step; p was the chance of success there.
func (w *walk) take(v decision.Verdict, p float64) {
	switch v {
	case decision.Repeat, decision.Stop:
		return
	case decision.StepUp, decision.Finished:
		w.Ups++
		if p < SureEnough {
			w.FalseUps++
		}
		if w.Done = v == decision.Finished; w.Done {
			return
		}
		w.reached++
		if w.Done = w.to > 0 && w.reached >= w.to; w.Done {
			return
		}
		w.rung = reinforce.Thinner(w.rung, max(1, w.course.MaxRung))
	case decision.StepBack:
		w.reached = w.meter.To()
		if w.course.Rules[0].Kind != decision.CountUp {
			w.backs++
		}
	case decision.Split:
		w.split()
		return
	}
	if v != decision.StepUp {
		w.falls++
	}
	w.begin()
	w.meter.Session()
}

// split puts a level half way below the reached one. The dog works there until three met lead back up, as the application has it: the
// reached step stays, and its stretch goes on.
func (w *walk) split() {
	if len(w.levels) >= moreLevels*len(w.course.Rules) {
		return
	}
	i := w.reached
	hard := w.levels[i].Hard - half(w.l.Traits)
	if i > 0 && w.l.Form != AllOrNone {
		hard = (w.levels[i-1].Hard + w.levels[i].Hard) / 2
	}
	w.levels = slices.Insert(w.levels, i, Level{Hard: hard, id: len(w.levels)})
	w.which = slices.Insert(w.which, i, w.which[i])
	w.reached, w.today, w.half = i+1, i, true
	if w.to > 0 {
		w.to++
	}
	for _, m := range w.meters {
		m.Insert(i)
	}
	w.splits++
	w.meter.Split()
	w.regain.Begin(w.today+1, w.today+3)
	w.regain.Session()
}

// half is how much easier half a step is, in logits, where there is none below it.
func half(t Traits) float64 {
	if t.Form == AllOrNone {
		return 0.7
	}
	return t.Drop / 2
}
