package care

// How much is looked at.
const (
	levelOf   = 3  // exposures that make a cell's level
	badWithin = 10 // exposures among which none may have been worried
	readyDays = 2  // days on which it must have been seen
	readyFor  = 60 // days since it was seen last, at most
)

// States by which a cell is read.
const (
	atEase  = 1 // notices it, and eats; better is 0
	worried = 3
)

// Exposure is one touch of a cell, with the state that the dog showed.
type Exposure struct {
	Day   int  `json:"day"`             // a number that grows by one a day, in the practice's zone
	State int  `json:"state"`           // 0 to 4
	First bool `json:"first,omitempty"` // the first of its visit
}

// Level is the worst state of the last three exposures of a cell, oldest first; known is false where there is none.
func Level(cell []Exposure) (level int, known bool) {
	for _, one := range last(cell, levelOf) {
		level = max(level, one.State)
	}
	return level, len(cell) > 0
}

// AtEase tells whether the dog is at ease in a cell: it was touched three times at least, and none of the last three was worse than
// noticed.
func AtEase(cell []Exposure) bool {
	level, _ := Level(cell)
	return len(cell) >= levelOf && level <= atEase
}

// Ready tells whether the dog is ready for the next tool at this site: at ease, seen on two days or more and at most 60 days ago, the
// first exposure of the latest visit included, and not worried in any of the last ten.
func Ready(cell []Exposure, today int) bool {
	if !AtEase(cell) || today-cell[len(cell)-1].Day > readyFor {
		return false
	}
	for _, one := range last(cell, badWithin) {
		if one.State >= worried {
			return false
		}
	}
	days, opened := map[int]bool{}, Exposure{}
	for _, one := range cell {
		days[one.Day] = true
		if one.First {
			opened = one
		}
	}
	return len(days) >= readyDays && opened.State <= atEase
}

// Due is the day on which something that is really done every so many days is due again: the earliest of the days on which each of its
// sites had it last, and that many more. Ok is false without any.
func Due(lastDays []int, every int) (day int, ok bool) {
	if len(lastDays) == 0 {
		return 0, false
	}
	day = lastDays[0]
	for _, one := range lastDays[1:] {
		day = min(day, one)
	}
	return day + every, true
}

func last(cell []Exposure, n int) []Exposure { return cell[max(0, len(cell)-n):] }
