package session

import (
	"patientfox/core/decision"
	"patientfox/core/record"
)

// TallyTyped is a count after a set, as typed.
type TallyTyped struct {
	Met    string `json:"met"`
	Late   string `json:"late"`
	Helped string `json:"helped"`
	Missed string `json:"missed"`
}

// Tally keeps the count of one set, made after it: its order is not known.
func (r *Run) Tally(t TallyTyped) ([]record.Draft, *Problem) {
	d, problem := r.counts(t)
	switch {
	case problem != nil:
		return nil, problem
	case r.Phase() != Idle:
		return nil, &Problem{Field: "met", Code: NoTallyHere}
	}
	return r.starts(record.NewDraft(record.KTally, d)), nil
}

// counts reads a tally of what is worked now.
func (r *Run) counts(t TallyTyped) (d record.TallyData, _ *Problem) {
	for _, f := range []struct {
		name, typed string
		to          *int
	}{{"met", t.Met, &d.Met}, {"late", t.Late, &d.Late}, {"helped", t.Helped, &d.Helped}, {"missed", t.Missed, &d.Missed}} {
		n, problem := whole(f.name, f.typed, maxTally)
		if problem != nil {
			return d, problem
		}
		if n != nil {
			*f.to = *n
		}
	}
	most := r.Countable()
	switch n := d.Met + d.Late + d.Helped + d.Missed; {
	case most == 0:
		return d, &Problem{Field: "met", Code: NoTallyHere}
	case n == 0:
		return d, &Problem{Field: "met", Code: NothingCounted}
	case r.rule().Kind == decision.Set && n != most && (r.s.Class == "" || n > most):
		return d, &Problem{Field: "met", Code: NotASet, N: n, Most: most}
	}
	return d, nil
}

// Countable is how many trials a tally is of: of a set all that is left of it, else the most that are entered at once; 0 where none can be
// kept. In a class, where nobody sees every trial, one may be of fewer, and the next one goes on with the set.
func (r *Run) Countable() int {
	rule := r.rule()
	switch {
	case r.Kind().ByState || r.Doing() != record.Train || rule.Kind == decision.Proof:
		return 0
	case rule.Kind != decision.Set:
		return maxTally
	case r.s.Class == "":
		return rule.Size
	}
	sets := decision.SetsOf(r.Counted(), rule.Size)
	if len(sets) == 0 {
		return rule.Size
	}
	last := sets[len(sets)-1]
	if first := &last[0]; !first.Tally || first.Block != r.Block().ID || len(last) == rule.Size {
		return rule.Size
	}
	return rule.Size - len(last)
}

// rule is what decides on the step that is worked.
func (r *Run) rule() decision.Rule {
	if r.Block() == nil {
		return r.pack.RuleAt(r.step().ID)
	}
	return r.now.Rule
}

// maxTally is how many trials a tally can be of.
const maxTally = 100
