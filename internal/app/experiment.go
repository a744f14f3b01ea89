package app

import (
	"patientfox/core/experiment"
	"patientfox/internal/store"
)

// RunningOf is an experiment, nil for none, as it stands after some blocks of its plan, and what these were given of it.
func RunningOf(row *store.Experiment, blocks []store.Block) (*experiment.Running, map[string]experiment.Assigned) {
	if row == nil {
		return nil, nil
	}
	r := &experiment.Running{
		ID: row.ID, Ways: experiment.Ways{row.WayA, row.WayB},
		Design: experiment.Design{Pairs: row.Pairs, Each: row.Each, Seed: uint64(row.Seed)}, //nolint:gosec // it was made of one
	}
	given := map[string]experiment.Assigned{}
	for _, b := range blocks {
		var one experiment.Assigned
		if b.Experiment == "" || store.FromJSON(b.Experiment, &one) != nil || one.ID != row.ID || one.Pair >= row.Pairs {
			continue
		}
		given[b.ID], r = one, r.After(&one)
	}
	return r, given
}
