package screen_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestPayGoesFromOnPaceToOverdue(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Held, 4, 1), session.Choice{Place: "shed"})
	require.Empty(t, screen.Of(h.Run).View(90000).Pay.Word, "nothing is overdue before the dog works")
	sessiontest.Hold(h, 100000, 1, 4000, work.Main)
	require.Equal(t, screen.PayView{Word: "on pace", Since: "last 10 s ago", Gap: 12, Key: "Pay"}, screen.Of(h.Run).View(114000).Pay)
	require.Equal(t, "slow", screen.Of(h.Run).View(104000+16000).Pay.Word)
	require.Equal(t, "overdue", screen.Of(h.Run).View(104000+23000).Pay.Word)
	h.Press(work.BreakKey, 115000)
	h.Press(work.BreakKey, 215000)
	require.Equal(t, "last 11 s ago", screen.Of(h.Run).View(215000).Pay.Since, "a break is no active time")
}

func TestABreakthroughIsPaidAtOnce(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	p.Pay.Jackpot = 6
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "30"})
	at := int64(1000)
	for range 3 {
		at = sessiontest.Cued(h, at, 900)
	}
	require.Equal(t, "A breakthrough: pay 6 treats, one after another", screen.Of(h.Run).View(at).Pay.Next)
	h.Press(work.PayKey, at)
	require.Empty(t, screen.Of(h.Run).View(at+500).Pay.Next, "once")
	require.Contains(t, screen.Of(h.Run).View(at+500).Log, "21 treats left")
	h.Press(work.UndoKey, at+1000)
	require.Contains(t, screen.Of(h.Run).View(at+1500).Pay.Next, "A breakthrough")
}

func TestTheMarkPaysByTheSchedule(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate) // it does not step up in between
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 3}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	for i := range 7 {
		v := screen.Of(h.Run).View(at)
		want := map[bool]string{true: "Next one is paid", false: "Next one: praise, no food"}[i%3 == 0]
		require.Equal(t, want, v.Pay.Next)
		h.Press(work.Main, at)
		if i%3 != 0 {
			require.Equal(t, "met: praise, no food", screen.Of(h.Run).View(at+300).Main.Sub)
		}
		h.Press(work.Main, at+900)
		at += 5000
	}
	require.Equal(t, []bool{true, false, false, true, false, false, true}, sessiontest.Paid(h, 7))
	h.Press(work.UndoKey, at)
	require.Equal(t, "This one is paid", screen.Of(h.Run).View(at+1000).Pay.Next, "an undone trial is asked again")
}

func TestALongHoldIsPaidInsideAndNotAtItsRelease(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Duration, 24)
	}
	p.Pay.Band = reinforce.Band{Lo: 6, Hi: 8}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	require.Contains(t, screen.Of(h.Run).View(1000).Pay.Next, "3 times")
	h.Press(work.Main, 1000)
	require.False(t, screen.Of(h.Run).View(2000).Pay.Due)
	require.True(t, screen.Of(h.Run).View(1000+11000).Pay.Due)
	for _, at := range []int64{12000, 18000, 24500} {
		h.Press(work.PayKey, at)
	}
	require.False(t, screen.Of(h.Run).View(24600).Pay.Due)
	h.Press(work.Main, 25100)
	require.Equal(t, 3, h.Run.Session().Trials[0].Pays)
	p.Pay.Release = true
	h = sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.Main, 1000)
	h.Press(work.PayKey, 12000)
	h.Press(work.Main, 25100)
	require.Equal(t, 2, h.Run.Session().Trials[0].Pays, "unless the plan says so")
}

func TestFoodFitsTheStepAndThePlace(t *testing.T) {
	p := sessiontest.Plan(work.Held, 4, 1)
	p.Pay.Tier = 4
	p.Foods = []reinforce.Reward{
		{ID: "dry", Name: "Kibble", Kind: reinforce.Food, Tier: 2},
		{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4, NotAt: []string{"quay"}},
	}
	p.Bans = map[string][]reinforce.Ban{"quay": {reinforce.NoThrown}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "3"})
	require.Equal(t, "sprat", screen.Of(h.Run).View(0).Food)
	h.Do(500, h.Run.Take(session.Hold{Food: "dry"}))
	require.Equal(t, "dry", screen.Of(h.Run).View(600).Food)
	require.Empty(t, h.Run.Take(session.Hold{Food: "dry"}), "it is in the hand already")
	at := sessiontest.Hold(h, 1000, 2, 4000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.NotEmpty(t, v.Pay.Gone)
	require.Contains(t, v.Log, "1 treat left")
	require.Equal(t, "dry", h.Run.Session().Pays[0].With)
	quay := sessiontest.Begin(t, p, session.Choice{Place: "quay"})
	require.Equal(t, "dry", screen.Of(quay.Run).View(0).Food, "sprats are not used there")
}

// What takes its time is timed: until the key is pressed again, or the next trial begins. It is no food, and two can take turns.
func TestPlayIsPayToo(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Foods = []reinforce.Reward{
		{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4}, {ID: "mat", Name: "Lick mat", Kind: reinforce.Lasting, Kcal: 38},
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "3"})
	h.Do(500, h.Run.Take(session.Hold{Food: "sprat", Turn: "tug"}))
	require.Equal(t, "sprat", h.Run.Session().Food)
	sessiontest.Cued(h, 1000, 900)
	require.Equal(t, []any{"tug", "Toy"}, []any{screen.Of(h.Run).View(5000).Pay.Hand, screen.Of(h.Run).View(5000).Pay.Key})
	h.Press(work.Main, 6000)
	h.Press(work.Main, 7000)
	require.NotNil(t, h.Run.Playing())
	v := screen.Of(h.Run).View(19000)
	require.Equal(t, []any{"It ends", "Toy for 12 s", ""}, []any{v.Pay.Key, v.Pay.Since, v.Pay.Word}, "nothing is overdue while it plays")
	h.Press(work.PayKey, 22400)
	pays := h.Run.Session().Pays
	require.Len(t, pays, 2)
	require.Equal(t, []any{reinforce.Toy, "tug", 0, 15.4}, []any{pays[1].As, pays[1].With, pays[1].Pieces, *pays[1].Seconds})
	left, _ := h.Run.Left()
	require.Equal(t, 2, left)
	require.Equal(t, reinforce.Span{From: 7, To: 22.4}, h.Run.Session().Waits[0], "out of the time that the rate is over")
	h.Do(23000, h.Run.Take(session.Hold{Food: "mat"}))
	h.Press(work.PayKey, 24000)
	h.Press(work.Main, 30000)
	require.Equal(t, 6.0, *h.Run.Session().Pays[2].Seconds, "the next trial ends it")
	require.False(t, h.Run.Means(work.JackpotKey), "a jackpot is food")
	h.Press(work.UndoKey, 31000)
	require.NotNil(t, h.Run.Playing(), "and an undo of its start lets it go on")
}

// A readiness test: an offered look, food taken and both cues within 3 s say work here; two of them further off, else home. g gives what
// is answered, e answers at once, l after 4 s, n does not.
func TestAReadinessTestSaysWhetherToWorkHere(t *testing.T) {
	for answers, want := range map[string]struct{ word, action string }{
		"e gege e gege": {"Work here", "work_here"}, "e gegn e gegl": {"Work further off", "make_easier"},
		"n n n e gege": {"Work further off", "make_easier"}, "n gege n gege": {"Go home", "go_elsewhere"},
		"e gege n gel": {"", ""}, "n gege e gegl": {"Go home", "go_elsewhere"},
	} {
		h, _, _ := sessiontest.Sheeted(t, 60)
		at := int64(1000)
		for _, a := range answers {
			if a == ' ' {
				continue
			}
			require.Equal(t, session.Warming, screen.Of(h.Run).View(at).Phase, answers)
			took := map[rune]int64{'g': 2000, 'l': 4000}[a]
			h.Press(map[rune]work.Key{'g': work.Main, 'e': work.Main, 'l': work.Main, 'n': work.MissKey}[a], at+took)
			at += took + 1000
		}
		v := screen.Of(h.Run).View(at)
		if want.word == "" {
			require.Equal(t, session.Warming, v.Phase, answers)
			continue
		}
		require.Equal(t, session.Deciding, v.Phase, answers)
		require.Equal(t, want.word, v.Main.Label, answers)
		require.Len(t, v.After, 2, "what an engaged dog looks like")
		h.Press(work.TickOf+"ears soft", at)
		require.Equal(t, []string{"ears soft"}, h.Run.Session().Warm[0].Ticks)
		h.Press(work.Main, at+500)
		v = screen.Of(h.Run).View(at + 1000)
		require.Equal(t, map[bool]string{true: "other"}[want.action == "go_elsewhere"], v.Leave, answers)
		require.Equal(t, want.action, h.Run.Session().Verdicts[0].Action)
		require.Empty(t, h.Run.Session().Trials, "no trial of the plan")
		sessiontest.Hold(h, at+2000, 1, 9000, work.Main)
		require.Equal(t, 1, h.Run.Session().Blocks[0].Logged)
		require.Equal(t, 1, h.Run.Session().Trials[0].Pays, "what is eaten before the work belongs to no trial")
	}
	h, _, _ := sessiontest.Sheeted(t, 60)
	h.Press(work.HelpKey, 1000)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(2000).Phase, "left out")
	h.Press(work.UndoKey, 3000)
	require.Equal(t, session.Warming, screen.Of(h.Run).View(4000).Phase)
	h.Press(work.Main, 6000)
	require.InDelta(t, 6, *h.Run.Session().Warm[0].S, 1e-9)
	h.Press(work.Main, 8000)
	h.Press(work.UndoKey, 9000)
	require.Nil(t, h.Run.Session().WarmGiven, "an undo takes back that it was given")
	h = sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{Place: "shed", Ready: true})
	require.Equal(t, session.Warming, h.Run.Phase(), "without a session plan")
}

func TestTheSheetLeadsFromBlockToBlock(t *testing.T) {
	h, first, second := sessiontest.Sheeted(t, 0)
	v := screen.Of(h.Run).View(500)
	require.Contains(t, v.Sheet.Line, "1 of 2")
	require.False(t, v.Sheet.Done)
	at := sessiontest.Hold(h, 1000, 2, 9000, work.Main)
	v = screen.Of(h.Run).View(at)
	require.True(t, v.Sheet.Done)
	require.Contains(t, v.Sheet.Next, "Touch")
	require.Equal(t, []string{"Touch", "Finish: Wait"}, []string{v.Sheet.Parts[0].Name, v.Sheet.Parts[1].Name})

	next := func(p pack.Pack, c session.Choice) {
		drafts, problem := h.Run.Close(session.Closing{})
		require.Nil(t, problem)
		h.Do(at, drafts)
		require.NoError(t, h.Run.Renew(p))
		drafts, problem = h.Run.Begin(c)
		require.Nil(t, problem)
		h.Do(at, drafts)
		at += 1000
	}
	next(second, session.Choice{Step: v.Sheet.Parts[0].Step})
	v = screen.Of(h.Run).View(at)
	require.Equal(t, "Touch", v.Skill)
	require.Contains(t, v.Sheet.Line, "2 of 2")
	at = sessiontest.Cued(h, at, 900)
	require.Equal(t, second.Steps[0].ID, h.Run.Session().Trials[2].Step)
	next(first, session.Choice{Finish: true})
	at = sessiontest.Hold(h, at, 1, 9000, work.Main)
	s := h.Run.Session()
	finish := s.Trials[len(s.Trials)-1]
	require.Equal(t, first.Steps[0].ID, finish.Step, "two steps down")
	require.True(t, finish.Easy)
	require.GreaterOrEqual(t, finish.Pieces, 3, "paid well")
	require.Equal(t, first.Steps[2].ID, s.Blocks[2].Position.Reached, "the dot stays where it was")
	require.Empty(t, screen.Of(h.Run).View(at).Sheet.Parts)
	require.Equal(t, "sheet-1", s.Sheet)
	var open bool
	for _, e := range h.Events {
		open = open || e.Kind == record.KOpen && strings.Contains(string(e.Data), "sheet-1")
	}
	require.True(t, open)
}
