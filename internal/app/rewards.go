package app

import (
	"context"
	"encoding/json"
	"patientfox/core/caution"
	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// larder is what the dogs asked for work for.
type larder map[string][]reinforce.Reward

// loadLarder lists what several dogs work for on a day: one statement.
func LoadLarder(ctx context.Context, q store.Q, dogs []store.Dog, day string) (larder, error) {
	ids := make([]string, len(dogs))
	feedings := map[string]reinforce.Feeding{}
	for i, d := range dogs {
		ids[i] = d.ID
		f, err := FeedingOf(d)
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
		r, err := RewardOf(row, feedings[row.Dog])
		if err != nil {
			return nil, err
		}
		all[row.Dog] = append(all[row.Dog], r)
	}
	return all, nil
}

func RewardOf(row store.Reward, f reinforce.Feeding) (reinforce.Reward, error) {
	r := reinforce.Reward{ID: row.ID, Name: row.Name, Kind: reinforce.RewardKind(row.Kind), Grams: row.Grams, Kcal: row.Kcal, Tier: UsualTier(row)}
	if row.Today != nil {
		r.Tier, r.Off = *row.Today, *row.Today == 0
	}
	var contains []string
	if err := JSONInto(row.Contains, &contains); err != nil {
		return r, err
	}
	if r.Eaten() {
		if r.Excluded = f.Excludes(row.Name, contains); caution.Toxic(row.Name, contains) != "" {
			r.Excluded = "harms dogs"
		}
	}
	err := JSONInto(row.NotAt, &r.NotAt)
	return r, err
}

// usualTier is the one set by hand, else the test's.
func UsualTier(row store.Reward) int {
	if row.Tier > 0 {
		return row.Tier
	}
	return row.Tested
}

// feedingOf decodes how a dog is fed.
func FeedingOf(d store.Dog) (f reinforce.Feeding, err error) {
	if d.Feeding == "" {
		return f, nil
	}
	err = json.Unmarshal([]byte(d.Feeding), &f)
	return f, err
}
