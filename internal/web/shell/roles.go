package shell

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/people"
)

// least is the access that an address asks for. A pattern that ends with "*" is for all addresses that begin with what stands before it.
type least struct {
	method, pattern string
	access          people.Access
}

// roles say who may ask for what; the longest pattern that fits an address decides. It stands as a table in docs/roles.md.
var roles = []least{
	// Anybody: no dog's data, but for that of a household under /h/, which asks for a token.
	{"GET", "/a/*", people.Nobody},
	{"GET", "/h/*", people.Nobody},
	{"POST", "/h/*", people.Nobody},
	{"GET", "/healthz", people.Nobody},
	{"GET", "/sw.js", people.Nobody},
	{"GET", "/manifest.webmanifest", people.Nobody},
	{"GET", "/run", people.Nobody},
	{"GET", "/run/class", people.Nobody},
	{"GET", "/run/worker.js", people.Nobody},
	{"GET", "/remote", people.Nobody},
	{"GET", "/signin", people.Nobody},
	{"POST", "/signin*", people.Nobody},
	{"GET", "/pair", people.Nobody},
	{"POST", "/pair", people.Nobody},
	{"GET", "/pair/*", people.Nobody},
	{"GET", "/ca.pem", people.Nobody},

	{"GET", "/me", people.Household},
	{"GET", "/me/handling", people.Household},
	{"POST", "/me/*", people.Household},
	{"GET", "/about*", people.Household},

	// To look.
	{"GET", "/", people.Viewer},
	{"GET", "/dogs*", people.Viewer},
	{"GET", "/plans*", people.Viewer},
	{"GET", "/sessions*", people.Viewer},
	{"GET", "/sheets*", people.Viewer},
	{"GET", "/week", people.Viewer},
	{"GET", "/classes*", people.Viewer},
	{"GET", "/library*", people.Viewer},
	{"GET", "/programmes*", people.Viewer},
	{"GET", "/learning", people.Viewer},
	{"GET", "/api/plans*", people.Viewer},
	{"GET", "/api/reading", people.Viewer},

	// To run sessions, and to log in them.
	{"GET", "/api/field", people.Helper},
	{"GET", "/api/packs*", people.Helper},
	{"GET", "/api/sheets*", people.Helper},
	{"GET", "/api/sessions*", people.Helper},
	{"GET", "/api/classes*", people.Helper},
	{"POST", "/api/events", people.Helper},
	{"GET", "/team*", people.Helper},
	{"POST", "/team/note*", people.Helper},

	// What concerns households, pages that are nothing but a form, and whatever changes something.
	{"GET", "/dogs/:id/health", people.Trainer},
	{"GET", "/dogs/:id/homework*", people.Trainer},
	{"GET", "/dogs/:id/recap", people.Trainer},
	{"GET", "/dogs/:id/edit", people.Trainer},
	{"GET", "/dogs/:id/plans/new", people.Trainer},
	{"GET", "/dogs/:id/sheets/new", people.Trainer},
	{"GET", "/dogs/new", people.Trainer},
	{"GET", "/plans/:id/build", people.Trainer},
	{"GET", "/plans/:id/copy", people.Trainer},
	{"GET", "/plans/:id/enter", people.Trainer},
	{"GET", "/plans/:id/table", people.Trainer},
	{"GET", "/classes/new", people.Trainer},
	{"GET", "/tests*", people.Trainer},
	{"GET", "/post*", people.Trainer},
	{"GET", "/settings", people.Trainer},
	{"GET", "/journal*", people.Trainer},
	{"GET", "/people/*", people.Trainer},
	{"POST", "/classes*", people.Trainer},
	{"POST", "/dogs*", people.Trainer},
	{"POST", "/library*", people.Trainer},
	{"POST", "/plans*", people.Trainer},
	{"POST", "/post*", people.Trainer},
	{"POST", "/programmes*", people.Trainer},
	{"POST", "/sessions*", people.Trainer},
	{"POST", "/settings/*", people.Trainer},
	{"POST", "/sheets*", people.Trainer},
	{"POST", "/team/day", people.Trainer},
	{"POST", "/tests*", people.Trainer},
	{"POST", "/week/*", people.Trainer},

	{"POST", "/settings/people*", people.Owner},
	{"GET", "/devices", people.Owner},
	{"POST", "/devices/*", people.Owner},
	{"GET", "/copies*", people.Owner},
	{"POST", "/copies", people.Owner},
}

// Least is the access that an address asks for; false where the table has none. The address is as it was registered, or as it was asked
// for where its pattern has nothing to fill in.
func Least(method, address string) (access people.Access, is bool) {
	if method == fiber.MethodHead {
		method = fiber.MethodGet
	}
	longest := -1
	for _, one := range roles {
		begins, open := strings.CutSuffix(one.pattern, "*")
		if one.method == method && len(one.pattern) > longest && (one.pattern == address || open && strings.HasPrefix(address, begins)) {
			longest, access, is = len(one.pattern), one.access, true
		}
	}
	return access, is
}

// guarded are routes that ask who comes.
type guarded struct {
	fiber.Router
	shell *Shell
}

// Guarded are routes each of which lets in whom the table says. One that is not in it ends the program.
func (s *Shell) Guarded(routes fiber.Router) fiber.Router { return guarded{routes, s} }

// Get is a page.
func (g guarded) Get(path string, handler any, more ...any) fiber.Router {
	return g.Router.Get(path, g.only(fiber.MethodGet, path), append([]any{handler}, more...)...)
}

// Post is what changes something.
func (g guarded) Post(path string, handler any, more ...any) fiber.Router {
	return g.Router.Post(path, g.only(fiber.MethodPost, path), append([]any{handler}, more...)...)
}

// only lets in who has the access that an address asks for.
func (g guarded) only(method, path string) fiber.Handler {
	asks, is := Least(method, path)
	if !is {
		panic("nobody said who may ask for " + method + " " + path)
	}
	return func(c fiber.Ctx) error {
		if may := g.shell.May(c); may < asks {
			return fiber.NewError(fiber.StatusForbidden, "You are signed in as a "+may.String()+". This is for "+kept[asks]+".")
		}
		return c.Next()
	}
}

// kept says for whom something is.
var kept = map[people.Access]string{
	people.Viewer: "people of the practice", people.Helper: "those who run sessions", people.Trainer: "trainers",
	people.Owner: "owners of the practice",
}

// May is how far the device that asks reaches; the server’s own machine reaches all.
func (s *Shell) May(c fiber.Ctx) people.Access {
	if s.local(c) {
		return people.Owner
	}
	may, _ := c.Locals(accessKey).(people.Access)
	return may
}
