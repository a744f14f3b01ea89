package homework

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/homework"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/recap"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Recap is what a week of a dog's training came to, for its people: as the record says it, or as the trainer left it.
type Recap struct {
	ID, Dog   string
	Household string
	Away      bool
	To        string // YYYY-MM-DD, the last day of the week
	Week      string // in words
	Before    string // the last day of the week before
	After     string // and of the one after, "" where that is to come
	Praise    string
	Line      string // from the trainer
	Skills    []Recapped
	Added     []string // rewards that are new
	Kept      string   // the day on which it was left so, "" where nobody has yet
	Others    []app.Named
	Hard      []homework.Hard // of the trainer's own words
	Form      form.Typed
}

// Recapped is one skill of it.
type Recapped struct {
	Plan, Name string
	Field      string // of its text
	Text       string // a sentence a line; "" where it is left out
	Steps      int
	Was, Now   int // indexes of the steps, −1 for one that is gone
}

// Lines are the sentences of its text.
func (one Recapped) Lines() []string { return strings.Split(one.Text, "\n") }

// Told are the skills of which something is said.
func (v Recap) Told() (list []Recapped) {
	for _, one := range v.Skills {
		if one.Text != "" {
			list = append(list, one)
		}
	}
	return list
}

// days is how long the week is.
const days = 7

// SkillField begins the names of the fields with what is said of a skill.
const SkillField = "skill_"

// Recap makes that of the week that ends on a day, YYYY-MM-DD; today for none or one to come. Anew leaves out what was kept.
func (p *Cases) Recap(ctx context.Context, dog, to string, anew bool) (v Recap, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v, err = p.recap(ctx, q, dog, to, anew)
		return err
	})
	return v, err
}

func (p *Cases) recap(ctx context.Context, q store.Q, dog, to string, anew bool) (v Recap, err error) {
	s, row, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	last, err := time.ParseInLocation(app.DayLayout, to, s.Zone)
	if to = last.Format(app.DayLayout); err != nil || to > today {
		to = today
		last, _ = time.ParseInLocation(app.DayLayout, today, s.Zone)
	}
	from := last.AddDate(0, 0, 1-days)
	v = Recap{ID: dog, Dog: row.Name, Household: row.Household, Away: row.Deleted != nil, To: to}
	v.Week = app.ShortDay(from.Format(app.DayLayout), today) + " to " + app.ShortDay(to, today)
	if v.Before = last.AddDate(0, 0, -days).Format(app.DayLayout); to < today {
		v.After = min(today, last.AddDate(0, 0, days).Format(app.DayLayout))
	}
	w, err := readWeek(ctx, q, dog, s.Words(), from, last)
	if err != nil {
		return v, err
	}
	w.current = to == today
	v.tell(w)
	kept, err := q.RecapsOf(ctx, dog)
	if err != nil {
		return v, err
	}
	version := 0
	for _, one := range kept {
		if one.Day == to {
			if version = one.Version; !anew {
				v.Kept = app.ShortDay(s.Day(one.Made), today)
				v.Hard, err = v.as(one)
			}
			continue
		}
		v.Others = append(v.Others, app.Named{ID: one.Day, Name: app.ShortDay(one.Day, today)})
	}
	v.Form = v.typed(version)
	return v, err
}

// as puts what was kept in place of what the record says, and answers with what of it a household may not follow. A skill that was worked
// since then is told as the record has it.
func (v *Recap) as(kept store.Recap) ([]homework.Hard, error) {
	var said map[string]string
	if err := store.FromJSON(kept.Skills, &said); err != nil {
		return nil, err
	}
	v.Praise, v.Line = kept.Praise, kept.Line
	own := []string{v.Praise, v.Line}
	for i := range v.Skills {
		one := &v.Skills[i]
		if text, has := said[one.Plan]; has && text != one.Text {
			one.Text = text
			own = append(own, linesOf(text)...)
		}
	}
	return homework.HardOf(own...), nil
}

func (v Recap) typed(version int) form.Typed {
	t := form.Typed{"to": v.To, "praise": v.Praise, "line": v.Line, "version": strconv.Itoa(version)}
	for _, one := range v.Skills {
		t[one.Field] = one.Text
	}
	return t
}

// SaveRecap keeps a week as the trainer leaves it.
func (p *Cases) SaveRecap(ctx context.Context, dog string, t form.Typed) error {
	now, err := p.Recap(ctx, dog, t.Text("to"), false)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	r := store.Recap{Dog: dog, Day: now.To}
	r.Praise, r.Line = ps.Text("praise", t["praise"], MostLine), ps.Text("line", t["line"], criteria.MaxText)
	said := map[string]string{}
	for _, one := range now.Skills {
		if text, typed := t[one.Field]; typed {
			said[one.Plan] = ps.Text(one.Field, text, criteria.MaxText)
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	raw, err := json.Marshal(said)
	if err != nil {
		return err
	}
	r.Skills, r.Made = string(raw), p.Ms()
	r.Version, _ = strconv.Atoi(t.Text("version"))
	return p.Store.Write(ctx, func(q store.Q) error {
		s, err := p.Profile(ctx, q)
		if err != nil {
			return err
		}
		r.MadeBy = s.By
		ok, err := q.SetRecap(ctx, r)
		if err == nil && !ok {
			return &form.Conflict{Now: now.Form}
		}
		return err
	})
}

// week is what the record has of one.
type week struct {
	plans    []app.Plan
	worked   map[string]store.PlanWork
	current  bool                          // it is the one that ends today
	counts   map[string][]store.VisitCount // in the week alone
	sessions map[string]bool
	moves    map[string][]recap.Move
	home     map[string][]store.Returned
}

func readWeek(ctx context.Context, q store.Q, dog string, words phrase.Words, from, last time.Time) (w week, err error) {
	first, to := from.Format(app.DayLayout), last.Format(app.DayLayout)
	w = week{
		worked: map[string]store.PlanWork{}, counts: map[string][]store.VisitCount{}, sessions: map[string]bool{},
		moves: map[string][]recap.Move{}, home: map[string][]store.Returned{},
	}
	if w.plans, err = app.DogsPlans(ctx, q, dog, words); err != nil {
		return w, err
	}
	ids := make([]string, len(w.plans))
	for i, l := range w.plans {
		ids[i] = l.ID
	}
	worked, err := q.WeekOf(ctx, dog, first, to, from.UnixMilli(), last.AddDate(0, 0, 1).UnixMilli())
	if err != nil {
		return w, err
	}
	for _, one := range worked {
		w.worked[one.Plan] = one
	}
	counts, err := q.VisitCounts(ctx, ids, first)
	if err != nil {
		return w, err
	}
	for _, one := range counts {
		if one.Day <= to {
			w.counts[one.Plan] = append(w.counts[one.Plan], one)
			w.sessions[one.Session] = true
		}
	}
	moves, err := q.MovesSince(ctx, ids, first)
	if err != nil {
		return w, err
	}
	for _, m := range moves {
		move := progression.Move{ID: m.ID, From: m.From, To: m.To, Why: progression.Why(m.Why)}
		w.moves[m.Plan] = append(w.moves[m.Plan], recap.Move{Move: move, Session: m.Session, Later: m.Day > to})
	}
	home, err := q.ReturnedOf(ctx, dog, first)
	if err != nil {
		return w, err
	}
	for _, one := range home {
		if one.Day <= to {
			w.home[one.Plan] = append(w.home[one.Plan], one)
		}
	}
	return w, err
}

// tell says what the record has, the skill that was worked most first.
func (v *Recap) tell(w week) {
	v.Added = linesOf(w.worked[""].News)
	plans := slices.DeleteFunc(slices.Clone(w.plans), func(l app.Plan) bool {
		return len(l.Steps) == 0 || w.worked[l.ID].Sessions == 0 && len(w.home[l.ID]) == 0 && w.worked[l.ID].News == ""
	})
	slices.SortStableFunc(plans, func(a, b app.Plan) int { return cmp.Compare(w.worked[b.ID].Logged, w.worked[a.ID].Logged) })
	var skills []recap.Skill
	homeDays := map[string]bool{}
	for _, l := range plans {
		one, skill := w.skill(l)
		v.Skills, skills = append(v.Skills, one), append(skills, skill)
		for _, line := range w.home[l.ID] {
			homeDays[line.Day] = true
		}
	}
	v.Praise = praise(v.Dog, recap.Best(skills, len(w.sessions), len(homeDays)))
}

// skill says what one skill came to.
func (w week) skill(l app.Plan) (Recapped, recap.Skill) {
	done, home := w.worked[l.ID], w.home[l.ID]
	reached := l.Steps[min(l.Reached()+done.Fell, len(l.Steps)-1)].ID // as it was before what forced it down since
	was, now := recap.Ends(l.Steps, reached, w.moves[l.ID])
	one := Recapped{Plan: l.ID, Name: l.Name(), Field: SkillField + l.ID, Steps: len(l.Steps)}
	one.Was, one.Now = progression.Index(l.Steps, was), progression.Index(l.Steps, now)
	skill := recap.Skill{Name: one.Name}
	var lines []string
	tell := func(text string, args ...any) { lines = append(lines, fmt.Sprintf(text, args...)) }
	if done.Sessions > 0 {
		often := ""
		if done.Logged > 0 {
			often = ": " + say.Count(done.Logged, "repetition")
		}
		tell("Worked in %s%s%s.", say.Count(done.Sessions, "session"), often, minutes(done.Active))
	}
	switch gained := one.Now - one.Was; {
	case one.Now < 0:
	case one.Was >= 0 && gained != 0:
		skill.Gained = gained
		changes := say.List(l.Words.Moved(l.Steps[one.Was].Criteria, l.Steps[one.Now].Criteria))
		tell("%s%s.", say.Upper(further(gained)), strings.TrimSuffix(": "+changes, ": "))
	case done.Sessions > 0 && !done.Before:
		tell("New this week, at this step: %s.", l.Words.Step(l.Steps[one.Now].Criteria))
	default:
		tell("The step is as it was: %s.", l.Words.Step(l.Steps[one.Now].Criteria))
	}
	for _, c := range w.counts[l.ID] {
		if c.Step == now {
			skill.Met, skill.Of = skill.Met+c.Met, skill.Of+c.Of
		}
	}
	if word := right(l); skill.Of > 0 {
		tell("%s", tenths(skill.Met, skill.Of, word))
	}
	if len(home) > 0 {
		lines = append(lines, atHome(l, home))
	}
	for _, what := range linesOf(done.News) {
		tell("Something came between: %s.", strings.TrimSuffix(what, "."))
	}
	if done.Growls > 0 {
		tell("It growled or snapped %s. That is a warning, and never to be punished.", say.Times(done.Growls))
	}
	switch next := one.Now + 1; {
	case one.Now < 0:
	case next < len(l.Steps):
		if ahead := say.List(l.Words.Moved(l.Steps[one.Now].Criteria, l.Steps[next].Criteria)); ahead != "" {
			tell("Next, with your trainer: %s.", ahead)
		}
	case l.Finished() && w.current:
		tell("It is finished, and kept up from here on.")
	default:
		tell("This is the last step.")
	}
	one.Text = strings.Join(lines, "\n")
	return one, skill
}

// right is what a household calls a trial that went well.
func right(l app.Plan) string {
	if l.Work().ByState {
		return "at ease"
	}
	return "right"
}

// minutes are those of active time, s.
func minutes(active float64) string {
	switch n := int(math.Round(active / 60)); {
	case active <= 0:
		return ""
	case n < 1:
		return " in less than a minute"
	default:
		return " in " + say.Count(n, "minute")
	}
}

func further(steps int) string {
	if steps < 0 {
		return say.CountInWords(-steps, "step") + " back"
	}
	return say.CountInWords(steps, "step") + " further"
}

// tenths is how many went well at the last step, with what so few say of many: the 95 % score interval, in tenths.
func tenths(met, of int, word string) string {
	if of < recap.EnoughTrials {
		return fmt.Sprintf("%d of %d %s at this step.", met, of, word)
	}
	at := evidence.Wilson(met, of, 0.95)
	lo, hi := int(math.Floor(10*at.Lo+1e-9)), int(math.Ceil(10*at.Hi-1e-9))
	return fmt.Sprintf("%d of %d %s at this step: of ten, expect %d to %d.", met, of, word, lo, hi)
}

// atHome adds up what came back from home.
func atHome(l app.Plan, lines []store.Returned) string {
	var met, of, relaxed, unsure, worried int
	on := map[string]bool{}
	for _, one := range lines {
		met, of, on[one.Day] = met+one.Met, of+one.Of, true
		relaxed, unsure, worried = relaxed+one.Relaxed, unsure+one.Unsure, worried+one.Worried
	}
	said := fmt.Sprintf("%d of %d right", met, of)
	if l.Work().ByState {
		said = fmt.Sprintf("relaxed %d, unsure %d, worried %d", relaxed, unsure, worried)
	}
	return fmt.Sprintf("At home: %s, on %s.", said, say.Count(len(on), "day"))
}

// praise says what there is to praise.
func praise(dog string, p recap.Praise) string {
	switch p.Code {
	case recap.Further:
		return fmt.Sprintf("%s is %s in “%s”.", dog, further(p.N), p.Skill)
	case recap.AtHome:
		return fmt.Sprintf("You trained at home on %s. That is what carries %s on.", say.Count(p.N, "day"), dog)
	case recap.AllMet:
		return fmt.Sprintf("All %d right in “%s”.", p.N, p.Skill)
	case recap.Worked:
		return fmt.Sprintf("%s worked in %s this week.", dog, say.Count(p.N, "session"))
	}
	return ""
}
