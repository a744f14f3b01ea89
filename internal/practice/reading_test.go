package practice_test

import (
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// planted writes an event past the door, as an older build with a wider one may have.
func planted(t *testing.T, o *practicetest.Opened, e record.Event) {
	t.Helper()
	db, err := sql.Open("sqlite", o.Path+"?_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	defer db.Close()
	raw, err := hex.DecodeString(strings.ReplaceAll(e.ID, "-", ""))
	require.NoError(t, err)
	_, err = db.Exec(`INSERT INTO events (id, session, v, dev, seq, t, wall, by, handler, kind, data, received)
		VALUES (?, ?, 1, ?, ?, ?, ?, '', '', ?, ?, 1)`,
		raw, e.Session, e.Dev, e.Seq, e.T, e.Wall, string(e.Kind), string(e.Data))
	require.NoError(t, err)
	_, err = db.Exec(`UPDATE sessions SET stale = 1 WHERE id = ?`, e.Session)
	require.NoError(t, err)
}

// looked asks for every page of a practice.
func looked(t *testing.T, o *practicetest.Opened, plan, dog string) {
	t.Helper()
	today, err := o.Today(ctx)
	require.NoError(t, err)
	_ = today
	_, err = o.Dog(ctx, dog)
	require.NoError(t, err)
	_, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	_, err = o.Week(ctx, "")
	require.NoError(t, err)
	_, err = o.Settings(ctx)
	require.NoError(t, err)
	_, err = o.Verdicts(ctx, plan, false)
	require.NoError(t, err)
	_, err = o.Field(ctx)
	require.NoError(t, err)
	_, err = o.Pack(ctx, plan)
	require.NoError(t, err)
}

// The two events that once took every page down: a note without an object, and an amend of it.
func TestANoteOfNullAndItsAmendStopNothing(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	o.End(t, h, at, session.Closing{})
	for n, kind := range []string{
		"note", "trial", "pay", "open", "cue", "state", "end", "food", "warmup", "trigger", "tally", "help", "unlogged",
		"exposure",
	} {
		target := fmt.Sprintf("00000000-0000-7000-8000-00000000%04d", n)
		e := record.Event{
			ID: target, Session: h.Session, Dev: "older", Seq: int64(2*n + 1), T: at + 1, Wall: 1, Kind: record.Kind(kind),
			Data: json.RawMessage(`null`),
		}
		planted(t, o, e)
		d := record.NewDraft(record.KAmend, record.AmendData{
			Target: target,
			Set: map[string]json.RawMessage{
				"text": json.RawMessage(`"x"`), "outcome": json.RawMessage(`5`), "state": json.RawMessage(`9`),
				"n": json.RawMessage(`2`),
			},
		})
		e.ID, e.Seq, e.Kind, e.Data = fmt.Sprintf("00000000-0000-7000-8000-00000001%04d", n), e.Seq+1, d.Kind, d.Data
		planted(t, o, e)
	}
	verdict := record.Event{
		ID: "00000000-0000-7000-8000-000000020000", Session: h.Session, Dev: "older", Seq: 900, T: at + 2, Wall: 1,
		Kind: record.KVerdict,
	}
	for n, data := range []string{
		`{"advice":"repeat","deed":"repeat","rule":5,"reasons":{}}`,
		`{"advice":"repeat","deed":"repeat","rule":{"kind":"gate"},"reasons":[5],"reads":["x"]}`,
		`{"advice":"held","deed":"held","reasons":"x"}`,
	} {
		verdict.ID, verdict.Seq, verdict.Data = fmt.Sprintf("00000000-0000-7000-8000-00000002%04d", n), 900+int64(n), json.RawMessage(data)
		planted(t, o, verdict)
	}
	o.CatchUp(t)
	looked(t, o, plan, dog)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.NotEmpty(t, v.Table)
}

// A session that cannot be read is set aside and named; everything else goes on, and what can be read comes back.
func TestASessionThatCannotBeReadIsSetAside(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	good := o.Session(t, plan, session.Choice{})
	o.End(t, good, sessiontest.Hold(good, 1000, 5, 2000, work.Main), session.Closing{})
	o.Clock.Add(time.Hour)
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{})
	o.Unreadable(func(e record.Event) bool { return e.Kind == "unheard" })
	planted(t, o, record.Event{
		ID: "00000000-0000-7000-8000-0000000000aa", Session: h.Session, Dev: "older", Seq: 1, T: 5, Wall: 1, Kind: "unheard",
		Data: json.RawMessage(`{}`),
	})
	o.CatchUp(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Aside, 1)
	require.Equal(t, h.Session, today.Aside[0].ID)
	require.Contains(t, today.Aside[0].What, "Tansy · Session of 23 Nov 2026")
	looked(t, o, plan, dog)
	_, err = o.Review(ctx, h.Session)
	require.ErrorIs(t, err, derive.ErrAside)
	log, err := o.SessionLog(ctx, h.Session, 0)
	require.NoError(t, err)
	require.NotEmpty(t, log.Aside)
	require.Len(t, log.Rows, log.All)
	p, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, p.Sessions, 1, "the other one counts")

	left, err := o.Salvage(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, 1, left)
	o.CatchUp(t)
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.Aside)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, v.Table, 5)
	log, err = o.SessionLog(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Equal(t, 1, log.Left)
	since, err := o.EventsSince(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Len(t, since.Events, log.All-1, "another phone is not given what cannot be read")
}

// A pack waits for what it depends on, and says how far it has read; pages show what is there.
func TestAPackNeverRestsOnWhatIsBehind(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	_, err := o.Practice.Receive(ctx, h.Events)
	require.NoError(t, err)
	_, err = o.Pack(ctx, plan)
	require.ErrorIs(t, err, derive.ErrBehind)
	_, err = o.Verdicts(ctx, plan, false)
	require.ErrorIs(t, err, derive.ErrBehind)
	_, err = o.Outlook(ctx, forecasts.Ask{Plan: plan})
	require.ErrorIs(t, err, derive.ErrBehind)
	_, err = o.AddSheet(ctx, dog, form.Typed{})
	require.ErrorIs(t, err, derive.ErrBehind)
	f, err := o.Field(ctx)
	require.NoError(t, err)
	require.Empty(t, f.Packs, "a phone goes on with its own")
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, v.Sessions)
	r, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, r.Table, 5, "a running session's own page is current at once")
	o.CatchUp(t)
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	last := h.Events[len(h.Events)-1]
	require.Equal(t, map[string]map[string]int64{h.Session: {last.Dev: last.Seq}}, pack.Read)
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Sessions, 1, "and its page is made anew")
}

// What is read in the background forgets the pages of the dogs that it touches, and no others.
func TestReadingForgetsOnlyThePagesItTouches(t *testing.T) {
	o := practicetest.Demo(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	one, other := today.Next[0], today.Next[1]
	for _, row := range today.Next {
		if row.DogID != one.DogID {
			other = row
		}
	}
	require.NotEqual(t, one.DogID, other.DogID)
	before, err := o.Plan(ctx, other.ID)
	require.NoError(t, err)
	v, err := o.Plan(ctx, one.ID)
	require.NoError(t, err)
	changed, err := o.Reread(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.True(t, changed)
	after, err := o.Plan(ctx, other.ID)
	require.NoError(t, err)
	require.Same(t, &before.Steps[0], &after.Steps[0], "the very view that was made before")
	again, err := o.Plan(ctx, one.ID)
	require.NoError(t, err)
	require.NotSame(t, &v.Steps[0], &again.Steps[0])
}

// Many who look while much is read: nobody waits for it, nobody sees half of it, and at the end all is up to date.
func TestReadingGoesOnWhilePagesAreShown(t *testing.T) {
	o := practicetest.Demo(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.NoError(t, o.Behind(ctx))
	o.KeepUp(t)
	var all sync.WaitGroup
	for range 3 {
		all.Go(func() {
			for _, row := range today.Next {
				if _, err := o.Plan(ctx, row.ID); err != nil {
					t.Errorf("plan: %v", err)
				}
				if _, err := o.Pack(ctx, row.ID); err != nil && !isBehind(err) {
					t.Errorf("pack: %v", err)
				}
			}
		})
	}
	all.Wait()
	require.Eventually(t, func() bool {
		sessions, plans, err := o.Store.Read().Behind(ctx)
		return err == nil && sessions+plans == 0
	}, 60*time.Second, 10*time.Millisecond)
}

func isBehind(err error) bool { return err != nil && err.Error() == derive.ErrBehind.Error() }

// Sessions that were run without a signal and each made steps of the same plan are read together, and every step is in the plan.
func TestStepsMadeInSeveralSessionsAreAllTaken(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	var events []record.Event
	for n := range 3 {
		h := o.Session(t, plan, session.Choice{})
		place := h.Run.Session().At.Position
		last := h.Run.Session().At.Steps[2]
		made := last
		made.ID, made.Criteria = fmt.Sprintf("00000000-0000-7000-8000-00000000000%d", n+1), last.Criteria.With("duration", 5+float64(n)/2)
		h.Do(2000, []record.Draft{
			record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: made.ID, Why: "split", New: &made, Above: last.ID}),
		})
		events = append(events, h.Events...)
		o.Clock.Add(time.Minute)
	}
	_, err := o.Receive(ctx, events)
	require.NoError(t, err)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Steps, 6)
	require.Equal(t, 4, v.Version)
}
