package app

import (
	"context"
	"time"

	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// SetAside is a session that cannot be read, or a plan whose standing cannot be worked out.
type SetAside struct {
	ID, What, Why string
	Plan          bool
}

var AsideSays = map[string]string{
	derive.BadLog:  "Its log cannot be read.",
	derive.BadPlan: "A plan or a definition that it was worked on cannot be read.",
}

// ListAside lists what could not be read.
func ListAside(ctx context.Context, q store.Q, s Profile) (list []SetAside, err error) {
	rows, err := q.Unread(ctx, RowsShown)
	for _, r := range rows {
		one := SetAside{ID: r.ID, Plan: r.Plan, Why: AsideSays[r.Why]}
		switch {
		case r.Plan:
			one.What, one.Why = r.Dog+" · "+r.Name, "Where the dog stands cannot be worked out."
		case r.Opened > 0:
			one.What = "Session of " + time.UnixMilli(r.Opened).In(s.Zone).Format("2 Jan 2006, 15:04")
			if r.Dog != "" {
				one.What = r.Dog + " · " + one.What
			}
		default:
			one.What = "A session without a beginning"
		}
		list = append(list, one)
	}
	return list, err
}
