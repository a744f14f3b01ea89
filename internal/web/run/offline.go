package run

import (
	"encoding/json"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/web/shell"
)

// carried are the files that a phone keeps to run a session without a signal, beside the page, its
// scripts and the Worker.
var carried = []string{
	"app.css", "favicon.svg", "icon-192.png", "fonts/atkinson.woff2",
	"run/wasm_exec.js", "run/fieldcore.wasm",
}

// mountShell serves what makes the pages an application of the phone's own: the service worker and the manifest.
func mountShell(routes fiber.Router, sh *shell.Shell) {
	script, err := files.ReadFile("sw.js")
	if err != nil {
		panic(err)
	}
	list := []string{"/run", "/run/class", "/run/worker.js"}
	for _, name := range scripts {
		list = append(list, sh.Assets.URL("run/"+name))
	}
	for _, name := range carried {
		if sh.Assets.Has(name) {
			list = append(list, sh.Assets.URL(name))
		}
	}
	names, err := json.Marshal(list)
	if err != nil {
		panic(err) // strings always encode
	}
	// The script says which build it belongs to, so that the browser sees a new one.
	worker := strings.NewReplacer("__BUILD__", sh.Assets.Build(), `["__FILES__"]`, string(names)).Replace(string(script))
	routes.Get("/sw.js", func(c fiber.Ctx) error {
		c.Set(fiber.HeaderContentType, "text/javascript; charset=utf-8")
		c.Set(fiber.HeaderCacheControl, "no-cache")
		return c.SendString(worker)
	})
	manifest, err := json.Marshal(fiber.Map{
		"name": "Patient Fox", "short_name": "Patient Fox", "description": "Plans and logs dog training, and says what the record shows",
		"id": "/", "start_url": "/", "scope": "/", "display": "standalone", "background_color": "#F3F6F4", "theme_color": "#16302B", "lang": "en",
		"icons": []fiber.Map{
			{"src": sh.Assets.URL("icon-192.png"), "sizes": "192x192", "type": "image/png", "purpose": "any maskable"},
			{"src": sh.Assets.URL("icon-512.png"), "sizes": "512x512", "type": "image/png", "purpose": "any maskable"},
			{"src": sh.Assets.URL("favicon.svg"), "sizes": "any", "type": "image/svg+xml"},
		},
	})
	if err != nil {
		panic(err)
	}
	routes.Get("/manifest.webmanifest", func(c fiber.Ctx) error {
		c.Set(fiber.HeaderContentType, "application/manifest+json")
		c.Set(fiber.HeaderCacheControl, "no-cache")
		return c.Send(manifest)
	})
}
