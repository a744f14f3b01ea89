package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Two ways are typed, with what is wrong beside its field; Run says which comes when, and the session is counted and not shown.
func TestAnExperimentRunsFromItsPageToRunAndBack(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plan := o.Exactly(t, dog, form.Typed{"skill": "Nose to the palm", "kind": "cued", "position": "nose on it", "cue": "“touch”"},
		criteria.Handler, "0, 1, 2")
	p := s.Page(browser.Phone)
	p.Go("/plans/" + plan + "/experiment")
	p.Fill("#f-way_a", "food, in the hand")
	p.Fill("#f-way_b", "a tug 🧸")
	p.Fill("#f-pairs", "5")
	p.Fill("#f-each", "4")
	p.Follow("#new form .btn")
	p.See("A whole number from 6 to 20.")
	require.Equal(t, "a tug 🧸", browser.Get[string](p, `document.getElementById("f-way_b").value`))
	p.Errors() // the browser notes the 422
	p.Fill("#f-pairs", "6")
	p.Follow("#new form .btn")
	p.See("0 of 6 sessions")

	begin(p, plan, "20")
	first := p.Text("#way")
	for i := range 8 {
		if browser.Get[bool](p, `patientfox.view.phase === "deciding"`) {
			require.Contains(t, p.Text("#verdict-why"), "stay here until both its sets are done")
			p.Click(`[data-key="stay"]`)
			phase(p, "idle")
		}
		if i == 4 {
			require.Contains(t, p.Text("#way"), "Now: ")
		}
		press(p)
		p.Wait(`patientfox.view.phase === "trying"`)
		press(p)
		p.Wait(`patientfox.view.phase !== "trying"`)
		kept(p)
	}
	require.Contains(t, first, ": 1 of 4")
	p.Wait(`document.getElementById("way").hidden`)
	ends(p)
	s.CatchUp(t)
	p.Go("/plans/" + plan + "/experiment")
	p.See("1 of 6 sessions")
	clean(t, p)
}
