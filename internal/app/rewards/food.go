package rewards

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// FoodView is the page of one dog's food on a day.
type FoodView struct {
	ID, Name, Day   string
	Known           bool   // a need is known
	Need            string // where it comes from
	Budget          reinforce.Budget
	NeedKcal        string
	Says            string
	Over            bool
	Rows            []FoodRow
	Unknown         string // pieces whose energy is not known
	Form            form.Typed
	Stages, Sizes   []reinforce.Named
	Lasting         []app.Named
	Foods           []app.Named
	Kinds           []reinforce.Named
	Caution, VetSay string
}

// FoodRow is one thing that was eaten, or is planned.
type FoodRow struct {
	ID, Time, What, Pieces, Kcal string
	Session                      string
	Planned                      bool
}

// eatenKinds are the sorts of food beside sessions.
var eatenKinds = []reinforce.Named{
	{Code: "choice", Label: "good choices, fed in daily life"}, {Code: "lasting", Label: "something that lasts: a stuffed toy, a lick mat"},
	{Code: "household", Label: "the household's own training"}, {Code: "other", Label: "anything else beside meals"},
}

// Food shows a dog's food today.
func (p *Cases) Food(ctx context.Context, dog string) (FoodView, error) {
	return app.Remember(ctx, p.Practice, "food "+dog, app.On[FoodView](dog), func() (FoodView, error) { return p.makeFood(ctx, dog) })
}

func (p *Cases) makeFood(ctx context.Context, dog string) (v FoodView, err error) {
	q := p.Store.Read()
	s, d, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	rewards, err := app.LoadLarder(ctx, q, []store.Dog{d}, today)
	if err != nil {
		return v, err
	}
	f, err := app.LoadFood(ctx, q, rewards, []string{dog}, today, today)
	if err != nil {
		return v, err
	}
	sheets, err := app.LoadSheets(ctx, q, []string{dog}, today, today)
	if err != nil {
		return v, err
	}
	need, feeding, known, err := app.NeedOf(d, today)
	if err != nil {
		return v, err
	}
	v = FoodView{
		ID: d.ID, Name: d.Name, Day: p.Now().In(s.Zone).Format("Monday 2 January"), Known: known, Form: typedFeeding(d, feeding),
		Stages: reinforce.Stages, Sizes: reinforce.Sizes, Kinds: eatenKinds, Caution: caution.Treats,
		VetSay: "For a dog that is on a diet, ill, pregnant or very young, ask its vet for the figure and write it here: it wins " +
			"over the arithmetic.",
	}
	for _, r := range rewards[dog] {
		switch r.Kind {
		case reinforce.Lasting:
			v.Lasting = append(v.Lasting, app.Named{ID: r.ID, Name: r.Name})
		case reinforce.Food:
			v.Foods = append(v.Foods, app.Named{ID: r.ID, Name: r.Name})
		}
	}
	eaten, extra, unknown := f.Kcal(dog, today)
	v.Budget = reinforce.Budget{Need: need.Kcal, Allowed: feeding.Allowed(need.Kcal), Eaten: eaten, Extra: extra, FromMeals: feeding.FromMeals}
	v.foodRows(f, dog, s)
	v.ahead(f, sheets)
	if unknown > 0 {
		v.Unknown = fmt.Sprintf("%s without a known energy: give the food its kcal a piece under Rewards.",
			say.Upper(say.Count(unknown, "treat")))
	}
	v.Need, v.NeedKcal = phrase.Need(need), kcalSays(need.Kcal)
	v.Says, v.Over = phrase.Budget(v.Budget, known)
	return v, nil
}

// ahead lists what is planned to be fed in sessions that were not run yet.
func (v *FoodView) ahead(f app.DaysFood, sheets []app.Planned) {
	for _, one := range sheets {
		if one.Session == "" {
			kcal, pieces := f.Planned(one)
			v.Budget.Planned += kcal
			says := kcalSays(kcal)
			if kcal == 0 && pieces > 0 {
				says = "not known"
			}
			v.Rows = append(v.Rows, FoodRow{
				Time: form.ClockOf(one.Start), What: "planned session", Pieces: say.Count(pieces, "treat"), Kcal: says, Planned: true,
			})
		}
	}
}

func (v *FoodView) foodRows(f app.DaysFood, dog string, s app.Profile) {
	type row struct {
		at int
		FoodRow
	}
	var rows []row
	for _, one := range f.Ate {
		if one.Session == "" {
			at, r := beside(one)
			rows = append(rows, row{at, r})
			continue
		}
		portion, name, known := f.Portion(dog, one.Reward, one.Pieces)
		what := one.What
		if name != "" {
			what += " · " + name
		}
		if one.Reward == "" {
			what += " (assumed)"
		}
		at := time.UnixMilli(one.Opened).In(s.Zone)
		r := FoodRow{
			Time: at.Format("15:04"), What: say.Upper(what), Pieces: say.Count(one.Pieces, "treat"), Kcal: kcalSays(portion.Kcal),
			Session: one.Session,
		}
		if !known {
			r.Kcal = "not known"
		}
		rows = append(rows, row{at.Hour()*60 + at.Minute(), r})
	}
	slices.SortStableFunc(rows, func(a, b row) int { return a.at - b.at })
	for _, r := range rows {
		v.Rows = append(v.Rows, r.FoodRow)
	}
}

// beside is food beside sessions as a row, with its place in the day in minutes.
func beside(one store.Ate) (at int, r FoodRow) {
	r = FoodRow{ID: one.ID, What: one.What, Kcal: kcalSays(one.Kcal)}
	if one.Pieces > 0 {
		r.Pieces = say.Count(one.Pieces, "treat")
	}
	if one.From != nil {
		at = *one.From
		if r.Time = form.ClockOf(at); one.Until != nil {
			r.Time += "–" + form.ClockOf(*one.Until)
		}
	}
	return at, r
}

func kcalSays(kcal float64) string {
	if kcal < 10 {
		return criteria.Figure(math.Round(kcal*10)/10) + " kcal"
	}
	return fmt.Sprintf("%.0f kcal", kcal)
}

func typedFeeding(d store.Dog, f reinforce.Feeding) form.Typed {
	t := form.Typed{
		"stage": string(f.Stage), "size": string(f.Size), "allergies": strings.Join(f.Allergies, ", "),
		"never": strings.Join(f.Never, ", "), "version": strconv.Itoa(d.Version),
	}
	if d.WeightKg != nil {
		t["weight_kg"] = criteria.Figure(*d.WeightKg)
	}
	for field, x := range map[string]float64{
		"ideal_kg": f.IdealKg, "factor": f.Factor, "vet_kcal": f.VetKcal, "part": math.Round(f.Part * 100),
	} {
		if x > 0 {
			t[field] = criteria.Figure(x)
		}
	}
	if f.FromMeals {
		t["from_meals"] = "on"
	}
	return t
}

// SaveFeeding changes how a dog is fed.
func (p *Cases) SaveFeeding(ctx context.Context, dog string, t form.Typed) error {
	ps := form.Problems{}
	d := store.Dog{ID: dog, WeightKg: form.ReadKg(ps, t, "weight_kg")}
	f := reinforce.Feeding{
		Stage: reinforce.Stage(t.Text("stage")), Size: reinforce.Size(t.Text("size")), FromMeals: t.Text("from_meals") != "",
		Factor:    ps.Number(t, "factor", 1, 5, "A factor from 1 to 5, such as 1.6."),
		VetKcal:   ps.Number(t, "vet_kcal", 20, 10000, "From 20 to 10 000 kcal a day, in figures."),
		Part:      ps.Number(t, "part", 1, 100, "A share from 1 to 100 %.") / 100,
		Allergies: form.Listed(t["allergies"]), Never: form.Listed(strings.ReplaceAll(t["never"], ",", "\n")),
	}
	if kg := form.ReadKg(ps, t, "ideal_kg"); kg != nil {
		f.IdealKg = *kg
	}
	if t.Text("vet_kcal") != "" && f.VetKcal == 0 {
		ps.Add("vet_kcal", "From 20 to 10 000 kcal a day, in figures.")
	}
	ps.Criteria(f.Check())
	if err := ps.Err(); err != nil {
		return err
	}
	d.Feeding = store.JSON(f)
	d.Version, _ = strconv.Atoi(t.Text("version"))
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return err
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		was, err := q.Dog(ctx, dog)
		if err != nil {
			return app.Found(err)
		}
		ok, err := q.SetFeeding(ctx, d)
		if err != nil {
			return err
		}
		if ok {
			return p.Weighed(ctx, q, dog, s.Day(p.Ms()), was.WeightKg, d.WeightKg)
		}
		fed, err := app.FeedingOf(was)
		if err != nil {
			return err
		}
		return &form.Conflict{Now: typedFeeding(was, fed)}
	})
}

// AddEaten logs food beside sessions: pieces of a reward, a filling that lasts, or energy as typed.
func (p *Cases) AddEaten(ctx context.Context, dog string, t form.Typed) error {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return err
	}
	today := s.Day(p.Ms())
	ps := form.Problems{}
	e := store.Eaten{
		ID: app.NewID(), Dog: dog, Day: today, Kind: t.Text("eaten_kind"), Reward: t.Text("reward"),
		What: ps.Text("what", t["what"], criteria.MaxName), Made: p.Ms(),
	}
	if reinforce.LabelOf(eatenKinds, e.Kind) == "" {
		ps.Add("eaten_kind", "Choose what it was.")
	}
	if day := t.Text("day"); day != "" {
		if _, err := time.Parse(app.DayLayout, day); err != nil || day > today {
			ps.Add("day", "A day up to today, as year-month-day.")
		}
		e.Day = day
	}
	e.Pieces = ps.Whole(t, "pieces", 0, 2000, "A whole number of treats, in figures.")
	e.Kcal = ps.Number(t, "kcal", 0, 5000, "kcal from 0 to 5000, in figures.")
	e.From, e.Until = readTime(ps, t, "from"), readTime(ps, t, "until")
	if e.From != nil && e.Until != nil && *e.Until < *e.From {
		ps.Add("until", "It ends before it begins.")
	}
	rewards, err := loadRewards(ctx, q, dog, today)
	if err != nil {
		return err
	}
	if at := slices.IndexFunc(rewards, func(r reinforce.Reward) bool { return r.ID == e.Reward }); at >= 0 {
		if e.What == "" {
			e.What = rewards[at].Name
		}
		if rewards[at].Kind == reinforce.Lasting {
			e.Pieces = max(1, e.Pieces)
		}
		if e.Kcal == 0 {
			e.Kcal = float64(e.Pieces) * rewards[at].Kcal
		}
	} else {
		e.Reward = ""
	}
	switch {
	case e.What == "":
		ps.Add("what", "Say what it was, or choose one of the dog's rewards.")
	case e.Kcal <= 0:
		ps.Add("kcal", "Its energy is not known: write the kcal, or how many treats of a food whose kcal are known.")
	}
	if err := ps.Err(); err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) { return e.ID, q.AddEaten(ctx, e) })
	return err
}

func readTime(ps form.Problems, t form.Typed, field string) *int {
	if t.Text(field) == "" {
		return nil
	}
	minutes, ok := form.ReadClock(t.Text(field))
	if !ok {
		ps.Add(field, "A time such as 18:30.")
		return nil
	}
	return &minutes
}

// DeleteEaten takes one back.
func (p *Cases) DeleteEaten(ctx context.Context, id string) error {
	return p.Away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteEaten(ctx, id, at) })
}
