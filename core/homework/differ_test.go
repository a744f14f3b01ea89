package homework_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/homework"
	"patientfox/core/standing"
)

// Two tables worked out by hand, ½ in each cell.
func TestMantelHaenszel(t *testing.T) {
	odds, se := homework.MantelHaenszel([]homework.Rates{{HomeMet: 9, HomeOf: 10, VisitMet: 5, VisitOf: 10}})
	require.InDelta(t, 9.5*5.5/(1.5*5.5), odds, 1e-12)
	require.InDelta(t, math.Sqrt(1/9.5+1/1.5+1/5.5+1/5.5), se, 1e-9, "of one table it is the logarithm's own")
	odds, _ = homework.MantelHaenszel([]homework.Rates{
		{HomeMet: 9, HomeOf: 10, VisitMet: 5, VisitOf: 10}, {HomeMet: 3, HomeOf: 4, VisitMet: 2, VisitOf: 6},
	})
	require.InDelta(t, (9.5*5.5/22+3.5*4.5/12)/(1.5*5.5/22+1.5*2.5/12), odds, 1e-12)
}

// It speaks after two whole fortnights running, at the same steps alone, and never of too little.
func TestHomeIsComparedWithVisitsByTheFortnight(t *testing.T) {
	begin, _ := standing.Day("2026-10-26") // a fortnight of the calendar begins
	day := func(n int) string { return standing.Named(begin + n) }
	list := func(home, visits int, step string) (all []homework.Counted) {
		for n := range 28 {
			if n%2 == 0 && n%14/2 < home {
				all = append(all, homework.Counted{Day: day(n), Step: "a", Met: 5, Of: 5})
			}
			if n%5 == 1 && n%14/5 < visits {
				all = append(all, homework.Counted{Day: day(n), Step: step, Session: fmt.Sprint(n), Met: 5, Of: 12})
			}
		}
		return all
	}
	r, differ := homework.Differ(list(7, 3, "a"), day(28))
	require.True(t, differ)
	require.Equal(t, []int{70, 70}, []int{r.HomeMet, r.HomeOf})
	for name, c := range map[string]struct {
		list []homework.Counted
		day  string
	}{
		"the second is not over":    {list(7, 3, "a"), day(27)},
		"another step in visits":    {list(7, 3, "b"), day(28)},
		"three days from home":      {list(3, 3, "a"), day(28)},
		"one session":               {list(7, 1, "a"), day(28)},
		"a fortnight later nothing": {list(7, 3, "a"), day(42)},
		"nothing":                   {nil, day(28)},
		"no day":                    {list(7, 3, "a"), "soon"},
	} {
		_, differ := homework.Differ(c.list, c.day)
		require.False(t, differ, name)
	}
}
