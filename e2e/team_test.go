package e2e_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// Two trainers and a helper share a day: a note on a trial and a dog that changes hands reach the helper's phone; who assigns from a page
// that is out of date is told; the hand-over sheet prints; and the journal says who did what.
func TestADayWithOthers(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "0.5, 1, 2")
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale", "role": "trainer"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Ebba, “the helper” 🐚", "role": "helper"}))
	s := serveAt(t, o, "127.0.0.1:0", web.Options{SignIn: true})
	all, err := s.Devices(ctx)
	require.NoError(t, err)
	comesIn := func(person int, size browser.Size) *browser.Page {
		code, err := s.Pair(ctx, form.Typed{"person": all.People[person].ID})
		require.NoError(t, err)
		p := s.Page(size)
		p.Go("/pair/" + code)
		p.Follow("button.main")
		return p
	}
	trainer, other, phone := comesIn(0, browser.Laptop), comesIn(1, browser.Laptop), comesIn(2, browser.Phone)
	begin(phone, plan, "")
	hold(phone)
	saved(phone)
	ends(phone)
	s.CatchUp(t)

	// A note on the trial, from its place in the review.
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	trainer.Go("/sessions/" + v.Sessions[0].ID)
	trainer.Follow(`[aria-label="Edit trial 1"]`)
	trainer.Follow(`#correct a[href^="/team/note"]`)
	trainer.See("Wait at the ramp, trial 1")
	axe(t, trainer, "a note")
	trainer.Follow(`main button.now`)
	trainer.See("Write what they should know.")
	trainer.Choose("#f-whom", "Ebba, “the helper” 🐚")
	trainer.Fill("#f-text", "You marked early, “a bit” 🐟, watch her elbows")
	trainer.Follow(`main button.now`)
	trainer.See("watch her elbows")
	trainer.Errors() // the 422

	// Both trainers have the page of the day open; the second is told what the first decided.
	other.Go("/team")
	trainer.Go("/team")
	trainer.Choose("#f-dog_"+dog, "Ebba, “the helper” 🐚")
	trainer.Follow(`#day form button`)
	trainer.See("Hand-over sheets")
	other.Choose("#f-dog_"+dog, "Jorun Vale")
	other.Follow(`#day form button`)
	other.See("It now says: Ebba, “the helper” 🐚")
	chosen := browser.Get[string](other, fmt.Sprintf(`document.getElementById("f-dog_%s").value`, dog))
	require.Equal(t, all.People[1].ID, chosen, "what was chosen is kept")
	axe(t, other, "a day that somebody else changed")
	other.Errors() // the 409
	other.Go("/?mine=1")
	other.See("What others work today is hidden.")

	// On the phone: what is theirs, with the note; then done.
	phone.Go("/")
	phone.See("Notes for you")
	phone.See("watch her elbows")
	require.False(t, browser.Get[bool](phone, `document.body.innerText.includes("with Ebba")`), "it is their own")
	phone.Go("/team")
	axe(t, phone, "the team on a phone")
	phone.Follow(`#notes form button`)
	phone.See("No open note.")
	phone.Go("/team/handover?with=" + all.People[2].ID)
	phone.See("Wait at the ramp")
	axe(t, phone, "a hand-over sheet")
	require.Equal(t, 1, phone.PDFPages())

	// What the phone logged is on its person's own page, and on the trainer's page of them.
	phone.Go("/me/handling")
	phone.See("Your handling")
	phone.See("1 trial in 1 session, with 1 dog")
	axe(t, phone, "one's own handling")
	trainer.Go("/people/" + all.People[2].ID)
	trainer.See("Handling by Ebba, “the helper” 🐚")
	trainer.See("1 trial in 1 session, with 1 dog")

	trainer.Go("/journal?area=team")
	for _, line := range []string{
		"with Ebba, “the helper” 🐚 assigned", "Note to Ebba, “the helper” 🐚 “You marked early", "dealt with on ",
	} {
		trainer.See(line)
	}
	axe(t, trainer, "the journal")
	clean(t, trainer)
	clean(t, phone)
}
