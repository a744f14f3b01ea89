package web_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// Every form of a plan's page answers bad input beside its field, keeps what was typed, and saves
// nothing.
func TestTheFormsOfAPlanKeepWhatWasTyped(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "2, 4")
	before, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	page := "/plans/" + plan
	for name, c := range map[string]struct {
		to    string
		typed map[string]string
		says  string
		keeps string
	}{
		"definition": {
			page + "/definition", map[string]string{"position": "", "cue": "“so”", "latency_s": "slow"}, "is not a number",
			`value="“so”"`,
		},
		"rule": {page + "/rule", map[string]string{
			"kind": "gate", "gate_rate": "150", "window": "10", "gate_sessions": "2", "gate_places": "1", "back_below": "60",
			"back_window": "5", "miss_guard": "2",
		}, "A share between 0 and 100 %", `value="150"`},
		"step": {
			page + "/steps",
			map[string]string{"op": "save", "step": before.Steps[0].ID, "duration": "9 furlongs", "text": "at the lip"}, "furlongs",
			`value="at the lip"`,
		},
		"move": {
			page + "/steps", map[string]string{"op": "move", "step": before.Steps[0].ID, "to": "9"}, "Move it to a step from 1 to 2.",
			"",
		},
		"need": {
			page + "/needs", map[string]string{"op": "add", "skill": "", "why": "because"}, "Give the skill a name.",
			`value="because"`,
		},
		"waive": {page + "/needs", map[string]string{"op": "waive", "number": "1", "waived": " "}, "Say why it can do without", ""},
		"management": {
			page + "/management", map[string]string{"not1": "", "instead1": "a gate", "props": "the mat"},
			"Say what must not happen.", `value="a gate"`,
		},
		"seven things to see": {
			page + "/engaged", map[string]string{"engaged": "a\nb\nc\nd\ne\nf\ng 🐾"}, "At most 6", "g 🐾",
		},
		"one phase": {
			page + "/phases", map[string]string{"phase1": "on, “gently”", "phase_s1": "3"}, "2 to 4 phases",
			`value="on, “gently”"`,
		},
		"a phase without a name": {
			page + "/phases", map[string]string{"phase_s2": "3"}, "Give the phase a name.", `value="3"`,
		},
		"two errors of one name": {
			page + "/errors", map[string]string{"error1": "crept, “far” 🐾", "error2": "Crept, “far” 🐾", "spoils2": "on"},
			"is named twice", `value="crept, “far” 🐾"`,
		},
		"a deck of one card": {
			page + "/deck", map[string]string{"deck_lead": "2", "deck_intensity": "3"}, "One card is no deck", `value="3"`,
		},
		"a deck in words": {page + "/deck", map[string]string{"deck_lead": "2, soon"}, "soon", `value="2, soon"`},
		"a rest of minutes that are none": {
			page + "/rest", map[string]string{"rest_min": "-3"}, "From half a minute to 30", `value="-3"`,
		},
		"breach": {page + "/breaches", map[string]string{"what": "", "note": "in fog"}, "Say what happened.", `value="in fog"`},
		"cue":    {page + "/cue", map[string]string{"cue_new": "", "cue_old": "the hand"}, "Say which cue it is to get.", `value="the hand"`},
		"track": {
			page + "/tracks", map[string]string{"first": "", "track": "right"}, "Give the track that is there a name.",
			`value="right"`,
		},
		"template": {
			page + "/template", map[string]string{"name": "", "about": "as we teach it"}, "Give the template a name.",
			`value="as we teach it"`,
		},
		"try": {
			page + "/rule/try", map[string]string{"kind": "calm", "calm_up": "many", "expect": "1"}, "Write it in figures.",
			`value="many"`,
		},
		"build": {
			page + "/build", map[string]string{"leg1_make": "ramp", "leg1_what": "duration", "leg1_from": "9", "leg1_to": "2"},
			"easier than the start", `value="9"`,
		},
		"new plan": {
			"/dogs/" + dog + "/plans",
			map[string]string{"kind": "walking", "skill": "Walk", "leg1_make": "count_up", "leg1_to": "900"}, "more than 60 steps",
			`value="900"`,
		},
		"dimension": {
			"/settings/dimensions", map[string]string{"label": "Sea", "harder": "list", "items": "calm"}, "A list has 2 to",
			"calm</textarea>",
		},
		"pay": {
			page + "/pay",
			map[string]string{
				"op": "save", "schedule": "variable", "k": "90", "rate_lo": "4", "rate_hi": "8", "pay_pieces": "1",
				"where": "at the lip",
			},
			"One in 1 to 10", `value="at the lip"`,
		},
		"step pay": {
			page + "/pay",
			map[string]string{"op": "save", "step": before.Steps[1].ID, "schedule": "every", "own": "30", "pay_pieces": "2"},
			"Say what it is that the dog wants itself.", `value="30"`,
		},
		"reward": {
			"/dogs/" + dog + "/rewards", map[string]string{"name": "Sprats", "kind": "food", "kcal": "0", "note": "in the shed"},
			"No food has 0 kcal.", `value="in the shed"`,
		},
		"feeding": {
			"/dogs/" + dog + "/food", map[string]string{"weight_kg": "400", "never": "grapes"},
			"A weight in kilograms from 0.3 to 130", `value="grapes"`,
		},
		"eaten": {
			"/dogs/" + dog + "/food/eaten", map[string]string{"eaten_kind": "other", "what": "half a pie", "kcal": ""},
			"Its energy is not known", `value="half a pie"`,
		},
		"test":  {"/dogs/" + dog + "/tests", map[string]string{}, "It takes two rewards", ""},
		"sheet": {"/dogs/" + dog + "/sheets", map[string]string{"minutes": "-5", "start": "9:40"}, "2 to 90 minutes", `value="9:40"`},
		"hours": {
			"/settings/practice", map[string]string{"name": "Quay", "zone": "UTC", "hours2": "noon"}, "Stretches of the day such as",
			`value="noon"`,
		},
		"dog": {
			"/dogs", map[string]string{"name": "Brine", "per_week": "many", "home_times": "8:00, late"}, "0 to 14 sessions a week",
			`value="8:00, late"`,
		},
		"units": {
			"/settings/practice", map[string]string{"name": "Quay", "zone": "UTC", "length": "ft", "pace": "9"},
			"A pace takes 0.3 to 1.5 m.", `value="9"`,
		},
	} {
		c.typed["version"] = "1"
		a := s.post(page, c.to, c.typed)
		require.Equal(t, 422, a.Status, name)
		require.Contains(t, a.Body, c.says, name)
		require.Contains(t, a.Body, c.keeps, name)
	}
	after, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, before.Version, after.Version, "nothing was saved")
	require.Equal(t, before.DefinitionVersion, after.DefinitionVersion)
}

// Two people change one plan: the second sees it, and what was typed stays.
func TestAPlanChangedMeanwhileIsNotOverwritten(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	require.NoError(t, s.EditSteps(ctx, plan, form.Typed{"op": "add", "step": v.Steps[1].ID, "version": "1"}))
	for to, typed := range map[string]map[string]string{
		"/steps":      {"op": "save", "step": v.Steps[0].ID, "duration": "3"},
		"/management": {"not1": "rushing"}, "/errors": {"error1": "crept"}, "/deck": {"deck_lead": "2, 0"}, "/rest": {"rest_min": "2"},
		"/cue":   {"cue_new": "“so”"},
		"/build": {"leg1_make": "ramp", "leg1_what": "handler", "leg1_from": "1", "leg1_to": "3"},
	} {
		typed["version"] = "1"
		a := s.post("/plans/"+plan, "/plans/"+plan+to, typed)
		require.Equal(t, 409, a.Status, to)
		require.Contains(t, a.Body, "Somebody changed this meanwhile", to)
	}
}

// Texts out of a template file are texts, whatever they look like, and a file leaves under a plain name.
func TestATemplatesTextsAreTexts(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	from, err := s.SaveTemplate(ctx, plan, form.Typed{"name": `<script>alert("fox")</script>`, "about": `"><img src=x onerror=alert(1)>`})
	require.NoError(t, err)
	for _, path := range []string{"/library", "/library/" + from} {
		a := s.get(path)
		require.Equal(t, 200, a.Status)
		require.NotContains(t, a.Body, "<script>alert")
		require.NotContains(t, a.Body, "<img src=x")
		require.Contains(t, a.Body, "&lt;script&gt;")
	}
	a := s.get("/library/" + from + "/file")
	require.Equal(t, 200, a.Status)
	require.Equal(t, `attachment; filename="script-alert-fox-script.json"`, a.Header.Get("Content-Disposition"))
	require.True(t, strings.HasPrefix(a.Header.Get("Content-Type"), "application/json"))
	for _, path := range []string{
		"/library/none", "/library/own:none", "/library/own:none/file", "/plans/none/build", "/plans/none/history",
		"/plans/none/verdicts", "/dogs/none/plans/new",
	} {
		require.Equal(t, 404, s.get(path).Status, path)
	}
}

// A ladder that starts easier than it was asked says so on the plan, though nobody looked at it first; what is no such code says nothing.
func TestAPlanSaysWhatWasLaidOutOtherwise(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Skerry"})
	require.NoError(t, err)
	page := "/dogs/" + dog + "/plans"
	a := s.post(page+"/new?kind=cued", page, map[string]string{
		"kind": "cued", "skill": "Come when whistled", "position": "turns at once", "leg1_make": "ramp", "leg1_what": "handler",
		"leg1_from": "10", "leg1_to": "30",
	})
	require.Equal(t, 303, a.Status, a.Body)
	made := a.Header.Get("Location")
	require.Contains(t, s.get(made).Body, "starts at 2 m, not 10 m")
	plan, _, _ := strings.Cut(made, "?")
	a = s.get(plan + "?fit=start+handler+false+%3Cb%3E+2&fit=nothing&fit=start+none+false+1+2")
	require.Equal(t, 200, a.Status)
	require.NotContains(t, a.Body, "starts at")
	a = s.post(plan+"/build", plan+"/build", map[string]string{
		"version": "1", "where": "above", "leg1_make": "approach", "leg1_trigger_is": "gulls", "leg1_from": "40", "leg1_to": "15",
		"leg1_level": "2",
	})
	require.Equal(t, 303, a.Status, a.Body)
	require.True(t, strings.HasSuffix(a.Header.Get("Location"), "?undo=1"), a.Header.Get("Location"))
}
