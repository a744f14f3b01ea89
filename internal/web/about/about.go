// Package about says which program this is, and whose work it carries.
package about

import (
	"bytes"
	"embed"
	"io"

	"github.com/andybalholm/brotli"
	"github.com/gofiber/fiber/v3"

	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

// dist holds the licences of what the program carries, packed. It is made by `make`, never committed; a placeholder lets a bare
// `go build` work.
//
//go:embed dist
var dist embed.FS

type page struct {
	Version string
	Notices bool // they were built in
}

// Mount puts the pages at /about and /about/notices.
func Mount(routes fiber.Router, sh *shell.Shell, version string) {
	tpl := sh.Page(templates, "about.html")
	packed, err := dist.ReadFile("dist/notices.txt.br")
	routes.Get("/about", func(c fiber.Ctx) error {
		return sh.Render(c, tpl, fiber.StatusOK, shell.View{Title: "About", Nav: "settings", V: page{version, err == nil}})
	})
	routes.Get("/about/notices", func(c fiber.Ctx) error {
		if err != nil {
			return fiber.ErrNotFound
		}
		text, err := io.ReadAll(brotli.NewReader(bytes.NewReader(packed)))
		if err != nil {
			return err
		}
		c.Set(fiber.HeaderContentType, fiber.MIMETextPlainCharsetUTF8)
		return c.Send(text)
	})
}
