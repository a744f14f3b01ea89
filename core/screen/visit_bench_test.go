package screen_test

import (
	"testing"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// BenchmarkVisit is a touch and two views of it, at the end of a visit of 200 touches over 40 cells that each have a long record.
func BenchmarkVisit(b *testing.B) {
	sites, _ := criteria.Find(criteria.Site)
	tools, _ := criteria.Find(criteria.Tool)
	sites.Items = []string{"nose", "ear", "neck", "shoulder", "back", "belly", "hip", "tail", "front paw", "hind paw"}
	tools.Items = []string{"a hand", "fingers", "the closed tool", "the tool"}
	p := sessiontest.Plan(work.Handling, 1, 0)
	p.Steps, p.Rule, p.Care = nil, decision.Defaults(decision.Calm), &care.Skill{Sites: sites.Items, Tools: tools.Items}
	var touches []care.Touch
	for t := range tools.Items {
		for s := range sites.Items {
			c := criteria.Criteria{}.WithDimension(sites, float64(s)).WithDimension(tools, float64(t)).With(criteria.Duration, 2)
			p.Steps = append(p.Steps, progression.Step{ID: sessiontest.StepID(len(p.Steps)), Rev: 1, Criteria: c})
			for i := range 14 {
				one := care.Touch{Site: sites.Items[s], Tool: tools.Items[t], Exposure: care.Exposure{Day: i / 3, State: i % 2, First: i%3 == 0}}
				touches = append(touches, one)
			}
		}
	}
	p.Care.Touches = map[string][]care.Touch{"maren": touches}
	p.Position = progression.StartOf(p.Steps)
	begins := func() (touch func()) {
		h := sessiontest.Begin(b, p, session.Choice{})
		h.Press(work.RoundKey, 500)
		at := int64(1000)
		touch = func() {
			h.Press(work.Main, at)
			screen.Of(h.Run).View(at)
			h.Press(work.MetKey, at+2000)
			if h.Run.Phase() == session.Deciding {
				h.Press(work.StayKey, at+3000)
			}
			screen.Of(h.Run).View(at + 3500)
			at += 6000
		}
		for range 200 {
			touch()
		}
		return touch
	}
	n, touch := 0, begins()
	for b.Loop() {
		if n++; n%50 == 0 { // it grows meanwhile
			b.StopTimer()
			touch = begins()
			b.StartTimer()
		}
		touch()
	}
}
