package loads

import (
	"context"
	"fmt"
	"slices"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// View is what makes a plan's skill harder and easier for its dog.
type View struct {
	ID, DogID, Dog, Skill string
	Running               bool   // it is being worked out
	Failed                bool   // it could not be
	N                     int    // trials behind it
	Step, Place           string // that is looked at, by id
	StepName              string
	Steps, Places         []app.Named
	Sentence              string // how a trial there is likely to go
	Enough                bool   // it is likely right often enough
	Levers                []app.LeverRow
	NoLever               string // which levers cannot do it alone, or were never tried that far
	Effects               []EffectRow
	Field                 *Field         // distance and strength; nil where there is no trigger
	Thresholds            []ThresholdRow // by strength
	Predictions           app.Calibration
}

// EffectRow is how much one thing weighs.
type EffectRow struct {
	Name, Known  string
	From, To     string  // the chance without and with it
	Size, Lo, Hi float64 // logits; above 0 is easier
	Sure         bool    // shown by the dog's own trials
	Grey         bool    // a starting assumption
	None         bool    // no effect seen
}

// ThresholdRow is the threshold at one strength.
type ThresholdRow struct {
	Strength, Text string
	Untried        bool // there is a figure, and this strength was never tried
}

// Field is what a drawing of distance and strength needs. A logit in it is Base + PerDoubling·log2(m ÷ 10) + PerLevel·strength.
type Field struct {
	Base, PerDoubling, PerLevel float64
	Tried                       load.Tried
	Metres                      func(float64) string // a distance in the practice's units
	Spots                       []Spot
	At                          *Spot // the step that is looked at
}

// Spot is where trials were, and how many of them were right.
type Spot struct {
	Metres, Level float64
	Met, N        int
}

// Load shows what makes a plan's skill harder and easier for its dog, at a step and in a place; "" are the reached step and the last
// place.
func (p *Cases) Load(ctx context.Context, id, step, place string) (View, error) {
	var t told
	var dog []app.Plan
	err := p.Store.Snapshot(ctx, func(q store.Q) (err error) {
		t, dog, err = p.asked(ctx, q, id)
		return err
	})
	if err != nil {
		return View{}, err
	}
	v := View{ID: t.ID, DogID: t.Dog, Dog: t.DogName, Skill: t.Name()}
	one, err := p.study(t.Plan, dog, t.rewards, t.profile.Day(p.Ms()))
	if err != nil {
		return v, err
	}
	if v.Running = !one.Wait(quick); v.Running {
		return v, nil
	}
	found, err := one.Result()
	if v.Failed = err != nil; v.Failed {
		return v, nil
	}
	t.study = found.(study)
	t.choose(&v, step, place)
	t.tell(&v)
	return v, nil
}

// asked loads what a page of load is about, but for the study.
func (p *Cases) asked(ctx context.Context, q store.Q, id string) (t told, dog []app.Plan, err error) {
	if t.profile, err = p.Profile(ctx, q); err != nil {
		return t, nil, err
	}
	if t.Plan, dog, err = app.Besides(ctx, q, id, t.profile.Words()); err != nil {
		return t, nil, err
	}
	if err := p.Ready(ctx, q, t.Dog, t.ID); err != nil {
		return t, nil, err
	}
	larder, err := app.LoadLarder(ctx, q, []store.Dog{{ID: t.Dog, Feeding: t.DogFeeding}}, t.profile.Day(p.Ms()))
	if err != nil {
		return t, nil, err
	}
	t.rewards = larder[t.Dog]
	t.places, err = q.Places(ctx)
	return t, dog, err
}

// quick is how long a page waits for a study before it says that it is under way.
const quick = 600 * time.Millisecond

// study is a model with what it was fitted to.
type study struct {
	load.Model
	record    app.SkillRecord
	predicted []fit.Predicted
	spots     []Spot
}

func (p *Cases) study(l app.Plan, dog []app.Plan, rewards []reinforce.Reward, today string) (*jobs.Job, error) {
	key, from := "study "+l.Dog+" "+l.Skill, p.SkillStamp(l, dog, rewards, today)
	if one := p.Jobs.Find(key, from); one != nil {
		return one, nil
	}
	return p.Jobs.Start(key, from, func(ctx context.Context, _ func(float64)) (any, error) {
		record, err := app.LoadSkill(ctx, p.Store.Read(), l, dog, rewards)
		if err != nil {
			return nil, err
		}
		st := study{record: record}
		trials := record.Trials(today)
		st.Model, st.spots = fit.Load(trials), spotsOf(trials)
		st.predicted = record.Predicted()
		return st, ctx.Err()
	})
}

// spotsOf gathers trials by the trigger's distance and strength.
func spotsOf(trials []fit.Trial) (spots []Spot) {
	for i := range trials {
		t := &trials[i]
		if t.Intensity <= 0 || t.TriggerM <= 0 {
			continue
		}
		at := slices.IndexFunc(spots, func(s Spot) bool { return s.Metres == t.TriggerM && s.Level == t.Intensity })
		if at < 0 {
			at = len(spots)
			spots = append(spots, Spot{Metres: t.TriggerM, Level: t.Intensity})
		}
		if spots[at].N++; t.Met {
			spots[at].Met++
		}
	}
	return spots
}

// told is what is said of a study.
type told struct {
	study
	app.Plan
	rewards []reinforce.Reward
	profile app.Profile
	places  []store.Place
}

// choose settles which step and place are looked at.
func (t told) choose(v *View, step, place string) {
	at := progression.Index(t.Steps, step)
	if at < 0 {
		at = t.Reached()
	}
	for i, s := range t.Steps {
		v.Steps = append(v.Steps, app.Named{ID: s.ID, Name: fmt.Sprintf("%d: %s", i+1, t.profile.Words().Short(s.Criteria))})
	}
	v.Step = t.Steps[at].ID
	v.Place = t.Standing.LastPlace
	for _, one := range t.places {
		v.Places = append(v.Places, app.Named{ID: one.ID, Name: one.Name})
		if one.ID == place {
			v.Place = place
		}
	}
}

func (t told) tell(v *View) {
	words := t.profile.Words()
	step := t.Steps[progression.Index(t.Steps, v.Step)]
	c := t.Plan.Ahead(step, t.rewards, t.record.Experience, v.Place)
	v.N, v.StepName = t.N, words.Step(step.Criteria)
	met := t.Work().Success()
	v.Sentence = phrase.Ahead(t.At(c), t.N, met)
	levers := t.Levers(c, load.Target)
	v.Enough, v.NoLever = len(levers) == 0, phrase.NoLever(levers)
	v.Levers = app.LeverRows(levers, c, step.Criteria, words)
	for term := load.Distance; term < load.Terms; term++ {
		if t.Tried.Matters(term, c) {
			v.Effects = append(v.Effects, t.effect(c, term))
		}
	}
	if t.Tried.Matters(load.Distance, c) {
		t.field(v, c)
	}
	v.Predictions = app.CalibrationOf(t.predicted)
}

// effect is how much one term weighs, shown by a change that people can picture.
func (t told) effect(c load.Conditions, term load.Term) EffectRow {
	now, then := c.Change(term)
	if now.Intensity <= 0 && (term == load.Distance || term == load.Moving) {
		now.Intensity, then.Intensity = load.Unsaid, load.Unsaid
	}
	r := EffectRow{
		Name: phrase.Effect(term), Known: phrase.Known(t.Model, term), From: say.Percent(t.At(now).P), To: say.Percent(t.At(then).P),
		Sure: t.Claimed(term), Grey: t.Grey(term), None: t.Fixed[term],
	}
	if now.Intensity > 0 && c.Intensity <= 0 {
		c.Intensity = now.Intensity
	}
	r.Size, r.Lo, r.Hi = t.Size(c, term)
	return r
}

// field is the drawing of distance and strength, and the thresholds.
func (t told) field(v *View, c load.Conditions) {
	rest := c
	rest.Intensity = 0
	base := load.Logit(t.At(rest).P)
	if c.Moving {
		base += t.Coef[load.Moving]
	}
	v.Field = &Field{Base: base, PerDoubling: t.Coef[load.Distance], PerLevel: t.Coef[load.Intensity], Tried: t.Tried, Spots: t.spots}
	metres, _ := criteria.Find(criteria.Trigger)
	v.Field.Metres = func(m float64) string { return t.profile.Units().Say(metres, m) }
	if c.Intensity > 0 && c.TriggerM > 0 {
		v.Field.At = &Spot{Metres: c.TriggerM, Level: c.Intensity}
	}
	for level := 1; level <= min(5, max(t.Tried.Strongest(), int(c.Intensity))+1); level++ {
		at := c
		at.Intensity = float64(level)
		metres, lo, hi, ok := t.ThresholdRange(at, load.Target)
		v.Thresholds = append(v.Thresholds, ThresholdRow{
			Strength: say.Upper(phrase.Strength(level)), Untried: !t.Tried.Levels[level] && ok && metres <= load.Beyond*t.Tried.Far,
			Text: say.Upper(t.profile.Words().Threshold(t.Tried.Far, metres, lo, hi, ok)),
		})
	}
}
