package judge

import (
	"fmt"
	"math"
	"math/rand/v2"

	"patientfox/core/fit"
	"patientfox/core/load"
)

// simulated is a dog whose coefficients are known. It climbs a ladder of distances and strengths, so that what it does later is
// harder, and it has its days.
type simulated struct {
	coef     [load.Terms]float64
	sessions []fit.Session
	final    load.Conditions // at the step at which it ended
}

// simulate makes a dog; harmless is a lever that has no effect on it, Intercept for none.
func simulate(seed uint64, sessions int, harmless load.Term) simulated {
	rng := rand.New(rand.NewPCG(seed, 19))
	var s simulated
	for t := range load.Terms {
		mean, sd := t.Prior()
		s.coef[t] = mean + sd*rng.NormFloat64()
		if t != load.Intercept && t != load.Cold && t != load.Practice && s.coef[t]*mean < 0 {
			s.coef[t] = 0
		}
	}
	s.coef[harmless] *= truth(harmless == load.Intercept)
	step, count := 0, 0
	for i := range sessions {
		day := float64(2 * i)
		mood := 0.4 * rng.NormFloat64()
		one := fit.Session{Day: day}
		met := 0
		value := float64(1 + rng.IntN(5))
		for j := range 12 {
			c := ladder(step)
			c.Value, c.Rate, c.Cold, c.Practice = value, 4+4*float64(i%2), j == 0, count
			p := s.prob(c, mood)
			y := rng.Float64() < p
			one.Trials = append(one.Trials, fit.Trial{Conditions: c, Met: y, Step: fmt.Sprint(step)})
			if count++; y {
				met++
			}
		}
		s.final = ladder(step)
		s.final.Value, s.final.Rate, s.final.Practice = 3, 6, count
		switch {
		case met >= 10:
			step++
		case met <= 5 && step > 0:
			step--
		}
		s.sessions = append(s.sessions, one)
	}
	return s
}

// ladder is an approach: for each strength from far to near.
func ladder(step int) load.Conditions {
	far := []float64{60, 40, 27, 18, 12}
	return load.Conditions{
		TriggerM: far[step%5], Intensity: float64(1 + step/5), Moving: step/5%2 == 1, DurationS: float64(2 + step), HandlerM: float64(step % 3),
	}
}

func (s simulated) prob(c load.Conditions, mood float64) float64 {
	eta := mood
	for t, x := range c.X() {
		eta += s.coef[t] * x
	}
	return logistic(eta)
}

func (s simulated) trials() (trials []fit.Trial) {
	last := s.sessions[len(s.sessions)-1].Day
	for _, one := range s.sessions {
		for _, t := range one.Trials {
			t.Days = last - one.Day
			trials = append(trials, t)
		}
	}
	return trials
}

// threshold is the true distance at which the dog's chance is 0.8, m; ok is false where distance does nothing, or it is beyond sense.
func (s simulated) threshold() (float64, bool) {
	if s.coef[load.Distance] <= 0 {
		return 0, false
	}
	at := s.final
	at.TriggerM = 10
	eta := 0.0
	for t, x := range at.X() {
		eta += s.coef[t] * x
	}
	return 10 * math.Exp2((math.Log(4)-eta)/s.coef[load.Distance]), true
}

func truth(is bool) float64 {
	if is {
		return 1
	}
	return 0
}

// Held is how often something lay inside its range.
type Held struct{ In, N int }

// Loads is how models of load did on dogs whose coefficients are known.
type Loads struct {
	Threshold Held               // the true distance within its 80 % range
	Levers    map[load.Term]Held // the size of each lever that was tried
	Harmless  Held               // levers without effect that were left unclaimed
}

// Load fits models to dogs after 36 sessions of 12 trials; on every second dog one lever has no effect.
func Load(dogs int) Loads {
	out := Loads{Levers: map[load.Term]Held{}}
	for seed := range uint64(dogs) {
		none := load.Intercept
		if seed%2 == 0 {
			none = []load.Term{load.Distance, load.Intensity, load.Value, load.Rate, load.Duration}[seed/2%5]
		}
		s := simulate(seed, 36, none)
		m := fit.Load(s.trials())
		for term := load.Distance; term <= load.Help; term++ {
			if m.Grey(term) || m.Fixed[term] {
				continue
			}
			_, lo, hi := m.Effect(term)
			out.Levers[term] = out.Levers[term].with(lo <= s.coef[term] && s.coef[term] <= hi)
		}
		if none != load.Intercept {
			out.Harmless = out.Harmless.with(!m.Claimed(none))
		}
		if _, lo, hi, ok := m.ThresholdRange(s.final, load.Target); ok && !m.Grey(load.Distance) {
			if metres, has := s.threshold(); has {
				out.Threshold = out.Threshold.with(lo <= max(metres, 0.5) && metres <= hi)
			}
		}
	}
	return out
}

func (h Held) with(in bool) Held {
	if h.N++; in {
		h.In++
	}
	return h
}

// Share is the part that lay inside, 0…1.
func (h Held) Share() float64 { return float64(h.In) / float64(max(1, h.N)) }

// Predictions are those of dogs over 30 sessions, each by what was known before, with the mean Brier scores of the model and of the
// running rate of the step.
func Predictions(dogs int) (all []fit.Predicted, model, running float64) {
	for seed := range uint64(dogs) {
		p := fit.Predict(simulate(seed, 30, load.Intercept).sessions)
		m, r := fit.Brier(p)
		model, running = model+m/float64(dogs), running+r/float64(dogs)
		all = append(all, p...)
	}
	return all, model, running
}
