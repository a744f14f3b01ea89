// Package week is the page of a week, and its calendar file.
package week

import (
	"embed"
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/say"
	"patientfox/internal/app/schedule"
	"patientfox/internal/exchange"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type page struct {
	schedule.WeekView
	Said string // what was planned a moment ago
	Undo string
}

// Mount puts the page at /week.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	tpl := sh.Page(templates, "week.html")
	routes.Get("/week", func(c fiber.Ctx) error {
		v, err := p.Week(c.Context(), c.Query("day"))
		if err != nil {
			return err
		}
		pg := page{WeekView: v}
		if n, err := strconv.Atoi(c.Query("planned")); err == nil {
			pg.Said, pg.Undo = say.Count(n, "session")+" planned.", c.Query("made")
			if n == 0 {
				pg.Said, pg.Undo = "Nothing to plan: every dog has its sessions, or no hour of yours is left. Hours are in Settings, "+
					"sessions a week with each dog.",
					""
			}
		}
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "Week", Nav: "week", V: pg})
	})
	routes.Post("/week/plan", func(c fiber.Ctx) error {
		day := c.FormValue("day")
		made, n, err := p.PlanWeek(c.Context(), day)
		if err != nil {
			return err
		}
		return shell.See(c, fmt.Sprintf("/week?day=%s&planned=%d&made=%d", day, n, made))
	})
	routes.Post("/week/unplan", func(c fiber.Ctx) error {
		made, err := strconv.ParseInt(c.FormValue("made"), 10, 64)
		if err != nil {
			return fiber.ErrBadRequest
		}
		if _, err := p.UnplanWeek(c.Context(), c.FormValue("day"), made); err != nil {
			return err
		}
		return shell.See(c, "/week?day="+c.FormValue("day"))
	})
	routes.Get("/sessions.ics", func(c fiber.Ctx) error {
		name, events, now, err := p.Calendar(c.Context(), c.Query("from"))
		if err != nil {
			return err
		}
		return calendar(c, name, events, now)
	})
}

func calendar(c fiber.Ctx, name string, events []schedule.CalendarEvent, now time.Time) error {
	list := make([]exchange.Appointment, len(events))
	for i, e := range events {
		list[i] = exchange.Appointment{
			ID: e.ID, Summary: e.Summary, Text: e.Text, Place: e.Place, AllDay: e.AllDay, From: e.From, To: e.To, Made: e.Made, Version: e.Version,
		}
	}
	c.Set(fiber.HeaderContentType, "text/calendar; charset=utf-8")
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="sessions.ics"`)
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.SendString(exchange.Calendar(name, list, now))
}
