// Package sessions has the use cases of sessions: the packs and sheets that devices carry, joining one that runs, looking back at
// one and correcting it.
package sessions

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
