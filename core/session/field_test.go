package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// A growl or a snap means leaving, whatever the state was, and no way back to the work today.
func TestAGrowlEndsTheWork(t *testing.T) {
	for _, kind := range []work.Kind{work.Held, work.Counter} {
		h := sessiontest.Begin(t, sessiontest.Plan(kind, 4, 1), session.Choice{Place: "shed"})
		h.Press(work.Main, 1000)
		h.Press(work.GrowlKey, 1500)
		advice, ok := h.Run.Advice(1.6)
		require.True(t, ok, kind)
		require.Equal(t, []any{decision.BiteRisk, decision.LeaveNow}, []any{advice.Sign, advice.Do}, kind)
		require.False(t, h.Run.Means(work.RecoverKey), kind)
		require.False(t, h.Run.Means(work.FinishKey), kind)
		require.NotNil(t, h.Run.Session().Trying, "what is under way goes on until it is closed")
		h.Press(work.UndoKey, 2500)
		require.Empty(t, h.Run.Session().Growls, "a wrong press is taken back")
	}
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	h.Press(work.GrowlKey, 1000)
	v := screen.Of(h.Run).View(1500)
	says := []string{v.Closing.Reason, v.Ends, v.Leave}
	require.Equal(t, []string{"stop", "stop", ""}, says, "the large key ends it, after the dog was fed away")
	require.Empty(t, h.Press(work.Main, 3000), "and begins nothing")
	require.False(t, h.Run.Means(work.HardKey), "nor is it made harder")
	require.True(t, h.Run.Means(work.EasyKey))
	full := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	sessiontest.Hold(full, 1000, 5, 17000, work.Main)
	require.Equal(t, []any{decision.StepUp, session.Deciding}, []any{full.Run.Now().Verdict, full.Run.Phase()})
	full.Press(work.GrowlKey, 100_000)
	require.Empty(t, full.Press(work.Main, 102_000), "a step up is not taken after it")
	require.Equal(t, "stop", screen.Of(full.Run).View(103_000).Ends)
	after := h.Run.After()
	require.NotEmpty(t, after[0].Cautions, "the next session of the dog says so")
}

// A dog that goes before it is asked has missed, with that as its error; where nothing asks it, it cannot.
func TestItWentBeforeTheCue(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{Place: "shed"})
	h.Press(work.EarlyKey, 1000)
	h.Press(work.Main, 5000)
	h.Press(work.EarlyKey, 5600)
	require.Len(t, sessiontest.Trials(h), 2)
	for _, one := range sessiontest.Trials(h) {
		require.Equal(t, trial.Missed, one.Outcome)
		require.Equal(t, []string{trial.WentEarly}, one.Errors)
		require.Zero(t, one.Pays)
	}
	require.False(t, sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"}).Run.Means(work.EarlyKey))
}

// An approximation that is less than asked is missed, but where it was marked on purpose it was the trainer who asked less.
func TestASmallerApproximationMarkedOnPurpose(t *testing.T) {
	h := sessiontest.Worked(t, work.Shaping, decision.Run, criteria.Criteria{}, criteria.Approx, 0, 1, 2)
	h.Press(work.HardKey, 500)
	h.Press(work.Offered+"0", 2000)
	require.Equal(t, trial.Missed, sessiontest.Trials(h)[0].Outcome)
	require.True(t, h.Run.Means(work.MarkedKey))
	h.Press(work.MarkedKey, 3000)
	require.Equal(t, []any{trial.LetGo, 1}, []any{sessiontest.Trials(h)[0].Outcome, sessiontest.Trials(h)[0].Pays})
	require.False(t, h.Run.Means(work.MarkedKey), "once")
	h.Press(work.UndoKey, 4000)
	first := sessiontest.Trials(h)[0]
	require.Equal(t, []any{trial.Missed, 0}, []any{first.Outcome, first.Pays}, "one undo takes the mark and its pay")
	h.Press(work.Offered+"1", 6000)
	require.False(t, h.Run.Means(work.MarkedKey), "that was as near as asked")
}

// Three trials of another skill, and the work goes back by itself; what was worked before stays where it was.
func TestAnInterludeGoesBack(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 2, 4500, work.MetKey)
	other := sessiontest.Plan(work.Cued, 4, 0)
	other.Plan, other.Skill, other.SkillName = "sit", "sit", "Sit"
	require.NoError(t, h.Run.Renew(other))
	drafts, problem := h.Run.Begin(session.Choice{Interlude: 3})
	require.Nil(t, problem)
	h.Do(at, drafts)
	for range 3 {
		require.Equal(t, "sit", h.Run.Block().Plan)
		at += 5000
		at = sessiontest.Hold(h, at, 1, 900, work.MetKey)
	}
	require.Equal(t, "plan", h.Run.Block().Plan, "shown at once")
	require.Equal(t, work.Held, h.Run.Kind().Kind)
	h.Press(work.Main, at+1000)
	h.Press(work.MetKey, at+6000)
	s := h.Run.Session()
	require.Equal(t, "plan", s.PlanOf(s.Trials[len(s.Trials)-1].Block))
	require.Equal(t, s.Blocks[0], s.Before(s.Blocks[1]))
	require.Len(t, s.Turns, 1)
	_, problem = h.Run.Begin(session.Choice{Interlude: 3})
	require.Equal(t, session.WorkedNow, problem.Code)
	require.NoError(t, h.Run.Renew(other))
	drafts, problem = h.Run.Begin(session.Choice{Interlude: 3})
	require.Nil(t, problem)
	h.Do(at+20000, drafts)
	at = sessiontest.Hold(h, at+21000, 1, 900, work.MetKey)
	h.Press(work.ReturnKey, at+1000)
	require.Equal(t, "plan", h.Run.Block().Plan, "or sooner, by a key")
	require.False(t, h.Run.Means(work.ReturnKey))
}

// What the set-up really was stands with the trial: figures, words of a list, a support that the step has lost, the line let out.
func TestAsWorked(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 3, 1)
	gear := func(c criteria.Criteria, at float64) criteria.Criteria { return c.With(criteria.Gear, at) }
	p.Steps[0].Criteria = gear(p.Steps[0].Criteria, 0)
	p.Steps[1].Criteria = gear(p.Steps[1].Criteria, 1)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Run.Alter(criteria.Handler, +1)
	h.Run.Alter(criteria.Gear, -1)
	h.Run.Alter(work.LineOut.Key, +1)
	h.Press(work.Main, 1000)
	h.Press(work.Main, 1900)
	require.Equal(t, map[criteria.Key]float64{criteria.Handler: 2.5, criteria.Gear: 0, "line": 5}, sessiontest.Trials(h)[0].Worked)
	h.Run.Alter(criteria.Gear, +1)
	h.Run.Alter(criteria.Handler, -1)
	h.Press(work.Main, 5000)
	h.Press(work.Main, 5900)
	require.Equal(t, map[criteria.Key]float64{"line": 5}, sessiontest.Trials(h)[1].Worked,
		"as planned again; the rest stays until it is changed")
	h.Press(work.HardKey, 8000)
	require.Contains(t, h.Run.Settings(), gear(criteria.Criteria{}, 0).Asked()[0], "the line can come back on where it is off")
	h.Run.Alter(criteria.Gear, -1)
	h.Press(work.Main, 9000)
	h.Press(work.Main, 9900)
	last := sessiontest.Trials(h)[2]
	require.Equal(t, 2.0, last.Worked[criteria.Gear])
	require.True(t, last.Easy, "with the line on it was another task")
}

func TestWhereTheTreatWent(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	require.Empty(t, h.Run.Tell("where", "low"), "nothing was paid")
	sessiontest.Hold(h, 1000, 1, 4500, work.MetKey)
	h.Do(7000, h.Run.Tell("where", "low"))
	require.Equal(t, "low", h.Run.Session().Pays[0].Where)
}

// A place that is typed as the session begins is on the list from then on; one that is there already is not made twice.
func TestANewPlaceIsNamedThereAndThen(t *testing.T) {
	const id = "00000000-0000-7000-8000-00000000aaaa"
	p := sessiontest.Plan(work.Held, 10, 9)
	new := session.Choice{Place: pack.NewPlace, PlaceName: "  Fish  steps ", PlaceID: id}
	run, err := session.Open(p)
	require.NoError(t, err)
	for typed, code := range map[string]session.ProblemCode{
		" ": session.NotNamed, string(make([]rune, criteria.MaxName+1)): session.TooLong,
	} {
		_, problem := run.Begin(session.Choice{Place: pack.NewPlace, PlaceName: "x" + typed, PlaceID: id})
		if code == session.NotNamed {
			_, problem = run.Begin(session.Choice{Place: pack.NewPlace, PlaceName: typed, PlaceID: id})
		}
		require.Equal(t, []any{"place_name", code}, []any{problem.Field, problem.Code})
	}
	require.NotEqual(t, sessiontest.StepID(9), screen.Of(run).Setup(new).StepID, "a place that is new to the skill opens lower")
	h := sessiontest.Begin(t, p, new)
	s := h.Run.Session()
	require.Equal(t, []string{id, "Fish steps"}, []string{s.Place, s.PlaceNamed})
	require.NotEqual(t, sessiontest.StepID(9), s.Blocks[0].Position.Today)
	left := h.Run.After()[0].Places
	require.Equal(t, pack.Option{ID: id, Name: "Fish steps", Known: true}, left[len(left)-1])
	h = sessiontest.Begin(t, p, session.Choice{Place: pack.NewPlace, PlaceName: "The Shed", PlaceID: id})
	require.Equal(t, []string{"shed", ""}, []string{h.Run.Session().Place, h.Run.Session().PlaceNamed})
}

// Over the plan's second limit an answer is missed, under it slow.
func TestTheSecondLimit(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Steps[1].Criteria = criteria.Criteria{}.With(criteria.Handler, 2)
	p.Definition = criteria.Definition{Position: "here", LatencyS: 1, MissedS: 3}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	for _, c := range []struct {
		s    float64
		want trial.Outcome
	}{{0.8, trial.Met}, {2, trial.Late}, {3.2, trial.Late}, {3.6, trial.Missed}} {
		h.Press(work.Main, at)
		h.Press(work.Main, at+int64(c.s*1000))
		last := sessiontest.Trials(h)[len(sessiontest.Trials(h))-1]
		require.Equal(t, c.want, last.Outcome, "%v s", c.s)
		at += 20000
	}
}
