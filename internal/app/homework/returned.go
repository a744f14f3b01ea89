package homework

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/homework"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Bounds of what a page looks at.
const (
	sheetsLooked = 60
	rowsShown    = 40
)

// Changed is a skill that stands at another step than on the sheet that was given.
type Changed struct{ Skill, Was, Now string }

// Row is a line that came back.
type Row struct {
	ID, Day, Who, Skill string
	Said                string // "4 of 5", "3 relaxed, 1 unsure"
	Place, Remark       string
	Did                 string // to the level, in words
	Fresh               bool   // who sent it can take it back
	line                store.Returned
}

// Differs is a skill of which more comes back from home than is seen in visits.
type Differs struct {
	Skill string
	homework.Rates
	Home, Visit string // per cent
}

// given is a sheet that was given.
type given struct {
	store.Given
	skills []store.GivenSkill
}

// plans are those that are on it.
func (g *given) plans() (ids []string) {
	for _, one := range g.skills {
		ids = append(ids, one.Plan)
	}
	return ids
}

// changed lists what is not on the sheet as it is now.
func (g *given) changed(plans []app.Plan, skills []Skill) (list []Changed) {
	for i, l := range plans {
		for _, one := range g.skills {
			if one.Plan != l.ID || one.Step == skills[i].At.ID && one.Rev == skills[i].At.Rev {
				continue
			}
			was := "another step"
			if at := progression.Index(l.Steps, one.Step); at >= 0 && one.Step != skills[i].At.ID {
				was = l.Words.Step(l.Steps[at].Criteria)
			}
			list = append(list, Changed{l.Name(), was, l.Words.Step(skills[i].At.Criteria)})
		}
	}
	return list
}

// returns are the sheets that were given for a dog and what came back.
type returns struct {
	sheets []given // the latest first
	lines  []store.Returned
}

func returnsOf(ctx context.Context, q store.Q, dog, today string) (r returns, err error) {
	sheets, err := q.GivenOf(ctx, dog, sheetsLooked)
	if err != nil {
		return r, err
	}
	for _, one := range sheets {
		g := given{Given: one}
		if err := store.FromJSON(one.Skills, &g.skills); err != nil {
			return r, err
		}
		r.sheets = append(r.sheets, g)
	}
	day, err := time.Parse(app.DayLayout, today)
	if err != nil {
		return r, err
	}
	r.lines, err = q.ReturnedOf(ctx, dog, day.AddDate(-1, 0, 0).Format(app.DayLayout))
	return r, err
}

// givenTo is the sheet that somebody was given last, nil for none.
func (r returns) givenTo(who string) *given {
	at := slices.IndexFunc(r.sheets, func(g given) bool { return g.Person == who })
	if at < 0 {
		return nil
	}
	return &r.sheets[at]
}

// from tells whether anything has come back of a plan from somebody.
func (r returns) from(plan, who string) bool {
	return slices.ContainsFunc(r.lines, func(one store.Returned) bool { return one.Plan == plan && one.Person == who })
}

// workedAt is the index of the step that somebody worked at home on a day: of the sheet that they had then, or the one given first after
// it; now is that of a sheet of today.
func (r returns) workedAt(l app.Plan, who, day string, now int) int {
	at := now
	for _, sheet := range r.sheets {
		if sheet.Person != who {
			continue
		}
		for _, one := range sheet.skills {
			if index := progression.Index(l.Steps, one.Step); one.Plan == l.ID && index >= 0 {
				at = index
			}
		}
		if sheet.Day <= day {
			break
		}
	}
	return at
}

// rows are the lines as the page shows them, the latest first.
func (r returns) rows(plans []app.Plan, today string) (rows []Row) {
	for i := len(r.lines) - 1; i >= 0 && len(rows) < rowsShown; i-- {
		one := r.lines[i]
		row := Row{
			ID: one.ID, Day: app.ShortDay(one.Day, today), Who: one.Who, Skill: "a skill put away", Place: one.Place,
			line: one,
		}
		row.Said, row.Remark = saidOf(one), one.Remark
		if at := slices.IndexFunc(plans, func(l app.Plan) bool { return l.ID == one.Plan }); at >= 0 {
			row.Skill, row.Did = plans[at].Name(), did(one, plans[at].Steps)
		}
		rows = append(rows, row)
	}
	return rows
}

// line is what came back, as the core judges it.
func line(r store.Returned) homework.Line {
	return homework.Line{Met: r.Met, Of: r.Of, Relaxed: r.Relaxed, Unsure: r.Unsure, Worried: r.Worried}
}

func saidOf(r store.Returned) string {
	if r.Relaxed+r.Unsure+r.Worried == 0 {
		return fmt.Sprintf("%d of %d", r.Met, r.Of)
	}
	var parts []string
	for _, one := range []struct {
		n    int
		look string
	}{{r.Relaxed, "relaxed"}, {r.Unsure, "unsure"}, {r.Worried, "worried or left"}} {
		if one.n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", one.n, one.look))
		}
	}
	return strings.Join(parts, ", ")
}

// did says what a line did to the level of whoever sent it.
func did(r store.Returned, steps []progression.Step) string {
	var moves []progression.Move
	if store.FromJSON(r.Moves, &moves) != nil {
		return ""
	}
	worked := fmt.Sprintf("step %d", progression.Index(steps, r.Step)+1)
	if progression.Index(steps, r.Step) < 0 {
		worked = "a step that is gone"
	}
	for _, m := range moves {
		to := progression.Index(steps, m.To) + 1
		switch {
		case to == 0:
		case m.Why == progression.WhyStepUp:
			return fmt.Sprintf("%s: up to step %d", worked, to)
		case m.Why == progression.WhyStepBack:
			return fmt.Sprintf("%s: back to step %d", worked, to)
		}
	}
	if line(r).Leads() == homework.TooFew {
		return worked + ": fewer than five, no set"
	}
	return worked + ": stays" + held[r.Held]
}

var held = map[string]string{
	store.HeldEasier: " (easier than their own)", store.HeldTop: " (the highest they may work now)",
	store.HeldProof: " (proved in sessions alone)", store.HeldOnly: " (not trained at home now)",
	store.HeldFirst: " (levels move from a first session on)",
}

// visits is what was seen of a dog in sessions, and at home.
type visits struct {
	counts []store.VisitCount
	uneasy map[string]int64 // when the dog was worried last in a plan, in a session or at home, UTC ms
}

// seen counts what was seen since the first line that came back, and since a day at least, YYYY-MM-DD.
func (r returns) seen(ctx context.Context, q store.Q, plans []app.Plan, quiet string) (v visits, err error) {
	v.uneasy = map[string]int64{}
	first, ids := quiet, make([]string, len(plans))
	for i, l := range plans {
		ids[i] = l.ID
	}
	for _, one := range r.lines {
		if first = min(first, one.Day); one.Worried > 0 && one.Day >= quiet {
			v.uneasy[one.Plan] = max(v.uneasy[one.Plan], one.Made)
		}
	}
	v.counts, err = q.VisitCounts(ctx, ids, first)
	for _, one := range v.counts {
		if one.Worried > 0 && one.Day >= quiet {
			v.uneasy[one.Plan] = max(v.uneasy[one.Plan], one.Opened)
		}
	}
	return v, err
}

// only tells whether a plan is only kept away at home: until a trainer releases it, and after that from the next worried dog on.
func (v visits) only(l app.Plan) bool {
	return homework.ManagementOnly(l.Work().ByState, caution.Bites(l.DogFlags) && l.Released == 0, v.uneasy[l.ID] > l.Released)
}

// differs compares home with visits, skill by skill, for the trainer alone.
func (v visits) differs(r returns, plans []app.Plan, today string) (list []Differs) {
	step := func(id string, rev int) string { return fmt.Sprint(id, " ", rev) }
	for _, l := range plans {
		if l.Work().ByState || !slices.ContainsFunc(r.lines, func(one store.Returned) bool { return one.Plan == l.ID }) {
			continue
		}
		var counts []homework.Counted
		for _, one := range r.lines {
			if one.Plan == l.ID {
				counts = append(counts, homework.Counted{Day: one.Day, Step: step(one.Step, one.Rev), Met: one.Met, Of: one.Of})
			}
		}
		for _, one := range v.counts {
			if one.Plan == l.ID && one.Of > 0 {
				counts = append(counts, homework.Counted{Day: one.Day, Step: step(one.Step, one.Rev), Session: one.Session, Met: one.Met, Of: one.Of})
			}
		}
		if rates, differ := homework.Differ(counts, today); differ {
			list = append(list, Differs{l.Name(), rates,
				say.Percent(share(rates.HomeMet, rates.HomeOf)), say.Percent(share(rates.VisitMet, rates.VisitOf)),
			})
		}
	}
	return list
}

func share(met, of int) float64 { return float64(met) / float64(of) }

// Give keeps a sheet as it was given to somebody today: what comes back is of its steps. The form has the person as "with", the plans as
// "skills" with commas between, the trainer's "line", and "large".
func (p *Cases) Give(ctx context.Context, dog string, t form.Typed) error {
	v, err := p.Homework(ctx, dog, Asked{
		With: t.Text("with"), Skills: form.Listed(t["skills"]), Line: t["line"], Large: t["large"] != "", Anew: true,
	})
	if err != nil {
		return err
	}
	ps := form.Problems{}
	ps.Text("line", t["line"], MostLine)
	if v.With.ID != t.Text("with") {
		ps.Add("with", "Choose one of the list.")
	}
	if len(v.Skills) == 0 {
		ps.Add("skills", "Choose what they work on.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	sheet := store.Given{ID: app.NewID(), Dog: dog, Person: v.With.ID, Day: v.Day, Line: v.Line, Large: v.Large, Made: p.Ms()}
	var skills []store.GivenSkill
	for _, one := range v.Skills {
		skills = append(skills, store.GivenSkill{Plan: one.Plan, Step: one.At.ID, Rev: one.At.Rev})
	}
	sheet.Skills = store.JSON(skills)
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return "", err
		}
		sheet.MadeBy = s.By
		return sheet.ID, q.GiveHomework(ctx, sheet)
	})
	return err
}

// Return keeps what came back from somebody as they wrote it, in the field "lines", and moves their level by each set of it. The text is
// kept whole or not at all.
func (p *Cases) Return(ctx context.Context, dog string, t form.Typed) error {
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) { return "kept", p.returned(ctx, q, dog, t, store.CameOnPaper) })
	return err
}

func (p *Cases) returned(ctx context.Context, q store.Q, dog string, t form.Typed, came string) error {
	s, _, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return err
	}
	plans, err := worked(ctx, q, dog, s)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	who := t.Text("with")
	if _, there, err := handles(ctx, q, dog, who); err != nil {
		return err
	} else if !there {
		ps.Add("with", "Choose one of the list.")
	}
	lines, problem := homework.Read(t["lines"], skillsOf(plans), s.Day(p.Ms()))
	if problem != "" {
		ps.Add("lines", problem)
	}
	if err := ps.Err(); err != nil {
		return err
	}
	r, err := returnsOf(ctx, q, dog, s.Day(p.Ms()))
	if err != nil {
		return err
	}
	slices.SortStableFunc(lines, func(a, b homework.Line) int { return cmp.Compare(a.Day, b.Day) })
	for _, one := range lines {
		if err := p.keep(ctx, q, s, plans[one.Skill], r, sent{Line: one, id: app.NewID(), who: who, came: came, by: s.By}); err != nil {
			return err
		}
	}
	return nil
}

// worked are a dog's plans that have steps.
func worked(ctx context.Context, q store.Q, dog string, s app.Profile) ([]app.Plan, error) {
	plans, err := app.DogsPlans(ctx, q, dog, s.Words())
	return slices.DeleteFunc(plans, func(l app.Plan) bool { return len(l.Steps) == 0 }), err
}

// skillsOf are plans as lines name them.
func skillsOf(plans []app.Plan) []homework.Skill {
	skills := make([]homework.Skill, len(plans))
	for i, l := range plans {
		skills[i] = homework.Skill{Name: l.Name(), Cue: l.Def.Cue, Faces: l.Work().ByState}
	}
	return skills
}

// sent is a line with where it came from.
type sent struct {
	homework.Line
	id, step      string // the step that it was shown with, "" for that of the sheet of its day
	who, came, by string // whose it is, how it came, and who entered it
}

// keep writes one line, and where it leads. The sheets and lines of r are those before it and all that came with it, because these are of
// one sheet.
func (p *Cases) keep(ctx context.Context, q store.Q, s app.Profile, l app.Plan, r returns, one sent) error {
	all, err := q.HandledByAll(ctx, l.Dog)
	if err != nil {
		return err
	}
	fresh, err := q.Plan(ctx, l.ID) // the line before may have moved it
	if err != nil {
		return err
	}
	l.Plan = fresh
	now, err := standsOf(l, one.who, all, r.from(l.ID, one.who))
	if err != nil {
		return err
	}
	at := progression.Index(l.Steps, one.step)
	if at < 0 || at > now.top {
		at = r.workedAt(l, one.who, one.Day, now.at)
	}
	row := store.Returned{
		ID: one.id, Dog: l.Dog, Plan: l.ID, Person: one.who, Step: l.Steps[at].ID, Rev: l.Steps[at].Rev, Day: one.Day, Place: one.Place,
		Met: one.Met, Of: one.Of, Relaxed: one.Relaxed, Unsure: one.Unsure, Worried: one.Worried, Remark: one.Remark,
		Came: one.came, Level: l.LevelOf(one.who), Made: p.Ms(), MadeBy: one.by,
	}
	seen, err := r.seen(ctx, q, []app.Plan{l}, p.quietSince(s))
	if err != nil {
		return err
	}
	moves, why := movesOf(l, now, at, one.Leads(), seen.only(l))
	row.Moves, row.Held = store.JSON(moves), why
	if err := q.AddReturned(ctx, row); err != nil {
		return err
	}
	return p.Stand(ctx, q, l.ID)
}

// movesOf is what a line does to a level: its first is written as one, and a set moves it by a step. Of a plan that nobody has worked in a
// session nothing moves; where a step is proved the main handler's level rises in sessions alone, and nobody's does where there is nothing
// to train at home. Held says why a good set raised nothing.
func movesOf(l app.Plan, s stands, at int, leads homework.Leads, only bool) (moves []progression.Move, held string) {
	moves = []progression.Move{}
	if l.Founder == "" || leads == homework.TooFew {
		if leads == homework.StepUp {
			held = store.HeldFirst
		}
		return moves, held
	}
	if s.level != s.own {
		moves = append(moves, progression.Move{ID: app.NewID(), To: l.Steps[s.own].ID, Why: progression.WhyHands})
	}
	next := leads.Next(s.own, at, s.top)
	_, proved := l.Body.Proofs(l.Steps)[l.Steps[s.own].ID]
	why := progression.WhyStepUp
	switch {
	case next < s.own:
		why = progression.WhyStepBack
	case leads != homework.StepUp:
		return moves, ""
	case only:
		return moves, store.HeldOnly
	case next > s.own && s.main && proved:
		return moves, store.HeldProof
	case next == s.own && at < s.own:
		return moves, store.HeldEasier
	case next == s.own:
		return moves, store.HeldTop
	}
	return append(moves, progression.Move{ID: app.NewID(), From: l.Steps[s.own].ID, To: l.Steps[next].ID, Why: why}), ""
}

// PutReturnedAway takes a line back, or brings it back; the level follows.
func (p *Cases) PutReturnedAway(ctx context.Context, dog, id string, away bool) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		var at *int64
		if away {
			now := p.Ms()
			at = &now
		}
		plan, err := q.DeleteReturned(ctx, dog, id, at)
		if err != nil {
			return err
		}
		if plan == "" {
			return app.ErrNotFound
		}
		return p.Stand(ctx, q, plan)
	})
}

// Release releases a plan for home that is only kept away there, as a trainer decides; with back it is kept away again.
func (p *Cases) Release(ctx context.Context, dog, plan string, back bool) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		at := p.Ms()
		if back {
			at = 0
		}
		there, err := q.Release(ctx, dog, plan, at)
		if err == nil && !there {
			return app.ErrNotFound
		}
		return err
	})
}
