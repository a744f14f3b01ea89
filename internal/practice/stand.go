package practice

import (
	"context"
	"encoding/json"
	"math"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/outlook"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// stand works out where a plan's dog stands: the dot follows moves, and setbacks between them. Where that fails, and the
// database is not to blame, the plan keeps its last standing and says so.
func (p *Practice) stand(ctx context.Context, q store.Q, plan string) error {
	why := ""
	err := guarded(func() error { return p.standing(ctx, q, plan) })
	if store.Failed(err) || ctx.Err() != nil {
		return err
	}
	if err != nil {
		why = "record"
		p.log.Error("where a dog stands cannot be worked out", "plan", plan, "error", err.Error())
	}
	return q.PlanStands(ctx, plan, why)
}

func (p *Practice) standing(ctx context.Context, q store.Q, plan string) error {
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
	var body library.Body
	if err := json.Unmarshal([]byte(b.plans[plan].Body), &body); err != nil {
		return err
	}
	w := standing{
		Standing: store.Standing{Plan: plan, Sessions: len(sessions), Entries: 1, Rule: string(body.Rule.Kind)}, all: b.union(plan), now: b.current(plan), setbacks: setbacks,
		sessions: sessions, order: map[string]int{}, place: progression.StartOf(b.steps[plan][1]),
	}
	if len(sessions) == 0 {
		w.place = progression.StartOf(w.now) // never worked: at the first step, whatever was edited
	}
	for i, one := range sessions {
		w.order[one.ID] = i
	}
	w.walk(moves)
	if n := len(sessions); n > 0 {
		last := sessions[n-1]
		w.LastSession, w.LastDay, w.LastPlace, w.Stopped = last.ID, last.Day, last.Place, last.Reason == "stop" && last.Last == plan
	}
	w.read(verdicts)
	blocks, err := q.BlocksOfPlans(ctx, []string{plan})
	if err != nil {
		return err
	}
	w.Rung = w.thinned(body, criteria.Kind(b.plans[plan].Kind), moves, blocks)
	return q.SetStanding(ctx, w.Standing)
}

// standing is where a dog stands, while that is worked out.
type standing struct {
	store.Standing
	all, now []progression.Step // every step the plan ever had, and those it has
	sessions []store.Session
	order    map[string]int // of sessions
	setbacks []store.Setback
	place    progression.Place
	came     map[string]int // how often each step was come to, lately
}

// lateSessions is how far back coming to a step again and again says that it is stuck now.
const lateSessions = 10

// walk follows the moves, session by session, with each setback before the sessions that were opened after
// it.
func (w *standing) walk(moves []store.Move) {
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

// fall lowers the reached step by a setback; after is the last session before it, -1 for none.
func (w *standing) fall(s store.Setback, after int) {
	w.place = w.place.Settle(w.all, w.now).Fall(w.now, s.Steps, s.ID)
	w.SinceSession, w.SinceAt = "", 0
	if after >= 0 {
		w.SinceSession, w.SinceAt = w.sessions[after].ID, afterAll
	}
	w.came[w.place.Reached]++
}

// read reads the verdicts: what was said last, whether the plan is finished, when it is next probed, and how
// often its step was repeated.
func (w *standing) read(verdicts []store.Verdict) {
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

// leastActive is how long a block must have been worked for its rate to say anything, in seconds.
const leastActive = 30

// thinned is how far the thinning of pay has come by the record.
func (w *standing) thinned(body library.Body, kind criteria.Kind, moves []store.Move, blocks []store.Block) int {
	visits := make([]reinforce.Visit, len(w.sessions))
	been := map[string]bool{}
	for i, s := range w.sessions {
		visits[i] = reinforce.Visit{NewPlace: i > 0 && s.Place != "" && !been[s.Place], Rate: math.NaN()}
		been[s.Place] = true
	}
	for _, m := range moves {
		from, to := progression.Index(w.all, m.From), progression.Index(w.all, m.To)
		if at, known := w.order[m.Session]; known && m.Why == string(progression.WhyStepUp) && from >= 0 && to >= 0 {
			visits[at].Ups = append(visits[at].Ups, progression.NewDimension(w.all[from].Criteria, w.all[to].Criteria))
		}
	}
	pays, active := map[string]int{}, map[string]float64{}
	for _, b := range blocks {
		if record.Mode(b.Mode).Teaches() {
			pays[b.Session], active[b.Session] = pays[b.Session]+b.Pays, active[b.Session]+b.Active
		}
	}
	for session, s := range active {
		if at, known := w.order[session]; known && s >= leastActive {
			visits[at].Rate = float64(pays[session]) * 60 / s
		}
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
	at, err := time.Parse(dayLayout, day)
	if err != nil {
		return 0
	}
	return int(at.Unix() / 86400)
}

func dayNamed(number int) string { return time.Unix(int64(number)*86400, 0).UTC().Format(dayLayout) }
