package e2e_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/e2e/browser"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// worked is how one kind of work is run by a thumb: a tap a word, the name of a key, or something to wait for; and
// what then has to be in the record, an event a line.
type worked struct {
	kind, rule string
	step       form.Typed // what its first step asks
	taps       string
	record     string
}

// What each tap is: main, or another key; "full" waits for the dial, "board" for a key to mean something.
var works = []worked{
	{"cued", "set", form.Typed{"latency": "5"}, "main cue main main missed", `
		cue 1 | cue 2 | mark, trial met, pay 1 | cue 1 | trial missed`},
	{"held", "set", form.Typed{"duration": "0.5"}, "main full main main missed void", `
		cue 1 | release, trial met, pay 1 | cue 1 | trial missed | trial void`},
	{"walking", "count_up", form.Typed{"paces": "2"}, "main main main main main pull main", `
		cue 1 | count pace | count pace, mark, trial met, pay 1 | verdict step_up, move step_up, cue 1 | count pace | ` +
		`count pull, line taut, trial missed | line slack`},
	{"shaping", "run", form.Typed{"approximation": "a step towards it"}, "offered:0 main offered:3 left main", `
		trial offered 0 | mark, trial offered 1, pay 1 | mark, trial offered 3, pay 1 | count left | count back`},
	{"attention", "set", form.Typed{"check_ins": "2", "duration": "4"}, "main main throw main full main", `
		cue 1 | count check_in, pay 1 | count throw | count check_in, pay 1 | trial`},
	{"counter", "calm", form.Typed{"trigger": "40", "intensity": "1"}, "main main main late itself main expects", `
		trigger on 40 planned | pay 1 | pay 1 | exposure 2 | state 1 | trigger on 40 planned | exposure 0, pay 1`},
	{"handling", "calm", form.Typed{"site": "ear", "tool": "fingers", "duration": "1"}, "main full main site:paw done take pulled", `
		trigger on ear | exposure 0, pay 1 | trigger on paw taken done | exposure 2 pulled`},
	{"steadiness", "set", form.Typed{"lead": "1", "out": "2"}, "main main put_away main", `
		cue 1 | trigger on | trigger off | mark, trial met, pay 1`},
}

// said writes an event in a few words.
func said(e record.Event) string {
	var d map[string]any
	_ = json.Unmarshal(e.Data, &d)
	words := []string{string(e.Kind)}
	add := func(keys ...string) {
		for _, key := range keys {
			if x, ok := d[key]; ok && x != "" {
				words = append(words, fmt.Sprint(x))
			}
		}
	}
	flag := func(keys ...string) {
		for _, key := range keys {
			if d[key] == true {
				words = append(words, key)
			}
		}
	}
	switch e.Kind {
	case record.KCue:
		add("n")
	case record.KCount:
		add("what")
	case record.KTrial:
		add("outcome")
		if x, ok := d["offered"]; ok {
			words = append(words, "offered", fmt.Sprint(x))
		}
	case record.KPay:
		add("pieces")
	case record.KExposure:
		add("state")
		flag("pulled")
	case record.KState:
		add("state")
	case record.KLine:
		words = append(words, map[bool]string{true: "taut", false: "slack"}[d["taut"] == true])
	case record.KTrigger:
		words = append(words, map[bool]string{true: "on", false: "off"}[d["on"] == true])
		add("m", "how", "site")
		flag("taken", "done")
	case record.KVerdict:
		add("deed")
	case record.KMove:
		add("why")
	}
	return strings.Join(words, " ")
}

// At 390 by 844, with touch and without a server, one session of each kind is run to its end; back on line the server's
// record is what was tapped, event by event.
func TestEveryKindOfWorkWithoutASignal(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	dog, err := s.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	plans := map[string]string{}
	for _, w := range works {
		plan, err := s.AddPlan(ctx, dog, form.Typed{
			"skill": "Work " + w.kind, "kind": w.kind, "position": "as agreed", "leg1_make": "figures", "leg1_what": "height",
			"leg1_items": "0.1, 0.2, 0.3, 0.4",
		})
		require.NoError(t, err)
		require.NoError(t, s.SaveRule(ctx, plan, ruleForm(t, s, plan, w.rule)))
		s.CatchUp(t)
		v, err := s.Plan(ctx, plan)
		require.NoError(t, err)
		for i, step := range v.Steps {
			typed := form.Typed{"op": "save", "step": step.ID}
			for key, value := range w.step {
				typed[key] = value
			}
			typed["height"] = fmt.Sprintf("0.%d", len(v.Steps)-i)
			s.CatchUp(t)
			v, err := s.Plan(ctx, plan)
			require.NoError(t, err)
			typed["version"] = fmt.Sprint(v.Version)
			require.NoError(t, s.EditSteps(ctx, plan, typed))
		}
		plans[w.kind] = plan
	}
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	sessions := map[string]string{}
	for _, w := range works {
		p.Go("/run?plan=" + plans[w.kind])
		p.Wait(`!document.getElementById("setup").hidden`)
		p.Click("#begin")
		phase(p, "idle")
		for _, tap := range strings.Fields(w.taps) {
			thumb(p, w.kind, tap)
		}
		sessions[w.kind] = browser.Get[string](p, `patientfox.session.id`)
		ends(p)
	}
	p.Errors() // the browser notes what it could not load
	kept := browser.Get[int](p, `(async () => (await patientfox.keep.waiting(0)).count)()`)
	s.Start()
	saved(p)
	all := 0
	for _, w := range works {
		events, err := s.Store.Read().Events(ctx, sessions[w.kind])
		require.NoError(t, err)
		all += len(events)
		presses := map[int64][]string{}
		var order []int64
		for _, e := range events {
			if e.Kind == record.KOpen || e.Kind == record.KBlock || e.Kind == record.KEnd || e.T == 0 {
				continue
			}
			if len(presses[e.T]) == 0 {
				order = append(order, e.T)
			}
			presses[e.T] = append(presses[e.T], said(e))
		}
		var lines []string
		for _, at := range order {
			lines = append(lines, strings.Join(presses[at], ", "))
		}
		if last := len(lines) - 1; last >= 0 && strings.HasPrefix(lines[last], "verdict") {
			lines = lines[:last] // said on closing
		}
		require.Equal(t, strings.TrimSpace(w.record), strings.Join(lines, " | "), w.kind)
	}
	require.Equal(t, kept, all, "every event that was kept has come")
	aside, refused := 0, browser.Get[int](p, `(async () => (await patientfox.keep.refused()).length)()`)
	_, aside, err = s.Store.Read().EventCount(ctx)
	require.NoError(t, err)
	require.Zero(t, aside+refused)
}

// thumb makes one tap, as far as the screen lets it.
func thumb(p *browser.Page, kind, tap string) {
	switch site, isSite := strings.CutPrefix(tap, "site:"); {
	case tap == "full":
		p.Wait(`patientfox.view.dial.full`)
		return
	case isSite:
		p.Touch(`[data-site="` + site + `"] .hit`)
		p.Wait(`document.querySelector('[data-site="` + site + `"]').getAttribute("aria-pressed") === "true"`)
		return
	case tap == "cue" || tap == "void" || tap == "left" && kind != "shaping":
		p.Click(".more summary")
		defer p.Click(".more summary")
	}
	p.Wait(`!patientfox.view.rests && !document.querySelector('[data-key="` + tap + `"]').disabled`)
	logged := browser.Get[int](p, `patientfox.logged`)
	shown := `[data-key="` + tap + `"]`
	if tap == "left" && kind == "shaping" {
		shown = "#beside " + shown // it is also among the keys that are folded away
	}
	p.Click(shown)
	if tap == "done" { // chosen for the next one, and logged with it
		p.Wait(`document.querySelector('[data-key="done"]').getAttribute("aria-pressed") === "true"`)
		return
	}
	p.Wait(fmt.Sprintf(`patientfox.logged > %d`, logged))
}

// ruleForm is a plan's form with another rule.
func ruleForm(t *testing.T, s *server, plan, rule string) form.Typed {
	t.Helper()
	s.CatchUp(t)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	typed := form.Typed{"version": fmt.Sprint(v.Version)}
	for key, value := range v.RuleForm {
		typed[key] = value
	}
	typed["kind"] = rule
	return typed
}
