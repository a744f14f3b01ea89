package practice

import (
	"context"
	"io"
	"log/slog"
	"slices"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// Unreadable makes events unreadable, as a fault of the fold that nobody knows yet would.
func (p *Practice) Unreadable(is func(record.Event) bool) {
	p.folds = func(b record.Book, events ...record.Event) (*record.Log, *record.Session, error) {
		if slices.ContainsFunc(events, is) {
			return nil, nil, &record.Unreadable{Fault: "a test's own"}
		}
		return record.Read(b, events...)
	}
}

// Reread reads one session anew, as if it had got events.
func (p *Practice) Reread(ctx context.Context, session string) (bool, error) {
	return true, p.readSessions(ctx, []string{session})
}

// Behind marks every session as read by an older fold.
func (p *Practice) Behind(ctx context.Context) error {
	return p.store.Write(ctx, func(q store.Q) error { return q.MarkAllStale(ctx) })
}

// Jobs are computations for tests.
type Jobs struct{ *jobs }

// NewJobs makes some.
func NewJobs() Jobs { return Jobs{newJobs(slog.New(slog.NewTextHandler(io.Discard, nil)))} }

// Start begins one.
func (j Jobs) Start(key string, work func(context.Context) error) error {
	_, err := j.start(key, "here", func(ctx context.Context, _ func(float64)) (any, error) { return nil, work(ctx) })
	return err
}

// Failed tells whether one ended in an error.
func (j Jobs) Failed(key string) bool {
	one := j.find(key, "here")
	return one != nil && one.ready() && one.err != nil
}

// Close ends them.
func (j Jobs) Close() { j.close() }
