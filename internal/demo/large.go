package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strconv"
	"time"

	"patientfox/core/decision"
	"patientfox/core/outlook"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
)

// Size is how much a made-up practice holds.
type Size struct{ Dogs, Plans, Sessions, Trials int }

// LargeSize is a practice at the far end of what one trainer has after years.
var LargeSize = Size{Dogs: 60, Plans: 400, Sessions: 20_000, Trials: 1_000_000}

// Large fills a practice with dogs, plans and sessions, for measuring. Events are made without the keys of a phone,
// which would take hours; they are received and folded like any. Each plan is spread over its dog's sessions,
// the last of them on the day before now. done is told how many sessions there are by then.
func Large(ctx context.Context, p *practice.Practice, size Size, now time.Time, done func(sessions int)) error {
	rng := rand.New(rand.NewPCG(60, 400))
	settings, err := p.Settings(ctx)
	if err != nil {
		return err
	}
	m := large{p: p, rng: rng, person: settings.Me, now: now, trials: size.Trials / size.Sessions}
	for i := range 8 {
		if err := p.SavePlace(ctx, form.Typed{"name": fmt.Sprintf("berth %d", i+1)}); err != nil {
			return err
		}
	}
	if settings, err = p.Settings(ctx); err != nil {
		return err
	}
	for _, place := range settings.Places {
		m.places = append(m.places, place.ID)
	}
	dogs := make([]string, size.Dogs)
	for i := range dogs {
		if dogs[i], err = p.AddDog(ctx, form.Typed{"name": fmt.Sprintf("Dog %02d", i+1)}); err != nil {
			return err
		}
	}
	for i := range size.Plans {
		sessions := size.Sessions / size.Plans
		if i < size.Sessions%size.Plans {
			sessions++
		}
		if err := m.plan(ctx, dogs[i%len(dogs)], i, sessions); err != nil {
			return err
		}
		if done != nil {
			done((i + 1) * size.Sessions / size.Plans)
		}
	}
	return nil
}

type large struct {
	p      *practice.Practice
	rng    *rand.Rand
	person string
	places []string
	now    time.Time
	trials int // a session
}

// plan lays one out and works it: up to eight held steps more than it has sessions for.
func (m *large) plan(ctx context.Context, dog string, number, sessions int) error {
	id, err := m.p.AddPlan(ctx, dog, form.Typed{
		"skill": fmt.Sprintf("Skill %d", number+1), "kind": "cued", "position": "nose on the mark", "cue": "“mark”",
		"break": "no touch", "latency_s": "3",
		"leg1_make": "ramp", "leg1_what": "handler", "leg1_from": "1", "leg1_to": "24", "leg1_by": "1",
	})
	if err != nil {
		return err
	}
	pack, err := m.p.Pack(ctx, id)
	if err != nil {
		return err
	}
	w := worked{
		large: m, plan: id, dog: dog, pack: packed{pack.Skill, pack.PlanVersion, pack.DefVersion, pack.Steps, pack.Rule},
		meter: decision.NewMeter(pack.Rule),
		learner: outlook.NewLearner(uint64(number+1), outlook.Traits{
			Form: outlook.Gradual, Ability: 1.8, Gain: 0.02, Loss: 0.03, Strange: 0.6, Forget: 0.01,
		}),
	}
	for i := range pack.Steps {
		w.levels = append(w.levels, outlook.Level{Hard: 0.25 * float64(i)})
	}
	w.meter.Begin(0, len(w.levels)-1)
	for i := range sessions {
		if err := w.session(ctx, m.now.AddDate(0, 0, i-sessions).Add(time.Duration(number%9)*time.Hour), i); err != nil {
			return err
		}
	}
	return m.p.CatchUp(ctx)
}

type packed struct {
	skill            string
	version, defined int
	steps            []progression.Step
	rule             decision.Rule
}

// worked is a plan under way.
type worked struct {
	*large
	plan, dog string
	pack      packed
	meter     *decision.Meter
	learner   *outlook.Learner
	levels    []outlook.Level
	at        int
	since     string
	events    []record.Event
	session_  string
	start     time.Time
}

func (w *worked) add(at int64, d record.Draft) string {
	e := record.Event{
		V: record.Version, ID: record.UUID(w.rng), Session: w.session_, Dev: "large", Seq: int64(len(w.events) + 1), T: at,
		Wall: w.start.UnixMilli() + at,
		By:   w.person, Handler: w.person, Kind: d.Kind, Data: d.Data,
	}
	w.events = append(w.events, e)
	return e.ID
}

func (w *worked) session(ctx context.Context, start time.Time, number int) error {
	w.events, w.session_, w.start = nil, record.UUID(w.rng), start
	spot := uint8(number / 12 % len(w.places))
	w.learner.Rest(1)
	w.learner.Enter(spot)
	w.meter.Session()
	w.add(0, record.NewDraft(record.KOpen, record.OpenData{Dog: w.dog, Place: w.places[spot]}))
	w.add(0, record.NewDraft(record.KBlock, record.BlockData{
		Dog: w.dog, Skill: w.pack.skill, Plan: w.plan, PlanVersion: w.pack.version, Definition: w.pack.defined,
		Reached: w.pack.steps[w.at].ID, Since: w.since,
	}))
	at := int64(0)
	for i := range w.trials {
		at += 9000
		level := &w.levels[w.at]
		r := w.learner.Try(level, spot)
		w.learner.Take(r, level, spot, true)
		latency := r.LatencyS
		closed := w.add(at, record.NewDraft(record.KTrial, record.TrialData{Outcome: r.Outcome, LatencyS: &latency, Cues: 1}))
		if r.Outcome == trial.Met {
			w.add(at, record.NewDraft(record.KPay, record.PayData{Pieces: 1}))
		}
		if latency > 3 && r.Outcome == trial.Met {
			r.Outcome = trial.Late // as the fold will read it
		}
		mark, _ := decision.MarkOf(r.Outcome)
		w.decide(at, w.meter.Trial(mark, 0, i == 0, spot), closed)
	}
	w.add(at, record.NewDraft(record.KEnd, record.EndData{Reason: "done"}))
	receipts, err := w.p.Receive(ctx, w.events)
	if err != nil {
		return err
	}
	for _, r := range receipts {
		if r.Result == derive.Refused {
			return fmt.Errorf("refused: %s", r.Why)
		}
	}
	return nil
}

// decide takes a verdict; half steps are not made.
func (w *worked) decide(at int64, v decision.Verdict, trial string) {
	to := w.at
	switch v {
	case decision.StepUp:
		to++
	case decision.StepBack:
		to--
	default:
		return
	}
	rule, _ := json.Marshal(w.pack.rule)
	w.add(at, record.NewDraft(record.KVerdict, record.VerdictData{
		Recommended: string(v), Action: string(v), Rule: rule, Reasons: json.RawMessage(`[{"code":"full_set","of":5,"out":5}]`),
		Step: w.pack.steps[w.at].ID, Trial: trial, TrialIDs: []string{trial},
	}))
	why := progression.WhyStepUp
	if to < w.at {
		why = progression.WhyStepBack
	}
	w.since = w.add(at, record.NewDraft(record.KMove, record.MoveData{From: w.pack.steps[w.at].ID, To: w.pack.steps[to].ID, Why: why}))
	w.at = to
	w.meter.Begin(to, len(w.levels)-1)
	w.meter.Session()
}

// Said is a size in words.
func (s Size) Said() string {
	return strconv.Itoa(s.Dogs) + " dogs, " + strconv.Itoa(s.Plans) + " plans, " + strconv.Itoa(s.Sessions) + " sessions, " +
		strconv.Itoa(s.Trials) + " trials"
}
