package insight

import (
	"context"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// TryView is what a rule would have said on a plan's own record, beside what was done.
type TryView struct {
	Rule  string
	Lines []string // what it would have said, and when
	Did   string   // what was done
	None  bool     // there is no record yet
}

// TryRule asks the rule of a form on the plan's record as it was. Nothing is saved.
func (p *Cases) TryRule(ctx context.Context, plan string, t form.Typed) (v TryView, err error) {
	ps := form.Problems{}
	rule := form.ReadRule(ps, t)
	if err := ps.Err(); err != nil {
		return v, err
	}
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v, err = p.tryRule(ctx, q, plan, rule)
		return err
	})
	return v, err
}

func (p *Cases) tryRule(ctx context.Context, q store.Q, plan string, rule decision.Rule) (v TryView, err error) {
	s, l, err := p.LookIn(ctx, q, plan)
	if err != nil {
		return v, err
	}
	if err := p.Ready(ctx, q, l.Dog, l.ID); err != nil {
		return v, err
	}
	h, err := app.ReadHistory(ctx, q, plan)
	if err != nil {
		return v, err
	}
	moves, err := q.MovesOfPlans(ctx, []string{plan})
	if err != nil {
		return v, err
	}
	v.Rule = phrase.Rule(rule)
	stays := staysOf(l, h)
	if v.None = len(stays) == 0; v.None {
		return v, nil
	}
	today := s.Day(p.Ms())
	day := map[string]string{}
	for _, one := range h.Sessions {
		day[one.ID] = one.Day
	}
	v.Lines = wouldHave(rule, stays, func(session string) string { return app.ShortDay(day[session], today) })
	var ups []string
	for _, m := range moves {
		if m.Why == string(progression.WhyStepUp) && m.Level == l.MainLevel() {
			ups = append(ups, app.ShortDay(day[m.Session], today))
		}
	}
	v.Did = "You stepped up " + say.Times(len(ups))
	if len(ups) > 0 {
		v.Did += ": on " + dayList(ups)
	}
	v.Did += "."
	return v, nil
}

// wouldHave says when a rule would have moved the dog; day writes the day of a session.
func wouldHave(rule decision.Rule, stays []decision.Stay, day func(session string) string) (lines []string) {
	days := map[decision.Verdict][]string{}
	for _, said := range decision.Replay(rule, stays) {
		days[said.Verdict] = append(days[said.Verdict], day(said.Trial.Session))
	}
	for _, one := range []struct {
		verdict decision.Verdict
		words   string
	}{
		{decision.StepUp, "stepped up"}, {decision.StepBack, "stepped back"}, {decision.Split, "split the step"},
		{decision.Finished, "been finished"}, {decision.Stop, "stopped"},
	} {
		if list := days[one.verdict]; len(list) > 0 {
			lines = append(lines, "With this rule you would have "+one.words+" "+say.Times(len(list))+": on "+dayList(list)+".")
		}
	}
	if len(lines) == 0 {
		lines = []string{"With this rule nothing would have moved on this record."}
	}
	return lines
}

// staysOf cuts a plan's trials with its main handler into runs at one step. Trials at steps that are gone are left out.
func staysOf(l app.Plan, h app.History) []decision.Stay {
	var stays []decision.Stay
	last := ""
	for _, t := range l.Mains(h.Trials) {
		at := progression.Index(l.Steps, t.Step)
		if at < 0 || t.Waits {
			continue
		}
		if t.Step != last {
			stays = append(stays, decision.Stay{Step: at, Last: len(l.Steps) - 1})
		}
		last = t.Step
		v := &stays[len(stays)-1]
		v.Trials = append(v.Trials, t.Trial)
	}
	return stays
}

// dayList writes days of the form "9 Nov" with each month once: "28 and 30 Oct, 2, 4 and 9 Nov".
func dayList(days []string) string {
	var months []string
	inMonth := map[string][]string{}
	for _, day := range slices.Compact(slices.Clone(days)) {
		number, month, _ := strings.Cut(day, " ")
		if !slices.Contains(months, month) {
			months = append(months, month)
		}
		inMonth[month] = append(inMonth[month], number)
	}
	var parts []string
	for _, month := range months {
		parts = append(parts, strings.TrimSpace(say.List(inMonth[month])+" "+month))
	}
	return strings.Join(parts, ", ")
}
