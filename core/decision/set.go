package decision

import "patientfox/core/trial"

// lateMany is how many late trials make a repeated set "slow". Such a repeat neither counts towards
// a split nor breaks the row.
const lateMany = 3

// SetsOf cuts counted trials into sets: a set lies within one block, and sets are consecutive from the block's first counted trial. A tally
// is a set of its own. The last set of a block, and the one before a tally, may be unfinished.
func SetsOf(counted []trial.Trial, size int) [][]trial.Trial {
	var sets [][]trial.Trial
	start := 0
	for i := range counted {
		first, t := &counted[start], &counted[i]
		if i > start && (t.Block != first.Block || t.Session != first.Session || t.Tally != first.Tally) {
			sets = append(sets, counted[start:i])
			start = i
		}
		if i-start+1 == size {
			sets = append(sets, counted[start:i+1])
			start = i + 1
		}
	}
	if start < len(counted) {
		sets = append(sets, counted[start:])
	}
	return sets
}

// set decides on the trial that fills a set; an unfinished one stays in the evidence and is left out
// of the rule.
func set(rule *Rule, counted []trial.Trial) Decision {
	sets := SetsOf(counted, rule.Size)
	if len(sets) == 0 {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: SetGoing, Out: rule.Size}}}
	}
	last := sets[len(sets)-1]
	if len(last) < rule.Size {
		return Decision{Verdict: Repeat, Reasons: []Reason{{Code: SetGoing, Of: len(last), Out: rule.Size}}, Reads: ids(last)}
	}
	row, splits := 0, 0
	for _, s := range sets {
		if now := s[len(s)-1].Splits; now != splits {
			row, splits = 0, now // one that was taken ends the row
		}
		if len(s) < rule.Size {
			continue
		}
		switch rule.ofSet(s) {
		case Repeat:
			if count(s, late) < lateMany {
				row++
			}
		default:
			row = 0
		}
	}
	d := Decision{Verdict: rule.ofSet(last), Due: true, Reads: ids(last)}
	up := count(last, rule.up)
	switch d.Verdict {
	case StepUp:
		d.Reasons = []Reason{{Code: FullSet, Of: up, Out: rule.Size}}
	case StepBack:
		d.Reasons = []Reason{{Code: FewRight, Of: count(last, rule.right), Out: rule.Size}}
	default:
		d.Reasons = append([]Reason{{Code: BetweenSet, Of: up, Out: rule.Size}}, rule.afterHelp(last)...)
		if slow := count(last, late); slow >= lateMany {
			d.Reasons = append(d.Reasons, Reason{Code: Slow, Of: slow})
		} else if rule.SplitAfter > 0 && row > 0 && row%rule.SplitAfter == 0 {
			d.Verdict = Split
			d.Reasons = append(d.Reasons, Reason{Code: ManyRepeats, Of: row})
		}
	}
	return d
}

// ofSet answers for one full set on its own.
func (r *Rule) ofSet(full []trial.Trial) Verdict {
	switch {
	case count(full, r.right) <= r.Back:
		return StepBack
	case count(full, r.up) >= r.Up:
		return StepUp
	}
	return Repeat
}
