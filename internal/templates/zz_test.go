package templates_test

import (
	"fmt"
	"testing"

	"patientfox/core/phrase"
	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/internal/templates"
)

func TestZZ(t *testing.T) {
	for _, tpl := range templates.All() {
		made, bad := tpl.Ladder()
		fmt.Printf("== %s (%s) %d %v\n", tpl.Key, tpl.Kind, len(made), bad)
		var steps []progression.Step
		for i, c := range made {
			steps = append(steps, progression.Step{ID: fmt.Sprint(i), Criteria: c})
			fmt.Printf("  %d %s\n", i+1, phrase.In(criteria.Units{}).Step(c))
		}
		for _, w := range []float64{9, 22, 156, 570} {
			n := map[progression.LintCode]int{}
			for _, l := range progression.Lints(steps, progression.Case{Weeks: w}) {
				n[l.Code]++
			}
			fmt.Println("   ", w, n)
		}
	}
}
