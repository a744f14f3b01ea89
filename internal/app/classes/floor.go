package classes

import (
	"context"
	"slices"

	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Floor is a meeting of a class as a phone runs it.
type Floor struct {
	ID       string         `json:"id"`
	Name     string         `json:"name"`
	Week     int            `json:"week"`
	Day      string         `json:"day"` // YYYY-MM-DD, today
	Place    string         `json:"place"`
	Stations []FloorStation `json:"stations"`
	Dogs     []FloorDog     `json:"dogs"`
}

// FloorStation is a place in the hall.
type FloorStation struct {
	Skill   string `json:"skill"`
	Aim     string `json:"aim"`
	Minutes int    `json:"minutes"`
}

// FloorDog is a dog of it.
type FloorDog struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Plans   []string `json:"plans"`   // by station; "" where it has none
	Missing bool     `json:"missing"` // as was said
	Session string   `json:"session"` // of today that goes on, "" for none
}

// Floor is the meeting of a class in the week of today, before the first one that of the first week.
func (p *Cases) Floor(ctx context.Context, id string) (f Floor, err error) {
	q := p.Store.Read()
	s, c, err := p.class(ctx, q, id)
	if err != nil {
		return f, err
	}
	f = Floor{
		ID: id, Name: c.Name, Week: min(max(1, c.week), c.of.Weeks), Day: s.Day(p.Ms()), Place: c.Place,
		Stations: []FloorStation{}, Dogs: []FloorDog{},
	}
	rows := f.at(s, c)
	members, err := q.ClassDogs(ctx, id)
	if err != nil {
		return f, err
	}
	names, err := q.Dogs(ctx, "", "", app.PlansLooked)
	if err != nil {
		return f, err
	}
	missing, err := missingAt(ctx, q, id, f.Week)
	if err != nil {
		return f, err
	}
	logged, err := q.ClassWork(ctx, id, f.Day)
	if err != nil {
		return f, err
	}
	for _, m := range members {
		var plans []string
		if err := store.FromJSON(m.Plans, &plans); err != nil {
			return f, err
		}
		dog := FloorDog{ID: m.Dog, Missing: slices.Contains(missing, m.Dog)}
		if at := slices.IndexFunc(names, func(d store.Dog) bool { return d.ID == m.Dog }); at >= 0 {
			dog.Name = names[at].Name
		}
		for _, row := range rows {
			dog.Plans = append(dog.Plans, plans[row])
		}
		for _, w := range logged {
			if w.Dog == m.Dog && w.Ended == nil {
				dog.Session = w.Session
			}
		}
		f.Dogs = append(f.Dogs, dog)
	}
	return f, nil
}

// at fills in the stations, and answers of which rows of the programme they are.
func (f *Floor) at(s app.Profile, c class) (rows []int) {
	for _, one := range c.stations(f.Week) {
		r := c.of.Rows[one.Row]
		aim, _ := r.Aim(f.Week)
		f.Stations = append(f.Stations, FloorStation{r.Skill, s.Words().Short(aim), one.Minutes})
		rows = append(rows, one.Row)
	}
	return rows
}

// missingAt are the dogs that were said to miss the meeting of a week.
func missingAt(ctx context.Context, q store.Q, id string, week int) (dogs []string, err error) {
	meetings, err := q.Meetings(ctx, id)
	if err != nil {
		return nil, err
	}
	for _, m := range meetings {
		if m.Week == week {
			err = store.FromJSON(m.Missed, &dogs)
			return dogs, err
		}
	}
	return nil, nil
}

// FloorsToday are the meetings of today, for the phones that carry them.
func (p *Cases) FloorsToday(ctx context.Context) (list []Floor, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return nil, err
	}
	today := s.Day(p.Ms())
	days, err := q.ClassDays(ctx, today, today)
	if err != nil {
		return nil, err
	}
	for _, d := range days {
		f, err := p.Floor(ctx, d.ID)
		if err != nil {
			return nil, err
		}
		list = append(list, f)
	}
	return list, nil
}
