package practice_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/form"
	"patientfox/internal/app/insight"
	"patientfox/internal/practicetest"
)

// cued lays out a cued plan of a number of steps for a new dog.
func cued(t *testing.T, o *practicetest.Opened, steps string, more form.Typed) (plan string) {
	t.Helper()
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	typed := form.Typed{
		"skill": "Nose to the yellow bollard", "kind": "cued", "position": "nose on the ring", "cue": "“bollard”",
		"break": "a paw", "latency_s": "3",
		"leg1_make": "figures", "leg1_what": "handler", "leg1_items": steps,
	}
	for field, value := range more {
		typed[field] = value
	}
	plan, err = o.AddPlan(ctx, dog, typed)
	require.NoError(t, err)
	return plan
}

// worked runs a session by letters: m met, l late, h helped, x missed; verdicts are taken, S stays.
func worked(t *testing.T, o *practicetest.Opened, plan, marks string, c session.Choice) *session.Hand {
	t.Helper()
	h := o.Session(t, plan, c)
	at := int64(1000)
	for _, mark := range marks {
		if screen.Of(h.Run).View(at).Phase == session.Deciding {
			h.Press(map[bool]work.Key{true: work.StayKey, false: work.Main}[mark == 'S'], at)
			at += 2000
		}
		if mark == 'S' {
			continue
		}
		h.Press(work.Main, at)
		h.Press(map[rune]work.Key{'m': work.Main, 'l': work.LateKey, 'h': work.HelpKey, 'x': work.MissKey}[mark], at+800)
		at += 6000
	}
	o.End(t, h, at, session.Closing{Take: true})
	o.Clock.Add(24 * time.Hour)
	return h
}

func section(t *testing.T, v insight.EvidencePage, key string) app.Section {
	t.Helper()
	for _, s := range v.Sections {
		if s.Key == key {
			return s
		}
	}
	require.Fail(t, "no section "+key)
	return app.Section{}
}

func said(s app.Section) string { return strings.Join(s.Lines, " ") }

func TestEvidenceCallsSmallNumbersSmall(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3", nil)
	v, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	require.True(t, v.None)
	worked(t, o, plan, "mlmx", session.Choice{})
	v, err = o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	rates := section(t, v, "rates")
	require.Contains(t, said(rates), "2 of 4 met")
	require.Contains(t, said(rates), "Lenient, with slow ones: 75 %")
	require.Contains(t, rates.Small, "few")
	require.Equal(t, [][]string{
		{"1", "You 1 m away", "4", "50 %, likely 15–85 %", "75 %, likely 30–95 %", "1 of 1", "0.8 s", "100 %"},
	}, rates.Table.Rows)
	require.Contains(t, said(section(t, v, "handlers")), "One handler")
	_, err = o.EvidenceTable(ctx, plan, "", "nothing")
	require.ErrorIs(t, err, app.ErrNotFound)
	table, err := o.EvidenceTable(ctx, plan, "", "steps")
	require.NoError(t, err)
	require.Equal(t, *rates.Table, table)
}

// A trial is cold by its skill and day: the second track of the day is not.
func TestTheSecondTrackOfADayIsNotCold(t *testing.T) {
	o := practicetest.Empty(t)
	left := cued(t, o, "1, 2", nil)
	right, err := o.AddTrack(ctx, left, form.Typed{"track": "right", "first": "left"})
	require.NoError(t, err)
	run := func(plan string) {
		worked(t, o, plan, "mm", session.Choice{})
		o.Clock.Add(-23 * time.Hour) // the same day
	}
	run(left)
	run(right)
	for plan, want := range map[string]string{left: "1 of 1 met", right: "No cold trial yet"} {
		v, err := o.Evidence(ctx, plan, "")
		require.NoError(t, err)
		require.Contains(t, said(section(t, v, "cold")), want)
	}
}

func TestTagsSourcesAndWhatWasDoneAreCounted(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3", form.Typed{})
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the north quay"}))
	for i := range 4 {
		h := worked(t, o, plan, "mmxmxmmmxm", session.Choice{})
		if i%2 == 0 {
			require.NoError(t, o.Tag(ctx, h.Session, form.Typed{"tags": "Wind, busy, wind"}))
		}
		v, err := o.Review(ctx, h.Session)
		require.NoError(t, err)
		for _, row := range v.Table {
			if !row.Right {
				require.NoError(t, o.Correct(ctx, h.Session, form.Typed{
					"trial": row.ID, "outcome": row.Outcome, "source": "handler", "after": "leash or collar correction", "instead": "a paw",
				}))
			}
		}
	}
	v, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	errors := section(t, v, "errors")
	require.Contains(t, said(errors), "handler 12")
	require.Contains(t, said(errors), "local law applies", "a correction is recorded with its caution")
	require.Equal(t, "leash or collar correction", errors.Table.Rows[0][0])
	require.Nil(t, section(t, v, "conditions").Table, "four sessions are too few")
	review, err := o.Review(ctx, worked(t, o, plan, "m", session.Choice{}).Session)
	require.NoError(t, err)
	require.Equal(t, []string{"busy", "wind"}, review.TagNames)
	var invalid *form.Invalid
	require.ErrorAs(t, o.Tag(ctx, review.ID, form.Typed{"tags": "a,b,c,d,e,f,g,h,i"}), &invalid)
	require.ErrorAs(t, o.Correct(ctx, review.ID, form.Typed{"trial": review.Table[0].ID, "outcome": "met", "source": "the moon"}), &invalid)
}

func TestAStuckStepGetsSuggestions(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3", nil)
	worked(t, o, plan, "mmmmm"+"hmmhmmhmhmS", session.Choice{})
	v, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	require.Empty(t, v.Stuck, "two repeats are not too many")
	for range 5 {
		v, err = o.Evidence(ctx, plan, "")
		require.NoError(t, err)
		require.Empty(t, v.Stuck, "it came higher lately")
		worked(t, o, plan, "hmmhmS", session.Choice{})
	}
	v, err = o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	require.Contains(t, v.StuckBecause, "Stuck at step 2: no new step for 5 sessions, 7 verdicts without a step up")
	var codes []string
	for _, s := range v.Stuck {
		codes = append(codes, s.Code)
	}
	require.Contains(t, codes, "fade_slower")
	load, err := o.Load(ctx, plan, "", "")
	require.NoError(t, err)
	require.False(t, load.Running)
	require.Equal(t, load.Sentence, v.Ahead)
	require.Equal(t, load.Levers, v.Levers)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.True(t, today.Decide[0].Stuck)
}

func TestASetbackLowersTheReachedStepAndCanBeTakenBack(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3, 4, 5, 6", nil)
	worked(t, o, plan, "mmmmmmmmmmmmmmmmmmmm", session.Choice{})
	at := func() int {
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		return v.Row.At
	}
	require.Equal(t, 5, at())
	var invalid *form.Invalid
	require.ErrorAs(t, o.AddSetback(ctx, plan, form.Typed{"day": "2027-01-01", "steps": "0", "what": ""}), &invalid)
	require.Len(t, invalid.Problems, 3)
	require.NoError(t, o.AddSetback(ctx, plan, form.Typed{"what": "A ferry blew its horn beside her."}))
	require.Equal(t, 3, at(), "two steps lower, unless somebody says otherwise")
	v, err := o.Progress(ctx, plan, "")
	require.NoError(t, err)
	require.Len(t, v.Setbacks, 1)
	// What is earned from then on counts from there.
	worked(t, o, plan, "mmmmm", session.Choice{Step: v.Steps[2].ID})
	require.Equal(t, 4, at())
	require.NoError(t, o.DeleteSetback(ctx, v.Setbacks[0].ID))
	w, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 5, w.Row.At, "the dot stands where the moves before it led")
	require.Positive(t, w.UnfollowedMoves, "and what began elsewhere is flagged")
}

func TestAFinishedSkillIsProbedAtGrowingGaps(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2", nil)
	finished := o.Clock.Now()
	worked(t, o, plan, "mmmmmmmmmm", session.Choice{})
	standing := func() (int, string) {
		_, err := o.Today(context.Background())
		require.NoError(t, err)
		row, err := o.Store.Read().Plan(ctx, plan)
		require.NoError(t, err)
		return row.Standing.ProbeGap, row.Standing.ProbeDue
	}
	gap, due := standing()
	require.Equal(t, 1, gap)
	require.Equal(t, finished.AddDate(0, 0, 1).Format("2006-01-02"), due)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Probes, 1)
	worked(t, o, plan, "m", session.Choice{})
	gap, _ = standing()
	require.Equal(t, 2, gap)
	o.Clock.Add(24 * time.Hour)
	worked(t, o, plan, "xmm", session.Choice{})
	gap, _ = standing()
	require.Equal(t, 2, gap, "missed, and met twice at once")
	o.Clock.Add(24 * time.Hour)
	worked(t, o, plan, "xx", session.Choice{})
	gap, due = standing()
	require.Zero(t, gap)
	require.Empty(t, due)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 1, v.Row.At, "two steps below the top")
	worked(t, o, plan, "mmmmmmmmmm", session.Choice{})
	gap, _ = standing()
	require.Equal(t, 1, gap, "the halved gap is kept")
}

func TestPlacingABaselineAndTheGrid(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3, 4, 5, 6, 7, 8", nil)
	worked(t, o, plan, "xmx", session.Choice{Mode: "baseline"})
	worked(t, o, plan, "mmx", session.Choice{Mode: "place"})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 2, v.Row.At, "met at 4, not at 7")
	require.True(t, v.Row.Given)
	e, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	require.Contains(t, said(section(t, e, "baseline")), "Step 1, nothing taught or paid: 1 of 3 met")
	require.Contains(t, said(section(t, e, "rates")), "No counted trial at step 2 yet")
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the net shed"}))
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the upper deck"}))
	settings, err := o.Settings(ctx)
	require.NoError(t, err)
	worked(t, o, plan, "mmmmm", session.Choice{Place: settings.Places[0].ID, Step: v.Steps[1].ID})
	p, err := o.Progress(ctx, plan, "")
	require.NoError(t, err)
	require.Equal(t, []string{"the upper deck"}, p.Grid.Never)
	require.Equal(t, "5 of 5", p.Grid.Rows[0].Cells[0].Text)
	require.True(t, p.Grid.Rows[1].Cells[0].Never)
	table, err := o.ProgressTable(ctx, plan, "", "places")
	require.NoError(t, err)
	require.Len(t, table.Rows, 2)
}

func TestTheOutlookRefusesWithTooLittleAndIsTheSameEachTime(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3, 4, 5, 6, 7", nil)
	worked(t, o, plan, "mmxmmmmxmm", session.Choice{})
	v, err := o.Outlook(ctx, forecasts.Ask{Plan: plan})
	require.NoError(t, err)
	require.Contains(t, v.Refuses, "too little")
	worked(t, o, plan, "mmxmmmmxmmmlmmm", session.Choice{})
	look := func(seed string) forecasts.OutlookView {
		var v forecasts.OutlookView
		require.Eventually(t, func() bool {
			var err error
			v, err = o.Outlook(ctx, forecasts.Ask{Plan: plan, Seed: seed})
			require.NoError(t, err)
			return v.Forecast.Ready
		}, 20*time.Second, 10*time.Millisecond)
		return v
	}
	v = look("")
	require.Empty(t, v.Refuses)
	require.Len(t, v.Rows, 4)
	require.Less(t, v.Rows[0].Lo, v.Rows[0].Hi)
	require.NoError(t, o.LookAhead(ctx, forecasts.Ask{Plan: plan}, "forecast", false))
	require.Equal(t, v.Rows, look("").Rows)
	require.NotEqual(t, v.Rows, look("77").Rows)
	require.NoError(t, o.LookAhead(ctx, forecasts.Ask{Plan: plan}, "compare", false))
	require.Eventually(t, func() bool {
		v, err := o.Outlook(ctx, forecasts.Ask{Plan: plan})
		require.NoError(t, err)
		if !v.Compare.Ready || !v.Forecast.Ready {
			return false
		}
		require.Len(t, v.Rules, 5)
		require.True(t, v.Rules[0].Own)
		require.Equal(t, v.Rows[0], v.Rules[0].Sessions, "the page says one thing of the plan's own rule")
		return true
	}, 60*time.Second, 50*time.Millisecond)
	table, err := o.OutlookTable(ctx, forecasts.Ask{Plan: plan}, "rules")
	require.NoError(t, err)
	require.Len(t, table.Rows, 5)
	require.ErrorIs(t, o.LookAhead(ctx, forecasts.Ask{Plan: plan}, "the moon", false), app.ErrNotFound)
}

// A dog without a record is taken to be like the practice's own, once there are three plans to go by.
func TestAForecastBeginsFromThePracticesOwnPlans(t *testing.T) {
	o := practicetest.Empty(t)
	look := func(plan string) (v forecasts.OutlookView) {
		require.Eventually(t, func() bool {
			var err error
			v, err = o.Outlook(ctx, forecasts.Ask{Plan: plan})
			require.NoError(t, err)
			return v.Forecast.Ready
		}, 60*time.Second, 10*time.Millisecond)
		return v
	}
	for i := range 3 {
		plan := cued(t, o, "1, 2, 3, 4, 5, 6, 7", nil)
		worked(t, o, plan, "mmxmmmmxmm", session.Choice{})
		worked(t, o, plan, "mmxmmmmxmm"[i:]+"mmm", session.Choice{})
	}
	fresh := cued(t, o, "1, 2, 3, 4, 5, 6, 7", nil)
	v := look(fresh)
	require.Empty(t, v.Refuses)
	require.Equal(t, 3, v.Own)
	require.Positive(t, v.Rows[0].Mid)
	again, err := o.Outlook(ctx, forecasts.Ask{Plan: fresh})
	require.NoError(t, err)
	require.Equal(t, v.Rows, again.Rows)
}

func TestALongLookCanBeCancelled(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 23, 26, 30", nil)
	worked(t, o, plan, "mmxmmmmxmm", session.Choice{})
	worked(t, o, plan, "mmxmmmmxmm", session.Choice{})
	require.NoError(t, o.LookAhead(ctx, forecasts.Ask{Plan: plan}, "compare", false))
	require.NoError(t, o.LookAhead(ctx, forecasts.Ask{Plan: plan}, "compare", true))
	require.Eventually(t, func() bool { return !o.Looking(forecasts.Ask{Plan: plan}, "compare").Running }, 20*time.Second, 10*time.Millisecond)
	require.True(t, o.Looking(forecasts.Ask{Plan: plan}, "compare").Cancelled)
}
