package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
)

// larder is what each dog works for, best first; its taste orders the rewards of its preference test.
var larder = []struct {
	dog     string
	feeding form.Typed
	rewards []form.Typed
	tested  []string // in the order of its taste
}{
	{
		"Tansy", form.Typed{"weight_kg": "17.5", "ideal_kg": "17", "from_meals": "on"},
		[]form.Typed{
			{"name": "Sprat halves", "kind": "food", "grams": "1.2", "kcal": "1.9", "contains": "fish"},
			{"name": "Cheese rind", "kind": "food", "grams": "0.6", "kcal": "2.2", "contains": "milk"},
			{"name": "Smoked haddock skin", "kind": "food", "grams": "0.4", "kcal": "1.1", "contains": "fish"},
			{"name": "Her own kibble", "kind": "food", "grams": "0.3", "kcal": "1.1", "contains": "oats, lamb"},
			{"name": "The rope", "kind": "toy", "note": "After a whole block, away from the ramp."},
			{"name": "Off to the bait boxes", "kind": "wanted", "tier": "5"},
			{"name": "Lick mat with broth", "kind": "lasting", "kcal": "38", "contains": "beef"},
		},
		[]string{"Sprat halves", "Cheese rind", "Smoked haddock skin", "Her own kibble"},
	},
	{
		"Pilchard", form.Typed{"weight_kg": "9.2", "stage": "gains"},
		[]form.Typed{
			{"name": "Dry fish skin", "kind": "food", "grams": "0.3", "kcal": "0.9", "contains": "fish", "tier": "5"},
			{"name": "Boiled turnip", "kind": "food", "grams": "0.5", "kcal": "0.2", "tier": "3"},
			{"name": "Kibble", "kind": "food", "grams": "0.2", "kcal": "0.8", "contains": "rice, lamb", "tier": "2"},
		},
		nil,
	},
	{
		"Quill", form.Typed{"weight_kg": "23", "allergies": "chicken", "never": "raw fish"},
		[]form.Typed{
			{"name": "Liver paste from the tube", "kind": "food", "grams": "1", "kcal": "2.8", "contains": "liver", "tier": "5"},
			{"name": "Oat cubes", "kind": "food", "grams": "0.5", "kcal": "1.6", "contains": "oats", "tier": "4"},
			{"name": "Crab sticks from the kiosk", "kind": "food", "grams": "1", "kcal": "1.1", "contains": "wheat, raw fish"},
			{"name": "The ball on a string", "kind": "toy", "tier": "3"},
		},
		nil,
	},
	{
		"Brine", form.Typed{"weight_kg": "11", "size": "medium"},
		[]form.Typed{
			{"name": "Soaked kibble", "kind": "food", "grams": "0.3", "kcal": "0.8", "contains": "turkey", "tier": "3"},
			{"name": "Turkey crumbs", "kind": "food", "grams": "0.3", "kcal": "0.6", "contains": "turkey", "tier": "5"},
		},
		nil,
	},
}

// food fills the larder, and tests one dog's taste by the same offers as a trainer's.
func (m *maker) food(ctx context.Context) error {
	for _, one := range larder {
		dog := m.ids[one.dog]
		shown, _, err := m.p.DogForm(ctx, dog)
		if err != nil {
			return err
		}
		one.feeding["version"] = shown["version"]
		if err := m.p.SaveFeeding(ctx, dog, one.feeding); err != nil {
			return fmt.Errorf("%s: %w", one.dog, err)
		}
		for _, reward := range one.rewards {
			m.clock = m.clock.Add(1e9)
			if err := m.p.SaveReward(ctx, dog, reward); err != nil {
				return fmt.Errorf("%s, %s: %w", one.dog, reward["name"], err)
			}
		}
		if one.tested != nil {
			if err := m.taste(ctx, dog, one.tested); err != nil {
				return err
			}
		}
	}
	v, err := m.p.Settings(ctx)
	if err != nil {
		return err
	}
	for _, place := range v.Places {
		if place.Name == "the ferry ramp" {
			return m.p.SavePlaceRules(ctx, place.ID, form.Typed{"ban_no_thrown": "on", "ban_no_toys": "on"})
		}
	}
	return nil
}

// taste runs a preference test with a dog that mostly takes what is earlier in its list.
func (m *maker) taste(ctx context.Context, dog string, taste []string) error {
	v, err := m.p.Rewards(ctx, dog)
	if err != nil {
		return err
	}
	marked, rank := form.Typed{}, map[string]int{}
	for i, name := range taste {
		for _, one := range v.Choosable {
			if one.Name == name {
				marked["in_"+one.ID], rank[one.ID] = "on", i
			}
		}
	}
	id, err := m.p.StartTest(ctx, dog, marked)
	if err != nil {
		return err
	}
	rng := rand.New(rand.NewPCG(3, 14))
	for range 30 {
		test, err := m.p.Preference(ctx, id, true)
		if err != nil {
			return err
		}
		if test.Over {
			_, err = m.p.TakeTiers(ctx, id)
			return err
		}
		took := "left"
		if better := rank[test.Right.ID] < rank[test.Left.ID]; better != (rng.IntN(9) == 0) {
			took = "right"
		}
		if err := m.p.Choose(ctx, id, form.Typed{
			"ord": fmt.Sprint(test.Ord), "left": test.Left.ID, "right": test.Right.ID, "took": took,
		}); err != nil {
			return err
		}
	}
	_, err = m.p.TakeTiers(ctx, id)
	return err
}

// sheeted works one session from its sheet, on the day before: eager at first, then one block is left out.
func (m *maker) sheeted(ctx context.Context, dog string) error {
	m.clock = m.now.AddDate(0, 0, -1).Truncate(24 * time.Hour).Add(10 * time.Hour)
	id, err := m.p.AddSheet(ctx, m.ids[dog], form.Typed{
		"minutes": "14", "place": m.ids["the north quay"], "handler": m.ids["Maren Oduya"], "start": "10:00",
	})
	if err != nil {
		return err
	}
	planned, err := m.p.SheetPack(ctx, id)
	if err != nil {
		return err
	}
	packs := map[string]pack.Pack{}
	for _, pack := range planned.Packs {
		packs[pack.Plan] = pack
	}
	run, err := session.Open(packs[planned.Sheet.Plan.Blocks[0].Plan])
	if err != nil {
		return err
	}
	run.Follow(planned.Sheet)
	h := &session.Hand{
		Run: run, Session: m.uuid(), Dev: "demo-phone", By: m.ids["Maren Oduya"], Handler: m.ids["Maren Oduya"],
		Wall: m.clock.UnixMilli(), NewID: m.uuid,
	}
	begin := func(at int64, c session.Choice) error {
		drafts, problem := run.Begin(c)
		if problem != nil {
			return fmt.Errorf("%s: %s", problem.Field, problem.Code)
		}
		h.Do(at, drafts)
		return nil
	}
	blocks := planned.Sheet.Plan.Blocks
	if err := begin(0, session.Choice{
		Place: m.ids["the north quay"], Pieces: fmt.Sprint(planned.Sheet.Pieces), Step: blocks[0].Step,
	}); err != nil {
		return err
	}
	at := int64(4000)
	for _, key := range []work.Key{work.Main, work.LateKey, work.Main, work.GoKey} {
		h.Press(key, at)
		at += 9000
	}
	close := func(c session.Closing) {
		drafts, _ := run.Close(c)
		h.Do(at, drafts)
		at += 55_000
	}
	for i, b := range blocks {
		if i > 0 && i == len(blocks)-1 {
			break // the last one is left out: the minutes were gone
		}
		if i > 0 {
			close(session.Closing{Unlogged: "0"})
			if err := run.Renew(packs[b.Plan]); err != nil {
				return err
			}
			if err := begin(at, session.Choice{Step: b.Step}); err != nil {
				return err
			}
		}
		for n := range b.Trials() {
			if screen.Of(run).View(at).Phase == session.Deciding {
				h.Press(work.Main, at)
				at += 2500
			}
			mark := 'm'
			if n%4 == 3 {
				mark = 'x'
			}
			if work.Of(packs[b.Plan].Kind).ByState {
				mark = '1'
			}
			at = scriptedTrial(h, mark, at)
			if i == 1 {
				at += 9000 // slow to set up again: the pay falls behind
			}
		}
	}
	close(session.Closing{
		Unlogged: "1", Left: "9", Reason: "time", Next: "Shorter blocks: the last one was never worked.", Take: true, End: true,
	})
	_, err = receive(ctx, m.p, h.Events)
	return err
}

// ahead plans the rest of the week and eats something beside it.
func (m *maker) ahead(ctx context.Context) error {
	if err := m.p.AddEaten(ctx, m.ids["Tansy"], form.Typed{
		"eaten_kind": "lasting", "reward": "", "what": "lick mat with broth", "kcal": "38", "from": "6:40", "until": "7:00",
	}); err != nil {
		return err
	}
	for _, one := range []struct {
		dog   string
		typed form.Typed
	}{
		{"Tansy", form.Typed{"minutes": "15", "place": m.ids["the ferry ramp"], "handler": m.ids["Maren Oduya"]}},
		{"Brine", form.Typed{"minutes": "8", "place": m.ids["the net shed"], "handler": m.ids["Jorun Vale"]}},
	} {
		if _, err := m.p.AddSheet(ctx, m.ids[one.dog], one.typed); err != nil {
			return fmt.Errorf("a session of %s: %w", one.dog, err)
		}
	}
	_, _, err := m.p.PlanWeek(ctx, m.now.Format("2006-01-02"))
	return err
}
