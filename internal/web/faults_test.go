package web_test

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/store"
)

// With a full disk every page is shown, what was typed stays in its form with a sentence that says why, events are told,
// /healthz says it, and all goes on when there is room.
func TestAFullDisk(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{})
	s := serve(t, o)
	pages := []string{
		"/", "/dogs", "/dogs/" + dog, "/plans/" + plan, "/plans/" + plan + "/verdicts", "/plans/" + plan + "/evidence", "/week",
		"/settings", "/sessions/" + h.Session, "/sessions/" + h.Session + "/log", "/api/packs/" + plan, "/api/field",
	}
	for _, path := range pages {
		require.Equal(t, 200, s.get(path).Status, path)
	}
	for round := range asked("PATIENTFOX_FULL", 1) {
		require.NoError(t, o.Store.Full(ctx, true))
		for _, path := range pages {
			require.Equal(t, 200, s.get(path).Status, path)
		}
		notes := strings.Repeat("salt ", 1900)
		a := s.post("/dogs/new", "/dogs", map[string]string{"name": "Brine", "notes": notes})
		require.Equal(t, 507, a.Status)
		require.Contains(t, a.Body, "The disk is full, so nothing was saved.")
		require.Contains(t, a.Body, `value="Brine"`)
		require.Contains(t, a.Body, strings.TrimSpace(notes))
		big := make([]record.Event, 100)
		for i := range big {
			big[i] = record.Event{
				V: 1, ID: app.NewID(), Session: h.Session, Dev: "phone", Seq: int64(1000 + 100*round + i), T: 1, Kind: record.KNote,
				Data: json.RawMessage(fmt.Sprintf(`{"text":%q}`, strings.Repeat("n", 2000))),
			}
		}
		raw, err := json.Marshal(map[string]any{"events": big})
		require.NoError(t, err)
		a = s.do("POST", "/api/events", strings.NewReader(string(raw)), "Content-Type", "application/json", "X-Patient-Fox", "1")
		require.Equal(t, 507, a.Status)
		require.Contains(t, a.Body, "The disk is full")
		require.Contains(t, s.get("/healthz").Body, "degraded: The disk is full")
		require.Contains(t, s.get("/").Body, "The disk is full.")
		require.NoError(t, o.Store.Full(ctx, false))
		require.NoError(t, o.Store.Probe(ctx))
		require.Equal(t, "ok\n", s.get("/healthz").Body)
		require.NotContains(t, s.get("/").Body, "The disk is full.")
		require.Equal(t, 303, s.post("/dogs/new", "/dogs", map[string]string{"name": "Brine"}).Status)
	}
}

// A disk that takes nothing leaves reading alone too.
func TestADiskThatCannotBeWrittenTo(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	s := serve(t, o)
	require.NoError(t, o.Store.ReadOnly(ctx, true))
	for _, path := range []string{"/", "/dogs", "/plans/" + plan, "/settings", "/api/packs/" + plan} {
		require.Equal(t, 200, s.get(path).Status, path)
	}
	a := s.post("/dogs/new", "/dogs", map[string]string{"name": "Brine"})
	require.Equal(t, 503, a.Status)
	require.Contains(t, a.Body, "The disk cannot be written to, so nothing was saved.")
	require.Contains(t, a.Body, `value="Brine"`)
	require.Contains(t, s.get("/healthz").Body, "degraded: The disk cannot be written to")
	require.NoError(t, o.Store.ReadOnly(ctx, false))
	o.KeepUp(t)
	require.Eventually(t, func() bool { return s.get("/healthz").Body == "ok\n" }, 20*time.Second, 50*time.Millisecond,
		"it recovers by itself")
}

// What the daily check finds is shown on Today, and the pages go on.
func TestADamagedFileIsSaidOnToday(t *testing.T) {
	o := practicetest.Demo(t)
	s := serve(t, o)
	require.NoError(t, o.Store.Check(ctx))
	require.NotContains(t, s.get("/").Body, "is damaged")
	file, err := os.OpenFile(o.Store.Path(), os.O_RDWR, 0)
	require.NoError(t, err)
	info, err := file.Stat()
	require.NoError(t, err)
	_, err = file.WriteAt(make([]byte, 16384), info.Size()/8192*4096) // some pages in the middle
	require.NoError(t, err)
	require.NoError(t, file.Close())
	require.ErrorIs(t, o.Store.Check(ctx), app.ErrDamaged)
	a := s.get("/")
	require.Equal(t, 200, a.Status)
	require.Contains(t, a.Body, "The database file is damaged")
	require.Contains(t, s.get("/healthz").Body, "degraded: The database file is damaged")
}

func TestBeingReadAnewIsSaidAndAnsweredSoon(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	_, err := o.Practice.Receive(ctx, h.Events)
	require.NoError(t, err)
	s := serve(t, o)
	a := s.get("/api/packs/" + plan)
	require.Equal(t, 503, a.Status)
	require.Equal(t, "1", a.Header.Get("Retry-After"))
	require.Contains(t, a.Body, "being read anew")
	a = s.get("/plans/" + plan + "/verdicts")
	require.Equal(t, 503, a.Status)
	require.Equal(t, "2", a.Header.Get("Refresh"), "the page shows itself as soon as it can")
	require.JSONEq(t, `{"done":0,"total":0}`, s.get("/api/reading").Body)
	o.CatchUp(t)
	require.Equal(t, 200, s.get("/api/packs/"+plan).Status)
}

// A session of 40 000 events is paged, not drawn.
func TestAnEndlessSessionIsPaged(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 1, 2000, work.Main)
	last := h.Events[len(h.Events)-1]
	events := h.Events
	for n := int64(1); len(events) < endless; n++ {
		d := []record.Draft{
			record.NewDraft(record.KCue, record.CueData{N: 1}), record.NewDraft(record.KTrial, record.TrialData{Outcome: "met"}),
			record.NewDraft(record.KPay, record.PayData{Pieces: 1}), record.NewDraft(record.KNote, record.NoteData{Text: "again"}),
		}[n%4]
		events = append(events, record.Event{
			V: 1, ID: app.NewID(), Session: h.Session, Dev: last.Dev, Seq: last.Seq + n, T: last.T + n*500, Wall: last.Wall,
			Kind: d.Kind, Data: d.Data,
		})
	}
	require.NoError(t, o.Store.Write(ctx, func(q store.Q) error {
		if err := q.EnsureSession(ctx, h.Session); err != nil {
			return err
		}
		for _, e := range events {
			if _, err := q.AddEvent(ctx, e, 1); err != nil {
				return err
			}
		}
		return q.WorksOn(ctx, h.Session, plan)
	}))
	o.CatchUp(t)
	s := serve(t, o)
	for _, path := range []string{"", "?all=1", "?all=1&from=9000", "/log", "/log?after=20000"} {
		a := s.get("/sessions/" + h.Session + path)
		require.Equal(t, 200, a.Status, path)
		require.Less(t, len(a.Body), 700<<10, "%s has %d KB", path, len(a.Body)>>10)
	}
	require.Contains(t, s.get("/sessions/"+h.Session).Body, "too many for a picture")
	require.Contains(t, s.get("/sessions/"+h.Session+"/log").Body, "Next page")
}

func TestBadChoicesAndRepeatedFormsAreSaid(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 3, 2000, work.MissKey), session.Closing{})
	s := serve(t, o)
	require.Equal(t, 303, s.post("/dogs/"+dog+"/rewards", "/dogs/"+dog+"/rewards", map[string]string{"name": "Sprats", "kind": "food"}).Status)
	v, err := o.Rewards(ctx, dog)
	require.NoError(t, err)
	reward := v.Tiers[len(v.Tiers)-1].Rewards[0].ID
	for _, bad := range []string{"6", "-1", "x", "5.5", "9999999999999999999"} {
		a := s.post("/dogs/"+dog+"/rewards", "/dogs/"+dog+"/rewards/today", map[string]string{"reward": reward, "tier": bad})
		require.Equal(t, 422, a.Status, bad)
		require.Contains(t, a.Body, "Choose one of the list.", bad)
	}
	r, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	long := strings.Repeat("sat, then lay down; ", 10)
	a := s.post("/sessions/"+h.Session, "/sessions/"+h.Session+"/correct",
		map[string]string{"trial": r.Table[1].ID, "outcome": "missed", "instead": long})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, strings.TrimSpace(long), "what was typed comes back")
	a = s.post("/sessions/"+h.Session, "/sessions/"+h.Session+"/correct", map[string]string{"trial": r.Table[1].ID, "outcome": "splendid"})
	require.Equal(t, 422, a.Status)

	first := map[string]string{"name": "Quill", "key": "one-form"}
	require.Equal(t, 303, s.post("/dogs/new", "/dogs", first).Status)
	require.Equal(t, 303, s.post("/dogs/new", "/dogs", first).Status, "twice the same is once")
	a = s.post("/dogs/new", "/dogs", map[string]string{"name": "Pilchard", "key": "one-form"})
	require.Equal(t, 409, a.Status)
	require.Contains(t, a.Body, `value="Pilchard"`)
	require.Contains(t, a.Body, "saved before, and says something else now")
	dogs, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, dogs.Dogs, 2)
}

// The words of a list come back as they were typed, and the step beside them keeps its figures.
func TestTheWordsOfAListComeBack(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Into the crate", "kind": "cued", "position": "all four feet in", "cue": "“in”", "leg1_make": "fade",
		"leg1_what": "help", "leg1_items": "lure, empty hand, none", "latency_s": "3",
	})
	require.NoError(t, err)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	s := serve(t, o)
	typed := "the first word\n" + strings.Repeat("a word that is far too long for a list of this kind ", 9)
	a := s.post("/plans/"+plan, "/plans/"+plan+"/steps", map[string]string{
		"op": "list", "list": "help", "step": v.Steps[1].ID, "version": fmt.Sprint(v.Version), "items": typed,
	})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, strings.TrimSpace(typed))
	require.Contains(t, a.Body, "Change the words of")
}

// Pages show names as they were typed.
func TestNamesAreShownAsTyped(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "ÜBER the Gangway, “NOW”", "kind": "held", "position": "all four feet", "cue": "“wait”", "leg1_make": "figures",
		"leg1_what": "duration", "leg1_items": "2, 4",
	})
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{})
	s := serve(t, o)
	for _, path := range []string{"/", "/dogs/" + dog, "/plans/" + plan, "/sessions/" + h.Session} {
		require.Contains(t, s.get(path).Body, "ÜBER the Gangway, “NOW”", path)
	}
}
