package app

import (
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/internal/store"
)

// PathPoint is one set on a dog's way: where, how many met, and when.
type PathPoint struct {
	Step    int // index among the plan's steps as they are now
	Gone    bool
	Met     int
	Size    int
	Full    bool // every place of the set is filled, and all met
	Part    bool // the set was not filled
	Session string
	Day     string
	Place   string
	New     bool // the first of its session
}

// MiniPoint is one set in a miniature.
type MiniPoint struct {
	Step int
	Full bool
}

// Path cuts a plan's trials into sets, visit by visit: a new set begins with a block, a session or a
// step.
func Path(trials []store.Trial, size int, all, now []progression.Step, day map[string]string, place map[string]string) []PathPoint {
	if size <= 0 {
		size = 5
	}
	var points []PathPoint
	for start := 0; start < len(trials); {
		end := start
		var visit []trial.Trial
		for end < len(trials) && trials[end].Block == trials[start].Block && trials[end].Step == trials[start].Step {
			if t := trials[end]; !t.Waits && !t.Easy && !t.Outcome.Unread() {
				visit = append(visit, t.Trial)
			}
			end++
		}
		at, gone := level(trials[start].Step, all, now)
		for _, set := range decision.SetsOf(visit, size) {
			p := PathPoint{Step: at, Gone: gone, Size: len(set), Session: trials[start].Session}
			for _, t := range set {
				if t.Outcome == trial.Met && !t.Assisted { // as the rule counts
					p.Met++
				}
			}
			p.Part = p.Size < size
			p.Full = !p.Part && p.Met == size
			p.Day, p.Place = day[p.Session], place[p.Session]
			p.New = len(points) == 0 || points[len(points)-1].Session != p.Session
			points = append(points, p)
		}
		start = end
	}
	return points
}

// level is where a step is drawn: one taken out of the plan keeps its history, at the nearest step
// below that is still there.
func level(step string, all, now []progression.Step) (index int, gone bool) {
	if i := progression.Index(now, step); i >= 0 {
		return i, false
	}
	settled := progression.Position{Reached: step, Today: step}.Settle(all, now)
	return max(0, progression.Index(now, settled.Reached)), true
}

// Mini is a path with the points alone.
func Mini(points []PathPoint) []MiniPoint {
	const most = 24
	points = points[max(0, len(points)-most):]
	out := make([]MiniPoint, len(points))
	for i, p := range points {
		out[i] = MiniPoint{p.Step, p.Full}
	}
	return out
}
