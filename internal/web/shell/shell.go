// Package shell is what all screens share: the layout, forms, errors, and the security of every
// answer.
package shell

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"log/slog"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/homework"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/people"
	"patientfox/internal/web/assets"
	"patientfox/internal/web/figures"
)

//go:embed *.html
var templates embed.FS

// Shell renders pages and answers errors.
type Shell struct {
	Assets      *assets.Assets
	Log         *slog.Logger
	Rendered    func(again func() error) // benchmarks time a page's template with it; nil otherwise
	SignIn      bool                     // other machines reach the server: who asks has to be let in
	PublicURL   string                   // under which they do, "" for the one that was asked
	Households  string                   // where those of households do, which trust it already; "" for none
	Who         Who
	Reading     func() (done, total int) // how many sessions of those that are read anew have been
	Epoch       string                   // of the database: another one after a restore
	Longest     time.Duration            // that a request may take, 0 for the usual
	HSTS        bool                     // over TLS the browser is told to stay there
	Fingerprint string                   // of the certificate that phones trust, "" for none
	secret      []byte
	hosts       []string
	base        *template.Template
	problem     *Page
}

// Who says whose device a cookie belongs to, and how far it reaches.
type Who = func(ctx context.Context, cookie string) (person string, may people.Access, err error)

// New makes the shell. secret signs form tokens; hosts are the names under which the server may be
// asked, beside the loopback ones.
func New(files *assets.Assets, log *slog.Logger, secret []byte, hosts []string) *Shell {
	s := &Shell{Assets: files, Log: log, secret: secret, hosts: hosts}
	s.base = template.Must(template.New("base").Funcs(template.FuncMap{
		"asset": files.URL, "icon": files.Icon, "field": newField, "choice": newChoice, "dim": newDim, "shape": newShape,
		"outcome": phrase.Outcome,
		"states":  func() []string { return []string{"state0", "state1", "state2", "state3", "state4"} },
		"once":    app.NewID, "lower": strings.ToLower, "upper": say.Upper, "entry": newEntry, "planpages": newPlanPages, "dogpages": newDogPages,
		"percent": say.Percent, "parts": newParts, "table": newTable, "names": newNames, "rename": newRename,
		"signword": signWord, "looks": homework.Looks, "climb": figures.DrawClimb,
		"add12": func(x float64) float64 { return x - 8.5 }, "add1": func(n int) int { return n + 1 },
	}).ParseFS(templates, "*.html"))
	s.problem = s.Page(templates, "error.html")
	return s
}

// Page is one page's templates.
type Page struct{ set *template.Template }

// Page reads a screen's own templates over the shared ones. The first defines "main". A template that
// does not parse ends the program.
func (s *Shell) Page(files fs.FS, names ...string) *Page {
	set := template.Must(s.base.Clone())
	return &Page{template.Must(set.ParseFS(files, names...))}
}

// Write writes one of a page's templates without the layout, such as a file to be sent.
func (p *Page) Write(w io.Writer, name string, v any) error { return p.set.ExecuteTemplate(w, name, v) }

// View is what the layout needs of a page.
type View struct {
	Title   string
	Nav     string // the entry of the rail that is lit
	Script  string // the page's own module, "" for none
	Bare    bool   // without rail and bar
	Outside bool   // for somebody who has this page alone: nothing of it leads to others
	V       any    // what the page shows
	Form    Form
}

type layout struct {
	View
	Token       string
	Done, Total int // sessions that are read anew while the page is made
	Epoch       string
	May         people.Access // how far who asks reaches
}

// Owns tells whether who asks owns the practice.
func (l layout) Owns() bool { return l.May == people.Owner }

// Trains tells whether who asks may change what they see; who is not let in yet has nothing to change.
func (l layout) Trains() bool { return l.May >= people.Trainer || l.May == people.Nobody }

// Logs tells whether who asks may log, and write notes.
func (l layout) Logs() bool { return l.May >= people.Helper || l.May == people.Nobody }

// Render writes a page.
func (s *Shell) Render(c fiber.Ctx, page *Page, status int, v View) error {
	var out bytes.Buffer
	ready := layout{View: v, Token: s.token(c)}
	ready.Epoch, ready.May = s.Epoch, s.May(c)
	if s.Reading != nil {
		ready.Done, ready.Total = s.Reading()
	}
	if err := page.set.ExecuteTemplate(&out, "layout", ready); err != nil {
		return fmt.Errorf("rendering %q: %w", v.Title, err)
	}
	if s.Rendered != nil {
		s.Rendered(func() error { return page.set.ExecuteTemplate(io.Discard, "layout", ready) })
	}
	c.Status(status)
	c.Set(fiber.HeaderContentType, fiber.MIMETextHTMLCharsetUTF8)
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.Send(out.Bytes())
}

type entry struct {
	Lit               bool
	Href, Label, Icon string
}

func newEntry(nav, name, href, label, icon string) entry {
	return entry{nav == name, href, label, icon}
}

// parts hands a form to a template that several forms share, with the page around it.
type parts struct {
	Form  Form
	Page  any
	Token string
}

func newParts(form Form, page any, token string) parts { return parts{form, page, token} }

// names is a form to add something with a name: places, people.
type names struct {
	Which, Label, Token string
	Form                Form
}

func newNames(which, label, token string, form Form) names { return names{which, label, token, form} }

// rename is a form to give something another name.
type rename struct{ Which, ID, Name, Token string }

func newRename(which, id, name, token string) rename { return rename{which, id, name, token} }
