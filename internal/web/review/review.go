// Package review is the page of one session that was run.
package review

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/lookback"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/sessions"
	"patientfox/internal/derive"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	sessions.ReviewView
	Wide, Narrow figures.Strip
	TagEdit      shell.Form
	Put, Ending  shell.Form // where they could not be saved
	PutPay       shell.Form
	Reasons      []app.Named // why a session can have ended
	Trial        string      // that is corrected, by id
	Correct      shell.Form  // of a trial, where it could not be saved
	From         int         // the first trial that is shown, 0 on the first page
	All          bool        // a page of trials is shown, not only the first few
	Drawn        bool        // not too many trials for a picture
}

// Bounds of what is on the page; the session's log and its files have everything.
const (
	trialsShown = 25   // before somebody asks for all
	trialsPaged = 200  // then, a page
	trialsDrawn = 1000 // in the picture
	linesShown  = 50   // of verdicts, of notes
)

// correctField is a field of a correction, with what was typed and what is wrong with it.
type correctField struct {
	sessions.CorrectField
	Label2, Problem string
}

func fieldsOf(fields []sessions.CorrectField, f shell.Form, whose string) (list []correctField) {
	for _, one := range fields {
		shown := correctField{CorrectField: one, Label2: one.Label + whose}
		if typed, given := f.Typed[one.Name]; given {
			shown.Value = typed
		}
		shown.Problem = f.Problems[one.Name]
		list = append(list, shown)
	}
	return list
}

// Chosen is the trial that is corrected, nil where none is.
func (pg page) Chosen() *lookback.TrialLine {
	id := pg.Correct.Typed["trial"]
	if id == "" {
		id = pg.Trial
	}
	for i := range pg.Table {
		if id != "" && pg.Table[i].ID == id {
			return &pg.Table[i]
		}
	}
	return nil
}

// Correcting is the address at which a trial is corrected.
func (pg page) Correcting(row lookback.TrialLine) string {
	q := url.Values{"trial": {row.ID}}
	if pg.All {
		q.Set("all", "1")
		q.Set("from", strconv.Itoa(pg.From))
	}
	return "?" + q.Encode() + "#correct"
}

// Fields are what can be corrected of a trial.
func (pg page) Fields(row lookback.TrialLine) []correctField {
	f := pg.Correct
	if f.Typed["trial"] != row.ID {
		f = shell.Form{}
	}
	fields := pg.Corrections(row.ID)
	if row.Right && f.Typed == nil { // of a right one nothing is asked about an error
		fields = slices.DeleteFunc(slices.Clone(fields), sessions.CorrectField.OfErrors)
	}
	return fieldsOf(fields, f, fmt.Sprintf(" of trial %d", row.Number))
}

// PutFields are what a forgotten trial of a block can say.
func (pg page) PutFields(put sessions.PutForm) []correctField {
	f := pg.Put
	if f.Typed["in"] != put.Block {
		f = shell.Form{}
	}
	return fieldsOf(put.Fields, f, " of the trial to put in")
}

// Shown are the trials on the page.
func (pg page) Shown() []lookback.TrialLine {
	most := trialsShown
	if pg.All {
		most = trialsPaged
	}
	from := min(pg.From, len(pg.Table))
	return pg.Table[from:min(len(pg.Table), from+most)]
}

// Folded is how many there are, where not all are shown and nobody asked for them yet.
func (pg page) Folded() int {
	if pg.All || len(pg.Table) <= trialsShown {
		return 0
	}
	return len(pg.Table)
}

// pageOf is the first trial of the page that a trial is on.
func (pg page) pageOf(trial string) int {
	at := slices.IndexFunc(pg.Table, func(row lookback.TrialLine) bool { return row.ID == trial })
	return max(0, at) / trialsPaged * trialsPaged
}

// Next is the first trial of the next page, 0 on the last.
func (pg page) Next() int {
	if next := pg.From + trialsPaged; pg.All && next < len(pg.Table) {
		return next
	}
	return 0
}

// Said are the verdicts on the page, and Noted its notes: the last ones where there are many.
func (pg page) Said() []lookback.VerdictLine {
	return pg.Verdicts[max(0, len(pg.Verdicts)-linesShown):]
}

// Noted are the notes on the page.
func (pg page) Noted() []lookback.NoteLine { return pg.Notes[max(0, len(pg.Notes)-linesShown):] }

// Earlier says how many verdicts and notes are only in the session's log, 0 where all are here.
func (pg page) Earlier() int {
	return max(0, len(pg.Verdicts)-linesShown) + max(0, len(pg.Notes)-linesShown)
}

// Mount puts the page under /sessions/:id.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl, logPage := sh.Page(templates, "review.html"), sh.Page(templates, "log.html")
	show := func(c fiber.Ctx, status int, change func(*page)) error {
		v, err := p.Review(c.Context(), c.Params("id"))
		if errors.Is(err, derive.ErrAside) {
			return shell.See(c, "/sessions/"+c.Params("id")+"/log")
		}
		if err != nil {
			return err
		}
		pg := page{
			ReviewView: v, Trial: c.Query("trial"), Reasons: sessions.EndReasons,
			TagEdit: shell.Form{Typed: form.Typed{"tags": v.Tags}},
			All:     c.Query("all") != "", From: max(0, fiber.Query[int](c, "from")), Drawn: len(v.View.Trials) <= trialsDrawn,
		}
		if pg.Drawn {
			pg.Wide, pg.Narrow = figures.DrawStrip(1100, strip(v)), figures.DrawStrip(358, strip(v))
		}
		change(&pg)
		return sh.Render(c, tpl, status, shell.View{Title: v.Skill + ", " + v.Day, Nav: "dogs", V: pg})
	}
	routes.Get("/sessions/:id", func(c fiber.Ctx) error { return show(c, fiber.StatusOK, func(*page) {}) })
	routes.Get("/sessions/:id/trials.csv", func(c fiber.Ctx) error {
		v, err := p.Review(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return shell.CSV(c, v.File)
	})
	routes.Get("/sessions/:id/log", func(c fiber.Ctx) error {
		v, err := p.SessionLog(c.Context(), c.Params("id"), fiber.Query[int64](c, "after"))
		if err != nil {
			return err
		}
		return sh.Render(c, logPage, fiber.StatusOK, shell.View{Title: "Session log", Nav: "dogs", V: v})
	})
	routes.Post("/sessions/:id/restore", func(c fiber.Ctx) error {
		if _, err := p.Salvage(c.Context(), c.Params("id")); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"/log")
	})
	mountCorrections(routes, p, show)
	routes.Post("/sessions/:id/away", func(c fiber.Ctx) error {
		if err := p.DeleteSession(c.Context(), c.Params("id"), c.FormValue("back") == ""); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id"))
	})
}

func strip(v sessions.ReviewView) figures.StripInput {
	in := figures.StripInput{Length: v.Length, Pays: v.Pays, BandLo: v.Band.Lo, BandHi: v.Band.Hi}
	for _, s := range v.Segments {
		segment := figures.StripSegment{From: s.From, To: s.To, Label: s.Label, Rest: s.Break}
		if len(v.Skills) > 1 && !s.Break {
			segment.Of = v.SkillOf(s.Plan)
		}
		in.Segments = append(in.Segments, segment)
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

// mountCorrections takes what is corrected of a session's record.
func mountCorrections(routes fiber.Router, p *practice.Practice, show func(c fiber.Ctx, status int, change func(*page)) error) {
	// takes saves a form, or shows what is wrong with it.
	takes := func(path string, save func(context.Context, string, form.Typed) error, wrong func(*page, form.Typed, shell.Form), to string) {
		routes.Post("/sessions/:id"+path, func(c fiber.Ctx) error {
			typed := shell.Typed(c)
			err := save(c.Context(), c.Params("id"), typed)
			if form, status, ok := shell.Problems(typed, err); ok {
				return show(c, status, func(pg *page) { wrong(pg, typed, form) })
			}
			if err != nil {
				return err
			}
			return shell.See(c, "/sessions/"+c.Params("id")+to)
		})
	}
	takes("/correct", p.Correct, func(pg *page, typed form.Typed, f shell.Form) {
		pg.Correct, pg.All, pg.From = f, true, pg.pageOf(typed.Text("trial"))
	}, "#trials")
	takes("/put", p.Put, func(pg *page, _ form.Typed, f shell.Form) { pg.Put = f }, "?all=1#trials")
	takes("/pay", p.PutPay, func(pg *page, _ form.Typed, f shell.Form) { pg.PutPay = f }, "#trials")
	takes("/end", p.End, func(pg *page, _ form.Typed, f shell.Form) { pg.Ending = f }, "")
	takes("/tags", p.Tag, func(pg *page, _ form.Typed, f shell.Form) { pg.TagEdit = f }, "#tags")
	routes.Post("/sessions/:id/takeback", func(c fiber.Ctx) error {
		if err := p.TakeBack(c.Context(), c.Params("id"), c.FormValue("event")); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"#notes")
	})
	routes.Post("/sessions/:id/renote", func(c fiber.Ctx) error {
		if err := p.Renote(c.Context(), c.Params("id"), c.FormValue("event"), c.FormValue("value")); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"#notes")
	})
	routes.Post("/sessions/:id/uncorrect", func(c fiber.Ctx) error {
		if err := p.Uncorrect(c.Context(), c.Params("id")); err != nil {
			return err
		}
		return shell.See(c, "/sessions/"+c.Params("id")+"#trials")
	})
}
