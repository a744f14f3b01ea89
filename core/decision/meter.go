package decision

import (
	"slices"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// Mark is an outcome in a byte, for what asks a rule millions of times.
type Mark uint8

// The marks of counted trials.
const (
	MarkMet Mark = iota
	MarkLate
	MarkHelped
	MarkMissed
)

// MarkOf is an outcome's mark; ok is false for one that does not count.
func MarkOf(o trial.Outcome) (m Mark, ok bool) {
	switch o {
	case trial.Met:
		return MarkMet, true
	case trial.Late:
		return MarkLate, true
	case trial.Helped:
		return MarkHelped, true
	case trial.Missed:
		return MarkMissed, true
	}
	return MarkMet, false
}

// Meter asks a rule trial by trial and remembers what it must, so that a simulated trial costs some
// nanoseconds where Decide reads the whole stretch. For counted trials in order, one block a session,
// it answers as Decide does; a test holds the two together. Zero value: not usable; see NewMeter.
type Meter struct {
	rule       Rule
	most       []int // proof: of n, the most right that steps back; -1 where none does
	step, last int
	rounds     []int // proof: by step, how many rounds were over before the stretch
	waits      []int // proof: by step, the session whose trials are in no round, since one was over in it with its stretch

	n                               int // counted trials of the stretch
	setN, setUp, setRight, setLate  int
	repeats                         int // of full sets in a row
	met, ups, wrongs, unmet, misses int // in a row, up to the latest; misses in this session
	errors                          uint8
	here                            int // counted trials of this session
	session                         int

	winUp, winSessions, winLast int
	winPlaces                   uint64
	backRight                   int

	ring   []seen // proof: what a step back reads
	at     int
	ringOK int // right, without cold ones
	ringN  int // without cold ones
	round  lap

	states uint32 // calm: the latest ones, four bits each
	ease   int    // at ease in a row
	expect []bool // calm: of the last Up, which expected good
	first  int    // state of this session's first exposure
}

type seen struct{ right, cold bool }

// lap is a proof round under way.
type lap struct {
	Points
	number   int // 0 before its first trial
	scored   int
	over     bool
	session  int // of its latest trial
	sessions int
	places   uint64
	cold     int
	coldUp   uint8 // of the latest cold ones, a bit each
}

// MaxPlaces is how many places a meter tells apart.
const MaxPlaces = 64

// NewMeter makes a meter for a rule.
func NewMeter(rule Rule) *Meter {
	m := &Meter{rule: rule}
	switch rule.Kind {
	case Proof:
		m.ring, m.most = make([]seen, rule.LookBack), make([]int, rule.LookBack+1)
		for n := range m.most {
			m.most[n] = -1
			for k := 0; k <= n && n >= rule.BackMin && 1-evidence.ProbAtLeast(k, n, rule.BackRate) >= rule.BackConf-evidence.Epsilon; k++ {
				m.most[n] = k
			}
		}
	case Calm:
		m.expect = make([]bool, rule.Up)
	}
	m.Begin(0, 1)
	return m
}

// Begin starts a new stretch at a step; last is the index of the last one. A proof round that was under way is over.
func (m *Meter) Begin(step, last int) {
	if m.round.number > 0 {
		m.rounds[m.step], m.waits[m.step] = m.round.number, m.session
	}
	*m = Meter{
		rule: m.rule, most: m.most, ring: m.ring, expect: m.expect, rounds: m.rounds, waits: m.waits,
		step: step, last: last, session: m.session, winLast: -1,
	}
	m.fits(step)
}

// Anew begins with another dog, on steps of which none was proved before.
func (m *Meter) Anew() {
	m.rounds, m.waits, m.round, m.step = m.rounds[:0], m.waits[:0], lap{}, 0
	m.fits(0)
}

// Before says that proof rounds were over at a step already, the last of them in the session that comes next where it waits.
func (m *Meter) Before(step, rounds int, waits bool) {
	m.fits(step)
	if m.rounds[step] = rounds; waits {
		m.waits[step] = m.session + 1
	}
}

func (m *Meter) fits(step int) {
	for len(m.rounds) <= step {
		m.rounds, m.waits = append(m.rounds, 0), append(m.waits, 0)
	}
}

// Insert says that a step was put in at an index: the stretch goes on, at the same step.
func (m *Meter) Insert(at int) {
	m.fits(at)
	m.rounds, m.waits = slices.Insert(m.rounds, at, 0), slices.Insert(m.waits, at, 0)
	if at <= m.step {
		m.step++
	}
	m.last++
}

// Split says that a split was taken: the rows that become one begin anew.
func (m *Meter) Split() { m.repeats, m.unmet = 0, 0 }

// Session begins another session.
func (m *Meter) Session() {
	m.session++
	m.setN, m.setUp, m.setRight, m.setLate = 0, 0, 0, 0
	m.misses, m.errors, m.here = 0, 0, 0
}

// Trial takes one counted trial and answers. State is that of an exposure, place one of MaxPlaces.
func (m *Meter) Trial(o Mark, state int, cold bool, place uint8) Verdict {
	m.n++
	m.here++
	right := o == MarkMet || o == MarkLate && !m.rule.SlowWrong // a learner's late ones are slow
	up := o == MarkMet || o == MarkLate && m.rule.Lenient && right
	m.met = row(m.met, o == MarkMet)
	m.unmet = row(m.unmet, o != MarkMet)
	m.ups = row(m.ups, up)
	m.wrongs = row(m.wrongs, !right)
	m.misses = row(m.misses, o == MarkMissed)
	m.errors <<= 1
	if !right {
		m.errors |= 1
	}
	var v Verdict
	switch m.rule.Kind {
	case Run:
		v = m.run()
	case Gate:
		v = m.gate(up, right, place)
	case Proof:
		v = m.proof(seen{right, cold}, up, place)
	case CountUp:
		return m.edge(m.countUp(o))
	case Calm:
		return m.edge(m.calm(state))
	default:
		v = m.set(o, up, right)
	}
	if m.guarded() {
		v = StepBack
	}
	return m.edge(v)
}

func (m *Meter) guarded() bool {
	g := m.rule.MissGuard
	return g > 0 && m.misses >= g || m.rule.ErrorGuard && m.here >= 5 && wrongOfFive[m.errors&31] >= 3
}

// wrongOfFive counts the bits of five trials.
var wrongOfFive = func() (ones [32]uint8) {
	for i := range ones {
		for b := i; b > 0; b >>= 1 {
			ones[i] += uint8(b & 1)
		}
	}
	return ones
}()

func row(n int, goesOn bool) int {
	if goesOn {
		return n + 1
	}
	return 0
}

// edge is what becomes of a verdict at the first and at the last step.
func (m *Meter) edge(v Verdict) Verdict {
	switch {
	case v == StepBack && m.step <= 0:
		return Split
	case v == StepUp && m.step >= m.last:
		return Finished
	}
	return v
}

// To is where a step back of the rule leads.
func (m *Meter) To() int {
	if m.rule.Kind == CountUp {
		return m.rule.Restart.to(m.step)
	}
	return max(0, m.step-1)
}

func (m *Meter) set(o Mark, up, right bool) Verdict {
	m.setN++
	if up {
		m.setUp++
	}
	if right {
		m.setRight++
	}
	if o == MarkLate {
		m.setLate++
	}
	if m.setN < m.rule.Size {
		return Repeat
	}
	v := Repeat
	switch {
	case m.setRight <= m.rule.Back:
		v, m.repeats = StepBack, 0
	case m.setUp >= m.rule.Up:
		v, m.repeats = StepUp, 0
	case m.setLate < lateMany:
		if m.repeats++; m.rule.SplitAfter > 0 && m.repeats%m.rule.SplitAfter == 0 {
			v = Split
		}
	}
	m.setN, m.setUp, m.setRight, m.setLate = 0, 0, 0, 0
	return v
}

func (m *Meter) run() Verdict {
	switch {
	case m.wrongs >= m.rule.Back:
		return StepBack
	case m.ups >= m.rule.Up:
		return StepUp
	}
	return Repeat
}

func (m *Meter) gate(up, right bool, place uint8) Verdict {
	if right {
		m.backRight++
	}
	if up {
		m.winUp++
	}
	if m.session != m.winLast {
		m.winSessions, m.winLast = m.winSessions+1, m.session
	}
	m.winPlaces |= 1 << (place % MaxPlaces)
	v := Repeat
	if m.n%m.rule.Window == 0 {
		enough := share(m.winUp, m.rule.Window) >= m.rule.Rate-evidence.Epsilon
		if enough && m.winSessions >= m.rule.Sessions && ones(m.winPlaces) >= m.rule.Places {
			v = StepUp
		}
		m.winUp, m.winSessions, m.winPlaces, m.winLast = 0, 0, 0, -1
	}
	if m.n%m.rule.BackWindow == 0 {
		if share(m.backRight, m.rule.BackWindow) < m.rule.BackBelow-evidence.Epsilon {
			v = StepBack
		}
		m.backRight = 0
	}
	return v
}

func ones(bits uint64) int {
	n := 0
	for ; bits > 0; bits &= bits - 1 {
		n++
	}
	return n
}

func (m *Meter) proof(t seen, up bool, place uint8) Verdict {
	if m.n > len(m.ring) {
		m.weigh(m.ring[m.at], -1)
	}
	m.ring[m.at] = t
	m.at = (m.at + 1) % len(m.ring)
	m.weigh(t, 1)
	m.score(up, t.cold, place)
	if m.ringOK <= m.most[m.ringN] {
		return StepBack
	}
	return Repeat
}

// score counts a trial in the proof round.
func (m *Meter) score(up, cold bool, place uint8) {
	r := &m.round
	switch {
	case r.number == 0 && m.waits[m.step] == m.session:
		return
	case r.number == 0:
		r.number = m.rounds[m.step] + 1
		r.Points = m.rule.PointsOf(r.number)
	case r.over && r.session != m.session:
		n := r.number + 1
		*r = lap{number: n, Points: m.rule.PointsOf(n)}
	case r.over:
		return
	}
	if r.sessions == 0 || r.session != m.session {
		r.sessions, r.session = r.sessions+1, m.session
	}
	r.places |= 1 << (place % MaxPlaces)
	if up {
		r.scored++
	} else {
		r.scored -= r.Cost
	}
	if cold {
		r.cold++
		r.coldUp <<= 1
		if up {
			r.coldUp |= 1
		}
	}
	r.over = r.scored <= -overAt*r.Cost
}

func (m *Meter) weigh(t seen, by int) {
	if !t.cold {
		m.ringN += by
		if t.right {
			m.ringOK += by
		}
	}
}

func (m *Meter) countUp(o Mark) Verdict {
	switch {
	case o != MarkMet && m.step > 0:
		return StepBack
	case o != MarkMet:
		if m.rule.SplitAfter > 0 && m.unmet >= m.rule.SplitAfter {
			return Split
		}
		return Repeat
	case m.met >= m.rule.Clean:
		return StepUp
	}
	return Repeat
}

func (m *Meter) calm(state int) Verdict {
	if m.here == 1 {
		m.first = state
	}
	m.states = m.states<<4 | uint32(state)
	m.ease = row(m.ease, state <= atEase)
	m.expect[(m.n-1)%len(m.expect)] = state == 0
	if state == worried {
		return StepBack
	}
	if m.n >= waryLast {
		many, late, early := 0, 0, 0
		for i := range waryLast {
			s := int(m.states >> (4 * i) & 15)
			if s == wary {
				many++
			}
			if i < waryLast/2 {
				late += s
			} else {
				early += s
			}
		}
		if many >= waryMany && late >= early {
			return StepBack
		}
	}
	if m.ease < m.rule.Up || m.first > atEase {
		return Repeat
	}
	good := 0
	for _, e := range m.expect {
		if e {
			good++
		}
	}
	if good < m.rule.Expect {
		return Repeat
	}
	return StepUp
}

// Ended asks at the end of a session, with every trial logged: only proof has something to say.
func (m *Meter) Ended() Verdict {
	if m.rule.Kind != Proof {
		return Repeat
	}
	if m.ringOK <= m.most[m.ringN] || m.guarded() {
		return m.edge(StepBack)
	}
	const all = 1<<coldTrials - 1
	r := &m.round
	if r.over || r.number == 0 || r.scored < r.Needs || r.cold < coldTrials || r.coldUp&all != all {
		return Repeat
	}
	if r.sessions < m.rule.Sessions || ones(r.places) < m.rule.Places {
		return Repeat
	}
	return m.edge(StepUp)
}
