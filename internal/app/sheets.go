package app

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Planned is one session as it is planned, decoded.
type Planned struct {
	store.Sheet
	Body    schedule.Sheet
	Bans    []reinforce.Ban
	Session string
}

// LoadSheets loads the sessions that are planned for dogs, of all for nil, from one day to another.
func LoadSheets(ctx context.Context, q store.Q, dogs []string, from, to string) ([]Planned, error) {
	rows, err := q.Sheets(ctx, dogs, from, to)
	if err != nil {
		return nil, err
	}
	list := make([]Planned, len(rows))
	for i, row := range rows {
		if list[i], err = PlannedOf(row); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// PlannedOf reads one planned session.
func PlannedOf(row store.Sheet) (p Planned, err error) {
	p.Sheet, p.Session = row, row.Session
	if err = store.FromJSON(row.Body, &p.Body); err != nil {
		return p, err
	}
	err = store.FromJSON(row.Bans, &p.Bans)
	return p, err
}

// PackRow is one food to count out.
type PackRow struct {
	Tier, Name string
	Pieces     int
	Grams      string
	Missing    bool // no food is ranked that well
	kcal       float64
	rank       int
	grams      float64
}

// Pack is the food of a sheet counted out: what each block takes at its tier, the warm-up with something good,
// the finish and the reserve with the best of the session.
func (f DaysFood) Pack(p Planned) []PackRow {
	pieces := map[int]int{}
	best := 0
	for _, b := range p.Body.Blocks {
		pieces[b.Tier] += b.Pieces
		best = max(best, b.Tier)
	}
	if len(p.Body.Blocks) == 0 {
		return nil
	}
	rest := p.Body.Pieces()
	for _, b := range p.Body.Blocks {
		rest -= b.Pieces
	}
	if p.Body.WarmS > 0 {
		pieces[usualTierPaid] += schedule.WarmPieces
		rest -= schedule.WarmPieces
	}
	pieces[best] += rest
	var rows []PackRow
	for tier, n := range pieces {
		row := PackRow{Pieces: n, rank: tier}
		if hand := reinforce.InHand(f.Rewards[p.Dog], tier, p.Place, p.Bans); len(hand) > 0 {
			r := hand[0]
			portion := reinforce.PortionOf(n, r.Grams, r.Kcal)
			row.Name, row.kcal, row.grams = r.Name, portion.Kcal, portion.Grams
			row.Missing = tier > 0 && r.Tier > 0 && r.Tier < tier
			row.rank = max(tier, r.Tier)
		}
		if row.Name == "" {
			row.Name = "no food that may be used there"
			if !slices.ContainsFunc(f.Rewards[p.Dog], func(r reinforce.Reward) bool { return r.Kind == reinforce.Food }) {
				row.Name = "treats: no food is known yet, name one under Rewards"
			}
		}
		rows = append(rows, row)
	}
	return Packed(rows)
}

// Packed puts rows of one food together, best first.
func Packed(rows []PackRow) []PackRow {
	var out []PackRow
	for _, r := range rows {
		at := slices.IndexFunc(out, func(o PackRow) bool { return o.Name == r.Name })
		if at < 0 {
			out = append(out, r)
			continue
		}
		out[at].Pieces, out[at].kcal, out[at].grams = out[at].Pieces+r.Pieces, out[at].kcal+r.kcal, out[at].grams+r.grams
		out[at].rank, out[at].Missing = max(out[at].rank, r.rank), out[at].Missing || r.Missing
	}
	slices.SortFunc(out, func(a, b PackRow) int { return cmp.Or(cmp.Compare(b.rank, a.rank), cmp.Compare(a.Name, b.Name)) })
	for i := range out {
		out[i].Tier = phrase.Tier(out[i].rank)
		if out[i].grams > 0 {
			out[i].Grams = criteria.Figure(math.Ceil(out[i].grams)) + " g"
		}
	}
	return out
}

// Planned is what a sheet's food holds.
func (f DaysFood) Planned(p Planned) (kcal float64, pieces int) {
	for _, row := range f.Pack(p) {
		kcal += row.kcal
		pieces += row.Pieces
	}
	return kcal, pieces
}

// Typed is a sheet as its form shows it.
func (l Planned) Typed() form.Typed {
	t := form.Typed{
		"day": l.Day, "start": form.ClockOf(l.Start), "minutes": strconv.Itoa(l.Sheet.Minutes), "place": l.Place, "handler": l.Handler,
		"warm": l.Body.Warm, "warm_min": criteria.Figure(math.Round(l.Body.WarmS/6) / 10), "finish": l.Body.Finish,
		"exits": l.Body.Exits, "falls": l.Body.Falls,
		"gear": l.Body.Gear, "helper": l.Body.Helper, "version": strconv.Itoa(l.Version),
	}
	if l.Household {
		t["household"] = "on"
	}
	for i, b := range l.Body.Blocks {
		t[fmt.Sprintf("sets%d", i)], t[fmt.Sprintf("set%d", i)] = strconv.Itoa(b.Sets), strconv.Itoa(b.Set)
		t[fmt.Sprintf("break%d", i)] = criteria.Figure(math.Round(b.BreakS/6) / 10)
		t[fmt.Sprintf("step%d", i)], t[fmt.Sprintf("note%d", i)] = b.Step, b.Note
		t[fmt.Sprintf("plan%d", i)] = b.Plan
		if b.Probe {
			t[fmt.Sprintf("probe%d", i)] = "on"
		}
	}
	return t
}
