package session_test

import (
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

func TestTheQuickestShareIsPaid(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate)
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Best, Share: 0.5}
	p.Latencies = []float64{1, 1, 1, 1}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := sessiontest.Cued(h, 1000, 1900)
	require.Contains(t, screen.Of(h.Run).View(at).Pay.Next, "1.3 s")
	at = sessiontest.Cued(h, at, 1200)
	sessiontest.Cued(h, at, 1800)
	require.Equal(t, []bool{true, true, false}, sessiontest.Paid(h, 3), "too few to tell; under the limit; over it")
}

func TestThinningStartsAgainWhereItIsNew(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Run)
	p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 4, Thin: true}
	p.Rung, p.First = 2, false
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed"})
	at := int64(1000)
	for range 3 {
		at = sessiontest.Cued(h, at, 800)
	}
	require.Equal(t, []bool{true, false, true}, sessiontest.Paid(h, 3), "one in two")
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	at += 1000
	for range 4 {
		if screen.Of(h.Run).View(at).Phase == session.Deciding {
			h.Press(work.StayKey, at)
			at += 1000
		}
		at = sessiontest.Cued(h, at, 800)
	}
	require.Equal(t, []bool{true, false, false, true}, sessiontest.Paid(h, 4), "one in three after the step up")

	fresh := sessiontest.Begin(t, p, session.Choice{Place: "quay"}) // not known to this skill
	at = int64(1000)
	for range 3 {
		at = sessiontest.Cued(fresh, at, 800)
	}
	require.Equal(t, []bool{true, true, true}, sessiontest.Paid(fresh, 3), "every one in a new place")
}

func TestOwnRewardsAreRecordedWithoutFood(t *testing.T) {
	p := sessiontest.Plan(work.Cued, 4, 1)
	p.Rule = decision.Defaults(decision.Gate)
	p.Pay.LifeReward, p.Pay.LifeRewardIs = 0.5, "the gulls"
	p.Foods = []reinforce.Reward{{ID: "sprat", Name: "Sprats", Kind: reinforce.Food, Tier: 4}}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: "30"})
	at := int64(1000)
	require.Contains(t, screen.Of(h.Run).View(at).Pay.Next, "the gulls", "never the first")
	for range 8 {
		at = sessiontest.Cued(h, at, 800)
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
	require.Equal(t, 1, sessiontest.Trials(h)[8].Pays)
	h.Press(work.UndoKey, at+2000)
	h.Press(work.UndoKey, at+2100)
	require.Len(t, h.Run.Session().Pays, 8)
	h.Press(work.UndoKey, at+2200)
	require.Nil(t, h.Run.Session().Trying)
	at = sessiontest.Cued(h, at+8000, 800)
	h.Press(work.WantedKey, at)
	sessiontest.Cued(h, at+4000, 800)
	pays = h.Run.Session().Pays
	require.Len(t, pays, 11)
	require.True(t, pays[9].LifeReward)
	require.False(t, pays[10].LifeReward, "none is dealt after one that was given by the key")
	p.Pay.LifeReward = 0
	require.Empty(t, sessiontest.Begin(t, p, session.Choice{Place: "shed"}).Press(work.WantedKey, 1000), "where the plan has none")
}

// A warm-up by tries, as it was before there were readiness tests, is read as it was.
func TestAWarmUpByTriesIsStillRead(t *testing.T) {
	for answers, want := range map[string]decision.Verdict{
		"eee": decision.WorkHere, "ees": decision.MakeEasier, "nn": decision.GoElsewhere, "sns": decision.MakeEasier,
	} {
		h, _, _ := sessiontest.Sheeted(t, 60)
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

// Two sides climb the same steps in one session; neither counts what the other did.
func TestTwoSidesInOneSessionKeepApart(t *testing.T) {
	left, right := sessiontest.Plan(work.Cued, 4, 1), sessiontest.Plan(work.Cued, 4, 1)
	for _, p := range []*pack.Pack{&left, &right} {
		p.Rule = decision.Defaults(decision.Run)
		p.Pay.Schedule = reinforce.Schedule{Way: reinforce.Fixed, K: 2}
	}
	right.Plan, right.Track = "plan-right", "right"
	h := sessiontest.Begin(t, left, session.Choice{Place: "shed"})
	at := sessiontest.Cued(h, 1000, 900)
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
	require.True(t, h.Run.Earns(math.Inf(1), false).Pay, "the first of this side")
	for range 2 {
		at = sessiontest.Cued(h, at, 900)
	}
	require.Equal(t, session.Idle, screen.Of(h.Run).View(at).Phase, "two here and one there are no three in a row")
	at = sessiontest.Cued(h, at, 900)
	require.Equal(t, decision.StepUp, h.Run.Now().Verdict)
	h.Press(work.Main, at)
	at += 1000
	renewed := left
	renewed.Days, renewed.Rung = 0, 7 // as the server counts this session in
	next(renewed)
	v := screen.Of(h.Run).View(at)
	require.Equal(t, left.Steps[1].ID, h.Run.Today().ID, "this side stays where it was")
	require.Contains(t, v.Pay.Next, "no food", "its second one")
	places := h.Run.Session().Blocks
	require.Equal(t, left.Steps[2].ID, places[1].Position.Reached)
	require.Equal(t, left.Steps[1].ID, places[2].Position.Reached)
}

// A jackpot is several pieces as far as they last, with its reason; from an empty pouch none is paid. Other pay belongs to no trial.
func TestAJackpotAndOtherPay(t *testing.T) {
	h := sessiontest.Begin(t, sessiontest.Plan(work.Cued, 4, 1), session.Choice{Place: "shed", Pieces: "8"})
	at := sessiontest.Cued(h, 1000, 900)
	h.Press(work.JackpotKey, at)
	one := sessiontest.Trials(h)[0]
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
	require.Equal(t, 2, sessiontest.Trials(h)[0].Pays)
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
		p := sessiontest.Plan(work.Cued, 4, 1)
		p.V, p.Foods = pack.Version, []reinforce.Reward{{ID: "sprat", Kind: reinforce.Food}, {ID: "mat", Kind: reinforce.Lasting, Kcal: 38}}
		out := rapid.IntRange(0, 60).Draw(rt, "pieces")
		h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Pieces: strconv.Itoa(out)})
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

// A stimulus goes with food as long as it is on; what takes turns with it fills the time between.
func TestATugBetweenExposures(t *testing.T) {
	p := sessiontest.Plan(work.Counter, 4, 1)
	p.Foods = []reinforce.Reward{
		{ID: "dry", Name: "Kibble", Kind: reinforce.Food, Tier: 2},
		{ID: "tug", Name: "Rope", Kind: reinforce.Toy, Tier: 3},
	}
	h := sessiontest.Begin(t, p, session.Choice{Place: "shed", Food: "dry"})
	h.Do(500, h.Run.Take(session.Hold{Food: "dry", Turn: "tug"}))
	h.Press(work.Main, 1000) // on
	require.Equal(t, "dry", h.Run.InHand().ID)
	h.Press(work.PayKey, 2000)
	h.Press(work.PayKey, 3000)
	require.Equal(t, "dry", h.Run.InHand().ID, "as long as it is on")
	h.Press(work.MetKey, 9000) // off
	require.Equal(t, "tug", h.Run.InHand().ID)
	h.Press(work.PayKey, 12000)
	h.Press(work.Main, 20000)
	require.Equal(t, "dry", h.Run.InHand().ID)
}
