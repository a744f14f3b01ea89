// Package rewards has the use cases of rewards: what a dog works for, its preferences, its day's food, and how each step is paid.
package rewards

import "patientfox/internal/app"

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }
