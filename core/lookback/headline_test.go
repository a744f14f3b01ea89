package lookback_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// A session that was worked below its step did not hold it.
func TestTheHeadlineSaysWhereTheDogWorked(t *testing.T) {
	met, missed := []work.Key{work.MetKey}, []work.Key{work.MetKey, work.MissKey, work.MetKey, work.MissKey, work.MetKey}
	up := []work.Key{work.MetKey, work.MetKey, work.MetKey, work.Main}
	for _, c := range []struct {
		halved bool
		keys   []work.Key
		want   string
	}{
		{false, met, "Held its step"},
		{false, append(missed, work.Main), "Half a step down"},
		{false, append(append(missed, work.Main), up...), "Back at its step"},
		{true, met, "Worked below its step"},
		{true, up, "Back at its step"},
	} {
		p := sessiontest.Plan(work.Held, 4, 1)
		p.Rule = decision.Rule{Kind: decision.Set, Size: 5, Up: 5, Back: 2, SplitAfter: 1}
		if c.halved {
			p.Position.Half = p.Steps[0].ID
		}
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		for i, key := range c.keys {
			h.Press(key, int64(i+1)*5000)
		}
		v := lookback.Read(h.Run.Log(), h.Run.Session(), reinforce.Band{}, phrase.Words{})
		require.Equal(t, c.want, v.Headline, c.keys)
	}
}

// Where no trial counts, nothing was held.
func TestTheHeadlineSaysThatNoTrialCounts(t *testing.T) {
	for _, c := range []struct {
		choice session.Choice
		keys   []work.Key
		want   string
	}{
		{session.Choice{}, []work.Key{work.VoidKey, work.VoidKey}, "No trial counts"},
		{session.Choice{}, []work.Key{work.VoidKey, work.MetKey}, "Held its step"},
		{session.Choice{Mode: string(record.Baseline)}, []work.Key{work.MetKey, work.MissKey}, "A baseline"},
		{session.Choice{Mode: string(record.Placing)}, []work.Key{work.MetKey}, "Looked for where to begin"},
		{session.Choice{Deck: true}, []work.Key{work.MetKey, work.MissKey}, "Cards other than its step"},
	} {
		p := sessiontest.Plan(work.Held, 4, 1)
		p.Deck = []map[criteria.Key]float64{{criteria.Duration: 600}, {criteria.Duration: 900}}
		c.choice.Place = "shed"
		h := sessiontest.Begin(t, p, c.choice)
		for i, key := range c.keys {
			h.Press(key, int64(i+1)*5000)
		}
		require.Equal(t, c.want, lookback.Read(h.Run.Log(), h.Run.Session(), reinforce.Band{}, phrase.Words{}).Headline, c)
	}
}

// The gravest thing that happened comes first, however it was logged.
func TestTheHeadlineSaysTheGravestFirst(t *testing.T) {
	over := work.Noted + "4"
	for _, c := range []struct {
		keys []work.Key
		want string
	}{
		{[]work.Key{work.MetKey, over}, "Over threshold"},
		{[]work.Key{work.MetKey, over, work.GrowlKey}, "Growled or snapped"},
		{[]work.Key{work.MetKey, work.Noted + "3"}, "Held its step"},
	} {
		h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
		for i, key := range c.keys {
			h.Press(key, int64(i+1)*5000)
		}
		require.Equal(t, c.want, lookback.Read(h.Run.Log(), h.Run.Session(), reinforce.Band{}, phrase.Words{}).Headline, c.keys)
	}
}

// A split that cannot be made is not overruled by staying.
func TestOnlyWhatCouldBeDoneIsOverruled(t *testing.T) {
	steps := sessiontest.Plan(work.Held, 3, 1).Steps
	word := sessiontest.Plan(work.Held, 1, 0).Steps[:1]
	word[0].Criteria = criteria.Criteria{}
	split, stay := string(decision.Split), string(decision.Repeat)
	require.True(t, lookback.Overruled(steps, steps[1].ID, split, stay))
	require.False(t, lookback.Overruled(word, word[0].ID, split, stay))
	require.True(t, lookback.Overruled(word, word[0].ID, split, string(decision.StepBack)))
	require.False(t, lookback.Overruled(steps, steps[1].ID, split, split))
	require.False(t, lookback.Overruled(steps, steps[1].ID, split, "open"))
}
