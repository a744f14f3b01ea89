package care_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/care"
)

func ExampleTask_Next() {
	drops := care.Task{Sites: []string{"left ear"}, Days: 7, PerDay: 2, From: 100}
	morning := []care.Done{{Site: "left ear", Day: 101}}
	fmt.Println(drops.Next(morning, 101))
	fmt.Println(drops.Next(append(morning, morning...), 101))
	fmt.Println(drops.Next(nil, 107))
	// Output:
	// 101 [left ear] true
	// 102 [left ear] true
	// 0 [] false
}

func TestTasksAreDue(t *testing.T) {
	claws := care.Task{Sites: []string{"left", "right"}, Every: 21, From: 10}
	day, sites, ok := claws.Next(nil, 12)
	require.True(t, ok)
	require.Equal(t, 10, day)
	require.Equal(t, []string{"left", "right"}, sites)
	day, sites, _ = claws.Next([]care.Done{{Site: "left", Day: 12}, {Site: "right", Day: 20}}, 20)
	require.Equal(t, 33, day, "the earliest last time and the interval")
	require.Equal(t, []string{"left"}, sites)
	day, sites, _ = claws.Next([]care.Done{{Site: "left", Day: 12}, {Site: "right", Day: 12, Left: true}}, 40)
	require.Equal(t, 13, day)
	require.Equal(t, []string{"right", "left"}, sites, "what is left over comes first")
	claws.Theirs = true
	_, _, ok = claws.Next(nil, 12)
	require.False(t, ok, "nothing is due before somebody was named")
	claws.Named = true
	_, _, ok = claws.Next(nil, 12)
	require.True(t, ok)
}

func TestTheDaysOnWhichATaskIsDue(t *testing.T) {
	coat := care.Task{Sites: []string{"back"}, Every: 3, From: 10}
	require.Equal(t, []int{12, 15, 18}, coat.Due(nil, 12, 19))
	require.Equal(t, []int{15, 18}, coat.Due([]care.Done{{Site: "back", Day: 12}}, 12, 19))
	require.Empty(t, coat.Due([]care.Done{{Site: "back", Day: 12}}, 12, 14))
	drops := care.Task{Sites: []string{"ear"}, Days: 4, From: 10}
	require.Equal(t, []int{11, 12, 13}, drops.Due(nil, 11, 30))
	require.Equal(t, []int{12, 13}, drops.Due([]care.Done{{Site: "ear", Day: 11}}, 11, 30))
	require.Empty(t, drops.Due(nil, 14, 30), "the course is over")
}

func TestNothingIsDueBeforeItWasDone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		from, per := rapid.IntRange(0, 20).Draw(t, "from"), rapid.IntRange(0, 3).Draw(t, "per")
		task := care.Task{Sites: []string{"a", "b", "c"}, From: from, PerDay: per}
		if rapid.Bool().Draw(t, "course") {
			task.Days = rapid.IntRange(1, 20).Draw(t, "days")
		} else {
			task.Every = rapid.IntRange(1, 40).Draw(t, "every")
		}
		var done []care.Done
		day := task.From
		for range rapid.IntRange(0, 12).Draw(t, "times") {
			day += rapid.IntRange(0, 4).Draw(t, "later")
			done = append(done, care.Done{Site: rapid.SampledFrom(task.Sites).Draw(t, "site"), Day: day, Left: rapid.Bool().Draw(t, "left")})
		}
		today := day + rapid.IntRange(0, 30).Draw(t, "today")
		due, sites, ok := task.Next(done, today)
		if !ok {
			require.Positive(t, task.Days, "what is done again and again is always due some day")
			return
		}
		require.NotEmpty(t, sites)
		require.Subset(t, task.Sites, sites)
		require.GreaterOrEqual(t, due, task.From)
		if task.Days > 0 {
			require.GreaterOrEqual(t, due, today)
			require.Less(t, due, task.From+task.Days)
			return
		}
		last := map[string]int{}
		for _, one := range done {
			last[one.Site] = one.Day
		}
		for _, site := range sites {
			if at, was := last[site]; was && due > today {
				require.Greater(t, due, at)
			}
		}
	})
}

// A paw whose claws are done one by one has some left over until each had its turn.
func TestClawsAreLeftOverUntilEachHadItsTurn(t *testing.T) {
	task := care.Task{Sites: []string{"paw, left", "paw, right"}, Every: 21, From: 1}
	claws := care.Parts("paw, left")
	require.Len(t, claws, 5)
	require.Nil(t, care.Parts("shoulder, left"))
	done := []care.Done{{Site: "paw, right", Day: 10}}
	for i, claw := range claws[:4] {
		done = append(done, care.Done{Site: "paw, left", Day: 10 + i, Part: claw})
		day, sites, ok := task.Next(done, 14)
		require.True(t, ok)
		if i < 3 {
			require.Equal(t, 11+i, day)
			require.Equal(t, "paw, left", sites[0], "what was left over comes first")
			continue
		}
		require.Equal(t, 31, day, "the other paw is due next")
		require.Equal(t, []string{"paw, right"}, sites)
	}
	done = append(done, care.Done{Site: "paw, left", Day: 34, Part: claws[1]})
	day, _, _ := task.Next(done, 34)
	require.Equal(t, 31, day)
	done = append(done, care.Done{Site: "paw, right", Day: 34})
	day, sites, _ := task.Next(done, 34)
	require.Equal(t, 35, day, "the next round is begun")
	require.Equal(t, []string{"paw, left"}, sites)
}
