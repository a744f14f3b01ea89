package practice_test

import (
	"fmt"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/lookback"
	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/sessions"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

func field(t *testing.T, fields []sessions.CorrectField, name string) sessions.CorrectField {
	t.Helper()
	for _, one := range fields {
		if one.Name == name {
			return one
		}
	}
	require.Fail(t, "there is no field", name)
	return sessions.CorrectField{}
}

// Everything that was logged of a trial can be corrected, and the correction taken back with all that it changed.
func TestEverythingOfATrialCanBeCorrected(t *testing.T) {
	v, o, h := reviewed(t, func(h *session.Hand) int64 { return sessiontest.Hold(h, 1000, 3, 2000, work.Main) }, session.Closing{Take: true})
	require.False(t, v.Corrected)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale"}))
	people, err := o.Settings(ctx)
	require.NoError(t, err)
	jorun := people.People[1].ID
	id := v.Table[1].ID
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "held_s": "0,5", "handler": jorun, "pieces": "4"}))
	again := func() sessions.ReviewView {
		t.Helper()
		v, err := o.Review(ctx, h.Session)
		require.NoError(t, err)
		return v
	}
	v = again()
	require.Equal(t, "let_go", v.Table[1].Outcome, "half a second of two: ended early")
	require.Equal(t, "4 treats", v.Table[1].Paid)
	require.Equal(t, jorun, field(t, v.Corrections(id), "handler").Value)
	require.True(t, v.Corrected)
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "pieces": "0"}))
	require.Equal(t, "–", again().Table[1].Paid)
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	o.CatchUp(t)
	require.Equal(t, "4 treats", again().Table[1].Paid)
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	o.CatchUp(t)
	v = again()
	require.Equal(t, "met", v.Table[1].Outcome)
	require.Equal(t, "1 treat", v.Table[1].Paid)
	require.False(t, v.Corrected)
	require.ErrorIs(t, o.Uncorrect(ctx, h.Session), app.ErrNotFound)
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "held_s": "0.5"}))
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "outcome": "met"}), "outcome")
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "outcome": "met", "held_s": "2"}))
	require.Equal(t, "met", again().Table[1].Outcome)
	for name, value := range map[string]string{"held_s": "long", "handler": "nobody", "pieces": "−1", "outcome": "splendid"} {
		invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, name: value}), name)
	}
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
}

// A trial that was forgotten is put in at its moment: it counts, and takes nothing from the trials around it.
func TestAForgottenTrialIsPutIn(t *testing.T) {
	v, o, h := reviewed(t, func(h *session.Hand) int64 { return sessiontest.Hold(h, 1000, 2, 2000, work.Main) }, session.Closing{})
	put := v.Puts[0]
	before := v.Table
	typed := form.Typed{"in": put.Block, "at": "0:04", "step": put.Step, "outcome": "met", "held_s": "2.5", "pieces": "2"}
	require.NoError(t, o.Put(ctx, h.Session, typed))
	o.CatchUp(t)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, v.Table, 3)
	require.Equal(t, "met", v.Table[1].Outcome)
	require.Equal(t, "2 treats", v.Table[1].Paid)
	require.Contains(t, v.Table[1].Note, "put in later")
	for i, was := range before {
		now := v.Table[2*i]
		now.Number = was.Number
		require.Equal(t, was, now, "the others are as they were")
	}
	typed["held_s"], typed["at"] = "0.4", "0:05"
	require.NoError(t, o.Put(ctx, h.Session, typed))
	o.CatchUp(t)
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "let_go", v.Table[2].Outcome, "a tap never beats a measure upwards")
	for name, value := range map[string]string{"at": "noon", "step": "none", "held_s": "x"} {
		wrong := form.Typed{"in": put.Block, "at": "0:04", "step": put.Step, "outcome": "met", name: value}
		invalid(t, o.Put(ctx, h.Session, wrong), name)
	}
	require.ErrorIs(t, o.Put(ctx, h.Session, form.Typed{"in": "no block"}), app.ErrNotFound)
}

// An exposure's state, site and seconds are corrected too.
func TestExposuresAreCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Ear drops", "kind": "handling", "position": "keeps its chin down", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "shoulder\near", "leg1_tools": "fingers\nthe closed tool",
	})
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.MetKey, 4000)
	h.Press(work.TakeKey, 6000)
	h.Press(work.MetKey, 8000)
	o.End(t, h, 9000, session.Closing{})
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	id := v.Table[0].ID
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "state": "3", "site": "left ear", "pulled": "true", "taken": "true"}))
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "state3", v.Table[0].Outcome)
	require.Contains(t, v.Table[0].Measure, "left ear, taken, pulled away")
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "state": "7"}), "state")
	require.Contains(t, v.Table[1].Measure, "taken")
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": v.Table[1].ID, "taken": ""}))
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Contains(t, v.Table[1].Measure, "offered", "what was said as the touch began is corrected too")
}

// A session that was left open is ended on its page.
func TestASessionLeftOpenIsEnded(t *testing.T) {
	o := practicetest.Demo(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	h := o.Session(t, today.Next[0].ID, session.Choice{})
	_, err = o.Receive(ctx, h.Events)
	require.NoError(t, err)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.True(t, v.Open)
	invalid(t, o.Practice.End(ctx, h.Session, form.Typed{"reason": "bored"}), "reason")
	require.NoError(t, o.Practice.End(ctx, h.Session, form.Typed{"reason": "weather"}))
	o.CatchUp(t)
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.False(t, v.Open)
}

// Where a treat went, how it was taken, what the set-up really was and what went wrong are corrected beside a trial; treats are put in
// by themselves, and a note, a state or a growl is taken back.
func TestWhatIsBesideATrialIsCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Come away", "kind": "cued", "position": "comes", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "2, 4, 8",
	})
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 2, 900, work.Main)
	h.Press(work.MissKey, at)
	h.Press(work.MistakeKey, at+200)
	h.Press("mistake:moved", at+400)
	h.Press(work.ArousalOf+"2", at+600)
	h.Press(work.GrowlKey, at+1000)
	h.Press(work.Noted+"2", at+2000)
	h.Do(at+3000, []record.Draft{record.NewDraft(record.KNote, record.NoteData{Text: "gulls, “two” 🐦"})})
	o.End(t, h, at+9000, session.Closing{})
	again := func() sessions.ReviewView {
		t.Helper()
		o.CatchUp(t)
		v, err := o.Review(ctx, h.Session)
		require.NoError(t, err)
		return v
	}
	v := again()
	require.Len(t, v.Notes, 4)
	shown, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Len(t, shown.Cautions, 1, "a growl is cautioned of on the dog's page")
	require.Contains(t, shown.Sessions[0].Line, "growled")
	met, missed := v.Table[0].ID, v.Table[2].ID
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": met, "pay_where": "low", "pay_taken": "slow", "worked_handler": "1.5"}))
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{
		"trial": missed, "errors": "wide, sat", "broke": "a gull", "source": "dog", "mistake": "late food", "prompts": "2",
		"prompt": "a lure, “low”", "recovery_s": "4.5",
	}))
	v = again()
	for name, want := range map[string]string{"mistake": "late food", "prompts": "2", "prompt": "a lure, “low”", "recovery_s": "4.5"} {
		require.Equal(t, want, field(t, v.Corrections(missed), name).Value, name)
	}
	require.Equal(t, "helped twice: a lure, “low”, in position again after 4 s, interrupted: a gull", v.Table[2].Measure)
	require.Contains(t, v.Table[2].Note, "my mistake: late food")
	for name, want := range map[string]string{"pay_where": "low", "pay_taken": "slow", "worked_handler": "1.5", "pieces": "1"} {
		require.Equal(t, want, field(t, v.Corrections(met), name).Value, name)
	}
	require.Contains(t, v.Table[0].Note, "not as planned", "a quarter nearer is another task")
	require.Equal(t, "wide, sat", field(t, v.Corrections(missed), "errors").Value)
	require.Equal(t, "a gull", field(t, v.Corrections(missed), "broke").Value)
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": met, "pieces": "3"}))
	v = again()
	require.Equal(t, "low", field(t, v.Corrections(met), "pay_where").Value, "more treats went to the same place")
	for name, value := range map[string]string{
		"pay_where": "nowhere", "pay_taken": "twice", "worked_handler": "far", "pieces": "101", "errors": "1,2,3,4,5,6,7",
		"mistake": "another", "prompts": "-1",
	} {
		invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": met, name: value}), name)
	}

	require.NoError(t, o.PutPay(ctx, h.Session, form.Typed{"at": "0:02", "pieces": "2"}))
	require.Equal(t, "5 treats, low, eaten slowly", again().Table[0].Paid)
	for _, wrong := range []form.Typed{{"at": "noon", "pieces": "1"}, {"at": "0:00", "pieces": "1"}, {"at": "9999:00", "pieces": "1"}} {
		invalid(t, o.PutPay(ctx, h.Session, wrong), "at")
	}
	invalid(t, o.PutPay(ctx, h.Session, form.Typed{"at": "0:02", "pieces": "0"}), "pieces")

	for n := len(v.Notes); n > 0; n-- {
		require.NoError(t, o.TakeBack(ctx, h.Session, again().Notes[0].ID))
		require.Len(t, again().Notes, n-1)
	}
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	require.Len(t, again().Notes, 1, "and an undo brings it back")
	require.ErrorIs(t, o.TakeBack(ctx, h.Session, met), app.ErrNotFound)
}

// What was noted beside the trials can be said otherwise: the state, how excited the dog was.
func TestNotesAreCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 1, 2500, work.Main)
	h.Press(work.Noted+"2", at)
	h.Press(work.ArousalOf+"2", at+500)
	h.Do(at+1000, []record.Draft{record.NewDraft(record.KDecoy, record.DecoyData{Reaction: "none"})})
	h.Do(at+2000, []record.Draft{record.NewDraft(record.KNote, record.NoteData{Text: "gulls"})})
	o.End(t, h, at+9000, session.Closing{})
	notes := func() []lookback.NoteLine {
		t.Helper()
		o.CatchUp(t)
		v, err := o.Review(ctx, h.Session)
		require.NoError(t, err)
		return v.Notes
	}
	for i, to := range []string{"0", "1", work.Withdraws} {
		note := notes()[i]
		require.NotEqual(t, to, note.Now)
		require.NoError(t, o.Renote(ctx, h.Session, note.ID, to))
		require.Equal(t, to, notes()[i].Now)
		require.NotEqual(t, note.Text, notes()[i].Text)
		require.ErrorIs(t, o.Renote(ctx, h.Session, note.ID, "9"), app.ErrNotFound)
	}
	require.ErrorIs(t, o.Renote(ctx, h.Session, notes()[3].ID, "0"), app.ErrNotFound, "words are taken back")
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	require.Equal(t, "none", notes()[2].Now)
}

// Each part of a trial is corrected by itself, and the trial is what its parts say.
func TestPhasesAreCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	require.NoError(t, o.SavePhases(ctx, plan, versioned(t, o, plan, form.Typed{
		"phase1": "on", "phase2": "worn", "phase_s2": "2", "phase3": "ON", "phase4": "off",
	})))
	h := o.Session(t, plan, session.Choice{})
	for _, at := range []int64{1000, 2000, 3000, 4000, 5000} { // worn for a second alone
		h.Press(work.Main, at)
	}
	o.End(t, h, 9000, session.Closing{})
	again := func() sessions.ReviewView {
		t.Helper()
		o.CatchUp(t)
		v, err := o.Review(ctx, h.Session)
		require.NoError(t, err)
		return v
	}
	v := again()
	id := v.Table[0].ID
	require.Equal(t, "let_go", v.Table[0].Outcome)
	require.Equal(t, []string{"on", "worn", "off"}, []string{v.Phases[0].Name, v.Phases[1].Name, v.Phases[2].Name}, "a phase that comes twice")
	require.Equal(t, []int{2, 2, 0, 1}, []int{v.Phases[0].Met, v.Phases[0].Of, v.Phases[1].Met, v.Phases[1].Of})
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "outcome": "met"}), "outcome")
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "phase2_s": "-1"}), "phase2_s")
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "phase2": "void"}), "phase2")
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "phase2_s": "2.5"}))
	require.Equal(t, "met", again().Table[0].Outcome)
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "phase4": "missed"}))
	v = again()
	require.Equal(t, "missed", v.Table[0].Outcome)
	require.Equal(t, "2.5", field(t, v.Corrections(id), "phase2_s").Value)
}

// Where a phase lasts as long as the step asks, its seconds are those of the trial.
func TestTheSecondsOfAPhaseAreThoseOfTheTrial(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	typed := form.Typed{"phase1": "on", "phase2": "worn", "phase3": "off", "phase_step": "2", "phase_s2": "3"}
	invalid(t, o.SavePhases(ctx, plan, versioned(t, o, plan, typed)), "phase_s2")
	typed["phase_s2"], typed["phase_step"] = "", "4"
	invalid(t, o.SavePhases(ctx, plan, versioned(t, o, plan, typed)), "phase_step")
	typed["phase_step"], typed["phase_meal"] = "2", "4"
	invalid(t, o.SavePhases(ctx, plan, versioned(t, o, plan, typed)), "phase_meal")
	typed["phase_meal"] = "2"
	require.NoError(t, o.SavePhases(ctx, plan, versioned(t, o, plan, typed)))
	kept, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "2", kept.PhasesForm["phase_meal"])
	h := o.Session(t, plan, session.Choice{})
	for _, at := range []int64{1000, 4000, 5000, 9000} { // worn for a second of two
		h.Press(work.Main, at)
	}
	o.End(t, h, 12000, session.Closing{})
	o.CatchUp(t)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, []string{"let_go", "on 3.0 s, worn 1.0 s, off 4.0 s"}, []string{v.Table[0].Outcome, v.Table[0].Measure})
	id := v.Table[0].ID
	require.False(t, slices.ContainsFunc(v.Corrections(id), func(f sessions.CorrectField) bool { return f.Name == "held_s" }))
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "outcome": "met"}), "outcome")
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "phase2_s": "2.5"}))
	o.CatchUp(t)
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "met", v.Table[0].Outcome)
}

// A trial can have had another card than it was dealt: what it asked, and how its set-up was, follow.
func TestCardsAreCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	require.NoError(t, o.SaveDeck(ctx, plan, versioned(t, o, plan, form.Typed{"deck_intensity": "1, 3"})))
	h := o.Session(t, plan, session.Choice{Deck: true})
	dealt, _ := h.Run.Card()
	sessiontest.Hold(h, 1000, 1, 2500, work.Main)
	o.End(t, h, 9000, session.Closing{})
	o.CatchUp(t)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	id := v.Table[0].ID
	require.Equal(t, strconv.Itoa(dealt), field(t, v.Corrections(id), "card").Value)
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "card": "3"}), "card")
	for card, worked := range map[string]string{"1": "1", "2": "3"} {
		require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "card": card}))
		o.CatchUp(t)
		v, err = o.Review(ctx, h.Session)
		require.NoError(t, err)
		require.Equal(t, card, field(t, v.Corrections(id), "card").Value)
		trials, err := o.Store.Read().TrialsInFull(ctx, plan)
		require.NoError(t, err)
		require.Equal(t, worked, criteria.Figure(trials[0].Worked[criteria.Intensity]))
	}
}

// How long play took is corrected beside the trial that it paid, and what it is cannot be negative; treats beside it stay.
func TestPlayIsCorrected(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{Pieces: "9"})
	h.Do(500, h.Run.Take(session.Hold{Turn: "tug"}))
	at := sessiontest.Hold(h, 1000, 2, 2500, work.Main)
	h.Press(work.PayKey, at+2000) // it ends
	o.End(t, h, at+9000, session.Closing{})
	o.CatchUp(t)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	played := v.Table[1].ID
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": played, "pay_s": "-3"}), "pay_s")
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": played, "pay_s": "12.5", "pieces": "2"}))
	o.CatchUp(t)
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "2 treats, toy 12.5 s", v.Table[1].Paid)
}

// Trials that were logged without their times can be left out by counting anew; an undo of the edit counts them again.
func TestACountBeginsAnew(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	h.Press(work.MetKey, 2000)
	h.Press(work.MetKey, 9000)
	o.End(t, h, 20000, session.Closing{})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{2, v.Steps[0].ID}, []any{v.Evidence.N, v.Evidence.CountStep})
	before := v.Version
	require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "count", "step": v.Evidence.CountStep, "version": fmt.Sprint(before)}))
	o.CatchUp(t)
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.True(t, v.Evidence.None)
	require.Empty(t, v.Evidence.CountStep, "nothing is left to leave out")
	require.NoError(t, o.RestoreSteps(ctx, plan, form.Typed{"back_to": fmt.Sprint(before), "version": fmt.Sprint(v.Version)}))
	o.CatchUp(t)
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, v.Evidence.N)
}

// Review says under whose hands each trial was, and that the trainer moved the skill to another step, without a rule.
func TestReviewSaysWhoHandledAndWhatWasSetManually(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Claws", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "2",
		"leg1_items": "left fore\nright fore", "leg1_tools": "fingers\nthe clipper",
	})
	require.NoError(t, err)
	alone := o.Session(t, plan, session.Choice{})
	alone.Press(work.Main, 1000)
	alone.Press(work.MetKey, 3000)
	o.End(t, alone, 4000, session.Closing{})
	v, err := o.Review(ctx, alone.Session)
	require.NoError(t, err)
	require.Equal(t, []any{"", "Held its step"}, []any{v.HandledBy(), v.Headline}, "one person is not named")

	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jo, “the boss”"}))
	settings, err := o.Settings(ctx)
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.MetKey, 3000)
	for at := int64(4000); at < 8000; at += 1000 {
		h.Press(work.HardKey, at)
	}
	h.Press(work.EasyKey, 9000)
	h.Handler = settings.People[1].ID
	h.Press(work.Main, 11000)
	h.Press(work.LateKey, 13000)
	o.End(t, h, 14000, session.Closing{})
	v, err = o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, settings.People[0].Name+" and Jo, “the boss”", v.HandledBy())
	require.Equal(t, "Jo, “the boss”", v.HandlerOf(v.Table[1].Handler))
	require.Equal(t, "Jo, “the boss”", v.File.Rows[1][3])
	require.Equal(t, "Set manually to step 4", v.Headline)

	o.CatchUp(t)
	shown, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "1 of 2 at ease", shown.Sessions[0].Line, "exposures are never called met")
	facts, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	for _, section := range facts.Sections {
		if section.Key == "cold" {
			require.Equal(t, "at ease", section.Table.Rows[0][3])
		}
	}
	went, err := o.Progress(ctx, plan, "")
	require.NoError(t, err)
	require.Equal(t, []string{"state1", "at ease"}, []string{went.Sessions[0].Cold, went.Sessions[0].ColdSays})
}
