package library_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

func sound() library.Template {
	return library.Template{
		Name: "Wait at the ramp", Kind: work.Held, Definition: criteria.Definition{Position: "feet behind the lip"},
		Steps: []criteria.Criteria{criteria.Criteria{}.With(criteria.Duration, 2), criteria.Criteria{}.With(criteria.Duration, 4)},
		Body:  library.Body{Rule: decision.Defaults(decision.Set), Pay: reinforce.Strategy{Band: reinforce.Band{Lo: 4, Hi: 8}, Pieces: 1}},
	}
}

func fields(problems []criteria.Problem) (list []string) {
	for _, p := range problems {
		list = append(list, p.Field)
	}
	return list
}

func TestWhatCannotStandInATemplate(t *testing.T) {
	require.Empty(t, sound().Check())
	many := make([]string, 13)
	for i := range many {
		many[i] = "line"
	}
	for field, change := range map[string]func(*library.Template){
		"name":       func(x *library.Template) { x.Name = " " },
		"about":      func(x *library.Template) { x.About = strings.Repeat("a", 501) },
		"kind":       func(x *library.Template) { x.Kind = "swimming" },
		"steps":      func(x *library.Template) { x.Steps = nil },
		"tracks":     func(x *library.Template) { x.Tracks = []string{"left", " LEFT "} },
		"arousal":    func(x *library.Template) { x.Body.Arousal = "wild" },
		"management": func(x *library.Template) { x.Body.Management = []library.Instead{{Instead: "a toy"}} },
		"needs":      func(x *library.Template) { x.Body.Needs = []progression.Need{{Skill: "Sit", Step: -1}} },
		"cautions":   func(x *library.Template) { x.Body.Cautions = many },
		"wrong":      func(x *library.Template) { x.Body.Wrong = []string{strings.Repeat("a", 501)} },
		"method":     func(x *library.Template) { x.Body.Method = strings.Repeat("a", 501) },
		"step_rule":  func(x *library.Template) { x.Body.StepRules = map[string]decision.Rule{"1": {Kind: "luck"}} },
	} {
		x := sound()
		change(&x)
		require.Contains(t, fields(x.Check()), field)
	}
	require.Contains(t, fields(library.CheckTracks([]string{"left"})), "tracks", "one alone is none")
	require.Empty(t, library.CheckTracks([]string{"left", "right"}))
}

// Where somebody could be hurt a step asks for proof, unless it was given a rule of its own.
func TestTheRuleOfAStep(t *testing.T) {
	body := sound().Body
	plain, risky := progression.Step{ID: "a"}, progression.Step{ID: "b", Safety: true}
	rule, own := body.RuleAt(plain)
	require.Equal(t, decision.Set, rule.Kind)
	require.False(t, own)
	rule, own = body.RuleAt(risky)
	require.Equal(t, decision.Proof, rule.Kind)
	require.True(t, own)
	body.StepRules = map[string]decision.Rule{"b": decision.Defaults(decision.Run)}
	rule, own = body.RuleAt(risky)
	require.Equal(t, decision.Run, rule.Kind)
	require.True(t, own)
	body.Rule, body.StepRules = decision.Defaults(decision.Proof), nil
	rule, own = body.RuleAt(risky)
	require.True(t, own && rule.SlowWrong && rule.AgainWrong, "where somebody could be hurt a late answer is not right")
}

func TestACueIsAddedWhenTheBehaviourIsOffered(t *testing.T) {
	require.False(t, library.CueReady(library.CueRun-1))
	require.True(t, library.CueReady(library.CueRun))
}

func TestALadderIsMadeWhereItHasGenerators(t *testing.T) {
	x := sound()
	seconds, _ := criteria.Criteria{}.Dimension(criteria.Duration)
	x.Layout.Generators = []progression.Generator{{Make: progression.MakeRamp, What: seconds, From: 1, To: 4}}
	steps, problems := x.Ladder()
	require.Empty(t, problems)
	require.Greater(t, len(steps), 2)
	steps, _ = sound().Ladder()
	require.Len(t, steps, 2)
}
