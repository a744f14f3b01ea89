package care_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/care"
	"patientfox/internal/vectors"
)

func Example() {
	paw := []care.Exposure{
		{Day: 1, State: 2, First: true}, {Day: 1, State: 1}, {Day: 1, State: 1},
		{Day: 3, State: 1, First: true}, {Day: 3, State: 0}, {Day: 3, State: 0},
	}
	level, _ := care.Level(paw[:3])
	fmt.Println(level, care.Ready(paw[:3], 1), care.Ready(paw, 3), care.Ready(paw, 90))
	day, _ := care.Due([]int{40, 33}, 21)
	fmt.Println(day)
	// Output:
	// 2 false true false
	// 54
}

func TestReferenceCells(t *testing.T) {
	seen := map[string]int{}
	for _, c := range vectors.Load(t, "film.json") {
		in := vectors.Read[struct {
			States    []int
			Exposures []care.Exposure
			Today     int
			LastDay   []int `json:"last_day"`
			EveryDays int   `json:"every_days"`
		}](t, c.In)
		got := map[string]any{}
		switch c.Fn {
		case "care_cell":
			var cell []care.Exposure
			for _, state := range in.States {
				cell = append(cell, care.Exposure{State: state})
			}
			if level, known := care.Level(cell); known {
				got["level"] = float64(level)
			}
			got["at_ease"] = care.AtEase(cell)
		case "care_ready":
			got["ready"] = care.Ready(in.Exposures, in.Today)
		case "care_due":
			day, ok := care.Due(in.LastDay, in.EveryDays)
			require.True(t, ok)
			got["due_day"], got["now"] = float64(day), in.Today >= day
		default:
			continue
		}
		vectors.Near(t, c, got)
		seen[c.Fn]++
	}
	require.Equal(t, map[string]int{"care_cell": 10, "care_ready": 14, "care_due": 10}, seen)
}

func TestReadyNeedsWhatItSays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var cell []care.Exposure
		day := 0
		for i := range rapid.IntRange(0, 25).Draw(t, "exposures") {
			step := rapid.IntRange(0, 1).Draw(t, "days")
			day += step
			cell = append(cell, care.Exposure{Day: day, State: rapid.IntRange(0, 4).Draw(t, "state"), First: i == 0 || step > 0})
		}
		today := day + rapid.IntRange(0, 80).Draw(t, "later")
		if !care.Ready(cell, today) {
			return
		}
		require.True(t, care.AtEase(cell))
		require.LessOrEqual(t, today-day, 60)
		require.Positive(t, day, "more than one day")
		for _, one := range cell[max(0, len(cell)-10):] {
			require.Less(t, one.State, 3)
		}
		worse := append(cell[:len(cell):len(cell)], care.Exposure{Day: day, State: 2})
		require.False(t, care.Ready(worse, today), "one that was wary takes it back")
	})
}
