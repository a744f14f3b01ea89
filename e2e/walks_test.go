package e2e_test

import (
	"fmt"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/lookback"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// A day as it is really worked: the plan, what a thumb does, and what Review then says, a trial a line.
type walk struct {
	name, rule string
	plan       form.Typed
	taps       string // as of works; "over" waits until the answer is over a limit of 2 s
	headline   string
	trials     string // outcome, paid and what stands beside it
}

var walks = []walk{
	{
		"coming when whistled, gulls about: one is slow and paid all the same, one needs the line, one goes before it is called", "gate",
		form.Typed{"kind": "cued", "exactly": "handler", "steps": "5, 10, 15", "latency_s": "2"},
		"main main main main error:crooked main over main pay main cue helped main prompt:step+in early main main lined where:low",
		"Held its step",
		"met 1 treat|met 1 treat crooked|late 2 treats|helped 1 treat 2 cues|missed – went before the cue|helped 1 treat, low",
	},
	{
		"past the fish crates on a loose leash, with a pull", "count_up",
		form.Typed{"kind": "walking", "leg1_make": "figures", "leg1_what": "paces", "leg1_items": "1, 2, 3"},
		"main main error:behind main main main main main pull main error:ahead error:crossed+in+front mistake mistake:late+mark position",
		"Two steps up, one step back",
		"met 1 treat behind|met 1 treat|missed – ahead · crossed in front · my mistake: late mark",
	},
	{
		"four paws: she pulls away, the clipper goes, and the last one is really cut", "calm",
		form.Typed{
			"kind": "handling", "leg1_make": "sites", "leg1_from": "0.5", "leg1_to": "1", "leg1_items": "paw\near",
			"leg1_tools": "fingers\nthe closed tool",
		},
		"main full main main pulled itself decoy reaction:looks main full met done main full main where:position other reason:calm",
		"Held its step",
		"state0 1 treat|state2 –|state1 1 treat|state0 1 treat, in position",
	},
	{
		"at the ferry: a coach party comes in the free minute", "gate",
		form.Typed{"kind": "attention", "leg1_make": "figures", "leg1_what": "check_ins", "leg1_items": "2, 3"},
		"main main throw main state:3 recover",
		"Stopped",
		"void 2 treats",
	},
	{
		"the thrown buoy: signal and throw, and it breaks once", "gate",
		form.Typed{"kind": "steadiness", "exactly": "lead", "steps": "1, 0"},
		"main main main jackpot reason:its+own+idea turn:A+tug main main main main main main pay missed error:crept early growl",
		"Growled or snapped",
		"met 6 treats, jackpot: its own idea|met 1 treat|met toy|missed – crept|missed – went before the cue",
	},
	{
		"the winch: its look for a flash, he gets silly, a break, and silly again", "calm",
		form.Typed{"kind": "counter", "leg1_make": "figures", "leg1_what": "trigger", "leg1_items": "60, 40", "leg1_trigger_is": "the winch"},
		"main main met arousal:2 main main late arousal:2 break main arousal:2 itself main main expects",
		"Held its step",
		"state1 1 treat|state2 1 treat|state0 1 treat",
	},
	{
		"the mat at dinner: piece by piece, one thrown off, then something that lasts", "run",
		form.Typed{"kind": "held", "leg1_make": "figures", "leg1_what": "duration", "leg1_items": "0.5, 1"},
		"main full main where:thrown main full main hand:off+to main full main pay main missed reset position",
		"One step up",
		"met 1 treat, thrown to reset|met 1 treat|met release|missed –",
	},
}

// At 390 by 844 by touch, all of it without a server: what Review says afterwards is what was done.
func TestDaysAtTheQuay(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Brine, “the sailor” 🐕"})
	require.NoError(t, err)
	plans := make([]string, len(walks))
	for i, w := range walks {
		typed := form.Typed{"skill": "Day " + string(rune('A'+i)), "position": "as agreed, “quietly”"}
		for key, value := range w.plan {
			typed[key] = value
		}
		if key := typed["exactly"]; key != "" {
			plans[i] = s.Exactly(t, dog, typed, criteria.Key(key), typed["steps"])
		} else {
			plans[i], err = s.AddPlan(ctx, dog, typed)
			require.NoError(t, err)
		}
		require.NoError(t, s.SaveRule(ctx, plans[i], ruleForm(t, s, plans[i], w.rule)))
		if kind := w.plan["kind"]; kind == "handling" || kind == "counter" { // those that are tapped are made by hand
			s.CatchUp(t)
			v, err := s.Plan(ctx, plans[i])
			require.NoError(t, err)
			require.NoError(t, s.SaveDecoys(ctx, plans[i], form.Typed{"decoy_in": "0", "version": fmt.Sprint(v.Version)}))
		}
	}
	s.CatchUp(t)
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	sessions := make([]string, len(walks))
	presses := []string{"| day | trials | presses | a trial |", "| --- | --- | --- | --- |"}
	for i, w := range walks {
		p.Go("/run?plan=" + plans[i])
		p.Wait(`!document.getElementById("setup").hidden`)
		counts(p)
		p.Choose("#place", "A new place …")
		p.Fill("#place-name", "the “fish steps”, east 🐟")
		p.Click("#begin")
		phase(p, "idle")
		before := pressed(p)
		for _, tap := range strings.Fields(w.taps) {
			thumb(p, w.plan["kind"], tap)
		}
		n, trials := pressed(p)-before, 1+strings.Count(w.trials, "|")
		presses = append(presses, fmt.Sprintf("| %s | %d | %d | %.1f |", w.name, trials, n, float64(n)/float64(trials)))
		sessions[i] = browser.Get[string](p, `patientfox.session.id`)
		ends(p)
	}
	p.Errors() // the browser notes what it could not load
	s.Start()
	saved(p)
	s.CatchUp(t)
	for i, w := range walks {
		v, err := s.Review(ctx, sessions[i])
		require.NoError(t, err)
		require.Equal(t, w.headline, v.Headline, w.name)
		require.Equal(t, "the “fish steps”, east 🐟", v.Place, "named five times without a signal, and one place")
		var trials []string
		for _, row := range v.Table {
			trials = append(trials, strings.TrimSpace(row.Outcome+" "+lasted.ReplaceAllString(row.Paid, "$1")+" "+beside(row)))
		}
		require.Equal(t, w.trials, strings.Join(trials, "|"), w.name)
	}
	settings, err := s.Settings(ctx)
	require.NoError(t, err)
	require.Len(t, settings.Places, 1)
	written, err := os.ReadFile("../docs/presses.md")
	require.NoError(t, err)
	require.Contains(t, string(written), strings.Join(presses, "\n")+"\n", "docs/presses.md is what was counted")
}

// lasted is what a pay was that took its time, with how long it took on this machine.
var lasted = regexp.MustCompile(`(toy|play|release|food that lasts) [0-9.]+ s`)

// beside is what stands beside a trial, without what the clock of a slow machine may add.
func beside(row lookback.TrialLine) string {
	var kept []string
	for _, part := range strings.Split(row.Note, " · ") {
		if !strings.HasPrefix(part, "tapped") && !strings.Contains(part, "no rate") {
			kept = append(kept, part)
		}
	}
	return strings.Join(kept, " · ")
}
