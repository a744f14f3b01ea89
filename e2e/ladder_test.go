package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/progression"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// odd is what each generator is filled with: commas, colons, quotes and other scripts in its words.
var odd = map[progression.Make]form.Typed{
	progression.MakeRamp:    {"kind": "held", "leg1_what": "duration", "leg1_from": "2", "leg1_to": "15"},
	progression.MakeCountUp: {"kind": "walking", "leg1_to": "9"},
	progression.MakeApproach: {
		"kind": "counter", "leg1_trigger_is": "the “old” winch, east: مرساة", "leg1_from": "30", "leg1_to": "8", "leg1_level": "2",
	},
	progression.MakeFade:  {"kind": "cued", "leg1_what": "help", "leg1_items": "both hands, low\none hand: “here”\n手\nnone"},
	progression.MakePause: {"kind": "cued", "leg1_from": "0", "leg1_to": "3"},
	progression.MakeLead:  {"kind": "steadiness", "leg1_from": "3", "leg1_to": "-2"},
	progression.MakeParts: {
		"kind": "counter", "leg1_parts": "its look, from afar: 9 m, 4 m\nits “click”: 6 m\n🔔 the bell: it rings",
		"leg1_together": "its “click” + its look, from afar",
	},
	progression.MakeSites: {
		"kind": "handling", "leg1_from": "1", "leg1_to": "4", "leg1_items": "flank, left\npaw: “the bad one”\n尾",
		"leg1_tools": "a hand\nbrush, soft side", "leg1_sore": "paw: “the bad one”",
	},
	progression.MakeFigures: {"kind": "held", "leg1_what": "duration", "leg1_items": "2, 4, 12"},
}

// A plan is made by each generator, with odd words, and every step of it is sound.
func TestAPlanByEachGeneratorWithOddWords(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Brine, “the wet one”: 🌊", "born": "2023-05-01"})
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	for _, name := range progression.Makes {
		typed := odd[name]
		p.Go("/dogs/" + dog + "/plans/new?kind=" + typed["kind"])
		p.Fill("#f-skill", "By "+string(name)+", “quietly”: 静")
		p.Fill("#f-position", "as agreed: “so”, and no further")
		p.Eval(`(() => { const way = document.getElementById("f-leg1_make"); way.value = "` + string(name) + `";
			way.dispatchEvent(new Event("change", { bubbles: true })) })()`)
		for _, field := range []string{"what", "trigger_is", "from", "to", "level", "items", "tools", "sore", "parts", "together"} {
			value, given := typed["leg1_"+field]
			switch {
			case !given:
			case field == "what":
				p.Eval(`(() => { const what = document.getElementById("f-leg1_what"); what.value = "` + value + `";
					what.dispatchEvent(new Event("change", { bubbles: true })) })()`)
			default:
				p.Wait(`document.getElementById("f-leg1_` + field + `").offsetParent !== null`)
				p.Fill("#f-leg1_"+field, value)
			}
		}
		p.Follow(`.btn.now`)
		p.See("As agreed: “so”, and no further")
		require.NotContains(t, p.Text("main"), "Worth a second look", name)
	}
	s.CatchUp(t)
	v, err := s.Dog(ctx, dog)
	require.NoError(t, err)
	require.Len(t, v.Plans, len(progression.Makes))
	for _, row := range v.Plans {
		plan, err := s.Plan(ctx, row.ID)
		require.NoError(t, err)
		for _, step := range plan.Steps {
			require.Empty(t, step.Lints, "%s: %s", row.Skill, step.Name)
		}
	}
	clean(t, p)
}

// The table: arrows go up and down, a column is pasted, ticked steps change together, faults are mended, and only then it is saved.
func TestStepsAreEditedAsATable(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plan, dog := s.LayOut(t, "2, 3, 4, 5")
	other, err := s.AddDog(ctx, form.Typed{"name": "Quill", "born": "2019-01-01"})
	require.NoError(t, err)
	p := s.Page(browser.Laptop)
	p.Go("/plans/" + plan)
	p.Follow(`a[href$="/table"]`)
	axe(t, p, "table")
	p.Eval(`document.querySelector('[name="c0_duration"]').focus()`)
	p.Keys("\u0301") // arrow down
	require.Equal(t, "c1_duration", browser.Get[string](p, `document.activeElement.name`))
	p.Eval(`(() => { const text = new DataTransfer(); text.setData("text", "4\n12\n40\n");
		document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: text, bubbles: true, cancelable: true })) })()`)
	seconds := `[...document.querySelectorAll('[name$="_duration"]')].map((one) => one.value).join()`
	require.Equal(t, "2,4,12,40", browser.Get[string](p, seconds))
	p.Click("#tick-all")
	p.Fill("#f-figure", "1")
	p.Follow(`button[value="shift"]`)
	p.See("4 steps changed. Not saved yet.")
	require.Equal(t, "3,5,13,41", browser.Get[string](p, seconds))
	p.Follow(`button[value="fix:jump"]`)
	p.See("more. Not saved yet.")
	require.False(t, browser.Get[bool](p, `Boolean(document.querySelector('button[value^="fix:"]'))`), "nothing is left to mend")
	p.Follow(`button[value="save"]`)
	p.See("41 s · you beside")
	p.Follow(`a[href$="/copy"]`)
	axe(t, p, "copy")
	p.Click(`[name="dog_` + other + `"]`)
	p.Follow(`main .btn.now`)
	p.See("Copied to 1 dog.")
	p.Go("/dogs/" + dog + "/plans/new")
	axe(t, p, "what to teach")
	p.Click(`[name="from_sit"]`)
	p.Click(`[name="from_lie-down"]`)
	p.Follow(`main .btn.now`)
	p.See("Lie down")
	s.CatchUp(t)
	v, err := s.Dog(ctx, other)
	require.NoError(t, err)
	require.Len(t, v.Plans, 1)
	clean(t, p)
}
