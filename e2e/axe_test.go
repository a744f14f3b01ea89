package e2e_test

import (
	"encoding/json"
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
)

// axe looks a page over for what shuts people out, and fails on anything it finds.
func axe(t *testing.T, p *browser.Page, name string) {
	t.Helper()
	script, err := os.ReadFile("../node_modules/axe-core/axe.min.js")
	require.NoError(t, err, "install Node's packages with npm ci")
	p.Eval(string(script))
	found := browser.Get[string](p, `axe.run(document, { resultTypes: ["violations"] }).then((r) =>
		JSON.stringify(r.violations.map((v) => [v.id, v.help, v.nodes.map((n) => n.html.slice(0, 160) + " " + n.failureSummary)]), null, 1))`)
	var violations []any
	require.NoError(t, json.Unmarshal([]byte(found), &violations))
	require.Empty(t, violations, "%s: %s", name, found)
}

func TestNoScreenShutsAnybodyOut(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	s.CatchUp(t)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	row := today.Next[0]
	s.CatchUp(t)
	v, err := s.Plan(ctx, row.ID)
	require.NoError(t, err)
	busy := demoPlan(t, s, "Pilchard", "Down on the slipway")
	p := s.Page(browser.Laptop)
	for _, size := range []browser.Size{browser.Laptop, browser.Phone} {
		p.Resize(size)
		for name, path := range map[string]string{
			"today": "/", "dogs": "/dogs", "dog": "/dogs/" + row.DogID, "dog form": "/dogs/new",
			"what to teach": "/dogs/" + row.DogID + "/plans/new",
			"new plan":      "/dogs/" + row.DogID + "/plans/new?from=stay-in-place", "library": "/library",
			"template": "/library/walk-on-a-slack-line",
			"lay out":  "/plans/" + row.ID + "/build",
			"table":    "/plans/" + row.ID + "/table", "copy": "/plans/" + row.ID + "/copy", "history": "/plans/" + row.ID + "/history?reread=1",
			"verdicts": "/plans/" + row.ID + "/verdicts", "progress": "/plans/" + busy + "/progress",
			"evidence": "/plans/" + busy + "/evidence", "outlook": "/plans/" + busy + "/outlook",
			"load":       "/plans/" + row.ID + "/load",
			"learning":   "/dogs/" + row.DogID + "/learning",
			"all dogs":   "/learning",
			"experiment": "/plans/" + row.ID + "/experiment",
			"enter":      "/plans/" + row.ID + "/enter",
			"all steps":  "/plans/" + row.ID + "?all=1&whole=1",
			"rewards":    "/dogs/" + dogNamed(t, s, "Quill") + "/rewards", "food": "/dogs/" + dogNamed(t, s, "Tansy") + "/food",
			"care": "/dogs/" + dogNamed(t, s, "Tansy") + "/care", "care card": "/dogs/" + dogNamed(t, s, "Tansy") + "/care/card",
			"health": "/dogs/" + dogNamed(t, s, "Tansy") + "/health", "taking over": "/dogs/" + dogNamed(t, s, "Pilchard") + "/takeover",
			"homework": "/dogs/" + dogNamed(t, s, "Pilchard") + "/homework",
			"fridge":   "/dogs/" + dogNamed(t, s, "Pilchard") + "/homework/fridge",
			"post":     "/post", "journal": "/journal", "team": "/team", "handling": "/me/handling",
			"recap": "/dogs/" + dogNamed(t, s, "Pilchard") + "/recap",
			"pay":   "/plans/" + busy + "/pay", "week": "/week",
			"sheet": "/sheets/" + today.Slots[0].ID + "?edit=1", "new sheet": "/dogs/" + row.DogID + "/sheets/new",
			"plan": "/plans/" + row.ID, "review": "/sessions/" + v.Sessions[0].ID, "settings": "/settings",
			"session log": "/sessions/" + v.Sessions[0].ID + "/log", "copies": "/copies", "about": "/about",
		} {
			p.Go(path)
			workedOut(p)
			axe(t, p, name)
			wide := browser.Get[int](p, `document.documentElement.scrollWidth`)
			require.LessOrEqual(t, int64(wide), size.W, "%s is wider than the window", name)
		}
	}
	p.Go("/plans/nothing")
	axe(t, p, "error page")
	p.Errors() // the browser notes the 404

	p.Go("/run?plan=" + row.ID)
	p.Wait(`!document.getElementById("setup").hidden`)
	axe(t, p, "run, before")
	p.Click("#begin")
	phase(p, "idle")
	p.Eval(`document.querySelector(".more").open = true`)
	axe(t, p, "run")
	p.Eval(`document.querySelector(".more").open = false`)
	for range 5 {
		p.Keys("1")
	}
	p.Wait(`patientfox.view.verdict.show`)
	axe(t, p, "run, verdict")
	p.Click("#end")
	p.Wait(`!document.getElementById("closing").hidden`)
	axe(t, p, "run, after the block")
	p.Click("#closing-end")
	p.Wait(`!document.getElementById("over").hidden`)
	axe(t, p, "run, over")
	clean(t, p)
}

// workedOut waits until a page that is being worked out has come, and what it works out beside itself: the next page would wait behind it.
// Only work that stands still for as long as a page is waited for has failed.
func workedOut(p *browser.Page) {
	const (
		working = `document.querySelector("[x-data=working]")`
		beside  = `[...document.querySelectorAll("[x-data=alone]")].find((part) => !part.innerText.trim() || part.innerText.includes("Working"))`
	)
	for _, part := range []string{working, beside} {
		says := fmt.Sprintf(`(%s?.innerText ?? "")`, part)
		for before := browser.Get[string](p, says); ; before = browser.Get[string](p, says) {
			if !browser.Get[bool](p, "Boolean("+part+")") {
				break
			}
			p.Wait(fmt.Sprintf("!%s || %s !== %q", part, says, before))
		}
	}
}
