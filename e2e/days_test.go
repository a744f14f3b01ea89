package e2e_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Up on the bollard: two days from paper, the first with a slip of the pen, and then a session in which what he finds on his own is told
// from what he does after the help.
func TestTheBollardAfterTwoDaysOnPaper(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := s.AddDog(ctx, form.Typed{"name": "Limpet, “the climber” 🐚"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Up on the bollard, “hup” ⚓", "kind": "cued", "position": "four feet on it", "cue": "hup", "latency_s": "5", "join": "full",
		"leg1_make": "ramp", "leg1_what": "height", "leg1_from": "20", "leg1_to": "60", "leg1_by": "10",
		"leg2_make": "fade", "leg2_what": "help", "leg2_items": "hand on the wall\na small sign\nnone",
		"leg3_make": "pause", "leg3_from": "1", "leg3_to": "2",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	day := func(ago int) string { return o.Clock.Now().AddDate(0, 0, -ago).UTC().Format(app.DayLayout) }
	enters := func(ago int, typed map[string]string) {
		p.Go("/plans/" + plan + "/enter")
		p.Eval(fmt.Sprintf(`document.getElementById("f-day").value = %q`, day(ago)))
		for field, text := range typed {
			p.Fill("#f-"+field, text)
		}
	}
	enters(2, map[string]string{
		"place_name": "the dry planks, “east” 🪵", "set1_met": "5", "set2_met": "4", "set2_late": "2", "note": `licked; "fine"`,
	})
	p.Choose("#f-place", "A new place")
	p.Follow("main form button.now")
	require.NotEmpty(t, p.Text("#p-set2"))
	p.Errors() // the browser notes the 422
	p.Fill("#f-set2_late", "1")
	p.Follow("main form button.now")
	first, err := s.Review(ctx, p.Path()[len("/sessions/"):])
	require.NoError(t, err)
	require.Equal(t, []any{"Held its step", "90 %", 10, 0}, []any{first.Headline, first.Strict, len(first.Table), len(first.Verdicts)})
	require.Equal(t, "the dry planks, “east” 🪵", first.Place)
	s.CatchUp(t)
	enters(1, map[string]string{"set1_met": "5", "set2_met": "5", "unlogged": "3"})
	p.Choose("#f-place", "the dry planks")
	p.Choose("#f-set2_step", "2. ")
	p.Follow("main form button.now")
	s.CatchUp(t)
	second, err := s.Review(ctx, p.Path()[len("/sessions/"):])
	require.NoError(t, err)
	require.Equal(t, []any{"One step up", "77 %"}, []any{second.Headline, second.Logged})

	begin(p, plan, "20")
	require.Equal(t, "30 cm high", p.Text("#step")[:len("30 cm high")], "a step up from where it was")
	press := func(keys ...string) {
		for _, key := range keys {
			thumb(p, "cued", key)
		}
	}
	press("main", "main", "main", "help", "helped", "main", "main", "help", "main")
	require.Equal(t, "met helped helped", browser.Get[string](p,
		`patientfox.view.set.places.filter((x) => x.outcome && x.paid).map((x) => x.outcome).join(" ")`))
	ends(p)
	saved(p)
	s.CatchUp(t)
	pack, err := s.Pack(ctx, plan)
	require.NoError(t, err)
	var assisted []bool
	for _, trial := range pack.Stretch {
		if !trial.Tally {
			assisted = append(assisted, trial.Assisted)
		}
	}
	require.Equal(t, []bool{false, true, true}, assisted)
	require.Equal(t, pack.Steps[1].ID, pack.Position.Reached)
	shown, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	last := shown.Points[len(shown.Points)-1]
	require.Equal(t, []any{1, 3}, []any{last.Met, last.Size}, "the picture counts as the rule does")
	require.Equal(t, o.Clock.Now().UTC().Format(time.DateOnly), pack.LastDay)
}

// Turning on the lid, both ways: each side has its share, the pouch is filled again, and the lid comes back for one.
func TestBothWaysOnTheLid(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Limpet"})
	require.NoError(t, err)
	plan, err := s.AddPlan(ctx, dog, form.Typed{
		"skill": "Turn, “round” 🔁", "kind": "cued", "position": "a full turn", "cue": "round", "latency_s": "4",
		"tracks":    "clockwise\nthe other, “left”",
		"leg1_make": "fade", "leg1_what": "prop", "leg1_items": "a crate lid\na mat\nnone",
	})
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Fill("#pieces", "8")
	p.Click("#setup-more summary")
	p.Fill("#quota", "2")
	p.Click("#begin")
	phase(p, "idle")
	press := func(keys ...string) {
		for _, key := range keys {
			thumb(p, "cued", key)
		}
	}
	press("main", "main", "main", "missed")
	p.Wait(`patientfox.view.sheet.done`)
	p.Click("#end")
	p.Click("#closing-another")
	p.Wait(`!document.getElementById("board").hidden && patientfox.view.where.includes("left")`)
	for range 5 {
		press("main", "main")
	}
	phase(p, "deciding")
	press("main", "main", "main", "pay") // a step up, one more, and a second treat for it: nothing is left
	p.Wait(`/\b0 treats left/.test(patientfox.view.log)`)
	p.Click(".more summary")
	p.Fill("#more-pieces", "10")
	p.Click("#top-up-add")
	p.Wait(`/\b10 treats left/.test(patientfox.view.log)`)
	p.Click(".more summary")
	press("easier", "main", "helped", "main") // the lid again, for one
	session := browser.Get[string](p, `patientfox.session.id`)
	p.Click("#end")
	p.Fill("#left", "6")
	p.Click("#closing-end")
	p.See("The session is over")
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	s.CatchUp(t)
	v, err := s.Review(ctx, session)
	require.NoError(t, err)
	var lines []string
	for _, row := range v.Table {
		lines = append(lines, row.Outcome+" "+row.Paid+" "+row.Step[:1])
	}
	require.Equal(t, []string{
		"met 1 treat 1", "missed – 1", "met 1 treat 1", "met 1 treat 1", "met 1 treat 1", "met 1 treat 1", "met 1 treat 1",
		"met 2 treats 2", "helped 1 treat 1",
	}, lines)
	require.Equal(t, []any{"One step up", "7 of 9"}, []any{v.Headline, v.Strict})
	require.Contains(t, v.LoggedLine, "12 treats eaten, 9 paid in the log")
	for i, reached := range []int{0, 1} {
		shown, err := s.Plan(ctx, plan)
		require.NoError(t, err)
		pack, err := s.Pack(ctx, shown.Tracks[i].ID)
		require.NoError(t, err)
		require.Equal(t, pack.Steps[reached].ID, pack.Position.Reached)
	}
}
