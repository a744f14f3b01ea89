package evidence

import "patientfox/core/trial"

// Stage is what somebody does in a visit that they share with another handler; the later ones ask more of them.
type Stage int

// The stages, in the order in which somebody takes a dog over.
const (
	Holding  Stage = iota // holds the dog, or its line, while another handles
	Feeding               // pays while another handles
	Handling              // handles while somebody else holds, feeds or logs
	Alone                 // handles, with nobody else
	Stages   = 4
)

// Share is how it went with somebody in one stage. It counts, and claims nothing.
type Share struct {
	Tally
	Days int    // on which they did it
	Last string // the latest of them, YYYY-MM-DD, "" for none
	last Tally  // on that day
}

// When a stage is taken to be sure enough for the next one: on so many days, with at least so many trials on the last of them, of which at
// least four in five were met, or at ease.
const (
	SureDays   = 2
	SureTrials = 3
	SureMet    = 0.8
)

// Sure tells whether the stage is sure enough for the next one.
func (s Share) Sure() bool {
	return s.Days >= SureDays && s.last.N() >= SureTrials && float64(s.last.Met) >= SureMet*float64(s.last.N())
}

// Shared is how it went with somebody, stage by stage, over counted trials in the order of their days.
func Shared(trials []trial.Trial, who string) (stages [Stages]Share) {
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || who == "" {
			continue
		}
		for _, stage := range stagesOf(t, who) {
			s := &stages[stage]
			if t.Day != s.Last {
				s.Days, s.Last, s.last = s.Days+1, t.Day, Tally{}
			}
			s.Add(t.Outcome)
			s.last.Add(t.Outcome)
		}
	}
	return stages
}

// stagesOf are the stages that somebody had in a trial.
func stagesOf(t *trial.Trial, who string) (stages []Stage) {
	beside := t.Beside(t.Handler)
	if t.Handler == who {
		if t.By == who && beside == (trial.Roles{}) {
			return []Stage{Alone}
		}
		return []Stage{Handling}
	}
	if beside.Holds == who {
		stages = append(stages, Holding)
	}
	if beside.Feeds == who {
		stages = append(stages, Feeding)
	}
	return stages
}

// NextStage is what somebody does next on the way to handling alone: the latest stage that they have been in, until it is sure, then the
// one after it. done is true where they are sure of handling it alone.
func NextStage(stages [Stages]Share) (next Stage, done bool) {
	for stage := Alone; stage >= Holding; stage-- {
		switch one := stages[stage]; {
		case one.Sure():
			return min(stage+1, Alone), stage == Alone
		case one.Days > 0:
			return stage, false
		}
	}
	return Holding, false
}
