package rewards

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// loadRewards lists what one dog works for on a day.
func loadRewards(ctx context.Context, q store.Q, dog, day string) ([]reinforce.Reward, error) {
	d, err := q.Dog(ctx, dog)
	if err != nil {
		return nil, app.Found(err)
	}
	all, err := app.LoadLarder(ctx, q, []store.Dog{d}, day)
	return all[dog], err
}

// fitting names the foods that fit a tier, best first, two at most.
func fitting(rewards []reinforce.Reward, tier int) []string {
	var names []string
	for _, r := range reinforce.InHand(rewards, tier, "", nil) {
		if len(names) < 2 && (tier == 0 || r.Tier >= tier) {
			names = append(names, r.Name)
		}
	}
	return names
}

// RewardRow is one reward as its page shows it.
type RewardRow struct {
	ID, Name, About, From string
	Tier                  int    // as usual
	Today                 string // what differs today: a tier, "0" for not today, "" for as usual
	TodaySays             string
	Excluded, Toxic       string
	Note                  string
	Food                  bool
	Form                  form.Typed
}

// RewardTier is one tier with its rewards, best first.
type RewardTier struct {
	Tier    int
	Label   string
	Rewards []RewardRow
}

// TestRow is one preference test in a list.
type TestRow struct {
	ID, Day, Says string
	Done          bool
}

// RewardsView is the page of what one dog works for.
type RewardsView struct {
	ID, Name  string
	Tiers     []RewardTier
	None      bool
	NoFood    string // why nothing is left to pay with
	Differs   bool   // something is otherwise today
	Places    []app.Named
	Tests     []TestRow
	Choosable []app.Named // what a preference test can be made of
	Caution   string
	Excludes  string // what it is allergic to and must not have, in a line
	Kinds     []reinforce.Named
	TierNames []reinforce.Named
}

// Rewards shows what a dog works for.
func (p *Cases) Rewards(ctx context.Context, dog string) (RewardsView, error) {
	return app.Remember(ctx, p.Practice, "rewards "+dog, app.On[RewardsView](dog),
		func() (RewardsView, error) { return p.makeRewards(ctx, dog) })
}

func (p *Cases) makeRewards(ctx context.Context, dog string) (v RewardsView, err error) {
	q := p.Store.Read()
	s, d, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.Day(p.Ms())
	rows, err := q.Rewards(ctx, []string{dog}, today)
	if err != nil {
		return v, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return v, err
	}
	tests, err := q.Tests(ctx, dog, 5)
	if err != nil {
		return v, err
	}
	feeding, err := app.FeedingOf(d)
	if err != nil {
		return v, err
	}
	v = RewardsView{
		ID: d.ID, Name: d.Name, None: len(rows) == 0, Caution: caution.Treats, Kinds: reinforce.RewardKinds,
		TierNames: reinforce.Tiers,
	}
	v.Excludes = say.Upper(say.List(append(slices.Clone(feeding.Allergies), feeding.Never...)))
	for _, one := range places {
		v.Places = append(v.Places, app.Named{ID: one.ID, Name: one.Name})
	}
	if err := v.tiers(rows, feeding, today); err != nil {
		return v, err
	}
	for _, t := range tests {
		row := TestRow{ID: t.ID, Day: app.ShortDay(t.Day, today), Done: t.Done != nil}
		if row.Says = "not finished"; row.Done {
			row.Says = "its tiers were taken"
		}
		v.Tests = append(v.Tests, row)
	}
	return v, nil
}

// tiers sorts the rewards by what they are worth to the dog.
func (v *RewardsView) tiers(rows []store.Reward, feeding reinforce.Feeding, today string) error {
	foods, usable := 0, 0
	for tier := reinforce.MaxTier; tier >= 0; tier-- {
		group := RewardTier{Tier: tier, Label: say.Upper(phrase.Tier(tier))}
		if tier == 0 {
			group.Label = "Not ranked yet"
		}
		for _, row := range rows {
			if app.UsualTier(row) != tier {
				continue
			}
			one, r, err := rewardRow(row, feeding, v.Places, today)
			if err != nil {
				return err
			}
			group.Rewards = append(group.Rewards, one)
			v.Differs = v.Differs || one.Today != ""
			if r.Kind == reinforce.Food {
				foods++
				if r.Excluded == "" {
					usable++
				}
			}
			if r.Excluded == "" && (r.Kind == reinforce.Food || r.Kind == reinforce.Toy) {
				v.Choosable = append(v.Choosable, app.Named{ID: row.ID, Name: row.Name})
			}
		}
		if len(group.Rewards) > 0 {
			v.Tiers = append(v.Tiers, group)
		}
	}
	if foods > 0 && usable == 0 {
		v.NoFood = fmt.Sprintf("Nothing of this may be fed to %s: every food meets an allergy or something it must not have. Add "+
			"one that it may eat, or pay with toys and play.",
			v.Name)
	}
	return nil
}

func rewardRow(row store.Reward, feeding reinforce.Feeding, places []app.Named, today string) (RewardRow, reinforce.Reward, error) {
	r, err := app.RewardOf(row, feeding)
	if err != nil {
		return RewardRow{}, r, err
	}
	var contains []string
	if err := store.FromJSON(row.Contains, &contains); err != nil {
		return RewardRow{}, r, err
	}
	v := RewardRow{ID: row.ID, Name: row.Name, Tier: app.UsualTier(row), Excluded: r.Excluded, Note: row.Note, Food: r.Eaten()}
	if v.Food {
		v.Toxic = caution.Toxic(row.Name, contains)
	}
	about := []string{reinforce.LabelOf(reinforce.RewardKinds, row.Kind)}
	if r.Eaten() {
		about = append(about, foodAbout(row))
		if len(contains) > 0 {
			about = append(about, strings.Join(contains, ", "))
		}
	}
	for _, place := range places {
		if slices.Contains(r.NotAt, place.ID) {
			about = append(about, "not at "+place.Name)
		}
	}
	v.About = strings.Join(about, " · ")
	switch {
	case row.Tier > 0 && row.Tested > 0:
		v.From = fmt.Sprintf("Set by hand; the test of %s said %d.", app.ShortDay(row.TestedOn, today), row.Tested)
	case row.Tier > 0:
		v.From = "Set by hand."
	case row.Tested > 0 && row.TestedLo < row.TestedHi:
		v.From = fmt.Sprintf("By the test of %s, likely %d to %d.", app.ShortDay(row.TestedOn, today), row.TestedLo, row.TestedHi)
	case row.Tested > 0:
		v.From = fmt.Sprintf("By the test of %s.", app.ShortDay(row.TestedOn, today))
	}
	if row.Today != nil {
		v.Today = strconv.Itoa(*row.Today)
		if v.TodaySays = "Today: " + phrase.Tier(*row.Today) + "."; *row.Today == 0 {
			v.TodaySays = "Not today."
		}
	}
	v.Form = form.Typed{
		"id": row.ID, "name": row.Name, "kind": row.Kind, "contains": strings.Join(contains, ", "), "note": row.Note,
		"version": strconv.Itoa(row.Version),
	}
	for field, x := range map[string]float64{"grams": row.Grams, "kcal": row.Kcal} {
		if x > 0 {
			v.Form[field] = criteria.Figure(x)
		}
	}
	if row.Tier > 0 {
		v.Form["tier"] = strconv.Itoa(row.Tier)
	}
	for _, place := range r.NotAt {
		v.Form["not_"+place] = "on"
	}
	return v, r, nil
}

// foodAbout says what a piece weighs and holds.
func foodAbout(row store.Reward) string {
	what := "a piece"
	if row.Kind == string(reinforce.Lasting) {
		what = "a filling"
	}
	switch {
	case row.Grams > 0 && row.Kcal > 0:
		return fmt.Sprintf("%s g, %s kcal %s", criteria.Figure(row.Grams), criteria.Figure(row.Kcal), what)
	case row.Kcal > 0:
		return fmt.Sprintf("%s kcal %s", criteria.Figure(row.Kcal), what)
	}
	return "energy not known: it cannot be counted into the day"
}

// Most of what a reward may be.
const (
	maxGrams = 1000
	maxKcal  = 2000
	maxHold  = 30 // kcal of a piece
)

// SaveReward adds a reward to a dog, or changes the one with the id given.
func (p *Cases) SaveReward(ctx context.Context, dog string, t form.Typed) error {
	r, err := readReward(dog, t)
	if err != nil {
		return err
	}
	_, err = p.Once(ctx, t, func(q store.Q) (string, error) {
		if _, err := q.Dog(ctx, dog); err != nil {
			return "", app.Found(err)
		}
		if r.ID == "" {
			r.ID, r.Made = app.NewID(), p.Ms()
			return r.ID, q.AddReward(ctx, r)
		}
		was, err := q.Reward(ctx, r.ID)
		if err != nil {
			return "", app.Found(err)
		}
		ok, err := q.SetReward(ctx, r)
		if err == nil && !ok {
			now := form.Typed{
				"name": was.Name, "kind": was.Kind, "note": was.Note, "kcal": criteria.Figure(was.Kcal),
				"grams": criteria.Figure(was.Grams), "version": strconv.Itoa(was.Version),
			}
			return "", &form.Conflict{Now: now}
		}
		return r.ID, err
	})
	return err
}

// readReward reads a reward from its form.
func readReward(dog string, t form.Typed) (store.Reward, error) {
	ps := form.Problems{}
	r := store.Reward{
		ID: t.Text("id"), Dog: dog, Name: ps.Name("name", t["name"], "the reward"), Kind: t.Text("kind"),
		Note:  ps.Text("note", t["note"], criteria.MaxText),
		Grams: ps.Number(t, "grams", 0, maxGrams, "Grams from 0 to 1000, in figures."),
		Kcal:  ps.Number(t, "kcal", 0, maxKcal, "kcal from 0 to 2000, in figures."),
		Tier:  ps.Whole(t, "tier", 0, reinforce.MaxTier, "Choose one of the list."),
	}
	if reinforce.LabelOf(reinforce.RewardKinds, r.Kind) == "" {
		ps.Add("kind", "Choose what it is.")
	}
	kind := reinforce.RewardKind(r.Kind)
	if kind == reinforce.Food && r.Kcal > maxHold {
		ps.Add("kcal", fmt.Sprintf("%s kcal for one piece: is that the packet? A piece is about a lentil.", criteria.Figure(r.Kcal)))
	}
	if (kind == reinforce.Food || kind == reinforce.Lasting) && t.Text("kcal") != "" && r.Kcal == 0 && ps["kcal"] == "" {
		ps.Add("kcal", "No food has 0 kcal. Leave it empty where it is not known.")
	}
	contains := form.Listed(t["contains"])
	for _, one := range contains {
		ps.Text("contains", one, criteria.MaxName)
	}
	if len(contains) > library20 {
		ps.Add("contains", fmt.Sprintf("At most %d.", library20))
	}
	var notAt []string
	for field := range t {
		if place, is := strings.CutPrefix(field, "not_"); is && t[field] != "" {
			notAt = append(notAt, place)
		}
	}
	slices.Sort(notAt)
	r.Contains, r.NotAt = store.JSON(append([]string{}, contains...)), store.JSON(append([]string{}, notAt...))
	r.Version, _ = strconv.Atoi(t.Text("version"))
	if err := ps.Err(); err != nil {
		return r, err
	}
	return r, nil
}

// library20 is how many ingredients of a food are kept.
const library20 = 20

// DeleteReward puts a reward away, or brings it back. What was paid with it stays in the record.
func (p *Cases) DeleteReward(ctx context.Context, id string, away bool) error {
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteReward(ctx, id, at) })
}

// SetRewardToday says what rewards are worth today: one with typed["reward"] and typed["tier"] ("" as usual, "0"
// not today), or all of a dog with typed["op"]: "not_hungry" lowers every food by a tier, "usual" takes
// everything back.
func (p *Cases) SetRewardToday(ctx context.Context, dog string, t form.Typed) error {
	s, err := p.Profile(ctx, p.Store.Read())
	if err != nil {
		return err
	}
	today := s.Day(p.Ms())
	ps := form.Problems{}
	tier := ps.Whole(t, "tier", 0, reinforce.MaxTier, "Choose one of the list.")
	if err := ps.Err(); err != nil {
		return err
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		rows, err := q.Rewards(ctx, []string{dog}, today)
		if err != nil {
			return err
		}
		for _, row := range rows {
			var now *int
			switch op := t.Text("op"); {
			case op == "usual":
			case op == "not_hungry":
				if lower := max(1, app.UsualTier(row)-1); reinforce.RewardKind(row.Kind) == reinforce.Food && app.UsualTier(row) > 0 {
					now = &lower
				}
			case row.ID != t.Text("reward"):
				continue
			case t.Text("tier") != "":
				now = &tier
			}
			if err := q.SetRewardDay(ctx, row.ID, today, now); err != nil {
				return err
			}
		}
		return nil
	})
}
