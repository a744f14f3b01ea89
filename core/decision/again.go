package decision

import "patientfox/core/trial"

// Again decides on the trials that a verdict rested on, as they read now, and says whether that is
// still what was said then. A split may replace a repeat, or a step back at the first step, and
// finished for a step up at the last: those depend on more than the trials read. So does proof, which
// rests on the whole stretch's cold trials, what is said while a dog is placed or probed, and a repeat of calm, which may rest on
// the session's first. At the first step of a ladder there is nothing to go back to.
func Again(rule Rule, said Verdict, reads []trial.Trial, first bool) (now Verdict, same bool) {
	switch rule.Kind {
	case Set, Run, Gate, CountUp, Calm:
	default: // proof, placing, a probe: not from these trials alone
		return said, true
	}
	step := 1
	if first {
		step = 0
	}
	now = Decide(rule, Question{Trials: reads, Step: step, Last: 2}).Verdict
	switch said {
	case Split:
		same = now == Split || now == Repeat || now == StepBack
	case Finished:
		same = now == StepUp
	case Repeat:
		same = now == Repeat || first && rule.Kind == Run && now == Split /* regain */ || rule.Kind == Calm && now == StepUp
	default:
		same = now == said
	}
	return now, same
}
