// Package randomlog makes random logs of sessions for tests: keys pressed at random by the same hand
// as a trainer's, then taken back, amended, shuffled and doubled.
package randomlog

import (
	"encoding/json"
	"math/rand/v2"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Make returns the pack of a made-up plan and a log under it, in the order in which it came about.
func Make(seed uint64, presses int) (pack.Pack, []record.Event) {
	rng := rand.New(rand.NewPCG(seed, 7))
	pack := plan(rng)
	run, err := session.Open(pack)
	if err != nil {
		panic(err)
	}
	hand := &session.Hand{
		Run: run, Session: record.UUID(rng), Dev: "phone", By: pack.Person, Handler: pack.Person,
		Wall: 1_700_000_000_000, NewID: func() string { return record.UUID(rng) },
	}
	drafts, _ := run.Begin(session.Choice{Place: pack.Places[rng.IntN(2)].ID, Pieces: "40"})
	hand.Do(0, drafts)
	at := Press(rng, hand, presses, seed%4 == 0)
	if rng.IntN(2) == 0 {
		drafts, _ = run.Close(session.Closing{Unlogged: "1", Left: "3", Reason: "done", End: true})
		hand.Do(at+1000, drafts)
	}
	events := append(hand.Events, Second(rng, hand)...)
	return pack, events
}

// Press presses a number of keys at random, and now and then takes something back or amends it; recovers says whether the dog
// may have too much. It returns the time after, in ms of the session's clock.
func Press(rng *rand.Rand, hand *session.Hand, presses int, recovers bool) int64 {
	keys := []work.Key{
		work.Main, work.Main, work.Main, work.Main, work.Main, work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.VoidKey,
		work.PayKey, work.UndoKey, work.BreakKey, work.EasyKey, work.HardKey, work.CueKey, work.StayKey, work.BackKey, work.TwoUpKey,
	}
	seldom := []work.Key{
		work.PullKey, work.ThrowKey, work.ExpectKey, work.PulledKey, work.TakeKey, work.DoneKey, work.PutAwayKey, work.LeftKey, work.ItselfKey,
		work.NoAnswerKey, work.FinishKey, work.SlowKey, work.RefusedKey, work.AlternateKey, work.AcceptKey, "offered:0", "offered:2",
		work.ShortKey, work.StopKey, "state:1", "state:3", work.EarlyKey, work.MarkedKey, work.ReturnKey,
		work.FetchedKey, work.LoopKey, work.DecoyKey, "reaction:looks", work.JackpotKey, work.OtherKey, work.WantedKey, work.RehearseKey,
		"reason:calm", work.MistakeKey,
		"mistake:moved", work.ResetKey, work.PositionKey, "error:crept", "error:crooked", "error:stopped short", "prompt:lure", "arousal:2",
	}
	at := hand.Events[len(hand.Events)-1].T
	for range presses {
		at += int64(200 + rng.IntN(6000))
		if rng.IntN(5) == 0 {
			hand.Press(seldom[rng.IntN(len(seldom))], at)
		} else {
			hand.Press(keys[rng.IntN(len(keys))], at)
		}
		if hand.Run.Kind().HandsOn && rng.IntN(4) == 0 {
			hand.Press([]work.Key{work.RoundKey, work.ToolKey, work.SiteKey}[rng.IntN(3)], at)
		}
		if rng.IntN(15) == 0 {
			hand.Run.Alter([]criteria.Key{criteria.Handler, criteria.Trigger}[rng.IntN(2)], rng.IntN(5)-2)
		}
		if rng.IntN(20) == 0 {
			hand.Do(at, hand.Run.Tell("where", reinforce.Places[rng.IntN(len(reinforce.Places))].Code))
		}
		if rng.IntN(40) == 0 {
			hand.Do(at, hand.Run.Take([]session.Hold{{}, {Food: "tug"}, {Turn: "play"}}[rng.IntN(3)]))
		}
		if rng.IntN(60) == 0 {
			drafts, _ := hand.Run.Share([]trial.Roles{{}, {Holds: "maren"}, {Feeds: "maren"}}[rng.IntN(3)])
			hand.Do(at, drafts)
		}
		if rng.IntN(150) == 0 {
			hand.Press(work.GrowlKey, at)
		}
		if recovers && rng.IntN(200) == 0 { // most of them end at home
			hand.Press(work.RecoverKey, at)
			at += 31_000
		}
		if rng.IntN(12) == 0 {
			hand.Do(at, tamper(rng, hand.Events))
		}
	}
	return at
}

// Shuffle returns the events in another order, some of them twice.
func Shuffle(seed uint64, events []record.Event) []record.Event {
	rng := rand.New(rand.NewPCG(seed, 11))
	out := append([]record.Event(nil), events...)
	for range len(events) / 4 {
		out = append(out, events[rng.IntN(len(events))])
	}
	rng.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

func plan(rng *rand.Rand) pack.Pack {
	p := pack.Pack{
		V: 1, Plan: "plan", PlanVersion: 1, Dog: "dog", DogName: "Quill", Skill: "skill", SkillName: "Settle on deck",
		Kind: work.All[rng.IntN(len(work.All))].Kind, DefVersion: 1, Pay: reinforce.Strategy{Band: reinforce.Band{Lo: 4, Hi: 6}, Pieces: 1},
		Rule: decision.Defaults(decision.Set), Days: rng.IntN(30), Person: "maren",
		Places: []pack.Option{{ID: "shed", Name: "the shed", Known: true}, {ID: "quay", Name: "the quay"}},
		People: []pack.Option{{ID: "maren", Name: "Maren Oduya", Known: true}},
	}
	if rng.IntN(2) == 0 {
		p.Rule = decision.Defaults(decision.Kinds[rng.IntN(len(decision.Kinds))])
	}
	for i := range 3 + rng.IntN(8) {
		c := asks(work.Of(p.Kind), i)
		if rng.IntN(4) == 0 {
			c.Vary = []criteria.Key{c.Asked()[0].Key}
			if len(c.Check()) > 0 {
				c.Vary = nil
			}
		}
		p.Steps = append(p.Steps, progression.Step{ID: record.UUID(rng), Rev: 1, Criteria: c, Safety: rng.IntN(8) == 0})
	}
	at := p.Steps[rng.IntN(len(p.Steps))].ID
	p.Position = progression.Position{Reached: at, Today: at}
	paid(&p)
	return p
}

// asks is what the step with an index asks: the ladder that a kind of work is proposed to begin with.
func asks(kind *work.Work, i int) criteria.Criteria {
	ladder, _ := progression.Layout{Generators: []progression.Generator{kind.First}}.Steps(progression.MaxLadder)
	c := ladder[min(i, len(ladder)-1)]
	if kind.OnCue {
		c = c.With(criteria.Latency, 3)
	}
	return c
}

// paid varies how the plan is paid, by its own chance, so that the rest of a log stays the same.
func paid(p *pack.Pack) {
	rng := rand.New(rand.NewPCG(uint64(len(p.Steps)), uint64(p.Days)))
	ways := []reinforce.Way{reinforce.Every, reinforce.Fixed, reinforce.Variable, reinforce.Best}
	p.Pay.Schedule = reinforce.Schedule{Way: ways[rng.IntN(len(ways))], K: reinforce.Rungs[rng.IntN(4)], Thin: rng.IntN(2) == 0}
	if rng.IntN(3) == 0 {
		p.Pay.LifeReward, p.Pay.LifeRewardIs = 0.4, "the gulls"
	}
	p.Rung, p.Pay.Tier = 1+rng.IntN(3), 1+rng.IntN(5)
	p.Foods = []reinforce.Reward{
		{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 5, NotAt: []string{"quay"}},
		{ID: "dry", Name: "Kibble", Kind: reinforce.Food, Tier: 2},
	}
	for range rng.IntN(25) {
		p.Latencies = append(p.Latencies, 0.5+3*rng.Float64())
	}
}

// tamper takes something back or amends it, whatever it is.
func tamper(rng *rand.Rand, events []record.Event) []record.Draft {
	target := events[rng.IntN(len(events))]
	if rng.IntN(2) == 0 {
		return []record.Draft{record.NewDraft(record.KRetract, record.RetractData{Target: target.ID})}
	}
	outcomes := []trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed, trial.Void}
	outcome, _ := json.Marshal(outcomes[rng.IntN(len(outcomes))])
	return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{
		Target: target.ID, Set: map[string]json.RawMessage{"outcome": outcome, "kind": json.RawMessage(`"nonsense"`)},
	})}
}

// Second is a helper's phone that joined, logged a few trials and was aligned later.
func Second(rng *rand.Rand, hand *session.Hand) []record.Event {
	if rng.IntN(3) > 0 {
		return nil
	}
	other := &session.Hand{
		Run: hand.Run, Session: hand.Session, Dev: "helper", By: "helper", Handler: hand.Handler, Wall: hand.Wall,
		NewID: hand.NewID,
	}
	other.Do(0, []record.Draft{record.NewDraft(record.KJoin, record.JoinData{Offset: int64(rng.IntN(60000))})})
	for i := range 1 + rng.IntN(4) {
		other.Do(int64(i*5000), []record.Draft{record.NewDraft(record.KTrial, record.TrialData{Outcome: trial.Met, Accepted: rng.IntN(2) == 0})})
	}
	if rng.IntN(2) == 0 {
		other.Do(20000, []record.Draft{record.NewDraft(record.KPen, struct{}{})})
		other.Do(25000, []record.Draft{record.NewDraft(record.KTrial, record.TrialData{Outcome: trial.Missed})})
	}
	other.Do(30000, []record.Draft{record.NewDraft(record.KAlign, record.AlignData{Dev: "helper", Shift: int64(rng.IntN(2000) - 1000)})})
	return other.Events
}

// Open opens a pack for a fold that needs its book.
func Open(pack pack.Pack) *session.Run {
	run, err := session.Open(pack)
	if err != nil {
		panic(err)
	}
	return run
}
