package practice

import (
	"context"
	"slices"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// Unreadable makes events unreadable, as a fault of the fold that nobody knows yet would.
func (p *Practice) Unreadable(is func(record.Event) bool) {
	p.Folds = func(b record.Book, events ...record.Event) (*record.Log, *record.Session, error) {
		if slices.ContainsFunc(events, is) {
			return nil, nil, &record.Unreadable{Fault: "a test's own"}
		}
		return record.Read(b, events...)
	}
}

// Reread reads one session anew, as if it had got events.
func (p *Practice) Reread(ctx context.Context, session string) (bool, error) {
	return true, p.ReadSessions(ctx, []string{session})
}

// Behind marks every session as read by an older fold.
func (p *Practice) Behind(ctx context.Context) error {
	return p.Store.Write(ctx, func(q store.Q) error { return q.MarkAllStale(ctx) })
}
