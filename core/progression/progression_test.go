package progression_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	p "patientfox/core/progression"
)

func steps(list ...criteria.Criteria) []p.Step {
	var out []p.Step
	for i, c := range list {
		out = append(out, p.Step{ID: string(rune('a' + i)), Rev: 1, Criteria: c})
	}
	return out
}

func c(values map[criteria.Key]float64) criteria.Criteria { return criteria.Criteria{Values: values} }

func TestHalfIsHalfWay(t *testing.T) {
	two := steps(
		c(map[criteria.Key]float64{criteria.Duration: 4, criteria.Trigger: 40, criteria.Intensity: 1, criteria.Handler: 0}),
		c(map[criteria.Key]float64{criteria.Duration: 9, criteria.Trigger: 10, criteria.Intensity: 4, criteria.Handler: 2, criteria.Latency: 2}),
	)
	require.Equal(t, map[criteria.Key]float64{
		criteria.Duration: 6, criteria.Trigger: 20, criteria.Intensity: 2, criteria.Handler: 1, criteria.Latency: 4,
	}, p.Half(two, 1).Values)
	require.Equal(t, map[criteria.Key]float64{
		criteria.Duration: 2, criteria.Trigger: 80, criteria.Intensity: 1, criteria.Handler: 0,
	}, p.Half(two, 0).Values, "at the first step every figure is made half as hard, and what is there stays")
}

func TestHalfIsNeverHarderThanTheStepNorOutOfRange(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		draw := func(name string) criteria.Criteria {
			values := map[criteria.Key]float64{}
			for _, d := range criteria.Dimensions {
				if rapid.Bool().Draw(t, name+string(d.Key)) {
					if d.IsList() {
						values[d.Key] = float64(rapid.IntRange(0, len(d.Items)-1).Draw(t, name))
					} else if d.Scale == criteria.Rank {
						values[d.Key] = float64(rapid.IntRange(int(d.Min), int(d.Max)).Draw(t, name))
					} else {
						values[d.Key] = rapid.Float64Range(d.Min, d.Max).Draw(t, name)
					}
				}
			}
			return c(values)
		}
		below, here := draw("below"), draw("here")
		half := p.Half(steps(below, here), 1)
		for key, value := range half.Values {
			d, _ := criteria.Find(key)
			require.Empty(t, d.Check(value))
			if a, b := below.Values, here.Values; below.Has(key) && here.Has(key) {
				require.GreaterOrEqual(t, value, min(a[key], b[key])-1e-9)
				require.LessOrEqual(t, value, max(a[key], b[key])+1e-9)
			}
		}
	})
}

func TestTheDotFollowsMovesAlone(t *testing.T) {
	three := steps(c(nil), c(nil), c(nil))
	at := p.StartOf(three)
	follow := func(from, to string, why p.Why) bool {
		var ok bool
		at, ok = at.Apply(three, p.Move{ID: from + to, From: from, To: to, Why: why})
		return ok
	}
	require.True(t, follow("a", "b", p.WhyStepUp))
	require.Equal(t, p.Position{Reached: "b", Today: "b", Since: "ab"}, at)
	require.True(t, follow("b", "a", p.WhyStart))
	require.Equal(t, p.Position{Reached: "b", Today: "a", Since: "ab"}, at)
	require.False(t, follow("b", "c", p.WhyStepUp), "the dog does not stand there")
	require.False(t, follow("a", "z", p.WhyStepUp), "there is no such step")
	require.True(t, follow("a", "b", p.WhyRegain))
	require.True(t, follow("b", "c", p.WhyHand))
	require.Equal(t, p.Position{Reached: "c", Today: "c", Given: true, Since: "bc"}, at)
	require.True(t, follow("c", "b", p.WhyHand))
	require.True(t, at.Below())
	require.False(t, at.Open().Below(), "a new session begins at the step reached")
}

func TestAPlaceSettlesWhereStepsWereTakenOut(t *testing.T) {
	before := steps(c(nil), c(nil), c(nil), c(nil))
	after := []p.Step{before[0], before[3]}
	require.Equal(t, "a", p.Position{Reached: "c", Today: "c"}.Settle(before, after).Reached)
	require.Equal(t, "d", p.Position{Reached: "d"}.Settle(before, after).Reached)
	require.Equal(t, "d", p.Position{Reached: "a"}.Settle(before, before[3:]).Reached)
	inserted := p.Insert(before, p.Step{ID: "x"}, "c")
	require.Equal(t, 2, p.Index(inserted, "x"))
	require.Equal(t, 0, p.Index(p.Insert(before, p.Step{ID: "x"}, "gone"), "x"))
}

func TestReorderAndMerge(t *testing.T) {
	hold := func(s float64) criteria.Criteria { return c(map[criteria.Key]float64{criteria.Duration: s}) }
	three := steps(hold(4), hold(9), hold(16))
	require.Equal(t, []string{"b", "c", "a"}, ids(p.Reorder(three, 0, 2)))
	require.Equal(t, []string{"c", "a", "b"}, ids(p.Reorder(three, 2, 0)))
	require.Equal(t, []string{"a", "b", "c"}, ids(three), "what was given stays as it was")
	merged := p.Merge(three, 2, "b")
	require.Equal(t, []string{"a", "b"}, ids(merged))
	require.InDelta(t, 12, merged[1].Criteria.Get(criteria.Duration), 1e-9)
	require.Equal(t, 2, merged[1].Rev, "it asks something else now")
}

func ids(list []p.Step) (out []string) {
	for _, s := range list {
		out = append(out, s.ID)
	}
	return out
}

func TestNeeds(t *testing.T) {
	stay := p.Progress{Skill: "Stay", Reached: 3, Steps: 8}
	require.True(t, p.Need{Skill: "Stay", Step: 4}.Met(stay, true))
	require.False(t, p.Need{Skill: "Stay", Step: 5}.Met(stay, true))
	require.False(t, p.Need{Skill: "Stay"}.Met(stay, true), "finished is asked")
	require.False(t, p.Need{Skill: "Stay", Step: 1}.Met(p.Progress{}, false), "no plan, nothing stands")
	stay.Finished = true
	require.True(t, p.Need{Skill: "Stay"}.Met(stay, true))
}

// What a generator asks for is what its generators are made of: every one asks for something, and each knows its dimension or lets it be
// chosen.
func TestGeneratorsSayWhatTheyAskFor(t *testing.T) {
	for _, m := range p.Makes {
		require.NotEmpty(t, m.Asks(false), m)
		_, only := m.Dimension()
		chosen := slices.Contains(m.Asks(false), p.AskWhat)
		figures := slices.Contains(m.Asks(false), p.AskTo)
		require.False(t, only && chosen, m)
		require.True(t, only || chosen || !figures, m)
	}
	require.Equal(t, []p.Ask{p.AskWhat, p.AskItems}, p.MakeRamp.Asks(true))
}

// A touch is of the step that asks for its site and tool: today's where it does, else the nearest below it, else the nearest above.
func TestATouchFindsItsStep(t *testing.T) {
	sites, _ := criteria.Find(criteria.Site)
	sites.Items = []string{"ear", "ear, inside", "paw"}
	tools, _ := criteria.Find(criteria.Tool)
	tools.Items = []string{"fingers", "the file"}
	var steps []p.Step
	for _, one := range []struct{ site, tool, vary float64 }{{0, 0, 0}, {2, 0, 0}, {2, 0, 0}, {0, 1, 1}, {2, 1, 0}} {
		c := criteria.Criteria{}.WithDimension(sites, one.site).WithDimension(tools, one.tool)
		if one.vary > 0 {
			c.Vary = []criteria.Key{criteria.Site}
		}
		steps = append(steps, p.Step{Criteria: c})
	}
	for _, c := range []struct {
		from       int
		site, tool string
		want       int
	}{
		{0, "ear", "fingers", 0}, {4, "ear", "fingers", 0}, {0, "ear, left", "fingers", 0}, {0, "ear, inside", "fingers", -1},
		{0, "paw", "fingers", 1}, {2, "paw", "fingers", 2}, {4, "paw, right", "fingers", 2}, {0, "paw", "the file", 3}, {4, "paw", "the file", 4},
		{0, "ear, inside, left", "the file", 3}, {0, "tail", "fingers", -1}, {0, "paw", "scissors", -1},
	} {
		require.Equal(t, c.want, p.CellAt(steps, c.from, c.site, c.tool), c)
	}
	require.Equal(t, []string{"fingers", "the file"}, p.Tools(steps))
}
