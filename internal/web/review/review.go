// Package review is the page of one session that was run.
package review

import (
	"embed"
	"errors"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/lookback"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// outcomes are those that a trial can be corrected to.
var outcomes = []evidence.Outcome{evidence.Met, evidence.Late, evidence.Helped, evidence.Missed, evidence.Void}

type page struct {
	practice.ReviewView
	Wide, Narrow figures.Strip
	Outcomes     []evidence.Outcome
	Sources      []string
	Afters       []string
	TagEdit      shell.Form
	All          bool // every trial is shown
}

// trialsShown is how many trials stand on the page before somebody asks for all.
const trialsShown = 25

// Shown are the trials on the page.
func (pg page) Shown() []lookback.TrialLine {
	if pg.All {
		return pg.Table
	}
	return pg.Table[:min(len(pg.Table), trialsShown)]
}

// Folded is how many there are, where not all are shown.
func (pg page) Folded() int {
	if pg.All || len(pg.Table) <= trialsShown {
		return 0
	}
	return len(pg.Table)
}

// Mount puts the page under /sessions/:id.
func Mount(app fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "review.html")
	show := func(c fiber.Ctx, status int, tags *shell.Form) error {
		v, err := p.Review(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		pg := page{
			ReviewView: v, Wide: figures.DrawStrip(1100, strip(v)), Narrow: figures.DrawStrip(358, strip(v)), Outcomes: outcomes,
			Sources: criteria.Sources, Afters: criteria.DoneAfter, TagEdit: shell.Form{Typed: practice.Typed{"tags": v.Tags}},
		}
		pg.All = c.Query("all") != ""
		if tags != nil {
			pg.TagEdit = *tags
		}
		return sh.Render(c, tpl, status, shell.View{Title: v.Skill + ", " + v.Day, Nav: "dogs", V: pg})
	}
	app.Get("/sessions/:id", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, nil) })
	app.Get("/sessions/:id/trials.csv", func(c fiber.Ctx) error {
		v, err := p.Review(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return shell.CSV(c, v.File)
	})
	app.Post("/sessions/:id/tags", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.Tag(c.Context(), c.Params("id"), typed)
		if form, status, ok := shell.Problems(typed, err); ok {
			return show(c, status, &form)
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"#tags")
	})
	app.Post("/sessions/:id/correct", func(c fiber.Ctx) error {
		var invalid *practice.Invalid
		err := p.Correct(c.Context(), c.Params("id"), shell.Typed(c))
		if errors.As(err, &invalid) {
			for _, text := range invalid.Problems {
				return fiber.NewError(fiber.StatusUnprocessableEntity, text)
			}
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"#trials")
	})
	app.Post("/sessions/:id/away", func(c fiber.Ctx) error {
		if err := p.DeleteSession(c.Context(), c.Params("id"), c.FormValue("back") == ""); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id"))
	})
}

func strip(v practice.ReviewView) figures.StripInput {
	in := figures.StripInput{Length: v.Length, Pays: v.Pays, BandLo: v.Band.Lo, BandHi: v.Band.Hi}
	for _, s := range v.Segments {
		in.Segments = append(in.Segments, figures.StripSegment{From: s.From, To: s.To, Label: s.Label, Rest: s.Break})
	}
	for _, t := range v.Trials {
		in.Trials = append(in.Trials, figures.StripTrial{At: t.At, Outcome: t.Outcome, Paid: t.Paid})
	}
	for _, r := range v.Rate {
		in.Rate = append(in.Rate, figures.RatePoint{At: r.At, Rate: r.Rate})
	}
	for _, g := range v.Gaps {
		in.Gaps = append(in.Gaps, figures.StripGap{From: g.From, To: g.To, Active: g.Active})
	}
	return in
}
