package practice_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/sessions"
	"patientfox/internal/practicetest"
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
	v, o, h := reviewed(t, func(h *session.Hand) int64 { return practicetest.Hold(h, 1000, 3, 2000, work.Main) }, session.Closing{Take: true})
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
	require.Equal(t, "4 pieces", v.Table[1].Paid)
	require.Equal(t, jorun, field(t, v.Corrections[id], "handler").Value)
	require.True(t, v.Corrected)
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": id, "pieces": "0"}))
	require.Equal(t, "–", again().Table[1].Paid)
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	o.CatchUp(t)
	require.Equal(t, "4 pieces", again().Table[1].Paid)
	require.NoError(t, o.Uncorrect(ctx, h.Session))
	o.CatchUp(t)
	v = again()
	require.Equal(t, "met", v.Table[1].Outcome)
	require.Equal(t, "1 piece", v.Table[1].Paid)
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
	v, o, h := reviewed(t, func(h *session.Hand) int64 { return practicetest.Hold(h, 1000, 2, 2000, work.Main) }, session.Closing{})
	put := v.Puts[0]
	before := v.Table
	typed := form.Typed{"in": put.Block, "at": "0:04", "step": put.Step, "outcome": "met", "held_s": "2.5", "pieces": "2"}
	require.NoError(t, o.Put(ctx, h.Session, typed))
	o.CatchUp(t)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, v.Table, 3)
	require.Equal(t, "met", v.Table[1].Outcome)
	require.Equal(t, "2 pieces", v.Table[1].Paid)
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
