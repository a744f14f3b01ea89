package practice

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/internal/store"
)

// larder is what the dogs asked for work for.
type larder map[string][]reinforce.Reward

// loadRewards lists what one dog works for on a day.
func loadRewards(ctx context.Context, q store.Q, dog, day string) ([]reinforce.Reward, error) {
	d, err := q.Dog(ctx, dog)
	if err != nil {
		return nil, found(err)
	}
	all, err := loadLarder(ctx, q, []store.Dog{d}, day)
	return all[dog], err
}

// loadLarder lists what several dogs work for on a day: one statement.
func loadLarder(ctx context.Context, q store.Q, dogs []store.Dog, day string) (larder, error) {
	ids := make([]string, len(dogs))
	feedings := map[string]reinforce.Feeding{}
	for i, d := range dogs {
		ids[i] = d.ID
		f, err := feedingOf(d)
		if err != nil {
			return nil, err
		}
		feedings[d.ID] = f
	}
	rows, err := q.Rewards(ctx, ids, day)
	if err != nil {
		return nil, err
	}
	all := larder{}
	for _, row := range rows {
		r, err := rewardOf(row, feedings[row.Dog])
		if err != nil {
			return nil, err
		}
		all[row.Dog] = append(all[row.Dog], r)
	}
	return all, nil
}

func rewardOf(row store.Reward, f reinforce.Feeding) (reinforce.Reward, error) {
	r := reinforce.Reward{ID: row.ID, Name: row.Name, Kind: reinforce.RewardKind(row.Kind), Grams: row.Grams, Kcal: row.Kcal, Tier: usualTier(row)}
	if row.Today != nil {
		r.Tier, r.Off = *row.Today, *row.Today == 0
	}
	var contains []string
	if err := jsonInto(row.Contains, &contains); err != nil {
		return r, err
	}
	if r.Eaten() {
		if r.Excluded = f.Excludes(row.Name, contains); caution.Toxic(row.Name, contains) != "" {
			r.Excluded = "harms dogs"
		}
	}
	err := jsonInto(row.NotAt, &r.NotAt)
	return r, err
}

// usualTier is the one set by hand, else the test's.
func usualTier(row store.Reward) int {
	if row.Tier > 0 {
		return row.Tier
	}
	return row.Tested
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
	Form                  Typed
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
	Places    []Named
	Tests     []TestRow
	Choosable []Named // what a preference test can be made of
	Caution   string
	Excludes  string // what it is allergic to and must not have, in a line
	Kinds     []reinforce.Named
	TierNames []reinforce.Named
}

// Rewards shows what a dog works for.
func (p *Practice) Rewards(ctx context.Context, dog string) (RewardsView, error) {
	return remember(ctx, p, "rewards "+dog, on[RewardsView](dog), func() (RewardsView, error) { return p.makeRewards(ctx, dog) })
}

func (p *Practice) makeRewards(ctx context.Context, dog string) (v RewardsView, err error) {
	q := p.store.Read()
	s, d, err := p.withDog(ctx, q, dog)
	if err != nil {
		return v, err
	}
	today := s.day(p.ms())
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
	feeding, err := feedingOf(d)
	if err != nil {
		return v, err
	}
	v = RewardsView{ID: d.ID, Name: d.Name, None: len(rows) == 0, Caution: caution.Treats, Kinds: reinforce.RewardKinds, TierNames: reinforce.Tiers}
	v.Excludes = say.Upper(say.List(append(slices.Clone(feeding.Allergies), feeding.Never...)))
	for _, one := range places {
		v.Places = append(v.Places, Named{one.ID, one.Name})
	}
	foods, usable := 0, 0
	for tier := reinforce.MostTier; tier >= 0; tier-- {
		group := RewardTier{Tier: tier, Label: say.Upper(phrase.Tier(tier))}
		if tier == 0 {
			group.Label = "Not ranked yet"
		}
		for _, row := range rows {
			if usualTier(row) != tier {
				continue
			}
			one, r, err := rewardRow(row, feeding, v.Places, today)
			if err != nil {
				return v, err
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
				v.Choosable = append(v.Choosable, Named{row.ID, row.Name})
			}
		}
		if len(group.Rewards) > 0 {
			v.Tiers = append(v.Tiers, group)
		}
	}
	if foods > 0 && usable == 0 {
		v.NoFood = fmt.Sprintf("Nothing of this may be fed to %s: every food meets an allergy or something it must not have. Add one that it may eat, or pay with toys and play.", d.Name)
	}
	for _, t := range tests {
		row := TestRow{ID: t.ID, Day: ShortDay(t.Day, today), Done: t.Done != nil}
		if row.Says = "not finished"; row.Done {
			row.Says = "its tiers were taken"
		}
		v.Tests = append(v.Tests, row)
	}
	return v, nil
}

func rewardRow(row store.Reward, feeding reinforce.Feeding, places []Named, today string) (RewardRow, reinforce.Reward, error) {
	r, err := rewardOf(row, feeding)
	if err != nil {
		return RewardRow{}, r, err
	}
	var contains []string
	if err := jsonInto(row.Contains, &contains); err != nil {
		return RewardRow{}, r, err
	}
	v := RewardRow{ID: row.ID, Name: row.Name, Tier: usualTier(row), Excluded: r.Excluded, Note: row.Note, Food: r.Eaten()}
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
		v.From = fmt.Sprintf("Set by hand; the test of %s said %d.", ShortDay(row.TestedOn, today), row.Tested)
	case row.Tier > 0:
		v.From = "Set by hand."
	case row.Tested > 0 && row.TestedLo < row.TestedHi:
		v.From = fmt.Sprintf("By the test of %s, likely %d to %d.", ShortDay(row.TestedOn, today), row.TestedLo, row.TestedHi)
	case row.Tested > 0:
		v.From = fmt.Sprintf("By the test of %s.", ShortDay(row.TestedOn, today))
	}
	if row.Today != nil {
		v.Today = strconv.Itoa(*row.Today)
		if v.TodaySays = "Today: " + phrase.Tier(*row.Today) + "."; *row.Today == 0 {
			v.TodaySays = "Not today."
		}
	}
	v.Form = Typed{
		"id": row.ID, "name": row.Name, "kind": row.Kind, "contains": strings.Join(contains, ", "), "note": row.Note, "version": strconv.Itoa(row.Version),
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
	mostGrams = 1000
	mostKcal  = 2000
	mostHold  = 30 // kcal of a piece
)

// SaveReward adds a reward to a dog, or changes the one with the id given.
func (p *Practice) SaveReward(ctx context.Context, dog string, t Typed) error {
	ps := problems{}
	r := store.Reward{
		ID: t.Text("id"), Dog: dog, Name: ps.name("name", t["name"], "the reward"), Kind: t.Text("kind"), Note: ps.text("note", t["note"], criteria.MaxText),
		Grams: ps.number(t, "grams", 0, mostGrams, "Grams from 0 to 1000, in figures."), Kcal: ps.number(t, "kcal", 0, mostKcal, "kcal from 0 to 2000, in figures."),
		Tier: ps.whole(t, "tier", 0, reinforce.MostTier, "Choose one of the list."),
	}
	if reinforce.LabelOf(reinforce.RewardKinds, r.Kind) == "" {
		ps.add("kind", "Choose what it is.")
	}
	kind := reinforce.RewardKind(r.Kind)
	if kind == reinforce.Food && r.Kcal > mostHold {
		ps.add("kcal", fmt.Sprintf("%s kcal for one piece: is that the packet? A piece is about a lentil.", criteria.Figure(r.Kcal)))
	}
	if (kind == reinforce.Food || kind == reinforce.Lasting) && t.Text("kcal") != "" && r.Kcal == 0 && ps["kcal"] == "" {
		ps.add("kcal", "No food has 0 kcal. Leave it empty where it is not known.")
	}
	contains := listed(t["contains"])
	for _, one := range contains {
		ps.text("contains", one, criteria.MaxName)
	}
	if len(contains) > library20 {
		ps.add("contains", fmt.Sprintf("At most %d.", library20))
	}
	var notAt []string
	for field := range t {
		if place, is := strings.CutPrefix(field, "not_"); is && t[field] != "" {
			notAt = append(notAt, place)
		}
	}
	slices.Sort(notAt)
	r.Contains, r.NotAt = encode(append([]string{}, contains...)), encode(append([]string{}, notAt...))
	r.Version, _ = strconv.Atoi(t.Text("version"))
	if err := ps.err(); err != nil {
		return err
	}
	_, err := p.once(ctx, t, func(q store.Q) (string, error) {
		if _, err := q.Dog(ctx, dog); err != nil {
			return "", found(err)
		}
		if r.ID == "" {
			r.ID, r.Made = NewID(), p.ms()
			return r.ID, q.AddReward(ctx, r)
		}
		was, err := q.Reward(ctx, r.ID)
		if err != nil {
			return "", found(err)
		}
		ok, err := q.SetReward(ctx, r)
		if err == nil && !ok {
			now := Typed{"name": was.Name, "kind": was.Kind, "note": was.Note, "kcal": criteria.Figure(was.Kcal), "grams": criteria.Figure(was.Grams), "version": strconv.Itoa(was.Version)}
			return "", &Conflict{now}
		}
		return r.ID, err
	})
	return err
}

// library20 is how many ingredients of a food are kept.
const library20 = 20

// DeleteReward puts a reward away, or brings it back. What was paid with it stays in the record.
func (p *Practice) DeleteReward(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteReward(ctx, id, at) })
}

// SetRewardToday says what rewards are worth today: one with typed["reward"] and typed["tier"] ("" as usual, "0"
// not today), or all of a dog with typed["op"]: "not_hungry" lowers every food by a tier, "usual" takes
// everything back.
func (p *Practice) SetRewardToday(ctx context.Context, dog string, t Typed) error {
	s, err := p.settings(ctx, p.store.Read())
	if err != nil {
		return err
	}
	today := s.day(p.ms())
	ps := problems{}
	tier := ps.whole(t, "tier", 0, reinforce.MostTier, "Choose one of the list.")
	if err := ps.err(); err != nil {
		return err
	}
	return p.store.Write(ctx, func(q store.Q) error {
		rows, err := q.Rewards(ctx, []string{dog}, today)
		if err != nil {
			return err
		}
		for _, row := range rows {
			var now *int
			switch op := t.Text("op"); {
			case op == "usual":
			case op == "not_hungry":
				if lower := max(1, usualTier(row)-1); reinforce.RewardKind(row.Kind) == reinforce.Food && usualTier(row) > 0 {
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

// feedingOf decodes how a dog is fed.
func feedingOf(d store.Dog) (f reinforce.Feeding, err error) {
	if d.Feeding == "" {
		return f, nil
	}
	err = json.Unmarshal([]byte(d.Feeding), &f)
	return f, err
}
