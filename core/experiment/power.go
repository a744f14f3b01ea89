package experiment

import (
	"math"
	"math/rand/v2"
)

// simulated is how many experiments a power is counted over: its standard error is 2.5 points at most.
const simulated = 400

// maxSpread is as much as sets of a dog are taken to differ, logits.
const maxSpread = 1.5

// Power is the chance, 0…1, that a design shows a difference of some odds ratio, of a dog that meets a share of trials on average and
// whose sets differ by spread (sd on the logit, see Spread). Simulated, seeded; with no difference, an odds ratio of 1, it is how often
// one is shown in vain.
func (d Design) Power(rate, spread, odds float64, seed uint64) float64 {
	rng := rand.New(rand.NewPCG(seed, uint64(d.Pairs)))
	rate = min(max(rate, 0.02), 0.98)
	middle, half := math.Log(rate/(1-rate)), math.Log(odds)/2
	set := func(logit float64) Set {
		s := Set{N: d.Each}
		p := 1 / (1 + math.Exp(-(logit + spread*rng.NormFloat64())))
		for range d.Each {
			if rng.Float64() < p {
				s.Met++
			}
		}
		return s
	}
	shown := 0
	for range simulated {
		pairs := make([]Pair, d.Pairs)
		for i := range pairs {
			pairs[i] = Pair{set(middle + half), set(middle - half)}
		}
		if shows(pairs) {
			shown++
		}
	}
	return float64(shown) / simulated
}

// exactUpTo is up to how many pairs a simulated experiment is read exactly; with more the normal distribution is close enough.
const exactUpTo = 8

func shows(pairs []Pair) bool {
	if len(pairs) <= exactUpTo {
		return Read(pairs, 0).Shows()
	}
	sum, square := 0.0, 0.0
	for _, p := range pairs {
		d := p.A.rate() - p.B.rate()
		sum, square = sum+d, square+d*d
	}
	return square > 0 && math.Abs(sum) >= 1.96*math.Sqrt(square)
}

// Spread is how much the sets of a dog differ within a session beyond chance, sd on the logit, 0…1.5: half of what the differences of its
// pairs vary, less what so few trials vary by themselves. With fewer than three pairs it is 0.4.
func Spread(pairs []Pair) float64 {
	var n, met, trials, squares, chance float64
	for _, p := range pairs {
		if p.A.N == 0 || p.B.N == 0 {
			continue
		}
		d := p.A.rate() - p.B.rate()
		n, squares = n+1, squares+d*d
		met, trials = met+float64(p.A.Met+p.B.Met), trials+float64(p.A.N+p.B.N)
		chance += 1/float64(p.A.N) + 1/float64(p.B.N)
	}
	if n < 3 {
		return 0.4
	}
	rate := (met + 0.5) / (trials + 1)
	variance := rate * (1 - rate)
	beyond := (squares/n - variance*chance/n) / 2
	return min(maxSpread, math.Sqrt(max(0, beyond))/variance)
}
