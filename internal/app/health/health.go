// Package health has the use cases of what a practice knows of a dog's health: it records what others said, and advises nothing.
package health

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }

// View is the page of a dog's health.
type View struct {
	ID, Dog  string
	Away     bool
	Today    string // YYYY-MM-DD
	Contacts form.Typed
	Call     []string // whom to call, and whether it may be photographed, in sentences
	Now      []Row    // what goes on: where it is sore, what it is given
	Sore     bool     // it is sore somewhere
	Log      []Row    // the rest, the latest first
	Weights  []Weight // in the order of their days
	Sites    []string // of its plans of care, as they are written there
}

// Row is one thing that is known.
type Row struct {
	ID, Kind, Day string
	What, Said    string
	Over          string // its last day in words, "" while it goes on or where it has none
}

// Weight is what the dog weighed on a day.
type Weight struct {
	Day string // YYYY-MM-DD
	Kg  float64
}

// Photos are what can be said of photographs.
var Photos = []app.Named{{ID: "", Name: "not asked"}, {ID: "yes", Name: "agreed"}, {ID: "no", Name: "not agreed"}}

var kinds = map[string]string{
	store.HealthWeight: "Weighed", store.HealthSore: "Sore", store.HealthMedicine: "Medicine", store.HealthSeen: "Seen by a vet",
	store.HealthOther: "Noted",
}

// Health shows what is known of a dog's health.
func (p *Cases) Health(ctx context.Context, dog string) (View, error) {
	return app.Remember(ctx, p.Practice, "health "+dog, app.On[View](dog), func() (v View, err error) {
		err = p.Store.Snapshot(ctx, func(q store.Q) error {
			v, err = p.read(ctx, q, dog)
			return err
		})
		return v, err
	})
}

func (p *Cases) read(ctx context.Context, q store.Q, dog string) (v View, err error) {
	s, row, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	v = View{ID: dog, Dog: row.Name, Away: row.Deleted != nil, Today: s.Day(p.Ms())}
	list, err := q.HealthOf(ctx, dog)
	if err != nil {
		return v, err
	}
	contacts, err := q.ContactsOf(ctx, dog)
	if err != nil {
		return v, err
	}
	v.Contacts, v.Call = typedContacts(contacts), callsOf(contacts)
	for _, one := range list {
		line := Row{ID: one.ID, Kind: kinds[one.Kind], Day: app.ShortDay(one.Day, v.Today), What: one.What, Said: one.Said}
		if one.Kg != nil {
			line.What = criteria.Figure(*one.Kg) + " kg"
			v.Weights = append(v.Weights, Weight{one.Day, *one.Kg})
		}
		if one.Over != "" {
			line.Over = app.ShortDay(one.Over, v.Today)
		}
		if one.GoesOn(v.Today) {
			v.Sore = v.Sore || one.Kind == store.HealthSore
			v.Now = append(v.Now, line)
			continue
		}
		v.Log = append(v.Log, line)
	}
	slices.Reverse(v.Weights)
	v.Sites, err = sitesOf(ctx, q, dog)
	return v, err
}

// sitesOf are the places on the body of a dog's plans of care.
func sitesOf(ctx context.Context, q store.Q, dog string) (sites []string, err error) {
	plans, err := q.Plans(ctx, []string{dog}, app.PlansLooked)
	if err != nil {
		return nil, err
	}
	tracks := map[string]string{}
	var ids []string
	for _, one := range plans {
		if work.Of(work.Kind(one.Kind)).HandsOn {
			ids, tracks[one.ID] = append(ids, one.ID), one.Track
		}
	}
	rows, err := q.Steps(ctx, ids)
	if err != nil {
		return nil, err
	}
	steps, err := store.ReadSteps(rows)
	if err != nil {
		return nil, err
	}
	for i := range steps {
		for _, word := range steps[i].Sites() {
			if site := trial.OnTrack(word, tracks[rows[i].Plan]); !slices.Contains(sites, site) {
				sites = append(sites, site)
			}
		}
	}
	return sites, nil
}

func callsOf(c store.Contacts) (list []string) {
	if c.Emergency != "" {
		list = append(list, "In an emergency: "+c.Emergency+".")
	}
	if c.Vet != "" {
		list = append(list, "Vet: "+c.Vet+".")
	}
	said := ""
	if c.Agreed != "" {
		said = " (" + c.Agreed + ")"
	}
	switch c.Photos {
	case "yes":
		list = append(list, "May be photographed"+said+".")
	case "no":
		list = append(list, "No photographs"+said+".")
	}
	return list
}

func typedContacts(c store.Contacts) form.Typed {
	return form.Typed{"vet": c.Vet, "emergency": c.Emergency, "photos": c.Photos, "agreed": c.Agreed, "version": strconv.Itoa(c.Version)}
}

// SaveContacts changes whom to call for a dog, and whether it may be photographed.
func (p *Cases) SaveContacts(ctx context.Context, dog string, t form.Typed) error {
	if _, _, err := p.WithDog(ctx, p.Store.Read(), dog); err != nil {
		return err
	}
	ps := form.Problems{}
	c := store.Contacts{
		Dog: dog, Vet: ps.Text("vet", t["vet"], criteria.MaxText), Emergency: ps.Text("emergency", t["emergency"], criteria.MaxText),
		Photos: t.Text("photos"), Agreed: ps.Text("agreed", t["agreed"], criteria.MaxText),
	}
	if !slices.ContainsFunc(Photos, func(one app.Named) bool { return one.ID == c.Photos }) {
		ps.Add("photos", "Choose one of the list.")
	}
	if c.Photos != "" && c.Agreed == "" {
		ps.Add("agreed", "Say who said so, and when.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	c.Version, _ = strconv.Atoi(t.Text("version"))
	return p.Store.Write(ctx, func(q store.Q) error {
		was, err := q.ContactsOf(ctx, dog)
		if err != nil {
			return err
		}
		ok, err := q.SetContacts(ctx, c)
		if err == nil && !ok {
			return &form.Conflict{Now: typedContacts(was)}
		}
		return err
	})
}

// SaveHealth keeps one thing that is known: the weight on a day, where the dog is sore, a medicine as the vet said, that it was seen, or
// anything else. The latest weight becomes the dog's own.
func (p *Cases) SaveHealth(ctx context.Context, dog string, t form.Typed) error {
	q := p.Store.Read()
	s, _, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return err
	}
	h, err := readHealth(t, s.Day(p.Ms()))
	if err != nil {
		return err
	}
	h.Dog = dog
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		h.ID, h.Made = app.NewID(), p.Ms()
		if err := q.AddHealth(ctx, h); err != nil || h.Kind != store.HealthWeight {
			return h.ID, err
		}
		return h.ID, weighs(ctx, q, dog)
	})
	return err
}

// weighs makes the latest weight that is known the dog's own.
func weighs(ctx context.Context, q store.Q, dog string) error {
	list, err := q.HealthOf(ctx, dog)
	if err != nil {
		return err
	}
	latest := slices.IndexFunc(list, func(one store.Health) bool { return one.Kind == store.HealthWeight })
	if latest < 0 {
		return nil
	}
	return q.SetWeight(ctx, dog, *list[latest].Kg)
}

func readHealth(t form.Typed, today string) (store.Health, error) {
	ps := form.Problems{}
	h := store.Health{Kind: t.Text("kind"), Day: cmp.Or(t.Text("day"), today), Said: ps.Text("said", t["said"], criteria.MaxText)}
	if !isDay(h.Day) || h.Day > today {
		ps.Add("day", "A day up to today, as year-month-day.")
	}
	switch h.Kind {
	case store.HealthWeight:
		if h.Kg = form.ReadKg(ps, t, "kg"); h.Kg == nil && ps["kg"] == "" {
			ps.Add("kg", "How many kilograms?")
		}
	case store.HealthSore:
		if h.What = ps.Text("what", t["what"], criteria.MaxName); h.What == "" {
			ps.Add("what", "Where is it sore?")
		}
	case store.HealthMedicine:
		if h.What = ps.Text("what", t["what"], criteria.MaxName); h.What == "" {
			ps.Add("what", "What does its label say?")
		}
		if h.Said == "" {
			ps.Add("said", "Which veterinarian said so, and what?")
		}
		if h.Over = t.Text("over"); h.Over != "" && (!isDay(h.Over) || h.Over < h.Day) {
			ps.Add("over", "A day not before the first, as year-month-day; or nothing, while it goes on.")
		}
	case store.HealthSeen, store.HealthOther:
		if h.Said == "" {
			ps.Add("said", "Write something first.")
		}
	default:
		return h, app.ErrNotFound
	}
	return h, ps.Err()
}

func isDay(typed string) bool {
	_, err := time.Parse(app.DayLayout, typed)
	return err == nil
}

// EndHealth says on which day what goes on was over, "" for today; with back it goes on after all.
func (p *Cases) EndHealth(ctx context.Context, dog, id string, t form.Typed) error {
	q := p.Store.Read()
	s, _, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return err
	}
	list, err := q.HealthOf(ctx, dog)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(list, func(one store.Health) bool { return one.ID == id })
	if at < 0 {
		return app.ErrNotFound
	}
	today := s.Day(p.Ms())
	day := cmp.Or(t.Text("over"), today)
	if t.Text("back") != "" {
		day = ""
	} else if !isDay(day) || day > today || day < list[at].Day {
		return &form.Invalid{Problems: map[string]string{"over": "A day from its first up to today, as year-month-day."}}
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		there, err := q.EndHealth(ctx, dog, id, day)
		if err == nil && !there {
			err = app.ErrNotFound
		}
		return err
	})
}

// PutHealthAway puts one of a dog away, or brings it back; a weight that was put away is the dog's no more, where another is known.
func (p *Cases) PutHealthAway(ctx context.Context, dog, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) {
		there, err := q.DeleteHealth(ctx, dog, id, at)
		if err != nil || !there {
			return there, err
		}
		return true, weighs(ctx, q, dog)
	})
}
