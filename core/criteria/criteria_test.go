package criteria_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
)

func TestTypedFigures(t *testing.T) {
	d, _ := criteria.Find(criteria.Duration)
	for typed, want := range map[string]float64{"12": 12, " 2,5 ": 2.5, "7.4 s": 7.4} {
		got, ok, problem := criteria.Units{}.Parse(d, typed)
		require.Empty(t, problem)
		require.True(t, ok)
		require.InDelta(t, want, got, 1e-12)
	}
	_, ok, problem := criteria.Units{}.Parse(d, "  ")
	require.False(t, ok)
	require.Empty(t, problem)
	for _, typed := range []string{"ten", "-3", "1e9", "NaN", "Inf", "0", strings.Repeat("9", 400)} {
		_, _, problem := criteria.Units{}.Parse(d, typed)
		require.NotEmpty(t, problem, typed)
		require.Less(t, len(problem), 200)
	}
	rank, _ := criteria.Find(criteria.Intensity)
	_, _, problem = criteria.Units{}.Parse(rank, "2.5")
	require.Contains(t, problem, "whole number")
}

func TestWhatIsHarder(t *testing.T) {
	from := criteria.Criteria{}.With(criteria.Duration, 4).With(criteria.Trigger, 40)
	harder, easier := criteria.Changed(from, from.With(criteria.Duration, 6).With(criteria.Trigger, 60))
	require.Equal(t, criteria.Duration, harder[0].Key)
	require.Equal(t, criteria.Trigger, easier[0].Key)
	harder, _ = criteria.Changed(from, from.With(criteria.Latency, 3))
	require.Len(t, harder, 1, "a new dimension is harder")
	harder, _ = criteria.Changed(from, from.With(criteria.Handler, 0))
	require.Empty(t, harder, "beside the dog is nothing new")
}

func TestChecksNameTheField(t *testing.T) {
	require.Empty(t, criteria.Criteria{}.With(criteria.Duration, 4).Check())
	require.Equal(t, "text", criteria.Criteria{}.Check()[0].Field)
	require.Equal(t, "weight", criteria.Criteria{}.With("weight", 4).Check()[0].Field)
	require.Equal(t, "moving", criteria.Criteria{}.With(criteria.Moving, 1).Check()[0].Field)
	require.Equal(t, "position", criteria.Definition{}.Check()[0].Field)
}

func TestFiguresAreWrittenAsTrainersWriteThem(t *testing.T) {
	for x, want := range map[float64]string{2: "2", 2.5: "2.5", 5.65685: "5.7", 3.14159: "3.14", 14.142: "14.1", 120.4: "120", 0.5: "0.5"} {
		require.Equal(t, want, criteria.Figure(x))
	}
}

func TestUnitsAreOnesOwnAndSIInside(t *testing.T) {
	distance, _ := criteria.Find(criteria.Handler)
	height, _ := criteria.Find(criteria.Height)
	seconds, _ := criteria.Find(criteria.Duration)
	feet, paces := criteria.Units{Length: criteria.InFeet}, criteria.Units{Length: criteria.InPaces, PaceM: 0.8}
	for _, c := range []struct {
		units criteria.Units
		d     criteria.Dimension
		typed string
		want  float64
		said  string
	}{
		{criteria.Units{}, distance, "2,5", 2.5, "2.5 m"},
		{feet, distance, "10", 3.048, "10 ft"},
		{feet, distance, "3 m", 3, "10 ft"},
		{paces, distance, "5", 4, "5 paces"},
		{paces, distance, "1 pace", 0.8, "1 pace"},
		{criteria.Units{}, distance, "12 ft", 3.6576, "3.66 m"},
		{criteria.Units{}, height, "25", 0.25, "25 cm"},
		{feet, height, "10", 0.254, "10 in"},
		{criteria.Units{}, seconds, "2 min", 120, "120 s"},
	} {
		got, ok, problem := c.units.Parse(c.d, c.typed)
		require.Empty(t, problem)
		require.True(t, ok)
		require.InDelta(t, c.want, got, 1e-9, c.typed)
		require.Equal(t, c.said, c.units.Say(c.d, got))
	}
	_, _, problem := feet.Parse(distance, "6 furlongs")
	require.Contains(t, problem, "furlongs")
	require.Contains(t, problem, "in ft")
	require.Equal(t, "0.25", paces.Show(distance, 0.2), "less than a half is not rounded to a half or to nothing")
	require.Equal(t, "0.21", paces.Show(distance, 0.171875))
	lead, _ := criteria.Find(criteria.Lead)
	got, _, _ := criteria.Units{}.Parse(lead, "−2")
	require.Equal(t, -2.0, got)
	require.NotEmpty(t, criteria.Units{Length: "ells"}.Check())
	require.NotEmpty(t, criteria.Units{Length: criteria.InPaces, PaceM: 9}.Check())
	require.Empty(t, paces.Check())
}

// What is shown reads back as the same thing, whatever the units.
func TestShownFiguresReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := rapid.SampledFrom(criteria.Dimensions).Draw(t, "dimension")
		u := criteria.Units{
			Length: rapid.SampledFrom([]criteria.Length{criteria.InMetres, criteria.InFeet, criteria.InPaces}).Draw(t, "length"),
			PaceM:  0.7,
		}
		x := rapid.Float64Range(d.Min, min(d.Max, 400)).Draw(t, "x")
		if d.IsList() {
			x = float64(rapid.IntRange(0, len(d.Items)-1).Draw(t, "place"))
		}
		first, ok, problem := u.Parse(d, u.Show(d, x))
		if problem != "" {
			return // rounding led just out of the range
		}
		require.True(t, ok)
		second, _, _ := u.Parse(d, u.Show(d, first))
		require.InDelta(t, first, second, 1e-9, "shown again it is the same")
	})
}

func TestListsAreReadByTheirWords(t *testing.T) {
	help, _ := criteria.Find(criteria.Help)
	help.Items = []string{"target stick", "hand", "none"}
	c := criteria.Criteria{}.WithDimension(help, 1)
	require.Equal(t, "hand", c.Item(criteria.Help))
	require.Empty(t, c.Check())
	require.Empty(t, c.Without(criteria.Help).Values)

	longer := help
	longer.Items = []string{"target stick", "whole arm", "hand", "none"}
	harder, easier := criteria.Changed(c, criteria.Criteria{}.WithDimension(longer, 2))
	require.Empty(t, harder, "the same word in a longer list is the same thing")
	require.Empty(t, easier)
	harder, _ = criteria.Changed(c, criteria.Criteria{})
	require.Len(t, harder, 1, "help that is not named is gone")
	_, easier = criteria.Changed(criteria.Criteria{}, c)
	require.Len(t, easier, 1)

	direction, _ := criteria.Find(criteria.Direction)
	harder, easier = criteria.Changed(criteria.Criteria{}.WithDimension(direction, 1), criteria.Criteria{}.WithDimension(direction, 0))
	require.Len(t, harder, 1, "a list without an order counts any change as one thing raised")
	require.Empty(t, easier)

	own := criteria.Dimension{Key: "own-waves", Label: "Waves", Unit: "waves", Harder: 1, Max: 50}
	withOwn := criteria.Criteria{}.WithDimension(own, 3)
	require.Empty(t, withOwn.Check())
	require.True(t, criteria.Below(withOwn, withOwn.With("own-waves", 4)))
	require.NotEmpty(t, criteria.Dimension{Key: "waves", Label: "Waves"}.CheckOwn())
	require.NotEmpty(t, criteria.Criteria{}.WithDimension(help, 7).Check())
	require.NotEmpty(t, criteria.Criteria{
		Values: map[criteria.Key]float64{criteria.Trigger: 9}, Vary: []criteria.Key{criteria.Trigger},
	}.Check())
}

func TestTheDefinitionSaysHowFastAndHowManyCues(t *testing.T) {
	def := criteria.Definition{Position: "nose on the palm", Cue: "“touch”", Cue2: "the palm held out", LatencyS: 2}
	require.Empty(t, def.Check())
	require.Equal(t, "cue2", criteria.Definition{Position: "x", Cue3: "y"}.Check()[0].Field)
	require.Equal(t, "latency_s", criteria.Definition{Position: "x", LatencyS: 9999}.Check()[0].Field)
	require.Equal(t, "after_error", criteria.Definition{Position: "x", AfterError: "shout"}.Check()[0].Field)
}
