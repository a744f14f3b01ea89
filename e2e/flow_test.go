package e2e_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

const mainKey = `[data-key="main"]`

func phase(p *browser.Page, wanted string) {
	p.Wait(fmt.Sprintf(`window.patientfox && patientfox.view && patientfox.view.phase === %q && !document.getElementById("board").hidden`,
		wanted))
}

// begin opens a plan's Run screen and begins a session.
func begin(p *browser.Page, plan, pieces string) {
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	if pieces != "" {
		p.Fill("#pieces", pieces)
	}
	p.Click("#begin")
	phase(p, "idle")
}

// press presses the large key once it takes presses again.
func press(p *browser.Page) {
	p.Wait(`!patientfox.view.rests`)
	p.Click(mainKey)
}

// hold starts a hold, waits until it is complete, and marks.
func hold(p *browser.Page) {
	press(p)
	p.Wait(`patientfox.view.phase === "trying" && patientfox.view.dial.full`)
	press(p)
	p.Wait(`patientfox.view.phase !== "trying"`)
	kept(p)
}

// kept waits until what was pressed is written down on the device: the screen is drawn a few milliseconds before.
func kept(p *browser.Page) { browser.Get[bool](p, `patientfox.queue.then(() => true)`) }

// ends ends the session.
func ends(p *browser.Page) {
	p.Click("#end")
	p.Click("#closing-end")
	p.See("The session is over")
}

func saved(p *browser.Page) { p.Wait(`document.getElementById("run").dataset.waiting === "0"`) }

// The whole way on an empty practice: add a dog, say what right is, lay out steps, run a set of five,
// take the verdict, and find the next session one step up.
func TestFromADogToTheNextStep(t *testing.T) {
	for name, size := range map[string]browser.Size{"laptop": browser.Laptop, "phone": browser.Phone} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := serve(t, practicetest.Empty(t))
			p := s.Page(size)
			p.Go("/")
			p.Follow(`main a[href="/dogs/new"]`)
			p.Follow(`main form button`)
			p.See("Give the dog a name.")
			p.Errors() // the browser notes the 422 as a failed load
			p.Fill("#f-name", "Tansy 🐾")
			p.Follow(`main form button`)
			p.See("What first?")
			p.Follow(`main a[href$="/plans/new"]`)
			p.See("What to teach Tansy")
			p.Follow(`main a[href$="kind=held"]`)
			p.Fill("#f-skill", "Wait at the ramp")
			p.Fill("#f-position", "all four feet behind the ramp's lip")
			p.Fill("#f-cue", "“wait”")
			p.Choose("#f-leg1_make", "Figures of your own")
			p.Fill("#f-leg1_items", "0.5, 1, 2")
			p.See("3 steps")
			p.Follow(`main form .btn.now`)
			p.See("All four feet behind the ramp's lip")
			p.See("Opens at the first step.")
			plan := strings.TrimPrefix(p.Path(), "/plans/")

			p.Go("/")
			p.See("0.5 s, you beside")
			p.Follow(`a[href="/run?plan=` + plan + `"]`)
			p.Wait(`!document.getElementById("setup").hidden`)
			p.Fill("#pieces", "many")
			p.Click("#begin")
			p.See("A whole number from 0 to 5000")
			p.Fill("#pieces", "30")
			p.Click("#begin")
			phase(p, "idle")
			for range 5 {
				hold(p)
			}
			phase(p, "deciding")
			require.Equal(t, "5 of 5 met. None reported missing.", p.Text("#verdict-why"))
			require.Contains(t, p.Text(mainKey), "Step up")
			p.Click("#reckoning summary")
			p.See("By these trials alone")
			press(p)
			phase(p, "idle")
			require.Equal(t, "1 s, you beside", p.Text("#step"))
			p.Click("#end")
			p.Fill("#unlogged", "ten")
			p.Click("#closing-end")
			p.See("A whole number from 0 to 500")
			p.Fill("#unlogged", "1")
			p.Fill("#left", "24")
			p.See("1 treat more eaten than paid in the log")
			p.Fill("#next", "nearer the water")
			p.Click("#closing-end")
			p.See("The session is over")
			saved(p)
			p.Follow("#review")
			p.See("One step up")
			p.See("5 of 5, likely 57–100 %")
			p.See("83 %")
			p.See("6 treats eaten, 5 paid in the log.")
			p.See("nearer the water")

			p.Go("/run?plan=" + plan)
			p.Wait(`!document.getElementById("setup").hidden`)
			require.Equal(t, "1 s, you beside", p.Text("#setup-step"))
			p.Go("/plans/" + plan)
			p.See("Step 2: 1 s, you beside")
			clean(t, p)
		})
	}
}

func TestOverrulingUndoAndNotesByKeyboardAlone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Laptop)
	begin(p, plan, "")
	p.Eval(`document.activeElement.blur()`)
	key := func(key, expect string) {
		p.Wait(`!patientfox.view.rests`)
		p.Keys(key)
		p.Wait(expect)
	}
	key(" ", `patientfox.view.phase === "trying"`)
	key("4", `patientfox.view.log.startsWith("1 trial")`)
	key("z", `patientfox.view.phase === "trying"`)
	p.Wait(`patientfox.view.dial.full`)
	key(" ", `patientfox.view.set.places[0].outcome === "met" && patientfox.view.set.places[0].paid`)
	for i := 2; i <= 5; i++ {
		key("1", fmt.Sprintf(`patientfox.view.log.startsWith("%d trial")`, i))
	}
	phase(p, "deciding")
	p.Click(`[data-key="stay"]`)
	phase(p, "idle")
	require.Equal(t, "0.5 s, you beside", p.Text("#step"))
	key("b", `patientfox.view.phase === "paused"`)
	key("b", `patientfox.view.phase === "idle"`)
	p.Keys("n")
	p.Fill("#note-text", "gull on the 🛟 rail שלום")
	p.Keys("\x1b")
	p.Wait(`document.getElementById("note").hidden && document.activeElement.dataset.key === "main"`)
	p.Keys("n")
	require.Contains(t, browser.Get[string](p, `document.getElementById("note-text").value`), "gull on the 🛟 rail שלום",
		"what was typed waits")
	p.Fill("#note-text", "gull on the 🛟 rail שלום")
	p.Click("#note-save")
	p.Wait(`document.getElementById("note").hidden && document.activeElement.dataset.key === "main"`)
	ends(p)
	saved(p)
	p.Follow("#review")
	p.See("Overruled: stayed.")
	p.See("gull on the 🛟 rail שלום")
	clean(t, p)
}

func TestALostSignalLosesNothing(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "20")
	hold(p)
	saved(p)
	s.Stop()
	hold(p)
	hold(p)
	p.Wait(`document.querySelector("#board [data-saved]").textContent.startsWith("No signal · ")`)
	require.Equal(t, "3 trials · 17 treats left", p.Text("#log"))
	p.Errors() // the browser notes each try that failed
	s.Start()
	saved(p)
	require.Equal(t, "All saved", p.Text("#board [data-saved]"))
	p.Click("#end")
	s.Stop()
	p.Click("#closing-end")
	p.See("The session is over")
	p.See("not in it yet")
	p.Errors()
	s.Start()
	saved(p)
	p.Follow("#review")
	p.See("3 of 3, likely")
}

func TestAReloadedPageGoesOnWhereItWas(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "20")
	hold(p)
	hold(p)
	s.Stop() // what was just logged may not have been sent
	hold(p)
	s.Start()
	p.Go("/run?plan=" + plan)
	phase(p, "idle")
	require.Equal(t, "3 trials · 17 treats left", p.Text("#log"))
	hold(p)
	require.Equal(t, "4 trials · 16 treats left", p.Text("#log"))
	saved(p)
	p.Click("#end")
	p.Click("#tag-words button")
	require.Equal(t, "hot", browser.Get[string](p, `document.getElementById("tags").value`))
	p.Go("/")
	p.See("was not ended")
	p.Errors()
}

// Two dogs in turn on one phone: what is left for the other one is at rest meanwhile.
func TestASessionRestsWhileAnotherOneRuns(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	one, _ := s.LayOut(t, "0.5, 1, 2")
	other, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, one, "20")
	hold(p)
	left := browser.Get[int](p, `patientfox.keep.eventsOf(patientfox.session.id).then((rows) => Math.max(...rows.map(({ t }) => t)))`)
	begin(p, other, "20")
	hold(p)
	p.Clock(2 * time.Minute)
	p.Go("/run?plan=" + one)
	phase(p, "idle")
	rests := browser.Get[[]int](p, `patientfox.keep.eventsOf(patientfox.session.id)
		.then((rows) => rows.filter(({ kind }) => ["pause", "resume"].includes(kind)).map(({ t }) => t))`)
	require.Len(t, rests, 2)
	require.Equal(t, left+2000, rests[0])
	require.Greater(t, rests[1], 120_000)
	hold(p)
	p.Go("/run?plan=" + one) // loaded again, nothing else in between
	phase(p, "idle")
	require.Equal(t, 2, browser.Get[int](p, `patientfox.keep.eventsOf(patientfox.session.id)
		.then((rows) => rows.filter(({ kind }) => ["pause", "resume"].includes(kind)).length)`))
	ends(p)
	saved(p)
	p.Follow("#review")
	p.See("2 of 2, likely")
	require.NotContains(t, p.Text("main"), "nothing was paid for")
	clean(t, p)
}

func TestOneTabAtATimeRunsASession(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	first := s.Page(browser.Phone)
	begin(first, plan, "20")
	hold(first)
	second := first.Tab(browser.Phone)
	defer second.Close()
	second.Go("/run?plan=" + plan)
	second.See("This session runs in another tab")
	second.Click("#take-over")
	phase(second, "idle")
	hold(second)
	require.Equal(t, "2 trials · 18 treats left", second.Text("#log"))
	require.True(t, browser.Get[bool](first, `patientfox.away && !document.getElementById("elsewhere").hidden`))
	saved(second)
	clean(t, second)
}

// What waited long weighs more than one request may: it goes in several.
func TestLongNotesThatWaitedAreSentInParts(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	saved(p)
	s.Stop()
	for range 9 {
		p.Eval(`document.getElementById("note-open").click(); document.getElementById("note-text").value = "🦊".repeat(10000)`)
		p.Click("#note-save")
		p.Wait(`document.getElementById("note").hidden`)
	}
	p.Eval(`document.getElementById("note-open").click(); document.getElementById("note-text").value = "🦊".repeat(10001)`)
	p.Click("#note-save")
	p.See("10001 characters; at most 10000. Nothing is lost")
	p.Errors()
	s.Start()
	saved(p)
	events, aside, err := s.Store.Read().EventCount(ctx)
	require.NoError(t, err)
	require.Equal(t, 11, events)
	require.Zero(t, aside)
}

// One tab sends for all: what a second tab logs reaches the server while the first holds the line, and no sequence number
// is given twice.
func TestATabThatDoesNotSendIsSentFor(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	other, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Chin rest", "kind": "held", "position": "chin on the palm", "leg1_make": "figures", "leg1_what": "duration",
		"leg1_items": "0.5, 1",
	})
	require.NoError(t, err)
	first := s.Page(browser.Phone)
	begin(first, plan, "")
	saved(first)
	second := first.Tab(browser.Phone)
	defer second.Close()
	begin(second, other, "")
	hold(second)
	saved(second)
	require.Equal(t, "All saved", second.Text("#board [data-saved]"))
	hold(first)
	hold(first)
	saved(first)
	require.Equal(t, "2 trials · 2 pays", first.Text("#log"))
	given := map[int64]bool{}
	for _, tab := range []*browser.Page{first, second} {
		events, err := s.Store.Read().Events(ctx, browser.Get[string](tab, `patientfox.session.id`))
		require.NoError(t, err)
		for _, e := range events {
			require.False(t, given[e.Seq], e.Seq)
			given[e.Seq] = true
		}
	}
	require.Len(t, given, 2+2+3*4)
	clean(t, first)
	clean(t, second)
}

func TestDoubleClicksCountOnce(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	p := s.Page(browser.Laptop)
	p.Go("/dogs/new")
	p.Fill("#f-name", "Pilchard")
	p.Eval(`const b = document.querySelector("main form button"); b.click(); b.click()`)
	p.Wait(`document.readyState === "complete" && location.pathname !== "/dogs/new"`)
	v, err := s.Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, v.Dogs, 1)
}

func TestStepsAreEditedAndUndone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 8")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.Fill("#f-step-duration", "-3")
	p.Follow(`button[value="save"]`)
	p.See("Duration takes 0.5 to 7200 s.")
	p.Errors()
	p.Fill("#f-step-duration", "3")
	p.Fill("#f-step-trigger", "30")
	p.Fill("#f-step-trig", "gulls")
	p.Follow(`button[value="save"]`)
	p.See("Step 1: 3 s, you beside, gulls at 30 m")
	p.Follow(`button[value="add"]`)
	p.See("Step 2: 3 s, you beside, gulls at 30 m")
	p.Follow(`button[value="remove"]`)
	p.See("The steps were changed.")
	p.Follow(`form[action$="/undo"] button`)
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Steps, 3)
	clean(t, p)
}
