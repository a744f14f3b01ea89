package practice

import (
	"fmt"
	"math"
	"strconv"

	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/record"
)

// measures are what was measured of a trial beside its latency and its hold.
type measures struct {
	record.Measures
	record.Touch
	RecoveryS *float64 `json:"recovery_s,omitempty"`
}

// measuresOf is what a derived row keeps of them, "" for none.
func measuresOf(t record.TrialRead) string {
	text := encode(measures{t.Measures, t.Touch, t.RecoveryS})
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
	for i, row := range a.history.trials {
		if row.Measures == "" || a.trials[i].Outcome == evidence.Void {
			continue
		}
		var m measures
		if err := jsonInto(row.Measures, &m); err != nil {
			return s, false, err
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
		if m.Site != "" {
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
	s.Table = t
	return s, len(t.Rows) > 0, nil
}
