package standing_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/standing"
	"patientfox/core/trial"
)

func steps() []progression.Step {
	plain := criteria.Criteria{}.With(criteria.Duration, 2)
	varied := criteria.Criteria{}.With(criteria.Duration, 4)
	varied.Vary = []criteria.Key{criteria.Duration}
	return []progression.Step{{ID: "step 1", Rev: 1, Criteria: plain}, {ID: "step 2", Rev: 2, Criteria: varied}}
}

func ExampleTried() {
	trials := []trial.Trial{
		{Step: "step 2", Rev: 2, Outcome: trial.Met}, {Step: "step 2", Rev: 2, Outcome: trial.Void},
		{Step: "step 2", Rev: 2, Outcome: trial.Missed},
		{Step: "step 2", Rev: 1, Outcome: trial.Met}, // under criteria from before it was edited
		{Step: "step 1", Rev: 1, Outcome: trial.Met}, // whose targets do not vary
	}
	fmt.Println(standing.Tried(steps(), trials, nil))
	// Output: map[step 2:2]
}

func ExampleDays() {
	fmt.Println(standing.Days("2024-02-28", "2024-03-01"))
	// Output: 2 true
}

// random draws trials of one plan in some blocks.
func random(t *rapid.T) []trial.Trial {
	outcomes := []trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed, trial.Void}
	trials := make([]trial.Trial, rapid.IntRange(0, 60).Draw(t, "trials"))
	at, block := 0.0, 0
	for i := range trials {
		if rapid.IntRange(0, 9).Draw(t, "new block") == 0 {
			block++
		}
		from := at + rapid.Float64Range(0, 9).Draw(t, "between")
		at = from + rapid.Float64Range(0, 9).Draw(t, "lasts")
		latency := rapid.Float64Range(0, 3).Draw(t, "latency")
		trials[i] = trial.Trial{
			Block: fmt.Sprint(block), Step: rapid.SampledFrom([]string{"step 1", "step 2"}).Draw(t, "step"),
			Rev: rapid.IntRange(1, 2).Draw(t, "rev"), From: from, At: at,
			Outcome: rapid.SampledFrom(outcomes).Draw(t, "outcome"), LatencyS: &latency, Easy: rapid.Bool().Draw(t, "easy"),
			Waits: rapid.Bool().Draw(t, "waits"),
		}
	}
	return trials
}

// What a session adds to what was known is what all sessions say: a phone and the server agree, however the record is cut
// between two blocks.
func TestASessionAddsWhatAllOfThemSay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		all := random(t)
		cut := 0
		for i := 1; i < len(all); i++ {
			if all[i].Block != all[i-1].Block && rapid.Bool().Draw(t, "cut") {
				cut = i
			}
		}
		before, after := all[:cut], all[cut:]
		require.Equal(t, standing.Unhelped(all), standing.Unhelped(before)+standing.Unhelped(after))
		require.Equal(t, standing.Tried(steps(), all, nil), standing.Tried(steps(), after, standing.Tried(steps(), before, nil)))
		times := standing.Times(all, nil)
		require.Equal(t, times, standing.Times(after, standing.Times(before, nil)))
		for _, one := range times {
			require.LessOrEqual(t, max(len(one.Latencies), len(one.Between)), standing.MaxLately)
		}
	})
}

// Pay gets thinner on a step up, and richer again in a new place, and where a session fell behind the planned rate.
func TestThinningFollowsTheVisits(t *testing.T) {
	ladder := standing.Ladder{All: steps(), Now: steps(), MaxRung: 10, Lo: 6}
	before := standing.Standing{Position: progression.StartOf(steps()), Rung: 3, Visits: 1, Been: []string{"shed"}}
	up := []standing.Move{{Move: progression.Move{ID: "up", From: "step 1", To: "step 2", Why: progression.WhyStepUp}, At: 30}}
	paid := func(pays int, active float64) []standing.Work {
		return []standing.Work{{Teaches: true, Pays: pays, Active: active}, {Teaches: false, Pays: 99, Active: 999}}
	}
	for _, c := range []struct {
		name  string
		visit standing.Visit
		want  int
	}{
		{"a step up that brings nothing new", standing.Visit{Place: "shed", Moves: up, Blocks: paid(12, 60)}, 4},
		{"a new place", standing.Visit{Place: "quay", Blocks: paid(12, 60)}, 1},
		{"no place was said", standing.Visit{Blocks: paid(12, 60)}, 3},
		{"too slow", standing.Visit{Place: "shed", Blocks: paid(3, 60)}, 2},
		{"twenty seconds say nothing", standing.Visit{Place: "shed", Blocks: paid(1, 20)}, 3},
	} {
		require.Equal(t, c.want, before.After(ladder, c.visit).Rung, c.name)
	}
	first := standing.Standing{Position: progression.StartOf(steps()), Rung: 3}
	require.Equal(t, 3, first.After(ladder, standing.Visit{Place: "quay", Blocks: paid(12, 60)}).Rung, "nothing is new to a first session")
}

// Where a dog stands after all visits is where it stands after one more than before.
func TestOneVisitMoreIsAsAllOfThem(t *testing.T) {
	ladder := standing.Ladder{All: steps(), Now: steps(), MaxRung: 10, Lo: 6}
	rapid.Check(t, func(t *rapid.T) {
		var visits []standing.Visit
		for i := range rapid.IntRange(1, 6).Draw(t, "visits") {
			v := standing.Visit{
				Session: fmt.Sprint(i), Opened: int64(i), Day: "2026-03-01",
				Place: rapid.SampledFrom([]string{"", "shed", "quay"}).Draw(t, "place"),
			}
			for m := range rapid.IntRange(0, 4).Draw(t, "moves") {
				step := func(name string) string { return rapid.SampledFrom([]string{"step 1", "step 2", "gone"}).Draw(t, name) }
				why := rapid.SampledFrom([]progression.Why{
					progression.WhyStepUp, progression.WhyStepBack, progression.WhyHand, progression.WhyStart,
				}).Draw(t, "why")
				v.Moves = append(v.Moves, standing.Move{
					Move: progression.Move{ID: fmt.Sprint(i, m), From: step("from"), To: step("to"), Why: why}, At: float64(m),
				})
				v.Verdicts = append(v.Verdicts, standing.Verdict{
					Step: step("of"), At: float64(m), Recommended: decision.Repeat,
					Action: rapid.SampledFrom([]string{"repeat", "finished"}).Draw(t, "deed"),
				})
			}
			v.Blocks = []standing.Work{{Teaches: true, Pays: rapid.IntRange(0, 20).Draw(t, "pays"), Active: 60}}
			visits = append(visits, v)
		}
		last := len(visits) - 1
		all, more := standing.Of(ladder, steps(), visits, nil), standing.Of(ladder, steps(), visits[:last], nil).After(ladder, visits[last])
		require.Equal(t, all.Position, more.Position)
		require.Equal(t, all.Rung, more.Rung)
		require.Equal(t, all.Been, more.Been)
		require.Equal(t, all.Finished, more.Finished)
		require.Equal(t, all.Visits, more.Visits)
	})
}

func TestASetbackFallsBetweenTheVisits(t *testing.T) {
	ladder := standing.Ladder{All: steps(), Now: steps(), MaxRung: 10, Versions: []standing.Version{{Made: 0, Steps: steps()}}}
	up := standing.Move{Move: progression.Move{ID: "up", From: "step 1", To: "step 2", Why: progression.WhyStepUp}, At: 30}
	visits := []standing.Visit{{Session: "a", Opened: 10, Moves: []standing.Move{up}}, {Session: "b", Opened: 30}}
	s := standing.Of(ladder, steps(), visits, []standing.Between{{ID: "horn", At: 20, Made: 40, Steps: 1}})
	require.Equal(t, "step 1", s.Position.Reached)
	require.Equal(t, "horn", s.Position.Since)
	require.Equal(t, "a", s.Since.Session)
	require.Equal(t, 2, s.Entries, "the first step was come to again")
	s = standing.Of(ladder, steps(), visits, []standing.Between{{ID: "horn", At: 5, Made: 40, Steps: 1}})
	require.Equal(t, "step 2", s.Position.Reached, "it fell before the step up")
	require.Equal(t, standing.Since{Session: "a", At: 30}, s.Since)
}

// What came back from home moves the level between two visits; a move whose step is no longer the one is not followed, and counted.
func TestALineFromHomeMovesBetweenTheVisits(t *testing.T) {
	ladder := standing.Ladder{All: steps(), Now: steps(), MaxRung: 10}
	visits := []standing.Visit{{Session: "a", Opened: 10}, {Session: "b", Opened: 30}}
	line := func(id string, at int64, from, to string, why progression.Why) standing.Between {
		return standing.Between{ID: id, At: at, Made: at, Moves: []progression.Move{{ID: id, From: from, To: to, Why: why}}}
	}
	up := line("up", 20, "step 1", "step 2", progression.WhyStepUp)
	s := standing.Of(ladder, steps(), visits, []standing.Between{up})
	require.Equal(t, []string{"step 2", "up", "a"}, []string{s.Position.Reached, s.Position.Since, s.Since.Session})
	require.Equal(t, []int{2, 0}, []int{s.Visits, s.UnfollowedMoves})
	require.Equal(t, 1, s.Stalled, "it rose before the second visit")
	s = standing.Of(ladder, steps(), visits, []standing.Between{up, line("back", 40, "step 2", "step 1", progression.WhyStepBack)})
	require.Equal(t, []string{"step 1", "back", "b"}, []string{s.Position.Reached, s.Position.Since, s.Since.Session})
	s = standing.Of(ladder, steps(), visits, []standing.Between{line("late", 20, "step 2", "step 3", progression.WhyStepUp)})
	require.Equal(t, []any{"step 1", 1}, []any{s.Position.Reached, s.UnfollowedMoves})
	s = standing.Of(ladder, steps(), nil, []standing.Between{line("first", 5, "", "step 2", progression.WhyHands)})
	require.Equal(t, "step 2", s.Position.Reached, "a first level is written as a move")
}

func TestTheFirstTrialOfADayIsCold(t *testing.T) {
	trials := []trial.Trial{
		{ID: "void", Block: "a", Outcome: trial.Void}, {ID: "cold", Block: "a", Outcome: trial.Met},
		{ID: "second", Block: "a", Outcome: trial.Met},
		{ID: "later block", Block: "b", Outcome: trial.Met}, {ID: "easy", Block: "c", Outcome: trial.Met, Easy: true},
		{ID: "after it", Block: "c", Outcome: trial.Met},
		{ID: "tallied", Block: "d", Outcome: trial.Met, Tally: true}, {ID: "after the tally", Block: "d", Outcome: trial.Met},
	}
	standing.MarkCold(trial.Each(trials), map[string]bool{"a": true, "c": true, "d": true})
	var cold []string
	for _, one := range trials {
		if one.Cold {
			cold = append(cold, one.ID)
		}
	}
	require.Equal(t, []string{"cold"}, cold)
}

func TestWhereAPlanWasWorked(t *testing.T) {
	require.Equal(t, []string{"a", "b"}, standing.Been([]string{"b"}, "a"))
	require.Equal(t, []string{"b"}, standing.Been([]string{"b"}, ""))
	require.Empty(t, standing.Been(nil, ""))
}

func TestDaysAreThoseOfTheCalendar(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := time.Unix(0, 0).UTC().AddDate(0, 0, rapid.IntRange(-40000, 80000).Draw(t, "day"))
		n, ok := standing.Day(at.Format(time.DateOnly))
		require.Equal(t, at.Format(time.DateOnly), standing.Named(n))
		require.True(t, ok)
		require.EqualValues(t, at.Unix()/86400, n)
	})
	for _, wrong := range []string{"", "2026-13-01", "2026-00-10", "26-01-01", "2026-1-011", "2026-01-0x", "2026-01-32"} {
		_, ok := standing.Day(wrong)
		require.False(t, ok, wrong)
		_, ok = standing.Days(wrong, "2026-01-01")
		require.False(t, ok, wrong)
	}
}

// A proof round is over with its stretch, whatever ends that, and its number stays with the step, its criteria and the definition.
func TestProofRoundsStayWithTheirStep(t *testing.T) {
	rule := decision.Defaults(decision.Proof)
	ladder := standing.Ladder{
		All: steps(), Now: steps(), Proof: standing.Proof{Rules: map[string]decision.Rule{steps()[0].ID: rule, steps()[1].ID: rule}},
	}
	at := func(session, step string, rev int, outcomes ...trial.Outcome) (trials []trial.Trial) {
		for i, o := range outcomes {
			trials = append(trials, trial.Trial{Session: session, Block: session, Step: step, Rev: rev, At: float64(i), Outcome: o})
		}
		return trials
	}
	one, two := steps()[0], steps()[1]
	back := []standing.Move{{Move: progression.Move{ID: "back", From: two.ID, To: one.ID, Why: progression.WhyStepBack}, At: 5}}
	up := []standing.Move{{Move: progression.Move{ID: "up", From: one.ID, To: two.ID, Why: progression.WhyStepUp}, At: 1.5}}
	first := standing.Visit{
		Session: "a", Opened: 1, Moves: up, Blocks: []standing.Work{{Block: "a", Definition: 1, Unlogged: 3}},
		Trials: append(at("a", one.ID, one.Rev, "met", "met"), at("a", two.ID, two.Rev, "void", "void", "met", "met")...),
	}
	second := standing.Visit{
		Session: "b", Opened: 3, Moves: back, Blocks: []standing.Work{{Block: "b", Definition: 1}},
		Trials: at("b", two.ID, two.Rev, "met", "missed"),
	}
	s := standing.Of(ladder, steps(), []standing.Visit{first, second}, nil)
	require.Equal(t, decision.RoundsOver{N: 1, In: "a"}, s.RoundsBefore(one, 1), "it was proved, or stepped up by hand")
	require.Equal(t, decision.RoundsOver{N: 2, In: "b"}, s.RoundsBefore(two, 1),
		"what was not logged lost the first, the step back ended the second")
	require.Zero(t, s.RoundsBefore(two, 2), "another definition")
	s = standing.Of(ladder, steps(), []standing.Visit{first}, []standing.Between{{ID: "fell", At: 2, Steps: 1}})
	require.Equal(t, decision.RoundsOver{N: 1}, s.RoundsBefore(two, 1), "between two sessions")
	require.Nil(t, standing.Of(standing.Ladder{All: steps(), Now: steps()}, steps(), []standing.Visit{first, second}, nil).Rounds)
}
