package decision_test

import (
	"encoding/json"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

// marked makes a stretch out of letters: m met, l late, h helped, x missed, v void, e an easy one that was
// met, and 0 to 4 for the states of exposures; a bar begins another session, in another place.
func marked(marks string) []trial.Trial {
	var list []trial.Trial
	session, first := 0, true
	for _, mark := range marks {
		t := trial.Trial{ID: strconv.Itoa(len(list)), Session: strconv.Itoa(session), Place: strconv.Itoa(session), Block: strconv.Itoa(session)}
		switch mark {
		case '|':
			session, first = session+1, true
			continue
		case 'm':
			t.Outcome = trial.Met
		case 'e':
			t.Outcome, t.Easy = trial.Met, true
		case 'l':
			t.Outcome = trial.Late
		case 'h':
			t.Outcome = trial.Helped
		case 'x':
			t.Outcome = trial.Missed
		case 'v':
			t.Outcome = trial.Void
		default:
			state := int(mark - '0')
			t.State, t.Outcome = &state, trial.Met
		}
		t.Cold, first = first && mark != 'e', false
		list = append(list, t)
	}
	return list
}

func ask(rule decision.Rule, marks string) decision.Decision {
	return decision.Decide(rule, decision.Question{Trials: marked(marks), Step: 2, Last: 9, Ended: true})
}

func codes(d decision.Decision) (list []decision.Code) {
	for _, r := range d.Reasons {
		list = append(list, r.Code)
	}
	return list
}

func TestAGateAsksForARateFromSeveralSessions(t *testing.T) {
	rule := decision.Defaults(decision.Gate)
	rule.Window, rule.BackWindow, rule.Rate = 10, 5, 0.9
	for marks, want := range map[string]decision.Verdict{
		"mmmmm|mmmml":      decision.StepUp,
		"mmmmmmmmmm":       decision.Repeat, // one session
		"mmmmm|mmmxl":      decision.Repeat, // eight of ten
		"mmmmm|mmmm":       decision.Repeat, // the window is not full
		"mmmmm|mmhhx":      decision.StepBack,
		"mmmmm|mmmvm":      decision.Repeat, // void leaves it as it was
		"mmmmm|mmmml|mmmm": decision.Repeat, // windows never overlap
	} {
		require.Equal(t, want, ask(rule, marks).Verdict, marks)
	}
	require.Contains(t, codes(ask(rule, "mmmmmmmmmm")), decision.FewSessions)
	rule.Lenient, rule.Rate = true, 1
	rule.BackBelow = 0.6
	require.Equal(t, decision.StepUp, ask(rule, "mmmmm|mmmml").Verdict, "late counts where the plan says so")
	rule.Places = 3
	require.Contains(t, codes(ask(rule, "mmmmm|mmmml")), decision.FewPlaces)
}

// clean are sessions of fifteen met trials, as marked reads them.
func clean(sessions int) string {
	return strings.TrimSuffix(strings.Repeat("mmmmmmmmmmmmmmm|", sessions), "|")
}

func TestProofGoesByPoints(t *testing.T) {
	rule := decision.Defaults(decision.Proof)
	require.Equal(t, decision.StepUp, ask(rule, clean(7)).Verdict, "105 points")
	few := ask(rule, clean(6))
	require.Equal(t, []decision.Reason{
		{Code: decision.ProofRound, Of: 1}, {Code: decision.ProofPoints, Of: 90, Out: 97}, {Code: decision.ProofCost, Of: 30},
	}, few.Reasons)
	require.Equal(t, decision.Repeat, ask(rule, clean(7)+"|xmm").Verdict, "a miss costs thirty")
	require.Equal(t, decision.Repeat, ask(rule, "lmmmmmmmmmmmmmm|"+clean(9)+"|lmmmmmmmmm").Verdict, "a cold one of the last six was late")
	lenient := rule
	lenient.Lenient = true
	require.Equal(t, decision.StepUp, ask(lenient, clean(7)+"|lmmmmmmmmm").Verdict)
	running := decision.Decide(rule, decision.Question{Trials: marked(clean(7)), Step: 2, Last: 9})
	require.Equal(t, decision.Repeat, running.Verdict)
	require.Contains(t, codes(running), decision.NotEnded)
	loose := decision.Decide(rule, decision.Question{
		Trials: marked(clean(8)), Step: 2, Last: 9, Ended: true, Unlogged: map[string]int{"": 1, "other": 40},
	})
	require.Equal(t, decision.Reason{Code: decision.ProofPoints, Of: 90, Out: 97}, loose.Reasons[1], "what was not logged is not met")
	require.Equal(t, decision.StepBack, ask(rule, "mmxxmx").Verdict)
	require.Equal(t, decision.Repeat, ask(rule, "xm|xm|xm|xmm").Verdict,
		"what only the cold ones lack is asked again before anything is concluded")
}

func TestAProofRoundThatIsLostBeginsAnewInTheNextSession(t *testing.T) {
	rule := decision.Defaults(decision.Proof)
	rule.MissGuard = 0
	lost := "mmmmmmxmmmmmmxmmmmmx" // three of twenty: no step back
	over := ask(rule, lost+"mmm").Reasons
	require.Equal(t, []decision.Reason{
		{Code: decision.ProofRound, Of: 1}, {Code: decision.ProofPoints, Of: 17 - 3*30, Out: 97}, {Code: decision.RoundOver, Of: 30},
	}, over, "what comes after it in the session is in no round")
	next := ask(rule, lost+"mmm|mvem").Reasons
	none, once := decision.RoundsOver{}, decision.RoundsOver{N: 1}
	require.Equal(t, []decision.Reason{{Code: decision.ProofRound, Of: 2}, {Code: decision.ProofPoints, Of: 2, Out: 119}}, next[:2])
	require.Equal(t, 3, decision.Rounds(rule, marked("mm|"+lost+"|m"), once, nil), "as many are over when the stretch ends")
	require.Equal(t, 1, decision.Rounds(rule, marked("vv"), once, nil), "none has begun")

	// A step back ends the round: who is back at the step in the same session begins the next one in the session after that.
	before := decision.RoundsOver{N: 1, In: "0"}
	here := decision.RoundOf(rule, marked("mmm"), before, nil)
	require.True(t, here.Over)
	require.Empty(t, here.Trials)
	require.Equal(t, 1, decision.Rounds(rule, marked("mmm"), before, nil), "none has begun")
	later := decision.RoundOf(rule, marked("mmm|mm"), before, map[string]int{"0": 9})
	require.Equal(t, 2, later.Number)
	require.Equal(t, 2, later.Scored)
	require.Equal(t, 3, decision.RoundOf(rule, marked("mmm"), decision.RoundsOver{N: 1, In: "earlier"}, nil).Scored)
	var kept decision.RoundsOver
	require.NoError(t, json.Unmarshal([]byte("2"), &kept), "as it was kept once")
	require.Equal(t, decision.RoundsOver{N: 2}, kept)

	early := marked("mmmmm")
	early[4].Outcome, early[3].Tally = trial.LetGo, true
	require.Equal(t, 3-30, decision.RoundOf(rule, early, none, nil).Scored, "ended early is not met, and a tally has no order")
	require.True(t, decision.RoundOf(rule, marked("mmm|mm"), none, map[string]int{"0": 2, "1": 1}).Over)
	require.Equal(t, 2, decision.RoundOf(rule, marked("mmm|mm|m"), none, map[string]int{"0": 3}).Number, "lost by what was not logged")
}

func TestACountBeginsAgainWhereThePlanSays(t *testing.T) {
	rule := decision.Defaults(decision.CountUp)
	require.Equal(t, decision.StepUp, ask(rule, "xm").Verdict)
	for restart, to := range map[decision.Restart]int{decision.RestartOne: 6, decision.RestartHalf: 3, decision.RestartBottom: 0} {
		rule.Restart = restart
		d := decision.Decide(rule, decision.Question{Trials: marked("ml"), Step: 7, Last: 9})
		require.Equal(t, decision.StepBack, d.Verdict, "late begins again too")
		require.Equal(t, to, d.To, restart)
	}
	at := func(marks string) decision.Verdict {
		return decision.Decide(rule, decision.Question{Trials: marked(marks), Step: 0, Last: 9}).Verdict
	}
	require.Equal(t, decision.Repeat, at("mx"), "there is nothing below")
	require.Equal(t, decision.Split, at("xlx"))
	rule.Clean = 2
	require.Equal(t, decision.Repeat, ask(rule, "xm").Verdict)
	require.Equal(t, decision.Finished, decision.Decide(rule, decision.Question{Trials: marked("mm"), Step: 9, Last: 9}).Verdict)
}

func TestCalmReadsStates(t *testing.T) {
	rule := decision.Defaults(decision.Calm)
	for marks, want := range map[string]decision.Verdict{
		"11010":    decision.StepUp,
		"11110":    decision.Repeat, // one of them expects good, two are asked
		"2|11001":  decision.StepUp,
		"211001":   decision.Repeat, // this session began wary
		"1100":     decision.Repeat,
		"11003":    decision.StepBack,
		"212222":   decision.StepBack,
		"222210":   decision.Repeat, // wary, but calmer
		"110104":   decision.Stop,
		"112|1100": decision.Repeat,
	} {
		require.Equal(t, want, ask(rule, marks).Verdict, marks)
	}
	require.Contains(t, codes(ask(rule, "211001")), decision.FirstWary)
	require.Contains(t, codes(ask(rule, "11110")), decision.FewExpect)
}

// Whatever the rule and the trials: the same question has the same answer, a void trial at the end and
// an easy one that was met leave it as it was, and nothing steps up from nothing.
func TestEveryRuleKeepsItsWord(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rule := decision.Defaults(rapid.SampledFrom(decision.Kinds).Draw(t, "rule"))
		require.Empty(t, rule.Check())
		rule.MissGuard = 0
		letters := "mlhx|"
		if rule.Kind == decision.Calm {
			letters = "01234|"
		}
		marks := rapid.StringOfN(rapid.RuneFrom([]rune(letters)), 0, 60, -1).Draw(t, "marks")
		step, last := rapid.IntRange(0, 9).Draw(t, "step"), 9
		at := func(marks string) decision.Verdict {
			d := decision.Decide(rule, decision.Question{Trials: marked(marks), Step: step, Last: last, Ended: true})
			require.NotEmpty(t, d.Reasons)
			if rule.Kind == decision.CountUp && d.Verdict == decision.StepBack {
				require.Less(t, d.To, step)
			}
			return d.Verdict
		}
		answer := at(marks)
		require.Equal(t, answer, at(marks))
		if rule.Kind != decision.Calm { // a state of 4 stops even where the trial is void
			require.Equal(t, answer, at(marks+"v"))
			require.Equal(t, answer, at(marks+"e"))
		}
		require.Equal(t, decision.Repeat, at(""))
		if step == 0 {
			require.NotEqual(t, decision.StepBack, answer)
		}
		if step == last {
			require.NotEqual(t, decision.StepUp, answer)
		} else {
			require.NotEqual(t, decision.Finished, answer)
		}
	})
}

// Cards of a deck that ask clearly more than the step change no answer, wherever they fall and however they went.
func TestCardsAboveTheStepDecideNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rule := decision.Defaults(rapid.SampledFrom(decision.Kinds[:5]).Draw(t, "rule"))
		trials := marked(rapid.StringOfN(rapid.RuneFrom([]rune("mlhxv|")), 1, 60, -1).Draw(t, "marks"))
		var dealt []trial.Trial
		for i, one := range trials {
			for range rapid.IntRange(0, 2).Draw(t, "cards") {
				card := trial.Trial{ID: "card", Session: one.Session, Block: one.Block, Easy: true, Card: 1 + i, Above: true}
				card.Outcome = rapid.SampledFrom([]trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed}).Draw(t, "outcome")
				dealt = append(dealt, card)
			}
			dealt = append(dealt, one)
		}
		ask := func(trials []trial.Trial) decision.Verdict {
			return decision.Decide(rule, decision.Question{Trials: trials, Step: 3, Last: 9, Ended: true}).Verdict
		}
		require.Equal(t, ask(trials), ask(dealt))
	})
}

func TestRulesThatCannotStandSayWhere(t *testing.T) {
	for field, change := range map[string]func(*decision.Rule){
		"rate":        func(r *decision.Rule) { r.Rate = 1.5 },
		"window":      func(r *decision.Rule) { r.Window = 0 },
		"back_below":  func(r *decision.Rule) { r.BackBelow = 0.95 },
		"sessions":    func(r *decision.Rule) { r.Sessions = 0 },
		"back_window": func(r *decision.Rule) { r.BackWindow = 900 },
	} {
		rule := decision.Defaults(decision.Gate)
		change(&rule)
		require.Equal(t, field, rule.Check()[0].Field)
	}
	for field, rule := range map[string]decision.Rule{
		"target":  {Kind: decision.Proof, Conf: 0.9, LookBack: 80, Sessions: 3, Places: 3, BackRate: 0.8, BackConf: 0.9, BackMin: 5},
		"restart": {Kind: decision.CountUp, Clean: 1, SplitAfter: 3, Restart: "somewhere"},
		"expect":  {Kind: decision.Calm, Up: 3, Expect: 4},
		"kind":    {Kind: "coin"},
	} {
		require.Equal(t, field, rule.Check()[0].Field)
	}
}

// A replay says when each rule would have spoken on the same record.
func TestReplay(t *testing.T) {
	visits := []decision.Stay{{Step: 2, Last: 9, Trials: marked("mmmmm|mmxmm|mmmmm")}, {Step: 3, Last: 9, Trials: marked("xx")}}
	verdicts := func(rule decision.Rule) (list []string) {
		for _, s := range decision.Replay(rule, visits) {
			list = append(list, string(s.Verdict)+" "+s.Trial.ID)
		}
		return list
	}
	require.Equal(t, []string{"step_up 4", "step_up 14", "step_back 1"}, verdicts(decision.Defaults(decision.Set)))
	require.Equal(t, []string{"step_up 2", "step_up 5", "step_up 10", "step_up 13", "step_back 1"}, verdicts(decision.Defaults(decision.Run)))
	require.Equal(t, []string{"step_back 1"}, verdicts(decision.Defaults(decision.Gate)), "fifteen trials fill no window; two misses guard")
	strict := decision.Defaults(decision.Set)
	strict.MissGuard = 0
	require.Len(t, decision.Replay(strict, visits), 2)
}

// Of a run there is a formula: u met in a row before b missed in a row.
func TestARunsOddsAreThoseOfItsFormula(t *testing.T) {
	p, q := 0.6, 0.4
	u, b := p*p, q
	want := u * (1 - q*q) / (u + b - u*b)
	require.InDelta(t, want, decision.Rule{Kind: decision.Run, Up: 3, Back: 2}.PassOdds(p), 0.02)
	for _, kind := range []decision.Kind{decision.Set, decision.Run, decision.Gate} {
		rule := decision.Usual(kind)
		require.Less(t, rule.PassOdds(0.6), rule.PassOdds(0.9), kind)
	}
	require.Less(t, decision.Usual(decision.Run).PassOdds(0.6), decision.Defaults(decision.Run).PassOdds(0.6))
	require.Zero(t, decision.Usual(decision.Calm).PassOdds(0.9))
	minutes := decision.Defaults(decision.Gate)
	minutes.Window, minutes.Rate, minutes.BackWindow = 10, 0.8, 5
	require.Greater(t, minutes.PassOdds(0.9), 0.7, "its windows come to span two sessions")
}

// A half step that was split off is where a session opens, unless something else opens it lower.
func TestASessionOpensNoHigherThanTheHalfStep(t *testing.T) {
	at, drops := decision.StartStep(decision.Visit{Reached: 6, Steps: 20, Days: 2, Halved: 1})
	require.Equal(t, 5, at)
	require.Equal(t, []decision.Drop{{Code: decision.SplitOff, Steps: 1}}, drops)
	at, drops = decision.StartStep(decision.Visit{Reached: 6, Steps: 20, Days: 2, Halved: 1, NewPlace: true})
	require.Equal(t, 2, at)
	require.Equal(t, decision.NewPlace, drops[0].Code)
}
