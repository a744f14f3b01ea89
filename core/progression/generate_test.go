package progression_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	p "patientfox/core/progression"
)

// plain layouts for drawing one at random: what each promises is tested below.
func drawGenerator(t *rapid.T, make p.Make) p.Generator {
	generator := p.Generator{Make: make}
	seconds := func() {
		generator.What, generator.From, generator.To = of(criteria.Duration), 1, rapid.Float64Range(1, 300).Draw(t, "to")
	}
	words := rapid.SliceOfNDistinct(rapid.StringMatching("[a-z]{3,8}"), 2, 4, rapid.ID)
	switch make {
	case p.MakeRamp:
		seconds()
		switch rapid.IntRange(0, 2).Draw(t, "how") {
		case 1:
			generator.By = rapid.Float64Range(1, 30).Draw(t, "by")
		case 2:
			generator.By, generator.Times = rapid.Float64Range(1.05, 4).Draw(t, "times"), true
		}
	case p.MakeCountUp:
		generator.To = float64(rapid.IntRange(1, 30).Draw(t, "to"))
	case p.MakeApproach:
		generator.From, generator.To = rapid.Float64Range(20, 60).Draw(t, "far"), rapid.Float64Range(4, 20).Draw(t, "near")
		generator.Level, generator.Trig = rapid.IntRange(1, 3).Draw(t, "level"), "gulls"
	case p.MakeFade:
		generator.What, generator.Items = of(rapid.SampledFrom([]criteria.Key{criteria.Help, criteria.Food, criteria.Gear}).Draw(t, "what")),
			words.Draw(t, "items")
	case p.MakePause:
		generator.To = float64(rapid.IntRange(0, 10).Draw(t, "to"))
	case p.MakeLead:
		generator.From, generator.To = 3, float64(rapid.IntRange(-8, 3).Draw(t, "to"))
	case p.MakeParts:
		for _, name := range words.Draw(t, "parts") {
			generator.Parts = append(generator.Parts, drawPart(t, name))
		}
	case p.MakeFigures:
		generator.What, generator.List = of(criteria.Handler), []float64{0, 1, 2, 2.5, 3.5}
		generator.To = 3.5
	case p.MakeSites:
		generator.From, generator.To = 1, rapid.Float64Range(1, 20).Draw(t, "to")
		generator.Items, generator.Tools = words.Draw(t, "sites"), words.Draw(t, "tools")
	}
	return generator
}

func drawPart(t *rapid.T, name string) p.Part {
	part := p.Part{Name: name}
	if rapid.Bool().Draw(t, "seconds") {
		part.Seconds = []float64{0.5, 3, 10}[:rapid.IntRange(1, 3).Draw(t, "n")]
	}
	if rapid.Bool().Draw(t, "metres") {
		part.Metres = []float64{20, 8, 3}[rapid.IntRange(0, 2).Draw(t, "from"):]
	}
	if rapid.Bool().Draw(t, "strength") {
		part.Levels = []float64{1, 2, 4}[:rapid.IntRange(1, 3).Draw(t, "n")]
	}
	return part
}

func laidOut(t require.TestingT, l p.Layout) []criteria.Criteria {
	made, problems := l.Steps(p.MaxLadder)
	require.Empty(t, problems)
	require.NotEmpty(t, made)
	again, _ := l.Steps(p.MaxLadder)
	require.Equal(t, made, again, "the same layout gives the same ladder")
	return made
}

// sound: one thing at a time, nothing by more than the limit.
func sound(t require.TestingT, made []criteria.Criteria) {
	for _, c := range made {
		require.Empty(t, c.Check())
	}
	for _, l := range p.Lints(steps(made...), past) {
		require.Contains(t, []p.LintCode{p.LintNew, p.LintFirst}, l.Code, "%v → %v", made[l.Step-1].Values, made[l.Step].Values)
	}
}

func TestEveryGeneratorIsSound(t *testing.T) {
	for _, make := range p.Makes {
		t.Run(string(make), rapid.MakeCheck(func(t *rapid.T) {
			generator := drawGenerator(t, make)
			made := laidOut(t, p.Layout{Generators: []p.Generator{generator}, Base: c(values{criteria.Handler: 0})})
			sound(t, made)
			last := made[len(made)-1]
			switch make {
			case p.MakeFigures:
				require.Equal(t, 3.5, last.Get(criteria.Handler))
			case p.MakeRamp:
				require.Equal(t, generator.To, last.Get(generator.What.Key), "it reaches the goal exactly")
				require.Equal(t, generator.From, made[0].Get(generator.What.Key))
			case p.MakeCountUp:
				require.Len(t, made, int(generator.To))
				require.Equal(t, generator.To, last.Get(criteria.Paces))
			case p.MakeApproach:
				require.Equal(t, generator.To, last.Get(criteria.Trigger))
				require.Equal(t, float64(generator.Level), last.Get(criteria.Intensity))
			case p.MakeFade:
				require.Equal(t, generator.Items[len(generator.Items)-1], last.Item(generator.What.Key))
			case p.MakePause:
				require.Equal(t, generator.To, last.Get(criteria.HelpAfter))
			case p.MakeLead:
				require.Equal(t, generator.To, last.Get(criteria.Lead))
			case p.MakeParts:
				require.Contains(t, last.Item(criteria.Part), generator.Parts[0].Name)
			case p.MakeSites:
				require.Equal(t, []criteria.Key{criteria.Site}, last.Vary, "all places in turn")
				require.Equal(t, generator.Tools[len(generator.Tools)-1], last.Item(criteria.Tool))
				require.Equal(t, generator.To, last.Get(criteria.Duration))
			}
			if make != p.MakeApproach && make != p.MakeSites && make != p.MakeParts {
				for i := 1; i < len(made); i++ {
					require.True(t, criteria.Below(made[i-1], made[i]), "each step is harder than the one before, and in nothing easier")
				}
			}
		}))
	}
}

// Seven places and six tools fit a ladder, all places with one tool before the next, and a dimension of one's own grows by wholes.
func TestManyPlacesAndToolsFit(t *testing.T) {
	sites := []string{"shoulder", "chest", "flank", "ear", "foreleg", "paw", "tail"}
	l := p.Layout{Generators: []p.Generator{{
		Make: p.MakeSites, From: 1, To: 4, Items: sites,
		Tools: []string{"a hand", "fingers", "a cloth", "a brush", "a tool, off", "a tool that runs"},
	}}}
	made, problems := l.Steps(60)
	require.Empty(t, problems)
	require.LessOrEqual(t, len(made), 60)
	for i, c := range made {
		if c.Get(criteria.Tool) == 0 {
			require.Less(t, i, 10, "the bare hand first")
		}
	}
	loops := criteria.Dimension{Key: "own-loops", Label: "Loops", Unit: "loops", Harder: 1, Min: 1, Max: 50}
	for _, c := range laidOut(t, p.Layout{Generators: []p.Generator{{Make: p.MakeRamp, What: loops, From: 1, To: 12}}}) {
		require.Equal(t, math.Trunc(c.Get("own-loops")), c.Get("own-loops"))
	}
}

// Sore places come last, by themselves: nothing that goes over all places in turn touches one.
func TestSorePlacesAreApart(t *testing.T) {
	made := laidOut(t, p.Layout{Generators: []p.Generator{{
		Make: p.MakeSites, From: 1, To: 4, Items: []string{"shoulder", "the sore paw", "flank"}, Tools: []string{"a hand", "a brush"},
		Sore: []string{"the sore paw"},
	}}})
	sore := 0
	for i, c := range made {
		d, _ := c.Dimension(criteria.Site)
		if len(c.Vary) > 0 {
			require.Equal(t, []string{"shoulder", "flank"}, d.Items)
		}
		if c.Item(criteria.Site) == "the sore paw" {
			sore++
		} else {
			require.Zero(t, sore, "step %d comes after a sore place", i+1)
		}
	}
	require.Equal(t, 6, sore, "each tool, each of three holds")
}

func TestJoinedLegsRaiseOneThingAtATimeAndReachEveryGoal(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		generators := []p.Generator{
			{Make: p.MakeRamp, What: of(criteria.Duration), From: 1, To: rapid.Float64Range(2, 30).Draw(t, "s")},
			{Make: p.MakeRamp, What: of(criteria.Handler), From: 0, To: rapid.Float64Range(1, 8).Draw(t, "m")},
			{
				Make: p.MakeApproach, From: 40, To: rapid.Float64Range(8, 20).Draw(t, "near"),
				Level: rapid.IntRange(1, 2).Draw(t, "level"), Trig: "gulls",
			},
			{Make: p.MakeFade, What: of(criteria.Help), Items: []string{"lure", "hand", "sign", "none"}},
		}
		n := rapid.IntRange(2, 4).Draw(t, "legs")
		combine := rapid.SampledFrom([]p.Combine{p.Interleave, p.InSequence}).Draw(t, "combine")
		made := laidOut(t, p.Layout{Generators: generators[:n], Combine: combine})
		last := made[len(made)-1]
		require.Equal(t, generators[0].To, last.Get(criteria.Duration))
		require.Equal(t, generators[1].To, last.Get(criteria.Handler))
		if n > 2 {
			require.Equal(t, generators[2].To, last.Get(criteria.Trigger))
		}
		if n > 3 {
			require.Equal(t, "none", last.Item(criteria.Help))
		}
		for i := 1; i < len(made); i++ {
			harder, _ := criteria.Changed(made[i-1], made[i])
			raised, fresh := 0, map[bool]bool{}
			for _, d := range harder {
				if made[i-1].Has(d.Key) {
					raised++
				} else {
					fresh[d.Key == criteria.Trigger || d.Key == criteria.Intensity] = true
				}
			}
			require.LessOrEqual(t, raised+len(fresh), 1, "%v → %v", made[i-1].Values, made[i].Values)
		}
	})
}

func TestAWeaveBuildsEachAloneThenPairsThenAll(t *testing.T) {
	made := laidOut(t, p.Layout{Combine: p.Interleave, Generators: []p.Generator{
		{Make: p.MakeRamp, What: of(criteria.Duration), From: 3, To: 27, By: 2},
		{Make: p.MakeRamp, What: of(criteria.Handler), From: 1, To: 9, By: 1},
		{Make: p.MakeApproach, From: 36, To: 12, Level: 1},
	}})
	require.Equal(t, 3.0, made[0].Get(criteria.Duration))
	require.Equal(t, 9.0, made[3].Get(criteria.Duration), "a third of the goal")
	require.False(t, made[3].Has(criteria.Handler))
	require.Equal(t, 1.0, made[4].Get(criteria.Handler))
	require.Equal(t, 3.0, made[4].Get(criteria.Duration), "eased to half or less, and never without")
	all := 0
	for i, step := range made {
		if len(step.Asked()) == 4 {
			all++
		} else {
			require.Zero(t, all, "once all are in, none leaves: step %d", i)
		}
	}
	require.Greater(t, all, 10)
}

// A hold is built on the whole behaviour: nobody pays a dog for keeping half of it.
func TestTheBehaviourItselfIsNeverEased(t *testing.T) {
	for _, join := range []p.Combine{p.InSequence, p.Interleave} {
		made := laidOut(t, p.Layout{Combine: join, Generators: []p.Generator{
			{Make: p.MakeRamp, What: of(criteria.Approx), Items: []string{"looks", "touches", "rests"}},
			{Make: p.MakeRamp, What: of(criteria.Duration), From: 1, To: 9},
		}})
		require.Equal(t, "looks", made[0].Item(criteria.Approx))
		joined := 0
		for _, step := range made {
			if step.Has(criteria.Duration) && step.Has(criteria.Approx) {
				joined++
				require.Equal(t, "rests", step.Item(criteria.Approx))
			}
		}
		require.Greater(t, joined, 1)
		require.Equal(t, 9.0, made[len(made)-1].Get(criteria.Duration))
	}
}

func TestAlternateAsksMoreWithHelpThanWithout(t *testing.T) {
	half := p.Generator{Make: p.MakeRamp, What: of(criteria.Approx), Items: []string{"an eighth", "a quarter", "half", "a whole turn"}}
	hold := p.Generator{Make: p.MakeRamp, What: of(criteria.Duration), From: 2, To: 5, By: 1}
	for words, d := range map[string]p.Generator{"a list": half, "a figure": hold} {
		made := laidOut(t, p.Layout{Combine: p.Alternate, Help: []string{"food in hand", "empty hand"}, Generators: []p.Generator{d}})
		require.Len(t, made, 8)
		sound(t, made)
		key := d.What.Key
		for i, c := range made {
			with := i%4 < 2
			require.Equal(t, with, c.Item(criteria.Help) == "food in hand", "%s, step %d", words, i+1)
			if i > 0 && !with && made[i-1].Item(criteria.Help) == "food in hand" {
				require.Less(t, c.Get(key), made[i-1].Get(key), "without help less")
			}
		}
		require.Equal(t, "empty hand", made[7].Item(criteria.Help))
	}
}

func TestLayoutsThatCannotStand(t *testing.T) {
	ramp := func(from, to, by float64) p.Generator {
		return p.Generator{Make: p.MakeRamp, What: of(criteria.Duration), From: from, To: to, By: by}
	}
	for name, l := range map[string]struct {
		generator p.Generator
		field     string
		says      string
	}{
		"a goal easier than the start": {ramp(20, 2, 1), "leg1_to", "easier than the start"},
		"a nearer start than goal":     {p.Generator{Make: p.MakeApproach, From: 5, To: 50, Level: 1}, "leg1_to", "less is harder"},
		"a negative increment":         {ramp(2, 20, -1), "leg1_by", "more than nothing"},
		"multiplied by less than one": {
			p.Generator{Make: p.MakeRamp, What: of(criteria.Duration), From: 2, To: 20, By: 0.5, Times: true}, "leg1_by", "more than 1",
		},
		"ten thousand steps":               {ramp(1, 7000, 0.5), "leg1_by", "more than 5000 steps"},
		"out of range":                     {ramp(0, 20, 1), "leg1_from", "takes 0.5 to"},
		"no dimension":                     {p.Generator{Make: p.MakeRamp, To: 3}, "leg1_what", "Choose"},
		"no generator":                     {p.Generator{Make: "fly"}, "leg1_make", "Choose"},
		"a fade of something that is none": {p.Generator{Make: p.MakeFade, What: of(criteria.Tool)}, "leg1_what", "fade"},
		"a part twice": {
			p.Generator{Make: p.MakeParts, Parts: []p.Part{{Name: "look"}, {Name: "Look"}}}, "leg1_parts", "twice",
		},
		"a list of one": {p.Generator{Make: p.MakeRamp, What: of(criteria.Help), Items: []string{"look"}}, "leg1_items", "2 to"},
		"no strength":   {p.Generator{Make: p.MakeApproach, From: 40, To: 10}, "leg1_level", "strongest"},
		"figures that fall": {
			p.Generator{Make: p.MakeFigures, What: of(criteria.Duration), List: []float64{4, 2}}, "leg1_items", "does not follow",
		},
		"no figure":         {p.Generator{Make: p.MakeFigures, What: of(criteria.Duration)}, "leg1_items", "at least one"},
		"figures of a list": {p.Generator{Make: p.MakeFigures, What: of(criteria.Help), List: []float64{1}}, "leg1_what", "Choose"},
		"half a pace":       {p.Generator{Make: p.MakeRamp, What: of(criteria.Paces), From: 1, To: 9, By: 0.5}, "leg1_by", "whole"},
	} {
		made, problems := p.Layout{Generators: []p.Generator{l.generator}}.Steps(p.MaxLadder)
		require.Empty(t, made, name)
		require.Equal(t, l.field, problems[0].Field, name)
		require.Contains(t, problems[0].Text, l.says, name)
	}
	_, problems := p.Layout{}.Steps(60)
	require.NotEmpty(t, problems)
	sites := p.Generator{Make: p.MakeSites, From: 1, To: 60, Items: of(criteria.Site).Items, Tools: of(criteria.Tool).Items}
	_, problems = p.Layout{Generators: []p.Generator{sites}}.Steps(60)
	require.Contains(t, problems[0].Text, "more than 60 steps")
}

func TestVaryKeepsEveryBound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		count := rapid.Bool().Draw(t, "count")
		c := rapid.Float64Range(0.5, 600).Draw(t, "c")
		if count {
			c = float64(rapid.IntRange(1, 100).Draw(t, "whole"))
		}
		n := rapid.IntRange(0, 60).Draw(t, "n")
		seed := rapid.Uint64().Draw(t, "seed")
		targets := p.Vary(c, n, seed, count)
		require.Len(t, targets, n)
		require.Equal(t, targets, p.Vary(c, n, seed, count))
		if n < 4 || count && (c <= 3 || c == 4 && n == 4) {
			for _, x := range targets {
				require.Equal(t, c, x)
			}
			return
		}
		const e = 1e-9
		sum, long := 0.0, 0
		for i, x := range targets {
			sum += x
			require.GreaterOrEqual(t, x, 0.4*c-e)
			require.LessOrEqual(t, x, 1.2*c+e)
			if x >= c-e {
				long++
			}
			if count {
				require.Equal(t, float64(int(x)), x)
			}
			if i == 0 || i == n-1 {
				require.GreaterOrEqual(t, x, 0.5*c-e)
				require.LessOrEqual(t, x, 0.7*c+e)
			}
			if i > 2 {
				require.False(t, targets[i-3] < targets[i-2] && targets[i-2] < targets[i-1] && targets[i-1] < x, "three rises in a row")
			}
		}
		require.GreaterOrEqual(t, long, (n+1)/2)
		require.GreaterOrEqual(t, sum/float64(n), 0.8*c-e)
		require.LessOrEqual(t, sum/float64(n), c+e)
	})
}

func TestShuffledIsEven(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		items := []string{"left", "right", "ahead"}[:rapid.IntRange(2, 3).Draw(t, "items")]
		n := rapid.IntRange(1, 40).Draw(t, "n")
		words := p.Shuffled(items, n, rapid.Uint64().Draw(t, "seed"))
		require.Len(t, words, n)
		count := map[string]int{}
		for i, w := range words {
			count[w]++
			if i > 1 {
				require.False(t, w == words[i-1] && w == words[i-2], "three the same in a row: %v", words)
			}
		}
		for _, item := range items {
			require.InDelta(t, float64(n)/float64(len(items)), float64(count[item]), 1)
		}
	})
}

func TestTargetsAreOnesOwnStepByStep(t *testing.T) {
	step := p.Step{ID: "a", Rev: 1, Criteria: c(values{criteria.Duration: 20}).WithDimension(of(criteria.Direction, "left", "right"), 0)}
	require.Nil(t, p.Target(step, 0))
	step.Criteria.Vary = []criteria.Key{criteria.Duration, criteria.Direction}
	require.Empty(t, step.Criteria.Check())
	left, easier := 0, 0
	for i := range 20 {
		target := p.Target(step, i)
		require.Equal(t, target, p.Target(step, i))
		if target[criteria.Direction] == 0 {
			left++
		}
		if p.AsksLess(step.Criteria, target) {
			easier++
		}
	}
	require.Equal(t, 10, left)
	require.Positive(t, easier)
	require.Less(t, easier, 11)
}

// What a trainer sets up is seconds and metres by halves: only where a half would be no step at all is it less.
func TestRampsAreInFiguresThatCanBeSetUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d, _ := criteria.Find(rapid.SampledFrom([]criteria.Key{criteria.Duration, criteria.Handler, criteria.Trigger}).Draw(t, "of"))
		from, to := rapid.IntRange(2, 20).Draw(t, "from"), rapid.IntRange(21, 200).Draw(t, "to")
		if d.Harder < 0 {
			from, to = to, from
		}
		l := p.Layout{Generators: []p.Generator{{Make: p.MakeRamp, What: d, From: float64(from) / 2, To: float64(to) / 2}}}
		made, problems := l.Steps(200)
		require.Empty(t, problems)
		for _, c := range made {
			require.InDelta(t, math.Round(2*c.Get(d.Key)), 2*c.Get(d.Key), 1e-9)
		}
	})
}

func TestHelpThatFadesLastComesLaterBeforeItGoes(t *testing.T) {
	for items, want := range map[string]string{
		"hand sign none": "hand 0 · sign 0 · sign 1 · sign 2 · none 0",
		"hand sign":      "hand 0 · sign 0 · sign 1 · sign 2", // it keeps its help, and that comes late
		"hand no_help":   "hand 0 · hand 1 · hand 2 · no help 0",
	} {
		list := strings.Fields(items)
		for i := range list {
			list[i] = strings.ReplaceAll(list[i], "_", " ")
		}
		made := laidOut(t, p.Layout{Combine: p.AtFull, Generators: []p.Generator{
			{Make: p.MakeFade, What: of(criteria.Help), Items: list}, {Make: p.MakePause, To: 2},
		}})
		var got []string
		for i, step := range made {
			require.True(t, i == 0 || criteria.Below(made[i-1], step), "to give no help is harder, however long it was waited for")
			got = append(got, fmt.Sprintf("%s %v", step.Item(criteria.Help), step.Get(criteria.HelpAfter)))
		}
		require.Equal(t, want, strings.Join(got, " · "), items)
	}
}
