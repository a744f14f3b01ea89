package sessions

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// Entered is the form of a session that was worked without a log, and is written down on a later day.
type Entered struct {
	ID, Dog, DogID, Skill  string
	Steps, Places, Persons []app.Named
	Sets                   []int  // their numbers
	Size                   int    // trials of a set, 0 for as many as there were
	Untallied              bool   // exposures and proofs: no counts without each trial
	Ruled                  string // why the dog's flags rule this work out, "" where they do not
	Typed                  form.Typed
}

const (
	enteredDevice  = "entered" // logs what is entered afterwards; what is corrected then is of another
	maxEnteredSets = 6
	maxEnteredAge  = 2       // years
	usualMinutes   = 10      // where nobody says how long it took
	usualClock     = 12 * 60 // minutes from midnight, where nobody says when
)

// Entering shows the form of a session of another day.
func (p *Cases) Entering(ctx context.Context, plan string) (v Entered, err error) {
	made, err := p.Pack(ctx, plan)
	if err != nil {
		return v, err
	}
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return v, err
	}
	v = Entered{ID: plan, Dog: made.DogName, DogID: made.Dog, Skill: made.SkillName}
	v.Steps = []app.Named{{Name: "The step reached with this handler"}}
	for _, step := range app.StepsOf(made.Steps, s.Words()) {
		v.Steps = append(v.Steps, app.Named{ID: step.ID, Name: fmt.Sprintf("%d. %s", step.Number, step.Name)})
	}
	for _, place := range made.Places {
		v.Places = append(v.Places, app.Named{ID: place.ID, Name: place.Name})
	}
	v.Places = append(v.Places, app.Named{ID: pack.NewPlace, Name: "A new place …"})
	for _, person := range made.People {
		v.Persons = append(v.Persons, app.Named{ID: person.ID, Name: person.Name})
	}
	for i := range maxEnteredSets {
		v.Sets = append(v.Sets, i+1)
	}
	rule := made.RuleAt(made.Position.Reached)
	if v.Untallied = work.Of(made.Kind).ByState || rule.Kind == decision.Proof; rule.Kind == decision.Set {
		v.Size = rule.Size
	}
	if made.Ruled != nil {
		v.Ruled = made.Ruled.Why
	}
	v.Typed = form.Typed{"handler": s.By, "day": s.Day(p.Now().AddDate(0, 0, -1).UnixMilli())}
	return v, nil
}

// Enter writes down a session that was worked without a log. It answers its id; the same form twice is one session.
func (p *Cases) Enter(ctx context.Context, plan string, t form.Typed) (id string, err error) {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return "", err
	}
	ps := form.Problems{}
	begun := p.enteredAt(ps, t, s)
	minutes := ps.Whole(t, "minutes", 1, 600, "A whole number of minutes from 1 to 600, in figures.")
	if minutes == 0 {
		minutes = usualMinutes
	}
	if place := t.Text("place"); t.Text("place_name") != "" && place != "" && place != pack.NewPlace {
		ps.Add("place_name", "Leave this empty, or choose a new place.")
	}
	if ps.Err() == nil && begun.Add(time.Duration(minutes)*time.Minute).After(p.Now()) {
		ps.Add("time", "It ends later than now.")
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	if there, err := p.entered(ctx, t); err != nil {
		return "", err
	} else if there { // asked first: right after it was saved the plan is being read anew
		return p.Once(ctx, t, nil)
	}
	made, err := p.Pack(ctx, plan)
	if err != nil {
		return "", err
	}
	h, err := hand(made, s.By, t.Text("handler"), begun)
	if err != nil {
		return "", err
	}
	typed := afterwards(t, int64(minutes)*60_000)
	typed.Begins.Handler = h.Handler
	typed.Begins.Step = cmp.Or(typed.Begins.Step, h.Run.OpensFor(h.Handler).Position.Reached)
	if problem := h.Enter(typed); problem != nil {
		said := screen.Of(h.Run).Say(problem)
		return "", &form.Invalid{Problems: map[string]string{said.Field: said.Text}}
	}
	id, err = p.Once(ctx, t, func(store.Q) (string, error) { return h.Session, nil })
	if err != nil {
		return id, err
	}
	for i := range h.Events {
		h.Events[i].Session = id // another than its own where the server was stopped between the form's key and the session
	}
	receipts, err := p.Receive(ctx, h.Events)
	for _, r := range receipts {
		if err == nil && r.Result == derive.Refused {
			err = fmt.Errorf("a session that was entered was refused: %s", r.Why)
		}
	}
	return id, err
}

// entered tells whether the session of a form was written down before.
func (p *Cases) entered(ctx context.Context, t form.Typed) (bool, error) {
	if t.Text("key") == "" {
		return false, nil
	}
	known, _, err := p.Store.Read().FormKey(ctx, t.Text("key"))
	if err != nil || known == "" {
		return false, err
	}
	_, err = p.Store.Read().Session(ctx, known)
	return err == nil, nil
}

// enteredAt reads when the session began.
func (p *Cases) enteredAt(ps form.Problems, t form.Typed, s app.Profile) time.Time {
	day, err := time.ParseInLocation(app.DayLayout, t.Text("day"), s.Zone)
	if err != nil || t.Text("day") > s.Day(p.Ms()) {
		ps.Add("day", "A day up to today, as year-month-day.")
	} else if day.Before(p.Now().AddDate(-maxEnteredAge, 0, 0)) {
		ps.Add("day", fmt.Sprintf("At most %d years ago.", maxEnteredAge))
	}
	clock, ok := usualClock, true
	if typed := t.Text("time"); typed != "" {
		if clock, ok = form.ReadClock(typed); !ok {
			ps.Add("time", "A time of day, as 9:05 or 17:30.")
		}
	} else if t.Text("day") == s.Day(p.Ms()) {
		ps.Add("time", "Say when it was, as 9:05 or 17:30.")
	}
	return time.Date(day.Year(), day.Month(), day.Day(), clock/60, clock%60, 0, 0, s.Zone)
}

// hand is what works a pack afterwards. An experiment goes on with the next session that is really worked in its order.
func hand(made pack.Pack, by, handler string, begun time.Time) (*session.Hand, error) {
	made.Experiment = nil
	run, err := session.Open(made)
	if err != nil {
		return nil, err
	}
	if _, known := pack.Find(made.People, handler); !known {
		handler = by
	}
	return &session.Hand{
		Run: run, Session: app.NewID(), Dev: enteredDevice, By: by, Handler: handler, Wall: begun.UnixMilli(), NewID: app.NewID,
	}, nil
}

// afterwards reads a session that took so many ms as it was typed.
func afterwards(t form.Typed, ms int64) session.Afterwards {
	a := session.Afterwards{
		Begins: session.Choice{
			Place: t.Text("place"), PlaceName: t["place_name"], PlaceID: app.NewID(), Handler: t.Text("handler"), Step: t.Text("step"),
			Mode: pack.Train, ClearedBy: t["cleared_by"], Tags: t["tags"],
		},
		Ends: session.Closing{Unlogged: t["unlogged"], Next: t["next"], Tags: t["tags"]},
		Note: t.Text("note"), MS: ms,
	}
	if a.Begins.Place == "" && t.Text("place_name") != "" {
		a.Begins.Place = pack.NewPlace
	}
	for i := range maxEnteredSets {
		field := func(name string) string { return t.Text(session.SetField(i, name)) }
		a.Sets = append(a.Sets, session.SetTyped{Step: field("step"), TallyTyped: session.TallyTyped{
			Met: field("met"), Late: field("late"), Helped: field("helped"), Missed: field("missed"),
		}})
	}
	return a
}
