package shell

import (
	"cmp"
	"context"
	"errors"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/jobs"
)

type failure struct {
	Status          int
	Title, Text, ID string
}

var titles = map[int]string{
	400: "That could not be read", 403: "Not allowed", 404: "Nothing here", 405: "Not done that way", 409: "Changed meanwhile",
	413: "Too much at once", 415: "That could not be read", 401: "Not let in", 421: "Wrong name", 429: "Too many tries",
	422: "Something cannot stand", 500: "Something broke", 503: "Not just now", 507: "The disk is full",
}

var texts = map[int]string{
	400: "The address or the form is damaged. Go back and try again.",
	404: "This page is not there, or what it showed has been put away.",
	405: "This address does not take that kind of request.",
	413: "What was sent is larger than this server takes. Nothing was saved; go back, and what you typed is still there.",
	500: "Nothing that was acknowledged is lost. Try again; if it comes back, the id below finds it in the log.",
	503: "The server was busy too long and gave up; nothing was half saved. Try again.",
}

// unsaved says why nothing can be saved just now.
var unsaved = []struct {
	err    error
	status int
	text   string
}{
	{
		app.ErrFull, fiber.StatusInsufficientStorage,
		"The disk is full, so nothing was saved. Free some space on it, then save again: everything that was saved before can be read.",
	},
	{
		app.ErrReadOnly, fiber.StatusServiceUnavailable,
		"The disk cannot be written to, so nothing was saved. Everything that was saved before can be read; save again when the disk takes it.",
	},
	{
		app.ErrDamaged, fiber.StatusServiceUnavailable,
		"The database file is damaged, so nothing was saved. Stop Patient Fox and start it again: it says which copies there are.",
	},
	{
		app.ErrBusy, fiber.StatusServiceUnavailable,
		"Another program keeps the database to itself, so nothing was saved. Try again in a moment.",
	},
	{
		jobs.ErrQueue, fiber.StatusServiceUnavailable,
		"Ten computations wait already. Wait until some of them are done, then begin this one.",
	},
	{
		app.ErrSaved, fiber.StatusConflict,
		"This form was saved before, and says something else now. Nothing of it was saved. Save once more to keep this as well.",
	},
	{
		derive.ErrAside, fiber.StatusServiceUnavailable,
		"This rests on a record that cannot be read, and is set aside. Today says what can be done.",
	},
	{derive.ErrBehind, fiber.StatusServiceUnavailable, "The sessions that this rests on are being read anew. It is there in a moment."},
}

// Unsaved says in a sentence why nothing can be saved, "" for any other error.
func (s *Shell) Unsaved(err error) string {
	text, _ := whyUnsaved(err)
	return text
}

func whyUnsaved(err error) (text string, status int) {
	for _, one := range unsaved {
		if errors.Is(err, one.err) {
			return one.text, one.status
		}
	}
	return "", 0
}

// Fail answers an error as a page, or as problem JSON where a script asked.
func (s *Shell) Fail(c fiber.Ctx, err error) error {
	status := fiber.StatusInternalServerError
	var known *fiber.Error
	var invalid *form.Invalid
	var conflict *form.Conflict
	f := failure{ID: RequestID(c)}
	switch {
	case errors.Is(err, app.ErrNotFound):
		status = fiber.StatusNotFound
	case s.Unsaved(err) != "":
		f.Text, status = whyUnsaved(err)
		if errors.Is(err, derive.ErrBehind) {
			f.Title = "Being read anew"
			c.Set(fiber.HeaderRetryAfter, "1")
			if c.Method() == fiber.MethodGet {
				c.Set("Refresh", "2") // a page shows itself as soon as it can
			}
		}
	case errors.Is(err, context.DeadlineExceeded):
		status = fiber.StatusServiceUnavailable
	case errors.As(err, &invalid):
		var texts []string
		for _, field := range slices.Sorted(maps.Keys(invalid.Problems)) {
			texts = append(texts, invalid.Problems[field])
		}
		status, f.Text = fiber.StatusUnprocessableEntity, strings.Join(texts, " ")
	case errors.As(err, &conflict):
		status, f.Text = fiber.StatusConflict, "Somebody changed this meanwhile. Go back, reload the page, and try again."
	case errors.As(err, &known):
		status = known.Code
		if texts[status] == "" {
			f.Text = known.Message
		}
	}
	if f.Status = status; f.Title == "" {
		f.Title = cmp.Or(titles[status], "That did not work")
	}
	if f.Text == "" {
		f.Text = texts[status]
	}
	if status >= 500 && !errors.Is(err, derive.ErrBehind) {
		s.Log.Error("request failed", "id", f.ID, "method", c.Method(), "route", c.Route().Path, "error", err.Error())
	}
	if strings.HasPrefix(c.Path(), "/api/") || strings.HasPrefix(c.Get(fiber.HeaderAccept), "application/json") {
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.Status(status).JSON(fiber.Map{
			"title": f.Title, "status": status, "detail": f.Text, "instance": f.ID,
		}, "application/problem+json")
	}
	outside := strings.HasPrefix(c.Path(), "/h/") // a household has no other page
	if rendered := s.Render(c, s.problem, status, View{Title: f.Title, Bare: outside, Outside: outside, V: f}); rendered != nil {
		return c.Status(status).SendString(f.Title + "\n" + f.ID)
	}
	return nil
}

// Logged writes one line a request, without names or notes: routes hold ids only.
func (s *Shell) Logged(c fiber.Ctx) error {
	start := time.Now()
	err := c.Next()
	if err != nil {
		if failed := s.Fail(c, err); failed != nil {
			return failed
		}
	}
	level := slog.LevelInfo
	if strings.HasPrefix(c.Path(), "/a/") || c.Path() == "/healthz" {
		level = slog.LevelDebug
	}
	s.Log.Log(context.Background(), level, "request", "id", RequestID(c), "method", c.Method(), "path", spoken(c.Path()),
		"status", c.Response().StatusCode(), "ms", time.Since(start).Milliseconds())
	return nil
}

// spoken is a path as it may be logged: a code or a token that lets somebody in never is.
func spoken(path string) string {
	for _, secret := range []string{"/pair/", "/h/"} {
		if strings.HasPrefix(path, secret) {
			return secret + "…"
		}
	}
	return path
}
