package record

import (
	"fmt"

	"patientfox/core/evidence"
)

// tally spreads a count over a block of its own, which is exactly one set.
func (f *folder) tally(e placed, d *Tally) {
	at, ok := f.today(e)
	if !ok {
		return
	}
	n := 0
	for _, part := range []struct {
		outcome evidence.Outcome
		n       int
	}{{evidence.Met, d.Met}, {evidence.Late, d.Late}, {evidence.Helped, d.Helped}, {evidence.Missed, d.Missed}} {
		for range part.n {
			n++
			f.add(TrialRead{
				ID: fmt.Sprintf("%s#%d", e.ID, n), Block: f.block.ID, Step: f.block.Place.Today, Rev: f.block.Steps[at].Rev,
				From: f.at, At: f.at, Outcome: part.outcome, Tapped: part.outcome, Tally: true,
				Counts: e.Dev == f.pen, By: e.By, Handler: e.Handler, Dev: e.Dev,
			})
		}
	}
}
