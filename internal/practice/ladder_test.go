package practice_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/dogs"
	"patientfox/internal/app/form"
	"patientfox/internal/app/plans"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/templates"
)

// edit does one edit of a plan in its version of now.
func edit(t *testing.T, o *practicetest.Opened, plan string, typed form.Typed) plans.PlanView {
	t.Helper()
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	typed["version"] = strconv.Itoa(v.Version)
	require.NoError(t, o.EditSteps(ctx, plan, typed))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	return v
}

func names(v plans.PlanView) (list []string) {
	for _, s := range v.Steps {
		list = append(list, s.Name)
	}
	return list
}

func TestEveryKindOfWorkIsLaidOut(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	for _, kind := range work.All {
		shown, err := o.NewPlan(ctx, dog, form.Typed{"kind": string(kind.Kind)})
		require.NoError(t, err)
		require.NotNil(t, shown.Preview, "the form begins with something that can be laid out")
		shown.Typed["skill"], shown.Typed["position"] = "Skill of "+string(kind.Kind), "as it should be"
		plan, err := o.AddPlan(ctx, dog, shown.Typed)
		require.NoError(t, err)
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		require.Equal(t, string(kind.Kind), v.Kind)
		require.Len(t, v.Steps, len(shown.Preview.Steps), "the plan is what was shown")
		require.Equal(t, shown.Preview.Steps[0].Name, v.Steps[0].Name)
	}
	_, err = o.NewPlan(ctx, dog, form.Typed{"from": "no-such-template"})
	require.ErrorIs(t, err, app.ErrNotFound)
	choice, err := o.NewPlan(ctx, dog, form.Typed{})
	require.NoError(t, err)
	require.Len(t, choice.Library, len(work.All))
}

func TestLaddersThatCannotStand(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	base := func(more form.Typed) form.Typed {
		t := form.Typed{"skill": "Wait", "kind": "held", "position": "behind the lip", "leg1_make": "ramp", "leg1_what": "duration"}
		for k, v := range more {
			t[k] = v
		}
		return t
	}
	for field, typed := range map[string]form.Typed{
		"leg1_to":       {"leg1_from": "20", "leg1_to": "2"},
		"leg1_by":       {"leg1_from": "2", "leg1_to": "20", "leg1_by": "-1"},
		"leg1_from":     {"leg1_from": "two", "leg1_to": "20"},
		"leg1_what":     {"leg1_what": "", "leg1_to": "20"},
		"leg1_parts":    {"leg1_make": "parts", "leg1_parts": "its look"},
		"leg1_together": {"leg1_make": "parts", "leg1_parts": "its look\nits click", "leg1_together": "its look + its roar"},
		"leg2_level":    {"leg1_from": "2", "leg1_to": "9", "leg2_make": "approach", "leg2_from": "30", "leg2_to": "10", "leg2_level": "9"},
		"tracks":        {"leg1_from": "2", "leg1_to": "9", "tracks": "left"},
		"after_error":   {"leg1_from": "2", "leg1_to": "9", "after_error": "shout"},
	} {
		_, err := o.AddPlan(ctx, dog, base(typed))
		invalid(t, err, field)
	}
	_, err = o.AddPlan(ctx, dog, base(form.Typed{"leg1_from": "1", "leg1_to": "5000", "leg1_by": "0.5"}))
	var bad *form.Invalid
	require.ErrorAs(t, err, &bad)
	require.Contains(t, bad.Problems["leg1_by"], "more than 60 steps")
	_, err = o.AddPlan(ctx, dog, base(form.Typed{"leg1_from": "2 furlongs", "leg1_to": "9"}))
	require.ErrorAs(t, err, &bad)
	require.Contains(t, bad.Problems["leg1_from"], "furlongs")
}

// Figures are typed and shown in the units of the practice, and kept in metres.
func TestUnitsOfThePractice(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SaveSettings(ctx, form.Typed{"name": "Quay", "zone": "UTC", "length": "ft", "version": "1"}))
	invalid(t, o.SaveSettings(ctx, form.Typed{"name": "Quay", "zone": "UTC", "length": "ells", "pace": "9", "version": "2"}), "length", "pace")
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Come", "kind": "cued", "position": "comes", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "3, 6, 2 m",
	})
	invalid(t, err, "leg1_items") // a space parts figures: “2” follows “6”, and “m” is none
	require.Empty(t, plan)
	plan, err = o.AddPlan(ctx, dog, form.Typed{
		"skill": "Come", "kind": "cued", "position": "comes", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "3, 6, 3m",
	})
	require.NoError(t, err)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []string{"You 3 ft away", "You 6 ft away", "You 8 ft away", "You 10 ft away"}, names(v),
		"a step comes in where two are far apart")
	// Saving what is shown changes nothing, though ten feet are not three metres.
	edit(t, o, plan, form.Typed{"op": "save", "step": v.Steps[3].ID, "handler": v.Steps[3].Figures["handler"], "text": "on the quay"})
	require.NoError(t, o.SaveSettings(ctx, form.Typed{"name": "Quay", "zone": "UTC", "length": "m", "version": "2"}))
	after, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "You 3 m away, on the quay", after.Steps[3].Name)
}

func TestStepsArePutInOrderMergedAndBroughtBack(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4, 6, 9")
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	id := func(i int) string { return v.Steps[i].ID }

	moved := edit(t, o, plan, form.Typed{"do": "move:" + id(0), "to": "3"})
	require.Equal(t, []string{"4 s, you beside", "6 s, you beside", "2 s, you beside", "9 s, you beside"}, names(moved))
	require.NoError(t, o.RestoreSteps(ctx, plan, form.Typed{"version": strconv.Itoa(moved.Version), "back_to": "1"}))
	merged := edit(t, o, plan, form.Typed{"op": "merge", "step": id(1)})
	require.Len(t, merged.Steps, 3)
	require.Equal(t, "2.83 s, you beside", merged.Steps[0].Name)
	require.True(t, merged.Steps[0].Reached, "the dot stays on what it stood on")
	for _, typed := range []form.Typed{
		{"op": "merge", "step": merged.Steps[0].ID}, {"op": "move", "step": id(3), "to": "40"}, {"op": "fly", "step": id(3)},
	} {
		typed["version"] = strconv.Itoa(merged.Version)
		invalid(t, o.EditSteps(ctx, plan, typed), "step")
	}
	history, err := o.History(ctx, plan, 0)
	require.NoError(t, err)
	require.Equal(t, "Two steps made one", history.Plans[0].What)
	require.Len(t, history.Plans, 4)
	_, err = o.History(ctx, plan, 9)
	require.ErrorIs(t, err, app.ErrNotFound)
}

func TestWordsOfAListAndOnesOwnDimension(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Tansy"})
	require.NoError(t, err)
	invalid(t, o.AddDimension(ctx, form.Typed{"label": "", "harder": "list", "items": "calm"}), "label", "items")
	invalid(t, o.AddDimension(ctx, form.Typed{"label": "Duration", "harder": "more"}), "label")
	require.NoError(t, o.AddDimension(ctx, form.Typed{"label": "Sea", "harder": "list", "items": "calm\nswell\nrough"}))
	settings, err := o.Settings(ctx)
	require.NoError(t, err)
	key := settings.Own[0].Key
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "On deck", "kind": "held", "position": "lies", "leg1_make": "ramp", "leg1_what": key, "leg2_make": "fade",
		"leg2_what": "help", "leg2_items": "blanket, hand, none", "join": "then",
	})
	require.NoError(t, err)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "1 s, you beside, help: blanket", v.Steps[0].Name, "help stays at its most until it is its turn to fade")
	require.Contains(t, v.Steps[len(v.Steps)-1].Name, "no help")
	require.NoError(t, o.DeleteDimension(ctx, key, true))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "1 s, you beside, help: blanket, sea calm", v.Steps[2].Name, "a step keeps what it was made with")

	at := -1
	for i, s := range v.Steps {
		if s.Figures["help"] == "hand" {
			at = i
		}
	}
	require.GreaterOrEqual(t, at, 0)
	longer := edit(t, o, plan, form.Typed{"op": "list", "step": v.Steps[at].ID, "list": "help", "items": "blanket\nboth hands\nhand\nnone"})
	require.Equal(t, "hand", longer.Steps[at].Figures["help"], "a step keeps its word")
	err = o.EditSteps(ctx, plan, form.Typed{
		"op": "list", "step": v.Steps[at].ID, "list": "help", "items": "hand", "version": strconv.Itoa(longer.Version),
	})
	invalid(t, err, "items")
}

func TestTracksClimbTheSameStepsFromTheirOwnPlace(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "1, 2, 3")
	invalid(t, func() error { _, err := o.AddTrack(ctx, plan, form.Typed{"track": "right"}); return err }(), "first")
	right, err := o.AddTrack(ctx, plan, form.Typed{"first": "left", "track": "right"})
	require.NoError(t, err)
	_, err = o.AddTrack(ctx, plan, form.Typed{"track": "Right"})
	invalid(t, err, "track")

	h := o.Session(t, right, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 1100, work.Main)
	o.End(t, h, at, session.Closing{Take: true})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []plans.TrackView{
		{ID: plan, Name: "left", At: 1, Here: true, Step: v.Steps[0].ID}, {ID: right, Name: "right", At: 2, Step: v.Steps[1].ID},
	}, v.Tracks)
	pack, err := o.Pack(ctx, right)
	require.NoError(t, err)
	require.Equal(t, "right", pack.Track)

	// An edit on one track is an edit of the ladder of both, and each keeps its place.
	v, err = o.Plan(ctx, right)
	require.NoError(t, err)
	edit(t, o, right, form.Typed{"op": "add", "step": v.Steps[2].ID})
	for _, one := range []string{plan, right} {
		v, err = o.Plan(ctx, one)
		require.NoError(t, err)
		require.Len(t, v.Steps, 4)
		require.Equal(t, 2, v.Version)
	}
	require.Equal(t, 2, v.Tracks[1].At)
	view, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Len(t, view.Plans, 2)
	again, err := o.Rebuild(ctx)
	require.NoError(t, err)
	require.Empty(t, again.Changed)
	require.NoError(t, o.DeletePlan(ctx, plan, true))
	view, err = o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Empty(t, view.Plans, "a plan goes away with its tracks")
	require.Len(t, view.PlansAway, 1)
}

func TestNeedsBlockUntilTheyStandOrAreWaived(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "1, 2, 3")
	throw, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Steady", "kind": "steadiness", "position": "keeps its place", "leg1_make": "lead", "leg1_from": "2", "leg1_to": "0",
	})
	require.NoError(t, err)
	v, err := o.Plan(ctx, throw)
	require.NoError(t, err)
	save := func(typed form.Typed) error {
		now, err := o.Plan(ctx, throw)
		require.NoError(t, err)
		typed["version"] = strconv.Itoa(now.Version)
		return o.SaveNeed(ctx, throw, typed)
	}
	invalid(t, save(form.Typed{"op": "add", "skill": "", "step": "none"}), "skill", "step")
	require.NoError(t, save(form.Typed{"op": "add", "skill": "wait at the ramp", "step": "2", "before": v.Steps[1].ID}))
	pack, err := o.Pack(ctx, throw)
	require.NoError(t, err)
	require.NotContains(t, pack.Blocked, v.Steps[0].ID)
	require.Contains(t, pack.Blocked[v.Steps[2].ID], "must stand first")
	v, err = o.Plan(ctx, throw)
	require.NoError(t, err)
	require.Equal(t, "need", v.Steps[1].Lints[0].Code)
	require.Equal(t, plan, v.Needs[0].Plan)
	invalid(t, save(form.Typed{"op": "waive", "number": "1"}), "waived")
	require.NoError(t, save(form.Typed{"op": "waive", "number": "1", "waived": "she has it from her last owner"}))
	v, err = o.Plan(ctx, throw)
	require.NoError(t, err)
	require.Empty(t, v.Steps[1].Blocked)
	require.Equal(t, "she has it from her last owner", v.Needs[0].Waived)
	require.NoError(t, save(form.Typed{"op": "ask", "number": "1"}))
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 1100, work.Main)
	o.End(t, h, at, session.Closing{Take: true})
	v, err = o.Plan(ctx, throw)
	require.NoError(t, err)
	require.True(t, v.Needs[0].Met, "once the other skill has reached its step, it stands")
	require.Empty(t, v.Steps[1].Blocked)
	view, err := o.Dog(ctx, dog)
	require.NoError(t, err)
	require.Equal(t, dogs.SkillNeed{Skill: "Steady", Needs: "wait at the ramp", Text: v.Needs[0].Text, Met: true}, view.Needs[0])
}

func TestManagementBreachesAndTheCue(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	require.NoError(t, o.SaveManagement(ctx, plan, form.Typed{
		"version": "1", "not1": "rushing the ramp", "instead1": "carry her", "not3": "the gate left open", "props": "the mat",
	}))
	invalid(t, o.SaveManagement(ctx, plan, form.Typed{"version": "2", "instead1": "carry her"}), "management")
	invalid(t, o.AddBreach(ctx, plan, form.Typed{"what": "", "day": "2099-01-01"}), "what", "day")
	require.NoError(t, o.AddBreach(ctx, plan, form.Typed{"what": "rushing the ramp", "day": "2026-11-20"}))
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, v.Management, 2)
	require.Equal(t, "rushing the ramp", v.Breaches[0].What)
	require.NoError(t, o.DeleteBreach(ctx, v.Breaches[0].ID))

	invalid(t, o.SaveCueing(ctx, plan, form.Typed{"version": "2", "cue_old": "the hand"}), "cue_new")
	invalid(t, o.SaveCueing(ctx, plan, form.Typed{"version": "2", "cue_new": "“wait”", "cue_added": "soon"}), "cue_added")
	require.NoError(t, o.SaveCueing(ctx, plan, form.Typed{"version": "2", "cue_new": "“wait”", "cue_old": "the hand"}))
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Empty(t, v.Breaches)
	require.Contains(t, v.CueSays, "Not yet")
	require.Equal(t, "new: “wait”", v.CueSteps[0], "the new one first, then a pause, then the old one")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 3, 1100, work.Main)
	o.End(t, h, at, session.Closing{})
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Contains(t, v.CueSays, "It may be added now")
}

// What is tightened later shows beside what was scored, and changes nothing of it.
func TestPastTrialsAreReadAgainSideBySide(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Touch", "kind": "cued", "position": "nose on the palm", "latency_s": "3", "leg1_make": "ramp",
		"leg1_what": "handler", "leg1_to": "2",
	})
	require.NoError(t, err)
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for _, latency := range []int64{900, 1400, 2600, 3500} {
		h.Press(work.Main, at)
		h.Press(work.Main, at+latency)
		at += latency + 4000
	}
	o.End(t, h, at, session.Closing{})
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	tight := form.Typed{}
	for k, x := range v.DefinitionForm {
		tight[k] = x
	}
	tight["latency_s"] = "1"
	require.NoError(t, o.SaveDefinition(ctx, plan, tight))
	for version, want := range map[int]plans.RereadView{
		1: {Then: "3 of 4 met, likely 30–95 %", Now: "3 of 4 met, likely 30–95 %"},
		2: {Then: "3 of 4 met, likely 30–95 %", Now: "1 of 4 met, likely 5–70 %", Changed: 2},
	} {
		history, err := o.History(ctx, plan, version)
		require.NoError(t, err)
		require.Equal(t, want.Then, history.Reread.Then)
		require.Equal(t, want.Now, history.Reread.Now)
		require.Equal(t, want.Changed, history.Reread.Changed)
		require.Equal(t, 4, history.Reread.Measured)
		require.Equal(t, 1, history.Definitions[1].Sessions)
	}
}

func TestAPlanIsKeptAsATemplateAndComesBack(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "1, 2, 3")
	_, err := o.AddTrack(ctx, plan, form.Typed{"first": "left", "track": "right"})
	require.NoError(t, err)
	_, err = o.SaveTemplate(ctx, plan, form.Typed{"name": ""})
	invalid(t, err, "name")
	from, err := o.SaveTemplate(ctx, plan, form.Typed{"name": "Our wait <script>alert(1)</script>", "about": "as we teach it"})
	require.NoError(t, err)
	name, file, err := o.TemplateFile(ctx, from)
	require.NoError(t, err)
	require.Equal(t, "our-wait-script-alert-1-script.json", name)

	_, err = o.ReadTemplate(ctx, form.Typed{}, []byte(`{"format": "patient-fox-template", "version": 9}`))
	var bad *form.Invalid
	require.ErrorAs(t, err, &bad)
	require.Contains(t, bad.Problems["file"], "Line 1: This template was written in version 9")
	again, err := o.ReadTemplate(ctx, form.Typed{}, file)
	require.NoError(t, err)
	v, err := o.Template(ctx, again)
	require.NoError(t, err)
	require.Equal(t, []string{"left", "right"}, v.Tracks)
	shown, err := o.NewPlan(ctx, dog, form.Typed{"from": again})
	require.NoError(t, err)
	require.Len(t, shown.Preview.Steps, 3)
	shown.Typed["skill"] = "Wait at the boat"
	second, err := o.AddPlan(ctx, dog, shown.Typed)
	require.NoError(t, err)
	plans, err := o.Plan(ctx, second)
	require.NoError(t, err)
	require.Len(t, plans.Tracks, 2)
	list, err := o.Library(ctx)
	require.NoError(t, err)
	require.GreaterOrEqual(t, list.Count, 26)
	require.NoError(t, o.DeleteTemplate(ctx, v.ID, true))
	_, err = o.Template(ctx, again)
	require.ErrorIs(t, err, app.ErrNotFound)
}

func TestStepsAreLaidOutInAPlanThatRuns(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "1, 2, 3")
	h := o.Session(t, plan, session.Choice{})
	at := sessiontest.Hold(h, 1000, 5, 1100, work.Main)
	o.End(t, h, at, session.Closing{Take: true})
	typed := form.Typed{"leg1_make": "ramp", "leg1_what": "handler", "leg1_from": "1", "leg1_to": "3", "where": "instead"}
	v, err := o.Build(ctx, plan, typed)
	require.NoError(t, err)
	require.Equal(t, 2, v.Keeps)
	require.Len(t, v.Preview.Steps, 3)
	typed["version"] = strconv.Itoa(v.Version)
	require.NoError(t, o.BuildSteps(ctx, plan, typed))
	after, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Len(t, after.Steps, 5, "what the dog has reached stays")
	require.True(t, after.Steps[1].Reached)
	many := form.Typed{
		"leg1_make": "ramp", "leg1_what": "handler", "leg1_from": "0", "leg1_to": "57", "leg1_by": "1",
		"version": strconv.Itoa(after.Version),
	}
	many["where"] = "above"
	invalid(t, o.BuildSteps(ctx, plan, many), "where")
	require.LessOrEqual(t, len(after.Steps), library.MaxSteps)
}

// The plan shows what the phone will ask, and the phone goes on where the last session left off.
func TestWhatVariesIsAskedOneByOne(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "10, 12")
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	v = edit(t, o, plan, form.Typed{"op": "save", "step": v.Steps[0].ID, "duration": "10", "vary_duration": "on"})
	require.Len(t, v.Steps[0].Next, 5)
	shown := v.Steps[0].Next
	h := o.Session(t, plan, session.Choice{})
	at := int64(1000)
	for i := range 3 {
		require.Equal(t, "Next one: "+shown[i], screen.Of(h.Run).View(at).Target)
		h.Press(work.Main, at)
		h.Press(work.Main, at+13000)
		at += 20000
	}
	trials := h.Run.Session().Trials
	require.True(t, trials[0].Easy, "the first asks for less on purpose")
	require.Less(t, trials[0].Asked[criteria.Duration], 10.0)
	o.End(t, h, at, session.Closing{})
	v, err = o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, shown[3:], v.Steps[0].Next[:2])
	next := o.Session(t, plan, session.Choice{})
	require.Equal(t, "Next one: "+shown[3], screen.Of(next.Run).View(0).Target)
}

// What a template's form shows is what is saved: each of its words, commas and all.
func TestEveryTemplateIsSavedAsItIsShown(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	for _, one := range templates.All() {
		shown, err := o.NewPlan(ctx, dog, form.Typed{"from": one.Key})
		require.NoError(t, err)
		require.NotNil(t, shown.Preview, "%s: %v", one.Name, shown.NotYet)
		plan, err := o.AddPlan(ctx, dog, shown.Typed)
		require.NoError(t, err, one.Name)
		o.CatchUp(t)
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		ladder, problems := one.Ladder()
		require.Empty(t, problems)
		require.Equal(t, len(ladder), len(v.Steps), one.Name)
	}
}

// Each step of each template is measured by the keys of its own kind of work: a trial that is worked through as planned lacks nothing.
func TestEveryTemplateIsMeasuredByItsKeys(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	for _, one := range templates.All() {
		shown, err := o.NewPlan(ctx, dog, form.Typed{"from": one.Key})
		require.NoError(t, err)
		plan, err := o.AddPlan(ctx, dog, shown.Typed)
		require.NoError(t, err, one.Name)
		pack, err := o.Pack(ctx, plan)
		require.NoError(t, err)
		for i := 0; i < len(pack.Steps); i += 2 {
			h := o.Session(t, plan, session.Choice{Step: pack.Steps[i].ID, ClearedBy: "her vet"})
			worksThrough(h)
			trials := h.Run.Session().Trials
			require.NotEmpty(t, trials, "%s, step %d", one.Key, i+1)
			for _, done := range trials {
				require.True(t, done.Outcome.Right(), "%s, step %d: %s", one.Key, i+1, done.Outcome)
				require.False(t, done.Unmeasured, "%s, step %d", one.Key, i+1)
			}
		}
	}
}

// worksThrough works a trial of the step as it was planned, with the large key alone where that closes it.
func worksThrough(h *session.Hand) {
	c, kind := h.Run.Today().Criteria, work.Of(h.Run.Session().At.Kind)
	if kind.Offers(c) && !c.Has(criteria.Duration) {
		h.Press(work.Main, 1000)
		return
	}
	h.Press(work.Main, 1000)
	last := 1000 + int64(1000*max(kind.Takes(c), kind.Least(c), 0.5)) + 100
	n := int64(kind.Presses(c))
	for i := int64(1); i <= n; i++ {
		h.Press(work.Main, 1000+(last-1000)*i/(n+1))
	}
	closes := map[bool]work.Key{true: work.ExpectKey, false: work.Main}[kind.Pairs]
	for range 3 + len(h.Run.Session().At.Phases) { // an answer and a hold, or a phase a press
		if h.Run.Phase() == session.Trying {
			h.Press(closes, last)
		}
		last += int64(1000*kind.Takes(c)) + 1000
	}
}

// A line is a word of its list, commas and other signs in it too; what all stands in one line is parted at its commas.
func TestALineIsAWord(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	items := func(typed string) []string {
		t.Helper()
		plan, err := o.AddPlan(ctx, dog, form.Typed{
			"skill": "Up on the bollard " + strconv.Itoa(len(typed)), "kind": "shaping", "position": "as agreed",
			"leg1_make": "ramp", "leg1_what": string(criteria.Approx),
			"leg1_items": typed,
		})
		require.NoError(t, err)
		o.CatchUp(t)
		made, err := o.LoadPlan(ctx, o.Store.Read(), plan, phrase.Words{})
		require.NoError(t, err)
		d, _ := made.Steps[0].Criteria.Dimension(criteria.Approx)
		return d.Items
	}
	words := []string{"looks, “there”: once", "رأس; foot 🐾", "on it → stays"}
	require.Equal(t, words, items(strings.Join(words, "\r\n\n")))
	require.Equal(t, []string{"looks", "steps", "on it"}, items("looks, steps, on it"))
}
