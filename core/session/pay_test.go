package session_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/schedule"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
)

// paid lists of the last trials, so many, whether each was paid.
func paid(h *session.Hand, n int) []bool {
	trials := h.Run.Session().Trials
	var list []bool
	for _, t := range trials[len(trials)-n:] {
		list = append(list, t.Pays > 0)
	}
	return list
}

func cued(h *session.Hand, at, latency int64) int64 {
	h.Press(work.Main, at)
	h.Press(work.Main, at+latency)
	return at + latency + 4000
}

func TestTheMarkPaysByTheSchedule(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate) // it does not step up in between
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 3}
	h := begin(t, p, session.Choice{Place: "shed"})
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
	require.Equal(t, []bool{true, false, false, true, false, false, true}, paid(h, 7))
	h.Press(work.UndoKey, at)
	require.Equal(t, "This one is paid", screen.Of(h.Run).View(at+1000).Pay.Next, "an undone trial is asked again")
}

func TestTheQuickestShareIsPaid(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate)
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Best, Share: 0.5}
	p.Latencies = []float64{1, 1, 1, 1}
	h := begin(t, p, session.Choice{Place: "shed"})
	at := cued(h, 1000, 1900)
	require.Contains(t, screen.Of(h.Run).View(at).Pay.Next, "1.3 s")
	at = cued(h, at, 1200)
	cued(h, at, 1800)
	require.Equal(t, []bool{true, true, false}, paid(h, 3), "too few to tell; under the limit; over it")
}

func TestThinningStartsAgainWhereItIsNew(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 4, Thin: true}
	p.Rung, p.First = 2, false
	h := begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	for range 3 {
		at = cued(h, at, 800)
	}
	require.Equal(t, []bool{true, false, true}, paid(h, 3), "one in two")
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	at += 1000
	for range 4 {
		if screen.Of(h.Run).View(at).Phase == session.Deciding {
			h.Press(work.StayKey, at)
			at += 1000
		}
		at = cued(h, at, 800)
	}
	require.Equal(t, []bool{true, false, false, true}, paid(h, 4), "one in three after the step up")

	fresh := begin(t, p, session.Choice{Place: "quay"}) // not known to this skill
	at = int64(1000)
	for range 3 {
		at = cued(fresh, at, 800)
	}
	require.Equal(t, []bool{true, true, true}, paid(fresh, 3), "every one in a new place")
}

func TestOwnRewardsAreRecordedWithoutFood(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate)
	p.Pay.LifeReward, p.Pay.LifeRewardIs = 0.5, "the gulls"
	p.Foods = []reinforce.Reward{{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4}}
	h := begin(t, p, session.Choice{Place: "shed", Pieces: "30"})
	at := int64(1000)
	require.Contains(t, screen.Of(h.Run).View(at).Pay.Next, "the gulls", "never the first")
	for range 8 {
		at = cued(h, at, 800)
	}
	own, last := 0, false
	for _, pay := range h.Run.Session().Pays {
		require.False(t, pay.LifeReward && last, "never two running")
		if last = pay.LifeReward; pay.LifeReward {
			own++
			require.Zero(t, pay.Pieces)
			require.Empty(t, pay.With)
		} else {
			require.Equal(t, "sprat", pay.With)
		}
	}
	require.Equal(t, 4, own)
	require.Contains(t, screen.Of(h.Run).View(at).Log, "26 treats left · Sprats")

	h.Press(work.Main, at)
	h.Press(work.WantedKey, at+500)
	h.Press(work.Main, at+900)
	pays := h.Run.Session().Pays
	require.Len(t, pays, 9, "given by the hand, and not paid again at the mark")
	require.True(t, pays[8].LifeReward)
	require.Equal(t, 1, trials(h)[8].Pays)
	h.Press(work.UndoKey, at+2000)
	h.Press(work.UndoKey, at+2100)
	require.Len(t, h.Run.Session().Pays, 8)
	h.Press(work.UndoKey, at+2200)
	require.Nil(t, h.Run.Session().Trying)
	at = cued(h, at+8000, 800)
	h.Press(work.WantedKey, at)
	cued(h, at+4000, 800)
	pays = h.Run.Session().Pays
	require.Len(t, pays, 11)
	require.True(t, pays[9].LifeReward)
	require.False(t, pays[10].LifeReward, "none is dealt after one that was given by the key")
	p.Pay.LifeReward = 0
	require.Empty(t, begin(t, p, session.Choice{Place: "shed"}).Press(work.WantedKey, 1000), "where the plan has none")
}

func TestALongHoldIsPaidInsideAndNotAtItsRelease(t *testing.T) {
	p := plan(work.Held, 4, 1)
	for i := range p.Steps {
		p.Steps[i].Criteria = criteria.Criteria{}.With(criteria.Duration, 24)
	}
	p.Pay.Band = reinforce.Band{Lo: 6, Hi: 8}
	h := begin(t, p, session.Choice{Place: "shed"})
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
	h = begin(t, p, session.Choice{Place: "shed"})
	h.Press(work.Main, 1000)
	h.Press(work.PayKey, 12000)
	h.Press(work.Main, 25100)
	require.Equal(t, 2, h.Run.Session().Trials[0].Pays, "unless the plan says so")
}

func TestFoodFitsTheStepAndThePlace(t *testing.T) {
	p := plan(work.Held, 4, 1)
	p.Pay.Tier = 4
	p.Foods = []reinforce.Reward{
		{ID: "dry", Name: "Kibble", Kind: reinforce.Food, Tier: 2},
		{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4, NotAt: []string{"quay"}},
	}
	p.Bans = map[string][]reinforce.Ban{"quay": {reinforce.NoThrown}}
	h := begin(t, p, session.Choice{Place: "shed", Pieces: "7"})
	require.Equal(t, "sprat", screen.Of(h.Run).View(0).Food)
	h.Do(500, h.Run.Take(session.Hold{Food: "dry"}))
	require.Equal(t, "dry", screen.Of(h.Run).View(600).Food)
	require.Empty(t, h.Run.Take(session.Hold{Food: "dry"}), "it is in the hand already")
	at := hold(h, 1000, 2, 4000, work.Main)
	v := screen.Of(h.Run).View(at)
	require.NotEmpty(t, v.Pay.Gone)
	require.Contains(t, v.Log, "5 treats left")
	require.Equal(t, "dry", h.Run.Session().Pays[0].With)
	quay := begin(t, p, session.Choice{Place: "quay"})
	require.Equal(t, "dry", screen.Of(quay.Run).View(0).Food, "sprats are not used there")
}

// sheeted begins a session on a sheet of two plans.
func sheeted(t *testing.T, warm float64) (*session.Hand, pack.Pack, pack.Pack) {
	t.Helper()
	first, second := plan(work.Held, 4, 2), plan(work.Cued, 4, 2)
	second.Plan, second.Skill, second.SkillName = "plan-2", "skill-2", "Touch"
	for i := range second.Steps {
		second.Steps[i].ID = stepID(40 + i)
	}
	second.Position = progression.StartOf(second.Steps)
	run, err := session.Open(first)
	require.NoError(t, err)
	run.Follow(session.Sheet{
		ID: "sheet-1", Names: map[string]string{first.Plan: "Wait", second.Plan: "Touch"}, Pieces: 40,
		Plan: schedule.Sheet{WarmS: warm, Blocks: []schedule.Block{
			{Plan: first.Plan, Step: first.Steps[2].ID, Sets: 1, Set: 2, BreakS: 60}, {Plan: second.Plan, Step: second.Steps[0].ID, Sets: 1, Set: 2},
		}, Finish: first.Plan},
	})
	h := &session.Hand{Run: run, Session: "00000000-0000-7000-a000-000000000001", Dev: "phone", By: "maren", Handler: "maren", NewID: ids()}
	drafts, problem := run.Begin(session.Choice{Place: "shed"})
	require.Nil(t, problem)
	h.Do(0, drafts)
	return h, first, second
}

// A readiness test: an offered look, food taken and both cues within 3 s say work here; two of them further off, else home. g gives what
// is answered, e answers at once, l after 4 s, n does not.
func TestAReadinessTestSaysWhetherToWorkHere(t *testing.T) {
	for answers, want := range map[string]struct{ word, action string }{
		"e gege e gege": {"Work here", "work_here"}, "e gegn e gegl": {"Work further off", "make_easier"},
		"n n n e gege": {"Work further off", "make_easier"}, "n gege n gege": {"Go home", "go_elsewhere"},
		"e gege n gel": {"", ""}, "n gege e gegl": {"Go home", "go_elsewhere"},
	} {
		h, _, _ := sheeted(t, 60)
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
		hold(h, at+2000, 1, 9000, work.Main)
		require.Equal(t, 1, h.Run.Session().Blocks[0].Logged)
		require.Equal(t, 1, h.Run.Session().Trials[0].Pays, "what is eaten before the work belongs to no trial")
	}
	h, _, _ := sheeted(t, 60)
	h.Press(work.HelpKey, 1000)
	require.Equal(t, session.Idle, screen.Of(h.Run).View(2000).Phase, "left out")
	h.Press(work.UndoKey, 3000)
	require.Equal(t, session.Warming, screen.Of(h.Run).View(4000).Phase)
	h.Press(work.Main, 6000)
	require.InDelta(t, 6, *h.Run.Session().Warm[0].S, 1e-9)
	h.Press(work.Main, 8000)
	h.Press(work.UndoKey, 9000)
	require.Nil(t, h.Run.Session().WarmGiven, "an undo takes back that it was given")
	h = begin(t, plan(work.Cued, 4, 1), session.Choice{Place: "shed", Ready: true})
	require.Equal(t, session.Warming, h.Run.Phase(), "without a session plan")
}

// A warm-up by tries, as it was before there were readiness tests, is read as it was.
func TestAWarmUpByTriesIsStillRead(t *testing.T) {
	for answers, want := range map[string]decision.Verdict{
		"eee": decision.WorkHere, "ees": decision.MakeEasier, "nn": decision.GoElsewhere, "sns": decision.MakeEasier,
	} {
		h, _, _ := sheeted(t, 60)
		first := map[byte]decision.Answer{'e': decision.AnswerEager, 's': decision.AnswerSlow, 'n': decision.AnswerNone}
		h.Do(1000, []record.Draft{record.NewDraft(record.KWarmup, record.WarmupData{Answer: first[answers[0]]})})
		at := int64(4000)
		for _, a := range answers[1:] { // begun by an old build, and gone on with
			require.Equal(t, session.Warming, screen.Of(h.Run).View(at).Phase)
			h.Press(map[rune]work.Key{'e': work.Main, 's': work.LateKey, 'n': work.MissKey}[a], at)
			at += 3000
		}
		require.Equal(t, want, h.Run.Now().Verdict, answers)
	}
}

func TestTheSheetLeadsFromBlockToBlock(t *testing.T) {
	h, first, second := sheeted(t, 0)
	v := screen.Of(h.Run).View(500)
	require.Contains(t, v.Sheet.Line, "1 of 2")
	require.False(t, v.Sheet.Done)
	at := hold(h, 1000, 2, 9000, work.Main)
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
	at = cued(h, at, 900)
	require.Equal(t, second.Steps[0].ID, h.Run.Session().Trials[2].Step)
	next(first, session.Choice{Finish: true})
	at = hold(h, at, 1, 9000, work.Main)
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

func TestABreakthroughIsPaidAtOnce(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	p.Pay.Jackpot = 6
	h := begin(t, p, session.Choice{Place: "shed", Pieces: "30"})
	at := int64(1000)
	for range 3 {
		at = cued(h, at, 900)
	}
	require.Equal(t, "A breakthrough: pay 6 treats, one after another", screen.Of(h.Run).View(at).Pay.Next)
	h.Press(work.PayKey, at)
	require.Empty(t, screen.Of(h.Run).View(at+500).Pay.Next, "once")
	require.Contains(t, screen.Of(h.Run).View(at+500).Log, "21 treats left")
	h.Press(work.UndoKey, at+1000)
	require.Contains(t, screen.Of(h.Run).View(at+1500).Pay.Next, "A breakthrough")
}

// Two sides climb the same steps in one session; neither counts what the other did.
func TestTwoSidesInOneSessionKeepApart(t *testing.T) {
	left, right := plan(work.Cued, 4, 1), plan(work.Cued, 4, 1)
	for _, p := range []*pack.Pack{&left, &right} {
		p.Rule = decision.Defaults(decision.Run)
		p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 2}
	}
	right.Plan, right.Track = "plan-right", "right"
	h := begin(t, left, session.Choice{Place: "shed"})
	at := cued(h, 1000, 900)
	next := func(p pack.Pack) {
		drafts, _ := h.Run.Close(session.Closing{Leave: true})
		h.Do(at, drafts)
		require.NoError(t, h.Run.Renew(p))
		drafts, problem := h.Run.Begin(session.Choice{})
		require.Nil(t, problem)
		h.Do(at, drafts)
		at += 1000
	}
	next(right)
	require.Equal(t, "Next one is paid", screen.Of(h.Run).View(at).Pay.Next, "the first of this side")
	for range 2 {
		at = cued(h, at, 900)
	}
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "two here and one there are no three in a row")
	at = cued(h, at, 900)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	at += 1000
	renewed := left
	renewed.Days, renewed.Rung = 0, 7 // as the server counts this session in
	next(renewed)
	v := screen.Of(h.Run).View(at)
	require.Contains(t, v.Where, "Step 2 of 4", "this side stays where it was")
	require.Contains(t, v.Pay.Next, "no food", "its second one")
	places := h.Run.Session().Blocks
	require.Equal(t, left.Steps[2].ID, places[1].Position.Reached)
	require.Equal(t, left.Steps[1].ID, places[2].Position.Reached)
}

// What takes its time is timed: until the key is pressed again, or the next trial begins. It is no food, and two can take turns.
func TestPlayIsPayToo(t *testing.T) {
	p := plan(work.Cued, 4, 1)
	p.Foods = []reinforce.Reward{
		{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4}, {ID: "mat", Name: "Lick mat", Kind: reinforce.Lasting, Kcal: 38},
	}
	h := begin(t, p, session.Choice{Place: "shed", Pieces: "3"})
	h.Do(500, h.Run.Take(session.Hold{Food: "sprat", Turn: "tug"}))
	require.Equal(t, "sprat", h.Run.Session().Food)
	cued(h, 1000, 900)
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

// A jackpot is several pieces as far as they last, with its reason; from an empty pouch none is paid. Other pay belongs to no trial.
func TestAJackpotAndOtherPay(t *testing.T) {
	h := begin(t, plan(work.Cued, 4, 1), session.Choice{Place: "shed", Pieces: "8"})
	at := cued(h, 1000, 900)
	h.Press(work.JackpotKey, at)
	one := trials(h)[0]
	require.Equal(t, []int{2, 6}, []int{one.Pays, one.Pieces})
	after := screen.Of(h.Run).View(at + 100).After
	require.Equal(t, work.ReasonOf+"hardest yet", after[0][0].Key)
	h.Press(work.ReasonOf+"hardest yet", at+1000)
	require.Equal(t, "hardest yet", h.Run.Session().Pays[1].Reason)
	require.False(t, h.Run.Means(work.ReasonOf+"hardest yet"))
	h.Press(work.OtherKey, at+2000)
	h.Press(work.ReasonOf+"calm", at+3000)
	last := h.Run.Session().Pays[2]
	require.Equal(t, []any{true, "calm", "", 1}, []any{last.Apart, last.Reason, last.Trial, last.Pieces})
	require.Equal(t, 2, trials(h)[0].Pays)
	h.Press(work.JackpotKey, at+4000)
	require.Equal(t, 1, h.Run.Session().Pays[3].Pieces, "what is left")
	require.NotEmpty(t, h.Run.Reasons())
	h.Press(work.MissKey, at+8000)
	require.Empty(t, h.Run.Reasons(), "gone with the next trial")
	for _, key := range []work.Key{work.JackpotKey, work.OtherKey, work.PayKey} {
		require.Empty(t, h.Press(key, at+9000), key)
	}
}

// Pays of every sort add up: what was counted out is what is left and what was paid, each piece belongs to one trial or to none, and Review
// counts them all.
func TestPaysOfEverySortAddUp(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := plan(work.Cued, 4, 1)
		p.V, p.Foods = pack.Version, []reinforce.Reward{{ID: "sprat", Kind: reinforce.Food}, {ID: "mat", Kind: reinforce.Lasting, Kcal: 38}}
		out := rapid.IntRange(0, 60).Draw(rt, "pieces")
		h := begin(t, p, session.Choice{Place: "shed", Pieces: strconv.Itoa(out)})
		at := int64(1000)
		for range rapid.IntRange(1, 60).Draw(rt, "presses") {
			switch key := rapid.SampledFrom([]work.Key{
				work.Main, work.Main, work.Main, work.PayKey, work.JackpotKey, work.OtherKey, work.MissKey, work.UndoKey, work.StayKey, "hand",
			}).Draw(rt, "key"); key {
			case "hand":
				hands := []session.Hold{{}, {Food: "tug"}, {Food: "mat"}, {Food: "sprat", Turn: "chase"}}
				h.Do(at, h.Run.Take(rapid.SampledFrom(hands).Draw(rt, "in hand")))
			default:
				h.Press(key, at)
			}
			at += int64(rapid.IntRange(500, 9000).Draw(rt, "ms"))
		}
		s := h.Run.Session()
		paid, apart, pays := 0, 0, 0
		for i := range s.Pays {
			one := &s.Pays[i]
			require.False(rt, one.Lasts() && one.Pieces > 0, "what takes its time is no food in pieces")
			require.True(rt, one.Seconds == nil || one.Lasts() && *one.Seconds >= 0)
			if paid += one.Pieces; one.Trial == "" {
				apart += one.Pieces
			}
			if one.Reason != record.WhileRecovering {
				pays++
			}
		}
		left, known := h.Run.Left()
		require.True(rt, known)
		require.Equal(rt, out, left+paid)
		of, n := 0, 0
		for i := range s.Trials {
			of, n = of+s.Trials[i].Pieces, n+s.Trials[i].Pays
		}
		require.Equal(rt, paid, of+apart)
		require.LessOrEqual(rt, n, len(s.Pays))
		require.Len(rt, lookback.Read(h.Run.Log(), s, reinforce.Band{}, phrase.Words{}).Pays, pays)
	})
}
