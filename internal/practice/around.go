package practice

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// NeedView is something that must stand first.
type NeedView struct {
	Number int // in the plan's list, from 1
	Text   string
	Before string // from which step it is needed, in words
	Met    bool
	Waived string
	Plan   string // the dog's plan for it, "" where there is none
	From   string // the template of that name, "" where there is none
	Stands string // how far the dog is in it
}

// skillsOf is how far a dog is in each of its skills: with tracks, the one that is furthest behind.
func skillsOf(plans []loaded) map[string]progression.Standing {
	out := map[string]progression.Standing{}
	for _, l := range plans {
		key := strings.ToLower(l.SkillName)
		s := progression.Standing{Skill: l.SkillName, Reached: l.reached(), Steps: len(l.steps), Finished: l.finished()}
		if was, ok := out[key]; !ok || s.Reached < was.Reached {
			out[key] = s
		}
	}
	return out
}

// needsOf reads a plan's needs against what the dog can do.
func needsOf(l loaded, dog []loaded) (views []NeedView, missing []progression.Need) {
	stands := skillsOf(dog)
	for i, n := range l.body.Needs {
		s, ok := stands[strings.ToLower(n.Skill)]
		v := NeedView{Number: i + 1, Text: "“" + n.Skill + "”: " + phrase.NeedOf(n), Met: n.Met(s, ok), Waived: n.Waived, Before: "from the first step"}
		if at := progression.Index(l.steps, n.Before); at > 0 {
			v.Before = fmt.Sprintf("before step %d", at+1)
		}
		switch {
		case !ok:
			v.Stands = l.DogName + " has no plan for it"
		case s.Finished:
			v.Stands = "finished"
		default:
			v.Stands = fmt.Sprintf("now at step %d of %d", s.Reached+1, s.Steps)
		}
		for _, one := range dog {
			if strings.EqualFold(one.SkillName, n.Skill) {
				v.Plan = one.ID
			}
		}
		for _, tmpl := range templates.All() {
			if strings.EqualFold(tmpl.Name, n.Skill) {
				v.From = tmpl.Key
			}
		}
		views = append(views, v)
		if !v.Met && n.Waived == "" {
			missing = append(missing, n)
		}
	}
	return views, missing
}

// blockedSteps says of each step that must wait what it waits for.
func blockedSteps(steps []progression.Step, missing []progression.Need) map[string]string {
	var blocked map[string]string
	for _, n := range missing {
		if blocked == nil {
			blocked = map[string]string{}
		}
		for i := max(0, progression.Index(steps, n.Before)); i < len(steps); i++ {
			if _, known := blocked[steps[i].ID]; !known {
				blocked[steps[i].ID] = "“" + n.Skill + "” must stand first: " + phrase.NeedOf(n) + "."
			}
		}
	}
	return blocked
}

// besides loads a plan with all plans of its dog, its own tracks among them.
func besides(ctx context.Context, q store.Q, id string, words phrase.Words) (l loaded, dog []loaded, err error) {
	rows, err := q.PlansBeside(ctx, id, plansLooked)
	if err != nil {
		return l, nil, err
	}
	at := slices.IndexFunc(rows, func(r store.Plan) bool { return r.ID == id })
	if at < 0 {
		return l, nil, ErrNotFound
	}
	if dog, err = loadPlans(ctx, q, rows, words); err != nil {
		return l, nil, err
	}
	return dog[at], dog, nil
}

// SaveNeed adds something that must stand first, or with typed["op"] "waive", "ask" or "remove" changes the
// one with the number given.
func (p *Practice) SaveNeed(ctx context.Context, plan string, t Typed) error {
	ps := problems{}
	op := t.Text("op")
	var need progression.Need
	switch op {
	case "add":
		need = progression.Need{
			Skill: ps.name("skill", t["skill"], "the skill"), Before: t.Text("before"), Why: ps.text("why", t["why"], criteria.MaxText),
		}
		if typed := t.Text("step"); typed != "" {
			n, err := strconv.Atoi(typed)
			if err != nil || n < 1 || n > library.MaxSteps {
				ps.add("step", "The number of a step, or nothing for finished.")
			}
			need.Step = n
		}
	case "waive":
		if t.Text("waived") == "" {
			ps.add("waived", "Say why it can do without: it is kept with the plan.")
		}
		ps.text("waived", t["waived"], criteria.MaxText)
	case "ask", "remove":
	default:
		return ErrNotFound
	}
	if err := ps.err(); err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "needs", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		needs := slices.Clone(b.Needs)
		at, _ := strconv.Atoi(t.Text("number"))
		if op == "add" {
			needs = append(needs, need)
		} else if at < 1 || at > len(needs) {
			return nil, ErrNotFound
		}
		switch op {
		case "waive":
			needs[at-1].Waived = t.Text("waived")
		case "ask":
			needs[at-1].Waived = ""
		case "remove":
			needs = slices.Delete(needs, at-1, at)
		}
		b.Needs = needs
		return steps, nil
	})
}

// SaveManagement changes what holds between sessions: what must not be rehearsed and what to do
// instead, props that are put away, and how the behaviour is got.
func (p *Practice) SaveManagement(ctx context.Context, plan string, t Typed) error {
	var lines []library.Instead
	for i := 1; i <= library.MaxLines; i++ {
		m := library.Instead{Not: t.Text(fmt.Sprintf("not%d", i)), Instead: t.Text(fmt.Sprintf("instead%d", i))}
		if m.Not != "" || m.Instead != "" {
			lines = append(lines, m)
		}
	}
	return p.changePlan(ctx, plan, t, "management", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Management, b.Props, b.Method = lines, t.Text("props"), t.Text("method")
		return steps, nil
	})
}

// SaveCueing changes which cue the behaviour is to get, and from when it was given.
func (p *Practice) SaveCueing(ctx context.Context, plan string, t Typed) error {
	c := library.Cueing{New: t.Text("cue_new"), Old: t.Text("cue_old"), Added: t.Text("cue_added")}
	ps := problems{}
	if _, err := time.Parse(dayLayout, c.Added); c.Added != "" && err != nil {
		ps.add("cue_added", "Write the day as year-month-day.")
	}
	if c.New == "" && (c.Old != "" || c.Added != "") {
		ps.add("cue_new", "Say which cue it is to get.")
	}
	if err := ps.err(); err != nil {
		return err
	}
	return p.changePlan(ctx, plan, t, "cue", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Cueing = c
		return steps, nil
	})
}

// BreachView is something that happened between sessions against the management.
type BreachView struct{ ID, Day, What, Note string }

// AddBreach logs that what must not be rehearsed happened all the same.
func (p *Practice) AddBreach(ctx context.Context, plan string, t Typed) error {
	q := p.store.Read()
	s, row, err := p.withPlan(ctx, q, plan)
	if err != nil {
		return err
	}
	ps := problems{}
	b := store.Breach{
		ID: NewID(), Plan: row.Main, Day: t.Text("day"), What: ps.text("what", t["what"], criteria.MaxText),
		Note: ps.text("note", t["note"], criteria.MaxText), Made: p.ms(),
	}
	if b.What == "" {
		ps.add("what", "Say what happened.")
	}
	today := s.day(p.ms())
	if _, err := time.Parse(dayLayout, b.Day); b.Day != "" && (err != nil || b.Day > today) {
		ps.add("day", "A day up to today, as year-month-day.")
	}
	if b.Day == "" {
		b.Day = today
	}
	if err := ps.err(); err != nil {
		return err
	}
	_, err = p.once(ctx, t, func(q store.Q) (string, error) { return b.ID, q.AddBreach(ctx, b) })
	return err
}

// DeleteBreach takes one back.
func (p *Practice) DeleteBreach(ctx context.Context, id string) error {
	return p.away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteBreach(ctx, id, at) })
}

// cueSays tells whether a cue may be added by now, and how one is handed over.
func cueSays(l loaded, trials []store.Trial) (says string, steps []string) {
	c := l.body.Cueing
	if c.New == "" {
		return "", nil
	}
	row := 0
	for _, t := range slices.Backward(trials) {
		if t.Waits || t.Easy || t.Outcome == trial.Void {
			continue
		}
		if t.Outcome != trial.Met {
			break
		}
		row++
	}
	offered := "is offered"
	if c.Old != "" {
		offered = "follows the old cue"
	}
	switch {
	case c.Added != "":
		says = "Given since " + c.Added + "."
	case library.CueReady(row):
		says = fmt.Sprintf("It may be added now: the last %d were met, so the behaviour %s reliably.", row, offered)
	default:
		says = fmt.Sprintf("Not yet: it is added when the behaviour %s reliably, %s met in a row. Now: %d.", offered, say.Number(library.CueRun), row)
	}
	if c.Old != "" {
		return says, []string{"new: " + c.New, "a pause of a second", "old: " + c.Old, "behaviour", "mark", "food"}
	}
	return says, []string{"as it is about to offer: " + c.New, "behaviour", "mark", "food"}
}

// AddTrack gives a plan another track, which climbs the same steps from its own place; the first one
// is named too.
func (p *Practice) AddTrack(ctx context.Context, plan string, t Typed) (string, error) {
	ps := problems{}
	name := ps.name("track", t["track"], "the track")
	q := p.store.Read()
	row, err := q.Plan(ctx, plan)
	if err != nil {
		return "", found(err)
	}
	tracks, err := q.Tracks(ctx, row.Main)
	if err != nil {
		return "", err
	}
	first := tracks[0].Track
	if first == "" {
		first = ps.name("first", t["first"], "the track that is there")
	}
	names := []string{first}
	for _, one := range tracks[1:] {
		names = append(names, one.Track)
	}
	if len(ps) == 0 {
		for _, bad := range library.CheckTracks(append(names, name)) {
			ps.add("track", bad.Text)
		}
	}
	if err := ps.err(); err != nil {
		return "", err
	}
	return p.once(ctx, t, func(q store.Q) (string, error) {
		if err := q.NameTrack(ctx, row.Main, first); err != nil {
			return "", err
		}
		twin := store.NewPlan{ID: NewID(), Dog: row.Dog, Skill: row.Skill, Track: name, TwinOf: &row.Main, Made: p.ms()}
		if err := q.AddPlan(ctx, twin); err != nil {
			return "", err
		}
		return twin.ID, p.standAll(ctx, q, row.Main)
	})
}
