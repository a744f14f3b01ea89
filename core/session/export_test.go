package session

import "patientfox/core/pack"

// Carry adds a pack that nobody checked.
func (r *Run) Carry(p pack.Pack) { r.packs = append(r.packs, p) }
