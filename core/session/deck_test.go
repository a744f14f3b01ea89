package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// A deck is dealt card by card: the next is shown before the start, a void trial keeps it, and each trial says which it had.
func TestADeckIsDealt(t *testing.T) {
	p := plan(work.Steadiness, 3, 0)
	p.V = pack.Version
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Lead, 2).With(criteria.Intensity, 1)
	}
	for _, lead := range []float64{2, -1} {
		for _, strength := range []float64{1, 3} {
			p.Deck = append(p.Deck, map[criteria.Key]float64{criteria.Lead: lead, criteria.Intensity: strength})
		}
	}
	h := begin(t, p, session.Choice{Place: "shed", Deck: true})
	seen := map[int]int{}
	at := int64(1000)
	for range 8 {
		number, card := h.Run.Card()
		v := screen.Of(h.Run).View(at)
		require.Contains(t, v.Target, "of 4: ")
		h.Press(work.VoidKey, at)
		again, _ := h.Run.Card()
		require.Equal(t, number, again, "a void trial keeps it")
		first := "Signal"
		if card[criteria.Lead] < 0 {
			first = "Distraction"
		}
		require.Equal(t, first, screen.Of(h.Run).View(at+1000).Main.Label, "the board is the card's")
		h.Press(work.Main, at+2000)
		h.Press(work.Main, at+2000+int64(1000*max(card[criteria.Lead], -card[criteria.Lead])))
		h.Press(work.Main, at+6000)
		one := trials(h)[len(trials(h))-1]
		require.Equal(t, trial.Met, one.Outcome)
		require.Equal(t, number, one.Card)
		require.Equal(t, card, one.Asked)
		require.InDelta(t, card[criteria.Lead], *one.LeadS, 1e-9)
		require.Equal(t, card[criteria.Intensity] != 1, one.Worked[criteria.Intensity] == 3)
		seen[number]++
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+7000)
		}
		at += 12000
	}
	require.Equal(t, map[int]int{1: 2, 2: 2, 3: 2, 4: 2}, seen)
	require.Zero(t, first(begin(t, p, session.Choice{Place: "shed"}).Run.Card()), "only where it was chosen")
}

func first[A, B any](a A, _ B) A { return a }
