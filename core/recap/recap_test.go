package recap_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/progression"
	"patientfox/core/recap"
)

func ladder(n int) (steps []progression.Step) {
	for i := range n {
		steps = append(steps, progression.Step{ID: fmt.Sprint(i), Rev: 1})
	}
	return steps
}

func move(session, from, to string, why progression.Why, later bool) recap.Move {
	return recap.Move{Move: progression.Move{ID: session + from + to, From: from, To: to, Why: why}, Session: session, Later: later}
}

func TestEnds(t *testing.T) {
	first, second := move("a", "1", "2", progression.WhyStepUp, false), move("b", "2", "3", progression.WhyStepUp, false)
	then := second
	then.Later = true
	for name, c := range map[string]struct {
		reached  string
		moves    []recap.Move
		was, now string
	}{
		"no move":   {"2", nil, "2", "2"},
		"up twice":  {"3", []recap.Move{first, second}, "1", "3"},
		"up later":  {"3", []recap.Move{first, then}, "1", "2"},
		"all later": {"3", []recap.Move{then}, "2", "2"},
		"an easier day is no step back": {"2", []recap.Move{
			move("a", "2", "1", progression.WhyStart, false), move("b", "2", "0", progression.WhyFinish, false)}, "2", "2"},
		"back on the way": {"2", []recap.Move{
			move("a", "2", "1", progression.WhyStart, false), move("a", "1", "2", progression.WhyRegain, false),
			move("b", "2", "1", progression.WhyStepBack, true)}, "2", "2"},
		"a setback": {"0", []recap.Move{first}, "1", "0"},
		"a step gone since": {"3", []recap.Move{
			move("a", "x", "2", progression.WhyStepUp, false), second}, "x", "3"},
	} {
		was, now := recap.Ends(ladder(4), c.reached, c.moves)
		require.Equal(t, [2]string{c.was, c.now}, [2]string{was, now}, name)
	}
}

// What the ends say is what a position that follows the moves says, wherever a period is cut.
func TestEndsFollowThePosition(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		steps := ladder(6)
		at := progression.StartOf(steps)
		whys := []progression.Why{
			progression.WhyStepUp, progression.WhyStepBack, progression.WhyStart, progression.WhyRegain, progression.WhyHand, progression.WhyFinish,
		}
		var moves []recap.Move
		before := []string{at.Reached} // reached as each session begins
		for session := range rapid.IntRange(1, 6).Draw(t, "sessions") {
			for range rapid.IntRange(0, 4).Draw(t, "moves") {
				m := move(fmt.Sprint(session), at.Today, fmt.Sprint(rapid.IntRange(0, 5).Draw(t, "to")), rapid.SampledFrom(whys).Draw(t, "why"), false)
				after, ok := at.Apply(steps, m.Move)
				require.True(t, ok)
				at, moves = after, append(moves, m)
			}
			at = at.Open()
			before = append(before, at.Reached)
		}
		first := rapid.IntRange(0, len(before)-1).Draw(t, "from")
		last := rapid.IntRange(first, len(before)-1).Draw(t, "to")
		var since []recap.Move
		for _, m := range moves {
			var session int
			fmt.Sscan(m.Session, &session)
			if m.Later = session >= last; session >= first {
				since = append(since, m)
			}
		}
		was, now := recap.Ends(steps, at.Reached, since)
		require.Equal(t, before[first], was)
		require.Equal(t, before[last], now)
	})
}

func TestBestIsOneThingThatIsTrue(t *testing.T) {
	mat, gate := recap.Skill{Name: "Mat", Gained: 1, Met: 3, Of: 9}, recap.Skill{Name: "Gate", Met: 8, Of: 8}
	require.Equal(t, recap.Praise{Code: recap.Further, Skill: "Mat", N: 1}, recap.Best([]recap.Skill{gate, mat}, 3, 4))
	require.Equal(t, recap.Praise{Code: recap.AtHome, N: 3}, recap.Best([]recap.Skill{gate}, 3, 3))
	require.Equal(t, recap.Praise{Code: recap.AllMet, Skill: "Gate", N: 8}, recap.Best([]recap.Skill{gate}, 3, 2))
	require.Equal(t, recap.Praise{Code: recap.Worked, N: 2}, recap.Best([]recap.Skill{{Name: "Mat", Gained: -1, Met: 4, Of: 4}}, 2, 2))
	require.Equal(t, recap.Praise{Code: recap.Nothing}, recap.Best(nil, 0, 0))
}
