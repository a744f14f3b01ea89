package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
)

// A week is told from the record, changed by the trainer at the keyboard, and kept; a slip keeps what was typed.
func TestARecapIsWrittenAndPrinted(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	p := s.Page(browser.Laptop)
	p.Go("/dogs/" + dogNamed(t, s, "Brine") + "/recap")
	p.See("steps further in")
	told := browser.Get[int](p, `document.querySelectorAll("article section").length`)
	require.Equal(t, told, browser.Get[int](p, `document.querySelectorAll("article .climb svg").length`))
	require.Positive(t, browser.Get[int](p, `document.querySelectorAll(".climb .gained").length`))

	p.Eval(`document.getElementById("f-praise").value = "ß🦊".repeat(200)`)
	p.Fill("#f-line", "Rain, “all week”; well done")
	p.Follow("aside form button.now")
	p.See("at most 300")
	require.Equal(t, "Rain, “all week”; well done", browser.Get[string](p, `document.getElementById("f-line").value`))
	p.Errors() // the browser notes the 422
	axe(t, p, "recap, mended")
	p.Fill("#f-praise", "You came in the rain, “twice” 🌧")
	p.Eval(`[...document.querySelectorAll("aside textarea")].at(-1).value = ""`)
	p.Follow("aside form button.now")
	p.See("You came in the rain, “twice” 🌧")
	p.See("Kept on")
	require.Equal(t, told-1, browser.Get[int](p, `document.querySelectorAll("article section").length`), "one is left out")
	require.LessOrEqual(t, p.PDFPages(), 2)
	axe(t, p, "recap, kept")

	p.Follow(`a[href*="anew=1"]`)
	require.Equal(t, told, browser.Get[int](p, `document.querySelectorAll("article section").length`))
	p.Go("/dogs/" + dogNamed(t, s, "Pilchard") + "/recap")
	p.Follow(`aside .rows a`)
	p.See("the gull counts")
	clean(t, p)
}
