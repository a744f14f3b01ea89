package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestSteadinessTimesTheDistractionBothWays(t *testing.T) {
	for _, c := range []struct {
		lead   float64
		labels []string
	}{{2, []string{"Signal", "Distraction", "Release"}}, {
		-1, []string{"Distraction", "Signal", "Release"},
	}, {0, []string{"Signal", "Release", "Signal"}}} {
		h := sessiontest.Worked(t, work.Steadiness, decision.Set, criteria.Criteria{}.With(criteria.Out, 5), criteria.Lead, c.lead, c.lead)
		at := int64(1000)
		for i, label := range c.labels[:len(c.labels)-1] {
			require.Equal(t, label, screen.Of(h.Run).View(at).Main.Label, "press %d at lead %g", i, c.lead)
			h.Press(work.Main, at)
			at += 1500
		}
		if c.lead != 0 {
			h.Press(work.PutAwayKey, at)
		}
		h.Press(work.Main, at+2000)
		one := sessiontest.Trials(h)[0]
		require.Equal(t, trial.Met, one.Outcome)
		require.InDelta(t, map[float64]float64{2: 1.5, -1: -1.5, 0: 0}[c.lead], *one.LeadS, 1e-9)
		require.NotNil(t, one.OutS)
	}
}

// All places in turn: each touch is of the one that was dealt, and so it is logged; a place chosen by hand goes before it.
func TestPlacesInTurnAreTouchedAsTheyAreDealt(t *testing.T) {
	d, _ := criteria.Find(criteria.Site)
	d.Items = []string{"shoulder", "flank", "paw"}
	all := criteria.Criteria{}.WithDimension(d, 0)
	all.Vary = []criteria.Key{criteria.Site}
	h := sessiontest.Worked(t, work.Handling, decision.Calm, all, criteria.Duration, 1, 2)
	count := map[string]int{}
	for i := range int64(4) {
		said := screen.Of(h.Run).View(i * 10000).Body.Touches()
		h.Press(work.Main, i*10000+1000)
		h.Press(work.Main, i*10000+3000)
		one := sessiontest.Trials(h)[i]
		require.Equal(t, said, one.Site, "what was shown")
		count[one.Site]++
	}
	require.Len(t, count, 3, "each of three within four")
	h.Run.Arm(session.Armed{Site: "paw"})
	require.Equal(t, "paw", screen.Of(h.Run).View(70000).Body.Touches())
}

func TestExposuresArePaidWhileTheyLastAndRecoveryIsTimed(t *testing.T) {
	h := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30)
	h.Press(work.Main, 1000)
	h.Press(work.Main, 2000)
	h.Press(work.Main, 3000)
	h.Press(work.LateKey, 5000)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []int{2, 2}, []int{*one.State, one.Pays}, "paid while it was on, and not again")
	v := screen.Of(h.Run).View(9000)
	require.Equal(t, "4.0", v.Dial.Big)
	require.Equal(t, work.ItselfKey, v.Beside[0].Key)
	h.Press(work.ItselfKey, 12000)
	require.InDelta(t, 7, *sessiontest.Trials(h)[0].RecoveryS, 1e-9)
	require.Empty(t, screen.Of(h.Run).View(12000).Beside)
}

// Over threshold: the stop that was taken ends the work. Nothing leads back to it today, but an undo of what was mistyped.
func TestOverThresholdEndsTheWork(t *testing.T) {
	h := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30, 20)
	h.Press(work.Main, 1000)
	h.Press(work.MissKey, 3000)
	v := screen.Of(h.Run).View(4000)
	require.Equal(t, decision.Stop, h.Run.Now().Verdict)
	require.Empty(t, v.Leave)
	for _, key := range []work.Key{work.RecoverKey, work.FinishKey} {
		require.Empty(t, h.Run.Press(key, 4000), key)
	}
	h.Press(work.Main, 5000)
	v = screen.Of(h.Run).View(6000)
	require.True(t, h.Run.Stopped())
	require.Equal(t, "stop", v.Leave)
	for _, key := range []work.Key{work.Main, work.LateKey, work.ExpectKey} {
		require.Empty(t, h.Run.Press(key, 7000), "no further exposure is begun: %s", key)
	}
	require.NotEmpty(t, h.Run.Press(work.ItselfKey, 7000), "how long it takes is still watched")
	sessiontest.Another(t, h, 8500, nil, "0")
	require.True(t, h.Run.Stopped(), "nor in another block of it")
}

// What was mistyped is taken back, and the exposure goes on.
func TestAMistypedStopIsUndone(t *testing.T) {
	h := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30, 20)
	for i, key := range []work.Key{work.Main, work.MissKey, work.Main, work.UndoKey, work.UndoKey} {
		h.Press(key, int64(2000*(i+1)))
	}
	v := screen.Of(h.Run).View(12000)
	require.Empty(t, v.Leave)
	require.Equal(t, session.Trying, v.Phase)
}

func TestWhatBrokeItIsSaidOfTheLastOne(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	require.Empty(t, h.Run.Tell("broke", "a gull"))
	sessiontest.Hold(h, 1000, 1, 2000, work.MissKey)
	h.Do(4000, h.Run.Tell("broke", "a gull"))
	h.Do(4000, h.Run.Tell("source", "set-up"))
	require.Equal(t, []string{"a gull", "set-up"}, []string{sessiontest.Trials(h)[0].Broke, sessiontest.Trials(h)[0].Source})
	require.False(t, sessiontest.Trials(h)[0].Amended, "it corrects nothing")
}

func TestARuledOutPlanBeginsOnlyWhenSomebodyClearedIt(t *testing.T) {
	p := sessiontest.Plan(work.Handling, 4, 1)
	p.Ruled = &caution.Ruled{Why: "no", Instead: "Vet first."}
	run, err := session.Open(p)
	require.NoError(t, err)
	require.Equal(t, "no", screen.Of(run).Setup(session.Choice{}).Ruled.Why)
	_, problem := run.Begin(session.Choice{Place: "shed", ClearedBy: "  "})
	require.Equal(t, "cleared_by", problem.Field)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", ClearedBy: "the vet, 20 November"})
	require.Equal(t, "the vet, 20 November", h.Run.Session().Blocks[0].ClearedBy)
}

// In a class nobody sees every trial: a look is part of a set, and what was not seen is asked of nobody.
func TestALookIsPartOfASet(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed", Class: "c1"})
	require.Equal(t, 5, h.Run.Countable())
	look := func(at int64, seen, met int) *session.Problem {
		drafts, problem := h.Run.Look(session.Looked{Seen: seen, Met: met})
		h.Do(at, drafts)
		return problem
	}
	require.Nil(t, look(1000, 3, 3))
	require.Equal(t, 2, h.Run.Countable())
	require.False(t, h.Run.Now().Due)
	require.Equal(t, &session.Problem{Field: "met", Code: session.NotASet, N: 3, Most: 2}, look(2000, 3, 3))
	require.NotNil(t, look(2000, 0, 0), "none was seen")
	require.NotNil(t, look(2000, 1, 2), "more met than seen")
	require.Nil(t, look(3000, 2, 2))
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Len(t, sessiontest.Trials(h), 5)
	require.Equal(t, 5, h.Run.Countable(), "the next set is a whole one")
	require.Zero(t, h.Run.Session().Blocks[0].Unlogged)

	trained := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	_, problem := trained.Run.Look(session.Looked{Seen: 3, Met: 3})
	require.Equal(t, session.NotASet, problem.Code, "outside a class a tally is of a whole set")
	calm := sessiontest.Begin(t, sessiontest.Plan(work.Counter, 4, 1), session.Choice{Class: "c1"})
	require.Zero(t, calm.Run.Countable(), "what has no right answer is not counted")
}

// A sign stands until it is given once more, or taken back.
func TestASignStandsUntilItIsTakenBack(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Class: "c1"})
	on := func(sign work.Sign) (is bool) {
		for _, one := range screen.Of(h.Run).View(0).Signs {
			is = is || one.Sign == sign && one.On
		}
		return is
	}
	for i, sign := range work.Signs {
		drafts, problem := h.Run.Sign(sign)
		require.Nil(t, problem)
		h.Do(int64(1000*i+1000), drafts)
		require.True(t, on(sign))
	}
	drafts, problem := h.Run.Sign(work.TooClose)
	require.Nil(t, problem)
	h.Do(9000, drafts)
	require.False(t, on(work.TooClose))
	require.True(t, on(work.NeedsHelp))
	h.Press(work.UndoKey, 9500)
	require.False(t, on(work.NeedsHelp), "undo takes back what was given last")
	require.True(t, on(work.Worried))
	_, problem = h.Run.Sign("hungry")
	require.Equal(t, session.NotInList, problem.Code)
}

// A tally is exactly one set; a household's word decides sets, and never a row.
func TestATallyIsOneSetWithoutOrder(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	for _, c := range []session.TallyTyped{{}, {Met: "4"}, {Met: "four"}, {Met: "4", Missed: "2"}} {
		_, problem := h.Run.Tally(c)
		require.NotNil(t, problem, "%+v", c)
	}
	drafts, problem := h.Run.Tally(session.TallyTyped{Met: "5"})
	require.Nil(t, problem)
	h.Do(1000, drafts)
	require.Len(t, sessiontest.Trials(h), 5)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.UndoKey, 2000)
	require.Empty(t, sessiontest.Trials(h), "one press back takes the whole tally")

	at := sessiontest.Hold(h, 3000, 1, 2100, work.MissKey) // a set begun and not filled stays apart
	drafts, problem = h.Run.Tally(session.TallyTyped{Met: "4", Missed: "1"})
	require.Nil(t, problem)
	h.Do(at, drafts)
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.True(t, h.Run.Now().Due)
	require.Equal(t, []decision.Reason{{Code: decision.BetweenSet, Of: 4, Out: 5}}, h.Run.Now().Reasons[:1])
	v := screen.Of(h.Run).View(at)
	require.Len(t, v.Set.Places, 5)
	require.Equal(t, "Set 2", v.Set.Label)
	require.Equal(t, []string{"", ""}, []string{v.Pay.Word, v.Pay.Since}, "nothing is known of the pays")
	h.Press(work.PayKey, at+1000)
	require.Equal(t, "on pace", screen.Of(h.Run).View(at+2000).Pay.Word)
}

// Every measure that a step names is taken and judged, whatever the kind of work.
func TestSecondsAreJudgedInEveryKind(t *testing.T) {
	seconds := func(kind work.Kind, s float64, keys criteria.Criteria) *session.Hand {
		p := sessiontest.Plan(kind, 4, 1)
		for i := range p.Steps {
			p.Steps[i].Criteria = keys.With(criteria.Duration, s)
		}
		if work.Of(kind).ByState {
			p.Rule = decision.Defaults(decision.Calm)
		}
		return sessiontest.Begin(t, p, session.Choice{})
	}
	last := func(h *session.Hand) trial.Trial { return h.Run.Session().Trials[len(h.Run.Session().Trials)-1] }

	h := seconds(work.Cued, 5, criteria.Criteria{})
	h.Press(work.Main, 1000)
	h.Press(work.Main, 2500)
	require.Equal(t, session.Trying, h.Run.Phase(), "its answer ends nothing: it is held then")
	h.Press(work.Main, 8000)
	require.Equal(t, trial.Met, last(h).Outcome)
	require.InDelta(t, 1.5, *last(h).LatencyS, 1e-9)
	require.InDelta(t, 5.5, *last(h).HeldS, 1e-9)
	h.Press(work.Main, 10000)
	h.Press(work.Main, 11000)
	h.Press(work.Main, 12000)
	require.Equal(t, trial.LetGo, last(h).Outcome, "released after one second of five")

	items := criteria.Criteria{Lists: map[criteria.Key][]string{criteria.Approx: {"a look", "a paw", "both paws"}}}.With(criteria.Approx, 1)
	h = seconds(work.Shaping, 3, items)
	h.Press(work.Main, 1000)
	require.Empty(t, h.Run.Session().Trials, "the first press begins it")
	h.Press(work.Main, 5000)
	require.Equal(t, trial.Met, last(h).Outcome)
	require.InDelta(t, 4, *last(h).HeldS, 1e-9)
	h.Press(work.Main, 7000)
	h.Press(work.Main, 7800)
	require.Equal(t, trial.LetGo, last(h).Outcome)

	h = seconds(work.Handling, 2, criteria.Criteria{})
	h.Press(work.Main, 1000)
	h.Press(work.MetKey, 1300)
	require.Equal(t, trial.LetGo, last(h).Outcome, "0.3 s of 2 s")
	require.Contains(t, lookback.Read(h.Run.Log(), h.Run.Session(), reinforce.Band{}, phrase.Words{}).Table[0].Note, "ended early")
	h.Press(work.Main, 4000)
	h.Press(work.MetKey, 6100)
	require.Equal(t, trial.Met, last(h).Outcome)
	h.Press(work.Main, 8000)
	h.Press(work.PulledKey, 8500)
	require.Equal(t, trial.Missed, last(h).Outcome)
}

// twoCheckIns is a free minute under way in which two check-ins are asked, and were there.
func twoCheckIns(t *testing.T) *session.Hand {
	p := sessiontest.Plan(work.Attention, 4, 1)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.CheckIns, 2)
	}
	h := sessiontest.Begin(t, p, session.Choice{})
	for _, at := range []int64{1000, 9000, 15000} {
		h.Press(work.Main, at)
	}
	return h
}

func TestAFreeMinuteStoppedEarly(t *testing.T) {
	h := twoCheckIns(t)
	h.Press(work.StopKey, 20000)
	h.Press(work.Main, 30000)
	h.Press(work.StopKey, 40000)
	trials := h.Run.Session().Trials
	require.Equal(t, trial.Met, trials[0].Outcome, "the check-ins were there")
	require.InDelta(t, 8, *trials[0].LatencyS, 1e-9)
	require.Equal(t, trial.Void, trials[1].Outcome)
	require.True(t, trials[1].AfterCue)
}

// A session that ends in a free minute stops it: the check-ins that were counted stay.
func TestTheEndOfASessionStopsTheFreeMinute(t *testing.T) {
	h := twoCheckIns(t)
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(20000, drafts)
	trials := h.Run.Session().Trials
	require.Len(t, trials, 1)
	require.Equal(t, trial.Met, trials[0].Outcome)
	require.Equal(t, 2, trials[0].CheckIns)
	require.Empty(t, h.Run.Session().Flags)
}

// Back from a thrown treat: one press as it takes it, one as it is back, and the seconds between them against the limit.
func TestAReturnFromAThrownTreatIsOneTrial(t *testing.T) {
	p := sessiontest.Plan(work.Attention, 4, 1)
	p.Definition.LatencyS = 3
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Handler, 1)
	}
	h := sessiontest.Begin(t, p, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.Main, 2500)
	h.Press(work.Main, 10000)
	h.Press(work.Main, 14000)
	h.Press(work.Main, 20000)
	h.Press(work.MissKey, 24000)
	h.Press(work.Main, 30000)
	drafts, problem := h.Run.Close(session.Closing{End: true, Reason: "done"})
	require.Nil(t, problem)
	h.Do(32000, drafts)
	var outcomes []trial.Outcome
	for _, one := range h.Run.Session().Trials {
		outcomes = append(outcomes, one.Outcome)
	}
	require.Equal(t, []trial.Outcome{trial.Met, trial.Late, trial.Missed}, outcomes, "one that was begun and not answered has none")
	first := h.Run.Session().Trials[0]
	require.InDelta(t, 1.5, *first.ReturnS, 1e-9)
	require.InDelta(t, 1.5, *first.LatencyS, 1e-9)
	require.Len(t, h.Run.Session().Pays, 2)
}

// All paces, pressed once, are all of them; a pull among them is a miss.
func TestAllPacesAreAllOfThem(t *testing.T) {
	p := sessiontest.Plan(work.Walking, 4, 1)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Paces, 8)
	}
	h := sessiontest.Begin(t, p, session.Choice{})
	h.Press(work.Main, 1000)
	h.Press(work.MetKey, 6000)
	h.Press(work.MetKey, 8000)
	trials := h.Run.Session().Trials
	require.Equal(t, 8, trials[0].Paces)
	require.Equal(t, trial.Met, trials[0].Outcome)
	require.True(t, trials[1].Unmeasured, "it was never begun")
}

// A trial can be ended early by its own key, and then holds a step up as it must.
func TestEndedEarlyByAKey(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{})
	at := int64(1000)
	for range 2 {
		h.Press(work.Main, at)
		h.Press(work.ShortKey, at+1000)
		at += 4000
	}
	require.Equal(t, trial.LetGo, h.Run.Session().Trials[1].Outcome)
	require.Equal(t, 0, h.Run.Session().Trials[1].Pays)
	for range 5 {
		at = sessiontest.Cued(h, at, 900)
	}
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.Equal(t, decision.EndedEarly, h.Run.Now().Reasons[1].Code)
}

// With nothing left the key pays nothing, until the pouch is filled again.
func TestAnEmptyHandPaysNothing(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{Pieces: "2"})
	at := int64(1000)
	for range 3 {
		at = sessiontest.Cued(h, at, 900)
	}
	trials := h.Run.Session().Trials
	require.Equal(t, []int{1, 1, 0}, []int{trials[0].Pieces, trials[1].Pieces, trials[2].Pieces})
	require.Empty(t, h.Press(work.PayKey, at))
	for typed, field := range map[string]string{"": "more-pieces", "0": "more-pieces", "many": "more-pieces", "9000": "more-pieces"} {
		_, problem := h.Run.TopUp(typed)
		require.NotNil(t, problem, typed)
		require.Equal(t, field, problem.Field)
	}
	drafts, problem := h.Run.TopUp("10")
	require.Nil(t, problem)
	h.Do(at, drafts)
	left, known := h.Run.Left()
	require.True(t, known)
	require.Equal(t, 10, left)
	sessiontest.Cued(h, at, 900)
	require.Equal(t, 1, h.Run.Session().Trials[3].Pieces)
}

// A state can be noted in work whose trials have none; from worried on the way back is offered, over threshold it is leave now.
func TestAStateIsNotedBesideTheWork(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{})
	at := sessiontest.Cued(h, 1000, 900)
	require.Len(t, screen.Of(h.Run).View(at).States, 5)
	h.Press(work.Noted+"2", at)
	require.False(t, h.Run.Troubled())
	h.Press(work.Main, at+1000)
	h.Press(work.Noted+"3", at+1500)
	require.True(t, h.Run.Troubled())
	require.NotNil(t, h.Run.Session().Trying, "a state closes nothing")
	h.Press(work.RecoverKey, at+2000)
	require.Equal(t, session.Recovering, h.Run.Phase())
	require.Equal(t, trial.Void, h.Run.Session().Trials[1].Outcome, "the trial that was broken off does not count")
	require.Contains(t, screen.Of(h.Run).View(at+2000).Recover.Then, "one step easier")
	at += 33000
	for range 5 { // it looked, and two easy cues are answered
		h.Press(work.Main, at)
		at += 1000
	}
	require.Equal(t, session.Recovering, h.Run.Phase())
	h.Press(work.Main, at)
	require.Equal(t, session.Idle, h.Run.Phase())
	require.False(t, h.Run.Troubled(), "it has recovered")
	h = sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 0), session.Choice{})
	h.Press(work.RecoverKey, 1000)
	require.Contains(t, screen.Of(h.Run).View(1000).Recover.Then, "at this step", "there is none below the first")
	h = sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{})
	h.Press(work.Noted+"4", 1000)
	require.True(t, h.Run.OverThreshold())
	require.Empty(t, h.Press(work.Noted+"7", 2000))
	h = sessiontest.Begin(t, sessiontest.Ruled(work.Counter, decision.Calm, 1), session.Choice{})
	require.Empty(t, screen.Of(h.Run).View(0).States, "an exposure has its own")
}

// What the set-up really was is one press before a trial, stays until it is changed, and is judged: an easier task is in no rate, a harder
// one that was not met is the set-up's.
func TestASetUpIsKeptAsWorked(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 3, 1)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Handler, float64(10*(i+1))).With(criteria.Latency, 3)
	}
	h := sessiontest.Begin(t, p, session.Choice{})
	value := func(at int64) string { return screen.Of(h.Run).View(at).Worked[0].Value }
	at := sessiontest.Cued(h, 1000, 900)
	require.Equal(t, "20 m", value(at))
	for range 7 {
		h.Run.Alter(criteria.Handler, -1)
	}
	require.Equal(t, "13 m", value(at))
	at = sessiontest.Cued(h, at, 900)
	at = sessiontest.Cued(h, at, 900)
	for range 14 {
		h.Run.Alter(criteria.Handler, 1)
	}
	require.Equal(t, "27 m", value(at))
	at = sessiontest.Cued(h, at, 900)
	h.Press(work.Main, at)
	h.Press(work.MissKey, at+2000)
	at += 6000
	for range 7 {
		h.Run.Alter(criteria.Handler, -1)
	}
	sessiontest.Cued(h, at, 900)
	trials := h.Run.Session().Trials
	var counted []bool
	for i := range trials {
		counted = append(counted, trials[i].Counted())
	}
	require.Equal(t, []bool{true, false, false, true, false, true}, counted)
	require.Equal(t, 13.0, trials[2].Worked[criteria.Handler], "it stays until it is changed")
	require.Equal(t, 27.0, trials[4].Worked[criteria.Handler])
	require.Nil(t, trials[5].Worked, "back at the plan it is as planned")
	h.Run.Alter("nonsense", 1)
	for range 40 {
		h.Run.Alter(criteria.Handler, -1)
	}
	require.Equal(t, "0 m", value(at), "within what can be")
}

// A step that names an approximation is measured by the press that says it was met, in each kind of work in which one ends a trial.
func TestAnApproximationIsReachedByTheKey(t *testing.T) {
	items := criteria.Criteria{Lists: map[criteria.Key][]string{criteria.Approx: {"a look", "a paw", "both paws"}}}
	for _, info := range work.All {
		if info.ByState || info.Minutes {
			continue // exposures have a state, free minutes their check-ins
		}
		c := items.With(criteria.Approx, 1)
		if info.Holds {
			c = c.With(criteria.Duration, 2)
		}
		if info.Kind == work.Walking {
			c = c.With(criteria.Paces, 3)
		}
		p := sessiontest.Plan(info.Kind, 3, 1)
		for i := range p.Steps {
			p.Steps[i].Criteria = c
		}
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		h.Press(work.Main, 1000)
		h.Press(work.MetKey, 3500)
		require.NotEmpty(t, sessiontest.Trials(h), "%s", info.Kind)
		for _, done := range sessiontest.Trials(h) {
			require.Equal(t, trial.Met, done.Outcome, "%s", info.Kind)
			require.False(t, done.Unmeasured, "%s", info.Kind)
			require.Equal(t, 1, *done.Offered, "%s", info.Kind)
		}
		if !info.OnCue && !info.Holds {
			continue // their help has no key that ends a trial
		}
		h = sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		h.Press(work.Main, 1000)
		h.Press(work.HelpKey, 3500)
		if h.Run.Phase() == session.Trying { // a prompt, and then it does it
			h.Press(work.MetKey, 4000)
		}
		require.Equal(t, trial.Helped, sessiontest.Trials(h)[0].Outcome, "%s", info.Kind)
		require.False(t, sessiontest.Trials(h)[0].Unmeasured, "%s", info.Kind)
	}
}
