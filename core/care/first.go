package care

// FirstAfter is how the first touch with a tool on a day was beside the others with it on that day.
type FirstAfter struct {
	Firsts, WaryFirsts int  // days, and those whose first touch was wary or worse
	Others, WaryOthers int  // touches after the first of their day
	Worried            bool // the latest first one was worried, or worse
	P                  float64
}

// When the first touch counts as the only one that is wary: how likely the order is by chance at most, on how many days it was seen at
// least, and what part of the other touches may be wary. Patient Fox's own defaults.
const (
	firstBy   = 0.01
	firstDays = 3
	othersPer = 10
)

// After reads the touches of one handler with a tool, oldest first. P is the chance of as many wary first touches, or more, had each day's
// touches come in any order: a sum of independent draws, one a day, exact.
func After(touches []Touch, tool string) (f FirstAfter) {
	sums := []float64{1} // by how many first ones are wary
	day := func(states []int) {
		n, wary := len(states), 0
		for _, s := range states {
			if s > atEase {
				wary++
			}
		}
		f.Firsts++
		first := 0
		if states[0] > atEase {
			first = 1
		}
		f.Worried = states[0] >= worried
		f.WaryFirsts, f.Others, f.WaryOthers = f.WaryFirsts+first, f.Others+n-1, f.WaryOthers+wary-first
		p := float64(wary) / float64(n)
		next := make([]float64, len(sums)+1)
		for i, at := range sums {
			next[i] += at * (1 - p)
			next[i+1] += at * p
		}
		sums = next
	}
	var states []int
	last := 0
	for _, t := range touches {
		if t.Tool != tool {
			continue
		}
		if len(states) > 0 && t.Day != last {
			day(states)
			states = nil
		}
		states, last = append(states, t.State), t.Day
	}
	if len(states) > 0 {
		day(states)
	}
	for _, p := range sums[f.WaryFirsts:] {
		f.P += p
	}
	return f
}

// Alone tells whether the first touch after the tool came out is the only one that is wary.
func (f FirstAfter) Alone() bool {
	return f.Firsts >= firstDays && f.P <= firstBy && f.WaryOthers*othersPer <= f.Others
}
