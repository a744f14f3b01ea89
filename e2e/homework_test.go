package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A sheet of homework is chosen by hand and fits one page of paper; a horn is reported by faces, a touch by how often it was right.
func TestHomeworkOnOnePage(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯", "household": "The chandlery"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	p := s.Page(browser.Laptop)
	p.Go("/dogs/" + dog + "/homework")
	p.See("No plan has been made")
	s.Exactly(t, dog, form.Typed{"skill": "Touch", "kind": "cued", "cue": "touch", "cue2": "open hand", "marker": "yes",
		"position": "nose on it"}, "handler", "1, 2")
	s.Exactly(t, dog, form.Typed{"skill": "Foghorn", "kind": "counter", "position": "stays"}, "trigger", "40, 20")
	s.CatchUp(t)
	p.Go("/dogs/" + dog + "/homework")
	p.See("Choose what they work on")
	for _, skill := range []string{"Touch", "Foghorn"} {
		p.Eval(`[...document.querySelectorAll("label.check")].find((l) => l.innerText.includes("` + skill + `")).click()`)
	}
	p.Fill("#line", "Keep it short, “both of you”; a dab, not a lump")
	p.Follow(".page form button.btn")
	p.See("Keep it short, “both of you”; a dab, not a lump")
	signs := browser.Get[[]string](p, `[...document.querySelectorAll(".strip li")].map((li) => li.innerText.replaceAll("\n", " ").trim())`)
	require.ElementsMatch(t, []string{"Say touch", "Show open hand", "Mark yes", "Feed", "It meets", "Feed"}, signs)
	require.Equal(t, 3, browser.Get[int](p, `document.querySelectorAll(".face").length`))
	who := browser.Get[string](p, `document.getElementById("with").selectedOptions[0].text`)
	require.Equal(t, "Kes, “K.”", who, "the family before the trainer")
	require.Equal(t, 1, p.PDFPages())
	axe(t, p, "homework")
	clean(t, p)
}
