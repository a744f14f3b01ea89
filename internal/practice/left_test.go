package practice_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practicetest"
	"patientfox/internal/randomlog"
)

// ladders are forms that lay out a few steps of each kind of work, one of them with varied targets where it can have them.
var ladders = map[work.Kind]form.Typed{
	work.Held:       {"leg1_make": "figures", "leg1_what": "duration", "leg1_items": "2\n4\n6\n8"},
	work.Cued:       {"leg1_make": "figures", "leg1_what": "handler", "leg1_items": "1\n2\n4\n6", "latency_s": "3"},
	work.Walking:    {"leg1_make": "figures", "leg1_what": "paces", "leg1_items": "1\n2\n4\n6"},
	work.Shaping:    {"leg1_make": "ramp", "leg1_what": "approximation", "leg1_items": "looks\nsteps\ntouches"},
	work.Attention:  {"leg1_make": "figures", "leg1_what": "check_ins", "leg1_items": "1\n2\n3"},
	work.Counter:    {"leg1_make": "figures", "leg1_what": "trigger", "leg1_items": "60\n40\n20", "leg1_trigger_is": "the horn"},
	work.Handling:   {"leg1_make": "sites", "leg1_from": "1", "leg1_to": "2", "leg1_items": "neck\near", "leg1_tools": "fingers\na cloth"},
	work.Steadiness: {"leg1_make": "figures", "leg1_what": "lead", "leg1_items": "2\n1\n0"},
}

// The pack that a session leaves on the device without a signal is the pack that the server makes of the same log.
func TestTheDeviceLeavesThePackThatTheServerMakes(t *testing.T) {
	rounds := 1 // `make soak` asks for more
	if n, err := strconv.Atoi(os.Getenv("PATIENTFOX_PACKS")); err == nil {
		rounds = n
	}
	for i, info := range work.All {
		t.Run(string(info.Kind), func(t *testing.T) {
			for round := range rounds {
				leaves(t, info.Kind, ladders[info.Kind], uint64(i+round*len(work.All)))
			}
		})
	}
}

func leaves(t *testing.T, kind work.Kind, ladder form.Typed, seed uint64) {
	rng := rand.New(rand.NewPCG(seed, 15))
	o := practicetest.Empty(t)
	for _, place := range []string{"the net shed", "the north quay"} {
		require.NoError(t, o.SavePlace(ctx, form.Typed{"name": place}))
	}
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale"}))
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	shown := form.Typed{"skill": "Work", "kind": string(kind), "position": "as agreed", "cue": "“now”"}
	for name, value := range ladder {
		shown[name] = value
	}
	first, err := o.AddPlan(ctx, dog, shown)
	require.NoError(t, err)
	plans := []string{first}
	if seed%5 == 1 { // proved: a few presses lose a round
		require.NoError(t, o.SaveRule(ctx, first, ruleForm(t, o, first, form.Typed{"kind": "proof", "target": "60", "miss_guard": "3"})))
	}
	if seed%3 == 2 {
		track, err := o.AddTrack(ctx, first, form.Typed{"track": "left", "first": "right"})
		require.NoError(t, err)
		plans = append(plans, track)
	}
	if seed%2 == 0 {
		require.NoError(t, o.StartExperiment(ctx, first, form.Typed{"way_a": "food", "way_b": "play", "pairs": "6", "each": "4"}))
	}
	if work.Of(kind).HandsOn && seed%2 == 1 { // each touch of it is the easiest one
		require.NoError(t, o.SaveHealth(ctx, dog, form.Typed{"kind": "sore", "what": "ear"}))
	}
	other := "" // of the dog's skills, for three trials between
	if seed%3 == 1 {
		other, err = o.AddPlan(ctx, dog, form.Typed{
			"skill": "Touch", "kind": "cued", "position": "nose on it", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "0\n1\n2",
		})
		require.NoError(t, err)
	}
	for visit := range 4 {
		o.Clock.Add(time.Duration(1+rng.IntN(40)) * time.Hour)
		plan := plans[rng.IntN(len(plans))]
		switch rng.IntN(6) {
		case 0:
			require.NoError(t, o.AddSetback(ctx, plan, form.Typed{"what": "the horn", "steps": "1"}))
		case 1:
			v, err := o.Plan(ctx, plan)
			require.NoError(t, err)
			require.NoError(t, o.EditSteps(ctx, plan, form.Typed{"op": "add", "step": v.Steps[len(v.Steps)-1].ID, "version": fmt.Sprint(v.Version)}))
		}
		made, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		made.Today = o.Clock.Now().UTC().Format("2006-01-02")
		run, err := session.Open(made)
		require.NoError(t, err)
		h := &session.Hand{
			Run: run, Session: app.NewID(), Dev: "phone", By: made.Person, Handler: made.Person, Wall: o.Clock.Now().UnixMilli(),
			NewID: app.NewID,
		}
		run.On(h.Dev)
		choice := session.Choice{Pieces: "40"}
		switch at := rng.IntN(4); at {
		case 0, 1:
			choice.Place = made.Places[at].ID
		case 2:
			choice.Place, choice.PlaceName, choice.PlaceID = pack.NewPlace, fmt.Sprintf("berth %d", rng.IntN(4)), app.NewID()
		}
		if rng.IntN(4) == 0 {
			choice.Handler = made.People[1].ID
			h.Handler = choice.Handler
		}
		drafts, problem := run.Begin(choice)
		require.Nil(t, problem)
		h.Do(0, drafts)
		at := randomlog.Press(rng, h, rng.IntN(60), seed%4 == 3)
		if to := made.People[rng.IntN(2)].ID; rng.IntN(3) == 0 && run.HandsOver(to) && run.Session().Trying == nil {
			h.Handler = to
			over, problem := run.HandOver(to)
			require.Nil(t, problem)
			h.Do(at+500, over)
			at = randomlog.Press(rng, h, rng.IntN(30), false)
		}
		if other != "" && run.Phase() == session.Idle && rng.IntN(2) == 0 {
			beside, err := o.Pack(ctx, other)
			require.NoError(t, err)
			beside.Today = made.Today
			require.NoError(t, run.Renew(beside))
			drafts, problem = run.Begin(session.Choice{Interlude: 3})
			require.Nil(t, problem)
			h.Do(at+1000, drafts)
			at = randomlog.Press(rng, h, rng.IntN(30), false)
		}
		events := slices.Clone(h.Events)
		if rng.IntN(3) == 0 {
			events = append(events, randomlog.Second(rng, h)...)
		}
		drafts, problem = run.Close(session.Closing{
			Unlogged: fmt.Sprint(rng.IntN(3)), Left: "3", Reason: []string{"done", "stop"}[rng.IntN(2)], End: true,
		})
		require.Nil(t, problem)
		n := len(h.Events)
		h.Do(at+60000, drafts)
		events = append(events, h.Events[n:]...)
		left := run.After()
		if f := run.Session(); f.PrimaryDevice != h.Dev || len(f.Blocks) == 0 {
			require.Empty(t, left, "another device has the session, or its block was taken back")
		} else {
			require.NotEmpty(t, left)
		}
		o.Clock.Add(20 * time.Minute)
		receipts, err := o.Receive(ctx, events)
		require.NoError(t, err)
		for _, r := range receipts {
			require.NotEqual(t, derive.Refused, r.Result, r.Why)
		}
		for _, one := range left {
			made, err := o.Pack(ctx, one.Plan)
			require.NoError(t, err)
			require.Equal(t, carried(t, made), carried(t, one), "%s, seed %d, session %d", kind, seed, visit)
		}
	}
}

// carried is a pack without what only a server knows (how far it has read, which version it has made of steps from the
// field, what it makes of the whole record), and what only a device does (the day).
func carried(t *testing.T, p pack.Pack) string {
	p.Now, p.Read, p.Today, p.Days, p.Made, p.PlanVersion, p.Load = 0, nil, "", 0, nil, 0, nil
	raw, err := json.MarshalIndent(p, "", " ")
	require.NoError(t, err)
	return string(raw)
}
