// Command bench measures speed as ratios taken in one run, and prints them as a table. `make bench`
// copies it into docs/benchmarks.md.
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/work"
	"patientfox/e2e/machine"
	"patientfox/internal/app"
	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/randomlog"
	"patientfox/internal/store"
)

var ctx = context.Background()

func must(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

// median times do n times and returns the median.
func median(n int, do func()) time.Duration {
	times := make([]time.Duration, n)
	for i := range times {
		started := time.Now()
		do()
		times[i] = time.Since(started)
	}
	slices.Sort(times)
	return times[n/2]
}

// inTurn times two things one after the other, n times, and returns both medians.
func inTurn(n int, a, b func()) (time.Duration, time.Duration) {
	var as, bs []time.Duration
	for range n {
		as, bs = append(as, median(1, a)), append(bs, median(1, b))
	}
	slices.Sort(as)
	slices.Sort(bs)
	return as[n/2], bs[n/2]
}

type row struct {
	what, bound string
	value       float64
	ok          bool
	detail      string
}

var table []row

func most(what string, value, bound float64, detail string) {
	table = append(table, row{what, fmt.Sprintf("≤ %g", bound), value, value <= bound, detail})
}

func least(what string, value, bound float64, detail string) {
	table = append(table, row{what, fmt.Sprintf("≥ %g", bound), value, value >= bound, detail})
}

func main() {
	out := flag.String("out", "", "file to write the table into")
	only := flag.String("only", "", "measure these alone, with commas between, and print them")
	flag.Parse()
	folder, err := os.MkdirTemp("", "patientfox-bench")
	must(err)
	defer os.RemoveAll(folder)
	path := filepath.Join(folder, "demo.db")
	now := time.Now().UTC().Truncate(24 * time.Hour).Add(12 * time.Hour) // noon: what is to come today is the same in each run
	must(demo.Make(ctx, path, now, slog.New(slog.NewTextHandler(io.Discard, nil))))
	st, err := store.Open(ctx, path)
	must(err)
	defer st.Close()
	p, err := practice.Open(ctx, st, slog.New(slog.NewTextHandler(io.Discard, nil)), func() time.Time { return now }, "UTC")
	must(err)

	go p.KeepUp(ctx) // as a practice that is served
	for _, part := range []struct {
		name    string
		measure func()
	}{
		{"phone", func() { phone(p) }}, // first: what the others leave in memory slows the browser down
		{"taps", func() { taps(p) }},
		{"posts", func() { posts(p, folder) }},
		{"pages", func() { pages(p) }},
		{"folds", folds},
		{"ladders", ladders},
		{"forecasts", forecasts}, {"fits", fits},
		{"accounts", func() { accounts(folder) }}, {"cares", func() { cares(folder) }},
		{"weeks", func() { weeks(folder) }}, {"crowd", func() { crowd(p) }}, // last: it leaves two hundred sessions
	} {
		if *only == "" || slices.Contains(strings.Split(*only, ","), part.name) {
			part.measure()
		}
	}
	if *only != "" {
		for _, r := range table {
			fmt.Printf("%s: %.2f (%s)\n", r.what, r.value, r.detail)
		}
		return
	}
	text := fmt.Sprintf("# Benchmarks\n\nRatios taken in one run of `make bench`: %s. They compare things on the same "+
		"machine at the same time; the times beside them are that machine's and say little elsewhere.\n\n| what | bound | "+
		"measured | | from |\n| --- | --- | --- | --- | --- |\n",
		machine.Line())
	failed := false
	for _, r := range table {
		mark := "kept"
		if !r.ok {
			mark, failed = "**missed**", true
		}
		text += fmt.Sprintf("| %s | %s | %.2f | %s | %s |\n", r.what, r.bound, r.value, mark, r.detail)
	}
	fmt.Print(text)
	if *out != "" {
		must(os.WriteFile(*out, []byte(text), 0o644))
	}
	if failed {
		os.Exit(1)
	}
}

// folds: folding a session grows linearly.
func folds() {
	pack, events := heldLog(2000, 1000)
	run := randomlog.Open(pack)
	events = events[:1000]
	hundred, thousand := inTurn(200, func() { record.NewLog(events[:100]...).Fold(run) }, func() { record.NewLog(events...).Fold(run) })
	most("folding 1 000 events ÷ folding 100", float64(thousand)/float64(hundred), 12,
		fmt.Sprintf("%v ÷ %v", thousand.Round(time.Microsecond), hundred.Round(time.Microsecond)))
}

// heldLog is a log of holds in sets, of at least n events.
func heldLog(presses, least int) (pack.Pack, []record.Event) {
	for seed := uint64(3); ; seed++ {
		pack, events := randomlog.Make(seed, presses)
		if work.Of(pack.Kind).Holds && pack.Rule.Kind == decision.Set && len(events) >= least {
			return pack, events
		}
	}
}

// ladders: laying a ladder out and looking it over grows linearly.
func ladders() {
	seconds, _ := criteria.Find(criteria.Duration)
	ids := make([]string, 1000)
	for i := range ids {
		ids[i] = app.NewID()
	}
	lay := func(n int) func() {
		ramp := progression.Generator{Make: progression.MakeRamp, What: seconds, From: 1, To: float64(n), By: 1}
		layout := progression.Layout{Generators: []progression.Generator{ramp}}
		return func() {
			made, problems := layout.Steps(progression.MaxLadder)
			if len(problems) > 0 || len(made) != n {
				log.Fatal("the ladder has ", len(made), " steps: ", problems)
			}
			steps := make([]progression.Step, n)
			for i, c := range made {
				steps[i] = progression.Step{ID: ids[i], Rev: 1, Criteria: c}
			}
			progression.Lints(steps, progression.Case{})
		}
	}
	// Ten of the short ones at a time, so that both pay for as much memory.
	short := lay(100)
	ten, thousand := inTurn(200, func() {
		for range 10 {
			short()
		}
	}, lay(1000))
	hundred := ten / 10
	most("laying out and looking over 1 000 steps ÷ 100", float64(thousand)/float64(hundred), 12,
		fmt.Sprintf("%v ÷ %v", thousand.Round(time.Microsecond), hundred.Round(time.Microsecond)))
}

func encode(v any) []byte {
	raw, err := json.Marshal(v)
	must(err)
	return raw
}
