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

	// It is given, something comes back with a slip of the pen, is mended, and taken back.
	p.Follow(".page form button.now")
	p.See("Given to Kes, “K.”")
	p.See("Keep it short, “both of you”; a dab, not a lump")
	const slip = "touch 6 of 5 shop, “she lay down”; foghorn 3 relaxed 1 unsure"
	p.Fill("#f-lines", slip)
	p.Follow("aside form button.btn")
	p.See("Touch: 6 of 5 cannot be.")
	require.Equal(t, slip, browser.Get[string](p, `document.getElementById("f-lines").value`))
	p.Errors() // the browser notes the 422
	axe(t, p, "homework, mended")
	p.Fill("#f-lines", "touch 5 of 5 shop, “she lay down” 🕯; foghorn 3 relaxed 1 unsure")
	p.Follow("aside form button.btn")
	p.See("5 of 5")
	p.See("“she lay down” 🕯")
	p.See("3 relaxed, 1 unsure")
	p.Follow(`[aria-label^="Take back: Foghorn"]`)
	p.See("Taken back.")
	require.Equal(t, 1, browser.Get[int](p, `document.querySelectorAll("aside .rows > li").length`))
	p.Follow("aside .notice button")
	require.Equal(t, 2, browser.Get[int](p, `document.querySelectorAll("aside .rows > li").length`))
	require.Equal(t, 1, p.PDFPages(), "what came back is on no paper")
	clean(t, p)
}
