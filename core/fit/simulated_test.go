package fit_test

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
	harmless load.Term // a lever that has no effect on it; Intercept for none
	sessions []fit.Session
	final    load.Conditions // at the step at which it ended
}

func simulate(seed uint64, sessions int, harmless load.Term) simulated {
	rng := rand.New(rand.NewPCG(seed, 19))
	s := simulated{harmless: harmless}
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
	return 1 / (1 + math.Exp(-eta))
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
