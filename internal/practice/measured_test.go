package practice_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// What a kind of work is measured by comes through to its evidence.
func TestMeasuresComeThroughToTheEvidence(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Pilchard"})
	require.NoError(t, err)
	makes := map[string]string{"walking": "figures", "handling": "figures", "counter": "figures", "steadiness": "figures", "shaping": "ramp"}
	for _, c := range []struct {
		kind, what, items string
		keys              []work.Key
		rows              [][]string
	}{
		{"walking", "paces", "2, 3, 4", []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main, work.PullKey, work.Main}, [][]string{
			{"Paces to the pull, median", "1", "1"}, {"Leash loose again, median", "3 s", "1"}, {"Trials with a pull", "1, 50 %", "2"},
		}},
		{"handling", "duration", "2, 3, 4", []work.Key{work.Main, work.Main, work.TakeKey, work.PulledKey}, [][]string{
			{"Offered by the dog", "1, 50 %", "2"}, {"Pulled away, let go", "1, 50 %", "2"}, {"Really done", "0, 0 %", "2"},
		}},
		{"shaping", "approximation", "looks at it\none foot on\ntwo feet on", []work.Key{work.Main, "offered:2", work.Main}, [][]string{
			{"Offered: looks at it", "2, 67 %", "3"}, {"Offered: two feet on", "1, 33 %", "3"},
		}},
		{"counter", "trigger", "40, 30, 20", []work.Key{work.PayKey, work.Main, work.LateKey, work.ItselfKey}, [][]string{
			{"Itself again, median", "3 s", "1"}, {"Food before the stimulus", "1, 100 %", "1"},
		}},
		{
			"steadiness", "lead", "2, 1, 0", []work.Key{work.Main, work.Main, work.Main},
			[][]string{{"Distraction after the signal, median", "3 s", "1"}, {"Distraction out, median", "3 s", "1"}},
		},
	} {
		plan, err := o.AddPlan(ctx, dog, form.Typed{
			"skill": "Work " + c.kind, "kind": c.kind, "position": "as agreed", "leg1_make": makes[c.kind], "leg1_what": c.what,
			"leg1_items": c.items,
		})
		require.NoError(t, err, c.kind)
		h := o.Session(t, plan, session.Choice{})
		at := int64(0)
		for _, key := range c.keys {
			at += 3000
			h.Press(key, at)
		}
		o.End(t, h, at+1000, session.Closing{})
		v, err := o.Evidence(ctx, plan, "")
		require.NoError(t, err)
		var rows [][]string
		for _, s := range v.Sections {
			if s.Key == "measures" {
				rows = s.Table.Rows
			}
		}
		require.Equal(t, c.rows, rows, c.kind)
	}
}
