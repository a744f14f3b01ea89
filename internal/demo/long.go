package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
)

// Long lays out a plan of 60 steps for a dog and works 300 sets of it, for pages and benchmarks that must
// stand a long history. The sessions are a day apart, from a day on.
func Long(ctx context.Context, p *practice.Practice, dog string, from time.Time) (plan string, err error) {
	plan, err = p.AddPlan(ctx, dog, form.Typed{
		"skill": "Wait while the ferry loads", "kind": "held", "position": "behind the line on the quay",
		"leg1_make": "ramp", "leg1_what": "duration", "leg1_from": "1", "leg1_to": "60", "leg1_by": "1",
	})
	if err != nil {
		return "", err
	}
	rng := rand.New(rand.NewPCG(60, 300))
	for day := range 15 {
		pack, err := p.Pack(ctx, plan)
		if err != nil {
			return "", err
		}
		run, err := session.Open(pack)
		if err != nil {
			return "", err
		}
		h := &session.Hand{
			Run: run, Session: record.UUID(rng), Dev: "long", By: pack.Person, Handler: pack.Person,
			Wall: from.AddDate(0, 0, day).UnixMilli(), NewID: func() string { return record.UUID(rng) },
		}
		drafts, problem := run.Begin(session.Choice{Step: pack.Position.Reached})
		if problem != nil {
			return "", fmt.Errorf("%s: %s", problem.Field, problem.Code)
		}
		h.Do(0, drafts)
		at := int64(2000)
		for trials := 0; trials < 100; {
			if v := screen.Of(run).View(at); v.Phase == session.Deciding {
				h.Press(work.Main, at)
			} else {
				outcome := map[bool]work.Key{true: work.MetKey, false: work.LateKey}[rng.IntN(12) > 0]
				h.Press(outcome, at)
				trials++
			}
			at += 9000
		}
		drafts, _ = run.Close(session.Closing{Reason: "done", Take: true, End: true})
		h.Do(at, drafts)
		for from := 0; from < len(h.Events); from += derive.MaxBatch {
			receipts, err := receive(ctx, p, h.Events[from:min(len(h.Events), from+derive.MaxBatch)])
			if err != nil {
				return "", err
			}
			for _, r := range receipts {
				if r.Result == derive.Refused {
					return "", fmt.Errorf("refused: %s", r.Why)
				}
			}
		}
	}
	return plan, nil
}
