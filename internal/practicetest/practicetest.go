// Package practicetest opens practices for tests: in files of their own, at a clock that the test
// moves.
package practicetest

import (
	"cmp"
	"compress/gzip"
	"context"
	"errors"
	"io"
	"log/slog"
	"maps"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/demo"
	"patientfox/internal/derive"
	"patientfox/internal/exchange"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

func init() { people.CheapPasswords() }

// Now is the moment at which tests begin: a Monday afternoon.
var Now = time.Date(2026, 11, 23, 15, 0, 0, 0, time.UTC)

// Clock is a practice's clock.
type Clock struct {
	lock sync.Mutex
	at   time.Time
	runs time.Time // since when it goes on by itself, zero while it does not run
}

// Now is the clock's moment.
func (c *Clock) Now() time.Time {
	c.lock.Lock()
	defer c.lock.Unlock()
	if !c.runs.IsZero() {
		return c.at.Add(time.Since(c.runs))
	}
	return c.at
}

// Run lets the clock go on by itself.
func (c *Clock) Run() {
	c.lock.Lock()
	defer c.lock.Unlock()
	c.runs = time.Now()
}

// Add moves the clock on.
func (c *Clock) Add(d time.Duration) {
	c.lock.Lock()
	defer c.lock.Unlock()
	c.at = c.at.Add(d)
}

// Quiet is a log that nobody reads.
func Quiet() *slog.Logger { return slog.New(slog.NewTextHandler(io.Discard, nil)) }

// Opened is a practice at work in a test.
type Opened struct {
	*practice.Practice
	Store *store.Store
	Clock *Clock
	Path  string
}

// Open opens the database at path, and closes it when the test ends.
func Open(t testing.TB, path string) *Opened {
	t.Helper()
	st, err := store.Open(context.Background(), path)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, st.Close()) })
	clock := &Clock{at: Now}
	p, err := practice.Open(context.Background(), st, Quiet(), clock.Now, "UTC")
	require.NoError(t, err)
	t.Cleanup(p.Close)
	o := &Opened{p, st, clock, path}
	o.CatchUp(t)
	return o
}

// CatchUp reads what is behind, and returns when nothing is: tests have nobody in the background, unless they ask for it.
func (o *Opened) CatchUp(t testing.TB) {
	t.Helper()
	require.NoError(t, o.Practice.CatchUp(context.Background()))
}

// Receive stores events and reads them.
func (o *Opened) Receive(ctx context.Context, events []record.Event) ([]derive.Receipt, error) {
	receipts, err := o.Practice.Receive(ctx, events)
	return receipts, errors.Join(err, o.Practice.CatchUp(ctx))
}

// DeleteSession puts a session away, or brings it back, and reads it.
func (o *Opened) DeleteSession(ctx context.Context, id string, away bool) error {
	return errors.Join(o.Practice.DeleteSession(ctx, id, away), o.Practice.CatchUp(ctx))
}

// Correct corrects a trial, and reads its session.
func (o *Opened) Correct(ctx context.Context, session string, t form.Typed) error {
	return errors.Join(o.Practice.Correct(ctx, session, t), o.Practice.CatchUp(ctx))
}

// Tag says how a session was, and reads it.
func (o *Opened) Tag(ctx context.Context, session string, t form.Typed) error {
	return errors.Join(o.Practice.Tag(ctx, session, t), o.Practice.CatchUp(ctx))
}

// KeepUp reads in the background until the test ends, as a served practice does.
func (o *Opened) KeepUp(t testing.TB) {
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() {
		defer close(done)
		o.Practice.KeepUp(ctx)
	}()
	t.Cleanup(func() { stop(); <-done })
}

// The schema is laid out once a package: under the race detector it takes longer than most of the tests that need one.
var emptyOnce = sync.OnceValues(func() ([]byte, error) {
	folder, err := os.MkdirTemp("", "patientfox-empty")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(folder)
	path := filepath.Join(folder, "practice.db")
	st, err := store.Open(context.Background(), path)
	if err != nil {
		return nil, err
	}
	if err := st.Close(); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
})

// Empty opens a new practice.
func Empty(t testing.TB) *Opened {
	t.Helper()
	return written(t, emptyOnce)
}

// written opens a copy of a database that is made once.
func written(t testing.TB, once func() ([]byte, error)) *Opened {
	t.Helper()
	raw, err := once()
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "practice.db")
	require.NoError(t, os.WriteFile(path, raw, 0o600))
	return Open(t, path)
}

// Unpack puts a packed database of an earlier build into a file of its own, and says where.
func Unpack(t testing.TB, packed string) string {
	t.Helper()
	in, err := os.Open(packed)
	require.NoError(t, err)
	defer in.Close()
	unpacked, err := gzip.NewReader(in)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "practice.db")
	out, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY, 0o600)
	require.NoError(t, err)
	_, err = io.Copy(out, unpacked) //nolint:gosec // our own file
	require.NoError(t, err)
	require.NoError(t, out.Close())
	return path
}

// The demo is made once a package, or was made before with a program without the race detector,
// under which it takes long; scripts/test.sh names it.
var demoOnce = sync.OnceValues(func() ([]byte, error) {
	if made := os.Getenv("PATIENTFOX_TEST_DEMO"); made != "" {
		return os.ReadFile(made)
	}
	folder, err := os.MkdirTemp("", "patientfox-demo")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(folder)
	path := filepath.Join(folder, "demo.db")
	if err := demo.Make(context.Background(), path, Now, Quiet()); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
})

// Demo opens a copy of the demo practice, which is made once.
func Demo(t testing.TB) *Opened {
	t.Helper()
	return written(t, demoOnce)
}

// LayOut lays out a held plan for a new dog and returns the plan's and the dog's id.
func (o *Opened) LayOut(t testing.TB, ladder string) (plan, dog string) {
	t.Helper()
	ctx := context.Background()
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan = o.Exactly(t, dog, form.Typed{
		"skill": "Wait at the ramp", "kind": "held", "position": "all four feet behind the ramp's lip", "cue": "“wait”",
	}, criteria.Duration, ladder)
	return plan, dog
}

// Exactly adds a plan with just the steps given, such as "2, 8" of seconds, sound or not; typed is the rest of its form.
func (o *Opened) Exactly(t testing.TB, dog string, typed form.Typed, key criteria.Key, ladder string) (plan string) {
	t.Helper()
	ctx := context.Background()
	kind := work.Of(work.Kind(typed["kind"]))
	d, _ := criteria.Find(key)
	tmpl := library.Template{
		Name: typed["skill"], Kind: kind.Kind, Definition: criteria.Definition{Position: typed["position"]}, Body: library.Body{Pay: kind.Pay},
	}
	for figure := range strings.SplitSeq(ladder, ",") {
		x, _, problem := criteria.Units{}.Parse(d, figure)
		require.Empty(t, problem)
		step := criteria.Criteria{}.With(key, x)
		if kind.Near && key != criteria.Handler {
			step = step.With(criteria.Handler, 0)
		}
		step.Trig = typed["leg1_trigger_is"]
		tmpl.Steps = append(tmpl.Steps, step)
	}
	tmpl.Body.Rule = decision.Defaults(kind.RuleOf(tmpl.Steps))
	file, err := exchange.WriteTemplate(tmpl)
	require.NoError(t, err)
	from, err := o.ReadTemplate(ctx, form.Typed{}, file)
	require.NoError(t, err)
	typed = maps.Clone(typed)
	typed["from"] = from
	plan, err = o.AddPlan(ctx, dog, typed)
	require.NoError(t, err)
	require.NoError(t, o.DeleteTemplate(ctx, strings.TrimPrefix(from, "own:"), true))
	return plan
}

// Session begins a session of a plan at the clock's moment; its hand presses the keys.
func (o *Opened) Session(t testing.TB, plan string, c session.Choice) *session.Hand {
	t.Helper()
	pack, err := o.Pack(context.Background(), plan)
	require.NoError(t, err)
	run, err := session.Open(pack)
	require.NoError(t, err)
	h := &session.Hand{
		Run: run, Session: app.NewID(), Dev: "phone", By: pack.Person, Handler: cmp.Or(c.Handler, pack.Person),
		Wall: o.Clock.Now().UnixMilli(), NewID: app.NewID,
	}
	drafts, problem := run.Begin(c)
	require.Nil(t, problem)
	h.Do(0, drafts)
	return h
}

// End ends a session, takes a verdict that waits, and sends everything.
func (o *Opened) End(t testing.TB, h *session.Hand, at int64, c session.Closing) {
	t.Helper()
	c.End = true
	drafts, problem := h.Run.Close(c)
	require.Nil(t, problem)
	h.Do(at, drafts)
	receipts, err := o.Receive(context.Background(), h.Events)
	require.NoError(t, err)
	for _, r := range receipts {
		require.NotEqual(t, derive.Refused, r.Result, r.Why)
	}
	o.CatchUp(t)
}
