package practice_test

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/insight"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// ruleForm is a plan's form of rule and pay with some fields changed.
func ruleForm(t *testing.T, o *practicetest.Opened, plan string, change form.Typed) form.Typed {
	t.Helper()
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	shown := form.Typed{}
	for field, value := range v.RuleForm {
		shown[field] = value
	}
	for field, value := range change {
		shown[field] = value
	}
	return shown
}

// Every rule is chosen in the form with its own figures, and reads back as it was saved.
func TestEveryRuleIsSetInItsForm(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	for _, kind := range decision.Kinds {
		require.NoError(t, o.SaveRule(ctx, plan, ruleForm(t, o, plan, form.Typed{"kind": string(kind)})))
		pack, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		want := decision.Usual(kind)
		want.MissGuard = pack.Rule.MissGuard
		require.Equal(t, want, pack.Rule)
		require.NoError(t, o.SaveRule(ctx, plan, ruleForm(t, o, plan, nil)), "the form as it is shown can be saved")
	}
	require.NoError(t,
		o.SaveRule(ctx, plan, ruleForm(t, o, plan, form.Typed{"kind": "gate", "gate_rate": "85 %", "window": "12", "back_below": "50,5"})))
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.InDelta(t, 0.85, pack.Rule.Rate, 1e-9)
	require.InDelta(t, 0.505, pack.Rule.BackBelow, 1e-9)
	for field, change := range map[string]form.Typed{
		"gate_rate":      {"kind": "gate", "gate_rate": "120"},
		"back_below":     {"kind": "gate", "back_below": "0.6"},
		"window":         {"kind": "gate", "window": "many"},
		"gate_sessions":  {"kind": "gate", "gate_sessions": "0"},
		"target":         {"kind": "proof", "target": "100"},
		"proof_places":   {"kind": "proof", "proof_places": "-1"},
		"restart":        {"kind": "count_up", "restart": "somewhere"},
		"count_split":    {"kind": "count_up", "count_split": "0"},
		"calm_up":        {"kind": "calm", "calm_up": "0", "expect": "0"},
		"kind":           {"kind": "coin"},
		"proof_sessions": {"kind": "proof", "proof_sessions": "2.5"},
	} {
		invalid(t, o.SaveRule(ctx, plan, ruleForm(t, o, plan, change)), field)
	}
}

// Where somebody could be hurt a step asks for proof, unless the trainer gives it another rule.
func TestSafetyStepsAskForProof(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	v = edit(t, o, plan, form.Typed{"op": "save", "step": v.Steps[2].ID, "duration": "3", "handler": "0", "safety": "on"})
	require.Contains(t, v.Steps[2].Rule, "Proof.")
	require.Empty(t, v.Steps[1].Rule)
	v = edit(t, o, plan, form.Typed{"op": "save", "step": v.Steps[1].ID, "duration": "2", "handler": "0", "gear": "tab"})
	require.Contains(t, v.Steps[1].Rule, "Proof.", "gear comes off")
	v = edit(t, o, plan, form.Typed{"op": "save", "step": v.Steps[2].ID, "duration": "3", "handler": "0", "safety": "on", "step_rule": "plan"})
	require.Contains(t, v.Steps[2].Rule, "Sets of five")
	require.Equal(t, "set", v.Steps[2].Figures["step_rule"])
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, decision.Proof, pack.RuleAt(v.Steps[1].ID).Kind)
	require.Equal(t, decision.Set, pack.RuleAt(v.Steps[2].ID).Kind)
}

// A rule is tried on the plan's own record before it is saved.
func TestARuleIsTriedOnTheRecord(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	none, err := o.TryRule(ctx, plan, ruleForm(t, o, plan, nil))
	require.NoError(t, err)
	require.True(t, none.None)
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 1100, work.Main)
	o.End(t, h, at, session.Closing{Take: true})
	v, err := o.TryRule(ctx, plan, ruleForm(t, o, plan, nil))
	require.NoError(t, err)
	require.Len(t, v.Lines, 1)
	require.Contains(t, v.Lines[0], "once: on 23 Nov")
	require.Contains(t, v.Did, "once: on 23 Nov")
	v, err = o.TryRule(ctx, plan, ruleForm(t, o, plan, form.Typed{"kind": "run", "run_up": "2"}))
	require.NoError(t, err)
	require.Contains(t, v.Lines[0], "stepped up twice")
	v, err = o.TryRule(ctx, plan, ruleForm(t, o, plan, form.Typed{"kind": "proof"}))
	require.NoError(t, err)
	require.Contains(t, v.Lines[0], "nothing would have moved")
	_, err = o.TryRule(ctx, plan, form.Typed{"kind": "gate"})
	invalid(t, err, "gate_rate", "window", "gate_sessions", "gate_places", "back_below", "back_window", "miss_guard")
	after, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "set", after.RuleForm["kind"], "nothing was saved")
}

// Exposures come through to the plan, its path and the next session.
func TestExposuresAreKeptByState(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	shown, err := o.NewPlan(ctx, dog, form.Typed{"from": "a-sound-that-worries"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, shown.Typed)
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for _, key := range []work.Key{work.ExpectKey, work.MetKey, work.LateKey, work.ExpectKey} {
		h.Press(work.Main, at)
		h.Press(key, at+4000)
		at += 12000
	}
	o.End(t, h, at, session.Closing{})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, string(work.Counter), v.Kind)
	require.Equal(t, "at ease", v.Evidence.Word)
	require.Equal(t, 3, v.Evidence.Met)
	require.Equal(t, 4, v.Evidence.N)
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	require.Len(t, pack.Stretch, 4)
	require.Equal(t, 2, pack.Stretch[2].Shown())
	require.True(t, pack.Stretch[0].Cold)
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "state2", review.Table[2].Outcome)
	require.Equal(t, "on for 4.0 s", review.Table[0].Measure)
	again, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, again.Changed)
}

// A dog on a day begins cold; what is easy warms it up, and a second session that day is warm.
func TestColdTrialsAreTheFirstOfTheDay(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2")
	for range 2 {
		h := o.Session(t, plan, session.Choice{})
		at := sessiontest.Hold(h, 1000, 2, 1100, work.Main)
		o.End(t, h, at, session.Closing{})
	}
	pack, err := o.Pack(ctx, plan)
	require.NoError(t, err)
	var cold []string
	for i, p := range pack.Stretch {
		if p.Cold {
			cold = append(cold, strconv.Itoa(i))
		}
	}
	require.Equal(t, []string{"0"}, cold)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "Cold, first of the day: 1 of 1 met.", v.Evidence.Cold)
}

// Where the rule was overruled has its own page, with how that went.
func TestOverruledVerdictsAreListedWithHowItWent(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 1100, work.Main)
	h.Press(work.StayKey, at) // five of five, and the trainer stays
	at = sessiontest.Hold(h, at+1000, 5, 1100, work.Main)
	h.Press(work.Main, at) // and takes it the second time
	at = sessiontest.Hold(h, at+1000, 2, 1100, work.MissKey)
	o.End(t, h, at, session.Closing{})
	v, err := o.Verdicts(ctx, plan, false)
	require.NoError(t, err)
	require.Equal(t, 1, v.Overruled)
	require.Equal(t, 1, v.Taken)
	require.Equal(t, "0 % met", v.WentTaken, "two misses followed")
	require.Equal(t, "71 % met", v.WentOver)
	last := v.Rows[len(v.Rows)-1]
	require.Contains(t, last.Reckoning, "5 of 5 met: the rate is likely 57–100 %.")
	require.Len(t, v.Table.Rows, len(v.Rows), "the file has what the page has")
	last.Reckoning = nil
	require.Equal(t, insight.VerdictRow{
		Session: h.Session, Day: "23 Nov", Step: "1 · 1 s · you beside", Recommended: "Step up", Why: "5 of 5 met", Action: "Stayed",
		Overruled: true, After: "5 of the next 7 met",
	}, last)
	only, err := o.Verdicts(ctx, plan, true)
	require.NoError(t, err)
	require.Len(t, only.Rows, 1)
	_, err = o.Verdicts(ctx, "nothing", false)
	require.ErrorIs(t, err, app.ErrNotFound)
}
