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
	"patientfox/internal/web"
)

// dogNamed finds a dog of the demo.
func dogNamed(t *testing.T, s *server, name string) string {
	t.Helper()
	v, err := s.Dogs(ctx, "")
	require.NoError(t, err)
	for _, d := range v.Dogs {
		if d.Name == name {
			return d.ID
		}
	}
	require.Fail(t, "no such dog")
	return ""
}

// From two dogs without a larder to a day that is planned and packed, and one session worked from its sheet until the
// pieces are gone.
func TestFromATasteToASheetWorked(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	other, err := s.AddDog(ctx, form.Typed{"name": "Brine", "weight_kg": "11"})
	require.NoError(t, err)
	_, err = s.AddPlan(ctx, other, form.Typed{
		"skill": "Nose to the bollard", "kind": "held", "position": "nose on the ring", "leg1_make": "figures",
		"leg1_what": "duration", "leg1_items": "1, 2",
	})
	require.NoError(t, err)

	p := s.Page(browser.Phone)
	p.Go("/dogs/" + dog + "/rewards")
	for _, food := range []string{"Sprat halves", "Cheese rind", "Kibble"} {
		p.Fill("#f-new-name", food)
		p.Fill("#f-new-kcal", "0")
		if food == "Sprat halves" {
			p.Follow("#add .btn")
			p.See("No food has 0 kcal.")
			require.Equal(t, food, browser.Get[string](p, `document.getElementById("f-new-name").value`))
			p.Errors() // the browser notes the 422 as a failed load
		}
		p.Fill("#f-new-kcal", "1.5")
		p.Fill("#f-new-grams", "0.5")
		p.Follow("#add .btn")
		p.See(food)
	}

	// A dog that takes what is first in this list, whichever side it lies on.
	taste := []string{"Sprat halves", "Cheese rind", "Kibble"}
	p.Follow("#test form .btn")
	offers, told := 0, false
	for ; offers < 40; offers++ {
		if !browser.Get[bool](p, `Boolean(document.querySelector("button.choice"))`) {
			if !strings.Contains(p.Text("h1"), "Not sure yet") {
				told = true
				break
			}
			p.Follow(`a[href$="?more=1"]`)
			continue
		}
		left, right := p.Text(`button[value="left"]`), p.Text(`button[value="right"]`)
		took := "left"
		for i := len(taste) - 1; i >= 0; i-- {
			if strings.Contains(left, taste[i]) {
				took = "left"
			} else if strings.Contains(right, taste[i]) {
				took = "right"
			}
		}
		if offers == 1 {
			axe(t, p, "preference, an offer")
			p.Follow(`form[action$="/undo"] button`)
			p.See("Offer 1 of 6")
		}
		p.Follow(fmt.Sprintf(`button[value=%q]`, took))
	}
	require.True(t, told, "never sure")
	axe(t, p, "preference, what it says")
	require.Greater(t, offers, 6, "six offers are not enough to be sure")
	clean(t, p)
	p.Follow(`form[action$="/take"] button`)
	first := p.Text("main section .rows")
	require.Contains(t, first, "Sprat halves", "the best on top")

	// The day of two dogs, by one press each.
	for _, one := range []struct{ dog, minutes, start string }{{dog, "10", "9:00"}, {other, "8", "9:05"}} {
		p.Go("/dogs/" + one.dog + "/sheets/new")
		p.Fill("#f-minutes", "-3")
		p.Follow("main form .btn.now")
		p.See("2 to 90 minutes, in figures.")
		p.Fill("#f-minutes", one.minutes)
		p.Fill("#f-start", one.start)
		p.Follow("main form .btn.now")
		if one.dog == other {
			p.See("Another time, or another handler.")
			p.Fill("#f-start", "9:30")
			p.Follow("main form .btn.now")
		}
		p.See("If it falls apart")
		p.Errors()
	}
	p.Go("/")
	p.See("To pack")
	p.See("Cheese rind")
	p.See("10 % of the day")
	clean(t, p)

	// Worked from its sheet.
	p.Follow(`a[href^="/run?sheet="]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.See("Warm-up, Wait at the ramp and an easy finish.")
	p.Fill("#pieces", "10")
	p.Click("#begin")
	phase(p, "warming")
	axe(t, p, "warm-up")
	for _, next := range []string{"Say its name", "It looks", "Throw a treat", "It is back", "It ate it"} {
		press(p)
		p.Wait(`patientfox.view.main.label === "` + next + `"`)
	}
	p.Click(`[data-key="late"]`)
	p.Wait(`patientfox.view.set.places[3].outcome === "late"`)
	for n := range 2 { // no answer to the easy cues
		p.Click(`[data-key="missed"]`)
		p.Wait(fmt.Sprintf(`patientfox.view.set.places[%d].outcome === "missed"`, 4+n))
	}
	phase(p, "deciding")
	require.Contains(t, p.Text(mainKey), "Work further off")
	p.Click(`[data-key="go"]`)
	phase(p, "idle")
	p.See("7 treats left")
	p.See("Block 1 of 1")
	clean(t, p)
	for range 4 {
		hold(p)
	}
	p.See("the reserve: finish with an easy one.")
	axe(t, p, "pieces gone")
	p.Click("#end")
	p.Wait(`document.getElementById("part").options.length > 1`)
	p.Choose("#part", "Finish: Wait at the ramp")
	p.Fill("#left", "3")
	p.Click("#closing-another")
	phase(p, "idle")
	hold(p)
	p.Wait(`patientfox.view.log.startsWith("5 trials")`)
	p.Click("#end")
	p.Fill("#left", "0")
	p.Click("#closing-end")
	p.See("The session is over")
	saved(p)
	p.Follow("#review")
	p.See("Against its plan")
	axe(t, p, "a session beside its plan")
	p.See("Readiness: a look, food taken, neither of two cues within 3 s")
	clean(t, p)
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 4, v.Evidence.N, "the easy one at the end is in no rate, nor the warm-up")
	require.Contains(t, v.Evidence.Cold, "1 of 1", "a warm-up leaves the first trial cold")
	p.Go("/dogs/" + dog + "/food")
	p.See("Wait at the ramp")
	clean(t, p)
}

// A sheet prints on one page, and its button asks the browser for it.
func TestASheetPrintsOnOnePage(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	s.CatchUp(t)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	longest := today.Slots[0]
	for _, slot := range today.Slots {
		if len(slot.Skills) > len(longest.Skills) {
			longest = slot
		}
	}
	p.Go("/sheets/" + longest.ID)
	p.Eval(`window.print = () => { window.printed = true; }`)
	p.Click(`button[x-data]`)
	p.Wait(`window.printed === true`)
	require.Equal(t, 1, p.PDFPages())
	clean(t, p)
}

// The pay of a plan: what the trials allow, a step that is not paid for what it brings in, and a schedule by hand.
func TestPayIsReadMendedAndChanged(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + demoPlan(t, s, "Tansy", "Wait at the ramp") + "/pay")
	p.See("A trial takes")
	p.Follow(`#steps p a.link`)
	p.See("they go up before the difficulty does")
	p.Follow(`button[value="mend"]`)
	p.Wait(`!document.querySelector('button[value="mend"]')`)
	p.See("very good (tier 4)")
	p.See("Its own pay")

	p.Eval(`document.querySelectorAll("details.edit").forEach((d) => (d.open = true))`)
	p.Choose("#f-plan-schedule", "one in k, unforeseen")
	p.Fill("#f-plan-k", "6")
	p.Click(`input[name="thin"]`)
	p.Follow(`form[action$="/pay"] button[value="save"]`)
	p.See("Thinning goes by rungs")
	require.Equal(t, "6", browser.Get[string](p, `document.getElementById("f-plan-k").value`))
	p.Errors() // the browser notes the 422
	p.Fill("#f-plan-k", "4")
	p.Follow(`form[action$="/pay"] button[value="save"]`)
	p.See("on the way to one in four")
	p.Wait(`document.querySelectorAll(".schedule .shape").length === 20`)
	clean(t, p)
}

// A week by one press, by keyboard alone, and taken back.
func TestAWeekIsPlannedByKeyboard(t *testing.T) {
	t.Parallel()
	// Under the race detector, beside another test, the arithmetic of a week takes longer than a request may take.
	s := serveAt(t, practicetest.Demo(t), "127.0.0.1:0", web.Options{Longest: 14 * time.Second})
	p := s.Page(browser.Laptop)
	p.Go("/week")
	p.Follow(`nav[aria-label="Weeks"] a:last-child`)
	p.Wait(`document.querySelectorAll(".week li a[href^='/sheets/']").length === 0`)
	p.Eval(`document.querySelector('form[action="/week/plan"] button').focus()`)
	p.KeysFollow("\r")
	p.See("sessions planned.")
	slots := browser.Get[int](p, `document.querySelectorAll(".week li a[href^='/sheets/']").length`)
	require.Greater(t, slots, 10)
	clean(t, p)
	p.Resize(browser.Phone)
	clean(t, p)
	p.Eval(`document.querySelector('form[action="/week/unplan"] button').focus()`)
	p.KeysFollow("\r")
	p.Wait(`document.querySelectorAll(".week li a[href^='/sheets/']").length === 0`)
	clean(t, p)
}
