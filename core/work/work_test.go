package work_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/trial"
	"patientfox/core/work"
)

func f(x float64) *float64 { return &x }

// A dog that walks without a line pulls nothing: it leaves.
func TestNothingIsCalledAPullThatIsNone(t *testing.T) {
	w := work.Of(work.Walking)
	for item, pulls := range []bool{true, true, true, false} {
		m := &work.Moment{Criteria: criteria.Criteria{}.With(criteria.Paces, 3).With(criteria.Gear, float64(item)), Closed: 1}
		require.Equal(t, pulls, len(w.Own(work.PullKey, m)) > 0, item)
		require.Equal(t, map[bool]work.Key{true: work.PullKey, false: work.MissKey}[pulls], w.Row(m)[2].Key, item)
	}
}

// A remote has one key for what went wrong, whatever the board calls it.
func TestARemotesKeyForWhatWentWrong(t *testing.T) {
	paces := criteria.Criteria{}.With(criteria.Paces, 3)
	for _, c := range []struct {
		kind  work.Kind
		asked criteria.Criteria
		want  work.Key
	}{
		{work.Cued, criteria.Criteria{}, work.MissKey}, {work.Held, criteria.Criteria{}.With(criteria.Duration, 3), work.MissKey},
		{work.Walking, paces, work.PullKey}, {work.Walking, paces.With(criteria.Gear, 3), work.MissKey},
		{work.Counter, criteria.Criteria{}, work.HelpKey}, {work.Handling, criteria.Criteria{}, work.HelpKey},
		{work.Shaping, criteria.Criteria{}, work.MissKey}, {work.Attention, criteria.Criteria{}, work.MissKey},
	} {
		require.Equal(t, c.want, work.Of(c.kind).Wrong(&work.Moment{Criteria: c.asked, Closed: 1}), c.kind)
	}
}

// The first judgement is frozen: what it says is what it said.
func TestTheFirstJudgementStays(t *testing.T) {
	held := criteria.Criteria{}.With(criteria.Duration, 10)
	cued := criteria.Criteria{}.With(criteria.Latency, 3)
	for _, c := range []struct {
		name string
		kind work.Kind
		c    criteria.Criteria
		t    trial.Trial
		how  work.How
		want trial.Outcome
	}{
		{"held to the criterion", work.Held, held, trial.Trial{HeldS: f(10)}, work.How{Released: true}, trial.Met},
		{"a longer one was asked and broke after it", work.Held, held, trial.Trial{HeldS: f(11)}, work.How{}, trial.Met},
		{"broke before", work.Held, held, trial.Trial{HeldS: f(9.9)}, work.How{}, trial.Missed},
		{"helped and broke", work.Held, held, trial.Trial{HeldS: f(5)}, work.How{Helped: true}, trial.Missed},
		{"helped", work.Held, held, trial.Trial{HeldS: f(12)}, work.How{Helped: true}, trial.Helped},
		{"on a second cue", work.Held, held, trial.Trial{HeldS: f(12), Cues: 2}, work.How{}, trial.Late},
		{"spoiled", work.Held, held, trial.Trial{HeldS: f(1), Tapped: trial.Void}, work.How{}, trial.Void},
		{"in time", work.Cued, cued, trial.Trial{LatencyS: f(3), Cues: 1}, work.How{}, trial.Met},
		{"over the limit", work.Cued, cued, trial.Trial{LatencyS: f(3.01)}, work.How{}, trial.Late},
		{"no answer", work.Cued, cued, trial.Trial{Cues: 1}, work.How{}, trial.Missed},
		{"tapped met, measured late", work.Cued, cued, trial.Trial{Tapped: trial.Met, LatencyS: f(4)}, work.How{}, trial.Late},
		{"tapped met, two cues", work.Cued, cued, trial.Trial{Tapped: trial.Met, Cues: 2}, work.How{}, trial.Late},
		{"any other tap wins", work.Cued, cued, trial.Trial{Tapped: trial.Missed, LatencyS: f(1)}, work.How{}, trial.Missed},
		{"tapped met without measures", work.Cued, cued, trial.Trial{Tapped: trial.Met}, work.How{}, trial.Met},
		{"tapped void", work.Cued, cued, trial.Trial{Tapped: trial.Void, LatencyS: f(1)}, work.How{}, trial.Void},
	} {
		require.Equal(t, c.want, work.Of(c.kind).Judge(0, criteria.Definition{}, c.c, &c.t, c.how).Outcome, c.name)
	}
	require.True(t, work.Easier1(held, 9.99))
	require.False(t, work.Easier1(held, 10))
}

// Every measure that a step names is judged in every kind of work.
func TestEveryMeasureInEveryKind(t *testing.T) {
	item, lower := 2, 1
	measures := []struct {
		name       string
		key        criteria.Key
		asked      float64
		full, less trial.Trial
	}{
		{"seconds", criteria.Duration, 2, trial.Trial{HeldS: f(2)}, trial.Trial{HeldS: f(0.3)}},
		{"paces", criteria.Paces, 8, trial.Trial{Measures: trial.Measures{Paces: 8}}, trial.Trial{Measures: trial.Measures{Paces: 5}}},
		{
			"an approximation", criteria.Approx, 2, trial.Trial{Measures: trial.Measures{Offered: &item}},
			trial.Trial{Measures: trial.Measures{Offered: &lower}},
		},
		{"a latency", criteria.Latency, 1, trial.Trial{LatencyS: f(1)}, trial.Trial{LatencyS: f(4)}},
		{
			"check-ins", criteria.CheckIns, 3, trial.Trial{HeldS: f(60), Measures: trial.Measures{CheckIns: 3}},
			trial.Trial{HeldS: f(60), Measures: trial.Measures{CheckIns: 1}},
		},
	}
	for _, w := range work.All {
		for _, m := range measures {
			c := criteria.Criteria{}.With(m.key, m.asked)
			judge := func(one trial.Trial, tapped trial.Outcome, how work.How) work.Judged {
				if w.ByState {
					one.State = new(int)
				} else {
					one.Tapped = tapped
				}
				return w.Judge(2, criteria.Definition{}, c, &one, how)
			}
			timed := work.How{Timed: true}
			full := judge(m.full, trial.Met, timed)
			require.Equal(t, work.Judged{Outcome: trial.Met}, full, "%s, %s", w.Kind, m.name)
			want := map[criteria.Key]trial.Outcome{
				criteria.Duration: trial.LetGo, criteria.Paces: trial.LetGo, criteria.Approx: trial.Missed,
				criteria.Latency: trial.Late, criteria.CheckIns: trial.Missed,
			}[m.key]
			switch {
			case w.ByState && m.key != criteria.Duration: // an exposure has a state, and how long it was on
				continue
			case w.Minutes && m.key == criteria.Duration: // how long the minute is
				continue
			}
			require.Equal(t, want, judge(m.less, trial.Met, timed).Outcome, "%s, less %s than asked, tapped met", w.Kind, m.name)
			if !w.ByState {
				require.Equal(t, trial.Missed, judge(m.full, trial.Missed, timed).Outcome, "%s: a tap downwards stands", w.Kind)
				require.Equal(t, trial.Void, judge(m.less, trial.Void, timed).Outcome, w.Kind)
			}
			once := judge(trial.Trial{}, trial.Met, work.How{})
			require.Equal(t, trial.Met, once.Outcome, "%s: nothing is missed because nobody took %s", w.Kind, m.name)
			if m.key != criteria.Latency || w.Answers {
				require.True(t, once.Unmeasured, "%s, %s", w.Kind, m.name)
			}
		}
	}
}

func TestWhoEndedATrialSaysWhatItIs(t *testing.T) {
	ten := criteria.Criteria{}.With(criteria.Duration, 10)
	paces := criteria.Criteria{}.With(criteria.Paces, 8)
	cued := criteria.Criteria{}.With(criteria.Latency, 3)
	minute := criteria.Criteria{}.With(criteria.CheckIns, 2)
	lead := criteria.Criteria{}.With(criteria.Lead, 2)
	easier := criteria.Criteria{}.With(criteria.Lead, 3)
	calm, wary := 1, 2
	for _, c := range []struct {
		name string
		kind work.Kind
		c    criteria.Criteria
		t    trial.Trial
		how  work.How
		want work.Judged
	}{
		{"the dog broke", work.Held, ten, trial.Trial{HeldS: f(4)}, work.How{Timed: true}, work.Judged{Outcome: trial.Missed}},
		{"a longer one was asked, and broke after the criterion", work.Held, ten, trial.Trial{HeldS: f(11)}, work.How{Timed: true},
			work.Judged{Outcome: trial.Met}},
		{"released early", work.Held, ten, trial.Trial{Tapped: trial.Met, HeldS: f(4)}, work.How{Released: true, Timed: true},
			work.Judged{Outcome: trial.LetGo}},
		{"a thumb's breadth early", work.Held, ten, trial.Trial{Tapped: trial.Met, HeldS: f(9.75)}, work.How{Released: true, Timed: true},
			work.Judged{Outcome: trial.Met}},
		{"less was asked before", work.Held, ten, trial.Trial{
			Tapped: trial.Met, HeldS: f(5), Asked: map[criteria.Key]float64{criteria.Duration: 5},
		}, work.How{Released: true, Timed: true}, work.Judged{Outcome: trial.Met}},
		{"a pull", work.Walking, paces, trial.Trial{Tapped: trial.Met, Measures: trial.Measures{Paces: 8, Pulls: 1}}, work.How{Timed: true},
			work.Judged{Outcome: trial.Missed}},
		{"the line made the response", work.Cued, cued, trial.Trial{Tapped: trial.Late, LatencyS: f(4), Broke: trial.ByLine},
			work.How{Timed: true}, work.Judged{Outcome: trial.Helped}},
		{"within a thumb's breadth the key decides", work.Cued, cued, trial.Trial{Tapped: trial.Met, LatencyS: f(3.2)}, work.How{Timed: true},
			work.Judged{Outcome: trial.Met}},
		{"heard exactly, it does not", work.Cued, cued, trial.Trial{LatencyS: f(3.2)}, work.How{Timed: true},
			work.Judged{Outcome: trial.Late}},
		{"a minute stopped early, and enough looks", work.Attention, minute, trial.Trial{HeldS: f(20), Measures: trial.Measures{CheckIns: 2}},
			work.How{Timed: true}, work.Judged{Outcome: trial.Met}},
		{"a minute stopped early says nothing", work.Attention, minute, trial.Trial{HeldS: f(20)}, work.How{Timed: true},
			work.Judged{Outcome: trial.Void, Unmeasured: false}},
		{"you called it, in the middle of a minute", work.Attention, minute, trial.Trial{Tapped: trial.Helped, HeldS: f(9)},
			work.How{Timed: true}, work.Judged{Outcome: trial.Helped}},
		{"a minute to its end", work.Attention, minute, trial.Trial{HeldS: f(60.1), Measures: trial.Measures{CheckIns: 1}}, work.How{Timed: true},
			work.Judged{Outcome: trial.Missed}},
		{"taken short at ease", work.Handling, ten, trial.Trial{State: &calm, HeldS: f(0.3)}, work.How{Timed: true},
			work.Judged{Outcome: trial.LetGo}},
		{"taken short, and wary", work.Handling, ten, trial.Trial{State: &wary, HeldS: f(0.3)}, work.How{Timed: true},
			work.Judged{Outcome: trial.Missed}},
		{"pulled away", work.Handling, ten, trial.Trial{State: &calm, HeldS: f(12), Touch: trial.Touch{Pulled: true}}, work.How{Timed: true},
			work.Judged{Outcome: trial.Missed}},
		{"the distraction came much later than planned", work.Steadiness, lead,
			trial.Trial{Tapped: trial.Met, Measures: trial.Measures{LeadS: f(11.7)}}, work.How{Timed: true, Released: true, Below: &easier},
			work.Judged{Outcome: trial.Met, Easy: true}},
		{"it came much sooner, and it was met", work.Steadiness, lead,
			trial.Trial{Tapped: trial.Met, Measures: trial.Measures{LeadS: f(0.5)}}, work.How{Timed: true, Released: true, Below: &easier},
			work.Judged{Outcome: trial.Met}},
		{"it came much sooner, and it broke", work.Steadiness, lead,
			trial.Trial{Tapped: trial.Missed, Measures: trial.Measures{LeadS: f(0.5)}}, work.How{Timed: true, Below: &easier},
			work.Judged{Outcome: trial.Missed, Easy: true}},
		{"as planned, by the thumb", work.Steadiness, lead,
			trial.Trial{Tapped: trial.Met, Measures: trial.Measures{LeadS: f(2.4)}}, work.How{Timed: true, Released: true, Below: &easier},
			work.Judged{Outcome: trial.Met}},
	} {
		require.Equal(t, c.want, work.Of(c.kind).Judge(2, criteria.Definition{}, c.c, &c.t, c.how), c.name)
	}
}

func TestTheDefinitionSaysWhatIsInTime(t *testing.T) {
	def := criteria.Definition{Position: "nose on the palm", Cue: "“touch”", Cue2: "the palm held out", LatencyS: 2}
	judge := func(one trial.Trial, c criteria.Criteria) trial.Outcome {
		return work.Of(work.Cued).Judge(2, def, c, &one, work.How{}).Outcome
	}
	require.Equal(t, trial.Met, judge(trial.Trial{LatencyS: f(1.9), Cues: 2}, criteria.Criteria{}))
	require.Equal(t, trial.Late, judge(trial.Trial{LatencyS: f(1.9), Cues: 3}, criteria.Criteria{}))
	require.Equal(t, trial.Late, judge(trial.Trial{LatencyS: f(2.1)}, criteria.Criteria{}))
	require.Equal(t, trial.Met, judge(trial.Trial{LatencyS: f(2.1)}, criteria.Criteria{}.With(criteria.Latency, 3)), "a step's own limit wins")
}

// Every kind of work asks for what it needs, and is content once it is said.
func TestEachKindAsksForWhatIsMissing(t *testing.T) {
	full := criteria.Definition{
		Position: "as it should be", Postures: "any", Break: "a foot off", Cue: "“so”", Marker: "click", Release: "“go”", LatencyS: 2,
	}
	for _, kind := range work.All {
		require.NotEmpty(t, kind.Missing(criteria.Definition{Position: "x"}, nil), kind.Kind)
		steps := criteria.Criteria{}
		for _, key := range kind.Keys {
			steps = steps.With(key, 1)
		}
		require.Empty(t, kind.Missing(full, []criteria.Criteria{steps}), kind.Kind)
	}
	require.NotContains(t,
		strings.Join(work.Of(work.Shaping).Missing(criteria.Definition{CueBy: "none yet: the dog offers it"}, nil), " "), "cue?")
	asks := work.Of(work.Cued).Missing(criteria.Definition{Position: "nose on the palm", Cue: "touch"}, nil)
	require.Equal(t, []string{"What counts as wrong, or as a break?", "How fast must the dog answer?"}, asks)
}

// What a new ladder is proposed to begin with can be made, and asks what the kind of work is about.
func TestEachKindProposesALadder(t *testing.T) {
	for _, kind := range work.All {
		steps, problems := progression.Layout{Generators: []progression.Generator{kind.First}}.Steps(30)
		require.Empty(t, problems, kind.Kind)
		require.GreaterOrEqual(t, len(steps), 4, kind.Kind)
		require.Contains(t, steps[0].Values, kind.Keys[0], kind.Kind)
	}
}

// The demo and the tests press as a thumb would: a met trial takes its presses and not less than its time.
func TestWhatATrialTakes(t *testing.T) {
	paces := criteria.Criteria{}.With(criteria.Paces, 5)
	require.Equal(t, 4, work.Of(work.Walking).Presses(paces), "and the fifth closes it")
	require.InDelta(t, 3.25, work.Of(work.Walking).Takes(paces), 1e-9)
	require.Equal(t, 5, work.Of(work.Walking).Paces(paces))
	require.Zero(t, work.Of(work.Held).Paces(paces))
	minute := work.Of(work.Attention)
	require.Equal(t, 60.0, minute.Seconds(criteria.Criteria{}))
	require.Equal(t, 30.0, minute.Seconds(criteria.Criteria{}.With(criteria.Duration, 30)))
	require.Equal(t, 60.0, minute.Least(criteria.Criteria{}))
	require.Equal(t, 1, work.Of(work.Steadiness).Presses(criteria.Criteria{}.With(criteria.Lead, -2)))
	require.Zero(t, work.Of(work.Steadiness).Presses(criteria.Criteria{}.With(criteria.Lead, 0)))
	require.Zero(t, work.Of(work.Cued).Seconds(criteria.Criteria{}))
}

func TestANameThatNobodyKnowsIsWorkThatIsOnlyTapped(t *testing.T) {
	require.False(t, work.Kind("juggling").Known())
	unknown := work.Of("juggling")
	m := work.Moment{}
	require.Equal(t, []work.Act{{Do: work.Cue}}, unknown.Start(&m))
	missed := unknown.Judge(work.JudgeNow, criteria.Definition{}, criteria.Criteria{}, &trial.Trial{Tapped: trial.Missed}, work.How{})
	require.Equal(t, trial.Missed, missed.Outcome)
	require.NotEmpty(t, unknown.Missing(criteria.Definition{}, nil))
}

// On a line a call that fails ends with the line, and the keys say so.
func TestOnALineTheKeysNameTheLine(t *testing.T) {
	row := work.Of(work.Cued).Row(&work.Moment{OnLine: true})
	labels := []string{row[0].Label, row[1].Label, row[2].Label, row[3].Label}
	require.Equal(t, []string{"Answered", "Slow", "Line helped", "Reeled in"}, labels)
}
