// Package schedule has the use cases of the calendar: today, planned sessions, and the week.
package schedule

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
