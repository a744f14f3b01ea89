package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// The simulated remote types into the running session; which key does what is set on the phone and stays set.
func TestTheSimulatedRemoteAndItsKeys(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	remote := p.Tab(browser.Phone)
	defer remote.Close()
	remote.Go("/remote")
	axe(t, remote, "simulated remote")
	remote.Click(`[data-press="PageDown"]`)
	phase(p, "trying")
	p.Wait(`patientfox.view.dial.full`)
	require.Equal(t, "full", browser.Get[string](p, `document.getElementById("run").dataset.told`), "the hold is complete: heard and felt")
	remote.Click(`[data-press="PageDown"]`)
	p.Wait(`patientfox.view.log.startsWith("1 trial")`)

	p.Eval(`document.querySelector(".more").open = true`)
	p.Click("#ways-open")
	axe(t, p, "screen, sound and remote")
	p.Click(`[aria-label="Set a key: Slow"]`)
	p.See("Press the key for “Slow”")
	remote.Click(`[data-press="F5"]`)
	p.See("F5 is set.")
	p.Click("#ways-back")
	remote.Click(`[data-press="F5"]`)
	p.Wait(`patientfox.view.set.places[1].outcome === "late"`)
	p.Go("/run?plan=" + plan) // at once: what was shown is kept, however soon the page is left
	phase(p, "idle")
	remote.Click(`[data-press="F5"]`)
	p.Wait(`patientfox.view.set.places[2].outcome === "late"`)
	clean(t, p)
	clean(t, remote)
}

// In the pocket nothing is touched by mistake, keys still work, and a long press comes back; light and sounds stay as
// they were set.
func TestThePocketAndTheLight(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	p.Eval(`document.querySelector(".more").open = true`)
	p.Click("#ways-open")
	p.Choose("#light", "Dusk")
	axe(t, p, "screen at dusk")
	p.Click("#pocket-on")
	p.Wait(`!document.getElementById("pocket").hidden`)
	p.Touch("#pocket")
	require.Equal(t, "idle", browser.Get[string](p, `patientfox.view.phase`))
	p.Keys("1")
	p.Wait(`patientfox.view.log.startsWith("1 trial")`)
	p.Eval(`document.getElementById("pocket-off").dispatchEvent(new PointerEvent("pointerdown", { bubbles: true }))`)
	p.Wait(`document.getElementById("pocket").hidden`)
	p.Go("/run?plan=" + plan)
	phase(p, "idle")
	require.Equal(t, "dusk", browser.Get[string](p, `document.documentElement.dataset.light`))
	axe(t, p, "run at dusk")
	clean(t, p)
}

// The way out, the guided recovery and the tally, by thumb; the session that went home says so.
func TestTheWayOutAndTheTally(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "30")
	p.Eval(`document.querySelector(".more").open = true`)
	p.Click("#tally-open")
	p.Fill("#tally-met", "4")
	p.Click("#tally-keep")
	p.See("They make 4; a set of this plan has 5.")
	axe(t, p, "tally")
	p.Fill("#tally-missed", "1")
	p.Click("#tally-keep")
	p.Wait(`patientfox.view.log.startsWith("5 trials")`)
	p.Click("#exit")
	p.See("Feed while leaving")
	axe(t, p, "way out")
	for _, panel := range []string{"exit", "end", "ways-open", "turn-open"} { // the keyboard's way out of each is one
		p.Eval(`document.getElementById("board").hidden || document.getElementById("` + panel + `").click()`)
		p.Wait(`document.getElementById("board").hidden`)
		p.Keys(kb.Escape)
		p.Wait(`!document.getElementById("board").hidden`)
	}
	p.Click("#exit")
	p.Click(`[data-exit="recover"]`)
	phase(p, "recovering")
	p.See("Go further off")
	axe(t, p, "recovery")
	p.Wait(`!patientfox.view.rests`)
	p.Click(`[data-key="home"]`)
	p.See("that was enough for today")
	p.Wait(`!patientfox.view.rests`)
	p.Click(mainKey)
	p.Wait(`!document.getElementById("closing").hidden`)
	require.Equal(t, "stop", browser.Get[string](p, `document.getElementById("reason").value`))
	p.Fill("#tags", "Wind, people , wind")
	p.Click("#closing-end")
	p.See("The session is over")
	saved(p)
	s.CatchUp(t)
	v, err := s.Sessions(ctx, dog, "")
	require.NoError(t, err)
	review, err := s.Review(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.Equal(t, "wind, people", review.Tags)
	clean(t, p)
}

// With one thumb and no keyboard: conditions are touched before the session and shown after it; what was behind a miss
// comes first among the further keys, with its caution; numbers are counted up and down.
func TestWordsAndNumbersWithoutAKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Click("#setup-more summary")
	p.Click("#how button:nth-child(1)")
	p.See("too hot for paws")
	axe(t, p, "how it is there")
	p.Fill("#pieces", "20")
	p.Click("#begin")
	phase(p, "idle")
	hold(p)
	require.True(t, browser.Get[bool](p, `document.getElementById("tells").hidden`))
	press(p)
	phase(p, "trying")
	p.Click(`#row [data-key="missed"]`)
	phase(p, "idle")
	p.Click(".more summary")
	p.See("The last one: missed")
	p.Wait(`document.querySelector("#holds option")`)
	p.Choose("#tell-broke", "a sound")
	p.Choose("#tell-after", "leash or collar correction")
	p.See("recorded, not advised")
	p.Choose("#tell-after", "waited")
	p.Wait(`document.getElementById("tells-care").hidden`)
	p.Click("#end")
	p.Wait(`document.querySelector("#tag-words button")?.getAttribute("aria-pressed") === "true"`)
	p.Click("#tag-words button:nth-child(8)")
	p.Click(`[aria-label="One more: about how many trials were not logged"]`)
	p.Click(`[aria-label="One less: treats left"]`)
	require.Equal(t, "18", browser.Get[string](p, `document.getElementById("left").value`))
	axe(t, p, "after a block")
	p.Click("#closing-end")
	p.See("The session is over")
	saved(p)
	v, err := s.Review(ctx, browser.Get[string](p, `patientfox.session.id`))
	require.NoError(t, err)
	require.Equal(t, "hot, noise", v.Tags)
	require.Equal(t, "waited", v.Table[1].After)
	require.Contains(t, v.Table[1].Measure, "a sound")
	require.Equal(t, "67 %", v.Logged)
	clean(t, p)
}

// What keeps a plan from starting is said before it, with what to do instead; who cleared it is kept.
func TestASafetyFlagKeepsAPlanFromStarting(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Quill", "flags": "Has bitten when his ears were touched"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Ear drops", "kind": "handling", "position": "stands and may leave", "leg1_make": "figures",
		"leg1_what": "duration", "leg1_items": "1, 2",
	})
	require.NoError(t, err)
	p := s.Page(browser.Phone)
	p.Go("/run?plan=" + plan)
	p.See("certified behaviour professional first")
	axe(t, p, "ruled out")
	p.Click("#begin")
	p.See("Say who cleared it")
	p.Fill("#cleared-by", "Dr. Ferrow, 20 November")
	p.Click("#begin")
	phase(p, "idle")
	axe(t, p, "handling")
	p.Go("/plans/" + plan)
	p.See("its flags speak of biting")
	clean(t, p)
}

// What fails on Run is shown, and can be tried again; the way out opens whatever happens, and nothing is switched that was not
// kept.
func TestFailuresOnRunAreShown(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	p.Go("/")
	begin(p, plan, "")
	hold(p)
	shown := `!document.getElementById("trouble").hidden`
	p.Eval(`window.asks = patientfox.core.ask.bind(patientfox.core); patientfox.core.ask = (method, ...rest) =>
		["exits", "tell"].includes(method) ? Promise.reject(new Error("a fault")) : window.asks(method, ...rest)`)
	p.Click("#exit")
	p.Wait(`!document.getElementById("exits").hidden`)
	p.Wait(shown)
	p.Click(`[data-exit=""]`)
	p.Wait(`!document.getElementById("board").hidden`)
	p.Eval(`document.querySelector(".more").open = true`)
	p.Wait(`document.getElementById("holds").options.length > 0`)
	p.Eval(`const tell = document.querySelector("[data-tell]"); tell.selectedIndex = 1; tell.dispatchEvent(new Event("change"))`)
	p.Wait(shown + ` && document.getElementById("trouble").textContent.includes("a fault")`)
	handler := browser.Get[string](p, `patientfox.session.handler`)
	p.Eval(`patientfox.keep.put = () => Promise.reject(new Error("nothing is kept"))`)
	p.Eval(`const holds = document.getElementById("holds"); holds.append(new Option("Somebody", "somebody")); holds.value = "somebody";
		holds.dispatchEvent(new Event("change"))`)
	p.Wait(`document.getElementById("trouble").textContent.includes("nothing is kept")`)
	require.Equal(t, handler, browser.Get[string](p, `patientfox.session.handler`))
	require.Equal(t, handler, browser.Get[string](p, `document.getElementById("holds").value`))
	p.Eval(`patientfox.core.ask = window.asks; document.querySelector(".more").open = false`)
	hold(p)
}

// After a panel was opened and used, by touch or by keyboard, each key is the board's again: a space, a number, a remote's.
func TestKeysAreTheBoardsAfterAPanel(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "20")
	p.Touch(".more summary")
	p.Wait(`document.querySelector(".more").open`)
	p.Keys(" ")
	phase(p, "trying")
	p.Keys("4")
	phase(p, "idle")
	p.Wait(`document.querySelector("#holds option")`)
	p.Choose("#tell-source", "handler")
	p.Wait(`document.activeElement.dataset.key === "main" && !patientfox.view.rests`)
	p.Keys(" ")
	phase(p, "trying")
	p.Wait(`patientfox.view.dial.full`)
	p.Keys("3") // which helps, and the trial goes on
	p.Wait(`patientfox.view.row.some((key) => key.label === "Helped 1")`)
	p.Keys("1")
	phase(p, "idle")
	p.Eval(`document.getElementById("tell-source").focus()`)
	p.Wait(`!patientfox.view.rests`)
	p.Keys(" ") // a list takes no key that was meant for the board
	phase(p, "trying")
	require.Equal(t, "", browser.Get[string](p, `document.getElementById("tell-source").value`))
	p.Wait(`patientfox.view.dial.full`)
	p.Keys("2")
	phase(p, "idle")
	p.Touch(".more summary")
	p.Wait(`!document.querySelector(".more").open && !patientfox.view.rests`)
	p.Keys("2")
	p.Wait(`patientfox.view.log.startsWith("4 trials")`)
	saved(p)
	v, err := s.Review(ctx, browser.Get[string](p, `patientfox.session.id`))
	require.NoError(t, err)
	for i, want := range []string{"missed", "helped", "late", "late"} {
		require.Equal(t, want, v.Table[i].Outcome)
	}
	require.Equal(t, "handler", v.Table[0].Source)
	clean(t, p)
}

// A session that was begun and left is not forgotten: the set-up of another skill says so, and leads back to it.
func TestASetUpSaysWhichSessionIsStillOpen(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	other, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Settle on deck", "kind": "held", "position": "lies down", "leg1_make": "figures", "leg1_what": "duration", "leg1_items": "1, 2",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	hold(p)
	saved(p)
	p.Go("/run?plan=" + other)
	p.Wait(`!document.getElementById("setup").hidden && !document.getElementById("still-open").hidden`)
	axe(t, p, "set-up beside an open session")
	p.Follow("#still-open-link")
	phase(p, "idle")
	require.Contains(t, p.Text("#skill"), "Wait at the ramp")
	clean(t, p)
}

// What the set-up really is, is one press before a trial, and stands with the trial.
func TestAsWorkedIsOnePress(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Pilchard"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Come away from dropped chips", "kind": "cued", "position": "at your knee", "latency_s": "3", "leg1_make": "figures",
		"leg1_what": "handler", "leg1_items": "2, 4, 8",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	p.Touch(".more summary")
	p.Wait(`document.querySelector("#worked-list button")`)
	for range 3 {
		p.Click(`[aria-label="More: Your distance"]`)
	}
	p.Wait(`document.getElementById("worked-list").textContent.includes("3.5 m")`)
	axe(t, p, "as worked")
	p.Keys("4")
	p.Wait(`patientfox.view.log.startsWith("1 trial")`)
	saved(p)
	v, err := s.Review(ctx, browser.Get[string](p, `patientfox.session.id`))
	require.NoError(t, err)
	require.Contains(t, v.Table[0].Note, "3.5 m")
	clean(t, p)
}

// A device remembers with which plans a deck is dealt.
func TestADeckStaysDealt(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	require.NoError(t, s.SaveDeck(ctx, plan, form.Typed{"deck_intensity": "1, 3", "version": "1"}))
	p := s.Page(browser.Phone)
	for _, dealt := range []bool{false, true} {
		p.Go("/run?plan=" + plan)
		p.Wait(`!document.getElementById("setup").hidden`)
		require.Equal(t, dealt, browser.Get[bool](p, `document.getElementById("deck").checked`))
		if !dealt {
			p.Click("#deck")
			browser.Get[bool](p, `(async () => {
				while (!(await patientfox.keep.get("meta", "dealt"))) await new Promise((done) => requestAnimationFrame(done));
				return true })()`)
		}
	}
	p.Click("#begin")
	phase(p, "idle")
	p.See("card of the deck")
	clean(t, p)
}
