// Package post is the simulated post: the letters to households, and what they answer.
package post

import (
	"embed"
	"mime"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practice"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh           *shell.Shell
	p            *practice.Practice
	list, letter *shell.Page
}

// listed is both boxes, with the form that reads a letter in.
type listed struct {
	homework.Post
	Form shell.Form
}

// opened is one letter, with the form that answers it or enters its lines.
type opened struct {
	homework.Letter
	Form shell.Form
}

// Mount puts the boxes at /post and each letter under it, with its file.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "list.html"), sh.Page(templates, "letter.html")}
	routes.Get("/post", func(c fiber.Ctx) error { return s.showList(c, fiber.StatusOK, shell.Form{}) })
	routes.Post("/post", s.receive)
	routes.Get("/post/:id", func(c fiber.Ctx) error { return s.showLetter(c, fiber.StatusOK, nil) })
	routes.Get("/post/:id/file", s.file)
	routes.Post("/post/:id/answer", func(c fiber.Ctx) error {
		return s.sent(c, p.Answer(c.Context(), c.Params("id"), shell.Typed(c)), "/post")
	})
	routes.Post("/post/:id/enter", func(c fiber.Ctx) error {
		return s.sent(c, p.EnterLetter(c.Context(), c.Params("id"), shell.Typed(c)), "/post/"+c.Params("id"))
	})
}

func (s screen) showList(c fiber.Ctx, status int, again shell.Form) error {
	v, err := s.p.Post(c.Context())
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.list, status, shell.View{Title: "Post", Nav: "dogs", V: listed{v, again}})
}

func (s screen) showLetter(c fiber.Ctx, status int, again *shell.Form) error {
	v, err := s.p.Letter(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	pg := opened{v, shell.Form{Typed: form.Typed{"text": "", "lines": v.Lines()}}}
	if again != nil {
		pg.Form = *again
	}
	return s.sh.Render(c, s.letter, status, shell.View{Title: v.Subject, Nav: "dogs", V: pg})
}

// sent goes on after a form of a letter, or shows it again.
func (s screen) sent(c fiber.Ctx, err error, to string) error {
	if again, status, ok := shell.Problems(shell.Typed(c), err); ok {
		return s.showLetter(c, status, &again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, to)
}

func (s screen) receive(c fiber.Ctx) error {
	raw, err := shell.File(c, "letter")
	if err != nil {
		return err
	}
	err = s.p.ReceiveLetter(c.Context(), raw)
	if again, status, ok := shell.Problems(form.Typed{}, err); ok {
		return s.showList(c, status, again)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/post")
}

// file hands out a letter as it was sent.
func (s screen) file(c fiber.Ctx) error {
	raw, err := s.p.LetterFile(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	c.Set(fiber.HeaderContentType, "message/rfc822")
	c.Set(fiber.HeaderContentDisposition, mime.FormatMediaType("attachment", map[string]string{"filename": "letter.eml"}))
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.Send(raw)
}
