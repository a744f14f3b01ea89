package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Homework goes out by post on a phone, is answered with a slip, mended, entered, and seen by the trainer.
func TestHomeworkByPost(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Wick, “the lad” 🕯", "household": "The chandlery"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Kes, “K.”", "role": "family"}))
	s.Exactly(t, dog, form.Typed{"skill": "Touch", "kind": "cued", "cue": "touch", "position": "nose on it"}, "handler", "1, 2")
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	p.Go("/post")
	p.See("Nothing has come yet")
	axe(t, p, "post, empty")
	p.Go("/dogs/" + dog + "/homework")
	p.Eval(`document.querySelector('label.check input[name="skill"]').click()`)
	p.Follow(".page form button.btn")
	p.Follow(`button[formaction$="/post"]`)
	p.See("Homework: Wick, “the lad” 🕯")
	p.Follow(".rows a")
	p.See("Simulated: as Kes, “K.” would")
	axe(t, p, "post, a letter sent")
	p.Fill("#f-text", "Touch 6 of 5 quay, “gulls” 🐦")
	p.Follow("aside form button.btn")
	p.See("not entered")
	p.Follow(".rows a")
	require.Equal(t, "Touch 6 of 5 quay, “gulls” 🐦", browser.Get[string](p, `document.getElementById("f-lines").value`))
	p.Follow("aside form button.btn")
	p.See("6 of 5 cannot be")
	p.Errors() // the browser notes the 422
	axe(t, p, "post, mended")
	p.Fill("#f-lines", "Touch 5 of 5 quay, “gulls” 🐦")
	p.Follow("aside form button.btn")
	p.See("Entered on")
	p.Follow("aside a.link")
	p.See("5 of 5")
	p.See("“gulls” 🐦")
	clean(t, p)
}
