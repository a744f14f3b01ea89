package session_test

import (
	"strings"
	"testing"

	"patientfox/core/phrase"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestSetsLieWithinOneBlock(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 3, 4000, work.Main)
	sessiontest.Another(t, h, at, nil, "0")
	at = sessiontest.Hold(h, at+1000, 2, 4000, work.Main)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "three and two in two blocks are no set of five")
	at = sessiontest.Hold(h, at, 3, 4000, work.Main)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Equal(t, "Set 1", screen.Of(h.Run).View(at).Set.Label)
}

func TestTheNextBlockTakesTheEditedPlan(t *testing.T) {
	first := sessiontest.Plan(work.Held, 4, 1)
	h := sessiontest.Begin(t, first, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 4, 4000, work.Main)
	edited := sessiontest.Plan(work.Held, 4, 1)
	edited.PlanVersion = 2
	edited.Steps[1].Criteria = criteria.Criteria{}.With(criteria.Duration, 3)
	edited.Steps[1].Rev = 2
	require.Equal(t, "4 s", screen.Of(h.Run).View(at).Step, "a session stays on its version until its next block")
	sessiontest.Another(t, h, at, &edited, "")
	require.Equal(t, "3 s", screen.Of(h.Run).View(at).Step)
	at = sessiontest.Hold(h, at+1000, 1, 3000, work.Main)
	require.Equal(t, "met", screen.Of(h.Run).View(at).Set.Places[0].Outcome)
	require.Empty(t, screen.Of(h.Run).View(at).Set.Places[1].Outcome, "trials under other criteria are in no set of these")
}

// Between two blocks the server may know this session's own trials already: they count once.
func TestARenewedPackCountsNothingTwice(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	p.Rule.Up = 4
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 2, 4000, work.Main)
	renewed := p
	renewed.Cover = map[string]standing.Cover{}
	for _, one := range h.Run.Session().Trials {
		renewed.Stretch = append(renewed.Stretch, one.Brief())
		renewed.Cover[one.Block] = standing.Cover{Logged: 2}
	}
	sessiontest.Another(t, h, at, &renewed, "1")
	at = sessiontest.Hold(h, at+1000, 1, 4000, work.Main)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "three met, and four are asked")
	at = sessiontest.Hold(h, at, 1, 4000, work.Main)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Equal(t, "80 % logged, about 1 not", screen.Of(h.Run).View(at).Verdict.Coverage)
}

func TestAStepThatIsGoneInTheNextBlockSettlesBelow(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 2), session.Choice{Place: "shed"})
	edited := sessiontest.Plan(work.Held, 4, 2)
	edited.PlanVersion = 2
	edited.Steps = append(edited.Steps[:2:2], edited.Steps[3])
	sessiontest.Another(t, h, 1000, &edited, "")
	b := h.Run.Session().Blocks[1]
	require.Equal(t, sessiontest.StepID(1), b.Position.Reached)
}

func TestTheStretchGoesOnFromEarlierSessions(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	earlier := func(rev int, o trial.Outcome) trial.Trial {
		return trial.Trial{ID: "earlier", Outcome: o, Session: "before", Block: "before", Step: sessiontest.StepID(1), Rev: rev}
	}
	p.Stretch = []trial.Trial{earlier(1, trial.Met), earlier(1, trial.Met)}
	p.Cover = map[string]standing.Cover{"before": {Logged: 2, Unlogged: 1}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	require.Equal(t, session.Idle, screen.Of(h.Run).View(0).Phase, "nothing is decided before today's first trial")
	at := sessiontest.Hold(h, 1000, 1, 4000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict, "two of before and one of today are three in a row")
	require.Equal(t, "75 % logged, about 1 not", v.Verdict.Coverage)

	p.Stretch = []trial.Trial{earlier(7, trial.Met), earlier(7, trial.Met)}
	h = sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at = sessiontest.Hold(h, 1000, 1, 4000, work.Main)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "trials under other criteria are no part of the stretch")
}

func TestHarderByHandIsGivenNotEarned(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 3, 1), session.Choice{Place: "shed"})
	h.Press(work.HardKey, 1000)
	b := h.Run.Session().Blocks[0]
	at2 := sessiontest.StepID(2)
	require.Equal(t, progression.Position{Reached: at2, Today: at2, Given: true, Since: b.Position.Since}, b.Position)
	require.Contains(t, screen.Of(h.Run).View(1000).Where, "set manually")
	require.Empty(t, h.Run.Press(work.HardKey, 2000), "there is no step above the last")
	h.Press(work.EasyKey, 2000)
	b = h.Run.Session().Blocks[0]
	require.Equal(t, sessiontest.StepID(1), b.Position.Today)
	require.Equal(t, sessiontest.StepID(2), b.Position.Reached, "easier by hand gives nothing up")
	h.Press(work.UndoKey, 3000)
	require.Equal(t, sessiontest.StepID(2), h.Run.Session().Blocks[0].Position.Today)
}

func TestPacksThatCannotRunAreRefused(t *testing.T) {
	_, err := session.Open(pack.Pack{})
	require.ErrorContains(t, err, "no steps")
	p := sessiontest.Plan(work.Held, 2, 0)
	p.Rule.Size = 0
	_, err = session.Open(p)
	require.ErrorContains(t, err, "rule")
	run, err := session.Open(sessiontest.Plan(work.Held, 2, 0))
	require.NoError(t, err)
	_, problem := run.Begin(session.Choice{Place: "the moon"})
	require.Equal(t, "place", problem.Field)
	_, problem = run.Begin(session.Choice{Step: "gone"})
	require.Equal(t, "step", problem.Field)
}

func TestTheFirstSessionOpensAtTheFirstStep(t *testing.T) {
	p := sessiontest.Plan(work.Held, 3, 0)
	p.First = true
	run, err := session.Open(p)
	require.NoError(t, err)
	setup := screen.Of(run).Setup(session.Choice{Place: "quay"})
	require.Equal(t, phrase.StartFirst, setup.Start)
	require.NotContains(t, setup.Steps[2].Name, "reached", "nothing has been reached yet")
	require.NotEqual(t, phrase.StartFirst, screen.Of(run).Setup(session.Choice{Step: sessiontest.StepID(1)}).Start)
}

// How it is there is said before a session or after it: the tags are the same ones, asked once, and bring their cautions.
func TestHowItIsThereIsAskedOnce(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	run, err := session.Open(p)
	require.NoError(t, err)
	require.Empty(t, screen.Of(run).Setup(session.Choice{}).Cautions)
	v := screen.Of(run).Setup(session.Choice{Tags: "hot, children"})
	require.Len(t, v.Cautions, 2)
	require.Contains(t, v.How, "hot")
	_, problem := run.Begin(session.Choice{Tags: "a, b, c, d, e, f, g, h, i"})
	require.Equal(t, "tags", problem.Field)
	h := sessiontest.Begin(t, p, session.Choice{Tags: "Hot , hot,  dogs   about"})
	at := sessiontest.Hold(h, 1000, 2, 4000, work.Main)
	require.Equal(t, "hot, dogs about", screen.Of(h.Run).View(at).Closing.Tags)
	drafts, problem := h.Run.Close(session.Closing{Tags: "hot, dogs about", Reason: "done", End: true})
	require.Nil(t, problem)
	for _, d := range drafts {
		require.NotEqual(t, record.KAmend, d.Kind, "nothing was said anew")
	}
	drafts, problem = h.Run.Close(session.Closing{Tags: "hot, wind", Reason: "done", End: true})
	require.Nil(t, problem)
	h.Do(at, drafts)
	require.Equal(t, []string{"hot", "wind"}, h.Run.Session().Tags)
	_, problem = session.ReadTags(strings.Repeat("x", 500))
	require.Equal(t, "tags", problem.Field)
}

// Somebody who only says what is left has not said that nothing is missing.
func TestWhatIsLeftSaysNothingOfWhatIsMissing(t *testing.T) {
	for _, c := range []struct {
		closing session.Closing
		said    bool
	}{{session.Closing{Left: "5"}, false}, {session.Closing{Left: "5", Unlogged: "0"}, true}, {session.Closing{}, false}} {
		h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Pieces: "10"})
		at := sessiontest.Hold(h, 1000, 1, 4000, work.Main)
		drafts, problem := h.Run.Close(c.closing)
		require.Nil(t, problem)
		h.Do(at, drafts)
		require.Equal(t, c.said, h.Run.Session().Blocks[0].UnloggedConfirmed)
	}
}
