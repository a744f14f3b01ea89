package practice

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/record"
)

// measures are what was measured of a trial beside its latency and its hold.
type measures struct {
	record.Measures
	record.Touch
	RecoveryS *float64 `json:"recovery_s,omitempty"`
	Approx    string   `json:"approx,omitempty"` // what was offered, by the step's own list
	FedFirst  bool     `json:"fed_first,omitempty"`
}

// measuresOf is what a derived row keeps of them, "" for none.
func measuresOf(t record.TrialRead, b *record.BlockRead) string {
	text := encode(measures{t.Measures, t.Touch, t.RecoveryS, lookback.Approximation(t, b), t.FedFirst})
	if text == "{}" {
		return ""
	}
	return text
}

// measuresSection sums up what the plan's kind of work is measured by, over all counted trials; ok is false where
// nothing was.
func (a *account) measuresSection() (s Section, ok bool, err error) {
	s = Section{Key: "measures", Title: "Measures"}
	t := &Table{Key: "measures", Title: "What was measured", Head: []string{"Measure", "Figure", "Trials"}}
	lists := map[string][]float64{}
	touched, taken, pulledAway, done, pulls, walked := 0, 0, 0, 0, 0, 0
	handled := criteria.Kind(a.Kind) == criteria.Handling
	offers, offered, fedFirst := map[string]int{}, 0, 0
	for i, row := range a.history.trials {
		if a.trials[i].Outcome == evidence.Void || row.Measures == "" && !handled {
			continue
		}
		var m measures
		if row.Measures != "" {
			if err := jsonInto(row.Measures, &m); err != nil {
				return s, false, err
			}
		}
		fedFirst += boolInt(m.FedFirst)
		if m.Approx != "" {
			offered++
			offers[m.Approx]++
		}
		seconds := func(name string, x *float64) {
			if x != nil {
				lists[name] = append(lists[name], *x)
			}
		}
		seconds("Line slack again", m.SlackS)
		seconds("Back after a thrown treat", m.ReturnS)
		seconds("Distraction after the signal", m.LeadS)
		seconds("Distraction out", m.OutS)
		seconds("Itself again", m.RecoveryS)
		if m.Paces > 0 {
			walked++
			pulls += m.Pulls
			if m.Pulls > 0 {
				lists["Paces to the pull"] = append(lists["Paces to the pull"], float64(m.Paces))
			}
		}
		if m.CheckIns > 0 {
			lists["Check-ins in the minute"] = append(lists["Check-ins in the minute"], float64(m.CheckIns))
		}
		if handled {
			touched++
			taken += boolInt(m.Taken)
			pulledAway += boolInt(m.Pulled)
			done += boolInt(m.Done)
		}
	}
	for _, one := range []struct{ name, unit string }{
		{"Paces to the pull", ""}, {"Line slack again", " s"}, {"Check-ins in the minute", ""}, {"Back after a thrown treat", " s"},
		{"Distraction after the signal", " s"}, {"Distraction out", " s"}, {"Itself again", " s"},
	} {
		if list := lists[one.name]; len(list) > 0 {
			figure := strconv.FormatFloat(math.Round(10*evidence.Quantile(list, 0.5))/10, 'f', -1, 64)
			t.add(one.name+", median", figure+one.unit, strconv.Itoa(len(list)))
		}
	}
	share := func(name string, k, n int) {
		if n > 0 {
			t.add(name, fmt.Sprintf("%d, %s", k, phrase.Percent(float64(k)/float64(n))), strconv.Itoa(n))
		}
	}
	share("Trials with a pull", min(pulls, walked), walked)
	share("Offered by the dog", touched-taken, touched)
	share("Pulled away, let go", pulledAway, touched)
	share("Really done", done, touched)
	if fedFirst > 0 {
		share("Food before the stimulus", fedFirst, len(a.trials))
	}
	for _, word := range slices.SortedFunc(maps.Keys(offers), func(a, b string) int { return cmp.Or(offers[b]-offers[a], strings.Compare(a, b)) }) {
		share("Offered: "+word, offers[word], offered)
	}
	s.Table = t
	return s, len(t.Rows) > 0, nil
}
