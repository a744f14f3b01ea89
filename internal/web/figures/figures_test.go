package figures_test

import (
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

var update = flag.Bool("update", false, "write the golden files anew")

// golden compares a figure's geometry with the one that was looked at.
func golden(t *testing.T, name string, figure any) {
	t.Helper()
	raw, err := json.MarshalIndent(figure, "", " ")
	require.NoError(t, err)
	path := "testdata/" + name + ".json"
	if *update {
		require.NoError(t, os.WriteFile(path, raw, 0o644))
	}
	want, err := os.ReadFile(path)
	require.NoError(t, err)
	require.JSONEq(t, string(want), string(raw))
}

func ladder(n, at int) []figures.LevelStep {
	var steps []figures.LevelStep
	for i := range n {
		steps = append(steps, figures.LevelStep{ID: fmt.Sprint(i), Name: fmt.Sprintf("%d s", 2*(i+1)), At: i == at})
	}
	return steps
}

var wide = figures.Look{Width: 850, Today: "now", Word: "met"}

func sets(steps ...int) []figures.LevelSet {
	var list []figures.LevelSet
	for i, step := range steps {
		list = append(list, figures.LevelSet{
			Step: step, Met: 4 + i%2, Size: 5, Full: i%2 == 1, New: i%3 == 0, Session: fmt.Sprint(i / 3),
			Day: fmt.Sprintf("%d Nov", 1+i/3),
		})
	}
	return list
}

func TestLevels(t *testing.T) {
	golden(t, "levels-wide", figures.DrawLevels(wide, ladder(4, 2), sets(0, 0, 1, 1, 2)))
	narrow := figures.Look{Width: 358, Narrow: true, Today: "now", Word: "met"}
	golden(t, "levels-narrow", figures.DrawLevels(narrow, ladder(4, 2), sets(0, 0, 1, 1, 2)))
	empty := figures.DrawLevels(wide, ladder(3, 0), nil)
	require.Empty(t, empty.Way)
	require.NotZero(t, empty.Dot.Y, "the dot stands on its level before the first set")
}

func TestHarderIsHigherAndEverythingStaysInside(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 60).Draw(t, "steps")
		narrow := rapid.Bool().Draw(t, "narrow")
		way := rapid.SliceOfN(rapid.IntRange(0, n-1), 0, 300).Draw(t, "sets")
		look := figures.Look{Width: 850, Narrow: narrow, Whole: rapid.Bool().Draw(t, "whole"), Today: "now", Word: "met"}
		at := rapid.IntRange(0, n-1).Draw(t, "at")
		f := figures.DrawLevels(look, ladder(n, at), sets(way...))
		require.Equal(t, n, len(f.Lines)+f.Folded)
		if look.Whole || n <= 18 {
			require.Zero(t, f.Folded)
			require.True(t, look.Whole || f.Hidden == 0 || len(way) > 60)
		}
		require.LessOrEqual(t, len(f.Lines), max(18, 60*btoi(look.Whole)))
		for i := 1; i < len(f.Lines); i++ {
			require.Less(t, f.Lines[i-1].Y, f.Lines[i].Y, "hardest on top")
		}
		require.Equal(t, len(way), len(f.Points)+f.Hidden)
		if look.Whole {
			require.Zero(t, f.Hidden)
		}
		level := map[float64]bool{}
		for _, line := range f.Lines {
			level[line.Y] = true
		}
		for i, p := range f.Points {
			require.True(t, p.X >= 0 && p.X <= f.W && p.Y > 0 && p.Y < f.H)
			require.True(t, level[p.Y], "a set lies on its step's level, or on the band that it is folded into")
			if look.Whole {
				require.Equal(t, f.Lines[n-1-p.Step].Y, p.Y)
			}
			if i > 0 {
				require.Greater(t, p.X, f.Points[i-1].X)
			}
		}
		covered := 0.0
		for i, s := range f.Stripes {
			covered += s.W
			if i > 0 {
				require.InDelta(t, f.Stripes[i-1].X+f.Stripes[i-1].W, s.X, 1e-6, "sessions leave no gap to miss")
			}
		}
		require.True(t, len(f.Stripes) == 0 || covered > 0)
		require.LessOrEqual(t, f.Dot.X+9, f.W)
		for i := 1; i < len(f.Marks); i++ {
			require.GreaterOrEqual(t, f.Marks[i].X-f.Marks[i-1].X, 60.0, "days do not run into each other")
		}
	})
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}

// What is passed is folded away, what is open is never.
func TestLongLaddersFold(t *testing.T) {
	steps := ladder(60, 30)
	f := figures.DrawLevels(wide, steps, sets(0, 10, 30))
	require.Equal(t, 60-len(f.Lines), f.Folded)
	require.Equal(t, "steps 40 to 60", f.Lines[0].Name)
	require.Equal(t, "steps 1 to 25", f.Lines[len(f.Lines)-1].Name)
	require.Equal(t, f.Lines[len(f.Lines)-1].Y, f.Points[0].Y)
	steps[50].Opened = true
	f = figures.DrawLevels(wide, steps, nil)
	names := map[string]bool{}
	for _, line := range f.Lines {
		names[line.Name] = true
	}
	require.True(t, names["102 s"], "the step that is open stays drawn")
	require.Zero(t, figures.DrawLevels(figures.Look{Width: 850, Whole: true}, steps, nil).Folded)
}

func TestMini(t *testing.T) {
	m := figures.DrawMini(5, sets(0, 1, 2, 4), 4)
	require.Len(t, m.Points, 4)
	require.Greater(t, m.Points[0].Y, m.Points[3].Y)
	require.Equal(t, m.Points[3].Y, m.Dot.Y)
	one := figures.DrawMini(1, nil, 0)
	require.Equal(t, 18.0, one.Dot.Y)
}

func TestInterval(t *testing.T) {
	f := figures.DrawInterval(270, 0.5, 1, 0.8)
	require.InDelta(t, 135, f.Lo, 1e-9)
	require.InDelta(t, 216, f.At, 1e-9)
	rapid.Check(t, func(t *rapid.T) {
		lo := rapid.Float64Range(0, 1).Draw(t, "lo")
		hi := rapid.Float64Range(lo, 1).Draw(t, "hi")
		f := figures.DrawInterval(270, lo, hi, lo)
		require.GreaterOrEqual(t, f.HiText-f.LoText, 55.0, "the two labels do not run into each other")
		require.True(t, f.LoText >= 15 && f.HiText <= 270)
	})
}

func strip() figures.StripInput {
	return figures.StripInput{
		Length: 200,
		Segments: []figures.StripSegment{
			{From: 0, To: 120, Label: "step 3"}, {From: 120, To: 200, Label: "step 4"},
			{From: 60, To: 80, Label: "break", Rest: true},
		},
		Trials: []figures.StripTrial{{At: 10, Outcome: "met", Paid: true}, {At: 12, Outcome: "late"}, {At: 150, Outcome: "missed"}},
		Pays:   []float64{10},
		Rate:   []figures.RatePoint{{At: 0, Rate: 0}, {At: 10, Rate: 6}, {At: 60, Rate: 1}, {At: 80, Rate: 1}, {At: 100, Rate: 0}},
		BandLo: 4, BandHi: 8,
		Gaps: []figures.StripGap{{From: 10, To: 200, Active: 170}},
	}
}

func TestStrip(t *testing.T) {
	golden(t, "strip", figures.DrawStrip(1100, strip()))
	f := figures.DrawStrip(1100, strip())
	require.Equal(t, "170 s unpaid", f.Gaps[0].Text)
	several := strip()
	several.Segments[0].Of, several.Segments[1].Of = "Spin, left", strings.Repeat("Settle on deck ", 9)
	s := figures.DrawStrip(1100, several).Segments
	require.Equal(t, []string{"Spin, left, step 3", "step 4"}, []string{s[0].Text, s[1].Text}, "a long name leaves the step")
	require.NotEqual(t, f.Trials[0].Y, f.Trials[1].Y, "trials that would overlap stand in two rows")
	require.Equal(t, "pays a minute, planned 4 to 8", f.Label)
	require.Equal(t, 2, strings.Count(f.Rate, "M"), "the rate is not drawn across the break")
	close := strip()
	close.Trials = append(close.Trials, figures.StripTrial{At: 13, Outcome: "met"})
	c := figures.DrawStrip(1100, close)
	require.Less(t, c.Trials[3].Y+12, c.LabelY-12, "a third row does not run into the words below it")
	none := strip()
	none.BandLo, none.BandHi, none.Rate = 0, 0, nil
	require.Zero(t, figures.DrawStrip(358, none).Band.W)
}

func TestTheStripStaysInside(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := strip()
		in.Length = rapid.Float64Range(1, 7200).Draw(t, "length")
		in.Segments, in.Gaps = nil, nil
		in.Trials = nil
		for range rapid.IntRange(0, 80).Draw(t, "trials") {
			in.Trials = append(in.Trials, figures.StripTrial{At: rapid.Float64Range(0, in.Length).Draw(t, "at"), Outcome: "met"})
		}
		f := figures.DrawStrip(358, in)
		for _, p := range f.Trials {
			require.True(t, p.X >= 0 && p.X <= f.W && p.Y > 30 && p.Y < 112)
		}
		require.LessOrEqual(t, len(f.Ticks), 12)
		require.LessOrEqual(t, len(f.Scale), 6)
	})
}
