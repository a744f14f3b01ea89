package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// A helper comes in by a code, runs a session, finds nothing to change, and signs out everywhere.
func TestAHelperRunsSessionsAndChangesNothing(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "0.5, 1, 2")
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale, “the helper” 🐚", "role": "helper"}))
	s := serveAt(t, o, "127.0.0.1:0", web.Options{SignIn: true})
	all, err := s.Devices(ctx)
	require.NoError(t, err)
	comesIn := func(size browser.Size) *browser.Page {
		code, err := s.Pair(ctx, form.Typed{"person": all.People[1].ID})
		require.NoError(t, err)
		p := s.Page(size)
		p.Go("/pair/" + code)
		p.See("Let this device in as Jorun Vale, “the helper” 🐚?")
		p.Follow("button.main")
		return p
	}
	p := comesIn(browser.Phone)
	p.See("Tansy")
	begin(p, plan, "")
	hold(p)
	saved(p)
	ends(p)
	p.Go("/plans/" + plan)
	require.Empty(t, browser.Get[[]string](p,
		`[...document.querySelectorAll("main form[method=post]")].filter((f) => f.offsetParent).map((f) => f.action)`))
	for _, path := range []string{"/settings", "/devices", "/copies", "/dogs/" + dog + "/homework", "/plans/" + plan + "/build"} {
		p.Go(path)
		p.See("You are signed in as a helper.")
	}
	p.Errors() // the browser notes each 403
	p.Go("/")
	p.Follow(`nav a[href="/me"]`)
	p.See("You see dogs and plans, run sessions and log in them.")
	for _, size := range []browser.Size{browser.Laptop, browser.Phone} {
		p.Resize(size)
		axe(t, p, "one's own page")
	}
	laptop := comesIn(browser.Laptop)
	laptop.Go("/me")
	laptop.See("and on 1 other.")
	laptop.Follow(`form[action="/me/everywhere"] button`)
	laptop.See("This device is not paired yet.")
	p.Go("/")
	p.See("This device is not paired yet.")
	clean(t, p)
}
