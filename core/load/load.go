package load

import "math"

// Term is what makes a trial harder or easier.
type Term int

// The terms, in the order of a model's coefficients.
const (
	Intercept Term = iota
	Distance       // log2(metres to the trigger ÷ 10)
	Intensity      // 0…5
	Moving         // the trigger moves
	Duration       // log2(1 + seconds asked ÷ 10)
	Handler        // log2(1 + metres from handler to dog)
	Novelty        // of the place, 0…3
	Value          // of the reinforcer in hand before the cue, 1…5, less 3
	Rate           // planned reinforcers per minute ÷ 10
	Help           // planned: the share of the fade list that is still given, 0…1
	Cold           // the first trial of the day
	Practice       // log2(1 + counted trials of this skill before this one ÷ 20)
	Terms          // how many there are
)

// What is expected of a dog that was never seen: mean and standard deviation of each term's normal prior.
var (
	priorMean = [Terms]float64{0.5, 0.6, -0.7, -0.8, -0.5, -0.4, -0.5, 0.35, 0.4, 0.8, -0.3, 0.4}
	priorSD   = [Terms]float64{1.5, 0.5, 0.5, 0.5, 0.4, 0.4, 0.4, 0.3, 0.3, 0.5, 0.3, 0.4}
)

// Prior are mean and standard deviation of a term's prior.
func (t Term) Prior() (mean, sd float64) { return priorMean[t], priorSD[t] }

// Lever tells whether a term is one that people turn: its sign is known beforehand.
func (t Term) Lever() bool { return t != Intercept && t != Cold && t != Practice }

// Beyond is how many times what was ever tried advice goes to.
const Beyond = 1.5

// Target is the chance that is aimed at in a session.
const Target = 0.8

const (
	minMetres   = 0.5    // nearer counts as this
	ninetieth   = 1.2816 // standard normal: 80 % lie within ± this
	both        = 1.96   // and 95 % within this
	grey        = 0.8    // of its prior's sd: above it a lever says little that the prior did not
	estimatedBy = 0.25   // sd of metres that were only estimated, in doublings: about a fifth
)

// Conditions are those of a trial.
type Conditions struct {
	TriggerM  float64 // m, above 0; 0 where it was not said, which counts as 10 m
	Estimated bool    // the metres were only estimated
	Intensity float64 // 0…5; at 0 there is no trigger
	Moving    bool
	DurationS float64 // asked, s
	HandlerM  float64 // m
	Novelty   float64 // 0…3
	Value     float64 // 1…5, 0 where it is not known, which counts as 3
	Rate      float64 // planned, per minute
	Help      float64 // 0…1
	Cold      bool
	Practice  int // counted trials of the skill before this one
}

// X are the terms of the conditions.
func (c Conditions) X() []float64 {
	x := make([]float64, Terms)
	x[Intercept] = 1
	if c.Intensity > 0 {
		if c.TriggerM > 0 {
			x[Distance] = math.Log2(math.Max(c.TriggerM, minMetres) / 10)
		}
		x[Intensity], x[Moving] = c.Intensity, truth(c.Moving)
	}
	x[Duration] = math.Log2(1 + math.Max(0, c.DurationS)/10)
	x[Handler] = math.Log2(1 + math.Max(0, c.HandlerM))
	x[Novelty] = c.Novelty
	if c.Value > 0 {
		x[Value] = c.Value - 3
	}
	x[Rate], x[Help], x[Cold] = c.Rate/10, c.Help, truth(c.Cold)
	x[Practice] = math.Log2(1 + float64(c.Practice)/20)
	return x
}

func truth(is bool) float64 {
	if is {
		return 1
	}
	return 0
}

// Model is what was learned of one dog with one skill.
type Model struct {
	Coef  []float64   `json:"coef"`
	Cov   [][]float64 `json:"cov"`
	Fixed []bool      `json:"fixed,omitempty"` // levers that would have pointed the wrong way: they are taken as having no effect
	N     int         `json:"n"`               // trials that it was fitted to
	Tried Tried       `json:"tried"`
}

// Tried is how far conditions were ever tried.
type Tried struct {
	Near   float64      `json:"near,omitempty"` // least and largest metres to the trigger, 0 for none
	Far    float64      `json:"far,omitempty"`
	Levels map[int]bool `json:"levels,omitempty"` // intensities
	Value  float64      `json:"value,omitempty"`  // largest
	Rate   float64      `json:"rate,omitempty"`   // largest, per minute
	Help   float64      `json:"help,omitempty"`   // largest, 0…1
	Held   float64      `json:"held,omitempty"`   // longest duration that was asked, s
	Apart  float64      `json:"apart,omitempty"`  // largest distance of the handler, m
}

// Matters tells whether a term says anything of a skill: it was tried, or is there under the conditions. What everybody has always does.
func (t Tried) Matters(term Term, c Conditions) bool {
	switch term {
	case Distance, Intensity, Moving:
		return c.Intensity > 0 || len(t.Levels) > 0
	case Duration:
		return c.DurationS > 0 || t.Held > 0
	case Handler:
		return c.HandlerM > 0 || t.Apart > 0
	case Help:
		return c.Help > 0 || t.Help > 0
	}
	return true
}

// Add takes in the conditions of a trial.
func (t *Tried) Add(c Conditions) {
	if c.Intensity > 0 {
		if c.TriggerM > 0 {
			near := math.Max(c.TriggerM, minMetres)
			if t.Near == 0 || near < t.Near {
				t.Near = near
			}
			t.Far = math.Max(t.Far, near)
		}
		if t.Levels == nil {
			t.Levels = map[int]bool{}
		}
		t.Levels[int(math.Round(c.Intensity))] = true
	}
	t.Held, t.Apart = math.Max(t.Held, c.DurationS), math.Max(t.Apart, c.HandlerM)
	t.Value, t.Rate, t.Help = math.Max(t.Value, c.Value), math.Max(t.Rate, c.Rate), math.Max(t.Help, c.Help)
}

// SE is the standard error of a coefficient.
func (m Model) SE(t Term) float64 { return math.Sqrt(m.Cov[t][t]) }

// Grey tells whether a coefficient is still a starting assumption: nothing was tried apart that would have told more of it.
func (m Model) Grey(t Term) bool { return !m.fixed(t) && m.SE(t) > grey*priorSD[t] }

// Claimed tells whether the dog's own trials show that a term matters.
func (m Model) Claimed(t Term) bool {
	return !m.Grey(t) && !m.fixed(t) && math.Abs(m.Coef[t]) > both*m.SE(t)
}

func (m Model) fixed(t Term) bool { return len(m.Fixed) > int(t) && m.Fixed[t] }

// Chance is a predicted chance with its 80 % band.
type Chance struct {
	P, Lo, Hi float64
}

// At is the chance that a trial is met under conditions. Metres that were only estimated widen the band.
func (m Model) At(c Conditions) Chance {
	x := c.X()
	eta, se := m.sum(x)
	if c.Estimated && c.Intensity > 0 {
		se = math.Hypot(se, m.Coef[Distance]*estimatedBy)
	}
	return Chance{P: Logistic(eta), Lo: Logistic(eta - ninetieth*se), Hi: Logistic(eta + ninetieth*se)}
}

// sum is the logit of a row, with its standard error.
func (m Model) sum(x []float64) (eta, se float64) {
	v := 0.0
	for i := range x {
		for j := range x {
			v += x[i] * m.Cov[i][j] * x[j]
		}
	}
	return dot(x, m.Coef), math.Sqrt(math.Max(0, v))
}

// Effect is how much a term matters, with its 80 % range, in logits for one unit of it.
func (m Model) Effect(t Term) (size, lo, hi float64) {
	se := m.SE(t)
	return m.Coef[t], m.Coef[t] - ninetieth*se, m.Coef[t] + ninetieth*se
}

func dot(x, beta []float64) (sum float64) {
	for j, b := range beta {
		sum += x[j] * b
	}
	return sum
}

// Logistic is the chance of a logit.
func Logistic(eta float64) float64 {
	if eta >= 0 {
		return 1 / (1 + math.Exp(-eta))
	}
	e := math.Exp(eta)
	return e / (1 + e)
}

// Logit is the logit of a chance between 0 and 1.
func Logit(p float64) float64 { return math.Log(p / (1 - p)) }
