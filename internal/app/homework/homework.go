// Package homework has the use cases of what a household trains between two visits.
package homework

import (
	"cmp"
	"context"
	"hash/fnv"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/homework"
	"patientfox/core/library"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Cases are the use cases of one practice. They are safe for concurrent use.
type Cases struct {
	*app.Practice
}

// New makes them for a practice.
func New(p *app.Practice) *Cases { return &Cases{Practice: p} }

// Bounds of a sheet.
const (
	MostSkills = 5   // on one sheet: more is not done
	MostLine   = 300 // characters of the trainer's line
	usual      = 3   // skills that are on it before anybody chose
)

// Asked is what a sheet is asked for.
type Asked struct {
	With   string   // the one of the household, by id; "" for the first of the family
	Skills []string // plans by id, in any order; none for those worked last
	Line   string   // from the trainer
	Large  bool     // in large print
	Anew   bool     // as it is asked for here, whatever was given before
}

// View is a sheet of homework for a dog's household.
type View struct {
	ID, Dog   string
	Household string
	Away      bool
	Day       string
	People    []app.Named // who could be asked
	With      app.Named
	Could     []Choice
	TooMany   bool // more were chosen than are on it
	Skills    []Skill
	Order     []string // what to ask for next, where there are several skills; none where there is one
	Newest    string   // the skill that is paid every time
	Line      string
	Large     bool
	Call      []string // whom to call
	Rules     []Rules  // of the house
	Flags     []string // the dog's
	Given     string   // the day on which it was given last, in words; "" where it never was
	Changed   []Changed
	Back      []Row // what came back from home, the latest first
	Differs   []Differs
	Hard      []homework.Hard // of the trainer's own words on the sheet
	Links     []Linked        // by which it is read at home
	recap     string          // the last day of the latest week whose recap was kept, "" for none
	profile   app.Profile
}

// Choice is a skill that can be on a sheet.
type Choice struct {
	ID, Name string
	On       bool
}

// Skill is one skill of a sheet, in the words of a household.
type Skill struct {
	Plan, Name string
	Step       string // what is asked for
	Strip      []homework.Panel
	Counts     string // what counts as right
	Not        string // what does not
	Ends       string // what ends it: the release word
	After      string // what to do when it goes wrong
	Faces      bool   // reported by how the dog looked, not by how often it was right
	Pieces     int    // a pay
	Only       bool   // nothing to train: the thing is kept away
	Released   string // the day on which a trainer released it for home, "" where nobody had to
	At         progression.Step
	Instead    []library.Instead
	New        bool // the household never handled it
}

// Rounds numbers the rounds of a day.
func (View) Rounds() []int { return numbers(1, homework.Rounds) }

// Each is how many repetitions a round has.
func (View) Each() int { return homework.Each }

// Rounds numbers the rounds of a day.
func (Skill) Rounds() []int { return numbers(1, homework.Rounds) }

// Each is how many repetitions a round has.
func (Skill) Each() int { return homework.Each }

// Right are how many of a round can be right.
func (Skill) Right() []int { return numbers(0, homework.Each) }

func numbers(from, to int) (list []int) {
	for n := from; n <= to; n++ {
		list = append(list, n)
	}
	return list
}

// Such is a line as it may come back.
func (v View) Such() string {
	if len(v.Skills) > 0 && v.Skills[0].Faces {
		return "“" + v.Skills[0].Name + " 3 relaxed 1 unsure hall Mo”"
	}
	if len(v.Skills) > 0 {
		return "“" + v.Skills[0].Name + " 4 of 5 hall Mo”"
	}
	return "“sit 4 of 5 hall Mo”"
}

// hard are the trainer's words that a household may not follow.
func (v View) hard() []homework.Hard {
	texts := []string{v.Line}
	for _, one := range v.Skills {
		if !one.Only {
			texts = append(texts, one.Counts, one.Not, one.After, one.At.Criteria.Text)
		}
	}
	for _, rules := range v.Rules {
		texts = append(texts, rules.Lines...)
	}
	return homework.HardOf(texts...)
}

// Homework makes a sheet as it stands today.
func (p *Cases) Homework(ctx context.Context, dog string, asked Asked) (v View, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v, err = p.homework(ctx, q, dog, asked)
		return err
	})
	if err == nil {
		v.Links, err = p.linked(ctx, v.profile, dog, v.People)
	}
	return v, err
}

func (p *Cases) homework(ctx context.Context, q store.Q, dog string, asked Asked) (v View, err error) {
	s, row, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	v = View{
		profile: s, ID: dog, Dog: row.Name, Household: row.Household, Away: row.Deleted != nil, Day: today, Line: cut(asked.Line),
		Large: asked.Large,
	}
	v.Flags = linesOf(row.Flags)
	held, err := q.HandledByAll(ctx, dog)
	if err != nil {
		return v, err
	}
	plans, err := worked(ctx, q, dog, s)
	if err != nil {
		return v, err
	}
	slices.SortStableFunc(plans, func(a, b app.Plan) int { return cmp.Compare(b.Standing.LastDay, a.Standing.LastDay) })
	back, err := returnsOf(ctx, q, dog, today)
	if err != nil {
		return v, err
	}
	if v.whose(held, asked.With); asked.With == "" && len(back.sheets) > 0 {
		v.whose(held, back.sheets[0].Person) // who was given one last
	}
	given := back.givenTo(v.With.ID)
	if given != nil && !asked.Anew {
		asked.Skills, v.Line, v.Large = given.plans(), given.Line, given.Large
	}
	chosen := v.choose(plans, asked.Skills)
	seen, err := back.seen(ctx, q, plans, p.quietSince(s))
	if err != nil {
		return v, err
	}
	for _, l := range chosen {
		stands, err := standsOf(l, v.With.ID, held, back.from(l.ID, v.With.ID))
		if err != nil {
			return v, err
		}
		one := skillOf(l, stands)
		if one.Only = seen.only(l); !one.Only && l.Released > 0 {
			one.Released = app.ShortDay(s.Day(l.Released), today)
		}
		v.Skills = append(v.Skills, one)
	}
	v.mix(chosen, today)
	house, err := q.HouseOf(ctx, dog)
	if err != nil {
		return v, err
	}
	v.Call, v.Rules, v.recap = callOf(house), rulesOf(house), house.Recap
	if given != nil {
		v.Given, v.Changed = app.ShortDay(given.Day, today), given.changed(chosen, v.Skills)
	}
	v.Hard = v.hard()
	v.Back, v.Differs = back.rows(plans, today), seen.differs(back, plans, today)
	return v, nil
}

// quietSince is the day since which a worried dog keeps a household from training.
func (p *Cases) quietSince(s app.Profile) string {
	return s.Day(p.Now().AddDate(0, 0, -homework.QuietDays).UnixMilli())
}

// whose lists who could be asked, the family first, and says who is.
func (v *View) whose(held []store.HandledAs, with string) {
	v.People = nil
	for _, family := range []bool{true, false} {
		for _, one := range held {
			named := app.Named{ID: one.Person, Name: one.Name}
			if (one.Role == app.RoleFamily) == family && !slices.Contains(v.People, named) {
				v.People = append(v.People, named)
			}
		}
	}
	for i, one := range v.People {
		if one.ID == with || i == 0 {
			v.With = one
		}
	}
}

// choose are the plans that are on the sheet: those chosen, or the ones worked last.
func (v *View) choose(plans []app.Plan, asked []string) (chosen []app.Plan) {
	for i, l := range plans {
		on := slices.Contains(asked, l.ID) || len(asked) == 0 && i < usual && l.Standing.Sessions > 0
		if on && len(chosen) == MostSkills {
			on, v.TooMany = false, true
		}
		if on {
			chosen = append(chosen, l)
		}
		v.Could = append(v.Could, Choice{l.ID, l.Name(), on})
	}
	return chosen
}

// stands is where a plan's dog is with one of its household.
type stands struct {
	own, top int  // indexes of the step that they have come to, and of the highest that they may work
	at       int  // and of the one on their sheet
	level    int  // index of the step of their own level, −1 where they have none
	main     bool // which is the main handler's
}

// standsOf says it; back is whether anything has come back from them.
func standsOf(l app.Plan, who string, held []store.HandledAs, back bool) (s stands, err error) {
	s = stands{own: l.Reached(), top: len(l.Steps) - 1, level: l.Reached(), main: true}
	at := slices.IndexFunc(held, func(h store.HandledAs) bool { return h.Plan == l.ID && h.Person == who })
	if at >= 0 && who != l.MainHandler && l.MainHandler != "" {
		var shown []string
		if err := store.FromJSON(held[at].Shown, &shown); err != nil {
			return s, err
		}
		s.level, s.main = held[at].StepAt, false
		s.own, s.top, _ = pack.Opens(l.Steps, s.own, held[at].StepAt, pack.Handling(work.Kind(l.Kind), held[at].Role), shown)
	}
	s.at = homework.Opens(s.own, back)
	return s, nil
}

// skillOf is one plan in the words of a household.
func skillOf(l app.Plan, s stands) Skill {
	step := l.Steps[s.at]
	words := l.Words.Step(step.Criteria)
	after := strings.Trim(strings.TrimSpace(l.Def.AfterError)+"; "+strings.TrimSpace(l.Def.AfterText), "; ")
	pay, _ := l.Body.PayAt(step.ID)
	return Skill{
		Plan: l.ID, Name: l.Name(), Step: say.Upper(words),
		Strip:  homework.Strip(work.Kind(l.Kind), l.Def, cmp.Or(meets(step.Criteria), l.SkillName)),
		Counts: strings.TrimSpace(l.Def.Position), Not: strings.TrimSpace(l.Def.Break), Ends: strings.TrimSpace(l.Def.Release),
		After: say.Upper(after),
		Faces: l.Work().ByState, Pieces: pay.Piece(), Instead: l.Body.Management, New: s.level < 0, At: step,
	}
}

// meets is what a dog meets at a step: what that is called there, or what it is handled with and where; "" where the step names neither.
func meets(c criteria.Criteria) string {
	with := strings.TrimSpace(c.Item(criteria.Tool))
	if site := strings.TrimSpace(c.Item(criteria.Site)); site != "" {
		with = strings.TrimPrefix(with+", "+site, ", ")
	}
	return cmp.Or(strings.TrimSpace(c.Trig), with)
}

// mix is the order of one day, by the day, so that it is another one tomorrow and the same on paper and on the page.
func (v *View) mix(chosen []app.Plan, today string) {
	var names []string
	var newest app.Plan
	for i, l := range chosen {
		if v.Skills[i].Only || v.Skills[i].Faces {
			continue
		}
		if names = append(names, l.Name()); newest.ID == "" || l.Made > newest.Made {
			newest = l
		}
	}
	if len(names) < 2 {
		return
	}
	seed := fnv.New64a()
	seed.Write([]byte(v.ID + today))
	v.Order, v.Newest = homework.Mixed(names, homework.Rounds*homework.Each, seed.Sum64()), newest.Name()
}

// callOf are whom to call, as the dog's page of health has them.
func callOf(c store.House) (lines []string) {
	for _, one := range []struct{ what, who string }{{"Veterinarian: ", c.Vet}, {"In an emergency: ", c.Emergency}} {
		if who := strings.TrimSpace(one.who); who != "" {
			lines = append(lines, one.what+who)
		}
	}
	return lines
}

// cut bounds the trainer's line.
func cut(line string) string {
	runes := []rune(strings.TrimSpace(line))
	return strings.TrimSpace(string(runes[:min(len(runes), MostLine)]))
}

// Date is the sheet's day as people write it.
func (v View) Date() string {
	day, err := time.Parse(time.DateOnly, v.Day)
	if err != nil {
		return v.Day
	}
	return day.Format("Monday 2 January 2006")
}
