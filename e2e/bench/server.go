package main

import (
	"bytes"
	"fmt"
	"io"
	"log"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/jmoiron/sqlx"
	"github.com/valyala/fasthttp"

	"patientfox/core/record"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/copies"
	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/store"
	"patientfox/internal/web"
)

func quiet() *slog.Logger { return slog.New(slog.NewTextHandler(io.Discard, nil)) }

// serve starts the application on a port.
func serve(p *practice.Practice) (base string, stop func()) {
	app, err := web.New(ctx, p, web.Options{Log: quiet()})
	must(err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	must(err)
	go app.Listener(listener, fiber.ListenConfig{DisableStartupMessage: true}) //nolint:errcheck // ends with the program
	return "http://" + listener.Addr().String(), func() { _ = app.Shutdown() }
}

var rng = rand.New(rand.NewPCG(1, 2))

func notes(session string, from, n int) []record.Event {
	events := make([]record.Event, n)
	for i := range events {
		seq := int64(from + i)
		events[i] = record.Event{
			V: 1, ID: record.UUID(rng), Session: session, Dev: "bench", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
			Data: []byte(`{"text":"a note of the usual length"}`),
		}
	}
	return events
}

// posts: durable event posts through the whole stack against bare inserts of the same row.
func posts(p *practice.Practice, folder string) {
	base, stop := serve(p)
	defer stop()
	session := record.UUID(rng)
	seq := 1
	send := func(n int) {
		post(base, notes(session, seq, n))
		seq += n
	}
	// The bare table: the same database settings, the same columns, nothing else.
	path := filepath.Join(folder, "bare.db")
	other, err := store.Open(ctx, path)
	must(err)
	must(other.Close())
	bare, err := sqlx.Open("sqlite", store.DSN(path))
	must(err)
	defer bare.Close()
	bare.SetMaxOpenConns(1)
	_, err = bare.Exec(`INSERT INTO sessions (id) VALUES (?)`, session)
	must(err)
	insert := func() {
		e := notes(session, seq, 1)[0]
		seq++
		_, err := bare.Exec(`INSERT INTO events (id, session, v, dev, seq, t, wall, by, handler, kind, data, received)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			[]byte(e.ID), e.Session, e.V, e.Dev, e.Seq, e.T, e.Wall, e.By, e.Handler, string(e.Kind), string(e.Data), seq)
		must(err)
	}
	for range 30 {
		send(1)
		insert()
	}
	one, raw := inTurn(400, func() { send(1) }, insert)
	copying(folder)
	// A phone that comes back brings sessions that nobody has read yet: each batch is a new one.
	beside, hundred := inTurn(60, func() { send(1) }, func() { post(base, notes(record.UUID(rng), 1, 100)) })
	least("single durable posts: rate through the whole stack ÷ rate of bare inserts", float64(raw)/float64(one), 0.5,
		fmt.Sprintf("%v a post, %v a bare insert", one.Round(time.Microsecond), raw.Round(time.Microsecond)))
	most("a batch of 100 ÷ a single post", float64(hundred)/float64(beside), 10,
		fmt.Sprintf("%v ÷ %v", hundred.Round(time.Microsecond), beside.Round(time.Microsecond)))
}

// post sends events to a server.
func post(base string, events []record.Event) {
	req, err := http.NewRequest("POST", base+"/api/events", bytes.NewReader(encode(map[string]any{"events": events})))
	must(err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Patient-Fox", "1")
	resp, err := http.DefaultClient.Do(req)
	must(err)
	_, _ = io.Copy(io.Discard, resp.Body)
	resp.Body.Close()
	if resp.StatusCode != 200 {
		log.Fatal("posting: ", resp.Status)
	}
}

// copying: posts to a practice that is copied continuously beside posts to one that is not.
func copying(folder string) {
	poster := func(name string) (send func(), path string) {
		st, err := store.Open(ctx, filepath.Join(folder, name))
		must(err)
		p, err := practice.Open(ctx, st, quiet(), time.Now, "UTC")
		must(err)
		base, _ := serve(p)
		session, seq := record.UUID(rng), 1
		return func() {
			post(base, notes(session, seq, 1))
			seq++
		}, st.Path()
	}
	with, path := poster("copied.db")
	without, _ := poster("alone.db")
	copied, err := copies.Continue(ctx, path, filepath.Join(folder, "elsewhere"), copies.Credentials{}, quiet())
	must(err)
	for range 50 {
		with()
		without()
	}
	a, b := inTurn(2000, with, without)
	must(copied.Close())
	most("a post while a continuous copy runs ÷ a post without one", float64(a)/float64(b), 1.1,
		fmt.Sprintf("%v ÷ %v", a.Round(time.Microsecond), b.Round(time.Microsecond)))
}

// pages: a page's handler against its template on a ready view.
func pages(p *practice.Practice) {
	var again func() error
	app, err := web.New(ctx, p, web.Options{Log: quiet(), Rendered: func(a func() error) { again = a }})
	must(err)
	handler := app.Handler()
	today, err := p.Today(ctx)
	must(err)
	busiest := today.Next[0]
	for _, row := range append(today.Next, today.Done...) {
		if row.Of > busiest.Of && !row.Never {
			busiest = row
		}
	}
	long, err := demo.Long(ctx, p, busiest.DogID, time.Now().AddDate(0, 0, -20))
	must(err)
	v, err := p.Plan(ctx, busiest.ID)
	must(err)
	settings, err := p.Settings(ctx)
	must(err)
	place := settings.Places[0].ID
	for _, page := range [][2]string{
		{"Today", "/"}, {"Dogs", "/dogs"}, {"a dog", "/dogs/" + busiest.DogID}, {"Plan", "/plans/" + busiest.ID},
		{"Plan with 60 steps and 300 sets", "/plans/" + long}, {"the same, all of it drawn", "/plans/" + long + "?whole=1"},
		{"Review", "/sessions/" + v.Sessions[0].ID}, {"Settings", "/settings"},
		{"Week", "/week"}, {"a session's sheet", "/sheets/" + today.Slots[0].ID},
		{"Rewards", "/dogs/" + busiest.DogID + "/rewards"}, {"Pay", "/plans/" + busiest.ID + "/pay"},
	} {
		get := func() {
			var c fasthttp.RequestCtx
			c.Request.SetRequestURI("http://127.0.0.1" + page[1])
			c.Request.Header.SetHost("127.0.0.1")
			handler(&c)
			if c.Response.StatusCode() != 200 {
				log.Fatalf("%s: %d", page[1], c.Response.StatusCode())
			}
		}
		for range 20 {
			get()
		}
		// In turn, so that a machine that slows down slows both.
		whole, template := inTurn(200, get, func() { must(again()) })
		// What the first look after a change costs, when nothing is shown from memory.
		var after []time.Duration
		for i := range 40 {
			must(p.SavePlace(ctx, form.Typed{"id": place, "name": fmt.Sprintf("place %d", i)}))
			after = append(after, median(1, get))
		}
		slices.Sort(after)
		most(page[0]+
			": handler ÷ template on a ready view", float64(whole)/float64(template), 3, fmt.Sprintf("%v ÷ %v; first look after a change %v",
			whole.Round(time.Microsecond), template.Round(time.Microsecond), after[20].Round(time.Microsecond)))
	}
}

// taps: a tap on Run, answered by the core in the browser with 500 events in the session.
func taps(p *practice.Practice) {
	base, stop := serve(p)
	defer stop()
	b, err := browser.Start()
	must(err)
	defer b.Close()
	page := b.Page(base, browser.Phone, log.Fatalf)
	page.Go("/run")
	pack, events := heldLog(700, 500)
	// Without a session's end the core goes on answering.
	events = slices.DeleteFunc(events[:500], func(e record.Event) bool { return e.Kind == record.KEnd })
	answer := browser.Get[string](page, strings.NewReplacer("PACK", string(encode(pack)), "EVENTS",
		string(encode(events))).Replace(`(async () => {
		const { Core } = await import(document.querySelector('script[type="module"]').src.replace("run.js", "core.js"));
		const d = document.getElementById("run").dataset;
		const core = new Core({ worker: "/run/worker.js", exec: d.exec, wasm: d.wasm });
		const events = EVENTS, pack = PACK, last = events.at(-1);
		// 240 taps, in turn on so many sessions of 500 events, each behind a door of its own.
		const measure = async (sessions) => {
			const ask = (i, method, arg, t) => core.ask(method, arg, t, undefined, undefined, String(i % sessions));
			const anew = async () => { for (let i = 0; i < sessions; i++) { await ask(i, "open", pack, 0); await ask(i, "apply", events, 0); } };
			await anew();
			const taps = [];
			for (let i = 0; i < 240; i++) {
				const before = core.times.length, t = last.t + 1000 * (i + 1);
				const { drafts } = await ask(i, "press", (i / sessions | 0) % 2 ? "missed" : "main", t);
				const made = (drafts || []).map((x, j) => ({ ...last, id: "00000000-0000-7000-8000-" + String(i * 10 + j).padStart(12, "0"),
					seq: last.seq + i * 10 + j + 1, t, kind: x.kind, data: x.data }));
				await ask(i, "apply", made, t);
				taps.push(core.times.slice(before).reduce((a, b) => a + b, 0));
				// Taken out again, so that there are 500 each time.
				if (i % (8 * sessions) === 8 * sessions - 1) await anew();
			}
			taps.splice(0, 40); // the first ones warm it up
			taps.sort((a, b) => a - b);
			return [taps[Math.floor(taps.length * 0.95)], taps[Math.floor(taps.length / 2)]];
		};
		return JSON.stringify([...(await measure(1)), ...(await measure(8))]) })()`))
	var p95, p50, class95, class50 float64
	if _, err := fmt.Sscanf(answer, "[%f,%f,%f,%f]", &p95, &p50, &class95, &class50); err != nil {
		log.Fatal(answer, err)
	}
	most("a tap on Run with 500 events: ms in the core, 95th percentile", p95, 5,
		fmt.Sprintf("press and apply in the Worker; median %.1f ms", p50))
	most("a tap in a class of eight sessions of 500 events ÷ one in one: medians", class50/p50, 1.5,
		fmt.Sprintf("95th percentile %.1f ms, bound 5 ms", class95))
}
