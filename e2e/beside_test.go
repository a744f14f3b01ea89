package e2e_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// Two phones in one session see the same record; a helper's trials are shown beside it and count when they are accepted.
func TestTwoPhonesInOneSession(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	o.Clock.Run() // what is asked is how far clocks are apart
	s := serveAt(t, o, "127.0.0.1:0", web.Options{})
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	one := s.Page(browser.Phone)
	begin(one, plan, "20")
	hold(one)
	saved(one)
	id := browser.Get[string](one, `patientfox.session.id`)
	two := s.Page(browser.Phone)
	two.Go("/run?session=" + id)
	two.See("Come into this session")
	axe(t, two, "coming in")
	two.Click("#join-in")
	phase(two, "idle")
	two.See("You log beside the one who runs it")
	require.Equal(t, "1 trial · 19 treats left", two.Text("#log"))
	apart := browser.Get[float64](one,
		`performance.timeOrigin + patientfox.base`) - browser.Get[float64](two, `performance.timeOrigin + patientfox.base`)
	require.InDelta(t, 0, apart, 1500, "ms between the two clocks")

	hold(one)
	before := time.Now()
	two.Wait(`patientfox.view.log.startsWith("2 trials")`)
	require.Less(t, time.Since(before), 15*time.Second)
	two.Click(`[data-key="missed"]`)
	two.See("1 trial of helpers not accepted yet")
	one.Wait(`document.querySelector('[data-key="accept"]')`)
	require.Equal(t, "met", browser.Get[string](one, `patientfox.view.set.places[1].outcome`))
	require.Empty(t, browser.Get[string](one, `patientfox.view.set.places[2].outcome`), "it does not count yet")
	one.Click(`[data-key="accept"]`)
	one.Wait(`patientfox.view.set.places[2].outcome === "missed"`)
	two.Wait(`patientfox.view.set.places[2].outcome === "missed"`)
	// The first phone's battery is nearly gone: the second runs it from here on.
	two.Click(".more summary")
	two.Click("#pen")
	two.Wait(`!patientfox.view.helps`)
	one.See("You log beside the one who runs it")
	two.Click(".more summary")
	hold(two)
	two.Wait(`patientfox.view.set.places[3].outcome === "met"`)
	one.Wait(`patientfox.view.set.places[3].outcome === "met"`)
	ends(two)
	one.See("The session is over")
	saved(one)
	saved(two)
	v, err := s.Review(ctx, id)
	require.NoError(t, err)
	require.Len(t, v.Table, 4)
	require.Equal(t, "75 %", v.Strict)
	clean(t, one)
	clean(t, two)
}

// A session that was put away on the laptop goes on in the field: that is said, and nothing of it is lost.
func TestASessionPutAwayElsewhereKeepsWhatComes(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	hold(p)
	saved(p)
	id := browser.Get[string](p, `patientfox.session.id`)
	require.NoError(t, s.DeleteSession(ctx, id, true))
	p.See("This session was put away on another device")
	hold(p)
	saved(p)
	events, err := s.Store.Read().Events(ctx, id)
	require.NoError(t, err)
	require.Len(t, events, 2+2*4, "opened, a block, and two trials")
	clean(t, p)
}

// Another dog takes turns in the same session: one works, one rests, and each record is its own.
func TestTwoDogsTakeTurnsOnOnePhone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "0.5, 1, 2")
	other, err := s.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	second, err := s.AddPlan(ctx, other, form.Typed{
		"skill": "Settle on deck", "kind": "held", "position": "on the blanket", "leg1_make": "figures", "leg1_what": "duration",
		"leg1_items": "0.5, 1",
	})
	require.NoError(t, err)
	p := s.Page(browser.Phone)
	carry(p)
	begin(p, plan, "20")
	hold(p)
	p.Click(".more summary")
	p.Click("#turn-open")
	axe(t, p, "in turn")
	p.Wait(`document.querySelector("#turn-with option")`)
	p.Choose("#turn-with", "Brine")
	p.Click("#turn-begin")
	p.See("Tansy rests")
	require.Equal(t, "Brine", p.Text("#dog"))
	hold(p)
	p.Wait(`!patientfox.view.rests`)
	p.Click(`[data-key="swap"]`)
	p.See("Brine rests")
	hold(p)
	ends(p)
	saved(p)
	for id, n := range map[string]int{plan: 2, second: 1} {
		s.CatchUp(t)
		v, err := s.Plan(ctx, id)
		require.NoError(t, err)
		require.Equal(t, n, v.Evidence.N, id)
	}
	for _, id := range []string{dog, other} {
		s.CatchUp(t)
		v, err := s.Sessions(ctx, id, "")
		require.NoError(t, err)
		require.Len(t, v.Sessions, 1)
	}
	clean(t, p)
}
