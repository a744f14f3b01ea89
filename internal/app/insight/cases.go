// Package insight has the use cases of what the record shows: evidence, progress, forecasts, verdicts read anew, and what to try
// when stuck.
package insight

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct{ *app.Practice }

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{p} }
