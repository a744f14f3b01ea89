// Package web is the interface: a folder per screen, and the shell that they share.
package web

import (
	"context"
	"log/slog"
	"maps"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/requestid"

	"patientfox/internal/copies"
	"patientfox/internal/practice"
	"patientfox/internal/web/about"
	"patientfox/internal/web/assets"
	"patientfox/internal/web/care"
	"patientfox/internal/web/classes"
	copiespage "patientfox/internal/web/copies"
	"patientfox/internal/web/devices"
	"patientfox/internal/web/dogs"
	"patientfox/internal/web/enter"
	"patientfox/internal/web/evidence"
	"patientfox/internal/web/experiment"
	"patientfox/internal/web/handling"
	"patientfox/internal/web/health"
	"patientfox/internal/web/homework"
	"patientfox/internal/web/household"
	"patientfox/internal/web/journal"
	"patientfox/internal/web/ladder"
	"patientfox/internal/web/learning"
	"patientfox/internal/web/library"
	"patientfox/internal/web/load"
	"patientfox/internal/web/outlook"
	"patientfox/internal/web/pay"
	"patientfox/internal/web/plan"
	"patientfox/internal/web/post"
	"patientfox/internal/web/progress"
	"patientfox/internal/web/recap"
	"patientfox/internal/web/review"
	"patientfox/internal/web/rewards"
	"patientfox/internal/web/run"
	"patientfox/internal/web/settings"
	"patientfox/internal/web/sheet"
	"patientfox/internal/web/shell"
	"patientfox/internal/web/table"
	"patientfox/internal/web/takeover"
	"patientfox/internal/web/team"
	"patientfox/internal/web/today"
	"patientfox/internal/web/week"
)

// tries is how many passwords or codes one address may try in a minute.
const tries = 10

// connections are open at once, at most.
const connections = 1024

// Options are what the application can be told beside its practice.
type Options struct {
	Log        *slog.Logger
	Hosts      []string                 // names that it answers to beside loopback
	SignIn     bool                     // other machines reach it: they have to be let in
	PublicURL  string                   // under which they do
	Households string                   // and under which those of households do, which trust it already; "" for none
	CA         []byte                   // PEM of the certificate that a phone has to trust, nil for none
	Print      string                   // its SHA-256, to be compared by eye
	Copies     *copies.Keeper           // of the database, nil for one that makes copies when it is asked
	Continuous *copies.Continuous       // nil where there is none
	Longest    time.Duration            // that a request may take, 0 for the usual: the race detector slows everything down
	HSTS       bool                     // a browser that came over TLS is told to stay there
	Version    string                   // of the program, with its commit
	Release    string                   // names a build of the same files anew, for tests of an update
	Rendered   func(again func() error) // called with each page's template on its ready view, for benchmarks
}

// New makes the application over a practice.
func New(ctx context.Context, p *practice.Practice, o Options) (*fiber.App, error) {
	secret, err := p.Secret(ctx)
	if err != nil {
		return nil, err
	}
	added := run.Assets()
	maps.Copy(added, household.Assets())
	sh := shell.New(assets.New(added, o.Release), o.Log, secret, o.Hosts)
	sh.Households, sh.Longest = o.Households, o.Longest
	sh.Reading, sh.Rendered, sh.SignIn, sh.PublicURL, sh.Who, sh.HSTS, sh.Fingerprint = p.Reading, o.Rendered, o.SignIn,
		o.PublicURL, p.SignedIn, o.HSTS, o.Print
	if sh.Epoch, err = p.Epoch(ctx); err != nil {
		return nil, err
	}
	app := fiber.New(fiber.Config{
		AppName: "Patient Fox", Immutable: true, CaseSensitive: true, StrictRouting: true,
		// Nothing that a request carries is read, or unpacked, before it is known who asks: see shell.Body.
		StreamRequestBody: true, DisablePreParseMultipartForm: true, BodyLimit: shell.BodyLimit, ReadBufferSize: 16384, Concurrency: connections,
		ReadTimeout: 10 * time.Second, WriteTimeout: 15 * time.Second, IdleTimeout: 60 * time.Second,
		ErrorHandler: sh.Fail,
	})
	app.Use(requestid.New(), sh.Logged, recover.New(), sh.Guard, shell.Slow(tries), sh.Access, sh.Body, sh.Forms)
	routes := sh.Guarded(app)
	routes.Get("/a/:build/*", sh.Assets.Serve)
	routes.Get("/api/reading", func(c fiber.Ctx) error {
		done, total := p.Reading()
		c.Set(fiber.HeaderCacheControl, "no-store")
		return c.JSON(fiber.Map{"done": done, "total": total})
	})
	routes.Get("/healthz", func(c fiber.Ctx) error {
		degraded, err := p.Healthy(c.Context())
		if err != nil {
			return fiber.ErrServiceUnavailable
		}
		c.Set(fiber.HeaderCacheControl, "no-store")
		if degraded != nil {
			return c.SendString("degraded: " + sh.Unsaved(degraded) + "\n")
		}
		return c.SendString("ok\n")
	})
	if o.Copies == nil {
		o.Copies = &copies.Keeper{Path: p.Path(), Now: p.Now}
	}
	mount(routes, sh, p, o)
	if o.CA != nil {
		routes.Get("/ca.pem", func(c fiber.Ctx) error {
			c.Set(fiber.HeaderContentType, "application/x-x509-ca-cert")
			c.Attachment("patient-fox.pem")
			return c.Send(o.CA)
		})
	}
	return app, nil
}

// mount puts every screen at its address.
func mount(app fiber.Router, sh *shell.Shell, p *practice.Practice, o Options) {
	today.Mount(app, sh, p, copiespage.Wrong(o.Copies, o.Continuous))
	dogs.Mount(app, sh, p)
	ladder.Mount(app, sh, p)
	plan.Mount(app, sh, p)
	table.Mount(app, sh, p)
	pay.Mount(app, sh, p)
	progress.Mount(app, sh, p)
	evidence.Mount(app, sh, p)
	outlook.Mount(app, sh, p)
	experiment.Mount(app, sh, p)
	enter.Mount(app, sh, p)
	journal.Mount(app, sh, p)
	team.Mount(app, sh, p)
	handling.Mount(app, sh, p)
	learning.Mount(app, sh, p)
	load.Mount(app, sh, p)
	care.Mount(app, sh, p)
	health.Mount(app, sh, p)
	takeover.Mount(app, sh, p)
	homework.Mount(app, sh, p)
	household.Mount(app, sh, p)
	recap.Mount(app, sh, p)
	post.Mount(app, sh, p)
	library.Mount(app, sh, p)
	run.Mount(app, sh, p)
	review.Mount(app, sh, p)
	rewards.Mount(app, sh, p)
	sheet.Mount(app, sh, p)
	week.Mount(app, sh, p)
	classes.Mount(app, sh, p)
	settings.Mount(app, sh, p)
	devices.Mount(app, sh, p)
	about.Mount(app, sh, o.Version)
	copiespage.Mount(app, sh, p, o.Copies, o.Continuous)
}
