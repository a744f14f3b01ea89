package people

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/reinforce"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// SettingsView is the practice's own page.
type SettingsView struct {
	Name, Zone string
	Length     string
	Pace       string // m
	Own        []DimensionRow
	Version    int
	People     []PersonRow
	Places     []PlaceRow
	Me         string
	Gone       []PersonRow // who left
	Hours      []string    // a line a day from Monday on
	Bans       []reinforce.Named
	States     []StateRow
}

// StateRow is one of the five states, as the practice describes it.
type StateRow struct{ Name, Usual, Own string }

// PersonRow is one person with what they are.
type PersonRow struct {
	ID, Name, Role string
	Owner          bool
}

// Is says what the person is, in a word.
func (p PersonRow) Is() string {
	for _, one := range Roles {
		if one.ID == p.Role {
			return strings.ToLower(one.Name) + map[bool]string{true: ", owner"}[p.Owner]
		}
	}
	return ""
}

// PlaceRow is one place with what is not used there.
type PlaceRow struct {
	ID, Name string
	Banned   map[string]bool
	Says     string
}

// Settings shows the practice's own page.
func (p *Cases) Settings(ctx context.Context) (SettingsView, error) {
	return app.Remember(ctx, p.Practice, "settings", app.On[SettingsView](app.NoDog),
		func() (SettingsView, error) { return p.makeSettings(ctx) })
}

func (p *Cases) makeSettings(ctx context.Context) (v SettingsView, err error) {
	q := p.Store.Read()
	row, err := q.Practice(ctx)
	if err != nil {
		return v, err
	}
	people, err := q.Everybody(ctx)
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
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return v, err
	}
	v.Own = dimensionRows(own)
	for _, one := range people {
		row := PersonRow{one.ID, one.Name, one.Role, one.Owner}
		if one.Left != nil {
			v.Gone = append(v.Gone, row)
		} else {
			v.People = append(v.People, row)
		}
	}
	for _, one := range places {
		place := PlaceRow{ID: one.ID, Name: one.Name, Banned: map[string]bool{}}
		var bans []string
		if err := store.FromJSON(one.Bans, &bans); err != nil {
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
	looks := make([]string, len(work.StateNames))
	if err := store.FromJSON(row.States, &looks); err != nil {
		return v, err
	}
	for i, name := range work.StateNames {
		state := StateRow{Name: name, Usual: work.StateTicks[i]}
		if i < len(looks) {
			state.Own = looks[i]
		}
		v.States = append(v.States, state)
	}
	return v, nil
}

// hoursShown are the trainer's hours as the form shows them.
func hoursShown(kept string) []string {
	lines := make([]string, len(app.Weekdays))
	if strings.TrimSpace(kept) == "" {
		for i := range 5 {
			lines[i] = app.UsualHours
		}
		return lines
	}
	copy(lines, strings.Split(strings.TrimPrefix(kept, "-"), "\n"))
	return lines
}

// SavePlaceRules changes what is not used at a place.
func (p *Cases) SavePlaceRules(ctx context.Context, id string, t form.Typed) error {
	bans := []string{}
	for _, ban := range reinforce.Bans {
		if t["ban_"+ban.Code] != "" {
			bans = append(bans, ban.Code)
		}
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		ok, err := q.SetBans(ctx, id, store.JSON(bans))
		if err == nil && !ok {
			return app.ErrNotFound
		}
		return err
	})
}

// SaveSettings changes the practice's name and zone. Days are counted in the new zone from then on,
// those of the past too.
func (p *Cases) SaveSettings(ctx context.Context, t form.Typed) error {
	ps := form.Problems{}
	name := ps.Name("name", t["name"], "the practice")
	zone := t.Text("zone")
	if _, err := time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
		ps.Add("zone", "Write the zone as region and city, such as Europe/Lisbon.")
	}
	pace := readPace(ps, t)
	length := t.Text("length")
	if length == "" {
		length = string(criteria.InMetres)
	}
	ps.Criteria(criteria.Units{Length: criteria.Length(length)}.Check())
	hours := make([]string, len(app.Weekdays))
	given := false
	for i := range app.Weekdays {
		field := fmt.Sprintf("hours%d", i)
		typed, sent := t[field]
		given = given || sent
		hours[i] = strings.TrimSpace(typed)
		if _, bad := app.ReadHours(hours[i]); bad != "" {
			ps.Add(field, bad)
		}
	}
	version, _ := strconv.Atoi(t.Text("version"))
	if err := ps.Err(); err != nil {
		return err
	}
	defer p.Kick() // another zone has other days
	return p.Store.Write(ctx, func(q store.Q) error {
		was, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		next := store.Practice{Name: name, Zone: zone, Length: length, PaceM: pace, Version: version, Hours: was.Hours, States: was.States}
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
			return &form.Conflict{Now: form.Typed{
				"name": was.Name, "zone": was.Zone, "length": was.Length, "pace": criteria.Figure(was.PaceM), "version": strconv.Itoa(was.Version),
			}}
		}
		if was.Zone != zone {
			return q.MarkAllStale(ctx)
		}
		return nil
	})
}

// SaveStates changes how the practice describes the five states; one left empty is described as usual.
func (p *Cases) SaveStates(ctx context.Context, t form.Typed) error {
	ps := form.Problems{}
	looks := make([]string, len(work.StateNames))
	for i := range looks {
		field := fmt.Sprintf("state%d", i)
		looks[i] = t.Text(field)
		ps.Text(field, looks[i], criteria.MaxText)
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		row, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		row.States = store.JSON(looks)
		_, err = q.SetPractice(ctx, row) // read in this very transaction, so that nobody is in between
		return err
	})
}

// readPace is how long a pace of the trainer is, m; the usual one where it is not said.
func readPace(ps form.Problems, t form.Typed) float64 {
	pace := criteria.DefaultPace
	if typed := t.Text("pace"); typed != "" {
		d := criteria.Dimension{Key: "pace_m", Label: "A pace", Unit: "m", Harder: 1, Min: criteria.MinPace, Max: criteria.MaxPace}
		x, _, problem := criteria.Units{}.Parse(d, typed)
		if pace = x; problem != "" {
			ps.Add("pace", problem)
		}
	}
	return pace
}

// SavePlace adds a place, or renames the one with the id given.
func (p *Cases) SavePlace(ctx context.Context, t form.Typed) error {
	return p.saveNamed(ctx, t, form.Problems{}, "the place",
		func(q store.Q, id, name string) error {
			return q.AddPlace(ctx, store.Place{ID: id, Name: name, Made: p.Ms()})
		},
		func(q store.Q, id, name string) (bool, error) { return q.RenamePlace(ctx, id, name) })
}

// Roles are what people of a practice can be: a skill opens further down for the first time with anybody but a trainer.
var Roles = []app.Named{
	{ID: pack.RoleTrainer, Name: "Trainer"}, {ID: pack.RoleHelper, Name: "Helper"}, {ID: app.RoleFamily, Name: "Family"},
	{ID: app.RoleChild, Name: "Child"}, {ID: roleViewer, Name: "Viewer"},
}

// roleViewer is the role of somebody who looks and changes nothing.
const roleViewer = "viewer"

// SavePerson adds a person, or changes the one with the id given; somebody new of whom nothing is said is a trainer. Somebody has to own
// the practice.
func (p *Cases) SavePerson(ctx context.Context, t form.Typed) error {
	ps, role := form.Problems{}, t.Text("role")
	if role != "" && !slices.ContainsFunc(Roles, func(one app.Named) bool { return one.ID == role }) {
		ps.Add("role", "Choose one of the list.")
	}
	owner := t.Text("owner") != ""
	if owner && role != "" && role != pack.RoleTrainer {
		ps.Add("role", "Whoever owns the practice is a trainer of it.")
	}
	if role != "" && !owner {
		others, err := p.ownersBeside(ctx, t.Text("id"))
		if err != nil {
			return err
		}
		if !others {
			ps.Add("owner", "Somebody has to own the practice: make another person an owner first.")
		}
	}
	return p.saveNamed(ctx, t, ps, "the person",
		func(q store.Q, id, name string) error {
			return q.AddPerson(ctx, store.Person{ID: id, Name: name, Role: cmp.Or(role, pack.RoleTrainer), Owner: owner, Made: p.Ms()})
		},
		func(q store.Q, id, name string) (bool, error) {
			return q.SetPerson(ctx, store.Person{ID: id, Name: name, Role: role, Owner: owner})
		})
}

// Leave ends what somebody may do: their devices and their password, and the links of their household. Their name stays where they
// worked. Whoever the server's own machine works as, and the last owner, cannot leave.
func (p *Cases) Leave(ctx context.Context, id string) error {
	others, err := p.ownersBeside(ctx, id)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	if !others {
		ps.Add("leave", "Somebody has to own the practice: make another person an owner first.")
	}
	now := p.Ms()
	err = p.Store.Write(ctx, func(q store.Q) error {
		own, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		if own.Person == id {
			ps.Add("leave", "What is done on the server’s own machine is in this name: it cannot leave.")
		}
		if err := ps.Err(); err != nil {
			return err
		}
		there, err := q.LeavePerson(ctx, id, &now)
		if err == nil && !there {
			err = app.ErrNotFound
		}
		if err != nil {
			return err
		}
		_, err = q.DropLogin(ctx, id)
		return err
	})
	if err != nil {
		return err
	}
	if err := errors.Join(p.Store.Keys().DropPasskeys(ctx, id), p.signOutOthers(ctx, id, "")); err != nil {
		return err
	}
	return p.Store.Keys().EndLinks(ctx, id)
}

// ComeBack undoes that somebody left. Their devices have to be let in anew.
func (p *Cases) ComeBack(ctx context.Context, id string) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		there, err := q.LeavePerson(ctx, id, nil)
		if err == nil && !there {
			err = app.ErrNotFound
		}
		return err
	})
}

// ownersBeside tells whether anybody but the person with an id owns the practice.
func (p *Cases) ownersBeside(ctx context.Context, id string) (bool, error) {
	people, err := p.Store.Read().People(ctx)
	return slices.ContainsFunc(people, func(one store.Person) bool { return one.Owner && one.ID != id }), err
}

func (p *Cases) saveNamed(
	ctx context.Context, t form.Typed, ps form.Problems, what string,
	add func(q store.Q, id, name string) error, rename func(q store.Q, id, name string) (bool, error),
) error {
	name := ps.Name("name", t["name"], what)
	if err := ps.Err(); err != nil {
		return err
	}
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		id := t.Text("id")
		if id == "" {
			id = app.NewID()
			return id, add(q, id, name)
		}
		ok, err := rename(q, id, name)
		if err == nil && !ok {
			err = app.ErrNotFound
		}
		return id, err
	})
	return err
}
