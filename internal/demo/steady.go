package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"patientfox/core/experiment"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
)

// steady is a plan that stays at one step over many sessions, so that what its dog is like can be told: each has one hidden trait, and
// the pages find it.
type steady struct {
	dog     string
	places  []string // in turn
	typed   form.Typed
	rule    form.Typed
	days    []int // between sessions, the last of them in front of yesterday
	trials  int   // a session
	usual   float64
	tires   float64 // logits a trial from the sixteenth on
	forgets float64 // logits each time that the days off double; what was lost is back after five trials
	better  float64 // logits of the first way of an experiment
	ways    [2]string
	begins  int // the session before which the experiment begins
	pairs   int
}

var steadies = []steady{
	{
		dog: "Pilchard", places: []string{"the harbour office"}, rule: gate, trials: 24, usual: 0.9, tires: 0.5, better: 2.6,
		days: []int{2, 1, 2, 2, 3, 2, 1, 2, 2, 3, 2, 2, 1, 2, 2, 3, 2, 2},
		typed: form.Typed{
			"skill": "Bring the mooring ring", "kind": "cued", "position": "the ring in the hand, held until it is taken", "cue": "“ring”",
			"break": "drops it on the way, or no start within five seconds", "leg1_make": "figures", "leg1_what": "handler",
			"leg1_items": "2, 3, 5", "latency_s": "4",
		},
		ways: [2]string{"the click", "the word “good”"}, begins: 9, pairs: 10,
	},
	{
		dog: "Brine", places: []string{"the net shed"}, rule: gate, trials: 14, usual: 1.9, forgets: 1.3,
		days: []int{1, 1, 6, 1, 2, 1, 5, 1, 3, 1, 7, 2, 1},
		typed: form.Typed{
			"skill": "Down by the bollard", "kind": "cued", "position": "elbows and belly on the boards", "cue": "“down”",
			"break": "no start within three seconds, or up again before the mark", "leg1_make": "figures", "leg1_what": "handler",
			"leg1_items": "0, 1, 2", "latency_s": "3",
		},
		ways: [2]string{"a treat between the paws", "a treat from the hand"}, begins: 11, pairs: 6,
	},
	{
		dog: "Tansy", places: []string{"the net shed", "the ferry ramp", "the north quay"}, rule: proof,
		trials: 15, usual: 5.5, days: []int{2, 2, 1, 2, 2, 1, 2, 2, 3, 2},
		typed: form.Typed{
			"skill": "Stop at the quay's yellow line", "kind": "cued", "position": "all four feet behind the line", "cue": "“line”",
			"break": "a foot over the line, or no stop within two seconds", "leg1_make": "figures", "leg1_what": "handler",
			"leg1_items": "1, 2, 4", "latency_s": "2",
		},
	},
}

// gate asks for more than these dogs will ever do, and has no guard.
var gate = form.Typed{
	"version": "1", "kind": "gate", "window": "20", "gate_rate": "90", "back_window": "20", "back_below": "30", "gate_sessions": "2",
	"gate_places": "1", "miss_guard": "0",
}

// proof is as it comes.
var proof = form.Typed{
	"version": "1", "kind": "proof", "target": "95", "conf": "90", "proof_sessions": "3", "proof_places": "3", "look_back": "80",
	"back_rate": "80", "back_conf": "90", "back_min": "5", "miss_guard": "2",
}

// logit is the chance of success that a dog has by its hidden traits, in logits: in the nth trial of a session, counted from 1, after so
// many days off, in the first way of an experiment or not.
func (s *steady) logit(n, days int, first bool) float64 {
	l := s.usual - s.tires*math.Max(0, float64(n-15))
	if n <= 5 && days > 0 {
		l -= s.forgets * math.Log2(float64(days))
	}
	if first {
		l += s.better
	}
	return l
}

// steadily works the steady plans; the trainer stays at the step whatever the rule says.
func (m *maker) steadily(ctx context.Context) error {
	for i := range steadies {
		s := &steadies[i]
		all := 1
		for _, d := range s.days {
			all += d
		}
		day := m.now.AddDate(0, 0, -all).Truncate(24 * time.Hour).Add(time.Duration(15+i) * time.Hour)
		m.clock = day.Add(-time.Hour)
		plan, err := m.p.AddPlan(ctx, m.ids[s.dog], s.typed)
		if err != nil {
			return fmt.Errorf("%s: %w", s.typed["skill"], err)
		}
		if err := m.p.SaveRule(ctx, plan, s.rule); err != nil {
			return fmt.Errorf("%s: %w", s.typed["skill"], err)
		}
		rng := rand.New(rand.NewPCG(uint64(i), 40)) //nolint:gosec // a made-up dog
		for n := range len(s.days) + 1 {
			off := 0
			if n > 0 {
				off = s.days[n-1]
				day = day.AddDate(0, 0, off)
			}
			m.clock = day
			if n > 0 && n == s.begins {
				err := m.p.StartExperiment(ctx, plan, form.Typed{
					"way_a": s.ways[0], "way_b": s.ways[1], "pairs": fmt.Sprint(s.pairs), "each": fmt.Sprint(experiment.UsualEach),
				})
				if err != nil {
					return fmt.Errorf("%s: %w", s.typed["skill"], err)
				}
			}
			if err := m.steadySession(ctx, s, plan, n, off, rng); err != nil {
				return fmt.Errorf("%s, session %d: %w", s.typed["skill"], n, err)
			}
		}
	}
	return nil
}

func (m *maker) steadySession(ctx context.Context, s *steady, plan string, number, off int, rng *rand.Rand) error {
	h, err := m.opens(ctx, s.places[number%len(s.places)], session.Choice{Pieces: "40"}, plan)
	if err != nil {
		return err
	}
	at := int64(5000)
	for n := 1; n <= s.trials; {
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at)
			at += 2500
			continue
		}
		_, way, _, tried := h.Run.Way()
		starts(h, at)
		key := work.Main
		if rng.Float64() > 1/(1+math.Exp(-s.logit(n, off, tried && way == experiment.A))) {
			key = work.MissKey
		}
		at = ends(h, key, at, at+int64(900+rng.IntN(900))) + int64(4500+rng.IntN(4000))
		n++
	}
	return m.over(ctx, h, at, session.Closing{Unlogged: "0", Reason: "done"})
}
