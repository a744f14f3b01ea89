package practice

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// Named is something with a name.
type Named struct{ ID, Name string }

// SettingsView is the practice's own page.
type SettingsView struct {
	Name, Zone string
	Length     string
	Pace       string // m
	Own        []DimensionRow
	Version    int
	People     []Named
	Places     []PlaceRow
	Me         string
	Hours      []string // a line a day from Monday on
	Bans       []reinforce.Named
}

// PlaceRow is one place with what is not used there.
type PlaceRow struct {
	ID, Name string
	Banned   map[string]bool
	Says     string
}

// Settings shows the practice's own page.
func (p *Practice) Settings(ctx context.Context) (SettingsView, error) {
	return remember(ctx, p, "settings", on[SettingsView](noDog), func() (SettingsView, error) { return p.makeSettings(ctx) })
}

func (p *Practice) makeSettings(ctx context.Context) (v SettingsView, err error) {
	q := p.store.Read()
	row, err := q.Practice(ctx)
	if err != nil {
		return v, err
	}
	people, err := q.People(ctx)
	if err != nil {
		return v, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return v, err
	}
	v = SettingsView{
		Name: row.Name, Zone: row.Zone, Length: row.Length, Pace: criteria.Figure(row.PaceM), Version: row.Version, Me: row.Person,
	}
	own, err := ownDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	v.Own = dimensionRows(own)
	for _, one := range people {
		v.People = append(v.People, Named{one.ID, one.Name})
	}
	for _, one := range places {
		place := PlaceRow{ID: one.ID, Name: one.Name, Banned: map[string]bool{}}
		var bans []string
		if err := jsonInto(one.Bans, &bans); err != nil {
			return v, err
		}
		var says []string
		for _, ban := range bans {
			place.Banned[ban] = true
			says = append(says, reinforce.LabelOf(reinforce.Bans, ban))
		}
		place.Says = strings.Join(says, ", ")
		v.Places = append(v.Places, place)
	}
	v.Hours, v.Bans = hoursShown(row.Hours), reinforce.Bans
	return v, nil
}

// hoursShown are the trainer's hours as the form shows them.
func hoursShown(kept string) []string {
	lines := make([]string, len(weekdays))
	if strings.TrimSpace(kept) == "" {
		for i := range 5 {
			lines[i] = usualHours
		}
		return lines
	}
	copy(lines, strings.Split(strings.TrimPrefix(kept, "-"), "\n"))
	return lines
}

// SavePlaceRules changes what is not used at a place.
func (p *Practice) SavePlaceRules(ctx context.Context, id string, t Typed) error {
	bans := []string{}
	for _, ban := range reinforce.Bans {
		if t["ban_"+ban.Code] != "" {
			bans = append(bans, ban.Code)
		}
	}
	return p.store.Write(ctx, func(q store.Q) error {
		ok, err := q.SetBans(ctx, id, encode(bans))
		if err == nil && !ok {
			return ErrNotFound
		}
		return err
	})
}

// SaveSettings changes the practice's name and zone. Days are counted in the new zone from then on,
// those of the past too.
func (p *Practice) SaveSettings(ctx context.Context, t Typed) error {
	ps := problems{}
	name := ps.name("name", t["name"], "the practice")
	zone := t.Text("zone")
	if _, err := time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
		ps.add("zone", "Write the zone as region and city, such as Europe/Lisbon.")
	}
	pace := criteria.DefaultPace
	if typed := t.Text("pace"); typed != "" {
		d := criteria.Dimension{Key: "pace_m", Label: "A pace", Unit: "m", Harder: 1, Min: criteria.MinPace, Max: criteria.MaxPace}
		x, _, problem := criteria.Units{}.Parse(d, typed)
		if pace = x; problem != "" {
			ps.add("pace", problem)
		}
	}
	length := t.Text("length")
	if length == "" {
		length = string(criteria.InMetres)
	}
	ps.criteria(criteria.Units{Length: criteria.Length(length)}.Check())
	hours := make([]string, len(weekdays))
	given := false
	for i := range weekdays {
		field := fmt.Sprintf("hours%d", i)
		typed, sent := t[field]
		given = given || sent
		hours[i] = strings.TrimSpace(typed)
		if _, bad := readHours(hours[i]); bad != "" {
			ps.add(field, bad)
		}
	}
	version, _ := strconv.Atoi(t.Text("version"))
	if err := ps.err(); err != nil {
		return err
	}
	defer p.Kick() // another zone has other days
	return p.store.Write(ctx, func(q store.Q) error {
		was, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		next := store.Practice{Name: name, Zone: zone, Length: length, PaceM: pace, Version: version, Hours: was.Hours}
		if given {
			next.Hours = strings.Join(hours, "\n")
			if strings.TrimSpace(next.Hours) == "" {
				next.Hours = "-" // no hours at all, said on purpose
			}
		}
		ok, err := q.SetPractice(ctx, next)
		if err != nil {
			return err
		}
		if !ok {
			return &Conflict{Typed{
				"name": was.Name, "zone": was.Zone, "length": was.Length, "pace": criteria.Figure(was.PaceM), "version": strconv.Itoa(was.Version),
			}}
		}
		if was.Zone != zone {
			return q.MarkAllStale(ctx)
		}
		return nil
	})
}

// SavePlace adds a place, or renames the one with the id given.
func (p *Practice) SavePlace(ctx context.Context, t Typed) error {
	return p.saveNamed(ctx, t, "the place",
		func(q store.Q, id, name string) error {
			return q.AddPlace(ctx, store.Place{ID: id, Name: name, Made: p.ms()})
		},
		func(q store.Q, id, name string) (bool, error) { return q.RenamePlace(ctx, id, name) })
}

// SavePerson adds a person, or renames the one with the id given.
func (p *Practice) SavePerson(ctx context.Context, t Typed) error {
	return p.saveNamed(ctx, t, "the person",
		func(q store.Q, id, name string) error {
			return q.AddPerson(ctx, store.Person{ID: id, Name: name, Role: "trainer", Made: p.ms()})
		},
		func(q store.Q, id, name string) (bool, error) { return q.RenamePerson(ctx, id, name) })
}

func (p *Practice) saveNamed(
	ctx context.Context, t Typed, what string,
	add func(q store.Q, id, name string) error, rename func(q store.Q, id, name string) (bool, error),
) error {
	ps := problems{}
	name := ps.name("name", t["name"], what)
	if err := ps.err(); err != nil {
		return err
	}
	_, err := p.once(ctx, t, func(q store.Q) (string, error) {
		id := t.Text("id")
		if id == "" {
			id = NewID()
			return id, add(q, id, name)
		}
		ok, err := rename(q, id, name)
		if err == nil && !ok {
			err = ErrNotFound
		}
		return id, err
	})
	return err
}

// people lists who is known, and their names by their ids.
func people(ctx context.Context, q store.Q) (list []Named, names map[string]string, err error) {
	rows, err := q.People(ctx)
	names = map[string]string{}
	for _, one := range rows {
		list, names[one.ID] = append(list, Named{one.ID, one.Name}), one.Name
	}
	return list, names, err
}
