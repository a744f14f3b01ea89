package figures

import "fmt"

// Climb is a ladder as stairs: how far a dog had come before, and how far it has now.
type Climb struct {
	W, H  float64
	Steps []Box
	Says  string
}

// The size of a flight of stairs, and what the lowest step has of its height.
const (
	climbW, climbH = 220.0, 44.0
	climbLow       = 8.0
)

// DrawClimb draws a ladder of so many steps; was and now are indexes of those reached, −1 for one that is not on it. It is nothing without
// a ladder, and where the dog is on none of its steps.
func DrawClimb(steps, was, now int) (c Climb) {
	if steps < 1 || now < 0 || now >= steps {
		return c
	}
	c = Climb{W: climbW, H: climbH, Says: fmt.Sprintf("Step %d of %d", now+1, steps)}
	switch {
	case was < 0 || was >= steps:
		was = now
	case was != now:
		c.Says = fmt.Sprintf("Step %d of %d; a week before, step %d", now+1, steps, was+1)
	}
	w := climbW / float64(steps)
	gap := min(2, w/4)
	for i := range steps {
		h := climbLow
		if steps > 1 {
			h += (climbH - climbLow) * float64(i) / float64(steps-1)
		}
		class := "ahead"
		switch {
		case i <= min(was, now):
			class = "stood"
		case i <= now:
			class = "gained"
		case i <= was:
			class = "lost"
		}
		c.Steps = append(c.Steps, Box{X: float64(i)*w + gap/2, Y: climbH - h, W: w - gap, H: h, Class: class})
	}
	return c
}
