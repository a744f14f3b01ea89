package session_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

// named is a plan of a kind with errors of its own.
func named(t *testing.T, kind work.Kind, errors ...work.Error) *session.Hand {
	t.Helper()
	p := sessiontest.Plan(kind, 4, 1)
	p.V, p.Errors = pack.Version, errors
	return sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "60"})
}

// An error is said of the trial that was just closed, is taken back by a second press or by Undo, and spoils it where the plan says so.
func TestAnErrorIsSaidAfterATrial(t *testing.T) {
	h := named(t, work.Cued, work.Error{Name: "crooked, “very”"}, work.Error{Name: "ran past", Spoils: true})
	require.False(t, h.Run.Means("error:ran past"), "before the first trial")
	at := sessiontest.Cued(h, 1000, 900)
	require.Equal(t, trial.Met, sessiontest.Trials(h)[0].Outcome)
	require.NotEmpty(t, h.Press("error:crooked, “very”", at))
	require.Equal(t, trial.Met, sessiontest.Trials(h)[0].Outcome, "counted, and met all the same")
	h.Press("error:ran past", at+500)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{trial.Missed, 1}, []any{one.Outcome, one.Pays}, "not met, and paid as it was")
	require.Equal(t, []string{"crooked, “very”", "ran past"}, one.Errors)
	require.Equal(t, []string{"ran past"}, h.Run.Block().Spoils)
	h.Press("error:crooked, “very”", at+1000)
	h.Press(work.UndoKey, at+1500)
	require.Len(t, sessiontest.Trials(h)[0].Errors, 2, "undo takes the last press back")
	h.Press("error:ran past", at+2000)
	require.Equal(t, trial.Met, sessiontest.Trials(h)[0].Outcome)
	h.Press(work.Main, at+5000)
	require.False(t, h.Run.Means("error:ran past"), "gone at the next start")
	require.Empty(t, h.Press("error:unknown", at+9000))
}

// Help within a trial is counted and the trial goes on; what the mark closes is helped, and paid.
func TestPromptsAreCounted(t *testing.T) {
	h := named(t, work.Cued)
	h.Press(work.Main, 1000)
	h.Press(work.HelpKey, 2000)
	h.Press(work.HelpKey, 3000)
	require.Equal(t, "Helped 2", screen.Of(h.Run).View(3100).Row[2].Label)
	h.Press(work.Main, 4000)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{trial.Helped, 2, 1, false}, []any{one.Outcome, one.Prompts, one.Pays, one.Assisted})
	h.Press("prompt:lure", 4500)
	require.Equal(t, "lure", sessiontest.Trials(h)[0].Prompt)
	h.Press(work.HelpKey, 9000)
	require.Equal(t, []any{trial.Helped, 1}, []any{sessiontest.Trials(h)[1].Outcome, sessiontest.Trials(h)[1].Prompts}, "one tap")
	h.Press(work.Main, 12000)
	h.Press(work.HelpKey, 13000)
	h.Press(work.MissKey, 14000)
	require.Equal(t, []any{trial.Missed, 1}, []any{sessiontest.Trials(h)[2].Outcome, sessiontest.Trials(h)[2].Prompts})
}

// Where the step plans help after a pause, an answer before it is the dog's own; one after it is met, and no step up comes of it.
func TestOnItsOwnIsToldFromAfterHelp(t *testing.T) {
	h := sessiontest.Worked(t, work.Cued, decision.Run, criteria.Criteria{}, criteria.HelpAfter, 2, 3)
	require.False(t, screen.Of(h.Run).View(1000).Help)
	h.Press(work.Main, 1000)
	require.False(t, screen.Of(h.Run).View(2900).Help)
	require.True(t, screen.Of(h.Run).View(3000).Help, "the pause is over")
	h.Press(work.HelpKey, 3100)
	h.Press(work.Main, 4000)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, []any{trial.Met, true, 1}, []any{one.Outcome, one.Assisted, one.Prompts}, "planned help leaves it met")
	require.Equal(t, "helped", screen.Of(h.Run).View(5000).Set.Places[0].Outcome, "the row shows what the rule counts")
	at := int64(10000)
	for _, took := range []int64{1800, 2500, 1800, 1800, 1800} { // 1.8 s is its own, 2.5 s is after the pause
		h.Press(work.Main, at)
		h.Press(work.Main, at+took)
		at += 8000
	}
	for i, assisted := range []bool{true, false, true, false, false, false} {
		require.Equal(t, assisted, sessiontest.Trials(h)[i].Assisted, i)
	}
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict, "three on its own, not five met")
	require.Len(t, h.Run.Now().Reads, 3)
	require.Len(t, screen.Of(h.Run).View(at).Set.Places, 3)
	h.Press(work.UndoKey, at)
	own := screen.SetMember{Outcome: "met", Paid: true}
	require.Equal(t, []screen.SetMember{own, own, {}}, screen.Of(h.Run).View(at).Set.Places, "a row since the help")
	require.Equal(t, decision.Repeat, h.Run.Now().Verdict)
	require.Equal(t, decision.AfterHelp, h.Run.Now().Reasons[1].Code)
	early := sessiontest.Worked(t, work.Cued, decision.Run, criteria.Criteria{}, criteria.HelpAfter, 2, 3)
	early.Press(work.Main, 1000)
	early.Press(work.HelpKey, 1500)
	early.Press(work.Main, 2200)
	require.Equal(t, trial.Helped, sessiontest.Trials(early)[0].Outcome, "help before its pause is over was not planned")
}

// A mistake of the handler's can be put to any trial; of one that was not met it is where the error came from.
func TestMyMistake(t *testing.T) {
	for _, kind := range []work.Kind{work.Held, work.Counter, work.Shaping} {
		h := named(t, kind)
		h.Press(work.MetKey, 1000)
		h.Press(work.MistakeKey, 2000)
		require.Equal(t, work.MistakeNotSaid, sessiontest.Trials(h)[0].Mistake, kind)
		h.Press("mistake:late food", 2500)
		require.Equal(t, "late food", sessiontest.Trials(h)[0].Mistake, kind)
		require.False(t, sessiontest.Trials(h)[0].Amended, "said later, and nothing was corrected")
		h.Press(work.MistakeKey, 3000)
		require.Empty(t, sessiontest.Trials(h)[0].Mistake, kind)
	}
	h := named(t, work.Held)
	h.Press(work.MissKey, 1000)
	h.Press(work.MistakeKey, 2000)
	require.Equal(t, "handler", sessiontest.Trials(h)[0].Source)
	h.Press(work.MistakeKey, 3000)
	require.Empty(t, sessiontest.Trials(h)[0].Source)
}

// Resets are counted in a set, and after the third it should be easier; the seconds until it is in position again stand with the miss.
func TestResetsAndSelfCorrection(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Rule = decision.Rule{Kind: decision.Set, Size: 5, Up: 5, Back: 0, SplitAfter: 3}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	for i := range int64(4) {
		h.Press(work.MissKey, 1000+10000*i)
		if i == 0 {
			h.Press(work.PositionKey, 3500)
			require.False(t, h.Run.Means(work.PositionKey))
			continue
		}
		_, advised := h.Run.Advice(float64(1 + 10*i))
		require.False(t, advised)
		h.Press(work.ResetKey, 2000+10000*i)
	}
	require.InDelta(t, 2.5, *sessiontest.Trials(h)[0].RecoveryS, 1e-9)
	advice, ok := h.Run.Advice(40)
	require.True(t, ok)
	require.Equal(t, []any{decision.ManyResets, decision.AskLess, 3}, []any{advice.Sign, advice.Do, advice.Of})
	h.Press(work.MissKey, 60000)
	h.Press(work.StayKey, 65000)
	h.Press(work.MissKey, 70000)
	_, ok = h.Run.Advice(71)
	require.False(t, ok, "another set")
}

// Over-excited twice running asks for a break, and again after it for the end.
func TestArousalAsksForABreak(t *testing.T) {
	h := named(t, work.Held)
	say := func(level work.Key, at int64) {
		require.NotEmpty(t, h.Press(work.ArousalOf+level, at))
	}
	advice := func(want decision.Sign) {
		t.Helper()
		a, _ := h.Run.Advice(10)
		require.Equal(t, want, a.Sign)
	}
	say("2", 1000)
	say("1", 2000)
	say("2", 3000)
	advice("")
	say("2", 4000)
	advice(decision.OverExcited)
	h.Press(work.BreakKey, 5000)
	h.Press(work.Main, 6000)
	advice("")
	say("0", 7000)
	say("2", 8000)
	advice(decision.ExcitedAgain)
	h.Press(work.UndoKey, 9000)
	advice("")
	require.Len(t, h.Run.Session().Arousals, 5)
}

// Review says where a break was due and the work went on: how many trials began before the break, and none where it was taken at once.
func TestReviewSaysThatABreakWasDue(t *testing.T) {
	due := func(afterwards int64) (said []string) {
		h := named(t, work.Held)
		at := sessiontest.Hold(h, 1000, 1, 2000, work.Main)
		h.Press(work.ArousalOf+"2", at)
		at = sessiontest.Hold(h, at+1000, 1, 2000, work.Main)
		h.Press(work.ArousalOf+"2", at)
		for range afterwards {
			at = sessiontest.Hold(h, at+1000, 1, 2000, work.Main)
		}
		h.Press(work.BreakKey, at+1000)
		h.Press(work.Main, at+9000)
		sessiontest.Hold(h, at+10000, 1, 2000, work.Main)
		for _, line := range lookback.Read(h.Run.Log(), h.Run.Session(), reinforce.Band{}, phrase.Words{}).Notes {
			if _, text, _ := strings.Cut(line.Text, "a break was due; "); text != "" {
				said = append(said, text)
			}
		}
		return said
	}
	require.Equal(t, []string{"3 trials followed"}, due(3))
	require.Empty(t, due(0))
}

// Decoys are dealt: the large key makes them, they are no trials and no food comes, and the reaction to them is kept.
func TestDecoysAreDealt(t *testing.T) {
	for _, kind := range []work.Kind{work.Handling, work.Counter} {
		p := sessiontest.Plan(kind, 4, 1)
		p.V, p.DecoyIn = pack.Version, 4
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		at, decoys, real := int64(1000), 0, 0
		for range 40 {
			v := screen.Of(h.Run).View(at)
			before := len(sessiontest.Trials(h))
			if v.Phase == session.Deciding {
				h.Press(work.StayKey, at)
				at += 1000
				continue
			}
			dealt := v.Main.Label == "Decoy"
			require.True(t, strings.HasPrefix(v.Moves, map[bool]string{true: "Next: decoy", false: "Next: real"}[dealt]), v.Moves)
			h.Press(work.Main, at)
			if dealt {
				decoys++
				require.Len(t, sessiontest.Trials(h), before)
				require.NotEmpty(t, h.Press(work.ReactsTo+"looks", at+500))
				require.Equal(t, "looks", h.Run.Session().Decoys[decoys-1].Reaction)
				require.False(t, h.Run.Decoyed(), "never twice running")
			} else {
				real++
				h.Press(work.ExpectKey, at+1000)
				require.Len(t, sessiontest.Trials(h), before+1)
			}
			at += 6000
		}
		require.Positive(t, real)
		require.InDelta(t, float64(decoys+real)/4, decoys, 2, kind)
		h.Press(work.LateKey, at) // wary
		require.False(t, h.Run.Decoyed(), "none after a wary dog")
		h.Press(work.ItselfKey, at+3000)
		h.Press(work.DecoyKey, at+9000)
		require.Len(t, h.Run.Session().Decoys, decoys+1, "but the trainer may")
		require.Len(t, h.Run.Session().Pays, len(sessiontest.Trials(h)))
	}
}

// A recall on a line: answered, line helped, reeled in and fetched are told apart. Under six in ten the dog is fetched instead of called.
func TestACueIsProtectedInTime(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.V, p.Lifeline, p.Rule = pack.Version, true, decision.Defaults(decision.Gate)
	for i := range p.Steps {
		p.Steps[i].Criteria = p.Steps[i].Criteria.With(criteria.Gear, 0)
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "60"})
	at := sessiontest.Cued(h, 1000, 900)
	require.False(t, h.Run.Means(work.LoopKey))
	at = sessiontest.Cued(h, at, 900)
	require.True(t, h.Run.Means(work.LoopKey), "two answered")
	h.Press(work.LoopKey, at)
	require.False(t, h.Run.Means(work.LoopKey))
	figure, other := h.Run.Worked(work.LineOut)
	require.True(t, other)
	at = sessiontest.Cued(h, at, 900)
	require.InDelta(t, figure, sessiontest.Trials(h)[2].Worked[work.LineOut.Key], 1e-9)
	h.Press(work.Main, at)
	h.Press(work.HelpKey, at+900)
	h.Press(work.Main, at+1500)
	require.Equal(t, []any{trial.Helped, work.TheLine}, []any{sessiontest.Trials(h)[3].Outcome, sessiontest.Trials(h)[3].Prompt})
	at += 8000
	for n := 3; n < 10; n++ { // 3 met of 10
		require.False(t, h.Run.Protects(), n)
		h.Press(work.Main, at)
		h.Press(work.MissKey, at+3000)
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+5000)
		}
		at += 9000
	}
	require.Equal(t, work.ByTheLine, sessiontest.Trials(h)[4].After, "reeled in")
	require.True(t, h.Run.Protects())
	require.Equal(t, work.FetchedKey, screen.Of(h.Run).View(at).Beside[0].Key)
	before := len(sessiontest.Trials(h))
	was := screen.Of(h.Run).View(at).Was
	h.Press(work.FetchedKey, at)
	require.NotEqual(t, was, screen.Of(h.Run).View(at+500).Was, "a press is seen")
	h.Press(work.FetchedKey, at+3000)
	require.Len(t, sessiontest.Trials(h), before, "no trial")
	require.Equal(t, 2, h.Run.Block().Withheld)
	h.Press(work.UndoKey, at+5000)
	require.Equal(t, 1, h.Run.Block().Withheld)
}

// Cues that were withheld make a step up wait, as trials do that were ended early.
func TestWithheldCuesMakeAStepUpWait(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.V, p.Lifeline, p.Rule = pack.Version, true, decision.Defaults(decision.Run)
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.FetchedKey, 1000)
	h.Press(work.FetchedKey, 3000)
	at := int64(9000)
	for range 3 {
		at = sessiontest.Cued(h, at, 900)
	}
	now := h.Run.Now()
	require.Equal(t, decision.Repeat, now.Verdict)
	require.Equal(t, decision.EndedEarly, now.Reasons[len(now.Reasons)-1].Code)
	left := h.Run.After()[0]
	require.Equal(t, 2, left.Cover[sessiontest.Trials(h)[0].Block].Withheld, "and the next session knows")
}

// After so many minutes of work a rest is due; a break, or a release that ended, begins them anew.
func TestWorkAndRest(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.V, p.RestAfter = pack.Version, 120
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.MetKey, 10000)
	due := func(at float64) bool {
		a, ok := h.Run.Advice(at)
		return ok && a.Sign == decision.RestDue
	}
	require.False(t, due(129))
	require.True(t, due(130))
	h.Press(work.BreakKey, 131000)
	h.Press(work.Main, 190000)
	require.False(t, due(309))
	require.True(t, due(310))
	h.Do(311000, h.Run.Take(session.Hold{Food: "release"}))
	h.Press(work.PayKey, 312000)
	h.Press(work.PayKey, 360000)
	require.False(t, due(479))
	require.True(t, due(480))
}

// A plan can hold a dog at a step for some days.
func TestDaysAtAStep(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.V, p.Rule, p.Today = pack.Version, decision.Defaults(decision.Run), "2026-11-02"
	p.Rule.MinDays = 2
	three := func(p pack.Pack) *session.Hand {
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
		for i := range int64(3) {
			h.Press(work.MetKey, 1000+5000*i)
		}
		return h
	}
	h := three(p)
	now := h.Run.Now()
	require.Equal(t, []any{decision.Repeat, decision.FewDays}, []any{now.Verdict, now.Reasons[len(now.Reasons)-1].Code})
	left := h.Run.After()[0]
	left.Today = "2026-11-03"
	for i := range left.Stretch {
		left.Stretch[i].Session = "the day before"
	}
	require.Equal(t, decision.StepUp, three(left).Run.Now().Verdict)
}

// Help, or a prop, comes back for one trial alone: that one is easy, and the next is as planned again.
func TestHelpComesBackForOneTrial(t *testing.T) {
	h := sessiontest.Worked(t, work.Cued, decision.Run, criteria.Criteria{}, criteria.Help, 0, 2)
	h.Press(work.HardKey, 500)
	h.Run.JustOne(true)
	h.Run.Alter(criteria.Help, -1)
	at := sessiontest.Cued(h, 2000, 900)
	require.Equal(t, []any{1.0, true}, []any{sessiontest.Trials(h)[0].Worked[criteria.Help], sessiontest.Trials(h)[0].Easy})
	require.False(t, h.Run.OneAlone())
	at = sessiontest.Cued(h, at, 900)
	require.Empty(t, sessiontest.Trials(h)[1].Worked)
	require.False(t, sessiontest.Trials(h)[1].Easy)
	h.Run.Alter(criteria.Help, -2)
	h.Run.JustOne(true)
	h.Run.Alter(criteria.Help, +1)
	at = sessiontest.Cued(h, at, 900)
	sessiontest.Cued(h, at, 900)
	require.InDelta(t, 1, sessiontest.Trials(h)[2].Worked[criteria.Help], 1e-9)
	require.Zero(t, sessiontest.Trials(h)[3].Worked[criteria.Help], "back to what it was before")
}
