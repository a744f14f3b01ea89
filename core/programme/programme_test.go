package programme_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/programme"
	"patientfox/core/reinforce"
)

func steps(seconds ...float64) (list []criteria.Criteria) {
	for _, s := range seconds {
		list = append(list, criteria.Criteria{}.With(criteria.Duration, s))
	}
	return list
}

func TestCheckNamesTheRow(t *testing.T) {
	most := func(from string) int { return map[string]int{"sit": 5, "down": 3}[from] }
	rows := []programme.Row{{From: "sit", Aims: []int{0, 2, 5}}, {From: "down", Aims: []int{1, 1, 3}}}
	good := programme.Programme{Name: "First", Weeks: 3, Rows: rows}
	require.Empty(t, good.Check(most))
	for name, c := range map[string]struct {
		change func(*programme.Programme)
		field  string
	}{
		"no name":          {func(p *programme.Programme) { p.Name = " " }, "name"},
		"no weeks":         {func(p *programme.Programme) { p.Weeks = 0 }, "weeks"},
		"no skills":        {func(p *programme.Programme) { p.Rows = nil }, "rows"},
		"unknown":          {func(p *programme.Programme) { p.Rows[1].From = "fly" }, "row2"},
		"twice":            {func(p *programme.Programme) { p.Rows[1] = p.Rows[0] }, "row2"},
		"a week short":     {func(p *programme.Programme) { p.Rows[0].Aims = []int{1, 2} }, "row1"},
		"never":            {func(p *programme.Programme) { p.Rows[0].Aims = []int{0, 0, 0} }, "row1"},
		"less than before": {func(p *programme.Programme) { p.Rows[0].Aims = []int{3, 2, 5} }, "row1"},
		"past the top":     {func(p *programme.Programme) { p.Rows[1].Aims = []int{1, 1, 4} }, "row2"},
	} {
		bad := good
		bad.Rows = slices.Clone(good.Rows)
		c.change(&bad)
		problems := bad.Check(most)
		require.NotEmpty(t, problems, name)
		require.Equal(t, c.field, problems[0].Field, name)
	}
}

func TestAWeekThatWasMissedHoldsADogBack(t *testing.T) {
	require.Equal(t, []int{0, 1, 1, 2}, []int{programme.Week(-1), programme.Week(0), programme.Week(6), programme.Week(7)})
	late := programme.Dog{Joined: 3, Missed: []int{1, 5}}
	require.Equal(t, []int{0, 1, 2, 2, 3}, []int{late.At(2), late.At(3), late.At(4), late.At(5), late.At(6)},
		"a week before it came in is none that it missed")
	rapid.Check(t, func(t *rapid.T) {
		d := programme.Dog{Joined: rapid.IntRange(1, 8).Draw(t, "joined"), Missed: rapid.SliceOfNDistinct(rapid.IntRange(1, 26), 0, 8,
			rapid.ID[int]).Draw(t, "missed")}
		for week := 1; week < 30; week++ {
			now, next := d.At(week), d.At(week+1)
			if now < 0 || now > week || next < now || next > now+1 {
				t.Fatalf("week %d: %d, then %d", week, now, next)
			}
		}
	})
}

func TestAnAimIsFoundOnAnyLadder(t *testing.T) {
	row := programme.Row{Aims: []int{0, 2, 3}, Criteria: append(steps(0), steps(4, 8)...)}
	_, ok := row.Aim(1)
	require.False(t, ok)
	aim, ok := row.Aim(9)
	require.True(t, ok, "after the last week it is the last")
	for _, c := range []struct {
		ladder []criteria.Criteria
		want   int
	}{
		{steps(2, 4, 8, 16), 2}, {steps(1, 2, 4, 6, 12), 3}, {steps(16, 20), -1}, {steps(1, 2), 1}, {nil, -1},
	} {
		require.Equal(t, c.want, programme.Aimed(c.ladder, aim))
	}
	named := criteria.Criteria{Text: "lies inside"}
	require.Equal(t, 1, programme.Aimed([]criteria.Criteria{{Text: "a step towards it"}, named, {Text: "door latched"}}, named))
}

func TestADogIsComparedAsFarAsItsLadderGoes(t *testing.T) {
	aim := steps(8)[0].With(criteria.Handler, 2)
	own := []criteria.Criteria{steps(2)[0], steps(8)[0], steps(4)[0].With(criteria.Handler, 4), steps(8)[0].With(criteria.Handler, 3)}
	for reached, want := range []programme.Stand{programme.Short, programme.Apart, programme.Apart, programme.There} {
		aimed, stand := programme.Against(own, reached, aim)
		require.Equal(t, 1, aimed)
		require.Equal(t, want, stand, reached)
	}
	_, stand := programme.Against(append(own, aim), 4, aim)
	require.Equal(t, programme.There, stand, "the very step")
	_, stand = programme.Against(steps(2, 4), 1, aim)
	require.Equal(t, programme.There, stand, "a young dog's ladder goes no further")
	_, stand = programme.Against(steps(20), 0, aim)
	require.Equal(t, programme.Apart, stand)
}

func TestEveryDogComesToEveryStation(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		apart := rapid.SliceOfN(rapid.Bool(), 1, 14).Draw(t, "apart")
		stations := rapid.IntRange(1, 6).Draw(t, "stations")
		groups := programme.Groups(apart, stations)
		var dealt []int
		alone, smallest, largest := 0, len(apart), 0
		for _, group := range groups {
			dealt = append(dealt, group...)
			if len(group) == 1 && apart[group[0]] {
				alone++
				continue
			}
			smallest, largest = min(smallest, len(group)), max(largest, len(group))
		}
		slices.Sort(dealt)
		for i := range apart {
			if len(dealt) != len(apart) || dealt[i] != i {
				t.Fatalf("dealt %v of %d", dealt, len(apart))
			}
		}
		flagged := 0
		for _, own := range apart {
			if own {
				flagged++
			}
		}
		if room := flagged < stations || len(apart) <= stations; room && programme.Crowded(apart, groups) {
			t.Fatalf("%d work apart, %d stations: %v", flagged, stations, groups)
		}
		if flagged > stations && !programme.Crowded(apart, groups) {
			t.Fatalf("%d work apart, %d stations, and nobody shares: %v", flagged, stations, groups)
		}
		if len(groups) > stations || largest > 0 && largest-smallest > 1 {
			t.Fatalf("groups %v", groups)
		}
		for g := range groups {
			seen := map[int]bool{}
			for round := range stations {
				seen[programme.Turn(g, round, stations)] = true
			}
			if len(seen) != stations {
				t.Fatalf("group %d comes to %v", g, seen)
			}
		}
	})
}

func TestStationsFitTheHour(t *testing.T) {
	p := programme.Programme{Weeks: 2, Rows: []programme.Row{{Aims: []int{1, 2}}, {Aims: []int{0, 1}}, {Aims: []int{1, 1}}}}
	pay := func(int) reinforce.Strategy { return reinforce.Strategy{Band: reinforce.Band{Lo: 4, Hi: 8}, Pieces: 2} }
	first := p.Stations(1, 60, pay)
	require.Equal(t, []programme.Station{{Row: 0, Minutes: 25, Pieces: 400}, {Row: 2, Minutes: 25, Pieces: 400}}, first)
	require.Equal(t, 1, p.Stations(2, 60, pay)[0].Row, "the newest first")
	require.Len(t, p.Stations(2, 16, pay), 2, "as many as have time")
	require.Empty(t, p.Stations(0, 60, pay))
}
