package outlook

import (
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distmv"

	"patientfox/core/decision"
)

// traitCount is how many traits a form has; each is a standard normal before the record is read.
const traitCount = 6

// point is a point among the traits of a form: standard normal numbers before anything is known.
type point [traitCount]float64

// traits turns a point into a learner's traits. The middles and spreads are Patient Fox's own; they claim
// nothing about dogs but that these are possible.
func (z point) traits(form Form) Traits {
	log := func(middle, spread, z float64) float64 { return middle * math.Exp(spread*z) }
	part := func(middle, spread, z float64) float64 { return 1 / (1 + math.Exp(-(middle + spread*z))) }
	t := Traits{Form: form, Loss: log(0.03, 0.7, z[2]), Strange: log(0.6, 0.6, z[4])}
	switch form {
	case AllOrNone:
		t.Ability, t.Catch, t.Carry, t.Known = 0.7*z[0], part(-2.2, 0.8, z[1]), part(-0.8, 0.8, z[3]), 3+0.5*z[5]
	case Context:
		t.Ability, t.Gain, t.Drop, t.Forget = 1.6+0.9*z[0], log(0.12, 0.7, z[1]), log(0.5, 0.4, z[3]), log(0.25, 0.7, z[5])
	default:
		t.Ability, t.Gain, t.Drop, t.Forget = 1.6+0.9*z[0], log(0.08, 0.7, z[1]), log(0.5, 0.4, z[3]), log(0.012, 0.8, z[5])
	}
	if form == Moody {
		t.Days = log(0.5, 0.3, z[5])
	}
	return t
}

// Draw makes the traits of a dog of a form, by lot: what the fit takes for possible before it has seen
// anything.
func Draw(form Form, rng *rand.Rand) Traits {
	return draw(rng).traits(form)
}

func draw(rng *rand.Rand) (z point) {
	for i := range z {
		z[i] = rng.NormFloat64()
	}
	return z
}

// particle is one dog that could have made the record, in its state at the end.
type particle struct {
	l     Learner
	known []float64 // all or none: the chance that each level was got
	met   []bool
	base  int // the step whose difficulty is 0; below 0 without a record: that at which it will begin
}

// follow takes a learner of some traits through a record, and says how likely it was to make it: the log of
// the likelihood, of met against not met.
func follow(traits Traits, record []Trial, heights []float64) (float64, particle) {
	steps := len(heights)
	p := particle{l: *NewLearner(0, traits), known: make([]float64, steps), met: make([]bool, steps), base: -1}
	l := &p.l
	likely, product := 0.0, 1.0 // the log of a product costs less than the sum of logs
	first := true
	var levels []Level
	for _, t := range record {
		if t.Step < 0 || t.Step >= steps {
			continue
		}
		if first {
			p.base = t.Step
			levels = levelsOf(traits, heights, t.Step)
			for i := range t.Step {
				p.met[i], p.known[i] = true, 0.9 // it came this far
			}
		}
		if t.Opens && !first {
			l.Rest(t.Days)
		}
		l.Enter(t.Place)
		level := &levels[t.Step]
		if !p.met[t.Step] {
			p.met[t.Step], p.known[t.Step] = true, traits.Carry
			if first {
				p.known[t.Step] = 0.5
			}
		}
		first = false
		met, right := t.Mark == decision.MarkMet, t.Mark <= decision.MarkLate
		level.known = false
		chance := l.ProbMet(level, t.Place)
		if traits.Form == AllOrNone {
			level.known = true
			got := l.ProbMet(level, t.Place)
			level.known = false
			known := p.known[t.Step]
			got, chance = inside(got), inside(chance)
			both := known*got + (1-known)*chance
			if met {
				known *= got / both
			} else {
				known *= (1 - got) / (1 - both)
			}
			if right && t.Paid {
				known += (1 - known) * traits.Catch
			}
			p.known[t.Step] = known
			chance = both
			l.Catch = 0 // the chance of it is kept above
		}
		chance = inside(chance)
		if met {
			product *= chance
		} else {
			product *= 1 - chance
		}
		if product < 1e-200 {
			likely, product = likely+math.Log(product), 1
		}
		l.Learn(level, t.Place, chance, right, t.Paid)
	}
	l.Catch = traits.Catch
	return likely + math.Log(product), p
}

// inside keeps a chance off 0 and 1, so that no single trial rules anything out.
func inside(p float64) float64 { return min(max(p, 1e-9), 1-1e-9) }

// levelsOf are the levels of a plan for a learner of some traits, of difficulty 0 at base.
func levelsOf(t Traits, heights []float64, base int) []Level {
	levels := make([]Level, len(heights))
	for i, height := range heights {
		levels[i].id = i
		if t.Form != AllOrNone {
			levels[i].Hard = t.Drop * (height - heights[base])
		}
	}
	return levels
}

// Heights are those of steps that were laid out at once: 0, 1, 2 …
func Heights(steps int) []float64 {
	heights := make([]float64, steps)
	for i := range heights {
		heights[i] = float64(i)
	}
	return heights
}

// prior is how likely each form is before the record is read, up to a factor. What judged forecasts hold of each
// form (see Judge) supports the figure.
func (f Form) prior() float64 {
	if f == Gradual {
		return 2
	}
	return 1
}

// How much a fit does.
const (
	MinTrials   = 20 // fewer say too little to look ahead
	MinSessions = 2
	fitTrials   = 600 // the newest ones
	fitDraws    = 600 // points a round and form
	fitRounds   = 3
)

// Fit is the dogs that could have made a record, each as likely as its share of them.
type Fit struct {
	particles []particle
	Forms     map[Form]float64 // how likely each form is
	Trials    int              // the record's
	Learnt    Learnt           // for a Prior of other dogs, where the record was read with Usual
}

// Enough tells whether a record is enough to fit a learner to.
func Enough(record []Trial) bool {
	sessions := 0
	for _, t := range record {
		if t.Opens {
			sessions++
		}
	}
	return len(record) >= MinTrials && sessions >= MinSessions
}

// FitTo fits learners of every form to a record of a plan with steps of some heights, by importance sampling
// in rounds: each draws around what the one before found likely; without a record it is the prior. Seeded. Source: Cappé, Guillin,
// Marin and Robert, "Population Monte Carlo", Journal of Computational and Graphical Statistics 13
// (2004).
func FitTo(record []Trial, heights []float64, prior Prior, seed uint64) Fit {
	record = record[max(0, len(record)-fitTrials):]
	rng := rand.New(rand.NewPCG(seed, 2))
	var all []weighed
	for _, form := range Forms {
		all = append(all, sample(form, record, heights, prior, rng)...)
	}
	most := math.Inf(-1)
	for _, w := range all {
		most = max(most, w.log)
	}
	fit := Fit{Forms: map[Form]float64{}, Trials: len(record)}
	sum := 0.0
	for i := range all {
		all[i].log = math.Exp(all[i].log - most)
		sum += all[i].log
	}
	fit.Learnt = learntOf(all)
	// Systematic resampling.
	const kept = 1000
	at, next := 0.0, rng.Float64()/kept
	for _, w := range all {
		at += w.log / sum
		n := 0
		for ; next < at && len(fit.particles) < kept; next += 1.0 / kept {
			n++
			fit.particles = append(fit.particles, particle{})
			fit.Forms[w.form] += 1.0 / kept
		}
		if n > 0 {
			_, p := follow(w.z.traits(w.form), record, heights)
			for i := len(fit.particles) - n; i < len(fit.particles); i++ {
				fit.particles[i] = p
			}
		}
	}
	return fit
}

type weighed struct {
	form Form
	z    point
	log  float64 // of the weight
}

// sample draws points of one form with their weights.
func sample(form Form, record []Trial, heights []float64, before Prior, rng *rand.Rand) []weighed {
	prior := before.normal(form, rng)
	draw, density := prior.Rand, prior.LogProb
	var out, kept []weighed
	for round := range fitRounds {
		out = out[:0]
		for range fitDraws {
			x := draw(nil)
			var z point
			copy(z[:], x)
			likely, _ := follow(z.traits(form), record, heights)
			out = append(out, weighed{form, z, likely + prior.LogProb(x) - density(x) + math.Log(before.forms[form])})
		}
		// Each draw is weighed by what it was drawn from, so that those of every later round count.
		if round > 0 {
			kept = append(kept, out...)
		}
		if round == fitRounds-1 {
			break
		}
		found, ok := around(out, rng)
		if !ok {
			continue
		}
		// A part of the draws stays with the prior, so that nothing possible is lost for good.
		const wide = 0.1
		draw = func(x []float64) []float64 {
			if rng.Float64() < wide {
				return prior.Rand(x)
			}
			return found.Rand(x)
		}
		density = func(x []float64) float64 {
			a, b := math.Log(wide)+prior.LogProb(x), math.Log(1-wide)+found.LogProb(x)
			top := max(a, b)
			return top + math.Log(math.Exp(a-top)+math.Exp(b-top))
		}
	}
	return kept
}

type spread interface {
	Rand([]float64) []float64
	LogProb([]float64) float64
}

// around is a heavy-tailed distribution around the points that weigh most.
func around(points []weighed, rng *rand.Rand) (spread, bool) {
	x, weights := mat.NewDense(len(points), traitCount, nil), make([]float64, len(points))
	most := math.Inf(-1)
	for _, p := range points {
		most = max(most, p.log)
	}
	for i, p := range points {
		x.SetRow(i, p.z[:])
		weights[i] = math.Exp(p.log - most)
	}
	mean := make([]float64, traitCount)
	for j := range mean {
		mean[j] = stat.Mean(mat.Col(nil, j, x), weights)
	}
	sum := 0.0
	for _, w := range weights {
		sum += w
	}
	sigma := mat.NewSymDense(traitCount, nil)
	for i, p := range points {
		for a := range traitCount {
			for b := a; b < traitCount; b++ {
				sigma.SetSym(a, b, sigma.At(a, b)+weights[i]/sum*(p.z[a]-mean[a])*(p.z[b]-mean[b]))
			}
		}
	}
	for a := range traitCount {
		sigma.SetSym(a, a, 1.2*sigma.At(a, a)+0.02)
	}
	t, ok := distmv.NewStudentsT(mean, sigma, 6, rng)
	return t, ok
}
