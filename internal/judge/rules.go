package judge

import (
	"sync"

	"patientfox/core/decision"
	"patientfox/core/outlook"
)

// RuleRow is what a rule costs dogs of each form, in the order of outlook.Learners.
type RuleRow struct {
	Kind  decision.Kind
	New   bool // the figures that new plans get; otherwise those of before
	Steps int
	Costs []outlook.Costs
}

// Rules lets dogs of each form work plans of so many steps under the figures that new plans get, and under those of before where they
// differ.
func Rules(steps, dogs int, seed uint64) []RuleRow {
	var rows []RuleRow
	add := func(fresh bool, rule decision.Rule) {
		row := RuleRow{rule.Kind, fresh, steps, make([]outlook.Costs, len(outlook.Learners))}
		var all sync.WaitGroup
		for i, form := range outlook.Learners {
			all.Go(func() { row.Costs[i] = outlook.Cost(form, outlook.CourseOf(rule, steps), dogs, seed) })
		}
		all.Wait()
		rows = append(rows, row)
	}
	for _, kind := range decision.Kinds {
		add(true, decision.Usual(kind))
		if decision.Usual(kind) != decision.Defaults(kind) {
			add(false, decision.Defaults(kind))
		}
	}
	return rows
}

// Wrong is the share of trials that were not right, the mean over the forms, 0…1.
func (r RuleRow) Wrong() (mean float64) {
	for _, c := range r.Costs {
		mean += c.Wrong / float64(len(r.Costs))
	}
	return mean
}
