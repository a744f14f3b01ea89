package main

import (
	"context"
	"fmt"
	"log"
	"slices"
	"strconv"
	"time"

	"patientfox/core/work"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practice"
)

// slow is by how much the processor is slowed down for the phone's figures.
const slow = 4

// full gives a plan all that its board can have: six errors with a key, and a deck.
func full(p *practice.Practice, plan string) {
	saved := func(save func(context.Context, string, form.Typed) error, typed form.Typed) {
		v, err := p.Plan(ctx, plan)
		must(err)
		typed["version"] = strconv.Itoa(v.Version)
		must(save(ctx, plan, typed))
	}
	errors := form.Typed{}
	for i, name := range []string{"crept", "sat", "hopped", "whined", "turned away", "nose down"} {
		errors["error"+strconv.Itoa(i+1)] = name
	}
	saved(p.SaveErrors, errors)
	saved(p.SaveDeck, form.Typed{"deck_trigger": "20, 12, 8"})
}

// begin begins a session with the deck.
func begin(page *browser.Page) {
	page.Fill("#pieces", "4000")
	page.Click("#setup-more summary")
	page.Click("#deck")
	page.Click("#begin")
	page.Wait(`patientfox.view && !document.getElementById("board").hidden`)
}

// phone: what a thumb waits for on the Run screen, at a slowed-down processor.
func phone(p *practice.Practice) {
	base, stop := serve(p)
	defer stop()
	today, err := p.Today(ctx)
	must(err)
	plan := ""
	for _, row := range append(today.Next, today.Done...) {
		if v, err := p.Plan(ctx, row.ID); err == nil && work.Of(work.Kind(v.Kind)).Holds {
			plan = row.ID
			break
		}
	}
	full(p, plan)
	b, err := browser.Start()
	must(err)
	defer b.Close()
	page := b.Page(base, browser.Phone, log.Fatalf)
	page.Go("/run?plan=" + plan)
	page.Wait(`!document.getElementById("setup").hidden`)
	bytes := browser.Get[float64](page, `[...performance.getEntriesByType("navigation"), ...performance.getEntriesByType("resource")]
		.filter((e) => !e.name.endsWith("fieldcore.wasm")).reduce((sum, e) => sum + e.transferSize, 0)`)
	most("first load of Run besides the core: KB moved", bytes/1024, 350, "page, scripts, style, font; packed")

	page.Wait(`navigator.serviceWorker.controller || navigator.serviceWorker.ready.then(() => (window.installed = true)) && window.installed`)
	page.Slow(slow)
	var ready []float64
	for range 5 {
		page.Go("/run?plan=" + plan)
		page.Wait(`!document.getElementById("setup").hidden`)
		ready = append(ready, browser.Get[float64](page, `patientfox.ready`))
	}
	slices.Sort(ready)
	most("Run ready after navigation, warm: s, median of 5", ready[2]/1000, 1, fmt.Sprintf("at a processor slowed down %d times", slow))

	begin(page)
	page.Slow(1)
	// Earlier trials, so that 500 events are in the session. Then: what a tap waits for, part by part.
	browser.Get[bool](page, `(async () => {
		const pf = patientfox, s = pf.session;
		for (let i = 0; i < 130; i++) {
			const t = 100 + i * 100;
			const cue = pf.keep.stamp([{ kind: "cue", data: { n: 1 } }], { session: s.id, t, by: s.by, handler: s.handler });
			const rest = pf.keep.stamp(
				[{ kind: "release", data: {} }, { kind: "trial", data: { outcome: i % 3 ? "met" : "late" } }, { kind: "pay", data: { pieces: 1 } }],
				{ session: s.id, t: t + 50, by: s.by, handler: s.handler });
			await pf.keep.store([...cue, ...rest]);
			await pf.core.ask("apply", [...cue, ...rest], t + 50);
		}
		pf.base -= 60000;
		return true })()`)
	waited(page, "late", "a tap on Run with 500 events", "six errors with a key, a deck, prompts")
	helps(b, base, page)
	queue := func(n int) float64 {
		return browser.Get[float64](page, fmt.Sprintf(`(async () => {
			const pf = patientfox, s = pf.session, waiting = async () => (await pf.keep.waiting(0)).count;
			while (await waiting()) await new Promise((done) => setTimeout(done, 20));
			const drafts = Array.from({ length: %d }, () => ({ kind: "note", data: { text: "a note of the usual length" } }));
			await pf.keep.store(pf.keep.stamp(drafts, { session: s.id, t: 1, by: s.by, handler: s.handler }));
			const at = performance.now();
			pf.sender.kick();
			while (await waiting()) await new Promise((done) => setTimeout(done, 1));
			return performance.now() - at })()`, n))
	}
	var one, many []float64
	for range 9 {
		one, many = append(one, queue(1)), append(many, queue(500))
	}
	slices.Sort(one)
	slices.Sort(many)
	most("500 events that waited, until they are acknowledged ÷ one", many[4]/one[4], 20, fmt.Sprintf("%.0f ms ÷ %.0f ms", many[4], one[4]))
	page.Close()
	visit(p, b, base)
}

// waited measures taps on a running session with the processor slowed down; a trial under way is closed with a key.
func waited(page *browser.Page, closes, what, with string) {
	page.Slow(slow)
	defer page.Slow(1)
	browser.Get[bool](page, `(() => {
		const pf = patientfox, ask = pf.core.ask.bind(pf.core), store = pf.keep.store.bind(pf.keep);
		pf.parts = { ask: 0, store: 0 };
		const timed = (name, call) => async (...args) => { const at = performance.now();
			try { return await call(...args); } finally { pf.parts[name] += performance.now() - at; } };
		let drawn = pf.drawn; // who waits for it is told: looking in every frame would be measured with it
		const draws = (n) => { if (n > drawn && pf.shown) pf.shown(); drawn = n; };
		Object.defineProperty(pf, "drawn", { get: () => drawn, set: draws });
		[pf.core.ask, pf.keep.store] = [timed("ask", ask), timed("store", store)];
		return true })()`)
	t := tapped(page, closes)
	at := func(list []float64, share float64) float64 {
		list = slices.Sorted(slices.Values(list[24:])) // the first ones warm it up
		return list[int(share*float64(len(list)))]
	}
	most(what+" until it is drawn: ms, 95th percentile", at(t.times, 0.95), 50,
		fmt.Sprintf("%s; at a processor slowed down %d times; median %.0f ms", with, slow, at(t.times, 0.5)))
	most("the same ÷ an empty handler on the same page", at(t.times, 0.95)/at(t.empty, 0.95), 2.5,
		fmt.Sprintf("%.0f ms ÷ %.0f ms; medians: %.0f ms, of these %.1f in the core, %.1f to the Worker and back, %.1f drawing; "+
			"IndexedDB meanwhile %.1f; an empty handler %.0f",
			at(t.times, 0.95), at(t.empty, 0.95), at(t.times, 0.5), at(t.core, 0.5), at(t.worker, 0.5),
			at(t.times, 0.5)-at(t.core, 0.5)-at(t.worker, 0.5), at(t.storing, 0.5), at(t.empty, 0.5)))
}

// visit measures the same late in a visit that goes round many sites.
func visit(p *practice.Practice, b *browser.Browser, base string) {
	dog, err := p.AddDog(ctx, form.Typed{"name": "Sorrel"})
	must(err)
	plan, err := p.AddPlan(ctx, dog, form.Typed{
		"skill": "All over", "kind": "handling", "position": "lies loose", "leg1_make": "sites", "leg1_from": "1", "leg1_to": "3",
		"leg1_items": "nose\near\nneck\nshoulder\nback\nbelly\nhip\ntail\nfront paw\nhind paw",
		"leg1_tools": "a hand\nfingers\nthe closed tool\nthe tool",
	})
	must(err)
	page := b.Page(base, browser.Phone, log.Fatalf)
	defer page.Close()
	page.Go("/run?plan=" + plan)
	page.Wait(`!document.getElementById("setup").hidden`)
	page.Fill("#pieces", "4000")
	page.Click("#begin")
	page.Wait(`patientfox.view && !document.getElementById("board").hidden`)
	touches := browser.Get[int](page, `(async () => {
		const pf = patientfox, s = pf.session;
		let t = 0, touches = 0;
		const press = async (key) => {
			t += 1500;
			const events = pf.keep.stamp((await pf.core.ask("press", key, t)).drafts || [], { session: s.id, t, by: s.by, handler: s.handler });
			if (events.length) await pf.keep.store(events);
			return (await pf.core.ask("apply", events, t)).view.phase;
		};
		await press("round");
		for (let phase = "idle"; touches < 200; ) {
			if (phase === "trying") touches++;
			phase = await press(phase === "trying" ? "met" : "main");
		}
		pf.base = performance.now() - t - 5000;
		return touches })()`)
	waited(page, "met", fmt.Sprintf("a touch in a visit of 40 cells with %d exposures", touches), "goes round the sites")
}

// waits are what 120 taps waited for, and an empty handler after each, ms.
type waits struct{ empty, times, core, worker, storing []float64 }

// tapped taps on a running session.
func tapped(page *browser.Page, closes string) (t waits) {
	for range 20 { // a few at a time: the large key rests between two presses
		part := browser.Get[[][]float64](page, fmt.Sprintf(`(async () => {
			const pf = patientfox, taps = [];
			const frame = () => new Promise((done) => requestAnimationFrame(() => { // until its style, layout and paint are done
				const next = new MessageChannel();
				next.port1.onmessage = done;
				next.port2.postMessage(null);
			}));
			for (let i = 0; i < 6; i++) {
				while (pf.view.rests) await new Promise((done) => setTimeout(done, 10));
				await new Promise((done) => setTimeout(done, (i * 37) %% 90)); // a thumb comes at any moment between two looks of the dial
				const key = document.querySelector(pf.view.phase === "trying" ? '[data-key="%s"]' : '[data-key="main"]');
				const shown = new Promise((done) => (pf.shown = done)), answered = pf.core.times.length, at = performance.now();
				pf.parts.ask = pf.parts.store = 0;
				key.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, cancelable: true, button: 0 }));
				await shown;
				await frame();
				const drawn = performance.now() - at, core = pf.core.times.slice(answered).reduce((a, b) => a + b, 0), ask = pf.parts.ask;
				await pf.queue;
				const stored = pf.parts.store, none = performance.now();
				document.getElementById("log").dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, cancelable: true, button: 0 }));
				await frame();
				taps.push([performance.now() - none, drawn, core, ask, stored]);
			}
			return taps })()`, closes))
		for _, tap := range part {
			t.empty, t.times = append(t.empty, tap[0]), append(t.times, tap[1])
			t.core, t.worker, t.storing = append(t.core, tap[2]), append(t.worker, tap[3]-tap[2]), append(t.storing, tap[4])
		}
	}
	return t
}

// helps: how soon a second phone in the session shows what was tapped on the first.
func helps(b *browser.Browser, base string, one *browser.Page) {
	two := b.Page(base, browser.Phone, log.Fatalf)
	two.Go("/run?session=" + browser.Get[string](one, `patientfox.session.id`))
	two.Wait(`!document.getElementById("join").hidden`)
	two.Click("#join-in")
	two.Wait(`patientfox.view && !document.getElementById("board").hidden`)
	var times []float64
	for range 9 {
		one.Wait(`!patientfox.view.rests`)
		before := browser.Get[string](two, `patientfox.view.log`)
		started := time.Now()
		one.Eval(`document.querySelector('[data-key="pay"]')
			.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, cancelable: true, button: 0 }))`)
		two.Wait(fmt.Sprintf(`patientfox.view.log !== %q`, before))
		times = append(times, time.Since(started).Seconds())
	}
	two.Close()
	slices.Sort(times)
	most("a tap on one phone until a second phone in the session shows it: s, longest of 9", times[8], 2,
		fmt.Sprintf("median %.2f s", times[4]))
}
