package main

import (
	"fmt"
	"io"
	"log/slog"
	"path/filepath"
	"slices"
	"time"

	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

// weeks: planning a week grows with the dogs and no faster, and asks the database a fixed number of times.
func weeks(folder string) {
	few, many := weekOf(folder, 15), weekOf(folder, 60)
	few.plan()
	many.plan()
	var as, bs []time.Duration
	for range 21 { // in turn, so that a machine that slows down slows both
		as, bs = append(as, few.plan()), append(bs, many.plan())
	}
	slices.Sort(as)
	slices.Sort(bs)
	a, b := as[len(as)/2], bs[len(bs)/2]
	most("planning a week of 60 dogs ÷ of 15", float64(b)/float64(a), 5,
		fmt.Sprintf("%v for %d sessions ÷ %v for %d", b.Round(time.Microsecond), many.sessions, a.Round(time.Microsecond), few.sessions))
	most("planning a week of 60 dogs: SQL statements", float64(many.statements), 20, fmt.Sprintf("%d for 15 dogs", few.statements))
}

type weekPlan struct {
	p                    *practice.Practice
	next                 string
	sessions, statements int
}

func weekOf(folder string, dogs int) *weekPlan {
	st, err := store.Open(ctx, filepath.Join(folder, fmt.Sprintf("week-%d.db", dogs)))
	must(err)
	now := time.Date(2026, 11, 23, 7, 0, 0, 0, time.UTC)
	p, err := practice.Open(ctx, st, slog.New(slog.NewTextHandler(io.Discard, nil)), func() time.Time { return now }, "UTC")
	must(err)
	must(demo.Large(ctx, p, demo.Size{Dogs: dogs, Plans: 4 * dogs, Sessions: 12 * dogs, Trials: 120 * dogs}, now, nil))
	v, err := p.Dogs(ctx, "")
	must(err)
	for len(v.Dogs) > 0 {
		for _, d := range v.Dogs { // each household trains once a day
			shown, _, err := p.DogForm(ctx, d.ID)
			must(err)
			shown["home_times"] = "18:00"
			must(p.SaveDog(ctx, d.ID, shown))
		}
		if v.Next == "" {
			break
		}
		v, err = p.Dogs(ctx, v.Next)
		must(err)
	}
	return &weekPlan{p: p, next: "2026-11-30"}
}

// plan plans the week, takes it back, and says how long the planning took.
func (w *weekPlan) plan() time.Duration {
	var cost store.Cost
	started := time.Now()
	made, count, err := w.p.PlanWeek(store.Counting(ctx, &cost), w.next)
	took := time.Since(started)
	must(err)
	w.sessions, w.statements = count, int(cost.Statements.Load())
	_, err = w.p.UnplanWeek(ctx, w.next, made)
	must(err)
	return took
}
