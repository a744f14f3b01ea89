package programme

import (
	"cmp"
	"math"
	"slices"

	"patientfox/core/reinforce"
)

// Bounds of a meeting.
const (
	OpenMinutes  = 5 // to arrive and to end with
	LeastMinutes = 3 // at a station
	MostStations = 6
)

// Station is a place in the hall at which one skill is worked.
type Station struct {
	Row     int // index of the programme's row
	Minutes int
	Pieces  int // of food that one dog may earn there, as many as its fastest pay takes
}

// Stations are those of a week's meeting of so many minutes: the skills that are worked by then, the newest first, as many as have time.
// pay is how each row is paid.
func (p Programme) Stations(week, minutes int, pay func(row int) reinforce.Strategy) []Station {
	var list []Station
	for i, r := range p.Rows {
		if begins := r.Begins(); begins > 0 && begins <= week {
			list = append(list, Station{Row: i})
		}
	}
	slices.SortStableFunc(list, func(a, b Station) int { return cmp.Compare(p.Rows[b.Row].Begins(), p.Rows[a.Row].Begins()) })
	n := min(len(list), MostStations, max(1, (minutes-2*OpenMinutes)/LeastMinutes))
	list = list[:min(n, len(list))]
	for i := range list {
		list[i].Minutes = max(LeastMinutes, (minutes-2*OpenMinutes)/len(list))
		how := pay(list[i].Row)
		list[i].Pieces = int(math.Ceil(how.Band.Hi * float64(list[i].Minutes) * float64(how.Piece())))
	}
	return list
}

// Groups deals the dogs of a class to so many stations, so that those of a group work side by side: as even as can be, and each dog that
// works apart alone as long as there are stations. apart tells which do; the answer has a list of indexes for each group, without empty
// ones.
func Groups(apart []bool, stations int) [][]int {
	if stations < 1 || len(apart) == 0 {
		return nil
	}
	groups := make([][]int, min(stations, len(apart)))
	alone := 0
	for i, own := range apart {
		if own && alone < len(groups)-1 {
			groups[alone] = []int{i}
			alone++
		}
	}
	next := alone
	for i := range apart {
		if slices.ContainsFunc(groups[:alone], func(group []int) bool { return group[0] == i }) {
			continue
		}
		groups[next] = append(groups[next], i)
		if next++; next == len(groups) {
			next = alone
		}
	}
	return slices.DeleteFunc(groups, func(group []int) bool { return len(group) == 0 })
}

// Crowded tells whether a dog that works apart shares its station, because there are more such dogs than stations.
func Crowded(apart []bool, groups [][]int) bool {
	return slices.ContainsFunc(groups, func(group []int) bool {
		return len(group) > 1 && slices.ContainsFunc(group, func(i int) bool { return apart[i] })
	})
}

// Turn is the station of a group in a round, both from 0, of so many stations: each group comes to each station once.
func Turn(group, round, stations int) int { return (group + round) % stations }
