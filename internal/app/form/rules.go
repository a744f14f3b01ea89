package form

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
)

// RuleField is one figure of a rule in its form. Whole figures and shares (typed in percent) are kept
// apart.
type RuleField struct {
	Name, Label string
	Kind        decision.Kind
	core        string // the name by which the core says what is wrong with it
	whole       func(*decision.Rule) *int
	share       func(*decision.Rule) *float64
}

// Percent tells whether the figure is typed in percent.
func (f RuleField) Percent() bool { return f.share != nil }

// RuleFields lists the figures of every rule, in the order of its sentence.
var RuleFields = []RuleField{
	{Name: "size", Kind: decision.Set, Label: "Trials in a set", core: "size", whole: func(r *decision.Rule) *int { return &r.Size }},
	{
		Name: "up", Kind: decision.Set, Label: "Step up: met in the set, at least", core: "up",
		whole: func(r *decision.Rule) *int { return &r.Up },
	},
	{
		Name: "back", Kind: decision.Set, Label: "Step back: right in the set, at most", core: "back",
		whole: func(r *decision.Rule) *int { return &r.Back },
	},
	{
		Name: "split_after", Kind: decision.Set, Label: "Split after repeats in a row", core: "split_after",
		whole: func(r *decision.Rule) *int { return &r.SplitAfter },
	},
	{Name: "run_up", Kind: decision.Run, Label: "Step up: met in a row", core: "up", whole: func(r *decision.Rule) *int { return &r.Up }},
	{
		Name: "run_back", Kind: decision.Run, Label: "Step back: not right in a row", core: "back",
		whole: func(r *decision.Rule) *int { return &r.Back },
	},
	{
		Name: "gate_rate", Kind: decision.Gate, Label: "Step up: met, at least %", core: "rate",
		share: func(r *decision.Rule) *float64 { return &r.Rate },
	},
	{
		Name: "window", Kind: decision.Gate, Label: "of the last trials", core: "window",
		whole: func(r *decision.Rule) *int { return &r.Window },
	},
	{
		Name: "gate_sessions", Kind: decision.Gate, Label: "from sessions, at least", core: "sessions",
		whole: func(r *decision.Rule) *int { return &r.Sessions },
	},
	{
		Name: "gate_places", Kind: decision.Gate, Label: "and places, at least", core: "places",
		whole: func(r *decision.Rule) *int { return &r.Places },
	},
	{
		Name: "back_below", Kind: decision.Gate, Label: "Step back: right, under %", core: "back_below",
		share: func(r *decision.Rule) *float64 { return &r.BackBelow },
	},
	{
		Name: "back_window", Kind: decision.Gate, Label: "of the last trials", core: "back_window",
		whole: func(r *decision.Rule) *int { return &r.BackWindow },
	},
	{
		Name: "target", Kind: decision.Proof, Label: "Prove a rate of %", core: "target",
		share: func(r *decision.Rule) *float64 { return &r.Target },
	},
	{Name: "conf", Kind: decision.Proof, Label: "with confidence %", core: "conf", share: func(r *decision.Rule) *float64 { return &r.Conf }},
	{
		Name: "proof_sessions", Kind: decision.Proof, Label: "from sessions, at least", core: "sessions",
		whole: func(r *decision.Rule) *int { return &r.Sessions },
	},
	{
		Name: "proof_places", Kind: decision.Proof, Label: "and places, at least", core: "places",
		whole: func(r *decision.Rule) *int { return &r.Places },
	},
	{
		Name: "look_back", Kind: decision.Proof, Label: "Step back: over the last trials", core: "look_back",
		whole: func(r *decision.Rule) *int { return &r.LookBack },
	},
	{
		Name: "back_rate", Kind: decision.Proof, Label: "likely under %", core: "back_rate",
		share: func(r *decision.Rule) *float64 { return &r.BackRate },
	},
	{
		Name: "back_conf", Kind: decision.Proof, Label: "with confidence %", core: "back_conf",
		share: func(r *decision.Rule) *float64 { return &r.BackConf },
	},
	{
		Name: "back_min", Kind: decision.Proof, Label: "on trials, at least", core: "back_min",
		whole: func(r *decision.Rule) *int { return &r.BackMin },
	},
	{
		Name: "clean", Kind: decision.CountUp, Label: "One more after met in a row", core: "clean",
		whole: func(r *decision.Rule) *int { return &r.Clean },
	},
	{
		Name: "count_split", Kind: decision.CountUp, Label: "Split after not met at the first step", core: "split_after",
		whole: func(r *decision.Rule) *int { return &r.SplitAfter },
	},
	{
		Name: "calm_up", Kind: decision.Calm, Label: "Step up: exposures at ease", core: "up",
		whole: func(r *decision.Rule) *int { return &r.Up },
	},
	{
		Name: "expect", Kind: decision.Calm, Label: "of them expecting good", core: "expect",
		whole: func(r *decision.Rule) *int { return &r.Expect },
	},
}

// ReadRule reads a rule from its form; what is wrong is said of the field that was typed.
func ReadRule(ps Problems, t Typed) decision.Rule {
	kind := decision.Kind(t.Text("kind"))
	rule := decision.Usual(kind)
	rule.Kind = kind
	fieldOf := map[string]string{}
	for _, f := range RuleFields {
		if f.Kind != kind {
			continue
		}
		fieldOf[f.core] = f.Name
		typed := strings.TrimSuffix(strings.Replace(t.Text(f.Name), ",", ".", 1), "%")
		x, err := strconv.ParseFloat(strings.TrimSpace(typed), 64)
		switch {
		case err != nil || math.IsNaN(x) || math.IsInf(x, 0):
			ps.Add(f.Name, "Write it in figures.")
		case f.share != nil && x > 0 && x < 1:
			ps.Add(f.Name, fmt.Sprintf("In percent: %s, not %s.", criteria.Figure(100*x), criteria.Figure(x)))
		case f.share != nil:
			*f.share(&rule) = x / 100
		case x != math.Trunc(x) || math.Abs(x) > 1e6:
			ps.Add(f.Name, "A whole number, in figures.")
		default:
			*f.whole(&rule) = int(x)
		}
	}
	if kind == decision.CountUp {
		rule.Restart = decision.Restart(t.Text("restart"))
	}
	if typed := t.Text("min_days"); typed != "" {
		n, err := strconv.Atoi(typed)
		if err != nil {
			ps.Add("min_days", "A whole number, in figures.")
		}
		rule.MinDays = n
	}
	rule.MissGuard = 0
	if kind != decision.CountUp && kind != decision.Calm {
		n, err := strconv.Atoi(t.Text("miss_guard"))
		if err != nil {
			ps.Add("miss_guard", "A whole number, in figures.")
		}
		rule.MissGuard, rule.ErrorGuard, rule.Lenient = n, t.Text("error_guard") != "", t.Text("lenient") != ""
		rule.SlowWrong, rule.AgainWrong = t.Text("slow_wrong") != "", t.Text("again_wrong") != ""
	}
	if len(ps) > 0 {
		return rule
	}
	for _, bad := range rule.Check() {
		field := bad.Field
		if name, known := fieldOf[field]; known {
			field = name
		}
		ps.Add(field, bad.Text)
	}
	return rule
}

// TypedRule is a rule as its form shows it: its own figures, and the defaults of the others.
func TypedRule(r decision.Rule) Typed {
	t := Typed{"kind": string(r.Kind), "miss_guard": strconv.Itoa(r.MissGuard), "restart": string(decision.RestartOne)}
	if r.MinDays > 0 {
		t["min_days"] = strconv.Itoa(r.MinDays)
	}
	for _, f := range RuleFields {
		rule := decision.Usual(f.Kind)
		if f.Kind == r.Kind {
			rule = r
		}
		if f.share != nil {
			t[f.Name] = criteria.Figure(*f.share(&rule) * 100)
		} else {
			t[f.Name] = strconv.Itoa(*f.whole(&rule))
		}
	}
	if r.Kind == decision.CountUp {
		t["restart"], t["miss_guard"] = string(r.Restart), "2"
	}
	if r.Kind == decision.Calm {
		t["miss_guard"] = "2"
	}
	if r.Lenient {
		t["lenient"] = "on"
	}
	if r.SlowWrong {
		t["slow_wrong"] = "on"
	}
	if r.AgainWrong {
		t["again_wrong"] = "on"
	}
	if r.ErrorGuard {
		t["error_guard"] = "on"
	}
	return t
}
