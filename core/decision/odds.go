package decision

import "math/rand/v2"

// How a rule's odds are reckoned.
const (
	oddsDogs    = 4000
	oddsTrials  = 400 // that a dog works at the step at most
	oddsSession = 10  // trials of a session; the places take turns
	oddsVary    = 3   // trials more or fewer, under a gate: a window must not end with each session, or none would span two
)

// PassOdds is the share, 0…1, of dogs that step up under a rule before they are sent back, where each trial is met with the chance rate
// and otherwise missed, whatever they learn. It is simulated and always the same; sets, runs and gates have it, for other rules it is 0.
func (r Rule) PassOdds(rate float64) float64 {
	if r.Kind != Set && r.Kind != Run && r.Kind != Gate || len(r.Check()) > 0 {
		return 0
	}
	rng := rand.New(rand.NewPCG(6, 10))
	m := NewMeter(r)
	passed := 0
	for range oddsDogs {
		m.Begin(1, 9)
	dog:
		for i, session, left := 0, -1, 0; i < oddsTrials; i++ {
			if left == 0 {
				session, left = session+1, oddsSession
				if r.Kind == Gate {
					left += rng.IntN(2*oddsVary+1) - oddsVary
				}
				m.Session()
			}
			left--
			mark := MarkMissed
			if rng.Float64() < rate {
				mark = MarkMet
			}
			switch m.Trial(mark, 0, i == 0, uint8(session%max(1, r.Places))) {
			case StepUp:
				passed++
				break dog
			case StepBack:
				break dog
			}
		}
	}
	return float64(passed) / oddsDogs
}
