// Command large measures the pages on a large practice, made with `patientfox make-large`, beside a small one with as
// many rows on each page: statements, rows of a list, the 95th percentile of a first look after a change, and the
// memory that is resident after every page was walked. `make large` runs it.
package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"log"
	"log/slog"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"

	"patientfox/e2e/machine"
	"patientfox/internal/app/form"
	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/store"
	"patientfox/internal/web"
)

var ctx = context.Background()

func must(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

func quiet() *slog.Logger { return slog.New(slog.NewTextHandler(io.Discard, nil)) }

// opened is a practice with its pages.
type opened struct {
	p       *practice.Practice
	handler fasthttp.RequestHandler
	cost    store.Cost
	now     time.Time
	listed  []string // pages, once they were worked out
}

func open(path string, now time.Time) *opened {
	st, err := store.Open(ctx, path)
	must(err)
	o := &opened{now: now}
	if o.p, err = practice.Open(ctx, st, quiet(), func() time.Time { return now }, "UTC"); err != nil {
		log.Fatal(err)
	}
	app, err := web.New(ctx, o.p, web.Options{Log: quiet()})
	must(err)
	counted := fiber.New()
	counted.Use(func(c fiber.Ctx) error {
		c.SetContext(store.Counting(c.Context(), &o.cost))
		return c.Next()
	})
	counted.Use("/", app)
	o.handler = counted.Handler()
	return o
}

func (o *opened) get(path string) string {
	status, body := o.ask(path)
	if status != 200 {
		log.Fatalf("%s: %d", path, status)
	}
	return body
}

func (o *opened) ask(path string) (status int, body string) {
	var c fasthttp.RequestCtx
	c.Request.SetRequestURI("http://127.0.0.1" + path)
	c.Request.Header.SetHost("127.0.0.1")
	o.handler(&c)
	return c.Response.StatusCode(), string(c.Response.Body())
}

// touch changes something, so that nothing is shown from memory.
func (o *opened) touch(n int) {
	settings, err := o.p.Settings(ctx)
	must(err)
	must(o.p.SavePlace(ctx, form.Typed{"id": settings.Places[0].ID, "name": fmt.Sprintf("berth %d again", n)}))
}

// looked is one page as measured.
type looked struct {
	p95        time.Duration
	bare       float64 // the page ÷ its statements and their rows alone, medians
	statements int64
	rows       int // of its longest list
}

// look is one first look at a page: how long it took, and that by its bare reads.
func (o *opened) look(path string, n int, l *looked) (took time.Duration, bare float64) {
	o.touch(n)
	before, read, started := o.cost.Statements.Load(), o.cost.Ns.Load(), time.Now()
	body := o.get(path)
	took = time.Since(started)
	bare = float64(took) / float64(o.cost.Ns.Load()-read)
	l.statements = o.cost.Statements.Load() - before
	for _, list := range strings.Split(body, "<tbody>")[1:] {
		list, _, _ = strings.Cut(list, "</tbody>")
		l.rows = max(l.rows, strings.Count(list, "<tr>"))
	}
	for _, list := range strings.Split(body, `class="rows`)[1:] {
		list, _, _ = strings.Cut(list, "</ul>")
		list, _, _ = strings.Cut(list, "</ol>")
		l.rows = max(l.rows, strings.Count(list, "<li"))
	}
	return took, bare
}

// beside looks at a page of each of two practices in turn, so that what else the machine does falls on both. ratio is the median of how
// many times as long the first one's takes.
func beside(big, small *opened, bigPath, smallPath string, times int) (b, s looked, ratio float64) {
	var long, short []time.Duration
	var bare, ratios []float64
	for i := range times {
		took, reads := big.look(bigPath, i, &b)
		same, _ := small.look(smallPath, i, &s)
		long, short, bare, ratios = append(long, took), append(short, same), append(bare, reads), append(ratios, float64(took)/float64(same))
	}
	slices.Sort(bare)
	slices.Sort(ratios)
	b.p95, s.p95, b.bare = p95(long), p95(short), bare[times/2]
	return b, s, ratios[times/2]
}

// pages are the addresses of one dog's pages, and those of all.
func (o *opened) pages() [][2]string {
	dogs, err := o.p.Dogs(ctx, "")
	must(err)
	dog, err := o.p.Dog(ctx, dogs.Dogs[0].ID)
	must(err)
	plan := dog.Plans[0].ID
	v, err := o.p.Plan(ctx, plan)
	must(err)
	return [][2]string{
		{"Today", "/"}, {"Dogs", "/dogs"}, {"a dog", "/dogs/" + dog.ID}, {"its sessions", "/dogs/" + dog.ID + "/sessions"},
		{"Plan", "/plans/" + plan},
		{"Progress", "/plans/" + plan + "/progress"}, {"Evidence", "/plans/" + plan + "/evidence"}, {"Outlook", "/plans/" + plan + "/outlook"},
		{"Verdicts", "/plans/" + plan + "/verdicts"}, {"What the plan said", "/plans/" + plan + "/history"},
		{"Review", "/sessions/" + v.Sessions[0].ID},
		{"Library", "/library"}, {"Settings", "/settings"}, {"a pack", "/api/packs/" + plan},
	}
}

// walk asks for every page of every dog and plan once, and for the newest sessions.
func (o *opened) walk() int {
	n := 0
	get := func(path string) {
		o.get(path)
		n++
	}
	get("/")
	for after := ""; ; {
		dogs, err := o.p.Dogs(ctx, after)
		must(err)
		for _, row := range dogs.Dogs {
			get("/dogs/" + row.ID)
			dog, err := o.p.Dog(ctx, row.ID)
			must(err)
			for _, plan := range dog.Plans {
				for _, page := range []string{"", "/progress", "/evidence", "/outlook", "/verdicts", "/history"} {
					get("/plans/" + plan.ID + page)
				}
			}
			for _, s := range dog.Sessions {
				get("/sessions/" + s.ID)
			}
		}
		if after = dogs.Next; after == "" {
			return n
		}
	}
}

// resident is this process's memory in MB.
func resident() float64 {
	raw, err := os.ReadFile("/proc/self/status")
	must(err)
	for _, line := range strings.Split(string(raw), "\n") {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			var kb float64
			if _, err := fmt.Sscan(rest, &kb); err != nil {
				log.Fatal(err)
			}
			return kb / 1024
		}
	}
	return 0
}

// others are practices to compare with: one dog of the large one, with as many rows on each of its pages, and as many dogs and plans as
// a list shows, for the pages that list them.
func others(folder string, now time.Time) (small, lists *opened) {
	l := demo.LargeSize
	small, lists = open(filepath.Join(folder, "small.db"), now), open(filepath.Join(folder, "lists.db"), now)
	plans, listed := l.Plans/l.Dogs+1, 25*l.Plans/l.Dogs
	must(demo.Large(ctx, small.p, demo.Size{
		Dogs: 1, Plans: plans, Sessions: plans * l.Sessions / l.Plans, Trials: plans * l.Trials / l.Plans,
	}, now, nil))
	must(demo.Large(ctx, lists.p, demo.Size{Dogs: 25, Plans: listed, Sessions: 2 * listed, Trials: 20 * listed}, now, nil))
	return small, lists
}

// walked asks for every page in a process of its own, as a server has one practice and no other beside it.
func walked(data string) (pages int, mb float64) {
	said, err := exec.Command(os.Args[0], "-data", data, "-walk").Output()
	must(err)
	_, err = fmt.Sscan(string(said), &pages, &mb)
	must(err)
	return pages, mb
}

func main() {
	data := flag.String("data", "", "folder of large.db, as make-large made it")
	times := flag.Int("times", 40, "first looks at each page")
	only := flag.String("only", "", "one page alone, by its name, and no walk")
	out := flag.String("out", "", "file to write the table into")
	walk := flag.Bool("walk", false, "ask for every page once, and print how many and the memory that is resident then, MB")
	flag.Parse()
	now := time.Now()
	if *walk {
		n := open(filepath.Join(*data, "large.db"), now).walk()
		fmt.Println(n, resident())
		return
	}
	folder, err := os.MkdirTemp("", "patientfox-large")
	must(err)
	defer os.RemoveAll(folder)
	small, lists := others(folder, now)
	big := open(filepath.Join(*data, "large.db"), now)
	table := fmt.Sprintf("# A large practice\n\nMeasured by `make large` (%s): %s. Beside it one dog of the same, or 25 dogs "+
		"for the pages that list them, so that each page has as many rows. A first look is one after something was changed, when "+
		"nothing is shown from memory.\n\n| page | statements | rows of its longest list | first look, 95th percentile | the same "+
		"in the small practice | ratio, median in turn | ÷ its bare reads | |\n| --- | --- | --- | --- | --- | --- | --- | --- |\n",
		machine.Line(), demo.LargeSize.Said())
	failed := false
	for i, page := range big.pages() {
		if *only != "" && page[0] != *only {
			continue
		}
		other := small
		if page[0] == "Today" || page[0] == "Dogs" {
			other = lists
		}
		b, s, ratio := beside(big, other, page[1], other.pages()[i][1], *times)
		ok := ratio <= 2 && b.statements == s.statements && b.rows <= 25 && (page[0] != "a dog" || b.bare <= 4)
		mark := "kept"
		if !ok {
			mark, failed = "**missed**", true
		}
		table += fmt.Sprintf("| %s | %d | %d | %v | %v | %.2f | %.2f | %s |\n", page[0], b.statements, b.rows,
			b.p95.Round(10*time.Microsecond), s.p95.Round(10*time.Microsecond), ratio, b.bare, mark)
	}
	if *only != "" {
		fmt.Print(table)
		return
	}
	n, mb := walked(*data)
	mark := "kept"
	if mb >= 150 {
		mark, failed = "**missed**", true
	}
	table += fmt.Sprintf("\nResident after %d pages: %.0f MB (bound 150): %s.\n", n, mb, mark)
	fmt.Print(table)
	said, kept := reading(filepath.Join(*data, "large.db"), now)
	table, failed = table+said, failed || !kept
	fmt.Print(said)
	if *out != "" {
		must(os.WriteFile(*out, []byte(table), 0o644))
	}
	if failed {
		os.Exit(1)
	}
}
