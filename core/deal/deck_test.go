package deal_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/deal"
)

// A deck deals each card exactly as often as the others, and none twice running.
func TestADeckDealsWhatWasAsked(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := deal.Deck{Seed: rapid.Uint64().Draw(t, "seed"), Cards: rapid.IntRange(1, 30).Draw(t, "cards")}
		rounds := rapid.IntRange(1, 6).Draw(t, "rounds")
		dealt := make([]int, d.Cards)
		before := -1
		for place := range rounds * d.Cards {
			card := d.At(place)
			dealt[card]++
			require.False(t, d.Cards > 1 && card == before, "twice running")
			before = card
		}
		for card, n := range dealt {
			require.Equal(t, rounds, n, card)
		}
	})
	require.Equal(t, -1, deal.Deck{}.At(0))
}
