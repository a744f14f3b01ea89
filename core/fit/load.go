package fit

import (
	"math"
	"slices"

	"patientfox/core/load"
)

// Trial is one that a model is fitted to: a counted trial, or an exposure, of which Met says that the dog was at ease.
type Trial struct {
	load.Conditions
	Met  bool
	Days float64 // that have gone by since, 0 or more
	Step string  // its step and revision: predictions are held against the running rate of it
}

// halfLife is after how many days a trial weighs half.
const halfLife = 21.0

func priors() (p Prior) {
	for t := range load.Terms {
		mean, sd := t.Prior()
		p.Mean, p.SD = append(p.Mean, mean), append(p.SD, sd)
	}
	return p
}

// Load fits a model of load to a dog's trials with one skill, in any order. Without any it is the prior alone. A trial weighs half as
// much every 21 days. A lever whose coefficient has the other sign than its prior is fixed at 0, the worst one first, and the rest
// fitted again.
func Load(trials []Trial) load.Model {
	m, _ := fitted(trials)
	return m
}

// fitted is Load, with how often gradient and Hessian were worked out.
func fitted(trials []Trial) (m load.Model, evaluations int) {
	rows := make([]Observation, len(trials))
	m = load.Model{N: len(trials), Fixed: make([]bool, load.Terms)}
	for i := range trials {
		t := &trials[i]
		rows[i] = Observation{X: t.X(), Y: t.Met, W: math.Exp2(-math.Max(0, t.Days) / halfLife)}
		m.Tried.Add(t.Conditions)
	}
	prior := priors()
	from := prior.Mean
	for {
		p := logistic(rows, prior, m.Fixed, from)
		m.Coef, m.Cov = p.Coef, p.Cov
		evaluations += p.Evaluations
		worst, most := load.Term(0), 0.0
		for t := range load.Terms {
			if !t.Lever() || m.Fixed[t] || m.Coef[t]*prior.Mean[t] >= 0 {
				continue
			}
			if size := math.Abs(m.Coef[t]) / m.SE(t); size > most {
				worst, most = t, size
			}
		}
		if most == 0 {
			return m, evaluations
		}
		m.Fixed[worst] = true
		from = slices.Clone(m.Coef)
	}
}

// Usual is a model of a dog that was never seen: the priors.
func Usual() load.Model { return Load(nil) }
