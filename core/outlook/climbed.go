package outlook

// Climbed is from which step to which a record leads, and how many sessions it took to pass the one before; the steps are the same where it
// climbed none.
func Climbed(record []Trial) (start, top, sessions int) {
	for i, t := range record {
		if i == 0 {
			start, top = t.Step, t.Step
		}
		top = max(top, t.Step)
	}
	for _, t := range record {
		if t.Opens {
			sessions++
		}
		if t.Step == top {
			if t.Opens { // it was passed at the end of the session before
				sessions = max(1, sessions-1)
			}
			break
		}
	}
	return start, top, sessions
}

// Before is the way from one step to another as it lay ahead before the first session.
func (c Course) Before(start, top int) Course {
	c.Rules, c.Heights, c.At, c.Halved, c.Since = c.Rules[:top], c.heights()[:top], start, false, nil
	c.RoundsBefore, c.Waits, c.Rung = 0, false, 1
	return c
}
