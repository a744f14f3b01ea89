package homework

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"html/template"
	"mime"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	cases "patientfox/internal/app/homework"
	"patientfox/internal/web/shell"
)

//go:embed file
var files embed.FS

// fileParts are what stands in each file beside the sheet, with the hashes by which its policy lets them in: a file on a phone has nowhere
// to load them from.
type fileParts struct {
	Style                 template.CSS
	Script                template.JS
	StyleHash, ScriptHash string
}

// filePage is a sheet as one file.
type filePage struct {
	page
	fileParts
}

func read(name string) string {
	raw, err := files.ReadFile("file/" + name)
	if err != nil {
		panic(err) // it is embedded
	}
	return string(raw)
}

// plain is a module as it stands in a script.
func plain(module string) string {
	return strings.ReplaceAll(module, "\nexport function ", "\nfunction ")
}

func hash(text string) string {
	sum := sha256.Sum256([]byte(text))
	return "sha256-" + base64.StdEncoding.EncodeToString(sum[:])
}

// mountFile puts the sheet as one self-contained file under /dogs/:id/homework/file, to be sent to a household: it reads without script and
// without a network, and gives back lines to paste. It is always an attachment, and in a sandbox where it is opened from here.
func (s screen) mountFile(routes fiber.Router) {
	style, script := read("page.css"), plain(s.sh.Assets.Text("household/press.js"))+read("page.js")
	parts := fileParts{template.CSS(style), template.JS(script), hash(style), hash(script)} //nolint:gosec // our own, embedded
	sheet := s.sh.Page(files, "file/page.html")
	written := func(v cases.View) ([]byte, error) {
		var out bytes.Buffer
		err := sheet.Write(&out, "page.html", filePage{page{View: v}, parts})
		return out.Bytes(), err
	}
	routes.Get("/dogs/:id/homework/file", func(c fiber.Ctx) error {
		v, err := s.p.Homework(c.Context(), c.Params("id"), askedOf(c))
		if err != nil {
			return err
		}
		out, err := written(v)
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderContentDisposition, mime.FormatMediaType("attachment", map[string]string{"filename": "homework " + v.Dog + ".html"}))
		c.Set(fiber.HeaderContentSecurityPolicy, shell.FilePolicy)
		c.Set(fiber.HeaderContentType, fiber.MIMETextHTMLCharsetUTF8)
		return c.Send(out)
	})
	send := func(c fiber.Ctx, typed form.Typed) error {
		v, err := s.p.Homework(c.Context(), c.Params("id"), askedFor(typed))
		if err != nil {
			return err
		}
		out, err := written(v)
		if err != nil {
			return err
		}
		return s.p.PostSheet(c.Context(), v, out)
	}
	routes.Post("/dogs/:id/homework/post", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := s.p.Give(c.Context(), c.Params("id"), typed) // what comes back is of its steps
		if err == nil {
			err = send(c, typed)
		}
		if again, status, ok := shell.Problems(typed, err); ok {
			return s.show(c, status, askedFor(typed), page{Sheet: again})
		}
		if err != nil {
			return err
		}
		return shell.See(c, "/post")
	})
}
