package e2e_test

import (
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/work"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A plan of each of the eight kinds of work is made in the browser: one from the library, the others
// from the kind alone, with the steps shown before anything is saved.
func TestEveryKindOfWorkIsPlanned(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Pilchard"})
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	p.Go("/dogs/" + dog + "/plans/new")
	p.Follow(`main a[href$="from=stay-in-place"]`)
	p.Wait(`document.querySelectorAll("#preview li").length > 35`)
	p.Fill("#f-leg1_to", "5")
	p.Wait(`!document.querySelector("#preview").innerText.includes("20 s")`)
	p.Wait(`document.querySelector("#preview").innerText.includes("5 s · 6 m")`)
	p.Follow(`.btn.now`)
	p.See("Keeps the posture it was asked for")
	p.See("What usually goes wrong")
	for _, kind := range work.All[1:] {
		p.Go("/dogs/" + dog + "/plans/new?kind=" + string(kind.Kind))
		p.Wait(`document.querySelectorAll("#preview li").length > 2`)
		shown := browser.Get[int](p, `document.querySelectorAll("#preview li").length`)
		p.Fill("#f-skill", "Skill: "+string(kind.Kind))
		p.Follow(`.btn.now`)
		p.See("Say what a bystander would see when it is right.")
		p.Errors() // the browser notes the 422
		p.Fill("#f-position", "as it should be")
		p.Follow(`.btn.now`)
		p.See("As it should be")
		require.Equal(t, shown, browser.Get[int](p, `document.querySelectorAll("#all li").length`), kind.Kind)
	}
	clean(t, p)
}

// Legs are added and joined, a wrong figure is named beside its field, and what was typed stays.
func TestLegsAreJoinedWithALivePreview(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	p.Go("/dogs/" + dog + "/plans/new?kind=held")
	p.Fill("#f-skill", "Settle on deck")
	p.Fill("#f-position", "lies on her side")
	p.Wait(`document.getElementById("f-leg2_make").offsetParent === null`)
	p.Click(`button[x-on\:click="more"]`)
	p.Choose("#f-leg2_make", "The trigger comes nearer, stronger ones from far again (m)")
	p.Fill("#f-leg2_trigger_is", "gulls")
	p.Fill("#f-leg2_from", "40")
	p.Fill("#f-leg2_to", "60")
	p.Wait(`document.getElementById("preview").innerText.includes("The goal is easier than the start")`)
	p.Follow(`.btn.now`)
	p.See("The goal is easier than the start: for trigger distance, less is harder.")
	p.Errors()
	require.Equal(t, "60", browser.Get[string](p, `document.getElementById("f-leg2_to").value`))
	p.Fill("#f-leg2_to", "12")
	p.Wait(`document.querySelector("#preview").innerText.includes("gulls at 12 m")`)
	p.Follow(`.btn.now`)
	p.See("20 s · gulls at 12 m")
	clean(t, p)
}

// Steps are put in order with a mouse and with the keyboard, and every edit can be taken back.
func TestStepsAreDraggedAndBroughtBack(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "1, 2, 3, 5")
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.Click("#all summary")
	top := func() string {
		return browser.Get[string](p, `document.querySelector("#all li:last-child a").innerText`)
	}
	require.Equal(t, "5 s · you beside", top())
	p.Drag(`#all li:nth-child(1) .grip`, `#all li:nth-child(4)`)
	p.See("The steps were changed.")
	require.Equal(t, "1 s · you beside", top())
	p.See("Worth a second look")
	p.Follow(`form[action$="/undo"] button`)
	p.Click("#all summary")
	require.Equal(t, "5 s · you beside", top())
	p.Eval(`document.querySelector('button[aria-label="Move step 4 down"]').focus()`)
	p.KeysFollow("\r")
	require.Equal(t, "3 s · you beside", top())
	clean(t, p)
}

// What is behind a point of the way is said on focus and on a tap, and the second tap goes there.
func TestThePointsOfTheWayTell(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Demo(t))
	s.CatchUp(t)
	today, err := s.Today(ctx)
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + today.Next[0].ID)
	p.See("Point at a set, or tap it, to see what is behind it.")
	p.Eval(`document.querySelector(".fig-wide a[data-tell]").focus()`)
	told := browser.Get[string](p, `document.querySelector(".fig-wide a[data-tell]").dataset.tell`)
	p.See(told + ".")
	p.Eval(`document.querySelectorAll(".fig-wide a[data-tell]")[1]
		.dispatchEvent(new PointerEvent("click", { bubbles: true, cancelable: true, pointerType: "touch" }))`)
	p.See(browser.Get[string](p, `document.querySelectorAll(".fig-wide a[data-tell]")[1].dataset.tell`))
	require.Equal(t, "/plans/"+today.Next[0].ID, p.Path(), "the first tap tells")
	p.Follow(`[x-data="telling"] p[aria-live] a`)
	require.Contains(t, p.Path(), "/sessions/")
	clean(t, p)
}

// A plan leaves as a template file and comes back in through the page; a wrong file says
// where and why.
func TestATemplateFileIsReadIn(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "1, 2, 3")
	from, err := s.SaveTemplate(ctx, plan, form.Typed{"name": "<script>alert(1)</script> wait"})
	require.NoError(t, err)
	_, body, err := s.TemplateFile(ctx, from)
	require.NoError(t, err)
	folder := t.TempDir()
	file, newer := filepath.Join(folder, "wait.json"), filepath.Join(folder, "newer.json")
	require.NoError(t, os.WriteFile(file, body, 0o600))
	require.NoError(t, os.WriteFile(newer, []byte("{\n \"format\": \"patient-fox-template\",\n \"version\": 5\n}"), 0o600))
	p := s.Page(browser.Laptop)
	p.Go("/library")
	p.Upload("#f-file", newer)
	p.Follow(`form[enctype] button`)
	p.See("Line 3: This template was written in version 5 of the format")
	p.Errors()
	p.Upload("#f-file", file)
	p.Follow(`form[enctype] button`)
	p.See("<script>alert(1)</script> wait")
	p.See("3 steps")
	clean(t, p)
}

// Two tracks are beside each other on one plan, and the phone asks what varies one by one.
func TestTracksAndWhatVariesOnThePhone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "5, 6")
	right, err := s.AddTrack(ctx, plan, form.Typed{"first": "left", "track": "right"})
	require.NoError(t, err)
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.NoError(t, s.EditSteps(ctx, plan, form.Typed{
		"op": "save", "step": v.Steps[0].ID, "duration": "5", "handler": "0", "vary_duration": "on", "version": strconv.Itoa(v.Version),
	}))
	s.CatchUp(t)
	v, err = s.Plan(ctx, right)
	require.NoError(t, err)
	p := s.Page(browser.Phone)
	p.Go("/plans/" + plan)
	p.See("The next five ask")
	p.Follow(`.tracks a:nth-child(2)`)
	p.See("right step 1")
	p.Follow(`main a[href="/run?plan=` + right + `"]`)
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Click("#begin")
	phase(p, "idle")
	require.Equal(t, "Right · step 1 of 2", p.Text("#where"))
	for i := range 3 {
		require.Equal(t, "Next one: "+v.Steps[0].Next[i], p.Text("#target"))
		p.Keys("1")
		p.Wait(`patientfox.view.log.startsWith("` + strconv.Itoa(i+1) + ` trial")`)
	}
	clean(t, p)
}

// Work that frightens is logged by the dog's state; work that counts goes on by itself.
func TestExposuresAndCountsOnThePhone(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	made := func(from string) string {
		shown, err := s.NewPlan(ctx, dog, form.Typed{"from": from})
		require.NoError(t, err)
		shown.Typed["tracks"] = ""
		id, err := s.AddPlan(ctx, dog, shown.Typed)
		require.NoError(t, err)
		return id
	}
	p := s.Page(browser.Phone)
	open := func(plan string) {
		p.Go("/run?plan=" + plan)
		p.Wait(`!document.getElementById("setup").hidden`)
		p.Click("#begin")
		phase(p, "idle")
	}
	decoys := func() { // as they are dealt; nothing follows, but a word on how it took it
		if browser.Get[string](p, `patientfox.view.main.label`) == "Decoy" {
			press(p)
			p.Click(`[data-key="reaction:looks"]`)
			p.Wait(`patientfox.view.main.label !== "Decoy"`)
		}
	}
	open(made("a-sound-that-worries"))
	for _, key := range []string{
		`[data-key="expects"]`, `[data-key="met"]`, `[data-key="expects"]`, `[data-key="expects"]`, `[data-key="met"]`,
	} {
		decoys()
		press(p)
		phase(p, "trying")
		require.Contains(t, p.Text(mainKey), "Pay")
		p.Wait(`!patientfox.view.rests`)
		p.Click(key)
		p.Wait(`patientfox.view.phase !== "trying"`)
	}
	require.Contains(t, p.Text(mainKey), "Step up")
	axe(t, p, "run, by state")
	press(p)
	phase(p, "idle")
	decoys()
	press(p)
	phase(p, "trying")
	p.Keys("5")
	p.See("Over threshold: leave now")
	ends(p)
	p.Wait(`!document.getElementById("over").hidden`)
	saved(p)
	p.Follow("#review")
	p.Wait(`document.getElementById("trials").textContent.includes("at ease")`)

	open(made("walk-on-a-slack-line"))
	require.Equal(t, "1 pace", p.Text("#step"))
	press(p)
	phase(p, "trying")
	press(p)
	phase(p, "idle")
	p.Wait(`document.getElementById("step").innerText === "2 paces"`)
	clean(t, p)
}
