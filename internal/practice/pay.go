package practice

import (
	"context"
	"fmt"
	"hash/fnv"
	"math"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
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
	Form                  Typed  // of the plan
	Open                  string // the step whose own form is open
	StepForm              Typed
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
	Lints                        []LintView
}

// payShown is how many trials ahead are shown.
const payShown = 20

// Pay shows how a plan is paid; step names the one whose own form is open, "" the reached one.
func (p *Practice) Pay(ctx context.Context, id, step string) (PayView, error) {
	return remember(ctx, p, "pay "+id+" "+step, func(v PayView) string { return v.DogID }, func() (PayView, error) { return p.makePay(ctx, id, step) })
}

func (p *Practice) makePay(ctx context.Context, id, step string) (v PayView, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	l, err := p.loadPlan(ctx, q, id, s.words())
	if err != nil {
		return v, err
	}
	trials, err := q.TrialsOfPlans(ctx, []string{id})
	if err != nil {
		return v, err
	}
	rewards, err := loadRewards(ctx, q, l.Dog, s.day(p.ms()))
	if err != nil {
		return v, err
	}
	at := l.reached()
	pay := l.payHere()
	rung := max(1, l.Standing.Rung)
	kind := work.Kind(l.Kind)
	v = PayView{
		ID: l.ID, Dog: l.DogName, DogID: l.Dog, Skill: l.name(), Walks: l.work().Walks, Holds: l.work().Holds, Version: l.Version,
		Says: phrase.Strategy(pay, rung), Form: typedPay(l.body.Pay, l.body), Never: neverThin(kind, l.body.Lifeline),
	}
	v.Form["version"] = strconv.Itoa(l.Version)
	if pay.Schedule.Thin {
		v.Thinned = fmt.Sprintf("Thinned to %s so far: one rung on with a step up, back to every one at a new place or with something new, one back where the rate falls below the plan's.", phrase.Schedule(pay.Schedule.At(rung), rung))
	}
	cycle, n := l.cycle(at, trials)
	share := pay.Schedule.At(rung).PaidShare()
	v.Cycle, v.Attainable = say.Upper(phrase.Cycle(cycle))+".", phrase.Attainable(cycle, pay.Band.Lo, share)
	if v.From = "Usual times, as too little was timed at this step."; n > 0 {
		v.From = fmt.Sprintf("As timed over %s between two trials; how much of it is eating is assumed.", say.Count(n, "pause"))
	}
	for _, r := range cycle.Remedies(pay.Band.Lo, share) {
		v.Remedies = append(v.Remedies, phrase.Remedy(r))
	}
	v.Inside = l.inside(at, pay, cycle)
	if len(v.Remedies) > 0 || v.Inside == "" && pay.Band.Lo > cycle.Attainable(share) {
		v.Remedies = append(v.Remedies, fmt.Sprintf("Or plan %s a minute.", phrase.Pays(math.Floor(cycle.Attainable(share)*2)/2)))
	}
	v.BestNow = bestNow(pay.Schedule, l.metLatencies(at, trials))
	if way := pay.Schedule.At(rung); way.Way == reinforce.Fixed || way.Way == reinforce.Variable {
		for i := range payShown {
			v.Next = append(v.Next, way.Pays(i, paySeed(l.ID, l.steps[at].ID)))
		}
	}
	if met, n := l.hereMet(trials); n > 0 {
		if to, ok := l.body.Known(kind, pay, met, n); ok {
			v.Known = fmt.Sprintf("It is known by now, %d of %d met at this step: fewer of the met ones may be paid.", met, n)
			v.KnownFix = say.Upper(phrase.Schedule(to.Schedule, max(rung, to.Schedule.K)))
		}
	}
	v.steps(l, trials)
	if v.Open = step; progression.Index(l.steps, step) < 0 {
		v.Open = l.steps[at].ID
	}
	own, is := l.body.PayAt(v.Open)
	v.StepForm, v.StepOwn = typedPay(own, library.Body{}), is
	v.StepForm["version"] = strconv.Itoa(l.Version)
	opened := progression.Index(l.steps, v.Open)
	v.StepName = fmt.Sprintf("Step %d: %s", opened+1, l.words.Short(l.steps[opened].Criteria))
	v.Foods = fitting(rewards, pay.Tier)
	return v, nil
}

// steps lists how each step is paid, with what is not sound about it.
func (v *PayView) steps(l loaded, trials []store.Trial) {
	for i, s := range stepsOf(l.steps, l.words) {
		pay, own := l.body.PayAt(s.ID)
		which := phrase.Schedule(pay.Schedule, l.Standing.Rung)
		v.Steps = append(v.Steps, PayStep{
			ID: s.ID, Short: s.Short, Number: i + 1, Own: own, Reached: s.ID == l.Standing.Reached,
			What: phrase.Tier(pay.Tier), Rate: phrase.PayRate(pay.Band), Which: which,
		})
	}
	for _, lint := range l.body.PayLints(work.Kind(l.Kind), l.steps, l.cycles(trials)) {
		says, fix := phrase.PayLint(lint)
		v.Steps[lint.Step].Lints = append(v.Steps[lint.Step].Lints, LintView{string(lint.Code), says, fix})
	}
}

// hereMet counts the trials at the reached step since it became that.
func (l loaded) hereMet(trials []store.Trial) (met, n int) {
	var outcomes []trial.Outcome
	for _, t := range l.stretch(trials) {
		if !t.Easy {
			outcomes = append(outcomes, t.Outcome)
		}
	}
	tally := evidence.Count(outcomes)
	return tally.Met, tally.N()
}

// payHere is how the reached step is paid.
func (l loaded) payHere() reinforce.Strategy {
	pay, _ := l.body.PayAt(l.steps[l.reached()].ID)
	return pay
}

// neverThin says why pay is never thinned far, "" where it may be.
func neverThin(kind work.Kind, lifeline bool) string {
	switch work.Of(kind).MostRung(lifeline) {
	case 1:
		return "Handling, care and exposures are paid every time."
	case 2:
		return "Coming, stopping and leaving things are paid at least every second time."
	}
	return ""
}

// paySeed makes the schedule of a step the same wherever it is worked out.
func paySeed(parts ...string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(strings.Join(parts, " ")))
	return h.Sum64()
}

// metLatencies are the latencies of the met trials at a step, oldest first.
func (l loaded) metLatencies(at int, trials []store.Trial) []float64 {
	var list []float64
	for _, t := range trials {
		if t.Step == l.steps[at].ID && !t.Waits && t.LatencyS != nil && t.Outcome == trial.Met {
			list = append(list, *t.LatencyS)
		}
	}
	return list
}

// cycle is one trial at a step from cue to cue, as the record says or as is usual; n is how many times between
// trials were measured.
func (l loaded) cycle(at int, trials []store.Trial) (c reinforce.Cycle, n int) {
	var between []float64
	for i := 1; i < len(trials); i++ {
		a, b := trials[i-1], trials[i]
		if a.Block == b.Block && b.Step == l.steps[at].ID && b.From > a.At {
			between = append(between, b.From-a.At)
		}
	}
	c, n = reinforce.Measured(l.metLatencies(at, trials), between, l.work().Takes(l.steps[at].Criteria))
	if !l.work().Answers {
		c.LatencyS = 0 // the trial begins with the dog in place
	}
	return c, n
}

// inside says when a long hold is paid inside, "" where the trials themselves are enough or nothing is held.
func (l loaded) inside(at int, pay reinforce.Strategy, c reinforce.Cycle) string {
	seconds := l.steps[at].Criteria.Get(criteria.Duration)
	if !l.work().Holds || !pay.NeedsInside(c) {
		return ""
	}
	return phrase.PayTimes(seconds, reinforce.PayTimes(seconds, pay.Band.Lo, paySeed(l.ID, l.steps[at].ID)), pay.Release)
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
func typedPay(s reinforce.Strategy, b library.Body) Typed {
	t := Typed{
		"rate_lo": criteria.Figure(s.Band.Lo), "rate_hi": criteria.Figure(s.Band.Hi), "pay_pieces": strconv.Itoa(s.Piece()), "where": s.Where,
		"purpose": string(s.Purpose), "delivery": string(s.Delivery), "own_is": s.OwnIs, "schedule": string(s.Schedule.Way), "arousal": b.Arousal,
	}
	if t["schedule"] == "" {
		t["schedule"] = string(reinforce.Every)
	}
	for field, n := range map[string]int{"tier": s.Tier, "pay_paces": s.Paces, "k": s.Schedule.K, "jackpot": s.Jackpot} {
		if n > 0 {
			t[field] = strconv.Itoa(n)
		}
	}
	for field, x := range map[string]float64{"share": s.Schedule.Share, "own": s.Own} {
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

// number reads a figure that may be left empty; words after it are not read.
func (ps problems) number(t Typed, field string, lo, hi float64, says string) float64 {
	typed := strings.TrimSpace(strings.TrimSuffix(strings.Replace(t.Text(field), ",", ".", 1), "%"))
	if typed == "" {
		return 0
	}
	x, err := strconv.ParseFloat(typed, 64)
	if err != nil || !(x >= lo && x <= hi) {
		ps.add(field, says)
		return 0
	}
	return x
}

// whole is number for whole figures.
func (ps problems) whole(t Typed, field string, lo, hi int, says string) int {
	x := ps.number(t, field, float64(lo), float64(hi), says)
	if x != math.Trunc(x) {
		ps.add(field, says)
	}
	return int(x)
}

// readPay reads a strategy from its form.
func readPay(ps problems, t Typed) reinforce.Strategy {
	rate := "Pays per minute from 0 to 60, in figures."
	return reinforce.Strategy{
		Tier:  ps.whole(t, "tier", 0, reinforce.MostTier, "Choose one of the list."),
		Band:  reinforce.Band{Lo: ps.number(t, "rate_lo", 0, 60, rate), Hi: ps.number(t, "rate_hi", 0, 60, rate)},
		Paces: ps.whole(t, "pay_paces", 1, 200, "One pay per 1 to 200 paces, in figures."), Pieces: ps.whole(t, "pay_pieces", 1, 20, "A pay has 1 to 20 pieces, in figures."),
		Schedule: reinforce.Schedule{
			Way: reinforce.Way(t.Text("schedule")), K: ps.whole(t, "k", 1, reinforce.MostK, "One in 1 to 10, in figures."),
			Share: ps.number(t, "share", 30, 100, "A share from 30 to 100 %.") / 100, Thin: t.Text("thin") != "",
		},
		Where: ps.text("where", t["where"], criteria.MaxText), Purpose: reinforce.Purpose(t.Text("purpose")), Delivery: reinforce.Delivery(t.Text("delivery")),
		Jackpot: ps.whole(t, "jackpot", 0, 20, "Up to 20 pieces, in figures."), Own: ps.number(t, "own", 0, 50, "At most half of the pays, 0 to 50 %.") / 100,
		OwnIs: ps.text("own_is", t["own_is"], criteria.MaxName), Release: t.Text("release") != "", Extra: t.Text("extra") != "",
	}
}

// SavePay changes how a plan is paid, or one step with typed["step"]: op "save", "clear" (as the plan again),
// "mend" (the fix of the lint that is named) or "known" (the reached step paid more thinly, where it is known).
func (p *Practice) SavePay(ctx context.Context, plan string, t Typed) error {
	ps := problems{}
	op, step := t.Text("op"), t.Text("step")
	var pay reinforce.Strategy
	if op == "save" {
		pay = readPay(ps, t)
	}
	q := p.store.Read()
	row, err := q.Plan(ctx, plan)
	if err != nil {
		return found(err)
	}
	kind, lifeline := work.Kind(row.Kind), t.Text("lifeline") != ""
	if op == "save" && len(ps) == 0 {
		if step == "" {
			ps.criteria(pay.Check(work.Of(kind).MostRung(lifeline), lifeline))
		} else {
			var body library.Body
			if err := jsonInto(row.Body, &body); err != nil {
				return err
			}
			ps.criteria(pay.Check(work.Of(kind).MostRung(body.Lifeline), body.Lifeline))
		}
	}
	if err := ps.err(); err != nil {
		return err
	}
	trials, err := q.TrialsOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "pay", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		if step != "" && progression.Index(steps, step) < 0 {
			return nil, ErrNotFound
		}
		switch {
		case op == "save" && step == "":
			b.Pay, b.Lifeline, b.Arousal = pay, lifeline, t.Text("arousal")
			return steps, stepsAllow(*b, kind, steps)
		case op == "save":
			b.StepPay = withPay(b.StepPay, step, &pay)
		case op == "known":
			l := loaded{Plan: row, body: *b, steps: steps}
			met, n := l.hereMet(trials)
			if at := l.reached(); at < len(steps) {
				now, _ := b.PayAt(steps[at].ID)
				if to, ok := b.Known(kind, now, met, n); ok {
					b.StepPay = withPay(b.StepPay, steps[at].ID, &to)
				}
			}
		case op == "clear":
			b.StepPay = withPay(b.StepPay, step, nil)
		case op == "mend":
			l := loaded{Plan: row, body: *b, steps: steps}
			for _, lint := range b.PayLints(kind, steps, l.cycles(trials)) {
				if steps[lint.Step].ID == step && string(lint.Code) == t.Text("lint") && lint.To != nil {
					b.StepPay = withPay(b.StepPay, step, lint.To)
					return steps, nil
				}
			}
		default:
			return nil, ErrNotFound
		}
		return steps, nil
	})
}

// stepsAllow says beside the plan's own form where the pay of a step no longer stands.
func stepsAllow(b library.Body, kind work.Kind, steps []progression.Step) error {
	for i, s := range steps {
		if pay, own := b.StepPay[s.ID]; own {
			for _, problem := range pay.Check(work.Of(kind).MostRung(b.Lifeline), b.Lifeline) {
				return &Invalid{map[string]string{"lifeline": fmt.Sprintf("Step %d has its own pay: %s Change that first.", i+1, problem.Text)}}
			}
		}
	}
	return nil
}

func (l loaded) cycles(trials []store.Trial) []reinforce.Cycle {
	cycles := make([]reinforce.Cycle, len(l.steps))
	for i := range l.steps {
		cycles[i], _ = l.cycle(i, trials)
	}
	return cycles
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
