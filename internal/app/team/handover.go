package team

import (
	"context"
	"slices"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/library"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// HandOver is what somebody who works dogs on a day is handed, on paper.
type HandOver struct {
	Day, Label string
	With       app.Named
	Practice   string
	Dogs       []HandedDog
}

// HandedDog is one dog of it.
type HandedDog struct {
	ID, Name, Household string
	Flags, Cautions     []string
	Sore                string
	NoFood              string // what it must not eat
	Vet, Emergency      string
	Rules               []Rules
	About               string // the trainer's notes on the dog
	Sessions            []HandedSession
	Skills              []HandedSkill
	Notes               []NoteRow
}

// Rules are house rules of one sort.
type Rules struct {
	Sort  string
	Lines []string
}

// HandedSession is a session plan of the day.
type HandedSession struct {
	ID, At, Place string
	Minutes       int
	Treats        int
	Skills        string
}

// HandedSkill is a skill as they work it.
type HandedSkill struct {
	Plan, Name string
	Step       string // theirs, in words
	At, Of     int
	Begins     bool // they have not handled it yet
	Held       int  // the safety step that was not shown to them, 0 for none
	Rehearsed  bool // handling is not really done until a trainer shows it
	Right      []string
	Rule       string
	Pay        string
	Instead    []library.Instead
	Cautions   []string
	RuledOut   string // why it is not worked now, "" where it may be
}

// HandOver shows what a person is handed for a day (YYYY-MM-DD), today for "".
func (p *Cases) HandOver(ctx context.Context, with, day string) (v HandOver, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v, err = p.handOver(ctx, q, with, day)
		return err
	})
	return v, err
}

func (p *Cases) handOver(ctx context.Context, q store.Q, with, day string) (v HandOver, err error) {
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	at, err := p.dayOf(s, day)
	if err != nil {
		return v, err
	}
	people, err := staff(ctx, q)
	if err != nil {
		return v, err
	}
	who := slices.IndexFunc(people, func(one app.Named) bool { return one.ID == with })
	if who < 0 {
		return v, app.ErrNotFound
	}
	v = HandOver{Day: at.Format(app.DayLayout), Label: at.Format("Monday 2 January 2006"), With: people[who], Practice: s.Name}
	dogs, err := q.HandedDogs(ctx, v.Day, with)
	if err != nil || len(dogs) == 0 {
		return v, err
	}
	ids := make([]string, len(dogs))
	for i, d := range dogs {
		ids[i] = d.ID
	}
	rows, err := q.Plans(ctx, ids, app.PlansLooked)
	if err != nil {
		return v, err
	}
	plans, err := app.LoadPlans(ctx, q, rows, s.Words())
	if err != nil {
		return v, err
	}
	handled, err := q.HandledBy(ctx, ids, with)
	if err != nil {
		return v, err
	}
	sheets, err := app.LoadSheets(ctx, q, ids, v.Day, v.Day)
	if err != nil {
		return v, err
	}
	notes, err := q.OpenNotes(ctx, mostNotes)
	if err != nil {
		return v, err
	}
	for _, d := range dogs {
		one, err := handed(d, with, plans, handled, sheets)
		if err != nil {
			return v, err
		}
		for _, n := range noteRows(slices.DeleteFunc(slices.Clone(notes), func(n store.Note) bool { return n.Dog != d.ID }), s) {
			if n.whom == "" || n.whom == with {
				one.Notes = append(one.Notes, n)
			}
		}
		v.Dogs = append(v.Dogs, one)
	}
	return v, nil
}

// handed is a dog with its sessions of the day, and the skills in them; without a session plan all that are being taught.
func handed(
	d store.HandedDog, with string, plans []app.Plan, handled []store.Handled, sheets []app.Planned,
) (one HandedDog, err error) {
	one = HandedDog{
		ID: d.ID, Name: d.Name, Household: d.Household, Flags: lines(d.Flags), Vet: d.Vet, Emergency: d.Emergency, About: d.Notes,
	}
	one.Cautions = caution.For(caution.Where{Flags: len(one.Flags) > 0})
	for _, sort := range []struct{ is, text string }{{"Never", d.Never}, {"When invited", d.Invited}, {"Always", d.Always}} {
		if rules := lines(sort.text); len(rules) > 0 {
			one.Rules = append(one.Rules, Rules{sort.is, rules})
		}
	}
	var feeding reinforce.Feeding
	if err := store.FromJSON(d.Feeding, &feeding); err != nil {
		return one, err
	}
	one.NoFood = say.List(append(slices.Clone(feeding.Allergies), feeding.Never...))
	own := slices.DeleteFunc(slices.Clone(plans), func(l app.Plan) bool { return l.Dog != d.ID || len(l.Steps) == 0 })
	one.Sore = app.SoreOf(own)
	var planned []string
	for _, pl := range sheets {
		if pl.Dog != d.ID || pl.Household {
			continue
		}
		var skills []string
		for _, id := range app.PlansOf([]app.Planned{pl}) {
			planned = append(planned, id)
			if i := slices.IndexFunc(own, func(l app.Plan) bool { return l.ID == id }); i >= 0 {
				skills = append(skills, own[i].Name())
			}
		}
		one.Sessions = append(one.Sessions, HandedSession{
			pl.ID, form.ClockOf(pl.Start), pl.PlaceName, pl.Minutes, pl.Body.Pieces(), say.List(skills),
		})
	}
	for _, l := range own {
		if len(planned) > 0 && !slices.Contains(planned, l.ID) || len(planned) == 0 && l.Finished() {
			continue
		}
		at := slices.IndexFunc(handled, func(h store.Handled) bool { return h.Plan == l.ID })
		skill, err := handedSkill(l, handled[max(0, at)], with)
		if err != nil {
			return one, err
		}
		one.Skills = append(one.Skills, skill)
	}
	return one, nil
}

func lines(text string) (list []string) {
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line != "" {
			list = append(list, line)
		}
	}
	return list
}

// handedSkill is a plan at the step that is theirs.
func handedSkill(l app.Plan, h store.Handled, with string) (row HandedSkill, err error) {
	var shown []string
	if err := store.FromJSON(h.Shown, &shown); err != nil {
		return row, err
	}
	if l.MainHandler == with {
		h.StepAt = l.Reached()
	}
	at, _, held := pack.Opens(l.Steps, l.Reached(), h.StepAt, pack.Handling(work.Kind(l.Kind), h.Role), shown)
	row = HandedSkill{
		Plan: l.ID, Name: l.Name(), Step: l.Words.Step(l.Steps[at].Criteria), At: at + 1, Of: len(l.Steps), Begins: h.StepAt < 0,
		Held: progression.Index(l.Steps, held) + 1, Right: phrase.Ticks(work.Kind(l.Kind), l.Def), Rule: phrase.Rule(l.Body.Rule),
		Pay: phrase.Strategy(l.Body.Pay, l.Standing.Rung)[0], Instead: l.Body.Management, Cautions: app.Cautions(l, false),
	}
	row.Rehearsed = l.Work().HandsOn && l.MainHandler != with && !pack.MayReallyDo(h.Role, shown)
	if ruled := l.Ruled(); ruled != nil {
		row.RuledOut = ruled.Why + " " + ruled.Instead
	}
	return row, nil
}
