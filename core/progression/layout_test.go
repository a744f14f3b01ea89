package progression_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	p "patientfox/core/progression"
)

// leasts are what steps of the kinds of work measure at least.
var leasts = []values{nil, {criteria.Duration: 1}, {criteria.Paces: 1}, {criteria.CheckIns: 1}}

func drawCase(t *rapid.T) p.Case {
	units := rapid.SampledFrom([]criteria.Units{{}, {Length: criteria.InFeet}, {Length: criteria.InPaces, PaceM: 0.7}})
	weeks := rapid.SampledFrom([]float64{0, 8, 9, 12, 15, 22, 40, 51, 52, 156, 570, 14 * 52}).Draw(t, "weeks")
	return p.Case{
		Weeks: weeks, Rests: rapid.Bool().Draw(t, "rests"), Least: c(rapid.SampledFrom(leasts).Draw(t, "least")),
		Space: rapid.SampledFrom([]float64{0, 4, 6, 15, 60}).Draw(t, "space"), Units: units.Draw(t, "units"),
		MaxHeight: p.HeightLimit(weeks, 0, rapid.Bool().Draw(t, "hurts")),
	}
}

// drawLayout puts one to four generators together, no two of the same thing, with figures as people type them.
func drawLayout(t *rapid.T) p.Layout {
	l := p.Layout{Combine: rapid.SampledFrom(p.Combines).Draw(t, "combine"), Case: drawCase(t)}
	half := func(from, to float64, name string) float64 {
		return float64(rapid.IntRange(int(2*from), int(2*to)).Draw(t, name)) / 2
	}
	ramp := func(key criteria.Key, from, to float64) p.Generator {
		return p.Generator{Make: p.MakeRamp, What: of(key), From: from, To: to}
	}
	items := func(n int) []string { return []string{"one, way", "an “odd” way", "třetí", "🐾 four"}[:n] }
	all := map[string]p.Generator{
		"seconds": ramp(criteria.Duration, half(0.5, 8, "from s"), half(8, 90, "to s")),
		"handler": ramp(criteria.Handler, half(0, 3, "from m"), half(3, 30, "to m")),
		"height":  ramp(criteria.Height, 0.05, 0.4),
		"angle":   ramp(criteria.Angle, 45, 360),
		"latency": ramp(criteria.Latency, half(3, 6, "from l"), half(1, 3, "to l")),
		"novelty": ramp(criteria.Novelty, 0, float64(rapid.IntRange(1, 3).Draw(t, "novelty"))),
		"out":     ramp(criteria.Out, 1, half(1, 10, "out")),
		"paces":   {Make: p.MakeCountUp, To: float64(rapid.IntRange(2, 15).Draw(t, "paces"))},
		"checks":  ramp(criteria.CheckIns, 1, float64(rapid.IntRange(1, 8).Draw(t, "checks"))),
		"approach": {
			Make: p.MakeApproach, From: half(8, 60, "far"), To: half(1, 8, "near"), Trig: "gulls",
			Level: 1 + rapid.IntRange(0, 3).Draw(t, "level"), Moves: rapid.Bool().Draw(t, "moves"),
		},
		"figures": {Make: p.MakeFigures, What: of(criteria.Duration), List: []float64{2, 6, 30}},
		"help":    {Make: p.MakeFade, What: of(criteria.Help), Items: items(rapid.IntRange(2, 4).Draw(t, "helps"))},
		"prop":    {Make: p.MakeFade, What: of(criteria.Prop)},
		"gear":    {Make: p.MakeFade, What: of(criteria.Gear)},
		"pause":   {Make: p.MakePause, To: float64(rapid.IntRange(1, 4).Draw(t, "pause"))},
		"lead":    {Make: p.MakeLead, From: 3, To: float64(rapid.IntRange(-3, 0).Draw(t, "lead"))},
		"pace":    {Make: p.MakeRamp, What: of(criteria.Pace)},
		"surface": {Make: p.MakeRamp, What: of(criteria.Surface), Items: items(3)},
		"approx":  {Make: p.MakeRamp, What: of(criteria.Approx), Items: items(4)},
		"parts":   {Make: p.MakeParts, Parts: []p.Part{drawPart(t, "its look, still"), drawPart(t, "its “click”"), drawPart(t, "🔔")}},
		"sites": {
			Make: p.MakeSites, From: 1, To: half(1, 6, "touch"),
			Items: items(rapid.IntRange(2, 4).Draw(t, "sites")), Tools: []string{"hand", "brush"},
			Sore: []string{"třetí"}[:rapid.IntRange(0, 1).Draw(t, "sore")],
		},
	}
	names := make([]string, 0, len(all))
	for name := range all {
		names = append(names, name)
	}
	slices.Sort(names)
	built := map[criteria.Key]bool{}
	for _, name := range rapid.Permutation(names).Draw(t, "order")[:rapid.IntRange(1, 4).Draw(t, "n")] {
		g := all[name]
		keys := []criteria.Key{g.What.Key}
		if d, only := g.Make.Dimension(); only {
			keys[0] = d.Key
		}
		switch g.Make {
		case p.MakeApproach:
			keys = append(keys, criteria.Intensity)
		case p.MakeParts:
			keys = []criteria.Key{criteria.Duration, criteria.Trigger, criteria.Intensity}
		}
		helps := name == "help" || name == "pause"
		if l.Combine == p.Alternate && helps || !helps && slices.ContainsFunc(keys, func(k criteria.Key) bool { return built[k] }) {
			continue
		}
		for _, k := range keys {
			built[k] = true
		}
		l.Generators = append(l.Generators, g)
	}
	if len(l.Generators) == 0 {
		l.Generators = []p.Generator{all["seconds"]}
	}
	return l
}

// shown is a layout and its ladder, for whoever reads a failure.
func shown(l p.Layout, made []criteria.Criteria) string {
	text := fmt.Sprintf("%s, %v weeks, least %v, space %v\n", l.Combine, l.Case.Weeks, l.Case.Least.Values, l.Case.Space)
	for _, g := range l.Generators {
		text += fmt.Sprintf("%s %s %v to %v\n", g.Make, g.What.Key, g.From, g.To)
	}
	for i, c := range made {
		text += fmt.Sprintln(i+1, c.Values, c.Vary)
	}
	return text
}

// Whatever is laid out, for whatever dog, at whatever place: a ladder that no lint advises against.
func TestWhatIsLaidOutIsSound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := drawLayout(t)
		made, problems := l.Steps(p.MaxLadder)
		require.Empty(t, problems)
		require.NotEmpty(t, made)
		again, _ := l.Steps(p.MaxLadder)
		require.Equal(t, made, again)
		for _, lint := range p.Lints(steps(made...), l.Case) {
			from := ""
			if lint.Step > 0 {
				from = fmt.Sprint(made[lint.Step-1].Values)
			}
			t.Fatalf("step %d is %s: %s → %v\n%s", lint.Step+1, lint.Code, from, made[lint.Step].Values, shown(l, made))
		}
		for i, c := range made {
			require.Empty(t, c.Check())
			for j := range i {
				if c.Equal(made[j]) {
					t.Fatalf("steps %d and %d ask the same: %s", j+1, i+1, shown(l, made))
				}
			}
		}
	})
}

// The last step is the goal in everything: as it was asked, or as the dog and the place allow.
func TestWhatIsLaidOutEndsAtItsGoal(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := drawLayout(t)
		made, problems := l.Steps(p.MaxLadder)
		require.Empty(t, problems)
		cut := map[int]float64{}
		for _, fit := range l.Fits(p.MaxLadder) {
			if fit.Goal {
				require.Positive(t, (fit.Was-fit.Now)*float64(fit.Dim.Harder), "made easier")
				cut[fit.Leg] = fit.Now
			}
		}
		last := made[len(made)-1]
		for i, g := range l.Generators {
			goal, wasCut := cut[i]
			if !wasCut {
				goal = g.To
			}
			switch g.Make {
			case p.MakeRamp:
				if g.What.IsList() {
					continue
				}
				require.InDelta(t, goal, last.Get(g.What.Key), 1e-9)
			case p.MakeCountUp:
				require.InDelta(t, goal, last.Get(criteria.Paces), 1e-9)
			case p.MakeApproach:
				require.Equal(t, float64(g.Level), last.Get(criteria.Intensity))
				if l.Case.Space == 0 || l.Case.Space >= g.From {
					require.InDelta(t, goal, last.Get(criteria.Trigger), 1e-9)
				}
			case p.MakeFade:
				d, _ := last.Dimension(g.What.Key)
				require.Equal(t, float64(len(d.Items)-1), last.Get(g.What.Key))
			case p.MakeLead:
				require.InDelta(t, goal, last.Get(criteria.Lead), 1e-9)
			}
		}
	})
}

// Nothing is raised beside what was chosen, and nothing that was chosen is in figures that nobody sets up.
func TestWhatIsLaidOutHasOnlyWhatWasChosen(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := drawLayout(t)
		made, problems := l.Steps(p.MaxLadder)
		require.Empty(t, problems)
		chosen := map[criteria.Key]bool{criteria.Help: l.Combine == p.Alternate}
		for key := range l.Case.Least.Values {
			chosen[key] = true
		}
		for _, g := range l.Generators {
			for _, made := range made {
				for key := range made.Values {
					chosen[key] = chosen[key] || builds(g, key)
				}
			}
		}
		for i, c := range made {
			for key, x := range c.Values {
				require.True(t, chosen[key], "step %d has %s", i+1, key)
				d, _ := c.Dimension(key)
				if _, size := l.Case.Units.Of(d); d.Scale == criteria.Measure && !d.Small && (d.Unit == "s" || d.Unit == "m") && x/size > 4 {
					typed := slices.ContainsFunc(l.Generators, func(g p.Generator) bool { return x == g.From || x == g.To || ofParts(g, x) })
					by := size / 2
					require.True(t, typed || math.Abs(x/by-math.Round(x/by)) < 1e-4, "step %d: %s is %v\n%s", i+1, key, x/size, shown(l, made))
				}
			}
		}
	})
}

func ofParts(g p.Generator, x float64) bool {
	return slices.ContainsFunc(g.Parts, func(p p.Part) bool { return slices.Contains(p.Metres, x) })
}

// builds tells whether a generator is of a dimension.
func builds(g p.Generator, key criteria.Key) bool {
	if d, only := g.Make.Dimension(); only && d.Key == key || g.What.Key == key {
		return true
	}
	switch g.Make {
	case p.MakeApproach:
		return key == criteria.Intensity || key == criteria.Moving
	case p.MakeParts:
		return key == criteria.Part || key == criteria.Duration || key == criteria.Trigger || key == criteria.Intensity
	case p.MakeSites:
		return key == criteria.Site || key == criteria.Tool
	}
	return false
}
