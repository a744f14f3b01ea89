package deal_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/deal"
)

// Decoys keep near their share over a thousand movements, never come first, after a wary dog, or twice running.
func TestDecoysKeepTheirShare(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := rapid.IntRange(2, 10).Draw(t, "in")
		d := deal.Decoys{Seed: rapid.Uint64().Draw(t, "seed"), In: in}
		wary := rapid.IntRange(0, 30).Draw(t, "wary, of 100")
		var made []deal.Movement
		decoys := 0
		for i := range 1000 {
			next := deal.Movement{Decoy: d.Next(made)}
			if i%100 == 0 {
				require.Equal(t, next.Decoy, d.Ahead(made, 3)[0])
			}
			if n := len(made); next.Decoy {
				decoys++
				require.Positive(t, n)
				require.False(t, made[n-1].Decoy)
				require.Less(t, made[n-1].State, 2)
			} else if (i*7919+in)%100 < wary {
				next.State = 2
			}
			made = append(made, next)
		}
		most := 1000.0 / float64(in)
		if in > 2 { // one in two cannot be made up for
			require.InDelta(t, most, decoys, 40)
		}
	})
	require.False(t, deal.Decoys{Seed: 1}.Next([]deal.Movement{{}}), "none were asked for")
}

// The places by chance are not the same in each group.
func TestDecoysAreNotForeseeable(t *testing.T) {
	at := map[int]int{}
	d := deal.Decoys{Seed: 9, In: 4}
	var made []deal.Movement
	for i := range 4000 {
		next := d.Next(made)
		if made = append(made, deal.Movement{Decoy: next}); next {
			at[i%4]++
		}
	}
	for place := range 4 {
		require.Greater(t, at[place], 150, place)
	}
}

// Of each two decoys one shows the tool.
func TestEveryOtherDecoyShowsTheTool(t *testing.T) {
	first := map[bool]bool{}
	for seed := range uint64(40) {
		d := deal.Decoys{Seed: seed, In: 4}
		for pair := range 6 {
			require.NotEqual(t, d.Shows(2*pair), d.Shows(2*pair+1), "pair %d of seed %d", pair, seed)
			first[d.Shows(2*pair)] = true
		}
	}
	require.Len(t, first, 2, "which of them it is, is not known beforehand")
}
