package main

import (
	"fmt"
	"io"
	"log"
	"log/slog"
	"path/filepath"
	"time"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

// cares: the page of care takes no longer after five years of weekly visits than after one.
func cares(folder string) {
	one, five := caredFor(folder, 52), caredFor(folder, 5*52)
	a, b := inTurn(21, five, one)
	most("the map of care after 5 years of visits ÷ after 1", float64(a)/float64(b), 2,
		fmt.Sprintf("%v ÷ %v, a look after a change, 40 touches a visit", a.Round(time.Microsecond), b.Round(time.Microsecond)))
}

// caredFor makes a practice with a dog that had so many visits, a week apart, and returns what changes a mark and looks at the map.
func caredFor(folder string, visits int) (look func()) {
	st, err := store.Open(ctx, filepath.Join(folder, fmt.Sprintf("care-%d.db", visits)))
	must(err)
	now := time.Date(2026, 11, 23, 7, 0, 0, 0, time.UTC)
	p, err := practice.Open(ctx, st, slog.New(slog.NewTextHandler(io.Discard, nil)), func() time.Time { return now }, "UTC")
	must(err)
	dog, err := p.AddDog(ctx, form.Typed{"name": "Tansy"})
	must(err)
	plan, err := p.AddPlan(ctx, dog, form.Typed{
		"skill": "Paws", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "3",
		"leg1_items": "shoulder\nforeleg\npaw\nhip\nthigh", "leg1_tools": "fingers\na cloth",
	})
	must(err)
	pack, err := p.Pack(ctx, plan)
	must(err)
	for visit := range visits {
		run, err := session.Open(pack)
		must(err)
		h := &session.Hand{
			Run: run, Session: record.UUID(rng), Dev: "bench", By: pack.Person, Handler: pack.Person,
			Wall: now.AddDate(0, 0, 7*(visit-visits)).UnixMilli(), NewID: func() string { return record.UUID(rng) },
		}
		drafts, problem := run.Begin(session.Choice{})
		if problem != nil {
			log.Fatal(problem.Code)
		}
		h.Do(0, drafts)
		h.Press(work.RoundKey, 500)
		for i := range 40 {
			h.Press([]work.Key{work.MetKey, work.Main, work.LateKey}[(i+visit)%3], int64(2000+6000*i))
		}
		drafts, _ = run.Close(session.Closing{Reason: "done", End: true})
		h.Do(250_000, drafts)
		for from := 0; from < len(h.Events); from += derive.MaxBatch {
			_, err := p.Receive(ctx, h.Events[from:min(len(h.Events), from+derive.MaxBatch)])
			must(err)
		}
	}
	must(p.CatchUp(ctx))
	marked := false
	return func() {
		mark := form.Typed{"marked": "hip"}
		if marked = !marked; marked {
			mark["mark"] = "sore"
		}
		must(p.MarkSite(ctx, dog, mark))
		v, err := p.Care(ctx, dog, "")
		must(err)
		if len(v.Maps) != 1 {
			log.Fatal("no map")
		}
	}
}
