package pack_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/standing"
)

// carried is a pack of five steps whose dog has reached the fourth, known at the shed and with Maren.
func carried() pack.Pack {
	var steps []progression.Step
	for _, id := range []string{"a", "b", "c", "d", "e"} {
		steps = append(steps, progression.Step{ID: id, Rev: 1, Criteria: criteria.Criteria{}.With(criteria.Duration, float64(len(steps)+1))})
	}
	return pack.Pack{
		V: pack.Version, Plan: "ramp", Steps: steps, Rule: decision.Defaults(decision.Set),
		Position: progression.Position{Reached: "d", Today: "d"},
		Places:   []pack.Option{{ID: "shed", Known: true}, {ID: "quay"}}, People: []pack.Option{{ID: "maren", Known: true}, {ID: "jorun"}},
	}
}

func TestWhereASessionOpens(t *testing.T) {
	for name, c := range map[string]struct {
		place, handler string
		change         func(p *pack.Pack)
		codes          []decision.DropCode
	}{
		"as it stood":               {"shed", "maren", nil, nil},
		"nothing said of where":     {"", "", nil, nil},
		"a place nobody knows of":   {"elsewhere", "maren", nil, nil},
		"a new place":               {"quay", "maren", nil, []decision.DropCode{decision.NewPlace}},
		"after a pause of a month":  {"shed", "maren", func(p *pack.Pack) { p.Days = 30 }, []decision.DropCode{decision.LongPause}},
		"after a stop":              {"shed", "maren", func(p *pack.Pack) { p.Stopped = true }, []decision.DropCode{decision.AfterStop}},
		"the first session of all":  {"quay", "jorun", func(p *pack.Pack) { p.First = true }, nil},
		"a reached step that is no": {"shed", "maren", func(p *pack.Pack) { p.Position.Reached = "gone" }, nil},
	} {
		p := carried()
		if c.change != nil {
			c.change(&p)
		}
		step, drops := p.StartAt(c.place, c.handler)
		var codes []decision.DropCode
		below := p.ReachedAt()
		for _, d := range drops {
			codes = append(codes, d.Code)
			below -= d.Steps
		}
		require.Equal(t, c.codes, codes, name)
		require.Equal(t, max(0, below), step, name)
	}
}

func TestWhatASessionIsFor(t *testing.T) {
	p := carried()
	for chosen, mode := range map[string]record.Mode{
		"": record.Train, pack.Train: record.Train, "place": record.Placing, "baseline": record.Baseline, "probe": record.Probe,
		"teach": record.Train,
	} {
		require.Equal(t, mode, p.Mode(chosen), chosen)
	}
	p.Finished, p.Days = true, 1
	require.Equal(t, record.Probe, p.Mode(""), "a finished skill is probed")
	require.Equal(t, record.Train, p.Mode(pack.Train), "unless it is to be taught")
	p.Days = 0
	require.Equal(t, record.Train, p.Mode(""), "and once a day")
	require.Equal(t, 0, p.OpensIn(record.Placing))
	require.Equal(t, 3, p.OpensIn(record.Baseline))
	require.Equal(t, 4, p.OpensIn(record.Probe))
}

func TestTheDayOnWhichAPackIsOpened(t *testing.T) {
	p := carried()
	p.Days, p.LastDay, p.Today = 2, "2026-11-20", "2026-11-27"
	p.Date()
	require.Equal(t, 7, p.Days)
	p.Today = "2026-11-19"
	p.Date()
	require.Zero(t, p.Days, "a clock that went back")
	p.Days, p.Today = 2, ""
	p.Date()
	require.Equal(t, 2, p.Days, "nobody said which day it is")
}

func TestPacksThatCannotBeRun(t *testing.T) {
	for name, change := range map[string]func(p *pack.Pack){
		"no steps":               func(p *pack.Pack) { p.Steps = nil },
		"no rule":                func(p *pack.Pack) { p.Rule = decision.Rule{} },
		"sets of nothing":        func(p *pack.Pack) { p.Rule.Size = 0 },
		"a step's own rule":      func(p *pack.Pack) { p.StepRules = map[string]decision.Rule{"b": {Kind: "guess"}} },
		"a gate without windows": func(p *pack.Pack) { p.Rule = decision.Rule{Kind: decision.Gate} },
	} {
		p := carried()
		require.NoError(t, p.Check())
		change(&p)
		require.Error(t, p.Check(), name)
	}
}

func TestAStepsOwnRuleAndPay(t *testing.T) {
	p := carried()
	p.StepRules = map[string]decision.Rule{"b": decision.Defaults(decision.Proof)}
	p.StepPay = map[string]reinforce.Strategy{"c": {Tier: 5}}
	p.Pay = reinforce.Strategy{Tier: 2}
	require.Equal(t, decision.Proof, p.RuleAt("b").Kind)
	require.Equal(t, decision.Set, p.RuleAt("c").Kind)
	require.Equal(t, 5, p.PayAt("c").Tier)
	require.Equal(t, 2, p.PayAt("b").Tier)
}

// What a device has carried since before the program was brought up to date is read on, once.
func TestAPackOfAnEarlierVersion(t *testing.T) {
	p := carried()
	p.V, p.Latencies, p.BetweenS, p.LastDay = 2, []float64{1.2, 0.8}, 4.5, "2026-11-20"
	p.Upgrade()
	require.Equal(t, []float64{1.2, 0.8}, p.Lately["d"].Latencies)
	require.Len(t, p.Lately["d"].Between, reinforce.MinMeasured)
	require.Equal(t, []string{"shed"}, p.Been)
	require.Equal(t, 1, p.Visits)
	require.Equal(t, "2026-11-20", p.LastLogged)
	again := p
	again.Upgrade()
	require.Equal(t, p, again)
}

// A pack that is made of what another says of its record is that pack.
func TestAPackIsWhatItsRecordSays(t *testing.T) {
	p := carried()
	p.Visits, p.Rung, p.Unhelped, p.Been, p.LastPlace = 3, 2, 40, []string{"shed"}, "shed"
	p.Tried = map[string]int{"d": 7}
	p.Cover = map[string]standing.Cover{"block": {Logged: 5, Unlogged: 1}}
	require.Equal(t, p, pack.Make(p, p.Stands(), p.Record()))
}
