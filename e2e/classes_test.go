package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A class is begun from a programme, a meeting is held without one dog, whose weeks move; all of it on a phone too.
func TestAClassWorksThroughAProgramme(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	for _, name := range []string{"Dab", "Whelk, “the small one” 🐚", "Coble"} {
		_, err := s.AddDog(ctx, form.Typed{"name": name, "born": "2026-08-20"})
		require.NoError(t, err)
	}
	p := s.Page(browser.Laptop)
	p.Go("/library")
	p.Follow(`a[href="/programmes"]`)
	axe(t, p, "programmes")
	p.Follow(`a[href="/programmes/puppy-start"]`)
	p.See("turns round inside")
	axe(t, p, "a programme")
	p.Follow("a.btn.now")
	p.Fill("#f-name", "Saturday “pups” 🐟")
	p.Fill("#f-at", "half ten")
	p.Eval(`for (const box of document.querySelectorAll("main input[type=checkbox]")) box.checked = true`)
	p.Follow("main form button.now")
	p.See("Write the hour as 18:30.")
	require.Equal(t, 3, browser.Get[int](p, `document.querySelectorAll("main input:checked").length`), "what was ticked stays")
	p.Errors() // the browser notes the 422
	axe(t, p, "a new class, mended")
	p.Fill("#f-at", "10:30")
	p.Follow("main form button.now")
	p.See("Week 1 of 6, this week")
	require.Equal(t, 21, browser.Get[int](p, `document.querySelectorAll(".standing td").length`))
	require.LessOrEqual(t, p.PDFPages(), 2)
	for _, size := range []browser.Size{browser.Laptop, browser.Phone} {
		p.Resize(size)
		axe(t, p, "a class")
		require.LessOrEqual(t, int64(browser.Get[int](p, `document.documentElement.scrollWidth`)), size.W)
	}
	p.Follow(`nav[aria-label="Weeks"] a[href="?week=2"]`)
	p.Click(`section form input[type=checkbox]`) // Coble stays away
	p.Fill("#f-note", "Rain, “all of it” 🌧")
	p.Follow(`form[action$="/meeting"] button`)
	p.See("missed 1 so far")
	p.See("its week 1")
	require.Equal(t, "Rain, “all of it” 🌧", browser.Get[string](p, `document.getElementById("f-note").value`))
	p.Click("details:last-of-type summary")
	p.Follow(`form[action$="/away"] button`)
	p.See("The class is put")
	axe(t, p, "classes")
	p.Follow(`form[action$="/away"] button`)
	p.See("Week 1 of 6")

	p.Go("/programmes/recall")
	p.Follow(`form[action$="/copy"] button`)
	p.Click("details summary")
	axe(t, p, "a programme of one's own")
	p.Fill("#f-name", "Quay “walkers” 🐾")
	p.Fill("#f-aims1", "9, 2, 4, 4, 4, 4")
	p.Follow("details form button.now")
	p.See("No week asks for less than the one before it.")
	require.Equal(t, "Quay “walkers” 🐾", browser.Get[string](p, `document.getElementById("f-name").value`))
	p.Errors()
	p.Fill("#f-aims1", "1, 2, 4, 4, 4, 12")
	p.Follow("details form button.now")
	p.See("Quay “walkers” 🐾")
	p.See("turned away · 4 m · in a place it hardly knows")
	clean(t, p)
}
