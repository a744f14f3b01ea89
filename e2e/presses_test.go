package e2e_test

import (
	"fmt"
	"maps"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// planned is a kind of work in a session that goes as it was planned, every verdict accepted: what one trial takes.
type planned struct {
	kind, rule string
	plan       form.Typed
	trial      string // taps; "full" waits for the dial
	median     int    // presses a trial, at most
}

func figures(of, list string) form.Typed {
	return form.Typed{"leg1_make": "figures", "leg1_what": of, "leg1_items": list}
}

var asPlanned = []planned{
	{"cued", "set", figures("handler", "1, 1.5, 2"), "main main", 2},
	{"held", "set", figures("duration", "0.5, 0.7, 1"), "main full main", 2},
	{"shaping", "run", form.Typed{
		"leg1_make": "ramp", "leg1_what": "approximation", "leg1_items": "a step towards it\na paw on it\ntwo paws on it\nfour",
	}, "main", 1},
	{"handling", "calm", form.Typed{
		"leg1_make": "sites", "leg1_from": "0.5", "leg1_to": "1", "leg1_items": "paw\near", "leg1_tools": "fingers\na brush\nthe closed tool",
	}, "met", 1},
}

const plannedTrials = 10

// What a session costs a thumb that has nothing to report: from opening the phone to the first trial, in trials, and to end it.
func TestPressesOfASessionAsPlanned(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	lines := []string{
		"# Presses", "",
		"What a thumb presses in a session of ten trials that go as planned, each verdict accepted by a press of its own. Counted in the " +
			"browser by `e2e/presses_test.go`.", "",
		"| kind of work | from Today to the first trial | a trial, median | a trial with its verdicts, mean | to end it |",
		"| --- | --- | --- | --- | --- |",
	}
	for _, one := range asPlanned {
		dog, err := s.AddDog(ctx, form.Typed{"name": "Brine"})
		require.NoError(t, err)
		typed := form.Typed{"skill": "As planned, " + one.kind, "kind": one.kind, "position": "as agreed", "latency_s": "5"}
		maps.Copy(typed, one.plan)
		plan, err := s.AddPlan(ctx, dog, typed)
		require.NoError(t, err)
		require.NoError(t, s.SaveRule(ctx, plan, ruleForm(t, s, plan, one.rule)))
		s.CatchUp(t)
		if one.kind == "handling" { // a touch of ten is dealt as a decoy otherwise
			v, err := s.Plan(ctx, plan)
			require.NoError(t, err)
			require.NoError(t, s.SaveDecoys(ctx, plan, form.Typed{"decoy_in": "0", "version": fmt.Sprint(v.Version)}))
			s.CatchUp(t)
		}
		p := s.Page(browser.Phone)
		p.Go("/")
		counts(p)
		p.Click(`main a[href="/run?plan=` + plan + `"]`)
		p.Wait(`document.getElementById("setup") && !document.getElementById("setup").hidden`)
		counts(p)
		p.Click("#begin")
		phase(p, "idle")
		first := pressed(p) + 1 // the one that begins the first trial
		before := pressed(p)
		var each []int
		for len(each) < plannedTrials {
			if browser.Get[string](p, `patientfox.view.phase`) == "deciding" {
				thumb(p, one.kind, "main")
				continue
			}
			at := pressed(p)
			for _, tap := range strings.Fields(one.trial) {
				thumb(p, one.kind, tap)
			}
			each = append(each, pressed(p)-at)
		}
		mean := float64(pressed(p)-before) / plannedTrials
		at := pressed(p)
		ends(p)
		end := pressed(p) - at
		for _, n := range each {
			require.LessOrEqual(t, n, one.median, one.kind)
		}
		if one.median == 2 { // the work that is cued or held
			require.LessOrEqual(t, mean, 2.25, one.kind)
		}
		require.LessOrEqual(t, first, 3, one.kind)
		require.LessOrEqual(t, end, 2, one.kind)
		lines = append(lines, fmt.Sprintf("| %s | %d | %d | %.2f | %d |", one.kind, first, each[len(each)/2], mean, end))
		saved(p)
		p.Close()
	}
	was, err := os.ReadFile("../docs/presses.md")
	require.NoError(t, err)
	require.Contains(t, string(was), strings.Join(lines, "\n")+"\n", "docs/presses.md is what was counted")
}

// counts counts presses from here on, over the pages of a tab.
func counts(p *browser.Page) {
	p.Eval(`addEventListener("pointerdown", () => { sessionStorage.presses = Number(sessionStorage.presses || 0) + 1; }, true)`)
}

func pressed(p *browser.Page) int { return browser.Get[int](p, `Number(sessionStorage.presses || 0)`) }
