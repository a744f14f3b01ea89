package homework

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"html/template"
	"mime"

	"github.com/gofiber/fiber/v3"

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

// Counts are how often a round can have been right.
func (pg filePage) Counts() []int {
	list := make([]int, pg.Each()+1)
	for i := range list {
		list[i] = i
	}
	return list
}

func read(name string) string {
	raw, err := files.ReadFile("file/" + name)
	if err != nil {
		panic(err) // it is embedded
	}
	return string(raw)
}

func hash(text string) string {
	sum := sha256.Sum256([]byte(text))
	return "sha256-" + base64.StdEncoding.EncodeToString(sum[:])
}

// mountFile puts the sheet as one self-contained file under /dogs/:id/homework/file, to be sent to a household: it reads without script and
// without a network, and gives back lines to paste. It is always an attachment, and in a sandbox where it is opened from here.
func (s screen) mountFile(routes fiber.Router) {
	style, script := read("page.css"), read("page.js")
	parts := fileParts{template.CSS(style), template.JS(script), hash(style), hash(script)} //nolint:gosec // our own, embedded
	set := template.Must(template.New("page.html").ParseFS(templates, "signs.html"))
	template.Must(set.ParseFS(files, "file/page.html"))
	routes.Get("/dogs/:id/homework/file", func(c fiber.Ctx) error {
		v, err := s.p.Homework(c.Context(), c.Params("id"), askedOf(c))
		if err != nil {
			return err
		}
		var out bytes.Buffer
		if err := set.Execute(&out, filePage{page{View: v}, parts}); err != nil {
			return err
		}
		c.Set(fiber.HeaderContentDisposition, mime.FormatMediaType("attachment", map[string]string{"filename": "homework " + v.Dog + ".html"}))
		c.Set(fiber.HeaderContentSecurityPolicy, shell.FilePolicy)
		c.Set(fiber.HeaderContentType, fiber.MIMETextHTMLCharsetUTF8)
		return c.Send(out.Bytes())
	})
}
