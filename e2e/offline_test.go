package e2e_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// carry opens Today and waits until the device can do without the server.
func carry(p *browser.Page) {
	p.Go("/")
	p.Wait(`document.documentElement.dataset.carried`)
	p.Wait(`navigator.serviceWorker.controller`)
}

// From the moment Today was loaded a session is opened, run, stopped and reviewed in summary without a server;
// the next one begins where it ended, on the half step that was made in it; and the server gets all of it.
func TestWithoutASignalFromTheFirstPageOn(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	p.Go("/plans/" + plan)
	p.See("On this device")
	p.See("0.5 s, you beside")
	axe(t, p, "what is carried")
	p.Follow(`a[href="/run?plan=` + plan + `"]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Fill("#pieces", "40")
	p.Click("#begin")
	phase(p, "idle")
	for range 5 {
		hold(p)
	}
	phase(p, "deciding")
	press(p)
	phase(p, "idle")
	ends(p)
	p.See("5 of 5 met")
	p.See("Reached: step 2 of 3")
	p.Follow(`#over a[href="/"]`)
	p.See("On this device")
	p.See("Step 2 of 3")
	p.Follow(`a[href="/run?plan=` + plan + `"]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	require.Equal(t, "1 s, you beside", p.Text("#setup-step"))
	p.Click("#begin")
	phase(p, "idle")
	hold(p)
	p.Go("/run")
	p.See("Begun and not ended")
	p.Follow(`#carried-open a`)
	phase(p, "idle")
	require.Equal(t, "1 s, you beside", p.Text("#step"))
	ends(p)
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	s.CatchUp(t)
	v, err := s.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Sessions, 2)
	s.CatchUp(t)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.Open)
}

// A plan that Today does not show is carried too, once its page was looked at, though the day's packs come after it.
func TestAPlanThatWasLookedAtIsCarried(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	carry(p)
	require.NoError(t, s.DeletePlan(ctx, plan, true))
	p.Go("/")
	p.Wait(`document.documentElement.dataset.carried`)
	require.Zero(t, browser.Get[int](p, packsKept), "what was put away is carried no more")
	require.NoError(t, s.DeletePlan(ctx, plan, false))
	p.Go("/plans/" + plan)
	p.Wait(`document.documentElement.dataset.carried`)
	require.NoError(t, s.DeletePlan(ctx, plan, true)) // so that Today does not show it
	p.Go("/")
	p.Wait(`document.documentElement.dataset.carried`)
	require.Equal(t, 1, browser.Get[int](p, packsKept))
	s.Stop()
	begin(p, plan, "")
	hold(p)
	p.Errors()
}

// packsKept is how many packs the device carries.
const packsKept = `new Promise((done) => { const open = indexedDB.open("patientfox"); open.onsuccess = () => {
	const asked = open.result.transaction("packs").objectStore("packs").count(); asked.onsuccess = () => done(asked.result) } })`

// A device without room says so, keeps what it had, and goes on once there is room again.
func TestAFullDeviceLosesNothingThatItShowed(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	hold(p)
	saved(p)
	s.Stop()
	// Chromium's own bound cannot be set so low that a press meets it: the store refuses as it would.
	p.Eval(`window.own = IDBObjectStore.prototype.put; IDBObjectStore.prototype.put = function () {
		this.transaction.abort(); throw new DOMException("no room", "QuotaExceededError") }`)
	press(p)
	p.See("This device has no room left")
	require.Equal(t, "1 trial · 1 pay", p.Text("#log"))
	require.Equal(t, "idle", browser.Get[string](p, `patientfox.view.phase`))
	p.Eval(`IDBObjectStore.prototype.put = window.own`)
	hold(p)
	require.True(t, browser.Get[bool](p, `document.getElementById("full").hidden`))
	p.Errors()
	s.Start()
	saved(p)
	events, err := s.Store.Read().Events(ctx, browser.Get[string](p, `patientfox.session.id`))
	require.NoError(t, err)
	require.Len(t, events, 2+2*4)
}

// After an update the client that runs a session goes on as it is; the new build waits until none is open.
func TestANewBuildWaitsForTheSessionToEnd(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serveAt(t, o, "127.0.0.1:0", web.Options{Release: "old"})
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	carry(p)
	old := browser.Get[[]string](p, `caches.keys()`)
	require.Len(t, old, 1)
	begin(p, plan, "")
	hold(p)
	saved(p)
	s.Stop()
	s.With.Release = "new"
	s.Start()
	hold(p)
	saved(p)
	p.Errors()
	s.CatchUp(t) // or the page would show itself anew
	p.Go("/")
	p.See("was not ended")
	p.Eval(`window.seen = 0; navigator.serviceWorker.getRegistration().then((r) => r.update().then(() => setInterval(async () => {
		window.waits = Boolean(r.waiting); window.kept = (await caches.keys()).length }, 50)))`)
	p.Wait(`window.waits && window.kept === 2`)
	p.Go("/run?plan=" + plan)
	phase(p, "idle")
	require.Equal(t, "2 trials · 2 pays", p.Text("#log"))
	ends(p)
	saved(p)
	s.CatchUp(t)
	p.Go("/")
	p.Eval(`setInterval(async () => (window.kept = await caches.keys()), 50)`)
	p.Wait(`window.kept && window.kept.length === 1`)
	require.NotEqual(t, old, browser.Get[[]string](p, `caches.keys()`))
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	clean(t, p)
}

// A tab that is closed, and a browser that is gone, with events that were not sent: they wait on the device.
func TestATabClosedWithUnsentEvents(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	home := s.Page(browser.Phone)
	carry(home)
	p := home.Tab(browser.Phone)
	begin(p, plan, "")
	saved(p)
	s.Stop()
	hold(p)
	p.Close()
	s.Start()
	back := home.Tab(browser.Phone)
	defer back.Close()
	back.Go("/run?plan=" + plan)
	phase(back, "idle")
	require.Equal(t, "1 trial · 1 pay", back.Text("#log"))
	saved(back)
	home.Errors()

	// What waits when no session's page is open is sent from whatever page is, and that is said.
	s.Stop()
	hold(back)
	back.Close()
	s.Start()
	home.Go("/dogs")
	home.Wait(`document.querySelector("#unsaved strong").textContent === "Logged on this device: all saved."
		&& !document.querySelector("#unsaved a").hidden`)
	s.CatchUp(t)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Open, 1)
	events, err := s.Store.Read().Events(ctx, today.Open[0].Session)
	require.NoError(t, err)
	require.Len(t, events, 2+2*4)
	home.Follow("#unsaved a")
	require.True(t, browser.Get[bool](home, `document.getElementById("unsaved").hidden`))
	home.Errors()
}

// A clock that jumps, forward by days and back again, and days without a signal: the order of what was tapped holds, no
// time goes backwards, and a plan that is opened nine days later counts them.
func TestAClockThatJumpsAndDaysWithoutASignal(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	begin(p, plan, "")
	hold(p)
	for _, jump := range []time.Duration{49 * time.Hour, -100 * time.Hour, 51 * time.Hour} {
		p.Clock(jump)
		p.Go("/run?plan=" + plan)
		phase(p, "idle")
		hold(p)
	}
	require.Equal(t, "4 trials · 4 pays", p.Text("#log"))
	hold(p)
	phase(p, "deciding")
	press(p)
	phase(p, "idle")
	ends(p)
	session := browser.Get[string](p, `patientfox.session.id`)
	p.Clock(9 * 24 * time.Hour)
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	require.Contains(t, p.Text("#setup-start"), "9 days")
	require.Equal(t, "0.5 s, you beside", p.Text("#setup-step"))
	p.Errors()
	s.Start()
	saved(p)
	events, err := s.Store.Read().Events(ctx, session)
	require.NoError(t, err)
	var tapped []string
	last := int64(0)
	slices.SortFunc(events, func(a, b record.Event) int { return cmp.Compare(a.Seq, b.Seq) })
	for _, e := range events {
		require.GreaterOrEqual(t, e.T, last, "no time goes backwards")
		last = e.T
		if e.Kind == record.KCue || e.Kind == record.KTrial {
			tapped = append(tapped, string(e.Kind))
		}
	}
	require.Equal(t, slices.Repeat([]string{"cue", "trial"}, 5), tapped)
	require.Less(t, last, int64(13*3600*1000), "a session that was forgotten goes on after six hours")
	v, err := s.Review(ctx, session)
	require.NoError(t, err)
	require.Len(t, v.Table, 5)
}

// A session that an earlier build began is finished by this one: that build's own database and all that its phone kept, a trial
// unsent among it, as the build before errors, prompts and arousal left them (packs of version 3). Nothing of it is refused.
func TestASessionBegunByAnEarlierBuildIsFinished(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Open(t, practicetest.Unpack(t, "testdata/earlier.db.gz")))
	kept, err := os.ReadFile("testdata/earlier-device.json")
	require.NoError(t, err)
	var device struct{ Plan string }
	require.NoError(t, json.Unmarshal(kept, &device))
	p := s.Page(browser.Phone)
	carry(p)
	browser.Get[bool](p, `(async () => {
		const { stores } = `+string(kept)+`, open = indexedDB.open("patientfox");
		const db = await new Promise((done) => (open.onsuccess = () => done(open.result)));
		const tx = db.transaction(Object.keys(stores), "readwrite");
		for (const [name, rows] of Object.entries(stores)) for (const row of rows) tx.objectStore(name).put(row);
		await new Promise((done) => (tx.oncomplete = done));
		db.close();
		return true })()`)
	p.Go("/run?plan=" + device.Plan)
	phase(p, "idle")
	require.Equal(t, "3 trials · 3 pays", p.Text("#log"))
	hold(p)
	ends(p)
	saved(p)
	require.Empty(t, browser.Get[[]any](p, `patientfox.keep.refused()`))
	s.CatchUp(t)
	v, err := s.Plan(ctx, device.Plan)
	require.NoError(t, err)
	require.Len(t, v.Sessions, 1)
	review, err := s.Review(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.Len(t, review.Table, 4)
	require.Equal(t, pack.Version, browser.Get[int](p, `patientfox.keep.get("packs", "`+device.Plan+`").then((pack) => pack.v)`),
		"what it leaves is of this version")
	clean(t, p)
}

// What the server refuses is said on every page, and can be looked at, saved as a file, sent again and let go.
func TestWhatIsRefusedCanBeLookedAtSavedAndLetGo(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	hold(p)
	browser.Get[bool](p, `(async () => {
		const { keep, sender, session } = patientfox;
		const bad = [{ kind: "trial", data: { outcome: "✨ “odd”, <b>&" } }, { kind: "count", data: { what: "pull", n: -3 } }];
		await keep.store(keep.stamp(bad, { session: session.id, t: 900, by: "", handler: "" }));
		sender.kick();
		return true })()`)
	ends(p)
	p.See("All else saved · 2 refused: ")
	p.Go("/dogs")
	p.See("2 refused: there is no outcome")
	p.Follow("#unsaved [data-refused]")
	p.See("What the server refused")
	axe(t, p, "refused")
	require.Equal(t, 2, browser.Get[int](p, `document.querySelectorAll("#refused-list > li").length`))
	require.Contains(t, p.Text("#refused-list"), "Tansy")

	require.True(t, strings.HasPrefix(browser.Get[string](p, `document.getElementById("refused-file").href`), "blob:"))
	file := browser.Get[string](p, `(async () => {
		const { src } = document.querySelector('script[src*="/run/run.js"]');
		return (await import(new URL("refused.js", src))).lines(await patientfox.keep.refused()) })()`)
	require.Equal(t, 2, strings.Count(file, "\n"))
	require.Contains(t, file, "✨ “odd”, <b>&")
	require.Contains(t, file, `"why":"`)

	p.Eval(`const { fetch } = window; window.posts = 0; window.fetch = (...asked) => fetch(...asked).finally(() => (window.posts += 1))`)
	p.Click("#refused-again")
	p.Wait(`window.posts > 0 && document.querySelectorAll("#refused-list > li").length === 2 && !patientfox.sender.count`)
	for left := 1; left >= 0; left-- {
		p.Click("#refused-list > li:first-child details:last-child summary")
		p.Click("#refused-list > li:first-child details button")
		p.Wait(fmt.Sprintf(`document.querySelectorAll("#refused-list > li").length === %d`, left))
	}
	p.See("Nothing that was logged here is refused.")
	p.Wait(`document.querySelector("[data-saved]").textContent === "All saved"`)
	p.Wait(`document.getElementById("refused-actions").hidden && !document.querySelector("[data-refused]:not([hidden])")`)
	clean(t, p)
}
