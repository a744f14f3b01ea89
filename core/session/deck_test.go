package session_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// A deck is dealt card by card: the next is shown before the start, a void trial keeps it, and each trial says which it had.
func TestADeckIsDealt(t *testing.T) {
	p := sessiontest.Plan(work.Steadiness, 3, 0)
	p.V = pack.Version
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Lead, 2).With(criteria.Intensity, 1)
	}
	for _, lead := range []float64{2, -1} {
		for _, strength := range []float64{1, 3} {
			p.Deck = append(p.Deck, map[criteria.Key]float64{criteria.Lead: lead, criteria.Intensity: strength})
		}
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Deck: true})
	seen := map[int]int{}
	at := int64(1000)
	for range 8 {
		number, card := h.Run.Card()
		v := screen.Of(h.Run).View(at)
		require.Len(t, v.Set.Places, 4, "a place a card")
		require.Equal(t, phrase.Words{}.Step(h.Run.OnCard(p.Steps[0].Criteria)), strings.ToLower(v.Step[:1])+v.Step[1:])
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
		one := sessiontest.Trials(h)[len(sessiontest.Trials(h))-1]
		require.Equal(t, trial.Met, one.Outcome)
		require.Equal(t, number, one.Card)
		require.Equal(t, card, one.Asked)
		require.InDelta(t, card[criteria.Lead], *one.LeadS, 1e-9)
		require.Equal(t, number == 1, one.Counted(), "only the card that is the step says something of the step")
		require.Equal(t, card[criteria.Intensity] != 1, one.Worked[criteria.Intensity] == 3)
		seen[number]++
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+7000)
		}
		at += 12000
	}
	require.Equal(t, map[int]int{1: 2, 2: 2, 3: 2, 4: 2}, seen)
	require.Zero(t, first(sessiontest.Begin(t, p, session.Choice{Place: "shed"}).Run.Card()), "only where it was chosen")
}

// What the dog wants itself is dealt among the cards too: three of eight pays, never the first, never two running, whichever card is the
// step. The cards go by the schedule, and what the screen says of the next pay is what is paid.
func TestPaysAmongTheCards(t *testing.T) {
	p := sessiontest.Plan(work.Steadiness, 3, 0)
	p.V = pack.Version
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Lead, 3).With(criteria.Intensity, 1)
	}
	p.Deck = []map[criteria.Key]float64{{criteria.Lead: 2}, {criteria.Lead: 1}, {criteria.Lead: 5}}
	p.Pay.LifeReward, p.Pay.LifeRewardIs = 0.4, "the throw"
	tried := func(h *session.Hand, at int64) int64 {
		_, card := h.Run.Card()
		h.Press(work.Main, at)
		h.Press(work.Main, at+int64(1000*card[criteria.Lead])+500)
		h.Press(work.Main, at+9000)
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+10000)
		}
		return at + 12000
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Deck: true})
	at, own := int64(1000), []int{}
	for i := range 8 {
		dealt := strings.Contains(screen.Of(h.Run).View(at).Pay.Next, "paid with the throw")
		at = tried(h, at)
		require.Len(t, h.Run.Session().Pays, i+1)
		require.Equal(t, dealt, h.Run.Session().Pays[i].LifeReward, "pay %d", i+1)
		if dealt {
			own = append(own, i)
		}
	}
	require.Len(t, own, 3)
	require.NotEqual(t, 0, own[0])
	require.Greater(t, own[1], own[0]+1)

	p.Pay.LifeReward, p.Pay.Schedule = 0, reinforce.Schedule{Way: reinforce.Fixed, K: 2}
	h = sessiontest.Begin(t, p, session.Choice{Place: "shed", Deck: true})
	at = 1000
	for i := range 12 {
		says := screen.Of(h.Run).View(at).Pay.Next
		at = tried(h, at)
		one := sessiontest.Trials(h)[len(sessiontest.Trials(h))-1]
		require.Equal(t, one.Pays == 0, strings.HasSuffix(says, "no food"), "trial %d: %s", i+1, says)
	}
	require.Len(t, h.Run.Session().Pays, 6)
}

// Two misses running at cards that ask more than the step put the deck aside, and say nothing of the step; three met bring it back.
func TestADeckThatIsTooHardIsPutAside(t *testing.T) {
	p := sessiontest.Plan(work.Steadiness, 3, 1)
	p.V = pack.Version
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Intensity, 1)
	}
	p.Deck = []map[criteria.Key]float64{{criteria.Intensity: 2}, {criteria.Intensity: 3}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Deck: true})
	at := int64(1000)
	try := func(outcome work.Key) {
		h.Press(work.Main, at)
		h.Press(outcome, at+2000)
		at += 10000
	}
	for range 2 {
		try(work.MissKey)
	}
	require.Equal(t, session.Idle, h.Run.Phase(), "no step back for cards that are no step")
	require.Zero(t, first(h.Run.Card()))
	require.Equal(t, 3, second(h.Run.DeckAside()))
	try(work.Main)
	try(work.LateKey)
	for wanted := 3; wanted > 0; wanted-- {
		require.Equal(t, wanted, second(h.Run.DeckAside()))
		try(work.Main)
	}
	require.NotZero(t, first(h.Run.Card()))
	counted := 0
	for _, one := range sessiontest.Trials(h) {
		if one.Counted() {
			counted++
		}
	}
	require.Equal(t, 5, counted, "those without a card")
}

// Two misses running at cards that ask less than the step make it easier, as those of any easy trial do: the deck is not put aside.
func TestMissesBelowTheStepCount(t *testing.T) {
	p := sessiontest.Plan(work.Steadiness, 3, 1)
	p.V = pack.Version
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Intensity, 4)
	}
	p.Deck = []map[criteria.Key]float64{{criteria.Intensity: 1}, {criteria.Intensity: 2}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Deck: true})
	for at := int64(1000); at < 20000; at += 10000 {
		h.Press(work.Main, at)
		h.Press(work.MissKey, at+2000)
	}
	require.Equal(t, session.Deciding, h.Run.Phase())
	require.NotZero(t, first(h.Run.Card()))
}

func second[A, B any](_ A, b B) B { return b }

func first[A, B any](a A, _ B) A { return a }
