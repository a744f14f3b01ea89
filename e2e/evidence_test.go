package e2e_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// file fetches one of a page's tables as its file, and reads it.
func file(t *testing.T, p *browser.Page, href string) [][]string {
	t.Helper()
	text := browser.Get[string](p, `fetch(document.querySelector('a[href$="`+href+`"]').href).then((r) => r.text())`)
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff"))).ReadAll()
	require.NoError(t, err)
	return rows
}

// demoPlan is the plan of a dog and a skill in the demo.
func demoPlan(t *testing.T, s *server, dog, skill string) string {
	t.Helper()
	rows, err := s.Store.Read().Plans(ctx, nil, 100)
	require.NoError(t, err)
	for _, row := range rows {
		if row.DogName == dog && row.SkillName == skill {
			return row.ID
		}
	}
	require.Fail(t, "no such plan")
	return ""
}

// From a stuck step on Today to what to try, its evidence, its way, and every table as a file.
func TestAStuckStepIsLookedInto(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	plan := demoPlan(t, s, "Pilchard", "Down on the slipway")
	p := s.Page(browser.Laptop)
	p.Go("/")
	p.Follow(`aside a[href="/plans/` + plan + `/evidence#stuck"]`)
	p.See("See a vet first. A known skill that vanishes may be pain.")
	p.See("Easier steps were 100 % right before; since this one gave trouble, 9 of 15.")
	require.Equal(t, []string{"Done", "Errors", "Next one right", "Of"}, file(t, p, "/after.csv")[0])
	for _, table := range []string{"steps", "cold", "handlers"} {
		require.Greater(t, len(file(t, p, "/"+table+".csv")), 1, table)
	}
	p.See("Compared from 12 sessions on")
	p.Follow(`.pages a[href$="/progress"]`)
	p.See("Session by session")
	p.See("Never taught at")
	p.Eval(`document.querySelector(".fig-wide .trend a").focus()`)
	p.See("Look at that session")
	require.Len(t, file(t, p, "/sessions.csv"), 7)
	p.Follow(`.pages a[href$="/verdicts"]`)
	p.Click(".reckoning summary")
	p.See("By these trials alone")
	require.Greater(t, len(file(t, p, "/verdicts.csv")), 8)
	clean(t, p)
}

// A setback is logged with what is wrong beside its field, moves the dot, and is taken back.
func TestASetbackIsLoggedAndTakenBack(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	plan := demoPlan(t, s, "Tansy", "Wait at the ramp")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan + "/progress")
	p.Click("#setbacks summary")
	p.Fill("#f-steps", "lots")
	p.Follow("#setbacks form button")
	p.See("Say what happened.")
	p.See("A whole number from 1 to 20.")
	require.Equal(t, "lots", browser.Get[string](p, `document.getElementById("f-steps").value`))
	p.Errors() // the browser notes the 422
	p.Fill("#f-steps", "3")
	p.Fill("#f-what", "A delivery cart ran over the ramp.")
	p.Follow("#setbacks form button")
	p.See("A delivery cart ran over the ramp.")
	p.See("3 steps lower")
	p.Go("/plans/" + plan)
	p.See("No counted trial at step 7 yet.")
	p.Go("/plans/" + plan + "/progress")
	p.Follow("#setbacks li form button")
	p.See("None logged.")
	clean(t, p)
}

// The forecast is there at once; the rules are compared on request, and that can be cancelled.
func TestRulesAreComparedAndALongLookIsCancelled(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + demoPlan(t, s, "Quill", "The anchor chain") + "/outlook")
	workedOut(p)
	p.Wait(`document.querySelector("#forecast table")`)
	p.See("other plans of this practice") // its own nine trials say too little
	p.Go("/plans/" + demoPlan(t, s, "Tansy", "Wait at the ramp") + "/outlook")
	workedOut(p)
	p.Wait(`document.querySelector("#forecast table")`)
	p.See("more sessions to the top step")
	require.Len(t, file(t, p, "/forecast.csv"+browser.Get[string](p, `"?seed=" + document.getElementById("seed").value`)), 5)
	p.Click("#compare form button")
	p.Wait(`document.querySelector("#compare progress, #compare table")`)
	if browser.Get[bool](p, `Boolean(document.querySelector("#compare progress"))`) {
		p.Click(`#compare button`)
		p.Wait(`document.querySelector("#compare table") || document.body.innerText.includes("Cancelled.")`)
	}
	if browser.Get[bool](p, `!document.querySelector("#compare table")`) {
		p.Click("#compare form button")
	}
	p.Wait(`document.querySelectorAll("#compare tbody tr").length === 5`)
	p.See("False step-ups")
	clean(t, p)
}

// A dog that knows something is placed on the phone, a finished skill is probed, an offer is counted.
func TestADogIsPlacedAndProbedOnThePhone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Turn at the gangway", "kind": "cued", "position": "turns on the spot", "cue": "“about”", "break": "walks on",
		"leg1_make": "figures", "leg1_what": "handler", "leg1_items": "1, 2, 3, 4, 5, 6, 7, 8",
	})
	require.NoError(t, err)
	p := s.Page(browser.Phone)
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Choose("#mode", "Place: find where to begin")
	p.See("One easy trial at every third step until one is not met.")
	p.Click("#begin")
	phase(p, "idle")
	for i, key := range []string{"1", "1", "4"} {
		require.Contains(t, p.Text("#where"), []string{"step 1 of 8", "step 4 of 8", "step 7 of 8"}[i])
		p.Keys(key)
		p.Wait(`patientfox.view.log.startsWith("` + string(rune('1'+i)) + ` trial")`)
	}
	p.Wait(`patientfox.view.main.label === "Begin at step 2"`)
	press(p)
	phase(p, "idle")
	require.Contains(t, p.Text("#where"), "Step 2 of 8")
	// What was pressed counts, however soon the end is asked for after it, on a phone that is slow to write.
	p.Eval(`const { keep } = patientfox; const store = keep.store;
		keep.store = async (events) => (await new Promise((done) => setTimeout(done, 300)), store.call(keep, events));
		for (const key of "ozo") dispatchEvent(new KeyboardEvent("keydown", { key })); document.getElementById("end").click()`)
	p.Click("#closing-end")
	p.See("The session is over")
	saved(p)
	p.Go("/plans/" + plan + "/evidence")
	p.See("1 offer without a cue")
	clean(t, p)
}
