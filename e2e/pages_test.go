package e2e_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/e2e/browser"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

func TestWhatIsPutAwayComesBack(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "2, 4")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.Follow(`form[action="/plans/` + plan + `/away"] button`)
	p.See("Put away (1)")
	p.See("What first?")
	p.Follow(`form[action="/plans/` + plan + `/away"] button`)
	require.Equal(t, "/plans/"+plan, p.Path())
	p.Go("/dogs/" + dog)
	p.Follow(`form[action="/dogs/` + dog + `/away"] button`)
	p.See("has been put away; the record is kept")
	p.Go("/")
	p.See("Nothing is planned")
	p.Go("/dogs")
	p.Follow(`main a[href="/dogs/` + dog + `"]`)
	p.Follow(`form[action="/dogs/` + dog + `/away"] button`)
	p.Go("/")
	p.See("Wait at the ramp")
	clean(t, p)
}

func TestDefinitionAndRuleAreEditedInPlace(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.See("A stranger would still ask:")
	p.Eval(`document.querySelectorAll("details.edit").forEach((d) => (d.open = true))`)
	p.Fill("#f-definition-postures", "stand, sit or down")
	p.Fill("#f-definition-break", "a foot over the lip")
	p.Fill("#f-definition-release", "“off we go”")
	p.Choose("#f-definition-after_error", "spoken interrupter")
	p.Follow(`form[action$="/definition"] button`)
	p.See("Posture: stand, sit or down")
	p.See("An interrupter is recorded here, not advised.")
	p.Wait(`!document.body.innerText.includes("A stranger would still ask")`)

	p.Eval(`document.querySelectorAll("details.edit").forEach((d) => (d.open = true))`)
	p.Choose("#f-kind", "Runs")
	p.Fill("#f-rule-run_up", "0")
	p.Follow(`form[action$="/rule"] button`)
	p.See("Step up needs 1 to 50 met in a row.")
	p.Errors()
	p.Fill("#f-rule-run_up", "4")
	p.Follow(`form[action$="/rule"] button`)
	p.See("Runs. Up after four met in a row, back after two not right.")
	clean(t, p)
}

func TestWhatIsNotSoundIsSaidAndMendedInOnePress(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 9")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.See("Worth a second look: step 2")
	p.Follow(`p a[href*="?step="]`)
	p.See("Duration jumps: from the step below, 4 s would do.")
	p.Follow(`button[value="mend"]`)
	p.See("The steps were changed.")
	p.Follow(`p a[href*="?step="]`)
	for range 3 {
		if !browser.Get[bool](p, `Boolean(document.querySelector('button[value="mend"]'))`) {
			break
		}
		p.Follow(`button[value="mend"]`)
	}
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.Greater(t, len(v.Steps), 2)
	clean(t, p)
}

func TestATrialIsCorrectedOnReview(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	h := s.Session(t, plan, session.Choice{})
	s.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{Take: true})
	p := s.Page(browser.Laptop)
	p.Go("/sessions/" + h.Session)
	p.Follow(`[aria-label="Edit trial 2"]`)
	axe(t, p, "review, correcting")
	p.Choose(`[aria-label="Outcome of trial 2"]`, "missed")
	p.Follow("#correct button")
	p.See("corrected later")
	p.See("As the record reads now: repeat.")
	p.See("80 %")
	axe(t, p, "review, corrected")
	p.Follow(`[aria-label="Edit trial 3"]`)
	p.Fill(`[aria-label="Seconds of trial 3"]`, "ages")
	p.Follow("#correct button")
	p.See("Seconds, in figures.")
	p.Errors() // the browser notes the 422
	require.Equal(t, "ages", browser.Get[string](p, `document.querySelector('[aria-label="Seconds of trial 3"]').value`))
	p.Fill(`[aria-label="Seconds of trial 3"]`, "0.5")
	p.Follow("#correct button")
	p.See("ended early")
	p.Click("section.no-print summary")
	p.Fill(`[name="at"]`, "0:04")
	p.Follow(`form[action$="/put"] button`)
	p.See("put in later")
	p.Follow(`form[action$="/uncorrect"] button`)
	p.Wait(`!document.body.innerText.includes("put in later")`)
	p.Follow(`form[action$="/uncorrect"] button`)
	p.Wait(`!document.body.innerText.includes("ended early")`)
	p.See("corrected later")
	clean(t, p)
}

func TestAPlanEditedMeanwhileShowsBoth(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4")
	p := s.Page(browser.Laptop)
	p.Go("/dogs/" + dog + "/edit")
	shown, _, err := s.DogForm(ctx, dog)
	require.NoError(t, err)
	shown["household"] = "the lock-keeper's"
	require.NoError(t, s.SaveDog(ctx, dog, shown))
	p.Fill("#f-household", "the chandlery")
	p.Follow("main form button")
	p.See("Somebody changed this meanwhile.")
	p.See("It now says: the lock-keeper's")
	require.Equal(t, "the chandlery", browser.Get[string](p, `document.querySelector("#f-household").value`))
	p.Errors()
	p.Follow("main form button")
	p.See("the chandlery")
	clean(t, p)
}

func TestPlacesAndPeopleAreNamedAndChosen(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1, 2, 3, 4, 5, 6, 7, 8, 9")
	p := s.Page(browser.Phone)
	p.Go("/settings")
	p.Follow(`form[action="/settings/places"] button`)
	p.See("Give the place a name.")
	p.Errors()
	for _, place := range []string{"the net shed", "the north quay"} {
		p.Fill("#a-places", place)
		p.Follow(`#places > form button`)
		p.See(place)
	}
	p.Fill("#f-person-name", "Jorun Vale")
	p.Choose("#f-person-role", "Helper")
	p.Follow(`#people > form button`)
	p.See("Jorun Vale")

	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Choose("#place", "the net shed")
	p.Choose("#start-step", "6 ·")
	p.See("Your own choice of step.")
	p.Click("#begin")
	phase(p, "idle")
	require.Contains(t, p.Text("#where"), "set manually")
	p.Keys("1")
	ends(p)
	saved(p)

	p.Go("/run?plan=" + plan)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.See("Opens at the step reached.")
	p.Choose("#place", "the north quay")
	p.See("Opens two steps down: the north quay is new to this skill.")
	p.Choose("#handler", "Jorun Vale")
	p.See("The first time with Jorun Vale: step 3. With Trainer it is at step 6. Opens two steps down: the north quay is new to this skill.")
	clean(t, p)
}

func TestAnotherBlockTakesTheEditedPlan(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "0.5, 1")
	p := s.Page(browser.Phone)
	begin(p, plan, "")
	hold(p)
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.NoError(t, s.EditSteps(ctx, plan, form.Typed{"op": "save", "step": v.Steps[0].ID, "version": "1", "duration": "0.7"}))
	require.Equal(t, "0.5 s, you beside", p.Text("#step"))
	p.Click("#end")
	p.Fill("#unlogged", "3")
	p.Click("#closing-another")
	phase(p, "idle")
	p.Wait(`document.getElementById("step").innerText.startsWith("0.7 s")`)
	hold(p)
	ends(p)
	saved(p)
	p.Follow("#review")
	p.See("2 trials logged, about 3 not.")
	p.See("40 %")
	clean(t, p)
}

func TestASessionOfAnotherDeviceIsNotRunHere(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	p := s.Page(browser.Phone)
	p.Go("/run?plan=" + plan + "&session=" + app.NewID())
	p.See("This session runs on another device")
	p.Errors() // the browser notes that the server has no such session
	clean(t, p)
	p.Go("/run?plan=nothing")
	p.See("This plan cannot be run")
	require.True(t, strings.Contains(p.Text("#message-text"), "put away"))
	p.Errors()
}
