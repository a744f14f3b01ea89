package experiments

import (
	"cmp"
	"context"
	"fmt"
	"math/rand/v2"
	"strconv"

	"patientfox/core/evidence"
	"patientfox/core/experiment"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// View is the page of a plan's experiments.
type View struct {
	ID, DogID, Dog, Skill string
	Typed                 form.Typed // of a new one
	Running               *Row
	Next                  string   // what its next session is given
	Powers                []string // what a new one could show
	Basis                 string   // by what
	Past                  []Row
}

// Row is one experiment.
type Row struct {
	ID, Day  string
	Ways     experiment.Ways
	Done, Of int
	Stopped  bool
	Lines    []string // what it came to
}

const shown = 20

// Experiments shows a plan's experiments: the one under way without what it came to so far, and those that were read.
func (p *Cases) Experiments(ctx context.Context, plan string) (v View, err error) {
	var a app.Account
	var rows []store.Experiment
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		if a, err = p.Account(ctx, q, plan); err != nil {
			return err
		}
		if err := p.Ready(ctx, q, a.Dog, plan); err != nil {
			return err
		}
		rows, err = q.Experiments(ctx, plan, shown)
		return err
	})
	if err != nil {
		return v, err
	}
	v = View{ID: a.ID, DogID: a.Dog, Dog: a.DogName, Skill: a.Name(), Typed: form.Typed{
		"pairs": strconv.Itoa(experiment.UsualPairs), "each": strconv.Itoa(experiment.UsualEach),
	}}
	for _, row := range rows {
		one, running := read(&a, row)
		if row.Ended == nil && running.Next() != nil {
			v.Running, v.Next = &one, phrase.Assigned(*running.Next(), running.Pairs)
		} else {
			v.Past = append(v.Past, one)
		}
	}
	if v.Running == nil {
		v.Powers, v.Basis = powers(&a)
	}
	return v, nil
}

// read is an experiment with what came of it: nothing of that before its last session.
func read(a *app.Account, row store.Experiment) (Row, *experiment.Running) {
	running, given := app.RunningOf(&row, a.Blocks)
	one := Row{
		ID: row.ID, Day: app.ShortDay(a.Profile.Day(row.Made), a.Today), Ways: running.Ways, Done: running.Done, Of: row.Pairs,
		Stopped: row.Ended != nil,
	}
	if running.Next() != nil {
		return one, running
	}
	pairs := make([]experiment.Pair, row.Pairs)
	seen := map[int]bool{}
	for _, block := range a.Blocks {
		g, is := given[block.ID]
		if !is || seen[g.Pair] {
			continue // a second device was given the same pair: the earlier session is read
		}
		seen[g.Pair] = true
		pairs[g.Pair] = g.Of(met(a, block.ID))
	}
	one.Lines = phrase.Experimented(running.Ways, experiment.Read(pairs, row.Each), a.Work().Success())
	return one, running
}

// met tells of the trials of a block that an experiment counts whether they were met.
func met(a *app.Account, block string) (list []bool) {
	for _, t := range session.Tried(a.Evidence, block) {
		list = append(list, t.Outcome == trial.Met)
	}
	return list
}

// powers say what experiments of a few lengths could show of this dog, and by what.
func powers(a *app.Account) (lines []string, basis string) {
	rate, n := 0.75, app.TallyOf(a.Here)
	basis = "Of a dog that meets three in four."
	if n.N() >= evidence.Few {
		rate = n.Strict()
		basis = fmt.Sprintf("By this step's %d of %d, and by how much sessions of this plan vary within themselves.", n.Met, n.N())
	}
	half := experiment.Assigned{Each: experiment.UsualEach}
	var pairs []experiment.Pair
	for _, b := range a.Blocks {
		if p := half.Of(met(a, b.ID)); !p.Lost(half.Each) && b.Mode == string(record.Train) {
			pairs = append(pairs, p)
		}
	}
	spread := experiment.Spread(pairs)
	for _, n := range []int{experiment.MinPairs, experiment.UsualPairs, experiment.MaxPairs} {
		d := experiment.Design{Pairs: n, Each: experiment.UsualEach}
		power := func(odds float64) float64 { return d.Power(rate, spread, odds, app.SeedOf(a.ID)) }
		lines = append(lines, phrase.Power(d, power(2), power(3), power(5)))
	}
	return lines, basis
}

// StartExperiment draws the order of a new experiment and begins it; a plan has one at a time.
func (p *Cases) StartExperiment(ctx context.Context, plan string, t form.Typed) error {
	ps := form.Problems{}
	e := store.Experiment{
		ID: app.NewID(), Plan: plan, WayA: ps.Name("way_a", t["way_a"], "the one way"), WayB: ps.Name("way_b", t["way_b"], "the other way"),
		Seed: rand.Int64(), Made: p.Ms(), //nolint:gosec // an order of sets
	}
	if e.WayA != "" && e.WayA == e.WayB {
		ps.Add("way_b", "Two ways that differ.")
	}
	whole := func(field string, lo, hi int) int {
		says := fmt.Sprintf("A whole number from %d to %d.", lo, hi)
		if t.Text(field) == "" {
			ps.Add(field, says)
		}
		return ps.Whole(t, field, lo, hi, says)
	}
	e.Pairs = whole("pairs", experiment.MinPairs, experiment.MaxPairs)
	e.Each = whole("each", experiment.MinEach, experiment.MaxEach)
	if err := ps.Err(); err != nil {
		return err
	}
	_, err := p.Once(ctx, t, func(q store.Q) (string, error) {
		row, err := q.Plan(ctx, plan)
		if err != nil || row.Deleted != nil {
			return "", cmp.Or(app.Found(err), app.ErrNotFound)
		}
		last, err := q.Experiments(ctx, plan, 1)
		if err != nil {
			return "", err
		}
		blocks, err := q.BlocksOfPlans(ctx, []string{plan})
		if err != nil {
			return "", err
		}
		if len(last) == 1 && last[0].Ended == nil {
			if running, _ := app.RunningOf(&last[0], blocks); running.Next() != nil {
				ps.Add("way_a", "One is under way with this plan. Stop it first, or wait for its end.")
				return "", ps.Err()
			}
		}
		return e.ID, q.AddExperiment(ctx, e)
	})
	return err
}

// StopExperiment stops one that is under way: it is never read.
func (p *Cases) StopExperiment(ctx context.Context, plan, id string) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		found, err := q.EndExperiment(ctx, id, plan, p.Ms())
		if err == nil && !found {
			return app.ErrNotFound
		}
		return err
	})
}
