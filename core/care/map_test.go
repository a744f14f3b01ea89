package care_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/care"
)

// calm is a cell of two calm visits, the second on a day.
func calm(site, tool string, day int) (list []care.Touch) {
	for i := range 6 {
		e := care.Exposure{Day: day - 2 + 2*(i/3), State: 1, First: i%3 == 0}
		list = append(list, care.Touch{Site: site, Tool: tool, Exposure: e})
	}
	return list
}

func ExampleMap_Open() {
	sites, tools := []string{"left ear", "right ear"}, []string{"a hand", "a cloth"}
	touches := calm("left ear", "a hand", 10)
	tool, waits := care.Read(sites, tools, nil, touches, 12).Open()
	fmt.Println(tools[tool], "waits at", sites[waits[0]])
	touches = append(touches, calm("right ear", "a hand", 11)...)
	tool, waits = care.Read(sites, tools, nil, touches, 12).Open()
	fmt.Println(tools[tool], len(waits))
	// Output:
	// a hand waits at right ear
	// a cloth 0
}

func TestAMarkedSiteHoldsUpNoOthers(t *testing.T) {
	sites, tools := []string{"left ear", "right ear"}, []string{"a hand", "a cloth"}
	touches := calm("left ear", "a hand", 10)
	for _, mark := range []care.Mark{care.Sore, care.Never} {
		tool, waits := care.Read(sites, tools, map[string]care.Mark{"right ear": mark}, touches, 12).Open()
		require.Equal(t, 1, tool)
		require.Empty(t, waits)
	}
	visit := care.Read(sites, tools, map[string]care.Mark{"right ear": care.Never}, touches, 12).Visit(5)
	require.Equal(t, []care.Spot{{Site: 0, Tool: 1}}, visit, "it is never touched")
}

func TestACellThatFallsBackSaysSo(t *testing.T) {
	touches := calm("paw", "a file", 10)
	worse := care.Touch{Site: "paw", Tool: "a file", Exposure: care.Exposure{Day: 12, State: 2, First: true}}
	read := func(list []care.Touch) care.Cell {
		return care.Read([]string{"paw"}, []string{"a file"}, nil, list, 13).Cells[0][0]
	}
	require.False(t, read(touches).Fell)
	require.True(t, read(append(touches, worse)).Fell)
	again := append(touches, worse)
	for range 3 {
		again = append(again, care.Touch{Site: "paw", Tool: "a file", Exposure: care.Exposure{Day: 12, State: 0}})
	}
	require.False(t, read(again).Fell, "it was at ease again before the visit was over")
}

func TestAVisitBeginsAndEndsWell(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		sites, tools := []string{"a", "b", "c", "d", "e", "f"}, []string{"hand", "cloth", "clipper"}
		marks := map[string]care.Mark{}
		var touches []care.Touch
		for _, site := range sites {
			if mark := rapid.SampledFrom([]care.Mark{"", "", care.Sore, care.Never}).Draw(t, "mark"); mark != "" {
				marks[site] = mark
			}
			for _, tool := range tools[:rapid.IntRange(0, 3).Draw(t, "tools")] {
				touches = append(touches, calm(site, tool, rapid.IntRange(1, 90).Draw(t, "day"))...)
			}
		}
		m := care.Read(sites, tools, marks, touches, 92)
		open, waits := m.Open()
		for _, s := range waits {
			require.Empty(t, marks[sites[s]])
		}
		n := rapid.IntRange(1, 8).Draw(t, "n")
		visit := m.Visit(n)
		require.LessOrEqual(t, len(visit), n)
		seen := map[int]bool{}
		easy := func(p care.Spot) bool { return m.Cells[p.Site][p.Tool].AtEase && marks[sites[p.Site]] == "" }
		for i, spot := range visit {
			require.False(t, seen[spot.Site], "each site once")
			seen[spot.Site] = true
			require.NotEqual(t, care.Never, marks[sites[spot.Site]])
			require.LessOrEqual(t, spot.Tool, open, "no tool before it is out")
			if i == 0 || i == len(visit)-1 {
				require.NotEqual(t, care.Sore, marks[sites[spot.Site]], "sore ones in the middle")
			}
		}
		if slices.ContainsFunc(visit, easy) {
			require.True(t, easy(visit[len(visit)-1]))
		}
	})
}

// What is kept of a cell says the same as all of it, also where it is kept again after more touches.
func TestWhatIsKeptOfACellSaysTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		day := 100
		var all, kept []care.Exposure
		for range rapid.IntRange(1, 12).Draw(t, "visits") {
			for i := range rapid.IntRange(1, 14).Draw(t, "touches") {
				state := rapid.SampledFrom([]int{0, 0, 0, 1, 1, 2, 3}).Draw(t, "state")
				one := care.Exposure{Day: day, State: state, First: i == 0}
				all, kept = append(all, one), append(kept, one)
			}
			kept = care.Recent(kept)
			day += rapid.IntRange(0, 30).Draw(t, "days")
		}
		require.Equal(t, care.Recent(all), kept)
		require.LessOrEqual(t, len(kept), 14)
		today := day + rapid.IntRange(0, 70).Draw(t, "since")
		cell := func(of []care.Exposure) care.Cell {
			var touches []care.Touch
			for _, one := range of {
				touches = append(touches, care.Touch{Site: "ear", Tool: "a hand", Exposure: one})
			}
			c := care.Read([]string{"ear"}, []string{"a hand"}, nil, touches, today).Cells[0][0]
			c.Exposures = nil
			return c
		}
		require.Equal(t, cell(all), cell(kept))
	})
}

// The next site is one that was not touched in the visit, with the tool in the hand before any other, until each had its touch.
func TestARoundGoesToEachSiteOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		sites, tools := []string{"neck", "left ear", "right ear", "paw"}, []string{"a hand", "a cloth"}
		var touches []care.Touch
		for _, site := range sites {
			if rapid.Bool().Draw(t, "calm") {
				touches = append(touches, calm(site, "a hand", rapid.IntRange(5, 10).Draw(t, "day"))...)
			}
		}
		marks := map[string]care.Mark{}
		if rapid.Bool().Draw(t, "never") {
			marks["paw"] = care.Never
		}
		r := care.Round{Before: care.Read(sites, tools, marks, touches, 12), Touched: map[string]bool{}, Over: map[string]bool{}}
		open, _ := r.Before.Open()
		visit := r.Before.Visit(len(sites))
		for range visit {
			site, tool, ok := r.Next(tools[0], nil)
			require.True(t, ok)
			require.False(t, r.Touched[site], "once each")
			require.NotEqual(t, care.Never, marks[site])
			require.LessOrEqual(t, slices.Index(tools, tool), open, "no tool before it is out")
			for _, spot := range visit {
				if name := sites[spot.Site]; tool != tools[0] && !r.Touched[name] {
					require.NotEqual(t, 0, spot.Tool, "the tool in the hand comes first")
				}
			}
			_, early := r.Early(site, tool)
			require.False(t, early)
			r.Touched[site] = true
		}
		_, _, ok := r.Next(tools[0], nil)
		require.False(t, ok, "complete")
	})
}
