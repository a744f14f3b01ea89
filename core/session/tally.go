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
		n, problem := whole(f.name, f.typed, 100)
		if problem != nil {
			return d, problem
		}
		if n != nil {
			*f.to = *n
		}
	}
	size := r.now.Rule.Size
	switch n := d.Met + d.Late + d.Helped + d.Missed; {
	case r.Kind().ByState || r.Doing() != record.Train || r.now.Rule.Kind == decision.Proof:
		return d, &Problem{Field: "met", Code: NoTallyHere}
	case n == 0:
		return d, &Problem{Field: "met", Code: NothingCounted}
	case r.now.Rule.Kind == decision.Set && n != size:
		return d, &Problem{Field: "met", Code: NotASet, N: n, Most: size}
	}
	return d, nil
}
