package practice

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
	Form            Typed
	Stages, Sizes   []reinforce.Named
	Lasting         []Named
	Foods           []Named
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

// daysFood is what several dogs eat over some days: in sessions, beside them, and in sessions still to come.
type daysFood struct {
	ate     []store.Ate
	rewards larder
}

func loadFood(ctx context.Context, q store.Q, rewards larder, dogs []string, from, to string) (f daysFood, err error) {
	f.rewards = rewards
	f.ate, err = q.AteOn(ctx, dogs, from, to)
	return f, err
}

// portion is so many pieces of a reward, or of the food that the dog is usually paid with where it was not said;
// known is false where their energy is not.
func (f daysFood) portion(dog, reward string, pieces int) (p reinforce.Portion, name string, known bool) {
	r, ok := f.find(dog, reward)
	if !ok || r.Kcal <= 0 {
		return reinforce.Portion{Pieces: pieces}, r.Name, pieces == 0
	}
	return reinforce.PortionOf(pieces, r.Grams, r.Kcal), r.Name, true
}

// usualTierPaid is the tier that is assumed where it was not said what was paid with.
const usualTierPaid = 3

func (f daysFood) find(dog, reward string) (reinforce.Reward, bool) {
	list := f.rewards[dog]
	if at := slices.IndexFunc(list, func(r reinforce.Reward) bool { return r.ID == reward }); at >= 0 {
		return list[at], true
	}
	if hand := reinforce.InHand(list, usualTierPaid, "", nil); len(hand) > 0 {
		return hand[0], true
	}
	return reinforce.Reward{}, false
}

// kcal adds up a dog's day: what was eaten, how much of that on top of meals, and pieces whose energy is not known.
func (f daysFood) kcal(dog, day string) (kcal, extra float64, unknown int) {
	for _, one := range f.ate {
		switch {
		case one.Dog != dog || one.Day != day:
		case one.Session == "":
			kcal += one.Kcal
		default:
			p, _, known := f.portion(dog, one.Reward, one.Pieces)
			if kcal += p.Kcal; one.Extra {
				extra += p.Kcal
			}
			if !known {
				unknown += one.Pieces
			}
		}
	}
	return kcal, extra, unknown
}

// needOf is a dog's need of energy on a day; ok is false while no weight is known.
func needOf(d store.Dog, today string) (n reinforce.Need, f reinforce.Feeding, ok bool, err error) {
	if f, err = feedingOf(d); err != nil {
		return n, f, false, err
	}
	kg, days := 0.0, 0
	if d.WeightKg != nil {
		kg = *d.WeightKg
	}
	if d.Born != "" {
		days = daysBetween(d.Born, today)
	}
	n, ok = f.NeedOf(kg, days)
	return n, f, ok, nil
}

// Food shows a dog's food today.
func (p *Practice) Food(ctx context.Context, dog string) (FoodView, error) {
	return remember(ctx, p, "food "+dog, on[FoodView](dog), func() (FoodView, error) { return p.makeFood(ctx, dog) })
}

func (p *Practice) makeFood(ctx context.Context, dog string) (v FoodView, err error) {
	q := p.store.Read()
	s, d, err := p.withDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.day(p.ms())
	rewards, err := loadLarder(ctx, q, []store.Dog{d}, today)
	if err != nil {
		return v, err
	}
	f, err := loadFood(ctx, q, rewards, []string{dog}, today, today)
	if err != nil {
		return v, err
	}
	sheets, err := loadSheets(ctx, q, []string{dog}, today, today)
	if err != nil {
		return v, err
	}
	need, feeding, known, err := needOf(d, today)
	if err != nil {
		return v, err
	}
	v = FoodView{
		ID: d.ID, Name: d.Name, Day: p.now().In(s.zone).Format("Monday 2 January"), Known: known, Form: typedFeeding(d, feeding),
		Stages: reinforce.Stages, Sizes: reinforce.Sizes, Kinds: eatenKinds, Caution: caution.Treats,
		VetSay: "For a dog that is on a diet, ill, pregnant or very young, ask its vet for the figure and write it here: it wins over the arithmetic.",
	}
	for _, r := range rewards[dog] {
		switch r.Kind {
		case reinforce.Lasting:
			v.Lasting = append(v.Lasting, Named{r.ID, r.Name})
		case reinforce.Food:
			v.Foods = append(v.Foods, Named{r.ID, r.Name})
		}
	}
	eaten, extra, unknown := f.kcal(dog, today)
	v.Budget = reinforce.Budget{Need: need.Kcal, Allowed: feeding.Allowed(need.Kcal), Eaten: eaten, Extra: extra, FromMeals: feeding.FromMeals}
	v.foodRows(f, dog, s)
	for _, one := range sheets {
		if one.session == "" {
			kcal, pieces := f.planned(one)
			v.Budget.Planned += kcal
			says := kcalSays(kcal)
			if kcal == 0 && pieces > 0 {
				says = "not known"
			}
			v.Rows = append(v.Rows, FoodRow{Time: clockOf(one.Start), What: "planned session", Pieces: say.Count(pieces, "piece"), Kcal: says, Planned: true})
		}
	}
	if unknown > 0 {
		v.Unknown = fmt.Sprintf("%s without a known energy: give the food its kcal a piece under Rewards.", say.Upper(say.Count(unknown, "piece")))
	}
	v.Need, v.NeedKcal = phrase.Need(need), kcalSays(need.Kcal)
	v.Says, v.Over = phrase.Budget(v.Budget, known)
	return v, nil
}

func (v *FoodView) foodRows(f daysFood, dog string, s settings) {
	type row struct {
		at int
		FoodRow
	}
	var rows []row
	for _, one := range f.ate {
		if one.Session == "" {
			at, r := beside(one)
			rows = append(rows, row{at, r})
			continue
		}
		portion, name, known := f.portion(dog, one.Reward, one.Pieces)
		what := one.What
		if name != "" {
			what += " · " + name
		}
		if one.Reward == "" {
			what += " (assumed)"
		}
		at := time.UnixMilli(one.Opened).In(s.zone)
		r := FoodRow{Time: at.Format("15:04"), What: say.Upper(what), Pieces: say.Count(one.Pieces, "piece"), Kcal: kcalSays(portion.Kcal), Session: one.Session}
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
		r.Pieces = say.Count(one.Pieces, "piece")
	}
	if one.From != nil {
		at = *one.From
		if r.Time = clockOf(at); one.Until != nil {
			r.Time += "–" + clockOf(*one.Until)
		}
	}
	return at, r
}

// clockOf writes minutes from midnight as "9:05".
func clockOf(minutes int) string { return fmt.Sprintf("%d:%02d", minutes/60, minutes%60) }

// readClock reads a time of day as typed: "9:05", "905", "9".
func readClock(typed string) (minutes int, ok bool) {
	typed = strings.TrimSpace(strings.NewReplacer(".", ":", "h", ":").Replace(typed))
	hour, minute, colon := strings.Cut(typed, ":")
	h, err := strconv.Atoi(hour)
	if err != nil {
		return 0, false
	}
	m := 0
	if colon && minute != "" {
		if m, err = strconv.Atoi(minute); err != nil {
			return 0, false
		}
	} else if !colon && len(hour) >= 3 {
		h, m = h/100, h%100
	}
	return h*60 + m, h >= 0 && h < 24 && m >= 0 && m < 60
}

func kcalSays(kcal float64) string {
	if kcal < 10 {
		return criteria.Figure(math.Round(kcal*10)/10) + " kcal"
	}
	return fmt.Sprintf("%.0f kcal", kcal)
}

func typedFeeding(d store.Dog, f reinforce.Feeding) Typed {
	t := Typed{
		"stage": string(f.Stage), "size": string(f.Size), "allergies": strings.Join(f.Allergies, ", "), "never": strings.Join(f.Never, ", "), "version": strconv.Itoa(d.Version),
	}
	if d.WeightKg != nil {
		t["weight_kg"] = criteria.Figure(*d.WeightKg)
	}
	for field, x := range map[string]float64{"ideal_kg": f.IdealKg, "factor": f.Factor, "vet_kcal": f.VetKcal, "part": math.Round(f.Part * 100)} {
		if x > 0 {
			t[field] = criteria.Figure(x)
		}
	}
	if f.FromMeals {
		t["from_meals"] = "on"
	}
	return t
}

// readKg reads a weight in kilograms; nil where nothing was typed.
func readKg(ps problems, t Typed, field string) *float64 {
	typed := strings.TrimSpace(strings.TrimSuffix(strings.Replace(t.Text(field), ",", ".", 1), "kg"))
	if typed == "" {
		return nil
	}
	kg, err := strconv.ParseFloat(typed, 64)
	if err != nil || !(kg >= reinforce.LeastKg && kg <= reinforce.MostKg) {
		ps.add(field, fmt.Sprintf("A weight in kilograms from %.1f to %d, in figures.", reinforce.LeastKg, reinforce.MostKg))
		return nil
	}
	return &kg
}

// SaveFeeding changes how a dog is fed.
func (p *Practice) SaveFeeding(ctx context.Context, dog string, t Typed) error {
	ps := problems{}
	d := store.Dog{ID: dog, WeightKg: readKg(ps, t, "weight_kg")}
	f := reinforce.Feeding{
		Stage: reinforce.Stage(t.Text("stage")), Size: reinforce.Size(t.Text("size")), FromMeals: t.Text("from_meals") != "",
		Factor: ps.number(t, "factor", 1, 5, "A factor from 1 to 5, such as 1.6."), VetKcal: ps.number(t, "vet_kcal", 20, 10000, "From 20 to 10 000 kcal a day, in figures."),
		Part:      ps.number(t, "part", 1, 100, "A share from 1 to 100 %.") / 100,
		Allergies: listed(t["allergies"]), Never: listed(strings.ReplaceAll(t["never"], ",", "\n")),
	}
	if kg := readKg(ps, t, "ideal_kg"); kg != nil {
		f.IdealKg = *kg
	}
	if t.Text("vet_kcal") != "" && f.VetKcal == 0 {
		ps.add("vet_kcal", "From 20 to 10 000 kcal a day, in figures.")
	}
	ps.criteria(f.Check())
	if err := ps.err(); err != nil {
		return err
	}
	d.Feeding = encode(f)
	d.Version, _ = strconv.Atoi(t.Text("version"))
	return p.store.Write(ctx, func(q store.Q) error {
		was, err := q.Dog(ctx, dog)
		if err != nil {
			return found(err)
		}
		ok, err := q.SetFeeding(ctx, d)
		if err != nil || ok {
			return err
		}
		fed, err := feedingOf(was)
		if err != nil {
			return err
		}
		return &Conflict{typedFeeding(was, fed)}
	})
}

// AddEaten logs food beside sessions: pieces of a reward, a filling that lasts, or energy as typed.
func (p *Practice) AddEaten(ctx context.Context, dog string, t Typed) error {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return err
	}
	today := s.day(p.ms())
	ps := problems{}
	e := store.Eaten{ID: NewID(), Dog: dog, Day: today, Kind: t.Text("eaten_kind"), Reward: t.Text("reward"), What: ps.text("what", t["what"], criteria.MaxName), Made: p.ms()}
	if reinforce.LabelOf(eatenKinds, e.Kind) == "" {
		ps.add("eaten_kind", "Choose what it was.")
	}
	if day := t.Text("day"); day != "" {
		if _, err := time.Parse(dayLayout, day); err != nil || day > today {
			ps.add("day", "A day up to today, as year-month-day.")
		}
		e.Day = day
	}
	e.Pieces = ps.whole(t, "pieces", 0, 2000, "A whole number of pieces, in figures.")
	e.Kcal = ps.number(t, "kcal", 0, 5000, "kcal from 0 to 5000, in figures.")
	e.From, e.Until = readTime(ps, t, "from"), readTime(ps, t, "until")
	if e.From != nil && e.Until != nil && *e.Until < *e.From {
		ps.add("until", "It ends before it begins.")
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
		ps.add("what", "Say what it was, or choose one of the dog's rewards.")
	case e.Kcal <= 0:
		ps.add("kcal", "Its energy is not known: write the kcal, or the pieces of a food whose kcal are known.")
	}
	if err := ps.err(); err != nil {
		return err
	}
	_, err = p.once(ctx, t, func(q store.Q) (string, error) { return e.ID, q.AddEaten(ctx, e) })
	return err
}

func readTime(ps problems, t Typed, field string) *int {
	if t.Text(field) == "" {
		return nil
	}
	minutes, ok := readClock(t.Text(field))
	if !ok {
		ps.add(field, "A time such as 18:30.")
		return nil
	}
	return &minutes
}

// DeleteEaten takes one back.
func (p *Practice) DeleteEaten(ctx context.Context, id string) error {
	return p.away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteEaten(ctx, id, at) })
}
