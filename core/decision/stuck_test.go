package decision_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/evidence"
)

func suggested(f decision.Facts) (list []decision.StuckCode) {
	for _, s := range decision.Suggest(f) {
		list = append(list, s.Code)
	}
	return list
}

// Each suggestion comes from a figure of its own, and not without it.
func TestEachSuggestionHasItsFigure(t *testing.T) {
	stuck := func() decision.Facts {
		return decision.Facts{Repeats: 3, Entries: 1, Stalled: 5, Sessions: 2, Tally: evidence.Tally{Met: 9, Late: 1, Missed: 5}}
	}
	require.Equal(t, []decision.StuckCode{decision.HalfStep}, suggested(stuck()), "a half step is always worth a try")
	for code, change := range map[decision.StuckCode]func(*decision.Facts){
		decision.VetFirst: func(f *decision.Facts) {
			f.Before, f.Lately = evidence.Tally{Met: 28, Missed: 2}, evidence.Tally{Met: 4, Missed: 8}
		},
		decision.Vague:      func(f *decision.Facts) { f.Missing = 2 },
		decision.FirstOnly:  func(f *decision.Facts) { f.Cold, f.OnlyCold = evidence.Tally{Missed: 1}, true },
		decision.Timing:     func(f *decision.Facts) { f.Errors, f.Handler = 5, 3 },
		decision.Closer:     func(f *decision.Facts) { f.Errors, f.SetUp = 5, 2 },
		decision.Further:    func(f *decision.Facts) { f.Trigger = true },
		decision.PayMore:    func(f *decision.Facts) { f.Rate, f.Planned = 2, 5 },
		decision.FadeSlower: func(f *decision.Facts) { f.Tally.Helped = 8 },
		decision.HalfProp:   func(f *decision.Facts) { f.Fades = true },
		decision.AnotherWay: func(f *decision.Facts) { f.Entries, f.Sessions = 3, 6 },
	} {
		f := stuck()
		change(&f)
		require.Contains(t, suggested(f), code)
		f.Stalled = 4
		require.Empty(t, suggested(f), "%s: it came higher lately", code)
		f.Stalled, f.Repeats, f.Entries = 9, 2, 2
		require.Empty(t, suggested(f), "%s: not stuck yet", code)
	}
	slow := stuck()
	slow.Slower = true
	require.Contains(t, suggested(slow), decision.PayMore)
}

func TestAKnownSkillThatVanishedGoesToTheVetFirst(t *testing.T) {
	f := decision.Facts{Entries: 3, Stalled: 5, Missing: 1, Before: evidence.Tally{Met: 30}, Lately: evidence.Tally{Met: 5, Missed: 7}}
	require.Equal(t, decision.VetFirst, suggested(f)[0])
	f.Lately = evidence.Tally{Met: 5, Missed: 1}
	require.NotContains(t, suggested(f), decision.VetFirst, "six trials say too little")
}

func TestSuggestionsComeInTheirOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := func(name string) int { return rapid.IntRange(0, 30).Draw(t, name) }
		tally := func(name string) evidence.Tally {
			return evidence.Tally{Met: n(name + " met"), Late: n(name + " late"), Helped: n(name + " helped"), Missed: n(name + " missed")}
		}
		f := decision.Facts{
			Entries: n("entries"), Repeats: n("repeats"), Stalled: n("stalled"), Sessions: n("sessions"),
			Tally: tally("all"), Trigger: rapid.Bool().Draw(t, "trigger"),
			Fades: rapid.Bool().Draw(t, "fades"), Missing: n("missing"), Handler: n("handler"), Errors: n("errors"),
			Before: tally("before"), Lately: tally("lately"),
		}
		last := -1
		for _, s := range decision.Suggest(f) {
			at := -1
			for i, code := range decision.StuckCodes {
				if code == s.Code {
					at = i
				}
			}
			require.Greater(t, at, last)
			last = at
		}
		require.Equal(t, decision.Stuck(f), last >= 0)
	})
}
