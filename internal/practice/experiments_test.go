package practice_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/experiment"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// tried is a session of an experiment: the dog meets every trial of the way named, and every other one of the other way. It answers how
// many trials Run said were of each.
func tried(t *testing.T, o *practicetest.Opened, plan, good string, trials int) map[string]int {
	t.Helper()
	h := o.Session(t, plan, session.Choice{})
	at, said := int64(1000), map[string]int{}
	for i := range trials {
		v := screen.Of(h.Run).View(at)
		if v.Phase == session.Deciding {
			h.Press(work.StayKey, at)
			at += 1000
			v = screen.Of(h.Run).View(at)
		}
		way := ""
		for _, name := range []string{"food", "tug"} {
			if strings.Contains(strings.ToLower(v.Way), name) {
				way = name
				said[name]++
			}
		}
		key := work.Main
		if way != good && i%2 == 0 {
			key = work.MissKey
		}
		h.Press(work.Main, at)
		h.Press(key, at+800)
		at += 6000
	}
	require.Empty(t, screen.Of(h.Run).View(at).Way, "both sets are done")
	o.End(t, h, at, session.Closing{Take: true})
	o.Clock.Add(24 * time.Hour)
	return said
}

// Two ways are drawn, worked and read once; what Run said is what is read.
func TestAnExperimentIsReadOnceAtItsEnd(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 4", nil)
	var invalid *form.Invalid
	require.ErrorAs(t, o.StartExperiment(ctx, plan, form.Typed{"way_a": "food", "way_b": "food", "pairs": "5", "each": ""}), &invalid)
	require.Len(t, invalid.Problems, 3)
	meant := form.Typed{"way_a": "food", "way_b": "tug, “the old one” 🧸", "pairs": "6", "each": "4", "key": "1"}
	require.NoError(t, o.StartExperiment(ctx, plan, meant))
	require.NoError(t, o.StartExperiment(ctx, plan, meant), "the same form twice is one experiment")
	require.ErrorAs(t, o.StartExperiment(ctx, plan, form.Typed{"way_a": "a", "way_b": "b", "pairs": "6", "each": "4", "key": "2"}), &invalid)
	for i := range 6 {
		v, err := o.Experiments(ctx, plan)
		require.NoError(t, err)
		require.NotNil(t, v.Running)
		require.Equal(t, i, v.Running.Done)
		require.Empty(t, v.Running.Lines, "nothing of it is shown before its end")
		require.Equal(t, map[string]int{"food": 4, "tug": 4}, tried(t, o, plan, "food", 8))
	}
	v, err := o.Experiments(ctx, plan)
	require.NoError(t, err)
	require.Nil(t, v.Running)
	require.Len(t, v.Past, 1)
	require.Equal(t, 6, v.Past[0].Done)
	text := strings.Join(v.Past[0].Lines, " ")
	require.Contains(t, text, "Food: 100 % met. Tug, “the old one” 🧸: 50 % met.")
	require.Contains(t, text, "The dog worked better with food.")
	p, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Nil(t, p.Experiment.Next(), "and the next session is as any")
}

// One that was stopped is never read; a session with too few trials says nothing.
func TestAnExperimentCanBeStopped(t *testing.T) {
	o := practicetest.Empty(t)
	plan := cued(t, o, "1, 2, 4", nil)
	require.NoError(t, o.StartExperiment(ctx, plan, form.Typed{"way_a": "food", "way_b": "tug", "pairs": "6", "each": "4"}))
	h := o.Session(t, plan, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.Main, 1800)
	o.End(t, h, 9000, session.Closing{Take: true})
	v, err := o.Experiments(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 1, v.Running.Done, "it was given, and is lost")
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Len(t, review.Experiment, 1)
	require.ErrorIs(t, o.StopExperiment(ctx, plan, "nothing"), app.ErrNotFound)
	require.NoError(t, o.StopExperiment(ctx, plan, v.Running.ID))
	require.ErrorIs(t, o.StopExperiment(ctx, plan, v.Running.ID), app.ErrNotFound)
	if v, err = o.Experiments(ctx, plan); err != nil {
		require.NoError(t, err)
	}
	require.Nil(t, v.Running)
	require.True(t, v.Past[0].Stopped)
	p, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Nil(t, p.Experiment)
	require.Equal(t, (*experiment.Assigned)(nil), p.Experiment.Next())
}
