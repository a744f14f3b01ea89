package e2e_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/work"
	"patientfox/e2e/browser"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Rain: the phone is in the pocket, without a signal, and what happened meanwhile is told afterwards. The rates count it, the rule decides
// on it as whole sets, and nothing is said of when it was paid.
func TestRain(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Pilchard, “the wet one” 🌧"})
	require.NoError(t, err)
	gulls := form.Typed{"skill": "Come away from the gulls", "kind": "cued", "position": "comes", "latency_s": "4"}
	plan := s.Exactly(t, dog, gulls, "handler", "2, 4")
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	begin(p, plan, "20")
	for range 3 {
		thumb(p, "cued", "main")
		thumb(p, "cued", "main")
	}
	tally := func(met, late, missed string) {
		p.Click(".more summary")
		p.Click("#tally-open")
		p.Fill("#tally-met", met)
		p.Fill("#tally-late", late)
		p.Fill("#tally-missed", missed)
		p.Click("#tally-keep")
		p.Wait(`document.getElementById("tally").hidden`)
	}
	tally("4", "", "1")
	tally("4", "1", "")
	p.Wait(`patientfox.view.verdict.show`)
	p.Click(".more summary")
	p.Click("#note-open")
	p.Fill("#note-text", "gulls closer than planned; one bark, “woof”, 50 %")
	p.Click("#note-save")
	p.Click("#end")
	p.Fill("#unlogged", "2")
	p.Click("#closing-end")
	p.See("The session is over")
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	s.CatchUp(t)
	sessions, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	v, err := s.Review(ctx, sessions.Sessions[0].ID)
	require.NoError(t, err)
	require.Equal(t, "85 %", v.Strict, "3 + 4 + 4 of 13")
	require.Equal(t, "13 trials logged, about 2 not.", v.LoggedLine)
	require.Empty(t, v.Gaps, "nobody knows when it was paid meanwhile")
	require.Len(t, v.Table, 13)
	tallied := 0
	for _, row := range v.Table {
		if row.Note == "from a tally" {
			tallied++
			require.Equal(t, []string{"", "–"}, []string{row.ID, row.Paid})
		}
	}
	require.Equal(t, 10, tallied)
	require.Contains(t, v.Notes[0].Text, "gulls closer than planned; one bark, “woof”, 50 %")
	require.Equal(t, "11 of 13 met, 87 % logged, about 2 not", sessions.Sessions[0].Line)
}

// A pup: three short sessions in a day, and he gets up once. Each session goes on where the last ended, and tomorrow asks for seconds more.
func TestAPupInThreeSessionsADay(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := s.AddDog(ctx, form.Typed{"name": "Scupper 🐾", "born": o.Clock.Now().AddDate(0, 0, -98).Format(app.DayLayout)})
	require.NoError(t, err)
	made, err := s.NewPlan(ctx, dog, form.Typed{"from": "stay-in-place"})
	require.NoError(t, err)
	require.NotEmpty(t, made.Preview.Fits, "it says what it does otherwise at this age")
	require.Zero(t, made.Preview.Odd, "and warns of none of its own steps")
	plan, err := s.AddPlan(ctx, dog, made.Typed)
	require.NoError(t, err)
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	for i := range 3 {
		begin(p, plan, "")
		for trial := range 5 {
			thumb(p, "held", "main")
			if i == 1 && trial == 1 {
				thumb(p, "held", "missed")
				thumb(p, "held", "position")
				continue
			}
			thumb(p, "held", "full")
			thumb(p, "held", "main")
			if browser.Get[string](p, `patientfox.view.phase`) == "deciding" {
				thumb(p, "held", "main")
			}
		}
		ends(p)
		saved(p)
		s.CatchUp(t)
	}
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Sessions, 3)
	review, err := s.Review(ctx, v.Sessions[1].ID)
	require.NoError(t, err)
	require.Equal(t, []string{"80 %", "Held its step"}, []string{review.Strict, review.Headline})
	require.Contains(t, review.Table[1].Measure, "in position again after")
	require.Contains(t, review.NextTime, "It was worked again since then")
	last, err := s.Review(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.Equal(t, "One step up", last.Headline)
	pack, err := s.Pack(ctx, plan)
	require.NoError(t, err)
	first, now := pack.Steps[0].Criteria, pack.Steps[pack.ReachedAt()].Criteria
	require.Less(t, now.Get("duration")-first.Get("duration"), 5.0, "seconds more, not fifty")
}

// A family's second week: three days missed, a bad one from memory, and a growl over the bowl. The growl is what the trainer sees first.
func TestAFamilysSecondWeek(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	s := serve(t, o)
	dog, err := s.AddDog(ctx, form.Typed{"name": "Tansy", "household": "the chandler’s, “all five”"})
	require.NoError(t, err)
	require.NoError(t, s.SavePerson(ctx, form.Typed{"name": "Jo, nine years old"}))
	plan := s.Exactly(t, dog, form.Typed{"skill": "Wait for the bowl", "kind": "held", "position": "sits"}, "duration", "0.5, 1, 2")
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	p.Go("/plans/" + plan + "/enter")
	p.Eval(fmt.Sprintf(`document.getElementById("f-day").value = %q`, o.Clock.Now().AddDate(0, 0, -4).Format(app.DayLayout)))
	p.Fill("#f-set1_met", "2")
	p.Fill("#f-set1_missed", "3")
	p.Fill("#f-note", "Jo gave the treats; “she was bored”")
	p.Choose("#f-handler", "Jo, nine years old")
	p.Follow("main form button.now")
	s.CatchUp(t)
	begin(p, plan, "")
	p.Click(".more summary")
	p.Wait(`document.getElementById("handles").options.length > 1`)
	p.Choose("#handles", "Jo, nine years old")
	p.Click(".more summary")
	thumb(p, "held", "main")
	thumb(p, "held", "full")
	thumb(p, "held", "main")
	thumb(p, "held", string(work.GrowlKey))
	p.Click("#end")
	p.Click("#closing-end")
	p.See("The session is over")
	saved(p)
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	review, err := s.Review(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.Equal(t, "Growled or snapped", review.Headline)
	require.Equal(t, "Jo, nine years old", review.HandledBy())
	bad, err := s.Review(ctx, v.Sessions[1].ID)
	require.NoError(t, err)
	require.Equal(t, []any{"40 %", "Jo, nine years old"}, []any{bad.Strict, bad.HandledBy()})
	today, err := s.Today(ctx)
	require.NoError(t, err)
	require.Equal(t, plan, today.Decide[0].Plan, "what waits for the trainer")
	p.Go("/dogs/" + dog + "/sheets/new")
	p.Click(`[name="household"]`)
	p.Follow("main form button.now")
	p.See("for 14 days no household trains it")
	p.Errors() // the browser notes the 422 as a failed load
}
