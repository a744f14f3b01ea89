package session

import (
	"slices"

	"patientfox/core/pack"
)

// After is the packs of the plans that were worked, as this session leaves them: without a signal the next session
// begins where this one ended. The server's own pack takes its place once it knows of the session.
func (r *Run) After() []pack.Pack {
	if r.Helps() {
		return nil
	}
	var list []pack.Pack
	for i := len(r.s.Blocks) - 1; i >= 0; i-- {
		b := r.s.Blocks[i]
		if slices.ContainsFunc(list, func(p pack.Pack) bool { return p.Plan == b.Plan }) {
			continue
		}
		if p := r.packFor(b.Plan); p != nil {
			list = append(list, pack.Leave(*p, r.s, b))
		}
	}
	return list
}

// packFor is the latest pack of a plan, nil where there is none.
func (r *Run) packFor(plan string) *pack.Pack {
	for i := len(r.packs) - 1; i >= 0; i-- {
		if r.packs[i].Plan == plan {
			return &r.packs[i]
		}
	}
	return nil
}
