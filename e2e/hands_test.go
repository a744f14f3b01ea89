package e2e_test

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// The trainer works, hands the dog to her client in mid-session, and takes it back: each at their own step, without a signal for a while.
func TestTheDogChangesHands(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	plan := s.Exactly(t, dog, form.Typed{"skill": "Touch", "kind": "cued", "position": "nose on it", "break": "looks away"},
		"handler", "1, 2, 3, 4, 5")
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plan, "60")
	five := func() {
		for range 5 {
			thumb(p, "cued", "main")
			thumb(p, "cued", "main")
		}
		phase(p, "deciding")
		thumb(p, "cued", "main")
		phase(p, "idle")
	}
	where := func() string { return browser.Get[string](p, `patientfox.view.where`) }
	holds := func(who string) {
		p.Click(".more summary")
		p.Wait(`document.getElementById("handles").options.length > 1`)
		p.Choose("#handles", who)
	}
	shut := func() { p.Click(".more summary") }
	does := func(role, who string) {
		p.Click(".more summary")
		p.Wait(`document.getElementById("feeds").options.length > 1`)
		logged := browser.Get[int](p, `patientfox.logged`)
		p.Choose("#"+role, who)
		p.Wait(fmt.Sprintf(`patientfox.logged > %d`, logged))
		p.Keys(kb.Escape) // from the large key, which has the keyboard again
		p.Wait(`!document.querySelector(".more").open`)
	}
	does("holds", "Kes, “K.”")
	five()
	does("holds", "The handler")
	does("feeds", "Kes, “K.”")
	five()
	five()
	five()
	require.Equal(t, "Step 5 of 5", where())
	thumb(p, "cued", "main")
	holds("Kes, “K.”")
	p.See("Between two trials")
	shut()
	thumb(p, "cued", "main")
	s.Stop()
	holds("Kes, “K.”")
	p.Wait(`patientfox.view.where === "Step 3 of 5 · with Kes, “K.” (Trainer: step 5)"`)
	shut()
	five()
	require.Equal(t, "Step 4 of 5 · with Kes, “K.”", where())
	holds("Trainer")
	p.Wait(`patientfox.view.where === "Step 5 of 5"`)
	shut()
	session := browser.Get[string](p, `patientfox.session.id`)
	ends(p)
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	p.Errors()
	s.CatchUp(t)

	v, err := s.Review(ctx, session)
	require.NoError(t, err)
	require.Equal(t, "Four steps up, one with the other handler", v.Headline)
	require.Contains(t, v.NextTime, "With Kes, “K.” it had reached step 4.")
	require.Len(t, v.Table, 26)
	require.Equal(t, []string{"Kes, “K.” held it", "Kes, “K.” fed it"}, v.HelpedBy)
	require.Equal(t, []string{"held by Kes, “K.”", "fed by Kes, “K.”"}, []string{v.Table[4].Note, v.Table[9].Note})
	require.Empty(t, v.Table[22].Roles, "who feeds cannot be beside themselves")
	for k, row := range v.Table {
		require.Equal(t, map[bool]string{true: "Kes, “K.”", false: "Trainer"}[k > 20], v.HandlerOf(row.Handler))
	}
	p.Go("/plans/" + plan)
	p.See("Kes, “K.”: step 4")
	clean(t, p)
	axe(t, p, "a plan with two handlers")
	p.Go("/dogs/" + dog + "/takeover")
	for _, said := range []string{"Kes, “K.” takes over", "step 4 of 5", "1 day, last"} {
		p.See(said)
	}
	p.Wait(`document.querySelector('[x-data="alone"]').textContent.includes("counted trials")`)
	axe(t, p, "taking over")
	ladder, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	p.Go("/plans/" + plan + "?step=" + ladder.Steps[4].ID) // it becomes a safety step, which nobody has shown to Kes
	p.Click("input[name=safety]")
	p.Follow(`form:has(input[name=safety]) button[value=save]`)
	s.CatchUp(t)
	p.Go("/run?plan=" + plan)
	p.Wait(`document.getElementById("setup-start").textContent`)
	p.Choose("#handler", "Kes, “K.”")
	p.Wait(`document.getElementById("setup-start").textContent.includes("Until then rehearse it, with the line on.")`)
	p.Choose("#mode", "Rehearse step 5")
	p.Wait(`document.getElementById("setup-start").textContent.startsWith("A rehearsal with the line on")`)
	p.Click("#begin")
	phase(p, "idle")
	require.Equal(t, "Rehearsal · step 5 of 5, with the line on", where())
	thumb(p, "cued", "main")
	thumb(p, "cued", "main")
	thumb(p, "cued", "rehearse")
	require.Contains(t, where(), "Step 4 of 5 · with Kes, “K.”")
	clean(t, p)
	ends(p)
	saved(p)
	p.Go("/plans/" + plan)
	p.Click("#hands summary")
	p.Choose("#f-hands-main", "Kes, “K.”")
	p.Follow("#hands button")
	p.See("Kes, “K.”: step 4 main handler")
	p.Go("/run?plan=" + plan)
	p.Wait(`document.getElementById("setup-start").textContent.startsWith("With Trainer it had come further")`)
	clean(t, p)
}
