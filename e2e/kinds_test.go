package e2e_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
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

// What each tap is: main, or another key; "full" waits for the dial, "where:low" says where the last treat went.
var works = []worked{
	{"cued", "gate", form.Typed{"latency": "5"},
		"main cue main error:crooked mistake mistake:moved missed position reset main helped helped main prompt:lure early main let_go " +
			"helped late void offer slow where:low state:1 arousal:2 left main",
		"cue 1 | cue 2 | mark, trial met, pay 1 | amend errors [crooked] | amend mistake mistake source handler" +
			" | amend mistake moved source handler | trial missed | count position | amend after reset" +
			" | cue 1 | help | help | mark, trial helped, pay 1 | amend prompt lure" +
			" | trial missed [went before the cue] | cue 1 | trial let_go | trial helped | trial late | trial void" +
			" | count offer | amend taken slow | amend where low | state 1 | arousal 2 | count left | count back"},
	{"held", "gate", form.Typed{"duration": "0.5"},
		"main full main main missed met late helped main let_go void refused where:target state:1 left main",
		"cue 1 | release, trial met, pay 1 | cue 1 | trial missed | trial met, pay 1 | trial late | trial helped" +
			" | cue 1 | trial let_go | trial void | amend taken refused | amend where target | state 1 | count left" +
			" | count back"},
	{"walking", "count_up", form.Typed{"paces": "2"},
		"main main main main main pull main met helped early main let_go void slow where:away",
		"cue 1 | count pace | count pace, mark, trial met, pay 1 | verdict step_up, move step_up, cue 1 | count pace" +
			" | count pull, line taut, trial missed | line slack | verdict step_back, move restart, trial met, pay 1" +
			" | verdict step_up, move step_up, trial helped" +
			" | verdict step_back, move restart, trial missed [went before the cue] | verdict repeat, cue 1" +
			" | trial let_go | trial void | amend taken slow | amend where away"},
	{"shaping", "run", form.Typed{"approximation": "a step towards it"},
		"offered:0 marked main offered:3 missed left main void where:position refused",
		"trial offered 0 | mark for, pay 1 | mark, trial offered 1, pay 1 | mark, trial offered 3, pay 1" +
			" | trial missed | count left | count back | trial void | amend where position | amend taken refused"},
	{"attention", "set", form.Typed{"check_ins": "2", "duration": "4"},
		"main main throw main full main main helped main stop void state:0 where:thrown",
		"cue 1 | count check_in, pay 1 | count throw | count check_in, pay 1 | trial | cue 1 | trial helped | cue 1" +
			" | trial | trial void | state 0 | amend where thrown"},
	{"counter", "calm", form.Typed{"trigger": "40", "intensity": "1"},
		"main main main late itself main expects met helped stay void slow where:low",
		"trigger on 40 planned | pay 1 | pay 1 | exposure 2 | state 1 | trigger on 40 planned | exposure 0, pay 1" +
			" | exposure 1, pay 1 | exposure 3, pay 1 | verdict repeat | trial void | amend taken slow | amend where low"},
	{"handling", "calm", form.Typed{"site": "ear", "tool": "fingers", "duration": "1"},
		"main full main site:paw done take pulled itself site:ear met expects helped stay late void where:low",
		"trigger on ear | exposure 0, pay 1 | trigger on paw taken done | exposure 2 pulled | state 1" +
			" | exposure 1, pay 1 | exposure 0, pay 1 | exposure 3, pay 1 | verdict repeat | exposure 2, pay 1" +
			" | trial void | amend where low"},
	{"steadiness", "gate", form.Typed{"lead": "1", "out": "2"},
		"main main put_away main missed met early helped main let_go void state:2 where:low",
		"cue 1 | trigger on | trigger off | mark, trial met, pay 1 | trial missed | trial met, pay 1" +
			" | trial missed [went before the cue] | trial helped | cue 1 | trial let_go | trial void | state 2" +
			" | amend where low"},
}

// always are the keys that every kind has, pressed after its own, and what they log.
const (
	always     = " pay undo break main harder easier"
	alwaysSays = " | pay 1 | retract | pause | resume | move hand | move hand"
)

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
		if x, ok := d["errors"]; ok {
			words = append(words, fmt.Sprint(x))
		}
	case record.KMark:
		if d["for"] != nil {
			words = append(words, "for")
		}
	case record.KAmend:
		set := d["set"].(map[string]any)
		for _, name := range slices.Sorted(maps.Keys(set)) {
			words = append(words, name, fmt.Sprint(set[name]))
		}
	case record.KArousal:
		add("level")
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

// everyKind lays out a plan of each kind of work for a dog with a long name, with six errors that have a key.
func everyKind(t *testing.T, s *server) map[string]string {
	t.Helper()
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
	return plans
}

// The board never scrolls, whatever is tapped in whatever kind of work, on a usual phone and on a small one, with the treats running out.
func TestTheBoardNeverScrolls(t *testing.T) {
	t.Parallel()
	for _, size := range []browser.Size{browser.Phone, {W: 360, H: 640, Phone: true}} {
		s := serve(t, practicetest.Empty(t))
		plans := everyKind(t, s)
		p := s.Page(size)
		for _, w := range works {
			begin(p, plans[w.kind], "")
			fits := func(after string) {
				over := browser.Get[int](p, `Math.max(document.documentElement.scrollHeight - innerHeight,
					Math.ceil(document.querySelector("#board [data-key=main]").getBoundingClientRect().bottom) - innerHeight)`)
				if over > 0 {
					parts := browser.Get[string](p, `[...document.querySelectorAll("#board > *, .pad > *")].filter(e => e.offsetHeight)
						.map(e => (e.id || e.className || e.tagName) + " " + e.offsetHeight).join(", ")`)
					require.Fail(t, "the board scrolls", "%s, %d x %d, by %d after %s: %s", w.kind, size.W, size.H, over, after, parts)
				}
			}
			for _, tap := range strings.Fields(w.taps) {
				thumb(p, w.kind, tap)
				fits(tap)
			}
			p.Click(".more summary")
			fits("more keys")
			p.Click(".more summary")
			ends(p)
			begin(p, plans[w.kind], "2")
			for _, tap := range []string{"pay", "pay"} {
				thumb(p, w.kind, tap)
			}
			if w.kind != "attention" { // where only what runs can be ended
				p.Click("#row .key")
			}
			p.Wait(`patientfox.view.advice.line`)
			fits("the last treat")
			ends(p)
		}
		clean(t, p)
	}
}

// At 390 by 844, with touch and without a server, one session of each kind is run to its end; back on line the server's
// record is what was tapped, event by event.
func TestEveryKindOfWorkWithoutASignal(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	plans := everyKind(t, s)
	p := s.Page(browser.Phone)
	carry(p)
	s.Stop()
	sessions := map[string]string{}
	for _, w := range works {
		p.Go("/run?plan=" + plans[w.kind])
		p.Wait(`!document.getElementById("setup").hidden`)
		p.Click("#begin")
		phase(p, "idle")
		for _, tap := range strings.Fields(w.taps + always) {
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
		require.Equal(t, w.record+alwaysSays, strings.Join(lines, " | "), w.kind)
	}
	require.Equal(t, kept, all, "every event that was kept has come")
	aside, refused := 0, browser.Get[int](p, `(async () => (await patientfox.keep.refused()).length)()`)
	_, aside, err := s.Store.Read().EventCount(ctx)
	require.NoError(t, err)
	require.Zero(t, aside+refused)
	for _, w := range works {
		corrects(t, p, w.kind, sessions[w.kind])
	}
}

// corrects gives every field of a session's first trial another value on Review, and reads them all again. What an error was is asked of
// one that was not right: the first round makes it that.
func corrects(t *testing.T, p *browser.Page, kind, session string) {
	t.Helper()
	const form = `document.querySelector("#correct form")`
	for range 2 {
		p.Go("/sessions/" + session)
		p.Follow(`[aria-label="Edit trial 1"]`)
		said := browser.Get[map[string]string](p, `(() => {
			const said = {};
			const typed = {
				outcome: "missed", state: "3", site: "left ear, “sore” 🐾", instead: "sat, “wide”", broke: "a gull", errors: "wide, sat",
			};
			for (const field of `+form+`.elements) {
				if (!field.name || field.type === "hidden") continue;
				const others = [...(field.options || [])].map((o) => o.value).filter((v) => v !== field.value);
				field.value = typed[field.name] || others.pop() || (field.options ? "" : String(1 + (Object.keys(said).length % 4)));
				said[field.name] = field.value;
			}
			return said;
		})()`)
		require.Greater(t, len(said), 3, kind)
		p.Follow("#correct button")
		require.Empty(t, browser.Get[string](p, `[...document.querySelectorAll(".problem")].map((e) => e.innerText).join("")`), kind)
		p.Follow(`[aria-label="Edit trial 1"]`)
		now := browser.Get[map[string]string](p, `Object.fromEntries([...`+form+`.elements].filter((e) => e.name).map((e) => [e.name, e.value]))`)
		for name, value := range said {
			require.Equal(t, value, now[name], "%s: %s", kind, name)
		}
	}
	p.Go("/sessions/" + session)
	p.Follow(`form[action$="/uncorrect"] button`)
	p.Follow(`form[action$="/uncorrect"] button`)
	require.False(t, browser.Get[bool](p, `document.body.innerText.includes("corrected later")`), "%s: one undo a correction", kind)
}

// folded are the keys behind "More keys".
var folded = []string{"cue", "void", "let_go", "early", "offer", "slow", "refused", "growl", "harder", "jackpot", "other", "decoy"}

// thumb makes one tap, as far as the screen lets it.
func thumb(p *browser.Page, kind, tap string) {
	tap = strings.ReplaceAll(tap, "+", " ") // a key's own words
	for prefix, field := range map[string]string{"hand:": "#hand", "turn:": "#hand-turn"} {
		if with, is := strings.CutPrefix(tap, prefix); is {
			p.Click(".more summary")
			p.Wait(`document.querySelector("` + field + `").options.length > 1`)
			logged := browser.Get[int](p, `patientfox.logged`)
			p.Choose(field, strings.ToLower(with))
			p.Wait(fmt.Sprintf(`patientfox.logged > %d`, logged))
			p.Click(".more summary")
			p.Wait(`!document.querySelector(".more").open`)
			return
		}
	}
	switch site, isSite := strings.CutPrefix(tap, "site:"); {
	case tap == "full":
		p.Wait(`patientfox.view.dial.full`)
		return
	case tap == "help": // until the pause before the planned help is over, by more than a thumb is good to
		p.Wait(`patientfox.view.help && Number(patientfox.view.dial.big) > 1.4`)
		return
	case tap == "over": // by more than a thumb is good to
		p.Wait(`Number(patientfox.view.dial.big) > 2.4`)
		return
	case tap == "lined":
		p.Click(".more summary")
		p.Click("#lined") // which closes them
		p.Wait(`!document.querySelector(".more").open`)
		return
	case isSite:
		p.Touch(`[data-site="` + site + `"] .hit`)
		p.Wait(`document.querySelector('[data-site="` + site + `"]').getAttribute("aria-pressed") === "true"`)
		return
	case strings.HasPrefix(tap, "where:"):
		p.Click(".more summary")
		p.Click(`[data-where="` + strings.TrimPrefix(tap, "where:") + `"]`) // which closes them
		p.Wait(`!document.querySelector(".more").open`)
		return
	case slices.Contains(folded, tap), strings.HasPrefix(tap, "state:"), strings.HasPrefix(tap, "arousal:"),
		tap == "left" && kind != "shaping":
		p.Click(".more summary")
		p.Wait(`document.querySelector(".more").open`)
		defer func() {
			if tap != "state:3" && tap != "state:4" { // which close them
				p.Click(".more summary")
			}
			p.Wait(`!document.querySelector(".more").open`)
		}()
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
	typed["kind"], typed["run_up"] = rule, "3"
	return typed
}
