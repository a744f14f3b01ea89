package session_test

import (
	"fmt"
	"testing"

	"patientfox/core/phrase"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// Counting up is taken by going on: nobody answers after every trial.
func TestCountingUpGoesOnByItself(t *testing.T) {
	p := sessiontest.Ruled(work.Walking, decision.CountUp, 0)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Paces, float64(i+1))
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	try := func(key work.Key) screen.View {
		h.Press(work.Main, at)
		for key == work.Main && h.Run.Session().Trying != nil { // a press for each pace
			at += 600
			h.Press(key, at)
		}
		if key != work.Main {
			h.Press(key, at+2000)
		}
		at += 6000
		return screen.Of(h.Run).View(at)
	}
	require.Equal(t, 1, h.Run.Paces())
	v := try(work.Main)
	require.Equal(t, session.Idle, v.Phase)
	require.Equal(t, 2, h.Run.Paces(), "the next count is shown before it is asked")
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	try(work.Main)
	require.Equal(t, 3, h.Run.Paces())
	require.Equal(t, sessiontest.StepID(1), h.Run.Session().Blocks[0].Position.Reached, "it moves when the next one begins")
	try(work.LateKey)
	require.Equal(t, 2, h.Run.Paces(), "late begins again one down: every one that is not met does")
	h.Press(work.Main, at)
	require.Equal(t, sessiontest.StepID(1), h.Run.Session().Blocks[0].Position.Reached)
	require.Equal(t, progression.WhyRestart, h.Run.Session().Moves[2].Why)
	require.Len(t, h.Run.Session().Verdicts, 3, "each was said and taken")
	h.Press(work.UndoKey, at+100)
	require.Equal(t, sessiontest.StepID(2), h.Run.Session().Blocks[0].Position.Reached, "undo takes the start back with what it meant")
}

func TestAGateLooksAtItsWindow(t *testing.T) {
	p := sessiontest.Ruled(work.Cued, decision.Gate, 1)
	p.Rule.Window, p.Rule.BackWindow, p.Rule.Sessions = 6, 3, 2
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 5, 900, work.MetKey)
	require.Len(t, h.Run.Now().Reads, 5)
	at = sessiontest.Hold(h, at, 1, 900, work.MetKey)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Idle, v.Phase, "one session is not two")
	require.Contains(t, v.Verdict.Why, "one of two sessions")

	var stretch []trial.Trial
	for i := range 5 {
		stretch = append(stretch, trial.Trial{
			ID: fmt.Sprint(i), Outcome: "met", Session: "earlier", Place: "shed", Block: "b", Step: sessiontest.StepID(1), Rev: 1,
		})
	}
	p.Stretch = stretch
	h = sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	sessiontest.Hold(h, 1000, 1, 900, work.MetKey)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
}

// Proof goes by points, decides when the session ends, and counts what was not logged against the dog.
func TestProofDecidesAtTheEnd(t *testing.T) {
	p := sessiontest.Ruled(work.Cued, decision.Proof, 1)
	p.Rule.Sessions, p.Rule.Places = 1, 1
	for i := range 100 {
		p.Stretch = append(p.Stretch, trial.Trial{
			Step: sessiontest.StepID(1), Rev: 1,
			ID: fmt.Sprint(i), Outcome: "met", Session: fmt.Sprint(i / 20), Place: "shed", Block: fmt.Sprint(i / 20), Cold: i%20 == 0,
		})
	}
	p.Cover = map[string]standing.Cover{"0": {Logged: 20}, "1": {Logged: 20}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 3, 900, work.MetKey)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, session.Idle, v.Phase)
	require.Contains(t, h.Run.Now().Reasons, decision.Reason{Code: decision.ProofPoints, Of: 103, Out: 97})
	require.Contains(t, v.Closing.Waiting, phrase.Verdict(decision.StepUp))
	reached := func(c session.Closing) string {
		run := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		end := sessiontest.Hold(run, 1000, 3, 900, work.MetKey)
		c.End = true
		drafts, problem := run.Run.Close(c)
		require.Nil(t, problem)
		run.Do(end, drafts)
		return run.Run.Session().Blocks[0].Position.Reached
	}
	require.Equal(t, sessiontest.StepID(2), reached(session.Closing{Take: true, Unlogged: "0"}))
	require.Equal(t, sessiontest.StepID(1), reached(session.Closing{Take: false, Unlogged: "0"}), "nobody took it")
	require.Equal(t, sessiontest.StepID(1), reached(session.Closing{Take: true, Unlogged: "1"}), "what was not logged counts as not met")
}

// A round's number stays with its step: a step back ends the round, and the next one asks for more. Eight a day are enough.
func TestProofRoundsAreCountedOverStepsBack(t *testing.T) {
	p := sessiontest.Ruled(work.Cued, decision.Proof, 1)
	p.Rounds = standing.Rounds{sessiontest.StepID(1) + " 1 1": {N: 2}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 3, 900, work.MetKey)
	round := func() int { return decision.RoundSaid(h.Run.Now().Rule, h.Run.Now().Reasons).Number }
	require.Equal(t, 3, round())
	at = sessiontest.Hold(h, at, 2, 900, work.MissKey) // the guard: one step back
	h.Press(work.Main, at)
	require.Equal(t, sessiontest.StepID(0), h.Run.Session().Blocks[0].Position.Reached)
	require.Equal(t, 1, round(), "of the step below")
	at = sessiontest.Hold(h, at+2000, 8, 900, work.MetKey)
	a, advised := h.Run.Advice(float64(at) / 1000)
	require.True(t, advised)
	require.Equal(t, decision.ProofsDone, a.Sign)
	left := h.Run.After()[0]
	require.Equal(t, standing.Rounds{sessiontest.StepID(1) + " 1 1": {N: 3, In: h.Run.Session().ID}}, left.Rounds)
}

// A step where somebody could be hurt is decided by its own rule.
func TestAStepMayHaveItsOwnRule(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.StepRules = map[string]decision.Rule{sessiontest.StepID(1): decision.Defaults(decision.Proof)}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 5, 4000, work.Main)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "five of five prove nothing")
	p.StepRules[sessiontest.StepID(1)] = decision.Rule{Kind: "coin"}
	_, err := session.Open(p)
	require.ErrorContains(t, err, "coin")
}

// A hold that was asked for longer than its criterion, reached that and broke, is met.
func TestALongerHoldThatBreaksAfterItsCriterionIsMet(t *testing.T) {
	p := sessiontest.Plan(work.Held, 3, 1)
	p.Steps[1].Criteria.Values[criteria.Duration] = 20
	p.Steps[1].Criteria.Vary = []criteria.Key{criteria.Duration}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	seen := map[string]int{}
	for range 20 {
		target := h.Run.Target()[criteria.Duration]
		h.Press(work.Main, at)
		held := int64(target*1000) - 100
		h.Press(work.MissKey, at+held)
		at += held + 4000
		last := h.Run.Session().Trials[len(h.Run.Session().Trials)-1]
		switch {
		case target > 20.1:
			seen["longer"]++
			require.EqualValues(t, "met", last.Outcome, "%.1f s of %.1f", float64(held)/1000, target)
			require.False(t, last.Easy)
		case target < 20:
			seen["shorter"]++
			require.EqualValues(t, "missed", last.Outcome)
			require.True(t, last.Easy, "it asked for less on purpose")
		}
		if screen.Of(h.Run).View(at).Phase == session.Deciding {
			h.Press(work.StayKey, at)
			at += 1000
		}
	}
	require.Positive(t, seen["longer"])
	require.Positive(t, seen["shorter"])
}
