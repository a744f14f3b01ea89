package session_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// Days between the last session and the day on which a pack is opened are calendar days, over leap years too.
func TestAPackThatWaitedCountsItsDaysAnew(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		from := time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, rapid.IntRange(0, 4000).Draw(t, "from"))
		days := rapid.IntRange(0, 60).Draw(t, "days")
		p := sessiontest.Plan(work.Held, 11, 0)
		p.First, p.LastDay, p.Today = false, from.Format("2006-01-02"), from.AddDate(0, 0, days).Format("2006-01-02")
		p.Position.Reached = p.Steps[len(p.Steps)-1].ID
		r, err := session.Open(p)
		require.NoError(t, err)
		start := len(p.Steps) - 1
		if days > 7 {
			start--
		}
		if days > 21 {
			start = len(p.Steps) - 1 - (len(p.Steps)+4)/5
		}
		require.Equal(t, p.Steps[start].ID, screen.Of(r).Setup(session.Choice{Place: "shed"}).StepID)
	})
}

// What a session leaves is what the next one opens with: the same stretch, place and half steps as if the server had
// sent them; and the next session's log says of the half step what no version of the plan knows yet.
func TestASessionLeavesWhatTheNextOneBeginsWith(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 0)
	p.Today = "2026-11-23"
	p.Rule = decision.Rule{Kind: decision.Set, Size: 5, Up: 5, Back: 2, SplitAfter: 1}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(0)
	for range 5 {
		at += 5000
		h.Press(work.MetKey, at)
	}
	h.Press(work.Main, at+1000) // up
	for i := range 5 {
		at += 5000
		h.Press([]work.Key{work.MetKey, work.MissKey, work.MetKey, work.MissKey, work.MetKey}[i], at)
	}
	require.Equal(t, decision.Split, h.Run.Now().Verdict)
	h.Press(work.Main, at+1000) // the half step
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(at+2000, drafts)

	left := h.Run.After()
	require.Len(t, left, 1)
	require.Len(t, left[0].Steps, len(p.Steps)+1)
	require.Len(t, left[0].Made, 1)
	require.False(t, left[0].First)
	require.Equal(t, "2026-11-23", left[0].LastDay)

	raw, err := json.Marshal(left[0])
	require.NoError(t, err)
	var again pack.Pack
	require.NoError(t, json.Unmarshal(raw, &again))
	next := sessiontest.Begin(t, again, session.Choice{Place: "shed"})
	require.Empty(t, next.Run.Session().Flags)
	require.Contains(t, string(next.Events[1].Data), left[0].Made[0].Step.ID)
	require.Equal(t, left[0].Position.Reached, next.Run.Session().Blocks[0].Position.Reached)
	rows := screen.Rows([]pack.Pack{again})
	require.Equal(t, again.Plan, rows[0].Plan)
}

// The half step is where the next session opens too, until three met lead back up; then the reached step is where it stands.
func TestTheNextSessionOpensAtTheHalfStep(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Today = "2026-11-23"
	p.Rule = decision.Rule{Kind: decision.Set, Size: 5, Up: 5, Back: 2, SplitAfter: 1}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(0)
	mixed := func(h *session.Hand) {
		for _, key := range []work.Key{work.MetKey, work.MissKey, work.MetKey, work.MissKey, work.MetKey} {
			at += 5000
			h.Press(key, at)
		}
	}
	mixed(h)
	h.Press(work.Main, at+1000) // the half step
	leaves := func(h *session.Hand) pack.Pack {
		drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
		require.Nil(t, problem)
		h.Do(at+2000, drafts)
		return h.Run.After()[0]
	}
	left := leaves(h)
	half := left.Made[0].Step.ID
	step, drops := left.StartAt("shed", left.Person)
	require.Equal(t, half, left.Steps[step].ID)
	require.Equal(t, []decision.Drop{{Code: decision.SplitOff, Steps: 1}}, drops)

	at = 0
	h = sessiontest.Begin(t, left, session.Choice{Place: "shed"})
	require.Equal(t, half, h.Run.Today().ID)
	for range 2 {
		at += 5000
		h.Press(work.MetKey, at)
	}
	left = leaves(h)
	require.Equal(t, half, left.Position.Half, "two are not three")

	at = 0
	h = sessiontest.Begin(t, left, session.Choice{Place: "shed"})
	for range 3 {
		at += 5000
		h.Press(work.MetKey, at)
	}
	h.Press(work.Main, at+1000) // back up
	require.Equal(t, left.Position.Reached, h.Run.Today().ID)
	left = leaves(h)
	require.Empty(t, left.Position.Half)
	step, _ = left.StartAt("shed", left.Person)
	require.Equal(t, left.Position.Reached, left.Steps[step].ID)

	// The split that was taken has ended the row: the next repeat is the first one.
	at = 0
	left.Rule.SplitAfter = 2
	h = sessiontest.Begin(t, left, session.Choice{Place: "shed"})
	mixed(h)
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	h.Press(work.Main, at+1000)
	mixed(h)
	require.Equal(t, decision.Split, h.Run.Now().Verdict)
	require.Equal(t, decision.Reason{Code: decision.ManyRepeats, Of: 2}, h.Run.Now().Reasons[1])
}

// Whoever chooses the reached step by hand has done with the half step.
func TestTheReachedStepByHandEndsTheHalfStep(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 2)
	p.Position.Half = p.Steps[1].ID
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Step: p.Position.Reached})
	require.Equal(t, p.Position.Reached, h.Run.Today().ID)
	require.Empty(t, h.Run.Session().Flags)
	h.Press(work.MetKey, 5000)
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(8000, drafts)
	require.Empty(t, h.Run.After()[0].Position.Half)
}

// A pack that a device has carried since before a version goes on: what it knew of one step is not lost.
func TestAPackOfAnEarlierVersionGoesOn(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 3, 0)
	p.V, p.Latencies, p.BetweenS = 2, []float64{1, 2, 3}, 6.5
	p.First, p.LastDay, p.Today = false, "2026-11-22", "2026-11-23"
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.Main, 1000)
	h.Press(work.Main, 2500)
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(4000, drafts)
	left := h.Run.After()[0]
	require.Equal(t, pack.Version, left.V)
	require.Equal(t, []float64{1, 2, 3, 1.5}, left.Lately[p.Position.Reached].Latencies)
	require.Contains(t, left.Lately[p.Position.Reached].Between, 6.5)
	require.Empty(t, left.Latencies)
	require.Equal(t, 2, left.Visits)
	require.Contains(t, left.Been, "shed")
	require.Equal(t, "2026-11-23", left.LastLogged)
}

// A pack that was loaded between two blocks has read this session's first: what that left is counted once.
func TestAPackLoadedBetweenTwoBlocksCountsOnce(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 3, 0)
	p.Today, p.Unhelped = "2026-11-23", 4
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	for at := int64(1000); at < 13000; at += 6000 {
		h.Press(work.Main, at)
		h.Press(work.Main, at+1500)
	}
	once := h.Run.After()[0]
	require.Equal(t, 6, once.Unhelped)
	renewed := once
	renewed.PlanVersion++
	require.NoError(t, h.Run.Renew(renewed))
	drafts, problem := h.Run.Begin(session.Choice{Place: "shed"})
	require.Nil(t, problem)
	h.Do(20000, drafts)
	h.Press(work.Main, 21000)
	h.Press(work.Main, 22500)
	left := h.Run.After()[0]
	require.Equal(t, 7, left.Unhelped)
	require.Equal(t, once.Visits, left.Visits)
	require.Len(t, left.Lately[p.Position.Reached].Latencies, 3)
}
