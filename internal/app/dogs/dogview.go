package dogs

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// DogRow is one dog in the list.
type DogRow struct {
	ID, Name, About string
	Flags           string
	Plans           []app.Named
}

// DogsView is the list of dogs.
type DogsView struct {
	Dogs []DogRow
	Next string // where the list goes on, "" at its end
	Away []app.Named
}

// Dogs lists dogs by name, a page at a time; after is what the page before gave as Next.
func (p *Cases) Dogs(ctx context.Context, after string) (DogsView, error) {
	return app.Remember(ctx, p.Practice, "dogs "+after, app.On[DogsView](app.AllDogs),
		func() (DogsView, error) { return p.makeDogs(ctx, after) })
}

func (p *Cases) makeDogs(ctx context.Context, after string) (v DogsView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	name, id, _ := strings.Cut(after, "\x1f")
	dogs, err := q.Dogs(ctx, name, id, app.RowsShown+1)
	if err != nil {
		return v, err
	}
	if len(dogs) > app.RowsShown {
		dogs = dogs[:app.RowsShown]
		last := dogs[app.RowsShown-1]
		v.Next = last.Name + "\x1f" + last.ID
	}
	ids := make([]string, len(dogs))
	for i, d := range dogs {
		ids[i] = d.ID
	}
	plans, err := q.Plans(ctx, ids, app.PlansLooked)
	if err != nil {
		return v, err
	}
	away, err := q.DogsAway(ctx, app.RowsShown)
	if err != nil {
		return v, err
	}
	for _, d := range away {
		v.Away = append(v.Away, app.Named{ID: d.ID, Name: d.Name})
	}
	today := s.Day(p.Ms())
	for _, d := range dogs {
		row := DogRow{ID: d.ID, Name: d.Name, About: about(d, today), Flags: app.FirstLine(d.Flags)}
		for _, one := range plans {
			if one.Dog == d.ID {
				row.Plans = append(row.Plans, app.Named{ID: one.ID, Name: one.SkillName})
			}
		}
		v.Dogs = append(v.Dogs, row)
	}
	return v, nil
}

// about says age, weight and household in a line.
func about(d store.Dog, today string) string {
	var parts []string
	if years := age(d.Born, today); years != "" {
		parts = append(parts, years)
	}
	if d.WeightKg != nil {
		parts = append(parts, criteria.Figure(*d.WeightKg)+" kg")
	}
	if d.Household != "" {
		parts = append(parts, d.Household)
	}
	return strings.Join(parts, " · ")
}

// DogView is the page of one dog.
type DogView struct {
	ID, Name, About string
	Flags           []string
	Sore            string // what is said of it where it is sore
	Cautions        []string
	Notes           string
	Plans           []app.PlanRow
	Sessions        []app.SessionRow
	Earlier         string // where the list of sessions goes on
	Away            bool
	PlansAway       []app.Named
	Glance          string      // what is due, stuck and neglected, in a line
	Skills          []SkillNode // of the map of prerequisites
	Needs           []SkillNeed
	First           []FirstSkill // to begin with, where it has no plan
}

// FirstSkill is a plan of the library that suits a dog with none.
type FirstSkill struct{ From, Name, About string }

func firstSkills(weeks float64) (list []FirstSkill) {
	for _, key := range templates.First(weeks) {
		if one, ok := templates.Find(key); ok {
			list = append(list, FirstSkill{key, one.Name, one.About})
		}
	}
	return list
}

// Dog shows one dog: flags first, then every skill.
func (p *Cases) Dog(ctx context.Context, id string) (DogView, error) {
	return app.Remember(ctx, p.Practice, "dog "+id, app.On[DogView](id), func() (DogView, error) { return p.makeDog(ctx, id) })
}

func (p *Cases) makeDog(ctx context.Context, id string) (v DogView, err error) {
	q := p.Store.Read()
	d, err := q.Dog(ctx, id)
	if err != nil {
		return v, app.Found(err)
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	v = DogView{ID: d.ID, Name: d.Name, About: about(d, today), Notes: d.Notes, Away: d.Deleted != nil, Flags: flagsOf(d)}
	planRows, err := q.Plans(ctx, []string{id}, app.PlansLooked)
	if err != nil {
		return v, err
	}
	plans, err := app.LoadPlans(ctx, q, planRows, s.Words())
	if err != nil {
		return v, err
	}
	v.Skills, v.Needs = needsMap(plans)
	v.Sore = app.SoreOf(plans)
	ids := make([]string, len(plans))
	for i, l := range plans {
		ids[i] = l.ID
	}
	trials, err := q.RecentTrials(ctx, ids, miniSessions)
	if err != nil {
		return v, err
	}
	for _, l := range plans {
		row := app.RowOf(l, today)
		var own []store.Trial
		for _, t := range trials {
			if t.Plan == l.ID {
				own = append(own, t)
			}
		}
		h := app.History{Trials: own}
		row.Mini = app.Mini(app.Path(l.Mains(own), l.Body.Rule.Size, app.UnionOf(h, l), l.Steps, nil, nil))
		row.Rate = rateHere(l, own)
		v.Plans = append(v.Plans, row)
	}
	v.Glance = glance(v.Plans)
	if len(v.Plans) == 0 {
		v.First = firstSkills(app.WeeksOld(d.Born, today))
	}
	away, err := q.PlansAway(ctx, id, app.RowsShown)
	if err != nil {
		return v, err
	}
	for _, one := range away {
		v.PlansAway = append(v.PlansAway, app.Named{ID: one.ID, Name: app.Plan{Plan: one}.Name()})
	}
	v.Cautions = cautionsOf(d, len(v.Flags) > 0, today)
	v.Sessions, v.Earlier, err = p.sessionsOf(ctx, q, id, "", sessionsShown, today)
	return v, err
}

// flagsOf are a dog's safety flags, a line each.
func flagsOf(d store.Dog) (flags []string) {
	for _, line := range strings.Split(d.Flags, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			flags = append(flags, line)
		}
	}
	return flags
}

// cautionsOf are the cautions of a dog: of its safety flags, and of a growl or a snap of late.
func cautionsOf(d store.Dog, flags bool, today string) []string {
	list := caution.For(caution.Where{Flags: flags})
	if d.Growled != "" && app.DaysBetween(d.Growled, today) <= caution.GrowlDays {
		list = caution.WithGrowl(list)
	}
	return list
}

// rateHere is the rate at the reached step, with what was not logged of it.
func rateHere(l app.Plan, trials []store.Trial) string {
	in := map[string]bool{}
	var outcomes []trial.Outcome
	for _, t := range l.Stretch(trials) {
		if !t.Easy {
			outcomes = append(outcomes, t.Outcome)
			in[t.ID] = true
		}
	}
	logged, unlogged, seen := 0, 0, map[string]bool{}
	for _, t := range trials {
		if in[t.ID] && !seen[t.Block] {
			seen[t.Block] = true
			logged, unlogged = logged+t.Logged, unlogged+t.Unlogged
		}
	}
	line := phrase.Rate(evidence.Count(outcomes), work.Of(work.Kind(l.Kind)).Success())
	if len(outcomes) == 0 && len(trials) > 0 {
		line = "no trials at this step yet"
	}
	if unlogged > 0 {
		line += ", " + phrase.Coverage(logged, unlogged)
	}
	return line
}

// glance says of all skills together what is due, stuck and neglected.
func glance(plans []app.PlanRow) string {
	var due, stuck, left []string
	for _, row := range plans {
		name := strings.ToLower(row.Skill)
		if row.ProbeDue {
			due = append(due, name)
		}
		if row.Stuck != "" {
			stuck = append(stuck, name)
		}
		if row.Neglected {
			left = append(left, fmt.Sprintf("%s (%d days)", name, row.Days))
		}
	}
	var parts []string
	for _, part := range []struct {
		word string
		list []string
	}{{"To be probed: ", due}, {"Stuck: ", stuck}, {"Neglected: ", left}} {
		if len(part.list) > 0 {
			parts = append(parts, part.word+say.List(part.list)+".")
		}
	}
	return strings.Join(parts, " ")
}

// miniSessions is how many sessions a way in miniature looks back over.
const miniSessions = 12

// sessionsShown is how many sessions are on a dog's own page.
const sessionsShown = 10

// SessionsView lists a dog's sessions, newest first, a page at a time.
type SessionsView struct {
	ID, Name string
	Sessions []app.SessionRow
	Next     string // where the list goes on, "" at its end
}

// Sessions lists a dog's sessions; before is what the page before gave as Next.
func (p *Cases) Sessions(ctx context.Context, dog, before string) (SessionsView, error) {
	return app.Remember(ctx, p.Practice, "sessions "+dog+" "+before, app.On[SessionsView](dogOrAll(dog)),
		func() (SessionsView, error) { return p.makeSessions(ctx, dog, before) })
}

func (p *Cases) makeSessions(ctx context.Context, dog, before string) (v SessionsView, err error) {
	q := p.Store.Read()
	d, err := q.Dog(ctx, dog)
	if err != nil {
		return v, app.Found(err)
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	v.ID, v.Name = d.ID, d.Name
	v.Sessions, v.Next, err = p.sessionsOf(ctx, q, dog, before, app.RowsShown, s.Day(p.Ms()))
	return v, err
}

// sessionsOf lists up to most of a dog's sessions from a place in the list, and where it goes on.
func (p *Cases) sessionsOf(
	ctx context.Context, q store.Q, dog, before string, most int, today string,
) (rows []app.SessionRow, next string, err error) {
	opened, id := int64(math.MaxInt64), ""
	if at, last, ok := strings.Cut(before, "."); ok {
		if opened, err = strconv.ParseInt(at, 10, 64); err != nil {
			return nil, "", app.ErrNotFound
		}
		id = last
	}
	sessions, err := q.SessionsBefore(ctx, dog, opened, id, most+1)
	if err != nil {
		return nil, "", err
	}
	if len(sessions) > most {
		sessions = sessions[:most]
		last := sessions[most-1]
		next = fmt.Sprintf("%d.%s", last.Opened, last.ID)
	}
	ids := make([]string, len(sessions))
	for i, s := range sessions {
		ids[i] = s.ID
	}
	lines, err := q.SessionLines(ctx, ids)
	if err != nil {
		return nil, "", err
	}
	for _, s := range sessions {
		row := app.SessionRow{ID: s.ID, Day: app.ShortDay(s.Day, today), Open: s.Ended == nil}
		for _, line := range lines {
			if line.Session == s.ID {
				if row.Skill, row.Place = line.Skill, line.Place; line.More > 0 {
					row.Skill += fmt.Sprintf(" and %d more", line.More)
				}
				row.Line = app.CameTo(work.Of(work.Kind(line.Kind)).Success(), line.Met, line.Trials, line.Logged, line.Unlogged)
				if line.Growls > 0 {
					row.Line += ", growled or snapped"
				}
			}
		}
		rows = append(rows, row)
	}
	return rows, next, nil
}

func dogOrAll(dog string) string {
	if dog == "" {
		return app.AllDogs
	}
	return dog
}
