package e2e_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// A passkey is made on one's own page, signs in where there is nothing else, belongs to the name under which it was made, and is forgotten
// by a press. By an address in figures none is offered.
func TestAPasskeySignsIn(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun “J.” Vale", "role": "trainer"}))
	s := serveAt(t, o, "127.0.0.1:0", web.Options{SignIn: true})
	all, err := s.Devices(ctx)
	require.NoError(t, err)
	named := strings.Replace(s.Addr, "127.0.0.1", "localhost", 1)
	p := s.Page(browser.Laptop)
	comesIn := func() {
		code, err := s.Pair(ctx, form.Typed{"person": all.People[1].ID})
		require.NoError(t, err)
		p.Go("/pair/" + code)
		p.Follow("button.main")
	}
	comesIn()
	p.Go("/me")
	p.See("A passkey belongs to a name, and this page is reached by a number.")
	p.Go("/signin")
	require.False(t, browser.Get[bool](p, `document.body.innerText.includes("passkey")`))

	p.At("http://" + named)
	p.Authenticator()
	comesIn()
	p.Go("/me")
	p.Fill("#f-passkey", "the “blue” phone 🐟")
	p.Follow(`#passkeys button:not(.plain)`)
	p.See("the “blue” phone 🐟")
	p.See("since")
	axe(t, p, "passkeys")
	p.Follow(`form[action="/me/out"] button`)
	p.See("This device is not paired yet.")
	axe(t, p, "signing in with a passkey")
	p.Follow(`#passkey button`)
	p.Go("/me")
	p.See("Jorun “J.” Vale")

	// Under another name it is still there, and said not to work.
	p.At("http://" + s.Addr) // where it was let in first
	p.Go("/me")
	p.See("made for the name localhost, and does not work here")
	p.Follow(`#passkeys form[action$="/away"] button`)
	p.Go("/me")
	require.False(t, browser.Get[bool](p, `document.body.innerText.includes("blue")`))
	p.At("http://" + named)
	p.Go("/me")
	p.Follow(`form[action="/me/out"] button`)
	p.Click(`#passkey button`)
	p.See("That passkey is not known here.")
	p.Errors() // the 422
	journal, err := s.Journal(ctx, form.Typed{"person": all.People[1].ID})
	require.NoError(t, err)
	var lines []string
	for _, deed := range journal.Days[0].Deeds {
		lines = append(lines, deed.Lines...)
	}
	require.Contains(t, lines, "Passkey “the “blue” phone 🐟” of Jorun “J.” Vale made")
	require.Contains(t, lines, "Passkey “the “blue” phone 🐟” of Jorun “J.” Vale forgotten")
	clean(t, p)
}
