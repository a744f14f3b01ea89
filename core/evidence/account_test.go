package evidence_test

import (
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/evidence"
	"patientfox/core/trial"
)

// trialsOf makes trials out of letters: m met, l late, h helped, x missed, v void, e easy; a bar begins another
// session, whose first trial is cold.
func trialsOf(marks string) []trial.Trial {
	of := map[rune]trial.Outcome{'m': trial.Met, 'l': trial.Late, 'h': trial.Helped, 'x': trial.Missed, 'v': trial.Void, 'e': trial.Met}
	var list []trial.Trial
	session, cold := 0, true
	for _, mark := range marks {
		if mark == '|' {
			session, cold = session+1, true
			continue
		}
		list = append(list, trial.Trial{Outcome: of[mark], Easy: mark == 'e', Session: strconv.Itoa(session), Cold: cold})
		cold = false
	}
	return list
}

func TestColdTrialsAreCountedApart(t *testing.T) {
	f := evidence.FirstTrials(trialsOf("xmmev|mmm|xml"))
	require.Equal(t, evidence.Tally{Met: 1, Missed: 2}, f.Cold)
	require.Equal(t, evidence.Tally{Met: 5, Late: 1}, f.Warm)
	require.True(t, evidence.OnlyCold(trialsOf("xmm|xml")))
	require.False(t, evidence.OnlyCold(trialsOf("xmm|xmx")), "a warm one was missed too")
	require.False(t, evidence.OnlyCold(trialsOf("xmm|mmm")), "that was another day")
	require.False(t, evidence.OnlyCold(trialsOf("x")), "there is nothing to compare it with")
}

// A tally says how many, and neither in which order nor how they came about.
func TestATallyIsReadForItsCountAlone(t *testing.T) {
	trials := trialsOf("mmx|xxxmm|xm")
	for i := range trials[3:8] {
		trials[3+i].Tally, trials[3+i].Cold = true, false
	}
	trials[2].After = "wait"
	f := evidence.FirstTrials(trials)
	require.Equal(t, []evidence.Tally{{Met: 1, Missed: 1}, {Met: 2, Missed: 1}}, []evidence.Tally{f.Cold, f.Warm})
	require.Equal(t, 2, f.Within(trials).Compared)
	require.Equal(t, 1, evidence.ErrorRun(trials))
	require.Equal(t, evidence.Help{OnOwn: 3}, evidence.HelpOf(trials))
	after := trialsOf("xmm")
	after[0].After, after[1].Tally = "wait", true
	require.Equal(t, []evidence.Followed{{How: "wait", N: 1}}, evidence.ErrorResponses(after), "what came next is not known")
}

func TestColdTrialsAreComparedWithinSessions(t *testing.T) {
	missed := trialsOf("xmmmm|xmmmm|xmmmm|xmmmm|xmmmm|xmmmm")
	hard := evidence.FirstTrials(missed).Within(missed)
	require.Equal(t, 6, hard.Compared)
	require.InDelta(t, 2*math.Pow(0.2, 6), hard.P, 1e-12, "none of six, each with a chance of four in five")
	require.True(t, hard.Clear() && hard.Harder)
	require.False(t, evidence.FirstTrial{}.Within(trialsOf("mmm|mmm")).Clear(), "nothing was missed: nothing to compare")
}

func TestLatencyAndItsTrend(t *testing.T) {
	var trials []trial.Trial
	for i := range 24 {
		s := 1.0
		if i >= 14 {
			s = 1.5
		}
		trials = append(trials, trial.Trial{Outcome: trial.Met, LatencyS: &s})
	}
	wrong := 9.0
	l := evidence.Latencies(append(trials, trial.Trial{Outcome: trial.Missed, LatencyS: &wrong}))
	require.Equal(t, 24, l.N, "only right responses have a latency that says something")
	require.InDelta(t, 1.0, l.Median, 1e-9)
	slower, faster := l.Changed()
	require.True(t, slower)
	require.False(t, faster)
	short := evidence.Latencies(trials[:19])
	slower, faster = short.Changed()
	require.False(t, slower || faster, "too few to say")
	require.True(t, math.IsNaN(evidence.Latencies(nil).Median))
}

func TestCuesErrorsAndControl(t *testing.T) {
	trials := trialsOf("mlxm")
	for i := range trials {
		trials[i].Cues = i + 1
	}
	require.Equal(t, evidence.Cues{Responses: 3, Cues: 10}, evidence.CueEconomy(trials))
	require.InDelta(t, 0.3, evidence.CueEconomy(trials).Economy(), 1e-9)
	require.Equal(t, 2, evidence.ErrorRun(trialsOf("mxhvmx|xx")), "a run ends with its session; void is not in it")
	require.Equal(t, 3, evidence.ErrorRun(trialsOf("mxvhexm")))
	require.InDelta(t, 0.75, evidence.StimulusControl(9, 3), 1e-9)
}

func TestWhatFollowedWhatWasDone(t *testing.T) {
	trials := trialsOf("xmxvx|mx")
	trials[0].After, trials[2].After, trials[4].After = "waited", "reset", "waited"
	require.Equal(t, []evidence.Followed{
		{How: "waited", N: 2, Next: 1, Right: 1}, // the second was the last of its session
		{How: "reset", N: 1, Next: 1, Right: 0},
	}, evidence.ErrorResponses(trials))
}

func TestWhatWasDoneInstead(t *testing.T) {
	c := evidence.Confused([]trial.Trial{
		{Outcome: trial.Met, Skill: "sit"}, {Outcome: trial.Missed, Skill: "sit", Instead: "down"},
		{Outcome: trial.Missed, Skill: "sit"}, {Outcome: trial.Late, Skill: "down"}, {Outcome: trial.Void, Skill: "down"},
	})
	require.Equal(t, []string{"sit", "down"}, c.Names)
	require.Equal(t, [][]int{{1, 1}, {0, 1}}, c.Counts)
}

func TestTracksAreComparedOnlyWhereThereIsEnough(t *testing.T) {
	good, poor := evidence.Tally{Met: 19, Missed: 1}, evidence.Tally{Met: 11, Missed: 9}
	require.True(t, evidence.Behind(poor, good))
	require.False(t, evidence.Behind(good, poor))
	require.False(t, evidence.Behind(evidence.Tally{Met: 5, Missed: 9}, good), "fourteen trials are too few")
	require.True(t, evidence.UnderTrained(9, 20))
	require.False(t, evidence.UnderTrained(10, 20))
}

// No trial is counted twice, and none is lost.
func TestCountsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		trials := trialsOf(rapid.StringMatching(`[mlhxve|]{0,60}`).Draw(t, "marks"))
		for i := range trials {
			trials[i].Handler = rapid.SampledFrom([]string{"a", "b", "c"}).Draw(t, "handler")
			trials[i].Step = strconv.Itoa(i % 4)
		}
		var all, by evidence.Tally
		for _, one := range trials {
			if one.Counted() {
				all.Add(one.Outcome)
			}
		}
		_, tallies := evidence.TallyBy(trials, func(t *trial.Trial) string { return t.Handler })
		for _, tally := range tallies {
			by = by.Plus(tally)
		}
		f := evidence.FirstTrials(trials)
		require.Equal(t, all, by)
		require.Equal(t, all, f.Cold.Plus(f.Warm))
	})
}
