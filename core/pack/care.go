package pack

import (
	"slices"

	"patientfox/core/care"
	"patientfox/core/load"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
)

// Touches are those of the plan in a session, by handler, oldest first.
func (p *Pack) Touches(s *record.Session) map[string][]care.Touch {
	touches, firsts := map[string][]care.Touch{}, care.Firsts{}
	day, _ := standing.Day(p.Today)
	for i := range s.Trials {
		t := &s.Trials[i]
		in := slices.IndexFunc(s.Blocks, func(b *record.Block) bool { return b.ID == t.Block })
		if in < 0 || s.Blocks[in].Plan != p.Plan {
			continue
		}
		b := s.Blocks[in]
		at := progression.Index(b.Steps, t.Step)
		if at < 0 {
			continue
		}
		one, ok := care.TouchOf(t, load.AsWorked(b.Steps[at].Criteria, t), p.Track)
		if !ok {
			continue
		}
		one.Day = day
		firsts.Mark(t.Handler, &one)
		touches[t.Handler] = append(touches[t.Handler], one)
	}
	return touches
}
