package decision

import (
	"encoding/json"
	"math"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// coldTrials is how many cold trials a proof round asks for; the last of them must be met.
const coldTrials = 6

// Points is what a proof rule counts by.
type Points struct {
	Cost  int // that one trial costs that is not met
	Needs int // for the round to pass
}

// PointsOf are the points of a rule's round, counted from 1. With g = ln((1 − 0.4·(1 − target)) ÷ target), a trial that is not met
// costs ⌈ln 2.5 ÷ g⌉, and round r passes at ⌈ln(2^r ÷ (1 − conf)) ÷ g⌉: a likelihood ratio of 1 − 0.4·(1 − target) against the
// target, which by Ville's inequality may be looked at after every trial; all rounds of a dog that is right just as often as the
// target pass with a chance of 1 − conf at most. Target and conf lie between 0 and 1, both left out.
func (r *Rule) PointsOf(round int) Points {
	gain := math.Log((1 - worseBy*(1-r.Target)) / r.Target)
	up := func(x float64) int { return int(math.Ceil(x - evidence.Epsilon)) }
	return Points{
		Cost:  up(math.Log(1/worseBy) / gain),
		Needs: up((float64(round)*math.Ln2 - math.Log(1-r.Conf)) / gain),
	}
}

// worseBy is how much rarer misses are in what proof holds against its target.
const worseBy = 0.4

// overAt is at how many misses' cost below nothing a round is over.
const overAt = 2

// Round is the proof round under way at a step, or the one that was over last.
type Round struct {
	Points
	Number int           // from 1, over all stretches of the step under the same criteria
	Scored int           // points so far, which may be below 0
	Over   bool          // it is lost; the next begins with the first trial of the next session
	Trials []trial.Trial // that it counts
}

// RoundsOver are the proof rounds of a step that were over before a stretch.
type RoundsOver struct {
	N int `json:"n"`
	// In is the session in which the last of them was over with its stretch: the next begins in a later one. "" where that was between
	// two sessions.
	In string `json:"in,omitempty"`
}

// UnmarshalJSON reads also a number alone, as it was kept before it was known in which session.
func (o *RoundsOver) UnmarshalJSON(text []byte) error {
	type plain RoundsOver
	if err := json.Unmarshal(text, &o.N); err == nil {
		return nil
	}
	return json.Unmarshal(text, (*plain)(o))
}

// RoundOf reads the trials of a stretch in order as rounds, after those that were over before it, and answers the last. Unlogged says
// how many trials were not logged, by block; those of "" are of the last round.
func RoundOf(rule Rule, trials []trial.Trial, before RoundsOver, unlogged map[string]int) Round {
	r := Round{Number: before.N + 1, Points: rule.PointsOf(before.N + 1)}
	session := ""
	if before.In != "" && len(trials) > 0 && trials[0].Session == before.In {
		r = Round{Number: before.N, Points: rule.PointsOf(before.N), Over: true}
		session = before.In
	}
	var blocks []string // of the session, that the round has trials of
	closes := func() {
		for _, b := range blocks {
			if !r.Over {
				r.Scored -= r.Cost * unlogged[b]
			}
		}
		blocks = nil
		r.Over = r.Over || r.Scored <= -overAt*r.Cost
	}
	for i := range trials {
		t := &trials[i]
		if t.Session != session {
			closes()
			session = t.Session
			if r.Over {
				r = Round{Number: r.Number + 1, Points: rule.PointsOf(r.Number + 1)}
			}
		}
		if r.Over || !inRound(t) {
			continue
		}
		if n := len(blocks); n == 0 || blocks[n-1] != t.Block {
			blocks = append(blocks, t.Block)
		}
		r.Trials = append(r.Trials, *t)
		if rule.up(t) {
			r.Scored++
		} else {
			r.Scored -= r.Cost
		}
		r.Over = r.Scored <= -overAt*r.Cost
	}
	blocks = append(blocks, "")
	closes()
	return r
}

// inRound tells whether a trial gives or costs points: what counts, and what was ended early. A tally has no order.
func inRound(t *trial.Trial) bool {
	return (t.Counted() || t.Outcome == trial.LetGo && !t.Easy && !t.Waits) && !t.Tally
}

// Rounds are how many rounds have begun with trials of a stretch, after those before it: as many are over when the stretch ends.
func Rounds(rule Rule, trials []trial.Trial, before RoundsOver, unlogged map[string]int) int {
	r := RoundOf(rule, trials, before, unlogged)
	if len(r.Trials) == 0 && r.Number > before.N {
		return r.Number - 1
	}
	return r.Number
}

// proof goes by points in rounds. It steps up only at the end of a session, when the round has its points, from enough sessions and
// places, with enough cold trials. Cold trials never send the dog back: one that was missed is repeated before anything is concluded.
func proof(rule *Rule, q Question, counted []trial.Trial) Decision {
	if back, fell := belowProof(rule, trial.Without(counted[max(0, len(counted)-rule.LookBack):], cold)); fell {
		return back
	}
	round := RoundOf(*rule, q.Trials, q.RoundsBefore, q.Unlogged)
	d := Decision{Verdict: Repeat, Due: q.Ended, Reads: ids(round.Trials), Reasons: []Reason{
		{Code: ProofRound, Of: round.Number}, {Code: ProofPoints, Of: round.Scored, Out: round.Needs},
	}}
	if round.Over {
		d.Reasons = append(d.Reasons, Reason{Code: RoundOver, Of: round.Cost})
		return d
	}
	missing := scarce(round.Trials, rule)
	if round.Scored < round.Needs {
		missing = append(missing, Reason{Code: ProofCost, Of: round.Cost})
	}
	if n := count(round.Trials, func(t *trial.Trial) bool { return t.Unmeasured }); 10*n > len(round.Trials) {
		missing = append(missing, Reason{Code: Unmeasured, Of: n, Out: len(round.Trials)})
	}
	missing = append(missing, coldOnes(rule, round.Trials)...)
	if !q.Ended {
		missing = append(missing, Reason{Code: NotEnded})
	}
	if len(missing) > 0 {
		d.Reasons = append(d.Reasons, rule.afterHelp(round.Trials)...)
	}
	if d.Reasons = append(d.Reasons, missing...); len(missing) == 0 {
		d.Verdict = StepUp
	}
	return d
}

// belowProof tells whether trials show that the right rate lies below the one asked.
func belowProof(rule *Rule, trials []trial.Trial) (Decision, bool) {
	n := len(trials)
	if n < rule.BackMin {
		return Decision{}, false
	}
	k := count(trials, rule.right)
	if 1-evidence.ProbAtLeast(k, n, rule.BackRate) < rule.BackConf-evidence.Epsilon {
		return Decision{}, false
	}
	return Decision{Verdict: StepBack, Due: true, Reasons: []Reason{{Code: BelowRate, Of: k, Out: n}}, Reads: ids(trials)}, true
}

// coldOnes says what the round lacks of cold trials.
func coldOnes(rule *Rule, trials []trial.Trial) []Reason {
	colds := trial.Without(trials, func(t *trial.Trial) bool { return !t.Cold })
	if len(colds) < coldTrials {
		return []Reason{{Code: FewCold, Of: len(colds), Out: coldTrials}}
	}
	if last := colds[len(colds)-coldTrials:]; !all(last, rule.up) {
		return []Reason{{Code: ColdMissed, Of: count(last, rule.up), Out: coldTrials}}
	}
	return nil
}

func cold(t *trial.Trial) bool { return t.Cold }

func uncounted(t *trial.Trial) bool { return !t.Counted() }
