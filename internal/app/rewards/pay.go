package rewards

import (
	"context"
	"fmt"
	"math"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// PayView is the page of how one plan is paid.
type PayView struct {
	ID, Dog, DogID, Skill string
	Walks, Holds          bool // what its kind of work asks of pay
	Version               int
	Says                  []string // the strategy at the reached step
	Thinned               string   // how far thinning has come, "" where it is not thinned
	Cycle, Attainable     string
	From                  string // where the times of the cycle come from
	Remedies              []string
	Inside                string // pays inside the hold
	BestNow               string // what counts as the best share just now
	Next                  []bool // whether each of the next trials, if met, is paid; nil where all are
	Steps                 []PayStep
	Form                  form.Typed // of the plan
	Open                  string     // the step whose own form is open
	StepForm              form.Typed
	StepName              string
	StepOwn               bool
	Known, KnownFix       string // that this step may be paid more thinly by now
	Never                 string // why it is never thinned far, "" where it may be
	Foods                 []string
}

// PayStep is one step with how it is paid.
type PayStep struct {
	ID, Short, What, Rate, Which string
	Number                       int
	Own, Reached                 bool
	Lints                        []app.LintView
}

// payShown is how many trials ahead are shown.
const payShown = 20

// Pay shows how a plan is paid; step names the one whose own form is open, "" the reached one.
func (p *Cases) Pay(ctx context.Context, id, step string) (PayView, error) {
	return app.Remember(ctx, p.Practice, "pay "+id+" "+step, func(v PayView) string { return v.DogID },
		func() (PayView, error) { return p.makePay(ctx, id, step) })
}

func (p *Cases) makePay(ctx context.Context, id, step string) (v PayView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	l, err := p.LoadPlan(ctx, q, id, s.Words())
	if err != nil {
		return v, err
	}
	trials, err := q.TrialsOfPlans(ctx, []string{id})
	if err != nil {
		return v, err
	}
	rewards, err := loadRewards(ctx, q, l.Dog, s.Day(p.Ms()))
	if err != nil {
		return v, err
	}
	at := l.Reached()
	pay := l.PayHere()
	rung := max(1, l.Standing.Rung)
	kind := work.Kind(l.Kind)
	v = PayView{
		ID: l.ID, Dog: l.DogName, DogID: l.Dog, Skill: l.Name(), Walks: l.Work().Walks, Holds: l.Work().Holds, Version: l.Version,
		Says: phrase.Strategy(pay, rung), Form: typedPay(l.Body.Pay, l.Body), Never: neverThin(kind, l.Body.Lifeline),
	}
	v.Form["version"] = strconv.Itoa(l.Version)
	if pay.Schedule.Thin {
		v.Thinned = fmt.Sprintf("Thinned to %s so far: one rung on with a step up, back to every one at a new place or with "+
			"something new, one back where the rate falls below the plan's.",
			phrase.Schedule(pay.Schedule.At(rung), rung))
	}
	v.attains(l, trials, pay, rung)
	v.BestNow = bestNow(pay.Schedule, l.MetLatencies(at, trials))
	if way := pay.Schedule.At(rung); way.Way == reinforce.Fixed || way.Way == reinforce.Variable {
		for i := range payShown {
			v.Next = append(v.Next, way.Pays(i, app.PaySeed(l.ID, l.Steps[at].ID)))
		}
	}
	if met, n := l.HereMet(trials); n > 0 {
		if to, ok := l.Body.Known(kind, pay, met, n); ok {
			v.Known = fmt.Sprintf("It is known by now, %d of %d %s at this step: fewer of those may be paid.", met, n, l.Work().Success())
			v.KnownFix = say.Upper(phrase.Schedule(to.Schedule, max(rung, to.Schedule.K)))
		}
	}
	v.steps(l, trials)
	v.opens(l, step)
	v.Foods = fitting(rewards, pay.Tier)
	return v, nil
}

// opens shows the pay of one step, of the reached one where there is no such step.
func (v *PayView) opens(l app.Plan, step string) {
	if v.Open = step; progression.Index(l.Steps, step) < 0 {
		v.Open = l.Steps[l.Reached()].ID
	}
	own, is := l.Body.PayAt(v.Open)
	v.StepForm, v.StepOwn = typedPay(own, library.Body{}), is
	v.StepForm["version"] = strconv.Itoa(l.Version)
	opened := progression.Index(l.Steps, v.Open)
	v.StepName = fmt.Sprintf("Step %d: %s", opened+1, l.Words.Short(l.Steps[opened].Criteria))
}

// enoughMet is how many trials at a step say what share of them is met.
const enoughMet = 10

// attains says what rate the trials allow, and what would have to change for the planned one.
func (v *PayView) attains(l app.Plan, trials []store.Trial, pay reinforce.Strategy, rung int) {
	at := l.Reached()
	cycle, n := l.Cycle(at, trials)
	share := pay.Schedule.At(rung).PaidShare()
	v.Cycle = say.Upper(phrase.Cycle(cycle)) + "."
	if v.From = "Usual times, as too little was timed at this step."; n > 0 {
		v.From = fmt.Sprintf("As timed over %s between two trials; how much of it is eating is assumed.", say.Count(n, "pause"))
	}
	if met, of := l.HereMet(trials); of >= enoughMet && met > 0 && !l.Work().ByState {
		share *= float64(met) / float64(of)
		v.From += fmt.Sprintf(" %d of %d were met here, and what is missed is not paid.", met, of)
	}
	v.Attainable = phrase.Attainable(cycle, pay.Band.Lo, share)
	for _, r := range cycle.Remedies(pay.Band.Lo, share) {
		v.Remedies = append(v.Remedies, phrase.Remedy(r))
	}
	v.Inside = l.Inside(at, pay, cycle)
	if len(v.Remedies) > 0 || v.Inside == "" && pay.Band.Lo > cycle.Attainable(share) {
		v.Remedies = append(v.Remedies, fmt.Sprintf("Or plan %s a minute.", phrase.Pays(math.Floor(cycle.Attainable(share)*2)/2)))
	}
}

// steps lists how each step is paid, with what is not sound about it.
func (v *PayView) steps(l app.Plan, trials []store.Trial) {
	for i, s := range app.StepsOf(l.Steps, l.Words) {
		pay, own := l.Body.PayAt(s.ID)
		which := phrase.Schedule(pay.Schedule, l.Standing.Rung)
		v.Steps = append(v.Steps, PayStep{
			ID: s.ID, Short: s.Short, Number: i + 1, Own: own, Reached: s.ID == l.Standing.Reached,
			What: phrase.Tier(pay.Tier), Rate: phrase.PayRate(pay.Band), Which: which,
		})
	}
	for _, lint := range l.Body.PayLints(work.Kind(l.Kind), l.Steps, l.Cycles(trials)) {
		says, fix := phrase.PayLint(lint)
		v.Steps[lint.Step].Lints = append(v.Steps[lint.Step].Lints, app.LintView{Code: string(lint.Code), Says: says, Fix: fix})
	}
}

// neverThin says why pay is never thinned far, "" where it may be.
func neverThin(kind work.Kind, lifeline bool) string {
	switch work.Of(kind).MaxRung(lifeline) {
	case 1:
		return "Handling, care and exposures are paid every time."
	case 2:
		return "Coming, stopping and leaving things are paid at least every second time."
	}
	return ""
}

// bestNow says which latency belongs to the best share at the moment.
func bestNow(s reinforce.Schedule, latencies []float64) string {
	if s.Way != reinforce.Best {
		return ""
	}
	limit, all := s.BestLimit(latencies)
	if all {
		return "Too few were timed at this step to tell the best ones: every one is paid for now."
	}
	return fmt.Sprintf("Just now an answer within %s is among the best.", say.Seconds(math.Round(limit*10)/10))
}

// typedPay is a strategy as its form shows it; what belongs to the whole plan comes from its body.
func typedPay(s reinforce.Strategy, b library.Body) form.Typed {
	t := form.Typed{
		"rate_lo": criteria.Figure(s.Band.Lo), "rate_hi": criteria.Figure(s.Band.Hi), "pay_pieces": strconv.Itoa(s.Piece()), "where": s.Where,
		"purpose": string(s.Purpose), "delivery": string(s.Delivery), "own_is": s.LifeRewardIs, "schedule": string(s.Schedule.Way),
		"arousal": b.Arousal,
	}
	if t["schedule"] == "" {
		t["schedule"] = string(reinforce.Every)
	}
	for field, n := range map[string]int{"tier": s.Tier, "pay_paces": s.Paces, "k": s.Schedule.K, "jackpot": s.Jackpot} {
		if n > 0 {
			t[field] = strconv.Itoa(n)
		}
	}
	for field, x := range map[string]float64{"share": s.Schedule.Share, "own": s.LifeReward} {
		if x > 0 {
			t[field] = criteria.Figure(math.Round(x * 100))
		}
	}
	for field, on := range map[string]bool{"thin": s.Schedule.Thin, "release": s.Release, "extra": s.Extra, "lifeline": b.Lifeline} {
		if on {
			t[field] = "on"
		}
	}
	return t
}

// readPay reads a strategy from its form.
func readPay(ps form.Problems, t form.Typed) reinforce.Strategy {
	rate := "Pays per minute from 0 to 60, in figures."
	return reinforce.Strategy{
		Tier:   ps.Whole(t, "tier", 0, reinforce.MaxTier, "Choose one of the list."),
		Band:   reinforce.Band{Lo: ps.Number(t, "rate_lo", 0, 60, rate), Hi: ps.Number(t, "rate_hi", 0, 60, rate)},
		Paces:  ps.Whole(t, "pay_paces", 1, 200, "One pay per 1 to 200 paces, in figures."),
		Pieces: ps.Whole(t, "pay_pieces", 1, 20, "A pay has 1 to 20 treats, in figures."),
		Schedule: reinforce.Schedule{
			Way: reinforce.Way(t.Text("schedule")), K: ps.Whole(t, "k", 1, reinforce.MaxK, "One in 1 to 10, in figures."),
			Share: ps.Number(t, "share", 30, 100, "A share from 30 to 100 %.") / 100, Thin: t.Text("thin") != "",
		},
		Where: ps.Text("where", t["where"], criteria.MaxText), Purpose: reinforce.Purpose(t.Text("purpose")),
		Delivery:     reinforce.Delivery(t.Text("delivery")),
		Jackpot:      ps.Whole(t, "jackpot", 0, 20, "Up to 20 treats, in figures."),
		LifeReward:   ps.Number(t, "own", 0, 50, "At most half of the pays, 0 to 50 %.") / 100,
		LifeRewardIs: ps.Text("own_is", t["own_is"], criteria.MaxName), Release: t.Text("release") != "", Extra: t.Text("extra") != "",
	}
}

// SavePay changes how a plan is paid, or one step with typed["step"]: op "save", "clear" (as the plan again),
// "mend" (the fix of the lint that is named) or "known" (the reached step paid more thinly, where it is known).
func (p *Cases) SavePay(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	op, step := t.Text("op"), t.Text("step")
	var pay reinforce.Strategy
	if op == "save" {
		pay = readPay(ps, t)
	}
	q := p.Store.Read()
	row, err := q.Plan(ctx, plan)
	if err != nil {
		return app.Found(err)
	}
	kind, lifeline := work.Kind(row.Kind), t.Text("lifeline") != ""
	if op == "save" && len(ps) == 0 {
		if step == "" {
			ps.Criteria(pay.Check(work.Of(kind).MaxRung(lifeline), lifeline))
		} else {
			var body library.Body
			if err := store.FromJSON(row.Body, &body); err != nil {
				return err
			}
			ps.Criteria(pay.Check(work.Of(kind).MaxRung(body.Lifeline), body.Lifeline))
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	trials, err := q.TrialsOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "pay", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		return steps, changePay(b, app.Plan{Plan: row, Body: *b, Steps: steps}, trials, pay, t)
	})
}

// changePay changes how a plan, or one of its steps, is paid, as a form says.
func changePay(b *library.Body, l app.Plan, trials []store.Trial, pay reinforce.Strategy, t form.Typed) error {
	op, step, kind, steps := t.Text("op"), t.Text("step"), work.Kind(l.Kind), l.Steps
	if step != "" && progression.Index(steps, step) < 0 {
		return app.ErrNotFound
	}
	switch {
	case op == "save" && step == "":
		b.Pay, b.Lifeline, b.Arousal = pay, t.Text("lifeline") != "", t.Text("arousal")
		return stepsAllow(*b, kind, steps)
	case op == "save":
		b.StepPay = withPay(b.StepPay, step, &pay)
	case op == "known":
		met, n := l.HereMet(trials)
		now, _ := b.PayAt(steps[l.Reached()].ID)
		if to, ok := b.Known(kind, now, met, n); ok {
			b.StepPay = withPay(b.StepPay, steps[l.Reached()].ID, &to)
		}
	case op == "clear":
		b.StepPay = withPay(b.StepPay, step, nil)
	case op == "mend":
		for _, lint := range b.PayLints(kind, steps, l.Cycles(trials)) {
			if steps[lint.Step].ID == step && string(lint.Code) == t.Text("lint") && lint.To != nil {
				b.StepPay = withPay(b.StepPay, step, lint.To)
				return nil
			}
		}
	default:
		return app.ErrNotFound
	}
	return nil
}

// stepsAllow says beside the plan's own form where the pay of a step is no longer allowed.
func stepsAllow(b library.Body, kind work.Kind, steps []progression.Step) error {
	for i, s := range steps {
		if pay, own := b.StepPay[s.ID]; own {
			for _, problem := range pay.Check(work.Of(kind).MaxRung(b.Lifeline), b.Lifeline) {
				return &form.Invalid{
					Problems: map[string]string{"lifeline": fmt.Sprintf("Step %d has its own pay: %s Change that first.", i+1, problem.Text)},
				}
			}
		}
	}
	return nil
}

func withPay(were map[string]reinforce.Strategy, step string, pay *reinforce.Strategy) map[string]reinforce.Strategy {
	now := map[string]reinforce.Strategy{}
	for id, one := range were {
		now[id] = one
	}
	delete(now, step)
	if pay != nil {
		now[step] = *pay
	}
	if len(now) == 0 {
		return nil
	}
	return now
}
