package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
)

// carry opens Today and waits until the device can do without the server.
func carry(p *browser.Page) {
	p.Go("/")
	p.Wait(`document.documentElement.dataset.carried`)
	p.Wait(`navigator.serviceWorker.controller`)
}

// From the moment Today was loaded a session is opened, run, stopped and reviewed in summary without a server;
// the next one begins where it ended, on the half step that was made in it; and the server gets all of it.
func TestWithoutASignalFromTheFirstPageOn(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	p.Go("/plans/" + plan)
	p.See("No signal")
	p.See("0.5 s, you beside")
	p.Follow(`a[href="/run?plan=` + plan + `"]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Fill("#pieces", "40")
	p.Click("#begin")
	phase(p, "idle")
	for range 5 {
		hold(p)
	}
	phase(p, "deciding")
	press(p)
	phase(p, "idle")
	p.Click("#end")
	p.Click("#closing-end")
	p.See("The session is over")
	p.See("5 of 5 met")
	p.See("Reached: step 2 of 3")
	p.Follow(`#over a[href="/"]`)
	p.See("No signal")
	p.See("Step 2 of 3")
	p.Follow(`a[href="/run?plan=` + plan + `"]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	require.Equal(t, "1 s, you beside", p.Text("#setup-step"))
	p.Click("#begin")
	phase(p, "idle")
	hold(p)
	p.Go("/run")
	p.See("Begun and not ended")
	p.Follow(`#carried-open a`)
	phase(p, "idle")
	require.Equal(t, "1 s, you beside", p.Text("#step"))
	p.Click("#end")
	p.Click("#closing-end")
	p.See("The session is over")
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	v, err := s.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Sessions, 2)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	require.Empty(t, today.Open)
}
