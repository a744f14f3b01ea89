package plans

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// SaveNeed adds a prerequisite, or with typed["op"] "waive", "ask" or "remove" changes the
// one with the number given.
func (p *Cases) SaveNeed(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	op := t.Text("op")
	var need progression.Need
	switch op {
	case "add":
		need = progression.Need{
			Skill: ps.Name("skill", t["skill"], "the skill"), Before: t.Text("before"), Why: ps.Text("why", t["why"], criteria.MaxText),
		}
		if typed := t.Text("step"); typed != "" {
			n, err := strconv.Atoi(typed)
			if err != nil || n < 1 || n > library.MaxSteps {
				ps.Add("step", "The number of a step, or nothing for finished.")
			}
			need.Step = n
		}
	case "waive":
		if t.Text("waived") == "" {
			ps.Add("waived", "Say why it can do without: it is kept with the plan.")
		}
		ps.Text("waived", t["waived"], criteria.MaxText)
	case "ask", "remove":
	default:
		return app.ErrNotFound
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "needs", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		needs := slices.Clone(b.Needs)
		at, _ := strconv.Atoi(t.Text("number"))
		if op == "add" {
			needs = append(needs, need)
		} else if at < 1 || at > len(needs) {
			return nil, app.ErrNotFound
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
func (p *Cases) SaveManagement(ctx context.Context, plan string, t form.Typed) error {
	var lines []library.Instead
	for i := 1; i <= library.MaxLines; i++ {
		m := library.Instead{Not: t.Text(fmt.Sprintf("not%d", i)), Instead: t.Text(fmt.Sprintf("instead%d", i))}
		if m.Not != "" || m.Instead != "" {
			lines = append(lines, m)
		}
	}
	return p.ChangePlan(ctx, plan, t, "management", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Management, b.Props, b.Method = lines, t.Text("props"), t.Text("method")
		return steps, nil
	})
}

// SaveCueing changes which cue the behaviour is to get, and from when it was given.
func (p *Cases) SaveCueing(ctx context.Context, plan string, t form.Typed) error {
	c := library.Cueing{New: t.Text("cue_new"), Old: t.Text("cue_old"), Added: t.Text("cue_added")}
	ps := form.Problems{}
	if _, err := time.Parse(app.DayLayout, c.Added); c.Added != "" && err != nil {
		ps.Add("cue_added", "Write the day as year-month-day.")
	}
	if c.New == "" && (c.Old != "" || c.Added != "") {
		ps.Add("cue_new", "Say which cue it is to get.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "cue", func(b *library.Body, steps []progression.Step) ([]progression.Step, error) {
		b.Cueing = c
		return steps, nil
	})
}

// BreachView is something that happened between sessions against the management.
type BreachView struct{ ID, Day, What, Note string }

// AddBreach logs that what must not be rehearsed happened all the same.
func (p *Cases) AddBreach(ctx context.Context, plan string, t form.Typed) error {
	q := p.Store.Read()
	s, row, err := p.WithPlan(ctx, q, plan)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	b := store.Breach{
		ID: app.NewID(), Plan: row.Main, Day: t.Text("day"), What: ps.Text("what", t["what"], criteria.MaxText),
		Note: ps.Text("note", t["note"], criteria.MaxText), Made: p.Ms(),
	}
	if b.What == "" {
		ps.Add("what", "Say what happened.")
	}
	today := s.Day(p.Ms())
	if _, err := time.Parse(app.DayLayout, b.Day); b.Day != "" && (err != nil || b.Day > today) {
		ps.Add("day", "A day up to today, as year-month-day.")
	}
	if b.Day == "" {
		b.Day = today
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) { return b.ID, q.AddBreach(ctx, b) })
	return err
}

// DeleteBreach takes one back.
func (p *Cases) DeleteBreach(ctx context.Context, id string) error {
	return p.Away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteBreach(ctx, id, at) })
}

// cueSays tells whether a cue may be added by now, and how one is handed over.
func cueSays(l app.Plan, trials []store.Trial) (says string, steps []string) {
	c := l.Body.Cueing
	if c.New == "" {
		return "", nil
	}
	row := 0
	for _, t := range slices.Backward(trials) {
		if t.Waits || t.Easy || t.Outcome.Unread() {
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
		says = fmt.Sprintf("Not yet: it is added when the behaviour %s reliably, %s met in a row. Now: %d.", offered,
			say.Number(library.CueRun), row)
	}
	if c.Old != "" {
		return says, []string{"new: " + c.New, "a pause of a second", "old: " + c.Old, "behaviour", "mark", "food"}
	}
	return says, []string{"as it is about to offer: " + c.New, "behaviour", "mark", "food"}
}

// AddTrack gives a plan another track, which climbs the same steps from its own place; the first one
// is named too.
func (p *Cases) AddTrack(ctx context.Context, plan string, t form.Typed) (string, error) {
	ps := form.Problems{}
	name := ps.Name("track", t["track"], "the track")
	q := p.Store.Read()
	row, err := q.Plan(ctx, plan)
	if err != nil {
		return "", app.Found(err)
	}
	tracks, err := q.Tracks(ctx, row.Main)
	if err != nil {
		return "", err
	}
	first := tracks[0].Track
	if first == "" {
		first = ps.Name("first", t["first"], "the track that is there")
	}
	names := []string{first}
	for _, one := range tracks[1:] {
		names = append(names, one.Track)
	}
	if len(ps) == 0 {
		for _, bad := range library.CheckTracks(append(names, name)) {
			ps.Add("track", bad.Text)
		}
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		if err := q.NameTrack(ctx, row.Main, first); err != nil {
			return "", err
		}
		twin := store.NewPlan{ID: app.NewID(), Dog: row.Dog, Skill: row.Skill, Track: name, TwinOf: &row.Main, Made: p.Ms()}
		if err := q.AddPlan(ctx, twin); err != nil {
			return "", err
		}
		return twin.ID, p.StandAll(ctx, q, row.Main)
	})
}
