package lookback_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/randomlog"
)

// Whatever was logged, the strip is whole, and its figures agree with the record and each other.
func TestTheStripIsWholeAndItsFiguresAgree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		pack, events := randomlog.Make(rapid.Uint64().Draw(t, "seed"), rapid.IntRange(0, 120).Draw(t, "presses"))
		run, log := randomlog.Open(pack), record.NewLog(events...)
		session := log.Fold(run)
		v := lookback.Read(log, session, pack.Pay.Band, phrase.Words{})

		for i, s := range v.Segments {
			require.Less(t, s.From, s.To)
			if i > 0 {
				require.GreaterOrEqual(t, s.From, v.Segments[i-1].To-1e-9, "segments do not overlap")
			}
			require.Equal(t, s.Break, s.Plan == "", "a break is of no plan")
		}
		for i, g := range v.Gaps {
			require.Greater(t, g.Active, pack.Pay.Band.Overdue())
			require.LessOrEqual(t, g.Active, g.To-g.From+1e-9, "active time is never longer than the clock's")
			if i > 0 {
				require.GreaterOrEqual(t, g.From, v.Gaps[i-1].To-1e-9)
			}
		}
		require.Len(t, v.Table, len(session.Trials))
		require.Len(t, v.Verdicts, len(session.Verdicts))
		for i, said := range session.Verdicts {
			require.Equal(t, session.PlanOf(said.Block), v.Verdicts[i].Plan)
		}
		var counted []trial.Outcome
		states := true
		for _, trial := range session.Trials {
			if trial.Counted() {
				counted = append(counted, trial.Outcome)
				states = states && trial.State != nil
			}
		}
		tally := evidence.Count(counted)
		met, n := 0, 0
		for _, one := range v.RatesBy {
			met, n = met+one.Met, n+one.N()
		}
		require.Equal(t, [2]int{tally.Met, tally.N()}, [2]int{met, n})
		if len(v.RatesBy) > 1 {
			require.Equal(t, fmt.Sprintf("%d of %d", met, n), v.Strict)
			require.NotContains(t, v.RateLine, "likely", "a rate over several plans is of none")
		} else {
			require.Equal(t, say.Percent(tally.Strict()), v.Strict)
		}
		if tally.N() > 0 && len(v.RatesBy) == 1 {
			require.Contains(t, v.RateLine, fmt.Sprintf("%d of %d, likely", tally.Met, tally.N()))
			require.Equal(t, states, v.RateOf == "At ease", "an exposure is not met")
			require.Equal(t, !states && tally.Late > 0, strings.Contains(v.RateLine, "slow"), "slow ones are said where there are any")
		}
		if strings.Contains(v.PayLine, "stimulus") {
			for _, b := range session.Blocks {
				require.True(t, work.Of(b.Kind).Pairs || session.PaysIn(b.ID) == 0, "%s has no stimulus that pays go with", b.Kind)
			}
		}
		require.NotEmpty(t, v.Headline)
		corrects := func(e record.Event) bool { return e.Kind == record.KRetract || e.Kind == record.KAmend }
		for _, one := range v.Verdicts {
			if !slices.ContainsFunc(events, corrects) {
				require.Empty(t, one.Now, "nothing was corrected: %+v", one)
			}
		}
	})
}

func TestNothingLoggedIsSaidSo(t *testing.T) {
	pack, events := randomlog.Make(4, 0)
	log := record.NewLog(events[:2]...)
	v := lookback.Read(log, log.Fold(randomlog.Open(pack)), pack.Pay.Band, phrase.Words{})
	require.Equal(t, "Nothing was logged", v.Headline)
	require.Empty(t, v.Gaps)
	require.Equal(t, "Nobody said whether any are missing.", v.LoggedLine)
}
