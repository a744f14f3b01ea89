package decision

import (
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
	least      []int // proof: of n, the least met that passes; n+1 where none does
	most       []int // proof: of n, the most right that steps back; -1 where none does
	step, last int

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

	ring    []seen // proof: the window
	at      int
	ringUp  int
	ringOK  int // right, without cold ones
	ringN   int // without cold ones
	cold    int // cold trials of the stretch
	coldMet uint8

	states uint32 // calm: the latest ones, four bits each
	ease   int    // at ease in a row
	expect []bool // calm: of the last Up, which expected good
	first  int    // state of this session's first exposure
}

type seen struct {
	up, right, cold bool
	session         int
	place           uint8
}

// MaxPlaces is how many places a meter tells apart.
const MaxPlaces = 64

// NewMeter makes a meter for a rule.
func NewMeter(rule Rule) *Meter {
	m := &Meter{rule: rule}
	switch rule.Kind {
	case Proof:
		m.ring = make([]seen, rule.LookBack)
		m.least, m.most = make([]int, rule.LookBack+1), make([]int, rule.LookBack+1)
		for n := range m.least {
			m.least[n] = n + 1
			for k := n; k >= 0 && n > 0 && evidence.ExactPass(k, n, rule.Target, rule.Conf); k-- {
				m.least[n] = k
			}
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

// Begin starts a new stretch at a step; last is the index of the last one.
func (m *Meter) Begin(step, last int) {
	*m = Meter{
		rule: m.rule, least: m.least, most: m.most, ring: m.ring, expect: m.expect,
		step: step, last: last, session: m.session, winLast: -1,
	}
}

// Insert says that a step was put in below: the stretch goes on, at the same step, which has one more below it.
func (m *Meter) Insert() { m.step, m.last = m.step+1, m.last+1 }

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
		v = m.proof(seen{up, right, cold, m.session, place}, o)
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

func (m *Meter) proof(t seen, o Mark) Verdict {
	if m.n > len(m.ring) {
		m.weigh(m.ring[m.at], -1)
	}
	m.ring[m.at] = t
	m.at = (m.at + 1) % len(m.ring)
	m.weigh(t, 1)
	if t.cold {
		m.cold++
		m.coldMet <<= 1
		if o == MarkMet {
			m.coldMet |= 1
		}
	}
	if m.ringOK <= m.most[m.ringN] {
		return StepBack
	}
	return Repeat
}

func (m *Meter) weigh(t seen, by int) {
	if t.up {
		m.ringUp += by
	}
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
	n := min(m.n, len(m.ring))
	if m.ringOK <= m.most[m.ringN] || m.guarded() {
		return m.edge(StepBack)
	}
	if m.ringUp < m.least[n] || m.cold < coldTrials || m.coldMet&7 != 7 {
		return Repeat
	}
	sessions, places := 0, uint64(0)
	for i := range n {
		t := m.ring[(m.at-n+i+len(m.ring))%len(m.ring)]
		if i == 0 || t.session != m.ring[(m.at-n+i-1+len(m.ring))%len(m.ring)].session {
			sessions++
		}
		places |= 1 << (t.place % MaxPlaces)
	}
	if sessions < m.rule.Sessions || ones(places) < m.rule.Places {
		return Repeat
	}
	return m.edge(StepUp)
}
