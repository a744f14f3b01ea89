package criteria_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
)

// asked draws what a step asks: some figures, and now and then words of a list of its own.
func asked(t *rapid.T, name string) criteria.Criteria {
	c := criteria.Criteria{Trig: rapid.SampledFrom([]string{"", "gulls", "the horn"}).Draw(t, name+" trigger")}
	for _, key := range []criteria.Key{criteria.Duration, criteria.Handler, criteria.Trigger, criteria.Paces} {
		if rapid.Bool().Draw(t, name+" has "+string(key)) {
			c = c.With(key, float64(rapid.IntRange(0, 5).Draw(t, name+" "+string(key))))
		}
	}
	if rapid.Bool().Draw(t, name+" has help") {
		help, _ := c.Dimension(criteria.Help)
		if rapid.Bool().Draw(t, name+" help of its own") {
			help.Items = []string{"hand on the wall", "small sign", "none"}
		}
		c = c.WithDimension(help, float64(rapid.IntRange(0, 2).Draw(t, name+" help")))
	}
	return c
}

func TestOneStepOverAnother(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		under, over := asked(t, "under"), asked(t, "over")
		before := under.With(criteria.Height, 1).Without(criteria.Height) // a copy
		both := under.Over(over)
		require.True(t, under.Equal(before), "what was there is left alone")
		for key := range over.Values {
			require.Equal(t, over.Get(key), both.Get(key))
			require.Equal(t, over.Item(key), both.Item(key), "a word stays the word that it was")
		}
		for key := range under.Values {
			if !over.Has(key) {
				require.Equal(t, under.Get(key), both.Get(key))
				require.Equal(t, under.Item(key), both.Item(key))
			}
		}
		require.Len(t, both.Values, len(criteria.Both(under, over)))
		if over.Trig != "" {
			require.Equal(t, over.Trig, both.Trig)
		} else {
			require.Equal(t, under.Trig, both.Trig)
		}
		require.True(t, both.Over(over).Equal(both), "once more changes nothing")
		require.True(t, under.Over(criteria.Criteria{}).Equal(under))
	})
}

func TestStepsThatAskTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := asked(t, "a"), asked(t, "b")
		require.True(t, a.Equal(a))
		require.Equal(t, a.Equal(b), b.Equal(a))
		if a.Equal(b) {
			harder, easier := criteria.Changed(a, b)
			require.Empty(t, harder)
			require.Empty(t, easier)
		}
		require.False(t, a.Equal(a.With(criteria.Duration, a.Get(criteria.Duration)+1)))
		other := a
		other.Text = a.Text + " at the ramp"
		require.False(t, a.Equal(other))
		if a.Has(criteria.Duration) {
			require.False(t, a.Equal(a.Without(criteria.Duration)))
			varied := a
			varied.Vary = []criteria.Key{criteria.Duration}
			require.False(t, a.Equal(varied))
		}
	})
}

// The order of what two steps have is that of the pages, whichever of them has it.
func TestWhatEitherOfTwoStepsHas(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := asked(t, "a"), asked(t, "b")
		list := criteria.Both(a, b)
		seen := map[criteria.Key]bool{}
		for _, d := range list {
			require.True(t, a.Has(d.Key) || b.Has(d.Key))
			require.False(t, seen[d.Key])
			seen[d.Key] = true
			if b.Has(d.Key) {
				of, _ := b.Dimension(d.Key)
				require.Equal(t, of.Items, d.Items, "as the second has it")
			}
		}
		turned := criteria.Both(b, a)
		require.Len(t, turned, len(list))
		for i := range list {
			require.Equal(t, list[i].Key, turned[i].Key)
		}
	})
}
