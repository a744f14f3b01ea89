package main

import (
	"database/sql"
	"fmt"
	"log"
	"math/rand/v2"
	"path/filepath"
	"time"

	"patientfox/core/decision"
	"patientfox/core/outlook"
	"patientfox/internal/app/form"
	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

// forecasts: how many simulated trials a second beside bare random draws, and that a forecast grows
// linearly with its runs.
func forecasts() {
	var record []outlook.Trial
	rng := rand.New(rand.NewPCG(1, 1))
	for i := range 90 {
		t := outlook.Trial{Opens: i%15 == 0, Days: 3, Mark: decision.MarkMissed}
		if rng.IntN(10) < 8 {
			t.Mark, t.Paid = decision.MarkMet, true
		}
		record = append(record, t)
	}
	c := outlook.JudgedCourse(decision.Defaults(decision.Set))
	fit := outlook.FitTo(record, outlook.Heights(len(c.Rules)), outlook.Usual(), 1)
	const draws = 2_000_000
	sum, trials := 0.0, 0.0
	looks := func(runs int) func() {
		return func() {
			f, err := fit.Look(ctx, c, runs, 1, nil)
			must(err)
			trials = f.MeanTrials * float64(runs)
		}
	}
	bare, look := inTurn(9, func() {
		for range draws {
			sum += rng.Float64()
		}
	}, looks(400))
	perDraw, perTrial := float64(bare)/draws, float64(look)/trials
	least("forecast: simulated trials a second ÷ bare random draws a second", perDraw/perTrial, 0.05,
		fmt.Sprintf("%.1f ns a draw, %.1f ns a trial", perDraw, perTrial))
	one, four := inTurn(9, looks(200), looks(800))
	beside, sixteen := inTurn(5, looks(200), looks(3200))
	most("forecast: 4 × the runs ÷ 1 ×", float64(four)/float64(one), 5,
		fmt.Sprintf("%v ÷ %v", four.Round(time.Microsecond), one.Round(time.Microsecond)))
	most("forecast: 16 × the runs ÷ 1 ×", float64(sixteen)/float64(beside), 20,
		fmt.Sprintf("%v ÷ %v", sixteen.Round(time.Microsecond), beside.Round(time.Microsecond)))
}

// accounts: the evidence of a plan with 20 000 trials beside the bare read of its rows, and that it grows linearly.
func accounts(folder string) {
	now := time.Now()
	cost := func(trials int) (page, bare func(), rows int) {
		path := filepath.Join(folder, fmt.Sprintf("evidence%d.db", trials))
		st, err := store.Open(ctx, path)
		must(err)
		p, err := practice.Open(ctx, st, quiet(), func() time.Time { return now }, "UTC")
		must(err)
		must(demo.Large(ctx, p, demo.Size{Dogs: 1, Plans: 1, Sessions: trials / 50, Trials: trials}, now, nil))
		plans, err := st.Read().Plans(ctx, nil, 1)
		must(err)
		settings, err := p.Settings(ctx)
		must(err)
		db, err := sql.Open("sqlite", store.DSN(path))
		must(err)
		n := 0
		page = func() {
			n++
			must(p.SavePlace(ctx, form.Typed{"id": settings.Places[0].ID, "name": fmt.Sprint("berth ", n)}))
			v, err := p.Evidence(ctx, plans[0].ID, "")
			must(err)
			if len(v.Sections) == 0 {
				log.Fatal("no evidence")
			}
		}
		bare = func() {
			rows = 0
			list, err := db.Query(`SELECT t.*, s.place, s.day FROM trials t JOIN sessions s ON s.id = t.session WHERE t.plan = ?
				AND s.deleted IS NULL ORDER BY s.opened, s.id, t.ord`,
				plans[0].ID)
			must(err)
			columns, err := list.Columns()
			must(err)
			cells, to := make([]any, len(columns)), make([]any, len(columns))
			for i := range cells {
				to[i] = &cells[i]
			}
			for list.Next() {
				must(list.Scan(to...))
				rows++
			}
			must(list.Err())
			must(list.Close())
		}
		page()
		bare()
		return page, bare, rows
	}
	whole, bare, rows := cost(20_000)
	page, read := inTurn(9, whole, bare)
	most(fmt.Sprintf("evidence of %d trials ÷ the bare read of their rows", rows), float64(page)/float64(read), 1.8,
		fmt.Sprintf("%v ÷ %v", page.Round(time.Microsecond), read.Round(time.Microsecond)))
	small, _, _ := cost(1_250)
	middle, _, _ := cost(5_000)
	one, four := inTurn(15, small, middle)
	beside, sixteen := inTurn(9, small, whole)
	most("evidence: 4 × the trials ÷ 1 ×", float64(four)/float64(one), 5,
		fmt.Sprintf("%v ÷ %v", four.Round(time.Microsecond), one.Round(time.Microsecond)))
	most("evidence: 16 × the trials ÷ 1 ×", float64(sixteen)/float64(beside), 20,
		fmt.Sprintf("%v ÷ %v", sixteen.Round(time.Microsecond), beside.Round(time.Microsecond)))
}
