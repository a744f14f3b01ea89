package decision_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/decision"
	"patientfox/core/trial"
)

var letters = map[rune]trial.Outcome{
	'm': trial.Met, 'l': trial.Late, 'h': trial.Helped, 'x': trial.Missed, 'v': trial.Void, 'e': trial.Met, 'E': trial.Missed,
}

// trials reads "mmmlx|mm": one letter a trial, | begins a block, / a session; e and E are easy ones.
func trials(text string) []trial.Trial {
	var list []trial.Trial
	session, block := 0, 0
	for _, r := range text {
		switch r {
		case '|':
			block++
		case '/':
			session, block = session+1, block+1
		default:
			list = append(list, trial.Trial{
				ID: fmt.Sprint(len(list)), Outcome: letters[r], Easy: r == 'e' || r == 'E', Session: fmt.Sprint(session), Block: fmt.Sprint(block),
			})
		}
	}
	return list
}

func decide(rule decision.Rule, text string) decision.Decision {
	return decision.Decide(rule, decision.Question{Trials: trials(text), Step: 2, Last: 5})
}

func TestTheSetRuleInWords(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	rule.MissGuard = 0
	for text, want := range map[string]decision.Verdict{
		"":                     decision.Repeat,
		"mmmm":                 decision.Repeat, // nothing to decide yet
		"mmmmm":                decision.StepUp,
		"mmmmmm":               decision.Repeat, // the next set is under way
		"mmm|mm":               decision.Repeat, // a set lies within one block
		"mmm|mmmmm":            decision.StepUp,
		"mmmml":                decision.Repeat, // right, but slow
		"mmmmv":                decision.Repeat, // a void trial fills no place
		"mmmmvm":               decision.StepUp,
		"mmmmem":               decision.StepUp, // nor does an easy one
		"xxxml":                decision.StepBack,
		"hhhml":                decision.StepBack,
		"lllll":                decision.Repeat, // slow, and never sent back for it
		"mmmmx|mmmmx|mmmmx":    decision.Split,
		"mmmmx|mmlll|mmmmx":    decision.Repeat, // a slow repeat counts for nothing
		"mmmmx/mmmmx|mmlllm":   decision.Repeat,
		"mmmmxmmmmxlllmmmmmmx": decision.Split,  // nor does it break the row
		"mmmmxmmmmxmmmmmmmmmx": decision.Repeat, // a set that was good enough does
	} {
		require.Equal(t, want, decide(rule, text).Verdict, "%q", text)
	}
	lenient := rule
	lenient.Lenient = true
	require.Equal(t, decision.StepUp, decide(lenient, "mmmll").Verdict)
}

// Also where the first trial after it does not count.
func TestASplitThatWasTakenEndsTheRow(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	list := trials("mmmmx/mmmmx/vmmmmx/mmmmx/mmmmx")
	require.Equal(t, decision.Split, decision.Decide(rule, decision.Question{Trials: list[:16], Step: 2, Last: 5}).Verdict)
	for i := range list[10:] {
		list[10+i].Splits = 1
	}
	said := map[int]decision.Verdict{}
	for _, n := range []int{16, 21, 26} {
		d := decision.Decide(rule, decision.Question{Trials: list[:n], Step: 2, Last: 5})
		said[n] = d.Verdict
		if d.Verdict == decision.Split {
			require.Equal(t, decision.Reason{Code: decision.ManyRepeats, Of: 3}, d.Reasons[len(d.Reasons)-1])
		}
	}
	require.Equal(t, map[int]decision.Verdict{16: decision.Repeat, 21: decision.Repeat, 26: decision.Split}, said)

	count := decision.Defaults(decision.CountUp)
	list = trials("xxxx")
	list[2].Splits, list[3].Splits = 1, 1
	require.Equal(t, decision.Repeat, decision.Decide(count, decision.Question{Trials: list, Step: 0, Last: 5}).Verdict)
}

func TestReasonsCarryTheirFigures(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	require.Equal(t, []decision.Reason{{Code: decision.FullSet, Of: 5, Out: 5}}, decide(rule, "mmmmm").Reasons)
	require.Equal(t, []decision.Reason{{Code: decision.SetGoing, Of: 2, Out: 5}}, decide(rule, "mmmmmmm").Reasons)
	slow := decide(rule, "mmlll")
	require.Equal(t, decision.Slow, slow.Reasons[1].Code)
	require.Equal(t, 3, slow.Reasons[1].Of)
	require.Equal(t, []string{"5", "6", "7", "8", "9"}, decide(rule, "mmmmxmmmmm").Reads)
}

func TestGuardsComeFirst(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	require.Equal(t, decision.StepBack, decide(rule, "mmxx").Verdict)
	require.Equal(t, decision.Repeat, decide(rule, "mmmxhx").Verdict, "helped is no miss")
	require.Equal(t, decision.StepBack, decide(rule, "mmxvx").Verdict, "a void trial is left out")
	require.Equal(t, decision.StepBack, decide(rule, "mmxE").Verdict, "an easy one's miss counts for the guard")
	require.Equal(t, decision.Repeat, decide(rule, "mmx/x").Verdict, "the guard looks at the running session")
	rule.MissGuard, rule.ErrorGuard = 0, true
	require.Equal(t, decision.StepBack, decide(rule, "xmhmh").Verdict)
	require.Equal(t, decision.Repeat, decide(rule, "mxhh").Verdict, "there must be five")
	worried := trials("mmv")
	over := 4
	worried[2].State = &over
	require.Equal(t, decision.Stop, decision.Decide(rule, decision.Question{Trials: worried, Step: 2, Last: 5}).Verdict,
		"state 4 stops even if void")
}

func TestFirstAndLastSteps(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	first := decision.Decide(rule, decision.Question{Trials: trials("xx"), Step: 0, Last: 5})
	require.Equal(t, decision.Split, first.Verdict)
	require.Equal(t, decision.FirstStep, first.Reasons[1].Code)
	last := decision.Decide(rule, decision.Question{Trials: trials("mmmmm"), Step: 5, Last: 5})
	require.Equal(t, decision.Finished, last.Verdict)
}

// A slow answer and an answer to a second cue are right unless the rule says otherwise, each for itself.
func TestLateIsRightOrNotByTheRule(t *testing.T) {
	slow, again := trial.Trial{ID: "a", Outcome: trial.Late, Slow: true}, trial.Trial{ID: "b", Outcome: trial.Late, Again: true}
	both := trial.Trial{ID: "c", Outcome: trial.Late, Slow: true, Again: true}
	for _, c := range []struct {
		slowWrong, againWrong bool
		last                  trial.Trial
		want                  decision.Verdict
	}{
		{false, false, both, decision.Repeat}, {true, false, slow, decision.StepBack}, {true, false, again, decision.Repeat},
		{true, false, both, decision.StepBack}, {false, true, slow, decision.Repeat}, {false, true, again, decision.StepBack},
		{false, true, both, decision.StepBack}, {true, true, again, decision.StepBack},
	} {
		rule := decision.Defaults(decision.Run)
		rule.MissGuard, rule.SlowWrong, rule.AgainWrong = 0, c.slowWrong, c.againWrong
		twice := []trial.Trial{c.last, c.last}
		got := decision.Decide(rule, decision.Question{Trials: twice, Step: 2, Last: 5})
		require.Equal(t, c.want, got.Verdict, "%+v", c)
		require.Equal(t, c.want, decision.DecideRegain(rule, twice, 2).Verdict, "on the way back up: %+v", c)
		rule.Up, rule.Lenient = 2, true
		up := decision.Decide(rule, decision.Question{Trials: twice, Step: 2, Last: 5}).Verdict
		require.Equal(t, c.want == decision.Repeat, up == decision.StepUp, "what is not right does not count towards a step up: %+v", c)
	}
}

func TestRunAndRegain(t *testing.T) {
	rule := decision.Defaults(decision.Run)
	rule.MissGuard = 0
	for text, want := range map[string]decision.Verdict{
		"mm": decision.Repeat, "xmmm": decision.StepUp, "m/mm": decision.StepUp, "mmm|x": decision.Repeat,
		"mmmhx": decision.StepBack, "mmmll": decision.Repeat,
	} {
		require.Equal(t, want, decide(rule, text).Verdict, "%q", text)
	}
	require.Equal(t, decision.StepUp, decision.DecideRegain(decision.Rule{}, trials("mmm"), 4).Verdict)
	require.Equal(t, decision.StepUp, decision.DecideRegain(decision.Rule{}, trials("mmm"), 0).Verdict)
	require.Equal(t, decision.StepBack, decision.DecideRegain(decision.Rule{}, trials("xx"), 1).Verdict)
	lowest := decision.DecideRegain(decision.Rule{}, trials("xx"), 0)
	require.Equal(t, decision.Repeat, lowest.Verdict, "there is no step below the first")
	require.Equal(t, decision.Lowest, lowest.Reasons[len(lowest.Reasons)-1].Code)
	tally := trials("mmm")
	tally[1].Tally = true
	require.Equal(t, decision.OrderUnknown, decision.DecideRegain(decision.Rule{}, tally, 2).Reasons[0].Code)
}

func TestRulesThatCannotStand(t *testing.T) {
	for field, spoil := range map[string]func(*decision.Rule){
		"size": func(r *decision.Rule) { r.Size = 1 }, "up": func(r *decision.Rule) { r.Up = 6 }, "back": func(r *decision.Rule) { r.Back = 5 },
		"split_after": func(r *decision.Rule) { r.SplitAfter = 0 }, "miss_guard": func(r *decision.Rule) { r.MissGuard = -1 },
		"kind": func(r *decision.Rule) { r.Kind = "hope" },
	} {
		rule := decision.Defaults(decision.Set)
		require.Empty(t, rule.Check())
		spoil(&rule)
		require.Equal(t, field, rule.Check()[0].Field)
	}
	run := decision.Defaults(decision.Run)
	run.Up, run.Back = 0, 0
	require.Len(t, run.Check(), 2)
}

// Voids change nothing, wherever they stand; and the same input gives the same answer.
func TestVoidsChangeNoAnswer(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringMatching(`[mlhxe|/]{0,40}`).Draw(t, "trials")
		kind := rapid.SampledFrom([]decision.Kind{decision.Set, decision.Run}).Draw(t, "rule")
		at := rapid.IntRange(0, len(text)).Draw(t, "at")
		plain, spoiled := decide(decision.Defaults(kind), text), decide(decision.Defaults(kind), text[:at]+"v"+text[at:])
		require.Equal(t, plain.Verdict, spoiled.Verdict)
		require.Equal(t, plain.Reasons, spoiled.Reasons)
		require.Equal(t, plain, decide(decision.Defaults(kind), text))
	})
}

// A trial turned from met into a miss never makes a verdict bolder.
func TestAWorseTrialMakesNoBolderVerdict(t *testing.T) {
	boldness := map[decision.Verdict]int{decision.StepBack: 0, decision.Split: 1, decision.Repeat: 1, decision.StepUp: 2}
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringMatching(`[mhx]{5}`).Draw(t, "set")
		rule := decision.Defaults(decision.Set)
		rule.MissGuard = 0
		at := rapid.IntRange(0, 4).Draw(t, "at")
		worse := text[:at] + "x" + text[at+1:]
		require.LessOrEqual(t, boldness[decide(rule, worse).Verdict], boldness[decide(rule, text).Verdict])
	})
}

func TestStartStepStaysBetweenHalfDownAndReached(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		steps := rapid.IntRange(1, 60).Draw(t, "steps")
		v := decision.Visit{
			Steps: steps, Reached: rapid.IntRange(0, steps-1).Draw(t, "reached"), Days: rapid.IntRange(0, 400).Draw(t, "days"),
			NewPlace: rapid.Bool().Draw(t, "place"), NewHandler: rapid.Bool().Draw(t, "handler"), Stopped: rapid.Bool().Draw(t, "stopped"),
		}
		at, drops := decision.StartStep(v)
		require.LessOrEqual(t, at, v.Reached)
		require.GreaterOrEqual(t, at, max(0, v.Reached-(steps+1)/2))
		require.Equal(t, at < v.Reached, len(drops) > 0 && v.Reached > 0)
		v.First = true
		at, drops = decision.StartStep(v)
		require.Equal(t, v.Reached, at)
		require.Empty(t, drops)
	})
}

func TestAgainSaysWhetherAVerdictStillHolds(t *testing.T) {
	rule := decision.Defaults(decision.Set)
	_, same := decision.Again(rule, decision.StepUp, trials("mmmmm"), false)
	require.True(t, same)
	_, same = decision.Again(rule, decision.Finished, trials("mmmmm"), false)
	require.True(t, same)
	now, same := decision.Again(rule, decision.StepUp, trials("mmmmx"), false)
	require.False(t, same)
	require.Equal(t, decision.Repeat, now)
	_, same = decision.Again(rule, decision.Split, trials("mmmmx"), false)
	require.True(t, same)

	// At the first step a count begins again without a step back, and the way back up has none either.
	count, regain := decision.Defaults(decision.CountUp), rule.Regain()
	for _, one := range []decision.Rule{count, regain} {
		for _, first := range []bool{true, false} {
			_, same = decision.Again(one, decision.Repeat, trials("xx"), first)
			require.Equal(t, first, same, one.Kind)
		}
	}
}

// On the way back up exposures are read by a run; what is said of them is whether the dog was at ease.
func TestTheWayBackUpSaysWhetherTheDogWasAtEase(t *testing.T) {
	for text, want := range map[string]decision.Code{
		"mm": decision.CalmGoing, "mmm": decision.CalmMet, "x/x": decision.GuardWary, "xx": decision.GuardWary,
	} {
		list := trials(text)
		for i := range list {
			state := 0
			if list[i].Outcome == trial.Missed {
				state = 2
			}
			list[i].State = &state
		}
		require.Equal(t, want, decision.DecideRegain(decision.Defaults(decision.Set), list, 2).Reasons[0].Code, text)
	}
}
