package e2e_test

import (
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
