package pack_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// handled is a pack whose dog has come to the fourth of five steps with Maren, who began the plan.
func handled() pack.Pack {
	p := carried()
	p.Kind, p.Founder, p.Main = work.Held, "maren", "maren"
	p.Stretch = []trial.Trial{{ID: "hers"}}
	p.People = []pack.Option{
		{ID: "maren", Name: "Maren Oduya", Role: pack.RoleTrainer, Known: true}, {ID: "jorun", Name: "Jorun Vale", Role: pack.RoleTrainer},
		{ID: "kes", Name: "Kes", Role: "family"},
	}
	return p
}

func TestWhereAHandlerOpens(t *testing.T) {
	kes := func(step string) func(p *pack.Pack) {
		return func(p *pack.Pack) {
			p.Levels = map[string]pack.Level{"kes": {
				Position: progression.Position{Reached: step, Today: step, Since: "then"}, Stretch: []trial.Trial{{ID: "theirs"}},
			}}
		}
	}
	for name, c := range map[string]struct {
		handler string
		change  func(p *pack.Pack)
		step    string
		hands   decision.Hands
		stretch string
	}{
		"the main handler":                     {"maren", nil, "d", decision.HandsMain, "hers"},
		"nobody said who":                      {"", nil, "d", decision.HandsMain, "hers"},
		"another trainer, a fifth lower":       {"jorun", nil, "c", decision.HandsFirst, ""},
		"the family, half way up":              {"kes", nil, "b", decision.HandsFirst, ""},
		"anybody new to exposures":             {"jorun", func(p *pack.Pack) { p.Kind = work.Counter }, "a", decision.HandsFirst, ""},
		"at their own step":                    {"kes", kes("c"), "c", decision.HandsOwn, "theirs"},
		"level with the main handler":          {"kes", kes("d"), "d", decision.HandsOwn, "theirs"},
		"never above the main handler":         {"kes", kes("e"), "d", decision.HandsCapped, ""},
		"nobody has begun it: theirs is it":    {"kes", func(p *pack.Pack) { p.Founder, p.Main = "", "" }, "d", decision.HandsMain, "hers"},
		"who began it, once Kes is the main":   {"maren", successor, "b", decision.HandsCapped, ""},
		"Kes, once they are the main handler":  {"kes", successor, "b", decision.HandsMain, "theirs"},
		"a third, half way to the new main's ": {"pim", successor, "a", decision.HandsFirst, ""},
	} {
		p := handled()
		if c.change != nil {
			c.change(&p)
		}
		before := fmt.Sprint(p)
		own := p.For(c.handler)
		require.Equal(t, before, fmt.Sprint(p), "%s: the pack itself stays", name)
		require.Equal(t, c.step, own.Position.Reached, name)
		require.Equal(t, c.hands, own.Hands, name)
		stretch := ""
		for _, one := range own.Stretch {
			stretch += one.ID
		}
		require.Equal(t, c.stretch, stretch, name)
		require.Equal(t, c.hands != decision.HandsMain, own.Cap != "", "%s: bounded by the main handler's", name)
	}
}

// A safety step that nobody has shown to a handler holds them below it, and shown or not they do not begin at one.
func TestASafetyStepHoldsOtherHandlers(t *testing.T) {
	p := handled()
	p.Steps[1].Safety, p.Steps[3].Safety = true, true
	held := func(who string) []string {
		own := p.For(who)
		return []string{own.Position.Reached, own.Cap, own.Held}
	}
	require.Equal(t, []string{"d", "", ""}, held("maren"), "not the main handler")
	require.Equal(t, []string{"a", "a", "b"}, held("jorun"))
	p.Shown = map[string][]string{"jorun": {"b"}, "kes": {"b", "d"}}
	require.Equal(t, []string{"a", "c", "d"}, held("jorun"), "the first is open; a record at the step below it comes first")
	require.Equal(t, []string{"a", "d", ""}, held("kes"))
	p.Levels = map[string]pack.Level{"kes": {Position: progression.Position{Reached: "b", Today: "b"}}}
	own := p.For("kes")
	require.Equal(t, "b", own.Position.Reached)
	require.Equal(t, []int{4, 3}, []int{p.OpensIn(record.Probe), own.OpensIn(record.Probe)}, "a probe neither goes above the main handler")
	require.Equal(t, []string{"", "d"}, []string{own.Unready(2), own.Unready(3)})
	p.Steps[0].Safety = true
	own = p.For("jorun")
	require.Equal(t, []string{"a", "a"}, []string{own.Position.Reached, own.Held}, "nothing is below it")
}

// successor makes Kes, who is at the second step, the main handler.
func successor(p *pack.Pack) {
	*p = p.For("maren")
	p.Main, p.Level = "kes", "kes"
	p.Levels = map[string]pack.Level{"": {Position: p.Position, Stretch: p.Stretch}}
	p.Position = progression.Position{Reached: "b", Today: "b"}
	p.Stretch = []trial.Trial{{ID: "theirs"}}
}

// Whoever asks in which order, each handler has their own level, and nobody's is above the main handler's.
func TestLevelsKeepApart(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := handled()
		people := []string{"maren", "jorun", "kes"}
		p.Main = rapid.SampledFrom(people).Draw(t, "main")
		p.Level = p.MainLevel()
		steps := rapid.SampledFrom(p.Steps)
		at := steps.Draw(t, "reached").ID
		p.Position = progression.Position{Reached: at, Today: at}
		p.Levels = map[string]pack.Level{}
		for _, one := range people {
			if level := p.LevelOf(one); level != p.Level && rapid.Bool().Draw(t, "known") {
				own := steps.Draw(t, one).ID
				p.Levels[level] = pack.Level{Position: progression.Position{Reached: own, Today: own}}
			}
		}
		shown, main := p, p.ReachedAt()
		for _, one := range rapid.SliceOfN(rapid.SampledFrom(people), 1, 6).Draw(t, "asked") {
			own := p.For(one)
			require.LessOrEqual(t, own.ReachedAt(), main)
			require.Equal(t, p.LevelOf(one), own.Level)
			if known, has := p.Levels[own.Level]; has && progression.Index(p.Steps, known.Position.Reached) <= main {
				require.Equal(t, known.Position, own.Position)
			}
			shown = shown.For(one)
			require.Equal(t, own.Hands, shown.Hands, "the way that led there changes nothing")
			if own.Hands != decision.HandsFirst && own.Hands != decision.HandsCapped {
				require.Equal(t, own.Position, shown.Position)
			}
			if shown.SetsLevel() {
				shown = p // it is written as the session begins
			}
		}
	})
}
