package insight

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/evidence"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// measuresSection sums up what the plan's kind of work is measured by, over all trials that were not void; ok is false where
// nothing was.
func (a *account) measuresSection() (s app.Section, ok bool) {
	s = app.Section{Key: "measures", Title: "Measures"}
	t := &app.Table{Key: "measures", Title: "What was measured", Head: []string{"Measure", "Figure", "Trials"}}
	var counted []*store.Trial
	for i := range a.History.Trials {
		if row := &a.History.Trials[i]; row.Outcome != trial.Void {
			counted = append(counted, row)
		}
	}
	for _, column := range a.Work().Columns() {
		var list []float64
		for i := range counted {
			if x, measured := column.Of(&counted[i].Trial); measured {
				list = append(list, x)
			}
		}
		if len(list) > 0 {
			figure := strconv.FormatFloat(math.Round(10*evidence.Quantile(list, 0.5))/10, 'f', -1, 64)
			t.Add(column.Name+", median", figure+column.Unit, strconv.Itoa(len(list)))
		}
	}
	share := func(name string, k, n int) {
		if n > 0 {
			t.Add(name, fmt.Sprintf("%d, %s", k, say.Percent(float64(k)/float64(n))), strconv.Itoa(n))
		}
	}
	for _, one := range a.Work().Shares() {
		k, n := 0, 0
		for i := range counted {
			is, could := one.Of(&counted[i].Trial)
			k, n = k+app.BoolInt(is && could), n+app.BoolInt(could)
		}
		if k > 0 || !one.Quiet {
			share(one.Name, k, n)
		}
	}
	offers, offered := map[string]int{}, 0
	for _, row := range counted {
		if row.Approx != "" {
			offered++
			offers[row.Approx]++
		}
	}
	for _, word := range slices.SortedFunc(maps.Keys(offers),
		func(a, b string) int { return cmp.Or(offers[b]-offers[a], strings.Compare(a, b)) }) {
		share("Offered: "+word, offers[word], offered)
	}
	s.Table = t
	return s, len(t.Rows) > 0
}
