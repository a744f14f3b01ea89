package e2e_test

import (
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
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
	require.ElementsMatch(t, []string{"Say touch", "Show open hand", "Mark yes", "Feed", "It meets Foghorn", "Feed"}, signs)
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

	// It was worried at home: the horn is only kept away, until the trainer releases it.
	p.Fill("#f-lines", "foghorn 1 worried pier")
	p.Follow("aside form button.btn")
	p.See("Nothing to train for now.")
	axe(t, p, "homework, kept away")
	p.Follow(`[aria-label^="Release for home"]`)
	p.See("Released for home on")
	p.Follow(`[aria-label^="Keep away again"]`)
	p.See("Nothing to train for now.")
	clean(t, p)
}

// A household is sent the sheet as a file: it is pressed without a network, and what it gives back is read as it was meant.
func TestHomeworkAsAFile(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes", "role": "family"}))
	touch := s.Exactly(t, dog, form.Typed{
		"skill": "Touch: </script> “it”", "kind": "cued", "cue": "touch", "position": "nose on it",
	}, "handler", "1, 2")
	horn := s.Exactly(t, dog, form.Typed{"skill": "Foghorn", "kind": "counter", "position": "stays"}, "trigger", "40, 20")
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	p.Go("/dogs/" + dog + "/homework?anew=1&skill=" + touch + "&skill=" + horn + "&line=Short+%3Cb%3Eand%3C%2Fb%3E+often")
	address := browser.Get[string](p, `document.querySelector("a[download]").href`)
	clean(t, p)
	got, err := http.Get(address)
	require.NoError(t, err)
	defer got.Body.Close()
	require.Equal(t, "sandbox; default-src 'none'", got.Header.Get("Content-Security-Policy"))
	require.Contains(t, got.Header.Get("Content-Disposition"), "attachment")
	raw, err := io.ReadAll(got.Body)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "homework.html")
	require.NoError(t, os.WriteFile(file, raw, 0o600))

	p.Open(file)
	s.Stop()
	p.See("Short <b>and</b> often")
	p.Errors() // what the page before still asked for
	require.Equal(t, true, browser.Get[bool](p, `document.getElementById("send").hidden`))
	p.Click(`fieldset:nth-of-type(1) [data-met="4"]`)
	p.Click(`[data-met="4"][aria-pressed="true"]`) // a wrong press, taken off again
	require.Equal(t, "", browser.Get[string](p, `document.getElementById("lines").value`))
	p.Click(`fieldset:nth-of-type(2) [data-met="5"]`)
	for _, look := range []string{`[data-look="relaxed"]`, `[data-look="worried"]`, "[data-less]", `[data-look="relaxed"]`} {
		p.Click(look)
	}
	p.Fill(`[data-skill^="Touch"] [data-place]`, "the shop, by the door")
	p.Fill(`[data-skill^="Touch"] [data-remark]`, "2 of 5 slow; “wow” 🕯")
	p.Click("#copy")
	p.See("Copied")
	axe(t, p, "homework file")
	clean(t, p)
	lines := browser.Get[string](p, `document.getElementById("lines").value`)

	s.Start()
	p.Go("/dogs/" + dog + "/homework")
	p.Fill("#f-lines", lines)
	p.Follow("aside form button.btn")
	p.See("2 relaxed")
	p.See("the shop by the door")
	p.See("2 in 5 slow, “wow” 🕯")
	clean(t, p)
}

// A household opens its link, presses without a signal what came of it, and the trainer sees it once the phone has one; when the link has
// ended, what waits stays on the phone.
func TestHomeworkByALink(t *testing.T) {
	t.Parallel()
	s := serveAt(t, practicetest.Empty(t), "127.0.0.1:0", web.Options{Households: "http://127.0.0.1:1"})
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes", "role": "family"}))
	touch := s.Exactly(t, dog, form.Typed{"skill": "Touch “it”", "kind": "cued", "cue": "touch", "position": "nose on it"},
		"handler", "1, 2, 3")
	s.Exactly(t, dog, form.Typed{"skill": "Foghorn", "kind": "counter", "position": "stays"}, "trigger", "40, 20")
	s.CatchUp(t)
	trainer := s.Page(browser.Laptop)
	trainer.Go("/dogs/" + dog + "/homework?anew=1&skill=" + touch + "&line=Short+%3Cb%3Eand%3C%2Fb%3E+often")
	trainer.Follow(`button[formaction$="/link"]`)
	axe(t, trainer, "homework with a link")
	link := browser.Get[string](trainer, `new URL(document.querySelector(".linked a").href).pathname`)

	p := s.Page(browser.Phone)
	p.Go(link)
	p.See("Short <b>and</b> often")
	p.Wait(`navigator.serviceWorker.controller && caches.match(location.href).then((kept) => (window.kept = Boolean(kept))) && window.kept`)
	axe(t, p, "a household's page")
	p.Click(`[data-round]:nth-of-type(1) [data-met="4"]`)
	p.Click(`[data-round]:nth-of-type(1) [data-met="5"]`) // a change of mind
	p.Click(`[data-round]:nth-of-type(2) [data-met="3"]`)
	p.Click(`[data-round]:nth-of-type(2) [data-met="3"]`) // and one that was none
	p.Fill("[data-place]", "the shop, “by the till”; loud")
	s.Stop()
	p.Go(link)
	p.See("Send this round") // as it was left
	p.Fill("[data-remark]", "4 of 5 felt better 🐾")
	p.Click("#send-key")
	p.See("No signal")
	p.See("waits for a signal")
	axe(t, p, "a household's page without a signal")
	p.Go(link)
	p.See("the shop, “by the till”; loud · 4 of 5 felt better 🐾")
	p.Errors() // the browser notes what it could not load
	s.Start()
	p.Eval(`dispatchEvent(new Event("online"))`)
	p.See("Sent: 1. Thank you.")
	p.See("Sent today: 5 of 5")
	require.True(t, browser.Get[bool](p, `document.getElementById("waiting-part").hidden`))
	p.Errors()

	trainer.Go("/dogs/" + dog + "/homework")
	trainer.See("4 of 5 felt better 🐾")
	trainer.See("opened last on")
	p.Click("#sent [data-back]")
	p.See("Taken back.")
	p.Wait(`!document.getElementById("sent").innerText.includes("5 of 5")`)
	p.Click(`[data-round]:nth-of-type(1) [data-met="2"]`)
	trainer.Follow(`form[action*="/links/"] button`)
	p.Click("#send-key")
	p.See("This link has ended.")
	p.See("Touch “it”: 2 of 5")
	p.Errors()
	p.Go(link)
	p.See("Ask your trainer")
	p.Errors()
	axe(t, p, "a link that has ended")
	clean(t, p)
	clean(t, trainer)
}
