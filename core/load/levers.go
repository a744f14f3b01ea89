package load

import (
	"math"

	"patientfox/core/evidence"
)

// Lever is what one thing alone would have to become for a trial to be met as often as aimed at.
type Lever struct {
	Term   Term
	Can    bool    // alone it can; otherwise Value is 0
	Value  float64 // m, intensity (0: without the trigger), moving (0: still), value 1…5, per minute, help 0…1
	P      float64 // the chance there
	Beyond bool    // it lies beyond 1.5 times what was ever tried: it is no advice yet
	Grey   bool    // its size is still a starting assumption
}

// levers are the terms that can be turned for a session, in the order in which they are offered.
var levers = []Term{Distance, Intensity, Moving, Value, Rate, Help}

// Levers answers what each lever alone would have to become for a chance of target, in the direction that makes it easier; none where
// it is there already. Target lies between 0 and 1.
func (m Model) Levers(c Conditions, target float64) (list []Lever) {
	at := func(c Conditions) float64 { return Logistic(dot(c.X(), m.Coef)) }
	enough := func(c Conditions) bool { return at(c) >= target-evidence.Epsilon }
	if enough(c) {
		return nil
	}
	for _, t := range levers {
		if c.Intensity <= 0 && (t == Distance || t == Intensity || t == Moving) || t == Moving && !c.Moving || !m.Tried.Matters(t, c) {
			continue
		}
		l := Lever{Term: t, Grey: m.Grey(t)}
		l.Value, l.Can = m.lever(t, c, target, enough)
		if l.Can {
			l.P = at(c.with(t, l.Value))
			l.Beyond = m.Tried.beyond(t, l.Value)
		} else {
			l.Value = 0
		}
		list = append(list, l)
	}
	return list
}

// lever finds the value of one lever that is enough; ok is false where none is.
func (m Model) lever(t Term, c Conditions, target float64, enough func(Conditions) bool) (value float64, ok bool) {
	first := func(values ...float64) (float64, bool) {
		for _, v := range values {
			if enough(c.with(t, v)) {
				return v, true
			}
		}
		return 0, false
	}
	switch t {
	case Distance:
		return m.Threshold(c, target)
	case Intensity:
		var less []float64
		for level := math.Ceil(c.Intensity) - 1; level >= 0; level-- {
			less = append(less, level)
		}
		return first(less...)
	case Moving:
		return first(0)
	case Value:
		var more []float64
		for v := math.Floor(c.orUsual()) + 1; v <= 5; v++ {
			more = append(more, v)
		}
		return first(more...)
	case Rate:
		var more []float64
		for v := math.Floor(2*c.Rate)/2 + 0.5; v <= maxRate; v += 0.5 {
			more = append(more, v)
		}
		return first(more...)
	}
	need := Logit(target) - dot(c.with(t, 0).X(), m.Coef) // help
	if m.Coef[t] <= 0 {
		return 0, false
	}
	share := need / m.Coef[t]
	return share, share <= 1
}

// maxRate is the fastest rate that is advised, per minute.
const maxRate = 30

// maxThreshold bounds how far off a threshold is looked for, m.
const maxThreshold = 2000

// Threshold is the distance to the trigger, m, at which the chance is target with everything else as it is; ok is false where there is no
// trigger, or distance alone does not bring it there.
func (m Model) Threshold(c Conditions, target float64) (metres float64, ok bool) {
	if c.Intensity <= 0 || m.Coef[Distance] <= 0 {
		return 0, false
	}
	rest := c
	rest.TriggerM = 10 // the term is 0 there
	metres = 10 * math.Exp2((Logit(target)-dot(rest.X(), m.Coef))/m.Coef[Distance])
	return math.Max(metres, minMetres), metres <= maxThreshold
}

// ThresholdRange is the 80 % range of the threshold, m, by the delta method on its logarithm; ok as in Threshold. An end beyond 2 km
// is +Inf.
func (m Model) ThresholdRange(c Conditions, target float64) (metres, lo, hi float64, ok bool) {
	metres, ok = m.Threshold(c, target)
	if m.Coef[Distance] <= 0 || c.Intensity <= 0 {
		return metres, 0, 0, false
	}
	at := c
	at.TriggerM = 10 * math.Exp2(math.Log2(math.Max(metres, minMetres)/10))
	_, se := m.sum(at.X())
	by := ninetieth * se / m.Coef[Distance]
	lo, hi = math.Max(minMetres, metres*math.Exp2(-by)), metres*math.Exp2(by)
	if hi > maxThreshold {
		hi = math.Inf(1)
	}
	return metres, lo, hi, ok
}

// Strongest is the strongest trigger that was tried, 0 for none.
func (t Tried) Strongest() (most int) {
	for level := range t.Levels {
		most = max(most, level)
	}
	return most
}

func (t Tried) beyond(term Term, value float64) bool {
	switch term {
	case Distance:
		return value > Beyond*t.Far
	case Value:
		return value > Beyond*t.Value
	case Rate:
		return value > Beyond*t.Rate
	case Help:
		return value > Beyond*t.Help
	}
	return false // less of the trigger was always there
}

// with are the conditions with one lever turned.
func (c Conditions) with(t Term, value float64) Conditions {
	switch t {
	case Distance:
		c.TriggerM = value
	case Intensity:
		c.Intensity = value
	case Moving:
		c.Moving = value > 0
	case Value:
		c.Value = value
	case Rate:
		c.Rate = value
	case Help:
		c.Help = value
	}
	return c
}

// orUsual is the value in hand, 3 where it is not known.
func (c Conditions) orUsual() float64 {
	if c.Value > 0 {
		return c.Value
	}
	return 3
}

// SetUp rounds metres up to what a person would pace out: halves to 5 m, whole ones to 20, fives to 100, tens beyond.
func SetUp(metres float64) float64 {
	to := 10.0
	switch {
	case metres <= 5:
		to = 0.5
	case metres <= 20:
		to = 1
	case metres <= 100:
		to = 5
	}
	return to * math.Ceil(metres/to-evidence.Epsilon)
}

// Change is what a term's unit is shown by: a change that people can picture.
func (c Conditions) Change(t Term) (now, then Conditions) {
	now, then = c, c
	switch t {
	case Distance:
		if c.TriggerM <= 0 {
			now.TriggerM = 10
		}
		then.TriggerM = 2 * math.Max(now.TriggerM, minMetres)
	case Intensity:
		now.Intensity = math.Min(math.Max(1, c.Intensity), 4)
		then.Intensity = now.Intensity + 1
	case Moving:
		now.Moving, then.Moving = false, true
	case Duration:
		now.DurationS = math.Max(5, c.DurationS)
		then.DurationS = 2 * now.DurationS
	case Handler:
		now.HandlerM = math.Max(1, c.HandlerM)
		then.HandlerM = 2 * now.HandlerM
	case Novelty:
		now.Novelty, then.Novelty = 0, 2
	case Value:
		now.Value = math.Min(c.orUsual(), 4)
		then.Value = now.Value + 1
	case Rate:
		then.Rate = now.Rate + 5
	case Help:
		now.Help, then.Help = 0, 1
	case Cold:
		now.Cold, then.Cold = false, true
	case Practice:
		now.Practice = max(20, c.Practice)
		then.Practice = 2 * now.Practice
	}
	return now, then
}

// Size is how much a change of a term weighs, in logits, with its 80 % range.
func (m Model) Size(c Conditions, t Term) (size, lo, hi float64) {
	now, then := c.Change(t)
	by := then.X()[t] - now.X()[t]
	size, a, b := m.Effect(t)
	if by < 0 {
		a, b = b, a
	}
	return size * by, a * by, b * by
}
