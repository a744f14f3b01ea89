package screen_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestWhatMustStandFirstIsSaidBesideAStepUp(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Blocked = map[string]string{sessiontest.StepID(2): "“Stay” must stand first: finished."}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Hold(h, 1000, 5, 4000, work.Main)
	require.Contains(t, screen.Of(h.Run).View(at).Verdict.Why, "But the next step waits: “Stay” must stand first")
}

func TestTheWayOutSaysWhetherToCall(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Lifeline = true
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	require.Contains(t, screen.Of(h.Run).Exits()[0], "Do not call: go and get the dog")
	sessiontest.Hold(h, 1000, 5, 1000, work.Main)
	require.Contains(t, screen.Of(h.Run).Exits()[0], "Do not call", "five say little")
	p.Unhelped = 5
	h = sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	sessiontest.Hold(h, 1000, 5, 1000, work.Main)
	require.NotContains(t, screen.Of(h.Run).Exits()[0], "Do not call", "ten unhelped, and five of five here")
	p.Lifeline = false
	require.NotContains(t, screen.Of(sessiontest.Begin(t, p, session.Choice{}).Run).Exits()[0], "Do not call")
}

// Of exposures the time without the stimulus is no active time, and food that comes before the stimulus is the wrong order.
func TestTheRateOfExposuresIsOverTheStimulus(t *testing.T) {
	h := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30, 20)
	h.Press(work.PayKey, 1000)
	h.Press(work.Main, 4000)
	require.Contains(t, screen.Of(h.Run).View(4500).Target, "food came first")
	h.Press(work.Main, 5000)
	require.Equal(t, "last 3 s ago", screen.Of(h.Run).View(8000).Pay.Since)
	h.Press(work.LateKey, 8000)
	require.Equal(t, []string{"", ""}, []string{screen.Of(h.Run).View(59000).Pay.Since, screen.Of(h.Run).View(59000).Pay.Word},
		"nothing is owed while the stimulus is off")
	h.Press(work.PayKey, 59000)
	h.Press(work.Main, 80000)
	require.NotContains(t, screen.Of(h.Run).View(80500).Target, "food came first")
	h.Press(work.Main, 82000)
	h.Press(work.MetKey, 84000)
	require.Equal(t, []bool{true, false}, []bool{sessiontest.Trials(h)[0].FedFirst, sessiontest.Trials(h)[1].FedFirst})
	s := h.Run.Session()
	clock := reinforce.NewClock(1, nil).Without(s.Off(s.Blocks[0]))
	require.InDelta(t, 4+4, clock.Active(200), 1e-9, "two exposures of four seconds")
}

// A caution is said before the session, and again when a step brings another one; a trial there and it is quiet.
func TestCautionsAreSaidOnceAndAgainWhenTheSituationChanges(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Steps[1].Criteria = p.Steps[1].Criteria.With(criteria.Gear, 0)
	p.Steps[2].Criteria = p.Steps[2].Criteria.With(criteria.Gear, 0).With(criteria.Height, 0.5)
	run, err := session.Open(p)
	require.NoError(t, err)
	require.Contains(t, screen.Of(run).Setup(session.Choice{Place: "shed"}).Cautions, caution.OfStep(caution.Step{Gear: "long line"})[0])
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	require.Empty(t, screen.Of(h.Run).View(0).Caution)
	h.Press(work.HardKey, 1000)
	require.Contains(t, screen.Of(h.Run).View(1000).Caution, "slippery")
	sessiontest.Hold(h, 2000, 1, 1000, work.Main)
	require.Empty(t, screen.Of(h.Run).View(9000).Caution)
}

func TestAFreeMinuteCountsCheckInsAndTheWayBack(t *testing.T) {
	h := sessiontest.Worked(t, work.Attention, decision.Gate, criteria.Criteria{}, criteria.CheckIns, 2, 4)
	h.Press(work.Main, 0)
	h.Press(work.Main, 10000)
	h.Press(work.ThrowKey, 20000)
	require.Contains(t, screen.Of(h.Run).View(23000).Target, "thrown 3 s ago")
	h.Press(work.Main, 24000)
	v := screen.Of(h.Run).View(59000)
	require.Equal(t, "Check-in", v.Main.Label)
	require.Equal(t, "2 of 2 check-ins · back after 4 s", v.Target)
	require.True(t, screen.Of(h.Run).View(60000).Dial.Full)
	require.Equal(t, "Close it", screen.Of(h.Run).View(60000).Main.Label)
	h.Press(work.Main, 60500)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{2, trial.Met, 2}, []any{one.CheckIns, one.Outcome, one.Pays})
	require.InDelta(t, 4, *one.ReturnS, 1e-9)
	h.Press(work.Main, 70000)
	h.Press(work.Main, 80000)
	h.Press(work.Main, 131000)
	require.Equal(t, trial.Missed, sessiontest.Trials(h)[1].Outcome, "one of two")
}

// Add distance, wait for a look, two easy answers, and on one step easier, which is the day's ceiling from then on.
func TestRecoveryIsAGuidedExchange(t *testing.T) {
	h := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30, 20)
	h.Press(work.HardKey, 500)
	h.Press(work.Main, 1000)
	h.Press(work.HelpKey, 4000) // worried
	at := int64(5000)
	say := func(key work.Key, after int64, main string) {
		t.Helper()
		at += after
		h.Press(key, at)
		require.Equal(t, main, screen.Of(h.Run).View(at).Main.Label)
	}
	say(work.StayKey, 0, "It is there")
	say(work.RecoverKey, 1000, "Wait")
	require.Equal(t, session.Recovering, screen.Of(h.Run).View(at).Phase)
	say(work.Main, 20000, "Wait")
	require.Equal(t, "It looked", screen.Of(h.Run).View(at+10000).Main.Label)
	say(work.Main, 11000, "Cue")
	say(work.Main, 2000, "Answered")
	say(work.Main, 4000, "Further off") // too late
	say(work.Main, 1000, "Wait")
	require.Contains(t, screen.Of(h.Run).View(at).Recover.Then, "second distance")
	say(work.Main, 31000, "Cue")
	say(work.Main, 2000, "Answered")
	say(work.Main, 2000, "Cue")
	say(work.Main, 2000, "Answered")
	say(work.Main, 2000, "Go on")
	say(work.Main, 1000, "It is there")
	require.Equal(t, sessiontest.StepID(0), h.Run.Session().At.Position.Today)
	require.Contains(t, screen.Of(h.Run).View(at).Off, work.HardKey, "no higher today")
	require.True(t, h.Run.Capped())
	require.NotContains(t, screen.Of(h.Run).View(at).Where, "lead back up")

	again := sessiontest.Worked(t, work.Counter, decision.Calm, criteria.Criteria{}, criteria.Trigger, 40, 30, 20)
	for i, key := range []work.Key{work.Main, work.LateKey, work.RecoverKey, work.NoAnswerKey, work.NoAnswerKey} {
		again.Press(key, int64(1000*(i+1)))
	}
	v := screen.Of(again.Run).View(9000)
	require.Equal(t, "stop", v.Ends)
	require.Contains(t, v.Step, "Home")
}

// An exposure has a state and no right answer; it is paid whatever the dog does.
func TestExposuresAreLoggedByState(t *testing.T) {
	p := sessiontest.Ruled(work.Counter, decision.Calm, 1)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "30"})
	at := int64(1000)
	show := func(key work.Key) screen.View {
		h.Press(work.Main, at)
		require.Equal(t, "Pay", screen.Of(h.Run).View(at+500).Main.Label)
		h.Press(key, at+6000)
		at += 12000
		return screen.Of(h.Run).View(at)
	}
	v := show(work.MetKey)
	require.Equal(t, "At ease", v.Row[1].Label)
	require.Equal(t, "Over", v.Row[4].Label)
	require.Equal(t, screen.SetMember{Outcome: "state1", Paid: true}, v.Set.Places[0])
	for range 3 {
		show(work.ExpectKey)
	}
	v = show(work.MetKey)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	require.Equal(t, phrase.Why(h.Run.Now().Reasons), v.Verdict.Why)
	trials := h.Run.Session().Trials
	require.Equal(t, 0, *trials[1].State)
	require.InDelta(t, 6, *trials[1].HeldS, 1e-9, "how long it was on")
	h.Press(work.StayKey, at)
	at += 1000
	v = show(work.HelpKey)
	require.Equal(t, decision.StepBack, h.Run.Now().Verdict)
	require.Equal(t, 6, len(h.Run.Session().Pays), "worried too is paid")
	h.Press(work.Main, at)
	at += 1000
	v = show(work.MissKey)
	require.Equal(t, decision.Stop, h.Run.Now().Verdict, "over threshold: leave now")
	require.Contains(t, v.Verdict.Why, "Over threshold")
	require.Len(t, h.Run.Session().Pays, 6)
}

func TestWalkingCountsPacesAndPullsAndWhenTheLineIsSlack(t *testing.T) {
	h := sessiontest.Worked(t, work.Walking, decision.CountUp, criteria.Criteria{}, criteria.Paces, 2, 3, 4, 5)
	require.Equal(t, screen.Dial{Big: "2", Of: "paces"}, screen.Of(h.Run).View(0).Dial)
	h.Press(work.Main, 1000)
	require.Equal(t, "Pace 1", screen.Of(h.Run).View(1000).Main.Label)
	h.Press(work.Main, 1700)
	require.Equal(t, "Mark", screen.Of(h.Run).View(1700).Main.Label)
	require.Equal(t, "1", screen.Of(h.Run).View(1700).Dial.Big)
	h.Press(work.Main, 2400)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{2, 0, trial.Met, 1}, []any{one.Paces, one.Pulls, one.Outcome, one.Pays})
	require.Equal(t, "3", screen.Of(h.Run).View(2400).Dial.Big, "the next count is shown")

	h.Press(work.Main, 9000)
	h.Press(work.Main, 9600)
	h.Press(work.PullKey, 10000)
	v := screen.Of(h.Run).View(12000)
	require.Equal(t, "Loose again", v.Main.Label)
	require.Equal(t, "2.0", v.Dial.Big)
	h.Press(work.Main, 12500)
	two := sessiontest.Trials(h)[1]
	require.Equal(t, []any{1, 1, trial.Missed, 0}, []any{two.Paces, two.Pulls, two.Outcome, two.Pays})
	require.InDelta(t, 2.5, *two.SlackS, 1e-9)
	require.Equal(t, "2", screen.Of(h.Run).View(12500).Dial.Big, "a miss begins again one down")
	h.Press(work.UndoKey, 13000)
	require.Equal(t, "Loose again", screen.Of(h.Run).View(13000).Main.Label)
}

func TestShapingPicksWhatWasOffered(t *testing.T) {
	all := criteria.Criteria{Lists: map[criteria.Key][]string{criteria.Approx: {"looks", "leans", "steps on", "lies down"}}}
	h := sessiontest.Worked(t, work.Shaping, decision.Run, all, criteria.Approx, 1, 2, 3)
	v := screen.Of(h.Run).View(0)
	require.Equal(t, "Leans", v.Main.Label)
	require.Equal(t, []string{"Looks", "Steps on", "Lies down", "Other"},
		[]string{v.Row[0].Label, v.Row[1].Label, v.Row[2].Label, v.Row[3].Label})
	h.Press("offered:0", 5000)
	h.Press(work.Main, 10000)
	h.Press("offered:2", 15000)
	h.Press(work.MissKey, 20000)
	var outcomes []trial.Outcome
	pays := 0
	for _, one := range sessiontest.Trials(h) {
		outcomes = append(outcomes, one.Outcome)
		pays += one.Pays
	}
	require.Equal(t, []trial.Outcome{trial.Missed, trial.Met, trial.Met, trial.Missed}, outcomes, "as near as asked, or nearer")
	require.Equal(t, 2, pays)
	require.Equal(t, 2, *sessiontest.Trials(h)[2].Offered)
	require.Equal(t, "8.0", screen.Of(h.Run).View(35000).Dial.Big, "four offers in half a minute")
	h.Press(work.LeftKey, 36000)
	v = screen.Of(h.Run).View(40000)
	require.Equal(t, []string{"It came back", "4.0", "seconds away"}, []string{v.Main.Label, v.Dial.Big, v.Dial.Of})
	h.Press(work.Main, 46000)
	require.InDelta(t, 10, h.Run.Session().At.AwayS, 1e-9)
	require.Equal(t, 1, h.Run.Session().At.Leaves)
}

func TestHandlingSaysWhereAndWhetherItWasOffered(t *testing.T) {
	h := sessiontest.Worked(t, work.Handling, decision.Calm, criteria.Criteria{}.With(criteria.Site, 3), criteria.Duration, 2, 4)
	v := screen.Of(h.Run).View(0)
	require.Equal(t, []string{"ear", "It offers"}, []string{v.Body.Touches(), v.Main.Label})
	h.Press(work.Main, 1000)
	h.Press(work.Main, 4000)
	h.Run.Arm(session.Armed{Site: "paw", Done: true})
	require.Equal(t, "paw", screen.Of(h.Run).View(5000).Body.Touches())
	h.Press(work.TakeKey, 10000)
	h.Press(work.PulledKey, 11000)
	require.Equal(t, "Pulled away, let go, 1 s, really done. No step asks for that: in no rate.", screen.Of(h.Run).View(12000).Was)
	one, two := sessiontest.Trials(h)[0], sessiontest.Trials(h)[1]
	require.Equal(t, trial.Touch{Site: "ear", Cell: true}, one.Touch)
	require.Equal(t, []int{0, 1}, []int{*one.State, one.Pays})
	require.Equal(t, trial.Touch{Site: "paw", Taken: true, Pulled: true, Done: true, Cell: true}, two.Touch)
	require.Equal(t, []int{2, 0}, []int{*two.State, two.Pays}, "let go at once: that is what it gets")
}

// Each phase is marked and paid; the trial has one outcome, that of its worst part.
func TestATrialWithPhases(t *testing.T) {
	for _, c := range []struct {
		what  string
		keys  []work.Key // at the end of each phase
		worn  int64      // ms
		want  trial.Outcome
		pays  int
		parts int
	}{
		{"all of them", []work.Key{work.Main, work.Main, work.Main}, 5000, trial.Met, 3, 3},
		{"one slowly", []work.Key{work.Main, work.LateKey, work.Main}, 5000, trial.Late, 2, 3},
		{"worn for less, marked", []work.Key{work.Main, work.Main, work.Main}, 3000, trial.LetGo, 3, 3},
		{"tossed off", []work.Key{work.Main, work.MissKey}, 2000, trial.Missed, 1, 2},
	} {
		h := sessiontest.Muzzled(t, work.Cued)
		at := int64(1000)
		h.Press(work.Main, at)
		for i, key := range c.keys {
			if at += 1000; i == 1 {
				at += c.worn - 1000
			}
			require.Len(t, sessiontest.Trials(h), 0, c.what)
			h.Press(key, at)
		}
		one := sessiontest.Trials(h)[0]
		require.Equal(t, []any{c.want, c.pays, c.parts}, []any{one.Outcome, one.Pays, len(one.Phases)}, c.what)
		require.Equal(t, "worn", one.Phases[1].Name)
		require.InDelta(t, float64(c.worn)/1000, one.Phases[1].S, 1e-9, c.what)
	}
	h := sessiontest.Muzzled(t, work.Cued)
	h.Press(work.Main, 1000)
	require.Equal(t, "On", screen.Of(h.Run).View(1500).Main.Label)
	h.Press(work.Main, 2000)
	v := screen.Of(h.Run).View(4000)
	require.Equal(t, []string{"Worn", "2.0", "of 5 s"}, []string{v.Main.Label, v.Dial.Big, v.Dial.Of})
	h.Press(work.UndoKey, 4500)
	require.Equal(t, "On", screen.Of(h.Run).View(5000).Main.Label, "an undo takes the phase back")
}

// One calm line says when to stop; finishing is one press, two steps down and well paid.
func TestAdviceIsOneLineAndFinishingOnePress(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 5, 3), session.Choice{Place: "shed", Pieces: "6"})
	require.Empty(t, screen.Of(h.Run).View(0).Advice)
	at := sessiontest.Hold(h, 1000, 4, 17000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, screen.AdviceView{Line: "2 treats left, the reserve: finish with an easy one.", Finish: true}, v.Advice)
	h.Press(work.FinishKey, at)
	require.Equal(t, sessiontest.StepID(1), h.Run.Session().At.Position.Today)
	require.Equal(t, progression.WhyFinish, h.Run.Session().Moves[0].Why)
	require.Empty(t, screen.Of(h.Run).View(at).Advice, "said once, and done")
	sessiontest.Hold(h, at+1000, 1, 5000, work.Main)
	last := sessiontest.Trials(h)[4]
	require.True(t, last.Easy)
	require.Equal(t, 2, last.Pieces, "three, as far as they last")

	h = sessiontest.Begin(t, sessiontest.Plan(work.Held, 5, 3), session.Choice{Place: "shed", Pieces: "40"})
	sessiontest.Hold(h, 1000, 1, 17000, work.Main)
	h.Press(work.RefusedKey, 20000)
	sessiontest.Hold(h, 21000, 1, 17000, work.Main)
	h.Press(work.SlowKey, 42000)
	require.Contains(t, screen.Of(h.Run).View(43000).Advice.Line, "Two in a row eaten slowly or refused")
	require.Equal(t, "refused", h.Run.Session().Pays[0].Taken)
}
