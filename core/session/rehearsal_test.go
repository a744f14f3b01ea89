package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// guarded is the shared plan whose fourth step is a safety step; Kes has come to the one below it, or to a lower one.
func guarded(reached int) pack.Pack {
	p := shared()
	p.Steps[3].Safety = true
	at := sessiontest.StepID(reached)
	p.Levels = map[string]pack.Level{"kes": {Position: progression.Position{Reached: at, Today: at}}}
	return p
}

// held are criteria with something that holds the dog.
func held(c criteria.Criteria, by string) criteria.Criteria {
	c = c.With(criteria.Gear, 0)
	c.Lists = map[criteria.Key][]string{criteria.Gear: {by, "nothing"}}
	return c
}

// Whoever was not shown a safety step rehearses it once the rule leads there: it is in the record and in no rate, and their level stays.
func TestASafetyStepIsRehearsedUntilItIsShown(t *testing.T) {
	h := sessiontest.Begin(t, guarded(2), session.Choice{Place: "shed", Pieces: "60", Handler: "kes"})
	at := int64(1000)
	for range 5 {
		at = sessiontest.Cued(h, at+2000, 500)
	}
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.Equal(t, decision.NotShown, h.Run.Now().Reasons[len(h.Run.Now().Reasons)-1].Code)
	require.True(t, h.Run.Means(work.RehearseKey))
	require.Contains(t, screen.Of(h.Run).View(at).Beside, work.Button{Key: work.RehearseKey, Label: "Rehearse step 4"})
	h.Press(work.RehearseKey, at+1000)
	require.Equal(t, record.Rehearsal, h.Run.Doing())
	require.Equal(t, sessiontest.StepID(3), h.Run.Today().ID)
	require.Equal(t, "Rehearsal · step 4 of 6, with the line on", screen.Of(h.Run).View(at).Where)
	for range 6 {
		at = sessiontest.Cued(h, at+3000, 500)
	}
	last := h.Run.Session().Trials[len(h.Run.Session().Trials)-1]
	require.Equal(t, []any{trial.Met, true, 1}, []any{last.Outcome, last.Easy, last.Pays}, "met and paid")
	require.Equal(t, session.Idle, h.Run.Phase(), "nothing is due")
	require.False(t, h.Run.Means(work.HardKey))
	require.False(t, h.Run.Means(work.AlternateKey))

	h.Press(work.EasyKey, at+1000) // as the key of its own does
	require.Equal(t, record.Train, h.Run.Doing())
	require.Equal(t, sessiontest.StepID(2), h.Run.Today().ID)
	at = sessiontest.Cued(h, at+3000, 500)
	require.False(t, h.Run.Session().Trials[11].Easy)
	h.Press(work.RehearseKey, at+1000)
	over(t, h, at+2000, "maren")
	require.Equal(t, record.Train, h.Run.Doing(), "she was shown it")
	require.Equal(t, sessiontest.StepID(4), h.Run.Today().ID)
	require.False(t, h.Run.Means(work.RehearseKey))

	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(at+3000, drafts)
	left := h.Run.After()[0]
	require.Equal(t, sessiontest.StepID(2), left.Levels["kes"].Position.Reached)
	require.Len(t, left.Levels["kes"].Stretch, 6)
}

// A session can open as a rehearsal: chosen as what it is for, by its step, or because the ladder begins with it.
func TestASessionOpensAsARehearsal(t *testing.T) {
	begun := func(p pack.Pack, c session.Choice) (record.Mode, string, session.ProblemCode) {
		r, err := session.Open(p)
		require.NoError(t, err)
		c.Place, c.Handler = "shed", "kes"
		if _, problem := r.Begin(c); problem != nil {
			return "", "", problem.Code
		}
		h := sessiontest.Begin(t, p, c)
		return h.Run.Doing(), h.Run.Today().ID, ""
	}
	first := guarded(2)
	first.Steps[0].Safety = true
	line := guarded(2)
	for i := range line.Steps {
		line.Steps[i].Criteria = held(line.Steps[i].Criteria, "long line")
	}
	shown := guarded(2)
	shown.Shown = map[string][]string{"kes": {sessiontest.StepID(3)}}
	for name, c := range map[string]struct {
		pack   pack.Pack
		choice session.Choice
		mode   record.Mode
		step   int
		wrong  session.ProblemCode
	}{
		"as it is":                       {guarded(2), session.Choice{}, record.Train, 2, ""},
		"by what it is for":              {guarded(2), session.Choice{Mode: "rehearse"}, record.Rehearsal, 3, ""},
		"by its step":                    {guarded(2), session.Choice{Step: sessiontest.StepID(3)}, record.Rehearsal, 3, ""},
		"the step above it":              {guarded(2), session.Choice{Step: sessiontest.StepID(4)}, "", 0, session.NotShown},
		"too far below":                  {guarded(1), session.Choice{Mode: "rehearse"}, record.Train, 1, ""},
		"its step, too far below":        {guarded(1), session.Choice{Step: sessiontest.StepID(3)}, "", 0, session.NotShown},
		"shown":                          {shown, session.Choice{Mode: "rehearse"}, record.Train, 2, ""},
		"the ladder begins with it":      {first, session.Choice{}, record.Rehearsal, 0, ""},
		"on a line already":              {line, session.Choice{Mode: "rehearse"}, record.Train, 2, ""},
		"on a line already, by its step": {line, session.Choice{Step: sessiontest.StepID(3)}, "", 0, session.NotShown},
	} {
		mode, step, wrong := begun(c.pack, c.choice)
		require.Equal(t, []any{c.mode, c.wrong}, []any{mode, wrong}, name)
		if c.wrong == "" {
			require.Equal(t, sessiontest.StepID(c.step), step, name)
		}
	}
}

// A step that takes the line off is rehearsed on it, and the record says so.
func TestARehearsalIsLoggedWithTheLineOn(t *testing.T) {
	for off, on := range map[string]bool{"no line": true, "none": true, "Off leash": true, "a trailing line": false} {
		p := guarded(2)
		for i := range p.Steps {
			c := held(p.Steps[i].Criteria, "long line")
			c.Lists[criteria.Gear][1] = off
			p.Steps[i].Criteria = c.With(criteria.Gear, float64(i/3))
		}
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Handler: "kes", Mode: "rehearse"})
		require.Equal(t, on, h.Run.Doing() == record.Rehearsal, off)
		if !on {
			continue
		}
		require.Contains(t, screen.Of(h.Run).View(0).Step, "on a long line")
		fresh, err := session.Open(p)
		require.NoError(t, err)
		v := screen.Of(fresh).Setup(session.Choice{Handler: "kes", Step: sessiontest.StepID(3)})
		require.Contains(t, v.Step, "on a long line")
		require.Equal(t, "A rehearsal with the line on, in no rate. Step 4 is a safety step: a trainer shows it to Kes first.", v.Start)
		require.Contains(t, v.Modes, pack.Option{ID: "rehearse", Name: "Rehearse step 4, with the line on"})
		sessiontest.Cued(h, 1000, 500)
		require.Equal(t, map[criteria.Key]float64{criteria.Gear: 0}, h.Run.Session().Trials[0].Worked, off)
		require.Contains(t, screen.Of(h.Run).View(9000).Was, "A rehearsal: in no rate")
	}
}

// Whoever may really do it does nothing really in a rehearsal of a safety step that they were not shown.
func TestNothingIsReallyDoneInARehearsal(t *testing.T) {
	p := carePack(nil)
	p.Founder, p.Main = "maren", "maren"
	p.People = []pack.Option{{ID: "maren", Role: pack.RoleTrainer}, {ID: "kes", Role: "family"}}
	p.Steps[1].Safety = true
	p.Position = progression.Position{Reached: sessiontest.StepID(3), Today: sessiontest.StepID(3)}
	p.Shown = map[string][]string{"kes": {pack.ReallyDone}}
	h := sessiontest.Begin(t, p, session.Choice{Handler: "kes"})
	h.Press(work.DoneKey, 500)
	require.True(t, h.Run.Armed().Done, "he was shown that")
	h.Press(work.RehearseKey, 1000)
	require.Equal(t, record.Rehearsal, h.Run.Doing())
	require.False(t, h.Run.Armed().Done)
	require.False(t, h.Run.Means(work.DoneKey))
	h.Press(work.DoneKey, 2000)
	touch(h, 3000, work.MetKey)
	require.False(t, sessiontest.Trials(h)[0].Done)
	require.Contains(t, screen.Of(h.Run).View(9000).Where, "with nothing really done")
}

// Placing a dog with somebody new asks no step that they may not work.
func TestPlacingStaysBelowWhatWasNotShown(t *testing.T) {
	h := sessiontest.Begin(t, guarded(2), session.Choice{Place: "shed", Handler: "kes", Mode: string(record.Placing)})
	at := int64(1000)
	for range 4 {
		at = sessiontest.Cued(h, at+2000, 500)
		require.Less(t, progression.Index(h.Run.Block().Steps, h.Run.Today().ID), 3)
	}
}
