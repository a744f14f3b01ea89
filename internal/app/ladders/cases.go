// Package ladders has the use cases of whole ladders: as a table, in which figures of many steps are changed and faults mended at once,
// and copied to other dogs.
package ladders

import "patientfox/internal/app"

// Cases are the use cases of the area. They are safe for concurrent use.
type Cases struct{ *app.Practice }

// New makes them of a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }
