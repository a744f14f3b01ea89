package handling

import (
	"patientfox/core/evidence"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// What of a person's handling can be practised, beside the mistakes that have a key (work.Mistakes).
const (
	RepeatedCue = "repeated cue"  // given more often than the definition allows
	MoreHelp    = "more help"     // the dog was helped beyond what the step plans
	SlowerPay   = "slower to pay" // fewer reinforcers a minute than the plan asks
)

// Account is what one person's trials say of how they handled. It counts, and claims nothing.
type Account struct {
	N        int              // trials that were logged one by one; a tally says nothing of how its trials came about
	Slipped  int              // those with a mistake of the handler's
	Mistakes []evidence.Named // by what it was, the most frequent first; RepeatedCue among them
	Cued     int              // trials of work that has a cue and an answer: those in which it can be repeated
	Help     evidence.Help
}

// Of reads a person's trials; allowed is how many cues the definition of trial i allows.
func Of(trials []trial.Trial, allowed func(i int) int) (h Account) {
	var own []trial.Trial
	var cues []int
	for i := range trials {
		if t := &trials[i]; !t.Tally && !t.Waits {
			own, cues = append(own, *t), append(cues, allowed(i))
		}
	}
	h.N, h.Help = len(own), evidence.HelpOf(own)
	at := -1
	h.Mistakes = evidence.CountNamed(own, func(t *trial.Trial) (names []string) {
		at++
		if t.Mistake != "" {
			names = append(names, t.Mistake)
		}
		if t.State == nil && t.Cues > 0 {
			h.Cued++
			if t.Cues > cues[at] {
				names = append(names, RepeatedCue)
			}
		}
		if len(names) > 0 {
			h.Slipped++
		}
		return names
	})
	return h
}

// Pace is in how many stretches of work somebody paid as often as the plan asks.
type Pace struct{ Below, Within, Above int }

// N is how many stretches there are.
func (p Pace) N() int { return p.Below + p.Within + p.Above }

// Bounds of what is looked at.
const (
	paceSeconds = 60.0 // s of active time under which a stretch says nothing of pace
	practiseN   = 3    // times that something has to have happened before it is what to practise
)

// Add counts a stretch of so many s of active time and reinforcers, of which the plan asks from lo to hi a minute. One that is shorter than
// a minute, or without a plan for it (lo = 0), is left out.
func (p *Pace) Add(active float64, pays int, lo, hi float64) {
	if active < paceSeconds || lo <= 0 {
		return
	}
	switch rate := float64(pays) / active * 60; {
	case rate < lo:
		p.Below++
	case hi > 0 && rate > hi:
		p.Above++
	default:
		p.Within++
	}
}

// Practise is what of a handling happened the most often for its chances, with how often and of how many; false where nothing happened
// three times.
func (h Account) Practise(p Pace) (what string, n, of int, ok bool) {
	consider := func(name string, times, chances int) {
		if times >= practiseN && (!ok || times*of > n*chances) {
			what, n, of, ok = name, times, chances, true
		}
	}
	for _, one := range h.Mistakes {
		switch one.Name {
		case work.MistakeNotSaid: // nobody said what it was
		case RepeatedCue:
			consider(one.Name, one.N, h.Cued)
		default:
			consider(one.Name, one.N, h.N)
		}
	}
	consider(MoreHelp, h.Help.Unplanned, h.Help.N())
	consider(SlowerPay, p.Below, p.N())
	return what, n, of, ok
}
