package practice_test

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practicetest"
	"patientfox/internal/randomlog"
	"patientfox/internal/sessiontest"
)

var ctx = context.Background()

// invalid asserts that an error names these fields.
func invalid(t *testing.T, err error, fields ...string) {
	t.Helper()
	var bad *form.Invalid
	require.ErrorAs(t, err, &bad)
	for _, field := range fields {
		require.NotEmpty(t, bad.Problems[field], "no problem at %s: %v", field, bad.Problems)
	}
	require.Len(t, bad.Problems, len(fields), bad.Problems)
}

// problem is what an error says beside a field; "" for nothing.
func problem(err error, field string) string {
	var bad *form.Invalid
	if !errors.As(err, &bad) {
		return ""
	}
	return bad.Problems[field]
}

func TestASetOfFiveOpensTheNextSessionOneStepUp(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	h.Press(work.Main, at)
	o.End(t, h, at+1000, session.Closing{Unlogged: "0", Reason: "done"})
	o.Clock.Add(24 * time.Hour)

	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, v.Row.At)
	require.Len(t, v.Points, 1)
	require.True(t, v.Points[0].Full)
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, v.Steps[1].ID, pack.Position.Reached)
	require.Equal(t, 1, pack.Days)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, "4 s, you beside", today.Next[0].Step)
}

func TestEvidenceGathersOverSessionsAndEndsWithTheCriteria(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6")
	for range 2 {
		h := o.Session(t, plan, session.Choice{})
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		o.End(t, h, sessiontest.Hold(h, at, 1, 500, work.MissKey), session.Closing{Unlogged: "2"})
		o.Clock.Add(24 * time.Hour)
	}
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 6, v.Evidence.Met)
	require.Equal(t, 8, v.Evidence.N)
	require.Equal(t, "67 % logged, about 4 not.", v.Evidence.Coverage)

	step := v.Steps[0]
	edit := form.Typed{"op": "save", "step": step.ID, "version": "1", "duration": "3", "handler": "0"}
	require.NoError(t, o.EditSteps(ctx, plan, edit))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.True(t, v.Evidence.None, "other criteria, other evidence")
	require.Len(t, v.Points, 2, "the way stays drawn")
}

func TestAPlanEditedWhileItsSessionRunsKeepsTheSessionOnItsVersion(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6")
	h := o.Session(t, plan, session.Choice{})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "save", "step": v.Steps[0].ID, "version": "1", "duration": "60"}))
	require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "remove", "step": v.Steps[1].ID, "version": "2"}))
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	h.Press(work.Main, at) // up to the step that is gone by now
	o.End(t, h, at+1000, session.Closing{})
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "100 %", review.Strict, "two seconds were asked when it ran")
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 1, v.Row.At, "the step reached is gone: the nearest below it that is there")
}

func TestASplitMadeInTheFieldBecomesAVersion(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 8")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	h.Press(work.Main, at)
	for range 3 {
		at = sessiontest.Hold(h, at+1000, 4, 8000, work.Main)
		at = sessiontest.Hold(h, at, 1, 1000, work.MissKey)
	}
	h.Press(work.Main, at)
	o.End(t, h, at+1000, session.Closing{})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Steps, 3)
	require.Equal(t, "4 s · you beside", v.Steps[1].Short)
	require.Equal(t, 2, v.Version)
	require.Equal(t, 3, v.Row.At, "the step reached is the one that was split, and stays reached")
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, v.Version, "a rebuild makes no further version")
}

func TestANewPlaceAndALongPauseOpenLower(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the net shed"}))
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the north quay"}))
	settings, err := o.Settings(ctx)
	require.NoError(t, err)
	shed, quay := settings.Places[0].ID, settings.Places[1].ID
	plan, _ := o.LayOut(t, "1, 2, 3, 4, 5, 6, 7, 8, 9, 10")
	h := o.Session(t, plan, session.Choice{Place: shed})
	at := int64(1000)
	for i := range 6 {
		at = sessiontest.Hold(h, at, 5, int64(i+1)*1000, work.Main)
		h.Press(work.Main, at)
		at += 1000
	}
	o.End(t, h, at, session.Closing{})
	o.Clock.Add(9 * 24 * time.Hour)
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	run, err := session.Open(pack)
	require.NoError(t, err)
	require.Contains(t, screen.Of(run).Setup(session.Choice{Place: shed}).Start, "one step down: 9 days")
	require.Contains(t, screen.Of(run).Setup(session.Choice{Place: quay}).Start, "three steps down: 9 days")
}

func TestADeletedSessionCountsNowhereAndComesBack(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	o.End(t, h, at, session.Closing{Take: true})
	at2 := func() int {
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		return v.Row.At
	}
	require.Equal(t, 2, at2())
	require.NoError(t, o.DeleteSession(ctx, h.Session, true))
	require.Equal(t, 1, at2())
	// A late event of a session that was put away is still kept.
	late := h.Do(at+99000, []record.Draft{record.NewDraft(record.KNote, record.NoteData{Text: "late"})})
	receipts, err := o.Receive(ctx, late)
	require.NoError(t, err)
	require.Equal(t, record.Stored, receipts[0].Result)
	require.NoError(t, o.DeleteSession(ctx, h.Session, false))
	require.Equal(t, 2, at2())
}

func TestReceivingAnswersEachEvent(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 2, 2000, work.Main)
	bad := h.Events[3]
	bad.ID, bad.T = app.NewID(), -5
	stranger := h.Events[1]
	stranger.ID, stranger.Data = app.NewID(), json.RawMessage(`{"plan":"nobody's"}`)
	changed := h.Events[0]
	changed.Wall++
	batch := append(append([]record.Event{}, h.Events...), bad, h.Events[2], changed, stranger)
	receipts, err := o.Receive(ctx, batch)
	require.NoError(t, err)
	n := len(h.Events)
	for _, r := range receipts[:n] {
		require.Equal(t, record.Stored, r.Result)
	}
	require.Equal(t, derive.Refused, receipts[n].Result)
	require.NotEmpty(t, receipts[n].Why)
	require.Equal(t, record.Duplicate, receipts[n+1].Result)
	require.Equal(t, record.Conflict, receipts[n+2].Result)
	require.Equal(t, derive.Refused, receipts[n+3].Result)
	events, aside, err := o.Store.Read().EventCount(ctx)
	require.NoError(t, err)
	require.Equal(t, n, events)
	require.Equal(t, 1, aside)
}

func TestEventsInAnyOrderDeriveTheSame(t *testing.T) {
	plain, shuffled := practicetest.Demo(t), practicetest.Demo(t)
	today, err := plain.Today(ctx)
	require.NoError(t, err)
	plan := today.Next[0].ID
	h := plain.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 12, 3000, work.Main)
	_, err = plain.Receive(ctx, h.Events)
	require.NoError(t, err)
	for _, e := range randomlog.Shuffle(5, h.Events) {
		_, err := shuffled.Receive(ctx, []record.Event{e})
		require.NoError(t, err)
		_, err = shuffled.Today(ctx) // folds what is there so far
		require.NoError(t, err)
	}
	a, err := plain.Review(ctx, h.Session)
	require.NoError(t, err)
	b, err := shuffled.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, a, b)
}

func TestTheDemoIsRebuiltEqual(t *testing.T) {
	o := practicetest.Demo(t)
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
	require.Greater(t, rebuilt.Sessions, 60)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, today.Next)
	require.NotEmpty(t, today.Done)
	require.NotEmpty(t, today.Decide)
}

func TestBadFormsNameTheirFieldsAndSaveNothing(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	_, err := o.AddDog(ctx, form.Typed{"name": "  ", "born": "tomorrow", "weight_kg": "a lot", "notes": strings.Repeat("x", 10001)})
	invalid(t, err, "name", "born", "weight_kg", "notes")
	_, err = o.AddDog(ctx, form.Typed{"name": "\u200b\u2060", "born": "2030-01-01", "weight_kg": "1e9"})
	invalid(t, err, "name", "born", "weight_kg")
	_, err = o.AddDog(ctx, form.Typed{"name": strings.Repeat("n", 81), "weight_kg": "-3"})
	invalid(t, err, "name", "weight_kg")
	_, err = o.AddPlan(ctx, dog, form.Typed{
		"skill": "", "kind": "flying", "leg1_make": "figures", "leg1_what": "duration", "leg1_items": "ten",
	})
	invalid(t, err, "skill", "kind", "leg1_items", "position")
	_, err = o.AddPlan(ctx, dog, form.Typed{
		"skill": "Chin rest", "kind": "held", "position": "chin on the palm", "leg1_make": "figures", "leg1_what": "duration",
		"leg1_items": "4, 2",
	})
	invalid(t, err, "leg1_items")
	_, err = o.AddPlan(ctx, dog, form.Typed{
		"skill": "Recall", "kind": "cued", "position": "comes", "leg1_make": "ramp", "leg1_what": "handler", "leg1_to": "1e9",
		"latency_s": "-3",
	})
	invalid(t, err, "leg1_to", "latency_s")
	_, err = o.AddPlan(ctx, dog, form.Typed{"skill": "wait at the RAMP", "kind": "cued", "leg1_make": "count_up", "leg1_to": "3"})
	invalid(t, err, "kind")
	_, err = o.AddPlan(ctx, "nobody", form.Typed{"skill": "Wait", "kind": "held", "position": "x", "leg1_make": "count_up", "leg1_to": "3"})
	require.ErrorIs(t, err, app.ErrNotFound)
	_, err = o.Plan(ctx, "nothing")
	require.ErrorIs(t, err, app.ErrNotFound)

	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	save := form.Typed{"op": "save", "step": v.Steps[0].ID, "version": "1", "duration": "-3", "trigger": "1e9", "intensity": "ten"}
	invalid(t, o.EditSteps(ctx, plan, save), "duration", "trigger", "intensity")
	invalid(t, o.EditSteps(ctx, plan, form.Typed{"op": "remove", "step": "gone", "version": "1"}), "step")
	rule := form.Typed{"kind": "set", "size": "5", "up": "9", "back": "2", "split_after": "3", "miss_guard": "2", "version": "1"}
	invalid(t, o.SaveRule(ctx, plan, rule), "up")
	invalid(t, o.SaveDefinition(ctx, plan, form.Typed{"position": " ", "version": "1"}), "position")
	invalid(t, o.SaveSettings(ctx, form.Typed{"name": "", "zone": "Harbour/Town"}), "name", "zone")
	again, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, v, again)
}

func TestNamesOfEveryScript(t *testing.T) {
	o := practicetest.Empty(t)
	for _, name := range []string{"🦊", "שועל", "Žofie–Řáda", "<script>alert(1)</script>"} {
		id, err := o.AddDog(ctx, form.Typed{"name": name, "notes": strings.Repeat("ñ🐾", 5000)})
		require.NoError(t, err)
		v, err := o.Dog(ctx, id)
		require.NoError(t, err)
		require.Equal(t, name, v.Name)
		require.Len(t, []rune(v.Notes), 10000)
	}
}

func TestTheSameFormTwiceIsSavedOnce(t *testing.T) {
	o := practicetest.Empty(t)
	shown := form.Typed{"name": "Brine", "key": app.NewID()}
	first, err := o.AddDog(ctx, shown)
	require.NoError(t, err)
	second, err := o.AddDog(ctx, shown)
	require.NoError(t, err)
	require.Equal(t, first, second)
	v, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, v.Dogs, 1)
}

func TestTwoEditorsAreToldOfEachOther(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4")
	mine, _, err := o.DogForm(ctx, dog)
	require.NoError(t, err)
	theirs, _, err := o.DogForm(ctx, dog)
	require.NoError(t, err)
	theirs["name"] = "Tansy B."
	require.NoError(t, o.SaveDog(ctx, dog, theirs))
	mine["notes"] = "loves bait boxes"
	var conflict *form.Conflict
	require.ErrorAs(t, o.SaveDog(ctx, dog, mine), &conflict)
	require.Equal(t, "Tansy B.", conflict.Now["name"])
	mine["version"] = conflict.Now["version"]
	require.NoError(t, o.SaveDog(ctx, dog, mine))

	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	edit := form.Typed{"op": "add", "step": v.Steps[1].ID, "version": "1"}
	require.NoError(t, o.EditSteps(ctx, plan, edit))
	require.ErrorAs(t, o.EditSteps(ctx, plan, edit), &conflict)
	undo := form.Typed{"back_to": "1", "version": "2"}
	require.NoError(t, o.RestoreSteps(ctx, plan, undo))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Steps, 2)
}

func TestDogsAreListedAPageAtATime(t *testing.T) {
	o := practicetest.Empty(t)
	for i := range 60 {
		_, err := o.AddDog(ctx, form.Typed{"name": "Quill " + string(rune('A'+i%26))})
		require.NoError(t, err)
	}
	seen, after, pages := map[string]bool{}, "", 0
	for {
		v, err := o.Dogs(ctx, after)
		require.NoError(t, err)
		require.LessOrEqual(t, len(v.Dogs), 25)
		for _, d := range v.Dogs {
			require.False(t, seen[d.ID])
			seen[d.ID] = true
		}
		if pages++; v.Next == "" {
			break
		}
		after = v.Next
	}
	require.Len(t, seen, 60)
	require.Equal(t, 3, pages)
}

func TestSessionsAreListedToTheFirst(t *testing.T) {
	o := practicetest.Demo(t)
	dogs, err := o.Dogs(ctx, "")
	require.NoError(t, err)
	for _, d := range dogs.Dogs {
		seen, before := map[string]bool{}, ""
		for {
			v, err := o.Sessions(ctx, d.ID, before)
			require.NoError(t, err)
			require.LessOrEqual(t, len(v.Sessions), 25)
			for _, s := range v.Sessions {
				require.False(t, seen[s.ID])
				seen[s.ID] = true
			}
			if before = v.Next; before == "" {
				break
			}
		}
		all := map[string]bool{} // a session can hold several plans
		page, err := o.Dog(ctx, d.ID)
		require.NoError(t, err)
		for _, row := range page.Plans {
			plan, err := o.Plan(ctx, row.ID)
			require.NoError(t, err)
			for _, s := range plan.Sessions {
				all[s.ID] = true
			}
		}
		require.Equal(t, all, seen, d.Name)
	}
	_, err = o.Sessions(ctx, dogs.Dogs[0].ID, "x.y")
	require.ErrorIs(t, err, app.ErrNotFound)
}

func TestDaysAreCountedInThePracticesZone(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SaveSettings(ctx, form.Typed{"name": "Kittiwake Quay", "zone": "Pacific/Auckland", "version": "1"}))
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{}) // 15:00 UTC is the next day there
	o.End(t, h, sessiontest.Hold(h, 1000, 1, 2000, work.Main), session.Closing{})
	_, err := o.Today(ctx)
	require.NoError(t, err)
	s, err := o.Store.Read().Session(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "2026-11-24", s.Day)
}
