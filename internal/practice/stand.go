package practice

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/outlook"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/standing"
	"patientfox/internal/store"
)

// stand works out where a plan's dog stands: the dot follows moves, and setbacks between them. Where that fails, and the
// database is not to blame, the plan keeps its last standing and says so.
func (p *Practice) stand(ctx context.Context, q store.Q, plan string) error {
	why := ""
	err := guarded(func() error { return p.track(ctx, q, plan) })
	if store.Failed(err) || ctx.Err() != nil {
		return err
	}
	if err != nil {
		why = "record"
		p.log.Error("where a dog stands cannot be worked out", "plan", plan, "error", err.Error())
	}
	return q.PlanStands(ctx, plan, why)
}

func (p *Practice) track(ctx context.Context, q store.Q, plan string) error {
	b, err := readBook(ctx, q, []string{plan})
	if err != nil {
		return err
	}
	if _, ok := b.plans[plan]; !ok {
		return nil
	}
	sessions, err := q.SessionsOfPlan(ctx, plan)
	if err != nil {
		return err
	}
	moves, err := q.MovesOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	verdicts, err := q.VerdictsOfPlan(ctx, plan)
	if err != nil {
		return err
	}
	setbacks, err := q.Setbacks(ctx, plan)
	if err != nil {
		return err
	}
	blocks, err := q.BlocksOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	var body library.Body
	if err := json.Unmarshal([]byte(b.plans[plan].Body), &body); err != nil {
		return err
	}
	w := tracker{
		Standing: store.Standing{Plan: plan, Sessions: len(sessions), Entries: 1, Rule: string(body.Rule.Kind)}, all: b.union(plan), now: b.current(plan), setbacks: setbacks,
		sessions: sessions, order: map[string]int{}, ups: make([][]bool, len(sessions)), place: progression.StartOf(b.steps[plan][1]),
	}
	if len(setbacks) > 0 {
		versions, err := q.PlanVersions(ctx, b.plans[plan].Main, b.plans[plan].Version)
		if err != nil {
			return err
		}
		for _, v := range versions {
			w.ladders = append(w.ladders, ladder{v.Made, b.steps[plan][v.Version]})
		}
	}
	if len(blocks) == 0 {
		w.place = progression.StartOf(w.now) // never worked: at the first step, whatever was edited
	} else if begun := b.steps[plan][blocks[0].PlanVersion]; len(begun) > 0 {
		w.place = progression.StartOf(begun) // on the ladder as it was then
	}
	for i, one := range sessions {
		w.order[one.ID] = i
		if one.Place != "" {
			w.LastPlace = one.Place // the last that was said
		}
	}
	w.walk(moves)
	if n := len(sessions); n > 0 {
		last := sessions[n-1]
		w.LastSession, w.LastDay, w.Stopped = last.ID, last.Day, last.Reason == "stop" && last.Last == plan
	}
	w.read(verdicts)
	w.Rung = w.thinned(body, criteria.Kind(b.plans[plan].Kind), blocks)
	return q.SetStanding(ctx, w.Standing)
}

// tracker is where a dog stands, while that is worked out.
type tracker struct {
	store.Standing
	all, now []progression.Step // every step the plan ever had, and those it has
	sessions []store.Session
	order    map[string]int // of sessions
	setbacks []store.Setback
	ladders  []ladder // the newest first, where there are setbacks
	place    progression.Place
	came     map[string]int // how often each step was come to, lately
	ups      [][]bool       // by session: the step-ups taken, and whether each brought something new in
}

// lateSessions is how far back coming to a step again and again says that it is stuck now.
const lateSessions = 10

// walk follows the moves, session by session, with each setback before the sessions that were opened after
// it.
func (w *tracker) walk(moves []store.Move) {
	w.came = map[string]int{w.place.Reached: 1}
	lately := max(0, len(w.sessions)-lateSessions)
	next, session := 0, -1
	for _, m := range moves {
		for at := w.order[m.Session]; session < at; {
			session++
			for ; next < len(w.setbacks) && w.setbacks[next].At <= w.sessions[session].Opened; next++ {
				w.fall(w.setbacks[next], session-1)
			}
			w.place = w.place.Open()
		}
		before := w.place
		var followed bool
		w.place, followed = w.place.Apply(w.all, progression.Move{ID: m.ID, From: m.From, To: m.To, Why: progression.Why(m.Why)})
		if !followed {
			w.Apart++
		} else if m.Why == string(progression.WhyStepUp) && session >= 0 {
			if from, to := progression.Index(w.all, m.From), progression.Index(w.all, m.To); from >= 0 && to >= 0 {
				w.ups[session] = append(w.ups[session], progression.NewDimension(w.all[from].Criteria, w.all[to].Criteria))
			}
		}
		if w.place.Since != before.Since {
			w.SinceSession, w.SinceAt = m.Session, m.At
			if session >= lately {
				w.came[w.place.Reached]++
			}
		}
	}
	for ; next < len(w.setbacks); next++ {
		last := len(w.sessions) - 1
		for last >= 0 && w.sessions[last].Opened >= w.setbacks[next].At {
			last--
		}
		w.fall(w.setbacks[next], last)
	}
	w.place = w.place.Settle(w.all, w.now)
	w.Reached, w.Given, w.Since = w.place.Reached, w.place.Given, w.place.Since
	w.StepAt, w.StepOf = max(0, progression.Index(w.now, w.Reached)), len(w.now)
	w.Entries = max(1, w.came[w.Reached])
}

// afterAll is a moment behind everything in a session (s).
const afterAll = 1e9

// ladder is one version of a plan's steps, and when it was made.
type ladder struct {
	made  int64
	steps []progression.Step
}

// fall lowers the reached step by a setback, on the ladder as it was when that was logged; after is the last session before it,
// -1 for none.
func (w *tracker) fall(s store.Setback, after int) {
	steps := w.now
	for _, one := range w.ladders {
		if steps = one.steps; one.made <= s.Made {
			break
		}
	}
	w.place = w.place.Settle(w.all, steps).Fall(steps, s.Steps, s.ID)
	w.SinceSession, w.SinceAt = "", 0
	if after >= 0 {
		w.SinceSession, w.SinceAt = w.sessions[after].ID, afterAll
	}
	w.came[w.place.Reached]++
}

// read reads the verdicts: what was said last, whether the plan is finished, when it is next probed, and how
// often its step was repeated.
func (w *tracker) read(verdicts []store.Verdict) {
	day := func(v store.Verdict) int { return dayNumber(w.sessions[w.order[v.Session]].Day) }
	top := w.now[len(w.now)-1].ID
	var probes []outlook.Probed
	last := "" // the session of the latest repeat
	for _, v := range verdicts {
		later := w.order[v.Session] > w.order[w.SinceSession] || v.Session == w.SinceSession && v.At >= w.SinceAt
		here := v.Step == w.Reached && (w.Since == "" || w.SinceSession == "" || later)
		if v.Deed == string(decision.Finished) && here {
			w.Finished = true
		}
		switch decision.Verdict(v.Advice) {
		case decision.Repeat, decision.Split:
			// A set is as much as a session of a rule that looks after every trial.
			if whole := strings.Contains(v.Rule, `"kind":"set"`); here && (whole || v.Session != last) {
				w.Repeats++
			}
			last = v.Session
		default:
			if here {
				w.Repeats = 0
			}
		}
		if what := probed(v); what != "" {
			probes = append(probes, outlook.Probed{Day: day(v), What: what})
		}
	}
	if n := len(verdicts); n > 0 {
		w.LastAdvice, w.LastDeed = verdicts[n-1].Advice, verdicts[n-1].Deed
	}
	if w.Finished && w.Reached == top {
		at, gap, due := outlook.NextProbe(probes, w.now[len(w.now)-1].Safety)
		if due {
			w.ProbeGap, w.ProbeDue = gap, dayNamed(at)
		}
	}
}

// thinned is how far the thinning of pay has come by the record.
func (w *tracker) thinned(body library.Body, kind criteria.Kind, blocks []store.Block) int {
	works := make([][]standing.Work, len(w.sessions))
	for _, b := range blocks {
		if at, known := w.order[b.Session]; known {
			works[at] = append(works[at], standing.Work{Teaches: record.Mode(b.Mode).Teaches(), Pays: b.Pays, Active: b.Active})
		}
	}
	visits := make([]reinforce.Visit, len(w.sessions))
	var been []string
	for i, s := range w.sessions {
		visits[i] = standing.Visit(i, been, s.Place, w.ups[i], works[i])
		been = standing.Been(been, s.Place)
	}
	return reinforce.Climb(1, visits, reinforce.MostRung(kind, body.Lifeline), body.Pay.Band.Lo)
}

// probed reads what a verdict says of a finished skill, "" where it says nothing.
func probed(v store.Verdict) string {
	switch {
	case v.Deed == string(decision.Finished):
		return outlook.ProbeFinished
	case v.Advice != string(decision.Held) && v.Advice != string(decision.StepBack):
		return ""
	}
	var reasons []decision.Reason
	if json.Unmarshal([]byte(v.Reasons), &reasons) != nil {
		return "" // older logs hold some that nobody can read
	}
	for _, r := range reasons {
		switch r.Code {
		case decision.ProbeMet:
			return outlook.ProbeHeld
		case decision.ProbeKept:
			return outlook.ProbeKept
		case decision.ProbeLost:
			return outlook.ProbeLost
		}
	}
	return ""
}

// dayNumber counts days, so that gaps between them are whole.
func dayNumber(day string) int {
	n, _ := standing.Day(day) // of nothing written so it is the first of all
	return n
}

func dayNamed(number int) string { return time.Unix(int64(number)*86400, 0).UTC().Format(dayLayout) }
