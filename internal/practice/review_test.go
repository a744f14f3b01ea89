package practice_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/schedule"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/sessions"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// reviewed runs a session of a plan of 2, 4, 8 s and returns its page.
func reviewed(
	t *testing.T, run func(h *session.Hand) int64, closing session.Closing,
) (sessions.ReviewView, *practicetest.Opened, *session.Hand) {
	t.Helper()
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	h := o.Session(t, plan, session.Choice{Pieces: "30"})
	o.End(t, h, run(h), closing)
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	return v, o, h
}

func TestPayThatStoppedBeforeTheMissesIsTheHeadline(t *testing.T) {
	v, _, _ := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		at = sessiontest.Hold(h, at+40000, 2, 1500, work.MissKey)
		return at
	}, session.Closing{})
	require.Equal(t, "Pay stopped before the misses", v.Headline)
	require.Contains(t, v.Sentence, "against a plan of 15 at the longest")
	require.Len(t, v.Gaps, 1)
	require.InDelta(t, v.Gaps[0].To-v.Gaps[0].From, v.Gaps[0].Active, 1e-9)
	require.Equal(t, "60 %", v.Strict)
}

// Where the treats ran out, that is the reason, and not a trainer who forgot to pay.
func TestTreatsThatRanOutAreTheReason(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	h := o.Session(t, plan, session.Choice{Pieces: "3"})
	at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
	o.End(t, h, sessiontest.Hold(h, at+40000, 2, 1500, work.MissKey), session.Closing{})
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "The treats ran out before the misses", v.Headline)
	require.Contains(t, v.Sentence, "Nothing was left of the 3 treats counted out.")
}

// A miss after the pay had come again is not laid to the gap before it.
func TestAMissAfterPayCameAgainIsNotLaidToTheGap(t *testing.T) {
	v, _, _ := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		at = sessiontest.Hold(h, at+40000, 1, 2000, work.Main)
		return sessiontest.Hold(h, at, 1, 1500, work.MissKey)
	}, session.Closing{})
	require.Len(t, v.Gaps, 1)
	require.Equal(t, "Held its step", v.Headline)
}

// Feeding on the way back from too much is one line of the notes, not one a treat.
func TestTreatsOnTheWayBackAreOneLine(t *testing.T) {
	v, _, _ := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 1, 2000, work.Main)
		h.Press(work.RecoverKey, at)
		for i := range int64(5) {
			h.Press(work.PayKey, at+1000*(i+1))
		}
		return at + 20_000
	}, session.Closing{Reason: "stop"})
	var fed []lookback.NoteLine
	for _, line := range v.Notes {
		if strings.Contains(line.Text, "5 treats") {
			fed = append(fed, line)
		}
	}
	require.Len(t, fed, 1)
	require.Empty(t, fed[0].ID, "several are not taken back as one")
	require.Contains(t, fed[0].Text, "0:12")
}

// Of two sessions on one day only the later says what comes next.
func TestTheLaterOfADaySaysWhatComesNext(t *testing.T) {
	first, o, h := reviewed(t, func(h *session.Hand) int64 { return sessiontest.Hold(h, 1000, 2, 2000, work.Main) }, session.Closing{})
	require.Contains(t, first.NextTime, "Step 1")
	o.Clock.Add(time.Hour)
	again := o.Session(t, h.Run.Pack().Plan, session.Choice{})
	o.End(t, again, sessiontest.Hold(again, 1000, 2, 2000, work.Main), session.Closing{})
	for id, next := range map[string]bool{h.Session: false, again.Session: true} {
		v, err := o.Review(ctx, id)
		require.NoError(t, err)
		require.Equal(t, next, strings.Contains(v.NextTime, "Step 1"), v.NextTime)
	}
}

func TestABreakIsNoGap(t *testing.T) {
	v, _, _ := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 3, 2000, work.Main)
		h.Press(work.BreakKey, at)
		h.Press(work.BreakKey, at+300_000)
		return sessiontest.Hold(h, at+301_000, 1, 2000, work.Main)
	}, session.Closing{})
	require.Empty(t, v.Gaps)
	require.Equal(t, "Held its step", v.Headline)
	require.Len(t, v.Segments, 3)
	rest := v.Segments[1]
	require.True(t, rest.Break)
	require.Equal(t, v.Segments[0].Label, v.Segments[2].Label, "the step goes on after the break")
	require.InDelta(t, 300, rest.To-rest.From, 1e-9)
	for _, point := range v.Rate {
		require.False(t, point.At > rest.From && point.At < rest.To, "there is no rate in a break")
	}
}

func TestStepsVerdictsAndFiguresAgree(t *testing.T) {
	v, _, _ := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
		h.Press(work.Main, at)
		at = sessiontest.Hold(h, at+1000, 2, 1000, work.MissKey)
		h.Press(work.StayKey, at)
		at = sessiontest.Hold(h, at+1000, 1, 4000, work.LateKey)
		return sessiontest.Hold(h, at, 1, 4000, work.VoidKey)
	}, session.Closing{Unlogged: "2", Left: "24", Next: "pay sooner", Reason: "time"})
	require.Equal(t, "5 of 8, likely 31–86 %. 75 % with slow ones.", v.RateLine)
	require.Equal(t, "80 %", v.Logged)
	require.Equal(t, "8 trials logged, about 2 not. 6 treats eaten, 5 paid in the log.", v.LoggedLine)
	require.Equal(t, "pay sooner", v.NextNote)
	require.Contains(t, v.NextTime, "Step 2: 4 s")
	require.Len(t, v.Table, 9)
	require.Equal(t, "void", v.Table[8].Outcome)
	require.Len(t, v.Verdicts, 2)
	require.False(t, v.Verdicts[0].Overruled)
	require.Equal(t, "Step back", v.Verdicts[1].Recommended)
	require.Equal(t, "stayed", v.Verdicts[1].Action)
	require.True(t, v.Verdicts[1].Overruled)
	require.Equal(t, []string{"step 1", "step 2"}, []string{v.Segments[0].Label, v.Segments[1].Label})
}

func TestAVerdictIsReadAnewAndNeverRewritten(t *testing.T) {
	v, o, h := reviewed(t, func(h *session.Hand) int64 {
		at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
		h.Press(work.Main, at)
		return at + 1000
	}, session.Closing{})
	require.Empty(t, v.Verdicts[0].Now)
	var first record.Event
	for _, e := range h.Events {
		if e.Kind == record.KTrial {
			first = e
			break
		}
	}
	send := func(d record.Draft) {
		t.Helper()
		receipts, err := o.Receive(ctx, h.Do(200_000, []record.Draft{d}))
		require.NoError(t, err)
		require.Equal(t, record.Stored, receipts[0].Result)
		v, err = o.Review(ctx, h.Session)
		require.NoError(t, err)
	}
	send(record.NewDraft(record.KAmend, record.AmendData{Target: first.ID, Set: map[string]json.RawMessage{"outcome": []byte(`"missed"`)}}))
	require.Equal(t, "Step up", v.Verdicts[0].Recommended)
	require.Contains(t, v.Verdicts[0].Now, "repeat")
	send(record.NewDraft(record.KRetract, record.RetractData{Target: first.ID}))
	require.NotContains(t, v.Verdicts[0].Now, "repeat")
	require.NotEmpty(t, v.Verdicts[0].Now)
	require.Len(t, v.Table, 4)
}

func TestATrialIsCorrectedAndTheLogKeepsBoth(t *testing.T) {
	v, o, h := reviewed(t, func(h *session.Hand) int64 { return sessiontest.Hold(h, 1000, 5, 2000, work.Main) }, session.Closing{Take: true})
	first := v.Table[0].ID
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": first, "outcome": "missed"}))
	require.NoError(t, o.Correct(ctx, h.Session, form.Typed{"trial": first, "outcome": "helped"}))
	v, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "helped", v.Table[0].Outcome)
	require.Contains(t, v.Table[0].Note, "corrected later")
	require.Equal(t, "80 %", v.Strict)
	require.Contains(t, v.Verdicts[0].Now, "repeat")
	events, err := o.Store.Read().Events(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, events, len(h.Events)+2)
	invalid(t, o.Correct(ctx, h.Session, form.Typed{"trial": first, "outcome": "splendid"}), "outcome")
	require.ErrorIs(t, o.Correct(ctx, h.Session, form.Typed{"trial": app.NewID(), "outcome": "met"}), app.ErrNotFound)
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
}

func TestTwoPhonesWithOldPacksAreFlaggedNotFollowed(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	one, other := o.Session(t, plan, session.Choice{}), o.Session(t, plan, session.Choice{})
	other.Wall += 60_000
	for _, h := range []*session.Hand{one, other} {
		at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
		h.Press(work.Main, at)
		o.End(t, h, at+1000, session.Closing{})
	}
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, v.Row.At, "the second step up began where the dog no longer stood")
	require.Equal(t, 1, v.UnfollowedMoves)
	rebuilt, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, rebuilt.Changed)
}

func TestAStopAndAnOpenVerdictWaitOnToday(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 8")
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{Reason: "done"})
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Contains(t, today.Decide[0].Text, "“step up” was advised and nobody answered")
	h = o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{Reason: "stop", Take: true})
	o.Clock.Add(24 * time.Hour)
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, phrase.Open(schedule.OpenStop, 0, decision.Facts{}, ""), today.Decide[0].Text)
	require.Contains(t, today.Next[0].Start, "one step down")
}

func TestAFinishedPlanSaysSoOnceAndRests(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 2000, work.Main)
	require.Equal(t, "Finished", screen.Of(h.Run).View(at).Main.Label)
	h.Press(work.Main, at)
	at = sessiontest.Hold(h, at+1000, 5, 2000, work.Main)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "finished is not said again after every set")
	o.End(t, h, at, session.Closing{})
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Finished, 1)
	require.Empty(t, today.Next)

	// A later session below, and its way back up, change nothing of that; a harder step added does.
	o.Clock.Add(30 * 24 * time.Hour)
	h = o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 4, 2000, work.Main), session.Closing{})
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Finished, 1)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "add", "step": v.Steps[0].ID, "version": "1"}))
	today, err = o.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.Finished)
}

func TestUnfinishedSessionsAreOffered(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 2, 2000, work.Main)
	_, err := o.Receive(ctx, h.Events)
	require.NoError(t, err)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, h.Session, today.Open[0].Session)
	require.Equal(t, plan, today.Open[0].Plan)
}

// An old session does not say what comes next: its plan was worked since.
func TestOnlyTheLastSessionSaysWhatComesNext(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6")
	var ids []string
	for range 2 {
		h := o.Session(t, plan, session.Choice{})
		o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{Take: true})
		ids = append(ids, h.Session)
		o.Clock.Add(24 * time.Hour)
	}
	first, err := o.Review(ctx, ids[0])
	require.NoError(t, err)
	require.NotContains(t, first.NextTime, "Step ")
	second, err := o.Review(ctx, ids[1])
	require.NoError(t, err)
	require.Contains(t, second.NextTime, "Step ")
}
