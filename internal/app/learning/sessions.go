package learning

import (
	"fmt"

	"patientfox/core/evidence"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// gap is how sessions ended and began on either side of so many days off.
type gap struct {
	label          string
	from           int // days, up to the next one's
	closed, opened evidence.Tally
}

func gaps() []gap {
	return []gap{{label: "A day", from: 1}, {label: "2 to 3 days", from: 2}, {label: "4 to 7 days", from: 4}, {label: "Longer", from: 8}}
}

// shownTrials is up to which trial of a session rates are drawn.
const shownTrials = 30

// read sorts the trials of a dog, in their order, by session and by skill. A tally has no order within its session.
func (l *learned) read(trials []store.Trial) {
	l.gaps, l.at = gaps(), make([]evidence.Tally, shownTrials/5)
	session, before := "", map[string]part{} // the latest of each plan
	here, order := map[string]part{}, []string(nil)
	closes := func() {
		for _, plan := range order {
			if last, has := before[plan]; has {
				l.addBreak(last, here[plan])
			}
			before[plan] = here[plan]
		}
		here, order = map[string]part{}, nil
	}
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || t.Tally {
			continue
		}
		if t.Session != session {
			closes()
			session, l.sessions = t.Session, append(l.sessions, nil)
		}
		one := &l.sessions[len(l.sessions)-1]
		at := len(*one)
		*one = append(*one, evidence.Worked{At: at + 1, Step: fmt.Sprint(t.Step, t.Rev), Met: t.Outcome == trial.Met})
		if at < shownTrials {
			l.at[at/5].Add(t.Outcome)
		}
		of, has := here[t.Plan]
		if !has {
			order = append(order, t.Plan)
		}
		of.day, of.trials = t.Day, append(of.trials, t)
		here[t.Plan] = of
	}
	closes()
}

// part is what a session has of one plan.
type part struct {
	day    string
	trials []*store.Trial
}

// tally counts the newest trials of a part as long as they are at a step, or the oldest ones.
func (p part) tally(step string, rev, most int, newest bool) (t evidence.Tally) {
	for i := range p.trials {
		one := p.trials[i]
		if newest {
			one = p.trials[len(p.trials)-1-i]
		}
		if one.Step != step || one.Rev != rev || t.N() == most {
			break
		}
		t.Add(one.Outcome)
	}
	return t
}

// addBreak adds a break after which the work began at the step at which it had ended, with enough trials on either side.
func (l *learned) addBreak(before, now part) {
	last := before.trials[len(before.trials)-1]
	closed := before.tally(last.Step, last.Rev, evidence.Closing, true)
	opened := now.tally(last.Step, last.Rev, evidence.Opening, false)
	days := app.DaysBetween(before.day, now.day)
	b, ok := evidence.BreakOf(days, closed, opened)
	if !ok {
		return
	}
	b.Plan = last.Plan
	l.breaks = append(l.breaks, b)
	for i := len(l.gaps) - 1; i >= 0; i-- {
		if g := &l.gaps[i]; days >= g.from {
			g.closed, g.opened = g.closed.Plus(closed), g.opened.Plus(opened)
			break
		}
	}
}
