package homework_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/homework"
	"patientfox/core/standing"
)

// A Monday.
const today = "2026-11-30"

var skills = []homework.Skill{
	{Name: "Sit"}, {Name: "Stand"}, {Name: "Touch, “the nose”"}, {Name: "Wait at the ramp"}, {Name: "Wait at doors"},
	{Name: "Brush", Faces: true}, {Name: "Lie: elbows down", Cue: "“down”, once"},
}

// What a household writes is read as it was meant.
func TestWhatComesBackIsRead(t *testing.T) {
	for text, want := range map[string][]homework.Line{
		"sit 4 of 5 hall Mo":                     {{Skill: 0, Met: 4, Of: 5, Place: "hall", Day: "2026-11-30"}},
		"Tue: SIT 4/5 the back yard":             {{Skill: 0, Met: 4, Of: 5, Place: "the back yard", Day: "2026-11-24"}},
		"sit 0 out of 3 yesterday":               {{Skill: 0, Of: 3, Day: "2026-11-29"}},
		"sit: 5 of 5 2026-11-02, “wow” 🐟, again": {{Skill: 0, Met: 5, Of: 5, Day: "2026-11-02", Remark: "“wow” 🐟, again"}},
		"ramp 3 of 5":                            {{Skill: 3, Met: 3, Of: 5, Day: "2026-11-30"}},
		"doors wait 3 of 5":                      {{Skill: 4, Met: 3, Of: 5, Day: "2026-11-30"}},
		"touch, “the nose” 5 of 5, stand 3 of 5, she lay down instead": {
			{Skill: 2, Met: 5, Of: 5, Day: "2026-11-30"}, {Skill: 1, Met: 3, Of: 5, Day: "2026-11-30", Remark: "she lay down instead"},
		},
		"touch 5 of 5\nsit 2 of 4, Sa; stand 1 of 1 upstairs": {
			{Skill: 2, Met: 5, Of: 5, Day: "2026-11-30"}, {Skill: 0, Met: 2, Of: 4, Day: "2026-11-28"},
			{Skill: 1, Met: 1, Of: 1, Place: "upstairs", Day: "2026-11-30"},
		},
		"brush 3 relaxed 1 unsure the kitchen Fr, licked": {
			{Skill: 5, Of: 4, Relaxed: 3, Unsure: 1, Place: "the kitchen", Day: "2026-11-27", Remark: "licked"},
		},
		"down 2 of 5":            {{Skill: 6, Met: 2, Of: 5, Day: "2026-11-30"}},
		"lie 2 of 5 on Mo's mat": {{Skill: 6, Met: 2, Of: 5, Place: "on Mo's mat", Day: "2026-11-30"}},
		"sit 1 of 1, “down” 2/5, standing up": {
			{Skill: 0, Met: 1, Of: 1, Day: "2026-11-30"}, {Skill: 6, Met: 2, Of: 5, Day: "2026-11-30", Remark: "standing up"},
		},
		"brush 3 relaxed left ear":                {{Skill: 5, Of: 3, Relaxed: 3, Place: "left ear", Day: "2026-11-30"}},
		"brush 2 relaxed worried look at the end": {{Skill: 5, Of: 2, Relaxed: 2, Place: "worried look at the end", Day: "2026-11-30"}},
		"brush worried":                           {{Skill: 5, Of: 1, Worried: 1, Day: "2026-11-30"}},
	} {
		got, problem := homework.Read(text, skills, today)
		require.Empty(t, problem, text)
		require.Equal(t, want, got, text)
	}
}

// What cannot be is said with the words that cannot, and nothing of it is kept.
func TestWhatCannotBeRead(t *testing.T) {
	for text, want := range map[string]string{
		"":                          "such as",
		"   \n ; ":                  "such as",
		"sti 4 of 5":                "“sti 4 of 5” begins with none",
		"wait 4 of 5":               "begins with none", // of two
		"sit":                       "say how it went",
		"sitting 4 of 5":            "begins with none",
		"brush left ear":            "say how it went",
		"sit 6 of 5":                "6 of 5 cannot be",
		"sit 4 of 0":                "from 1 to",
		"sit 4 of 500":              "from 1 to",
		"sit 3 relaxed":             "how often it was right",
		"brush 3 of 5":              "how it looked",
		"sit 4 of 5 2026-12-01":     "up to today",
		"sit 4 of 5 2026-01-01":     "days ago",
		"sti 4 of 5 2026-11-31":     "begins with none",
		"sit 4 of 5, dwon 3 of 5":   "“dwon 3 of 5” begins with none",
		"sit 5 of 5\nhello there":   "“hello there” begins with none",
		"<script>alert(1)</script>": "“<script>alert(1)</script>” begins with none",
	} {
		got, problem := homework.Read(text, skills, today)
		require.Contains(t, problem, want, text)
		require.Nil(t, got, text)
	}
	require.NotEmpty(t, homework.Line{Skill: 9}.Check(skills, today))
	require.NotEmpty(t, homework.Line{Skill: 5, Of: 0, Relaxed: 2, Unsure: -2, Day: "2026-11-30"}.Check(skills, today))
	require.Empty(t, homework.Line{Skill: 5, Of: 2, Relaxed: 2, Day: "2026-11-30"}.Check(skills, today))
}

// A line that can be kept, written out again, is read as itself; no text is read as something that cannot be.
func TestLinesReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := rapid.IntRange(0, len(skills)-1).Draw(t, "skill")
		now, _ := standing.Day(today)
		back := rapid.IntRange(0, 90).Draw(t, "days ago")
		line := homework.Line{Skill: at, Day: standing.Named(now - back)}
		line.Place = rapid.SampledFrom([]string{"", "the yard"}).Draw(t, "place")
		said := ""
		if skills[at].Faces {
			line.Relaxed, line.Unsure, line.Worried = rapid.IntRange(0, 9).Draw(t, "relaxed"), rapid.IntRange(0, 9).Draw(t, "unsure"), 1
			line.Of = line.Relaxed + line.Unsure + line.Worried
			said = fmt.Sprintf("%d relaxed and %d unsure %d × worried", line.Relaxed, line.Unsure, line.Worried)
		} else {
			line.Of = rapid.IntRange(1, homework.MostOf).Draw(t, "of")
			line.Met = rapid.IntRange(0, line.Of).Draw(t, "met")
			said = fmt.Sprintf("%d of %d", line.Met, line.Of)
		}
		got, problem := homework.Read(fmt.Sprintf("%s %s %s %s", skills[at].Name, said, line.Place, line.Day), skills, today)
		require.Empty(t, problem)
		require.Equal(t, []homework.Line{line}, got)
	})
	rapid.Check(t, func(t *rapid.T) {
		pattern := `((sit|brush|stand|tu) ?([0-9]{1,3}( of |/)[0-9]{1,2}|[0-9] (relaxed|worried))?[ ,;.\pL]{0,12}){0,4}`
		text := rapid.StringMatching(pattern).Draw(t, "text")
		lines, problem := homework.Read(text, skills, today)
		require.Equal(t, problem == "", len(lines) > 0)
		for _, one := range lines {
			require.Empty(t, one.Check(skills, today))
		}
	})
}

func TestWhereALineLeads(t *testing.T) {
	for _, c := range []struct {
		line         homework.Line
		leads        homework.Leads
		own, at, top int
		next         int
	}{
		{homework.Line{Met: 5, Of: 5}, homework.StepUp, 3, 3, 9, 4},
		{homework.Line{Met: 5, Of: 5}, homework.StepUp, 3, 2, 9, 3}, // easier than its own
		{homework.Line{Met: 5, Of: 5}, homework.StepUp, 3, 3, 3, 3}, // no higher than it may
		{homework.Line{Met: 5, Of: 5}, homework.StepUp, 5, 5, 3, 5},
		{homework.Line{Met: 4, Of: 4}, homework.TooFew, 3, 3, 9, 3},
		{homework.Line{Met: 4, Of: 5}, homework.Repeat, 3, 3, 9, 3},
		{homework.Line{Met: 2, Of: 5}, homework.StepBack, 3, 3, 9, 2},
		{homework.Line{Met: 0, Of: 9}, homework.StepBack, 0, 0, 9, 0},
		{homework.Line{Met: 3, Of: 7}, homework.Repeat, 3, 3, 9, 3},
		{homework.Line{Of: 5, Relaxed: 5}, homework.StepUp, 1, 1, 9, 2},
		{homework.Line{Of: 5, Relaxed: 4, Unsure: 1}, homework.Repeat, 1, 1, 9, 1},
		{homework.Line{Of: 6, Relaxed: 5, Worried: 1}, homework.StepBack, 1, 1, 9, 0},
		{homework.Line{Of: 1, Worried: 1}, homework.StepBack, 4, 4, 9, 3},
	} {
		require.Equal(t, c.leads, c.line.Leads(), c.line)
		require.Equal(t, c.next, c.leads.Next(c.own, c.at, c.top), c.line)
	}
}
