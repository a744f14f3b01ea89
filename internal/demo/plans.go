package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/outlook"
	"patientfox/internal/app/form"
)

func dogs(now time.Time) []form.Typed {
	born := func(months int) string { return now.AddDate(0, -months, -9).Format("2006-01-02") }
	return []form.Typed{
		{
			"name": "Tansy", "born": born(41), "weight_kg": "17.5", "household": "Maren's own",
			"notes": "Loves the smell of bait boxes. Sprats beat everything; a rope toy comes second.",
		},
		{
			"name": "Pilchard", "born": born(88), "weight_kg": "9.2", "household": "the Fenwicks at the chandlery",
			"home_times": "17:30", "notes": "Works for dry fish skin. Lies down by himself once his blanket is there.",
		},
		{
			"name": "Quill", "born": born(26), "weight_kg": "23", "household": "Ottoline at the lock-keeper's house",
			"flags": "Bolted from the foghorn twice: two lines on, never near the quay edge",
			"notes": "Reads hands better than words. Eats slower when she worries.",
		},
		{
			"name": "Brine", "born": born(5), "weight_kg": "11", "household": "the ferry's second mate", "home_times": "7:30, 18:00",
			"per_week": "3", "notes": "Five months: seconds, not minutes.",
		},
	}
}

// plan is one plan of the demo and how its dog goes about it.
type plan struct {
	dog     string
	from    string // the template that it was laid out from
	typed   form.Typed
	ladder  []form.Typed // figures of each step beyond the first form's, easiest first
	rule    form.Typed
	ability float64 // of the learner at the start, logits
	slope   float64 // logits from step to step
	gain    float64 // logits a success, at most
	every   int     // days between sessions
	begins  int     // days after the first day of the six weeks
	until   int     // days before now at which it was left off
	places  []string
	hands   string
	stop    bool // the last session ended in a stop
	sure    bool // its cue must not fail
	stuck   int  // a step the dog does not get past, 0 for none
}

var plans = []plan{
	{
		dog: "Tansy", ability: 2.2, slope: 0.62, gain: 0.024, every: 2, begins: 1,
		places: []string{"the net shed", "the net shed", "the ferry ramp", "the ferry ramp", "the north quay"},
		hands:  "Maren Oduya",
		typed: form.Typed{
			"skill": "Wait at the ramp", "kind": "held", "position": "all four feet behind the ramp's lip, until the release word",
			"postures": "stand, sit or down",
			"cue":      "“wait”", "break": "a foot over the lip, or a second cue", "release": "“off we go”", "leg1_make": "figures",
			"leg1_what": "duration", "leg1_items": "2, 4, 6, 10, 12, 14, 16, 18, 20, 22, 24",
		},
		ladder: []form.Typed{
			{"duration": "2", "handler": "0"}, {"duration": "4", "handler": "0"}, {"duration": "6", "handler": "0"},
			{"duration": "9", "handler": "0"},
			{"duration": "9", "handler": "1"}, {"duration": "9", "handler": "2"},
			{"duration": "6", "handler": "2", "trigger": "40", "intensity": "2", "trig": "gulls"},
			{"duration": "9", "handler": "2", "trigger": "40", "intensity": "2", "trig": "gulls"},
			{"duration": "9", "handler": "2", "trigger": "27", "intensity": "2", "trig": "gulls"},
			{"duration": "9", "handler": "2", "trigger": "18", "intensity": "2", "trig": "gulls"},
			{"duration": "9", "handler": "2", "trigger": "12", "intensity": "2", "trig": "gulls", "safety": "on"},
		},
		rule: form.Typed{"kind": "set", "size": "5", "up": "5", "back": "2", "split_after": "3", "miss_guard": "2"},
	},
	{
		dog: "Tansy", ability: 1.9, slope: 0.65, gain: 0.012, every: 3, begins: 8,
		places: []string{"the net shed", "the harbour office"}, hands: "Maren Oduya",
		typed: form.Typed{
			"skill": "Chin rest for ear drops", "kind": "held",
			"position": "chin on the palm, still, until released; she may leave at any time", "postures": "any",
			"cue": "the open palm", "break": "the chin lifts off", "release": "“done”", "leg1_make": "figures",
			"leg1_what": "duration", "leg1_items": "1, 2, 4, 6, 8, 10",
		},
		ladder: []form.Typed{
			{"duration": "1", "handler": "0"}, {"duration": "2", "handler": "0"}, {"duration": "4", "handler": "0"},
			{"duration": "4", "handler": "0", "text": "other hand lifts the ear flap"},
			{"duration": "4", "handler": "0", "text": "closed bottle touches the ear"},
			{"duration": "6", "handler": "0", "text": "open bottle, warm water"},
		},
	},
	{
		dog: "Pilchard", ability: 3.1, slope: 0.4, gain: 0.04, every: 2, until: 9,
		places: []string{"the harbour office", "the upper deck"}, hands: "Maren Oduya",
		typed: form.Typed{
			"skill": "Settle on deck", "kind": "held", "position": "lies on his blanket, hip rolled, head where he likes", "postures": "down",
			"cue": "the blanket itself", "cue_by": "an object", "break": "an elbow off the deck",
			"release": "the blanket is picked up", "leg1_make": "figures", "leg1_what": "duration",
			"leg1_items": "8, 12, 18, 27, 40, 60",
		},
		ladder: []form.Typed{
			{"duration": "8", "handler": "0"}, {"duration": "12", "handler": "0"}, {"duration": "18", "handler": "0"},
			{"duration": "27", "handler": "0"},
			{"duration": "40", "handler": "0"}, {"duration": "60", "handler": "0", "vary_duration": "on"},
		},
	},
	{
		dog: "Pilchard", ability: 1.9, slope: 0.45, gain: 0.02, every: 3, begins: 12, places: []string{"the north quay"},
		hands: "Maren Oduya", stuck: 3, sure: true,
		typed: form.Typed{
			"skill": "Come away from dropped chips", "kind": "cued",
			"position": "turns from the chips and comes to within a step of the handler", "cue": "“with me”",
			"break": "eats a chip, or no turn within five seconds", "leg1_make": "figures", "leg1_what": "handler",
			"leg1_items": "1, 2, 3, 4, 6, 9", "latency_s": "3",
		},
	},
	{
		dog: "Quill", ability: 1.9, slope: 0.7, gain: 0.012, every: 4, begins: 10, places: []string{"the harbour office"},
		hands: "Maren Oduya", stop: true, stuck: 2,
		typed: form.Typed{
			"skill": "Stay on the mat for the foghorn", "kind": "held", "position": "two feet on the mat, eating freely", "postures": "any",
			"cue": "the mat", "break": "leaves the mat, or stops eating", "release": "“free”", "leg1_make": "figures",
			"leg1_what": "duration", "leg1_items": "3, 4, 5, 6, 8",
		},
		ladder: []form.Typed{
			{"duration": "5", "handler": "0", "trigger": "400", "intensity": "1", "trig": "recorded horn"},
			{"duration": "5", "handler": "0", "trigger": "300", "intensity": "1", "trig": "recorded horn"},
			{"duration": "5", "handler": "0", "trigger": "200", "intensity": "1", "trig": "recorded horn"},
			{"duration": "5", "handler": "0", "trigger": "300", "intensity": "2", "trig": "recorded horn"},
			{"duration": "5", "handler": "0", "trigger": "200", "intensity": "2", "trig": "recorded horn"},
		},
	},
	{
		dog: "Quill", ability: 1.7, slope: 0.4, gain: 0.02, every: 3, begins: 2,
		places: []string{"the harbour office", "the net shed", "the north quay"}, hands: "Jorun Vale",
		typed: form.Typed{
			"skill": "Nose to the palm", "kind": "cued", "position": "nose on the open palm", "cue": "“touch”",
			"break": "a paw, teeth, or no answer in five seconds", "leg1_make": "figures", "leg1_what": "handler",
			"leg1_items": "0, 1, 2, 3, 4, 6", "latency_s": "2.5",
		},
		rule: form.Typed{"kind": "run", "run_up": "4", "run_back": "2", "miss_guard": "2"},
	},
	{
		dog: "Brine", ability: 1.7, slope: 0.7, gain: 0.02, every: 3, begins: 24, places: []string{"the net shed"}, hands: "Jorun Vale",
		typed: form.Typed{
			"skill": "Wait at the ramp", "kind": "held", "leg1_make": "figures", "leg1_what": "duration",
			"leg1_items": "1, 2, 3, 5, 7",
		},
	},
}

// laidOut are plans from the library, over the other kinds of work.
var laidOut = []plan{
	{
		dog: "Pilchard", from: "walk-on-a-slack-line", ability: 2.4, slope: 0.35, gain: 0.03, every: 4, begins: 14,
		places: []string{"the north quay"}, hands: "Maren Oduya",
		typed: form.Typed{
			"skill": "Along the quay on a loose leash", "leg1_to": "14",
			"position": "the line hangs in a curve, Pilchard on the landward side",
		},
	},
	{
		dog: "Brine", from: "platform", ability: 1.9, slope: 0.5, gain: 0.03, every: 5, begins: 26,
		places: []string{"the harbour office"}, hands: "Jorun Vale",
		typed: form.Typed{"skill": "Four feet on the weighing plate"},
	},
	{
		dog: "Brine", from: "check-in-outdoors", ability: 1.6, slope: 0.4, gain: 0.03, every: 6, begins: 27,
		places: []string{"the north quay"}, hands: "Maren Oduya",
		typed: form.Typed{"skill": "Check in on the quay", "leg3_trigger_is": "passengers"},
	},
	{
		dog: "Quill", from: "a-sound-that-worries", ability: 2.6, slope: 0.3, gain: 0.03, every: 5, begins: 18, until: 7,
		places: []string{"the harbour office"}, hands: "Jorun Vale",
		typed: form.Typed{"skill": "The foghorn", "leg1_trigger_is": "the recorded horn", "leg1_from": "300", "leg1_to": "60"},
	},
	{
		dog: "Tansy", from: "ears-looked-at", ability: 2.4, slope: 0.35, gain: 0.02, every: 6, begins: -76, until: 2,
		places: []string{"the harbour office"}, hands: "Maren Oduya",
		typed: form.Typed{"skill": "Ear drops", "tracks": "left ear\nright ear"},
	},
	{
		dog: "Tansy", from: "steady-for-a-throw", ability: 2.4, slope: 0.35, gain: 0.03, every: 4, begins: 27, until: 3,
		places: []string{"the net shed", "the north quay"}, hands: "Maren Oduya",
		typed: form.Typed{
			"skill": "Steady for the mooring line", "position": "keeps its place while the mooring line flies, until sent on",
		},
	},
	{
		dog: "Brine", ability: 1.9, slope: 0.5, gain: 0.03, every: 4, begins: 22, places: []string{"the net shed", "the north quay"},
		hands: "Maren Oduya",
		typed: form.Typed{
			"skill": "Come when called", "kind": "cued", "position": "comes to within a step and stays while the collar is touched",
			"cue":   "“Brine, here”",
			"break": "no turn within three seconds", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "1, 2, 4, 7, 10",
			"latency_s": "3",
		},
	},
}

// fromLibrary lays a plan out as a trainer does: the template's form, with a few things changed.
func (m *maker) fromLibrary(ctx context.Context, pl *plan) (string, error) {
	v, err := m.p.NewPlan(ctx, m.ids[pl.dog], form.Typed{"from": pl.from})
	if err != nil {
		return "", err
	}
	typed := v.Typed
	for field, value := range pl.typed {
		typed[field] = value
	}
	return m.p.AddPlan(ctx, m.ids[pl.dog], typed)
}

// around says the prerequisites of two of the plans.
func (m *maker) around(ctx context.Context, pl *plan, id string) error {
	version := func() string {
		v, err := m.p.Plan(ctx, id)
		if err != nil {
			return ""
		}
		return fmt.Sprint(v.Version)
	}
	switch pl.typed["skill"] {
	case "Ear drops":
		if err := m.p.SaveNeed(ctx, id, form.Typed{"op": "remove", "number": "1", "version": version()}); err != nil {
			return err
		}
		return m.p.SaveNeed(ctx, id, form.Typed{
			"op": "add", "skill": "Chin rest for ear drops", "step": "4", "why": "without it she has no way to say stop", "version": version(),
		})
	case "Steady for the mooring line":
		v, err := m.p.Plan(ctx, id)
		if err != nil {
			return err
		}
		if err := m.p.SaveNeed(ctx, id, form.Typed{"op": "remove", "number": "1", "version": version()}); err != nil {
			return err
		}
		return m.p.SaveNeed(ctx, id, form.Typed{
			"op": "add", "skill": "Wait at the ramp", "before": v.Steps[5].ID, "why": "steadiness is a wait with temptation", "version": version(),
		})
	}
	return nil
}

func learner(i int, pl *plan) *outlook.Learner {
	return outlook.NewLearner(uint64(i+11), outlook.Traits{
		Form: outlook.Gradual, Ability: pl.ability, Gain: pl.gain, Loss: 0.05, Strange: 0.9, Forget: 0.012,
	})
}

// lifeline says of a plan that its cue must not fail.
func (m *maker) lifeline(ctx context.Context, plan string) error {
	if err := m.p.CatchUp(ctx); err != nil {
		return err
	}
	v, err := m.p.Pay(ctx, plan, "")
	if err != nil {
		return err
	}
	typed := form.Typed{"op": "save", "lifeline": "on"}
	for name, value := range v.Form {
		typed[name] = value
	}
	typed["lifeline"] = "on"
	return m.p.SavePay(ctx, plan, typed)
}

// plan lays one plan out by the same forms as a trainer.
func (m *maker) plan(ctx context.Context, pl *plan) error {
	lay := func() (string, error) { return m.p.AddPlan(ctx, m.ids[pl.dog], pl.typed) }
	if pl.from != "" {
		lay = func() (string, error) { return m.fromLibrary(ctx, pl) }
	}
	id, err := lay()
	if err != nil {
		return fmt.Errorf("%s: %w", pl.typed["skill"], err)
	}
	if pl.sure {
		if err := m.lifeline(ctx, id); err != nil {
			return err
		}
	}
	if pl.from != "" || pl.every == 0 {
		m.ids[pl.typed["skill"]] = id
	}
	if err := m.around(ctx, pl, id); err != nil {
		return err
	}
	view, err := m.p.Plan(ctx, id)
	if err != nil {
		return err
	}
	for len(view.Steps) > len(pl.ladder) && len(pl.ladder) > 0 {
		top := view.Steps[len(view.Steps)-1]
		if err := m.p.EditSteps(ctx, id, form.Typed{"op": "remove", "step": top.ID, "version": fmt.Sprint(view.Version)}); err != nil {
			return err
		}
		if view, err = m.p.Plan(ctx, id); err != nil {
			return err
		}
	}
	for i, figures := range pl.ladder {
		t := form.Typed{"op": "save", "step": view.Steps[i].ID, "version": fmt.Sprint(view.Version + i)}
		for field, value := range figures {
			t[field] = value
		}
		if err := m.p.EditSteps(ctx, id, t); err != nil {
			return err
		}
	}
	if pl.rule != nil {
		if view, err = m.p.Plan(ctx, id); err != nil {
			return err
		}
		t := form.Typed{"version": fmt.Sprint(view.Version)}
		for field, value := range pl.rule {
			t[field] = value
		}
		if err := m.p.SaveRule(ctx, id, t); err != nil {
			return err
		}
	}
	if pl.every == 0 {
		return nil
	}
	ids := []string{id}
	if len(view.Tracks) > 0 {
		ids = nil
		for _, track := range view.Tracks {
			ids = append(ids, track.ID)
		}
	}
	for _, id := range ids {
		r := &running{
			plan: pl, id: id, dog: learner(len(m.runs), pl), levels: map[string]*outlook.Level{},
			rng: rand.New(rand.NewPCG(uint64(len(m.runs)), 26)), says: rand.New(rand.NewPCG(uint64(len(m.runs)), 17)),
		}
		for i, step := range view.Steps {
			r.levels[step.ID] = &outlook.Level{Hard: pl.slope * float64(i)}
			if pl.stuck > 0 && i >= pl.stuck {
				r.levels[step.ID].Hard += 1.8
			}
		}
		m.runs = append(m.runs, r)
	}
	return nil
}
