package standing

import (
	"fmt"
	"maps"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/trial"
)

// Proof is what is known of a ladder with steps that are proved, before the visits.
type Proof struct {
	Rules      map[string]decision.Rule // of proof, by step; without any, no rounds are counted
	Stretch    []trial.Trial            // of the step that is reached
	Definition int                      // under which these were
	Cover      map[string]Cover         // of their blocks
}

// Rounds are the proof rounds that were over, by step, its criteria and the definition.
type Rounds map[string]decision.RoundsOver

// RoundsBefore are the proof rounds that were over at a step, under its criteria and a definition, before the stretch of the reached one.
func (s *Standing) RoundsBefore(step progression.Step, definition int) decision.RoundsOver {
	return s.Rounds[roundsKey(step.ID, step.Rev, definition)]
}

// roundsKey is whose number a round's is: no step back, drop or new stretch sets it back, new criteria do.
func roundsKey(step string, rev, definition int) string {
	return fmt.Sprintf("%s %d %d", step, rev, definition)
}

// Unlogged are the trials that were not logged, by block.
func Unlogged(covers map[string]Cover) map[string]int {
	unlogged := map[string]int{}
	for block, c := range covers {
		if c.Unlogged > 0 {
			unlogged[block] = c.Unlogged
		}
	}
	return unlogged
}

// proved follows the trials of the stretch under way.
type proved struct {
	trials []trial.Trial
	works  map[string]Work // by block
}

func proving(p Proof) proved {
	of := proved{works: map[string]Work{}}
	if len(p.Rules) == 0 {
		return of
	}
	for _, t := range p.Stretch {
		of.trials = append(of.trials, t)
		of.works[t.Block] = Work{Block: t.Block, Definition: p.Definition, Unlogged: p.Cover[t.Block].Unlogged}
	}
	return of
}

// overRounds counts the rounds of a stretch that has ended, at a step, in a session or between two.
func (w *walk) overRounds(step, session string) {
	rule, has := w.Proof.Rules[step]
	ended := w.proved.trials
	w.proved.trials = nil
	if !has {
		return
	}
	judge := 0
	for i := range ended {
		judge = max(judge, ended[i].Judge)
	}
	var keys []string
	parts := map[string][]trial.Trial{}
	for i := range ended {
		t := &ended[i]
		if !InStretch(t, progression.Step{ID: step, Rev: t.Rev}, judge) {
			continue
		}
		key := roundsKey(step, t.Rev, w.proved.works[t.Block].Definition)
		if parts[key] == nil {
			keys = append(keys, key)
		}
		parts[key] = append(parts[key], t.Brief())
	}
	unlogged := map[string]int{}
	for block, one := range w.proved.works {
		unlogged[block] = one.Unlogged
	}
	for _, key := range keys {
		n := decision.Rounds(rule, parts[key], w.Rounds[key], unlogged)
		if n == 0 {
			continue
		}
		if w.Rounds = maps.Clone(w.Rounds); w.Rounds == nil { // a Standing is a value
			w.Rounds = Rounds{}
		}
		w.Rounds[key] = decision.RoundsOver{N: n, In: session}
	}
}
