package e2e_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A meeting is run on a phone that has no signal: a look a dog, signs, two stations. A second phone takes a dog over, and both end. Every
// dog has a session of its own, and the class says what was seen.
func TestAMeetingOfEightDogsOnTwoPhones(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	names := []string{"Ballast", "Coble", "Dab", "Fid, “the small one” 🐚", "Hawser", "Limpet", "Oakum", "Whelk"}
	class := form.Typed{
		"name": "Quay “pups”, evenings 🐟", "programme": "puppy-start", "start": s.Clock.Now().Format("2006-01-02"),
		"minutes": "60", "place": "the net shed",
	}
	dogs := map[string]string{}
	for _, name := range names {
		id, err := s.AddDog(ctx, form.Typed{"name": name, "born": "2026-08-20"})
		require.NoError(t, err)
		dogs[name], class["dog_"+id] = id, "1"
	}
	id, err := s.AddClass(ctx, class)
	require.NoError(t, err)
	s.CatchUp(t)
	_, err = s.Field(ctx) // the packs of eight dogs are made once: a slow machine takes longer than a page is waited for
	require.NoError(t, err)

	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	p.Go("/run/class?id=" + id)
	p.See("Which dogs are yours today?")
	axe(t, p, "whose dogs")
	require.Equal(t, 8, browser.Get[int](p, `document.querySelectorAll("#mine-dogs input:checked").length`))
	p.Eval(`for (const box of document.querySelectorAll("#mine-dogs input")) box.checked = false`)
	p.Click("#mine-open")
	p.See("Choose at least one dog.")
	p.Eval(`for (const box of document.querySelectorAll("#mine-dogs input")) box.checked = true`)
	p.Click("#mine-open")
	p.Wait(`document.querySelectorAll("[data-dog]").length === 8 && document.querySelectorAll(".tile-step").length === 8`)
	looks := func(p *browser.Page, dog string, met int, says string) {
		p.Click(fmt.Sprintf(`[data-dog="%s"]`, dogs[dog]))
		p.Click(fmt.Sprintf(`[data-met="%d"]`, met))
		p.Wait(fmt.Sprintf(`document.getElementById("dog-says").innerText.includes(%q)`, says))
	}
	for i, name := range names {
		looks(p, name, 4-i%2, fmt.Sprintf("%d of 5", 4-i%2))
	}
	axe(t, p, "a meeting")
	require.LessOrEqual(t, browser.Get[int](p, `document.documentElement.scrollHeight`), 844, "no scrolling with eight dogs")
	p.Click(fmt.Sprintf(`[data-dog="%s"]`, dogs["Dab"]))
	p.Click(`[data-sign="help"]`)
	p.Wait(fmt.Sprintf(`document.querySelector('[data-dog="%s"] .tile-word').innerText === "Needs help"`, dogs["Dab"]))
	p.Click(`[data-seen="3"]`)
	looks(p, "Dab", 2, "2 of 3")
	p.Click("#dog-undo")
	p.Wait(`!document.getElementById("dog-says").innerText.includes("2 of 3")`)
	looks(p, "Dab", 3, "3 of 3")
	looks(p, "Dab", 2, "Step up") // the two that were left of the set
	p.Click(`[data-press="main"]:not(:disabled)`)
	p.Wait(`document.getElementById("dog-where").innerText.startsWith("Step 2 ")`)
	p.Click("#station-next")
	p.Click(`[data-seen="3"]`)
	looks(p, "Dab", 2, "2 of 3")
	p.Go("/run/class?id=" + id) // as after a phone that went off
	p.Wait(`document.querySelectorAll("[data-dog]").length === 8`)
	p.See("Needs help")

	s.Start()
	saved(p)
	s.CatchUp(t)
	other := s.Page(browser.Phone)
	other.Go("/run/class?id=" + id)
	other.See("on another phone")
	other.Click("#mine-dogs label:first-child")
	other.Click("#mine-open")
	other.Click(fmt.Sprintf(`[data-dog="%s"]`, dogs["Ballast"]))
	other.See("Another phone logs this dog.")
	other.Click("#dog-take")
	other.Wait(`document.getElementById("run").dataset.pressed === "0"`) // what is pressed while it comes may be another key by then
	looks(other, "Ballast", 5, "Step up")
	p.Click(fmt.Sprintf(`[data-dog="%s"]`, dogs["Ballast"]))
	p.See("Another phone logs this dog.")
	saved(other)

	p.Click("#end")
	p.See("The meeting is over")
	axe(t, p, "after a meeting")
	other.Click("#end")
	other.See("The meeting is over")
	saved(p)
	saved(other)
	s.CatchUp(t)
	v, err := s.Class(ctx, id, 1)
	require.NoError(t, err)
	require.Len(t, v.Dogs, 8)
	for i, d := range v.Dogs {
		require.Len(t, d.Logged, 1, d.Name)
		row, err := s.Store.Read().Session(ctx, d.Logged[0].Session)
		require.NoError(t, err)
		require.NotNil(t, row.Ended, d.Name)
		require.Equal(t, [2]string{id, dogs[names[i]]}, [2]string{row.Class, row.Dog})
		switch d.Name {
		case "Ballast":
			require.Equal(t, [2]int{10, 9}, [2]int{d.Logged[0].Trials, d.Logged[0].Met})
		case "Dab":
			require.Equal(t, [2]int{13, 11}, [2]int{d.Logged[0].Trials, d.Logged[0].Met})
			require.Equal(t, []string{"Needs help"}, d.Logged[0].Signs)
		default:
			require.Equal(t, [2]int{5, 4 - i%2}, [2]int{d.Logged[0].Trials, d.Logged[0].Met}, d.Name)
			require.Empty(t, d.Logged[0].Signs)
		}
	}
	p.Follow("#over-class")
	p.See("9 of 10 met")
	p.See("Needs help")
	axe(t, p, "a class that was run")
	p.Errors() // no signal
	clean(t, other)
}

// A meeting that nobody ended is ended where its last look was, before the next one begins.
func TestAMeetingThatWasForgotten(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Whelk", "born": "2026-08-20"})
	require.NoError(t, err)
	class, err := s.AddClass(ctx, form.Typed{
		"name": "Pups", "programme": "puppy-start", "start": s.Clock.Now().Format("2006-01-02"), "minutes": "60", "dog_" + dog: "1",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	look := func() {
		p.Go("/run/class?id=" + class)
		p.Click("#mine-open")
		p.Click("[data-dog]")
		p.Click(`[data-met="3"]`)
		p.Wait(`document.getElementById("dog-says").innerText.includes("3 of 5")`)
	}
	look()
	saved(p)
	s.Clock.Add(7 * 24 * time.Hour)
	p.Clock(7 * 24 * time.Hour)
	look()
	p.Click("#end")
	p.See("The meeting is over")
	p.See("3 of 5 met")
	saved(p)
	s.CatchUp(t)
	for week := 1; week <= 2; week++ {
		v, err := s.Class(ctx, class, week)
		require.NoError(t, err)
		require.Len(t, v.Dogs[0].Logged, 1, "week %d", week)
		one, err := s.Store.Read().Session(ctx, v.Dogs[0].Logged[0].Session)
		require.NoError(t, err)
		require.NotNil(t, one.Ended)
		require.Less(t, *one.Ended, 60.0)
	}
}
