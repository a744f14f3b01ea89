package homework_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/homework"
	"patientfox/core/work"
)

func signs(strip []homework.Panel) (list []homework.Sign) {
	for _, p := range strip {
		list = append(list, p.Sign)
	}
	return list
}

// Each kind of work has its own order, and food is last in every one.
func TestTheStripOfEachKind(t *testing.T) {
	word := criteria.Definition{Cue: "down", Marker: "yes", Position: "elbows on the floor"}
	sign := criteria.Definition{Cue: "one finger raised", CueBy: "a hand sign", Cue2: "say it"}
	both := criteria.Definition{Cue: "touch", Cue2: "flat hand beside the knee"}
	whistle := criteria.Definition{Cue: "two short", CueBy: "a whistle", Cue2: "“here”"}
	offered := criteria.Definition{CueBy: "none yet: the dog offers it", Cue: "", Position: "eyes on you"}
	for name, c := range map[string]struct {
		kind work.Kind
		def  criteria.Definition
		want []homework.Sign
	}{
		"a word":          {work.Cued, word, []homework.Sign{homework.Say, homework.Mark, homework.Feed}},
		"a hand signal":   {work.Held, sign, []homework.Sign{homework.Show, homework.Cue, homework.Mark, homework.Feed}},
		"a word, a hand":  {work.Cued, both, []homework.Sign{homework.Say, homework.Show, homework.Mark, homework.Feed}},
		"another cue":     {work.Cued, whistle, []homework.Sign{homework.Cue, homework.Cue, homework.Mark, homework.Feed}},
		"offered":         {work.Attention, offered, []homework.Sign{homework.Does, homework.Mark, homework.Feed}},
		"no cue was said": {work.Shaping, criteria.Definition{}, []homework.Sign{homework.Does, homework.Mark, homework.Feed}},
		"exposed":         {work.Counter, word, []homework.Sign{homework.Meets, homework.Feed}},
		"handled":         {work.Handling, word, []homework.Sign{homework.Meets, homework.Feed}},
	} {
		require.Equal(t, c.want, signs(homework.Strip(c.kind, c.def, "a brush at the shoulder")), name)
	}
	require.Equal(t, homework.Panel{Sign: homework.Say, Text: "down"}, homework.Strip(work.Cued, word, "")[0])
	require.Equal(t, homework.Finger, homework.Strip(work.Held, sign, "")[0].Hand)
	require.Equal(t, homework.Palm, homework.Strip(work.Cued, both, "")[1].Hand)
	require.Equal(t, "a brush at the shoulder", homework.Strip(work.Handling, word, "a brush at the shoulder")[0].Text)
	for _, w := range work.All {
		strip := homework.Strip(w.Kind, word, "it")
		require.Equal(t, homework.Feed, strip[len(strip)-1].Sign, w.Kind)
	}
}

func TestHandsAreTold(t *testing.T) {
	for text, want := range map[string]homework.Hand{
		"Palm down, to the floor": homework.Down, "palm up": homework.Up, "points at the mat": homework.Point, "closed hand": homework.Fist,
		"open hand, “stop”": homework.Palm, "a nod": "", "": "",
	} {
		require.Equal(t, want, homework.HandOf(text), text)
	}
}

func TestAHouseholdBeginsOneStepEasier(t *testing.T) {
	require.Equal(t, []int{3, 4, 0}, []int{homework.Opens(4, false), homework.Opens(4, true), homework.Opens(0, false)})
}

// The order is the same for the same seed, leaves nobody out, and asks for nothing three times running.
func TestTheMixedOrder(t *testing.T) {
	require.Nil(t, homework.Mixed([]string{"sit"}, 15, 1))
	rapid.Check(t, func(t *rapid.T) {
		all := []string{"sit", "down", "stand", "watch", "touch"}
		skills := all[:rapid.IntRange(2, 5).Draw(t, "skills")]
		n, seed := rapid.IntRange(1, 40).Draw(t, "n"), rapid.Uint64().Draw(t, "seed")
		order := homework.Mixed(skills, n, seed)
		require.Equal(t, order, homework.Mixed(skills, n, seed))
		require.Len(t, order, n)
		least, most := n, 0
		for _, skill := range skills {
			count := len(slices.DeleteFunc(slices.Clone(order), func(s string) bool { return s != skill }))
			least, most = min(least, count), max(most, count)
		}
		require.LessOrEqual(t, most-least, 1)
		for i := 2; i < n; i++ {
			require.False(t, order[i] == order[i-1] && order[i] == order[i-2], "three times running")
		}
	})
}

func TestWhatIsOnlyKeptAway(t *testing.T) {
	for _, c := range []struct{ byState, bites, worried, want bool }{
		{true, true, false, true}, {true, false, true, true},
		{false, true, false, false}, {true, false, false, false}, {false, false, false, false},
	} {
		require.Equal(t, c.want, homework.ManagementOnly(c.byState, c.bites, c.worried))
	}
}
