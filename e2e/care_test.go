package e2e_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A visit over two sites on the phone without a signal, one touch really done; then the map says what was touched, and a task when it is
// due again.
func TestCareSiteBySite(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Ears", "kind": "handling", "position": "stands", "leg1_make": "sites", "leg1_from": "0.5", "leg1_to": "1",
		"leg1_items": "ear\npaw", "leg1_tools": "fingers\na cloth",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	require.NoError(t, s.SaveDecoys(ctx, plan, form.Typed{"decoy_in": "0", "version": "1"}))
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	s.Stop()
	for _, tap := range []string{"main", "full", "met", "site:paw", "main", "full", "late"} {
		thumb(p, "handling", tap)
	}
	ends(p)
	p.Errors()
	s.Start()
	saved(p)
	s.CatchUp(t)

	p.Go("/dogs/" + dog + "/care")
	p.See("Next comes a cloth, when the dog is ready at: ear; paw.")
	require.Equal(t, "Wary", p.Text(".caremap tbody tr:nth-child(2) td summary .block"))
	p.Click("#tasks > details summary")
	p.Fill("#f-task", "Drops, “the blue” 🩺")
	p.Fill("#f-sites", "left ear, right ear")
	p.Fill("#f-days", "-3")
	p.Follow("#tasks > details form .btn")
	p.See("A whole number from 1 to 60.")
	p.Errors() // the browser notes the 422 as a failed load
	p.Fill("#f-days", "7")
	p.Follow("#tasks > details form .btn")
	p.See("Due today.")
	p.Click("#tasks li details summary")
	p.Choose(`#tasks li [name="site"]`, "left ear")
	p.Click(`#tasks li [name="left"]`)
	p.Follow("#tasks li details form .btn")
	p.See("Due today: right ear.")
	for who, says := range map[string]string{"": "Fingers: at ease at ear. Wary at paw.", "?for=owner": "See your veterinarian."} {
		p.Go("/dogs/" + dog + "/care/card" + who)
		p.See(says)
		p.See("Drops, “the blue” 🩺")
		require.Equal(t, 1, p.PDFPages())
	}
	p.Go("/")
	p.See("Drops, “the blue” 🩺")
	clean(t, p)
}

// A visit over both sides of the dog, with a decoy now and then and no signal for most of it: the trainer goes round the sites, hands the
// dog to its owner, who rehearses, takes it back, and does two claws.
func TestAVisitOverBothSides(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Claws", "kind": "handling", "position": "stands", "leg1_make": "sites", "leg1_from": "0.5", "leg1_to": "1",
		"leg1_items": "shoulder\npaw", "leg1_tools": "fingers\nthe file", "tracks": "left\nright",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	require.NoError(t, s.SaveDecoys(ctx, plan, form.Typed{"decoy_in": "3", "version": "1"}))
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plan, "40")
	// touch closes a touch of the site that is next: as long as it is asked, or without a time by its state alone.
	touch := func(state string, timed bool) {
		if browser.Get[string](p, `patientfox.view.main.label`) == "Decoy" {
			thumb(p, "handling", "main")
			thumb(p, "handling", "reaction:none")
		}
		if timed {
			thumb(p, "handling", "main")
			if state != "pulled" {
				thumb(p, "handling", "full")
			}
		}
		thumb(p, "handling", state)
	}
	turn := func(right bool) {
		p.Click("#other-side")
		p.Wait(map[bool]string{true: `patientfox.view.body.right`, false: `!patientfox.view.body.right`}[right])
	}
	holds := func(who, where string) {
		p.Click(".more summary")
		p.Wait(`document.getElementById("handles").options.length > 1`)
		p.Choose("#handles", who)
		p.Wait(`patientfox.view.where.includes("with Kes") === ` + where)
		p.Click(".more summary")
		p.Wait(`!document.querySelector(".more").open`)
	}
	done := func(claw string) {
		thumb(p, "handling", "site:paw")
		p.Touch(`#beside [data-key="done"]`)
		p.Wait(`patientfox.view.body.parts`)
		p.Click(`[data-part="` + claw + `"]`)
		p.Wait(`document.querySelector('[data-part="` + claw + `"]').getAttribute("aria-pressed") === "true"`)
		touch("met", false)
	}
	axe(t, p, "the outline")
	p.Touch("#round")
	p.Wait(`patientfox.view.body.round`)
	for _, chosen := range []string{"#tool", "#tool", `#sites [data-site="paw"]`, "#round", "#round"} { // by keyboard, and back again
		p.Eval(`document.querySelector('` + chosen + `').focus()`)
		p.Keys("\r")
		p.Wait(`document.activeElement.dataset.key === "main"`)
	}
	p.Wait(`patientfox.view.body.round && patientfox.view.body.tool === "fingers" && patientfox.view.phase === "idle"`)
	touch("met", true)
	turn(true)
	s.Stop()
	touch("main", true)
	touch("pulled", true)
	turn(false)
	touch("late", false) // at the paw: the shoulder had its touch
	holds("Kes, “K.”", "true")
	p.Touch(`#beside [data-key="done"]`)
	p.See("A trainer first shows what is really done")
	touch("met", false)
	holds("Trainer", "false")
	done("claw 2")
	done("claw 3")
	session := browser.Get[string](p, `patientfox.session.id`)
	ends(p)
	p.Errors()
	s.Start()
	saved(p)
	p.Errors()
	s.CatchUp(t)

	v, err := s.Review(ctx, session)
	require.NoError(t, err)
	var rows [][]string
	for _, row := range v.Table {
		rows = append(rows, []string{row.Outcome, timeless.ReplaceAllString(row.Measure, ""), v.HandlerOf(row.Handler)})
	}
	require.Equal(t, [][]string{
		{"state1", "shoulder, left, offered", "Trainer"}, {"state0", "shoulder, right, offered", "Trainer"},
		{"state2", "paw, right, offered, pulled away, let go", "Trainer"}, {"state2", "paw, left, offered", "Trainer"},
		{"state1", "unmeasured, shoulder, left, offered", "Kes, “K.”"},
		{"state1", "unmeasured, paw, left, offered, really done: claw 2", "Trainer"},
		{"state1", "unmeasured, paw, left, offered, really done: claw 3", "Trainer"},
	}, rows)
	p.Go("/sessions/" + session)
	p.See("paw, left: 2 of 3 at ease")
	clean(t, p)
	for _, who := range []string{"", "?for=owner"} {
		p.Go("/dogs/" + dog + "/care/card" + who)
		require.Equal(t, 1, p.PDFPages())
	}
}

// timeless takes how long a touch was on out of what was measured of it.
var timeless = regexp.MustCompile(`^on for [0-9.]+ s, `)
