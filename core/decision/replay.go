package decision

import "patientfox/core/trial"

// Stay is a run of trials at one step, in order, over as many sessions as it took.
type Stay struct {
	Step, Last int // as in a Question
	Trials     []trial.Trial
}

// Said is one decision of a replay.
type Said struct {
	Verdict Verdict
	Trial   trial.Trial // on which it was said
	Step    int
}

// Replay asks a rule after every trial of a record as it was, and says where it would have moved the dog.
// After a move the evidence begins anew, as it would have. What the dog would have done at the
// steps to which the rule led is not known: a replay says when a rule speaks, not how that would have gone.
func Replay(rule Rule, stays []Stay) []Said {
	var said []Said
	for _, v := range stays {
		from := 0
		for i, t := range v.Trials {
			ended := i+1 == len(v.Trials) || v.Trials[i+1].Session != t.Session
			d := Decide(rule, Question{Trials: v.Trials[from : i+1], Step: v.Step, Last: v.Last, Ended: ended})
			if d.Verdict == Repeat || !d.Due {
				continue
			}
			said = append(said, Said{d.Verdict, t, v.Step})
			from = i + 1
		}
	}
	return said
}
