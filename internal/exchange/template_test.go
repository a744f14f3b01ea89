package exchange_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/core/work"
	"patientfox/internal/exchange"
)

const good = `{
  "format": "patient-fox-template",
  "version": 2,
  "name": "Wait by the winch",
  "kind": "held",
  "definition": {"position": "four feet behind the rope"},
  "lists": {"gear": ["long line", "none"]},
  "dimensions": [{"key": "own-waves", "label": "Waves", "unit": "waves", "harder": "more", "max": 9}],
  "steps": [
    {"duration": 2, "handler": "1 m", "gear": "long line"},
    {"duration": 4, "handler": 1, "gear": "long line", "own-waves": 2, "trigger_is": "gulls", "vary": ["duration"], "safety": true}
  ],
  "tracks": ["left", "right"],
  "rule": {"kind": "run", "up": 4},
  "reinforcement": {"rate": [4, 8], "pieces": 2, "tier": 4, "schedule": "variable", "k": 4, "thin": true, ` +
	`"purpose": "hold", "delivery": "hand", "where": "behind the rope", "jackpot": 5, "own": 0.25, "own_is": "the gulls", "arousal": "lively"},
  "needs": [{"skill": "Stay", "step": 3, "before": 2, "why": "first things first"}],
  "errors": [{"name": "crept", "spoils": true}, {"name": "crooked"}],
  "management": [{"not": "rushing", "instead": "a gate"}],
  "cue": {"new": "“so”"},
  "goes_wrong": ["too far too soon"]
}
`

func TestATemplateIsRead(t *testing.T) {
	got, problems := exchange.ReadTemplate([]byte(good))
	require.Empty(t, problems)
	require.Equal(t, "Wait by the winch", got.Name)
	require.Equal(t, work.Held, got.Kind)
	require.Len(t, got.Steps, 2)
	require.Equal(t, 1.0, got.Steps[0].Get(criteria.Handler))
	require.Equal(t, "long line", got.Steps[0].Item(criteria.Gear))
	require.Equal(t, []bool{false, true}, got.Safety)
	require.Equal(t, 2.0, got.Steps[1].Get("own-waves"))
	require.Equal(t, 4, got.Body.Rule.Up)
	pay := got.Body.Pay
	require.Equal(t, 2, pay.Pieces)
	require.Equal(t, reinforce.Schedule{Way: reinforce.Variable, K: 4, Thin: true}, pay.Schedule)
	require.Equal(t, 4, pay.Tier)
	require.InDelta(t, 0.25, pay.LifeReward, 1e-12)
	require.Equal(t, "2", got.Body.Needs[0].Before)
	require.Equal(t, []work.Error{{Name: "crept", Spoils: true}, {Name: "crooked"}}, got.Body.Errors)
	require.Equal(t, []string{"left", "right"}, got.Tracks)

	file, err := exchange.WriteTemplate(got)
	require.NoError(t, err)
	back, problems := exchange.ReadTemplate(file)
	require.Empty(t, problems)
	require.Equal(t, got, back, "it leaves as it came")
	again, err := exchange.WriteTemplate(back)
	require.NoError(t, err)
	require.Equal(t, string(file), string(again))
}

// Version 1 said in words how it is paid: nothing of it is lost.
func TestAnOlderTemplateIsRead(t *testing.T) {
	at := strings.Index(good, `  "reinforcement"`)
	end := at + strings.Index(good[at:], "\n")
	old := good[:at] +
		`  "reinforcement": {"rate": [4, 8], "pieces": 2, "value": "very good", "schedule": "always", ` +
		`"where": "behind the rope", "how": "tossed"},` +
		good[end:]
	got, problems := exchange.ReadTemplate([]byte(strings.Replace(old, `"version": 2`, `"version": 1`, 1)))
	require.Empty(t, problems)
	require.Equal(t, 4, got.Body.Pay.Tier)
	require.Equal(t, "behind the rope; tossed; always", got.Body.Pay.Where)
	require.Equal(t, reinforce.Band{Lo: 4, Hi: 8}, got.Body.Pay.Band)
}

// Whatever is wrong, the message names the line and what would mend it.
func TestWhatIsWrongNamesItsLineAndTheFix(t *testing.T) {
	for name, c := range map[string]struct {
		from, to string
		says     string
	}{
		"another format": {"patient-fox-template", "shopping-list", "Line 1: This is no template of Patient Fox"},
		"a newer version": {
			`"version": 2`, `"version": 7`,
			"Line 3: This template was written in version 7 of the format; this program reads up to 2. Use a newer Patient Fox",
		},
		"no version":            {`  "version": 2,` + "\n", "", "Say which version"},
		"a schedule mistyped":   {`"variable"`, `"sometimes"`, "Line 15: Choose one of the list."},
		"thinned between rungs": {`"k": 4`, `"k": 6`, "Line 15: Thinning goes by rungs"},
		"a name mistyped": {
			`"goes_wrong"`, `"gose_wrong"`, "Line 20: A template has nothing called “gose_wrong”. Did you mean “goes_wrong”?",
		},
		"a dimension mistyped":  {`"duration": 2`, `"duratoin": 2`, "Line 10: There is no dimension called “duratoin”. Did you mean “duration”?"},
		"an unknown unit":       {`"1 m"`, `"1 yd"`, "Line 10: “yd” is not a unit that is known here"},
		"a word off the list":   {`"gear": "long line"}`, `"gear": "rope"}`, "Line 10: “rope” is none of long line, none."},
		"a figure out of range": {`"duration": 2,`, `"duration": -2,`, "Line 10: Duration takes 0.5 to 7200 s."},
		"a text for a number":   {`"pieces": 2`, `"pieces": "two"`, "Line 15: “pieces” is a number"},
		"a rate of one number":  {`[4, 8]`, `[4]`, "Line 15: A rate is two numbers"},
		"an unknown rule":       {`"kind": "run"`, `"kind": "coin"`, "Line 14: There is no rule called “coin”."},
		"an unknown kind":       {`"kind": "held"`, `"kind": "flying"`, "Line 5: There is no kind of work called “flying”."},
		"no definition":         {`"position": "four feet behind the rope"`, ``, "Line 6: Say what a bystander would see when it is right."},
		"one track":             {`["left", "right"]`, `["left"]`, "Line 13: Tracks are 2 to 8"},
		"a list of one":         {`["long line", "none"]`, `["long line"]`, "Line 7: A list has 2 to 30 words"},
		"no ladder":             {`"steps": [`, `"stepz": [`, "The ladder is missing"},
		"a missing comma":       {`"kind": "held",`, `"kind": "held"`, "Line 6: This is not JSON"},
		"the same name twice":   {`"kind": "held",`, `"kind": "held", "kind": "held",`, "Line 5: “kind” stands here twice"},
		"control characters":    {`behind the rope"}`, `behind\u0000the rope"}`, "Line 6: This text has control characters"},
	} {
		changed := strings.Replace(good, c.from, c.to, 1)
		require.NotEqual(t, good, changed, name)
		_, problems := exchange.ReadTemplate([]byte(changed))
		var said []string
		for _, p := range problems {
			said = append(said, p.String())
		}
		require.Contains(t, strings.Join(said, "\n"), c.says, name)
	}
	_, problems := exchange.ReadTemplate([]byte(good[:len(good)/2]))
	require.Contains(t, problems[0].String(), "ends in the middle")
	_, problems = exchange.ReadTemplate([]byte(strings.Repeat(" ", exchange.MaxTemplate+1)))
	require.Contains(t, problems[0].String(), "over 200 KB")
	_, problems = exchange.ReadTemplate([]byte(strings.Repeat("[", 3000)))
	require.NotEmpty(t, problems, "brackets without end come to an end")
}

func TestALadderIsMadeByItsGenerators(t *testing.T) {
	laid := strings.Replace(good, good[strings.Index(good, `"steps"`):strings.Index(good, `  "tracks"`)],
		`"ladder": {"join": "weave", "base": {"text": "quiet"}, "legs": [
    {"make": "ramp", "what": "duration", "from": 2, "to": 10},
    {"make": "approach", "trigger_is": "gulls", "from": 40, "to": 10, "level": 1}
  ]},
`, 1)
	got, problems := exchange.ReadTemplate([]byte(laid))
	require.Empty(t, problems)
	steps, bad := got.Ladder()
	require.Empty(t, bad)
	last := steps[len(steps)-1]
	require.Equal(t, 10.0, last.Get(criteria.Duration))
	require.Equal(t, "gulls", last.Trig)
	require.Equal(t, "quiet", last.Text)
	for from, says := range map[string]string{
		`"to": 10}`:      "The goal is easier than the start",
		`"make": "ramp"`: "There is no generator called “jump”",
		`"duration"`:     "There is no dimension called “patience”",
	} {
		to := map[string]string{`"to": 10}`: `"to": 1}`, `"make": "ramp"`: `"make": "jump"`, `"duration"`: `"patience"`}[from]
		_, problems := exchange.ReadTemplate([]byte(strings.Replace(laid, from, to, 1)))
		require.Contains(t, fmt.Sprint(problems), says)
	}
}

// No file makes the reader fall over, and no problem is without words.
func TestAnyFileIsAnswered(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		body := []byte(good)
		for range rapid.IntRange(1, 6).Draw(t, "changes") {
			if len(body) == 0 {
				break
			}
			at := rapid.IntRange(0, len(body)-1).Draw(t, "at")
			switch rapid.IntRange(0, 2).Draw(t, "how") {
			case 0:
				body = append(body[:at:at], body[at+1:]...)
			case 1:
				body[at] = rapid.Byte().Draw(t, "byte")
			default:
				body = body[:at+1]
			}
		}
		got, problems := exchange.ReadTemplate(body)
		for _, p := range problems {
			require.NotEmpty(t, p.Text)
			require.GreaterOrEqual(t, p.Line, 0)
		}
		if len(problems) == 0 {
			_, err := exchange.WriteTemplate(got)
			require.NoError(t, err)
		}
	})
}
