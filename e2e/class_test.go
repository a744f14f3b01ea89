package e2e_test

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/work"
	"patientfox/e2e/browser"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Homework: a household session is planned and printed, and what the family sends back is entered, a set a skill. Today lists nothing
// twice, and no page says more of those sets than is known.
func TestHomeworkForTheChandlers(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯", "weight_kg": "14"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes, the chandler’s daughter"}))
	plans := map[string]string{}
	for _, skill := range []string{"Sit", "Stand", "Touch"} {
		plans[skill] = s.Exactly(t, dog, form.Typed{"skill": skill, "kind": "cued", "position": "as agreed", "break": "looks away"},
			"handler", "1, 2, 4")
	}
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	begin(p, plans["Sit"], "")
	for range 5 {
		thumb(p, "cued", "main")
		thumb(p, "cued", "main")
	}
	phase(p, "deciding")
	for range 5 { // the step up is taken, and the new step is known
		thumb(p, "cued", "main")
	}
	ends(p)
	saved(p)
	s.CatchUp(t)

	p.Go("/dogs/" + dog + "/sheets/new")
	p.Fill("#f-minutes", "10")
	p.Choose("#f-handler", "Kes, the chandler’s daughter")
	p.Click(`[name="household"]`)
	p.Follow("main form button.now")
	p.See("the household trains")
	p.Eval(`document.querySelectorAll("main details").forEach(d => d.open = true)`)
	p.Choose(`[name="add"]`, "Stand")
	p.Follow(`[name="op"][value="add"]`)
	require.Equal(t, 1, p.PDFPages())
	p.See("Not right: looks away") // what counts stands on it: the family was not there when it was agreed
	today, err := s.Today(ctx)
	require.NoError(t, err)
	require.Len(t, today.Slots, 1)
	require.Equal(t, []string{"Sit", "Stand"}, today.Slots[0].Skills)
	require.Len(t, today.Next, 1, "Touch alone is not planned")
	require.Equal(t, plans["Touch"], today.Next[0].ID)

	reviewed := func(skill string) string {
		s.CatchUp(t)
		v, err := s.Plan(ctx, plans[skill])
		require.NoError(t, err)
		return v.Sessions[0].ID
	}
	p.Go("/plans/" + plans["Stand"] + "/enter")
	p.Choose("#f-handler", "Kes, the chandler’s daughter")
	p.Fill("#f-place_name", "Upstairs, “by the stove”")
	p.Fill("#f-set1_met", "3")
	p.Fill("#f-set1_missed", "3")
	p.Fill("#f-note", "she lay down instead 🛏, twice")
	p.Follow("main form button.now")
	p.See("They make 6; a set of this plan has 5.")
	p.Errors() // the browser notes the 422 as a failed load
	require.Equal(t, "she lay down instead 🛏, twice", browser.Get[string](p, `document.getElementById("f-note").value`))
	p.Fill("#f-set1_missed", "2")
	p.Follow("main form button.now")
	stand, err := s.Review(ctx, reviewed("Stand"))
	require.NoError(t, err)
	require.Equal(t, []string{"60 %", "Held its step"}, []string{stand.Strict, stand.Headline})
	require.Equal(t, "Kes, the chandler’s daughter", stand.HandledBy())
	require.Empty(t, stand.Verdicts, "nobody was told one")
	require.Contains(t, stand.Notes[0].Text, "she lay down instead 🛏, twice")
	for _, row := range stand.Table {
		require.Equal(t, []string{"from a tally", "–"}, []string{row.Note, row.Paid})
	}
	p.Go("/plans/" + plans["Touch"] + "/enter")
	p.Choose("#f-place", "Upstairs, “by the stove”")
	p.Fill("#f-set1_met", "5")
	p.Follow("main form button.now")
	touch, err := s.Review(ctx, reviewed("Touch"))
	require.NoError(t, err)
	require.Equal(t, "100 %", touch.Strict)

	evidence, err := s.Evidence(ctx, plans["Stand"], "")
	require.NoError(t, err)
	said := ""
	for _, section := range evidence.Sections {
		if section.Key == "errors" {
			said = section.Lines[0]
		}
	}
	require.Equal(t, "2 of 5 not right. They were counted in sets, so their order is not known.", said)
	clean(t, p)
}

// Two pups of a class, twenty minutes each: a remote in the hand, a second phone that counts what it sees, and one skill after another in
// one session.
func TestTwoPupsOfAClass(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	born := o.Clock.Now().AddDate(0, 0, -100).Format(app.DayLayout)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes"}))
	for i, name := range []string{"Limpet", "Mizzen, “Miz” 🐶"} {
		dog, err := s.AddDog(ctx, form.Typed{"name": name, "born": born})
		require.NoError(t, err)
		plans := map[string]string{}
		for _, from := range []string{"charge-the-marker", "nose-to-palm"} {
			made, err := s.NewPlan(ctx, dog, form.Typed{"from": from})
			require.NoError(t, err)
			plans[from], err = s.AddPlan(ctx, dog, made.Typed)
			require.NoError(t, err)
		}
		s.CatchUp(t)
		p := s.Page(browser.Phone)
		carry(p)
		begin(p, plans["charge-the-marker"], strconv.Itoa(20+i))
		remote := p.Tab(browser.Phone)
		remote.Go("/remote")
		presses := func(key string) {
			before := browser.Get[int](p, `patientfox.logged`)
			remote.Click(`[data-press="` + key + `"]`)
			p.Wait(`patientfox.logged > ` + strconv.Itoa(before) + ` && !patientfox.view.rests`)
		}
		for range 5 {
			presses("PageDown")
			presses("PageDown")
		}
		phase(p, "deciding")
		presses("PageDown")
		presses("PageUp")
		helper := s.Page(browser.Phone)
		helper.Go("/run?session=" + browser.Get[string](p, `patientfox.session.id`))
		helper.See("Come into this session")
		helper.Choose("#join-by", "Kes")
		helper.Click("#join-in")
		phase(helper, "idle")
		helper.Click(mainKey)
		p.Wait(`document.querySelector('[data-key="accept"]')`)
		p.Click(`[data-key="accept"]`)
		p.Wait(`patientfox.view.log.startsWith("7 trials")`)
		p.Click("#end")
		p.Wait(`document.getElementById("part").options.length > 1`)
		p.Choose("#part", "Nose to the palm")
		p.Click("#closing-another")
		phase(p, "idle")
		presses("PageDown")
		presses("PageDown")
		thumb(p, "cued", string(work.UndoKey))
		presses("PageDown")
		session := browser.Get[string](p, `patientfox.session.id`)
		ends(p)
		saved(p)
		s.CatchUp(t)
		v, err := s.Review(ctx, session)
		require.NoError(t, err)
		require.Equal(t, []string{"7 of 8", "One step up"}, []string{v.Strict, v.Headline}, "5 of 5, a miss, a helper's, one of the next skill")
		require.Len(t, v.Table, 8)
		for k, row := range v.Table {
			skill := map[bool]string{true: "nose-to-palm", false: "charge-the-marker"}[k == 7]
			require.Equal(t, plans[skill], row.Plan)
			require.Equal(t, k == 6, row.Measure == "unmeasured", "only the helper's has no time")
		}
		require.Equal(t, []string{"step 2", "step 1"}, []string{reached(t, s, plans["charge-the-marker"]), reached(t, s, plans["nose-to-palm"])})
		clean(t, p)
		remote.Close()
		helper.Close()
	}
}

// reached names the step that a plan's dog has come to.
func reached(t *testing.T, s *server, plan string) string {
	t.Helper()
	pack, err := s.Pack(ctx, plan)
	require.NoError(t, err)
	return "step " + strconv.Itoa(pack.ReachedAt()+1)
}
