package work_test

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/trial"
	"patientfox/core/work"
)

var update = flag.Bool("update", false, "write docs/trials.md anew")

var actNames = map[work.Do]string{
	work.Cue: "a cue, or the start", work.Stimulus: "the stimulus begins", work.Distraction: "the distraction comes",
	work.Away: "the distraction is gone", work.Reward: "paid", work.Pay: "paid", work.Taut: "the line is taut",
	work.Answered: "it answers, and holds", work.Offers: "an approximation",
}

// meaning says what acts log.
func meaning(acts []work.Act) string {
	var parts []string
	for _, a := range acts {
		switch a.Do {
		case work.Close:
			parts = append(parts, "trial "+map[bool]string{true: string(a.Outcome), false: "by its measures"}[a.Outcome != ""])
		case work.Expose:
			parts = append(parts, fmt.Sprintf("exposure, state %d", a.State))
		case work.Count:
			parts = append(parts, "one "+strings.ReplaceAll(a.What, "_", "-"))
		default:
			parts = append(parts, actNames[a.Do])
		}
	}
	return strings.Join(parts, ", ")
}

// keyed says what a key of the row logs.
func keyed(w *work.Work, b work.Button, m *work.Moment) string {
	if own := w.Own(b.Key, m); len(own) > 0 {
		return meaning(own)
	}
	if item, is := strings.CutPrefix(string(b.Key), string(work.Offered)); is {
		return "approximation " + item
	}
	states := map[work.Key]int{work.MetKey: 1, work.LateKey: 2, work.HelpKey: 3, work.MissKey: 4}
	if w.ByState {
		return fmt.Sprintf("exposure, state %d", states[b.Key])
	}
	if b.Key == work.HelpKey && w.Prompted() && m.Trial != nil {
		return "one prompt, and the trial goes on: what its mark closes is helped"
	}
	return "trial " + string(b.Key)
}

// after are the keys by which more is said of the trial that was closed last.
func after(w *work.Work) []string {
	var list []string
	if len(w.Errors()) > 0 {
		var names []string
		for _, e := range w.Errors() {
			if e.Spoils {
				e.Name += " (not met)"
			}
			names = append(names, e.Name)
		}
		list = append(list, "up to six errors, by plan; at first "+strings.Join(names, ", "))
	}
	if w.Prompted() {
		list = append(list, "how it was helped, after a helped one: "+strings.Join(work.Prompts, ", "))
	}
	if !w.ByState {
		list = append(list, "*in position again* s from the miss, after a miss", "*reset* the response, after one that was not met")
	}
	return append(list, "*my mistake*, and which: "+strings.Join(work.Mistakes, ", "))
}

// judged says what a trial of a step counts as that reached less than one measure asks: marked, broken by the dog, tapped once.
func judged(w *work.Work, key criteria.Key) [3]string {
	c := criteria.Criteria{}.With(key, 4)
	less, item := 1.0, 1
	short := trial.Trial{
		HeldS: &less, Measures: trial.Measures{Paces: 1, CheckIns: 1, Offered: &item, LeadS: &less, OutS: &less},
	}
	if slow := 9.0; key == criteria.Latency {
		short.LatencyS = &slow
	}
	if key == criteria.CheckIns {
		minute := 60.0
		short.HeldS = &minute
	}
	if lead := 9.0; key == criteria.Lead {
		short.LeadS = &lead
	}
	var out [3]string
	for i, how := range []work.How{{Timed: true, Released: true, Marked: true}, {Timed: true}, {}} {
		one := short
		if i == 2 {
			one = trial.Trial{}
		}
		switch {
		case w.ByState:
			one.State = new(int)
			one.Pulled = i == 1
		case i != 1:
			one.Tapped = trial.Met
		default:
			one.Tapped = ""
			if key == criteria.Latency {
				one.Tapped = trial.Late
			}
		}
		j := w.Judge(work.JudgeNow, criteria.Definition{}, c, &one, how)
		out[i] = string(j.Outcome)
		if j.Easy {
			out[i] += ", easy"
		}
		if j.Unmeasured {
			out[i] += ", unmeasured"
		}
	}
	return out
}

// more are the keys that are folded away, and what each logs.
func more(w *work.Work) []string {
	list := []string{
		"*doesn’t count* trial void", "*growl or snap* one growl", "*it left* one left, then one back",
		"*ate slowly*, *refused* and where the last treat went: said of the last pay", "*settled*, *lively*, *over-excited* the arousal",
	}
	if !w.ByState {
		list = append(list, "*ended early* trial let_go, within a trial", "*how the dog is now* a state from 0 to 4",
			"*what interrupted it*, *source*, *response*: said of a trial that was not met", "*line helped* said of a right one")
	}
	if w.OnCue {
		list = append(list, "*cue again* one more cue, within a trial", "*offered* one offer, between trials")
	}
	if w.Asks() {
		list = append(list, "*went before the cue* trial missed, with that error")
	}
	if w.Shapes {
		list = append(list, "*marked on purpose* the last trial was marked though it was less than asked: ended early")
	}
	if w.HandsOn {
		list = append(list, "*really done* of the next touch alone")
	}
	return append(list, "*as worked* the settings of the next trials, as they really are")
}

// beside is what else can be corrected of a trial.
func beside(w *work.Work) []string {
	list := []string{"treats paid, where they went and how they were taken", "the settings as worked", "handler", "skill", "my mistake"}
	if !w.ByState {
		list = append(list, "errors", "times helped and how", "in position again after, s", "what interrupted it", "what it did instead",
			"source of the error", "response to it")
	}
	return list
}

// docs/trials.md says of every kind of work which keys it has, what they log, how its measures are judged, and what can be corrected.
func TestTheTableOfTrialsIsCurrent(t *testing.T) {
	var out strings.Builder
	out.WriteString("# Trials\n\nMade from `core/work` by `go test ./core/work -update`: what each kind of work has on its board, " +
		"how what it measures is judged, and what Review can correct. The board's numbers are those on its keys.\n\n" +
		"Every measure that a step names is judged in every kind of work. *Marked short* is a trial that the trainer ended before the " +
		"measure was reached; *broken short* one that the dog did; *one tap* one that was logged without its times.\n")
	measures := []struct {
		name string
		key  criteria.Key
	}{
		{"seconds", criteria.Duration}, {"latency", criteria.Latency}, {"paces", criteria.Paces}, {"check-ins", criteria.CheckIns},
		{"approximation", criteria.Approx}, {"lead", criteria.Lead}, {"distraction out", criteria.Out},
	}
	for _, w := range work.All {
		m := moments(t, w)
		fmt.Fprintf(&out, "\n## %s\n\n| when | key | number | logs |\n| --- | --- | --- | --- |\n", w.Label)
		between, within := m[0], m[1]
		start, mark := w.Starting(&between), w.Marking(within)
		fmt.Fprintf(&out, "| between trials | **%s** | | %s |\n", start.Label, meaning(w.Start(&between)))
		fmt.Fprintf(&out, "| within a trial | **%s** | | %s |\n", mark.Label, meaning(w.Main(&within)))
		for _, b := range w.Row(&within) {
			fmt.Fprintf(&out, "| within a trial | %s | %s | %s |\n", b.Label, b.Kbd, keyed(w, b, &within))
		}
		for _, one := range []struct {
			when string
			at   *work.Moment
		}{{"between trials", &between}, {"within a trial", &within}} {
			for _, b := range w.Beside(one.at) {
				fmt.Fprintf(&out, "| %s | %s | | %s |\n", one.when, b.Label, meaning(w.Own(b.Key, one.at)))
			}
		}
		out.WriteString("\n| measure | marked short | broken short | one tap |\n| --- | --- | --- | --- |\n")
		for _, one := range measures {
			if w.ByState && one.key != criteria.Duration || w.Minutes && one.key == criteria.Duration {
				continue // an exposure has a state; how long a free minute is, is no measure
			}
			j := judged(w, one.key)
			fmt.Fprintf(&out, "| %s | %s | %s | %s |\n", one.name, j[0], j[1], j[2])
		}
		var names []string
		for _, one := range w.Measures(within.Criteria) {
			names = append(names, strings.ToLower(one.Label))
		}
		fmt.Fprintf(&out, "\nAfter a trial, gone at the next start: %s.\n", strings.Join(after(w), "; "))
		fmt.Fprintf(&out, "\nMore keys: %s.\n", strings.Join(more(w), "; "))
		fmt.Fprintf(&out, "\nCorrected on Review: %s; %s.\n", strings.Join(names, ", "), strings.Join(beside(w), ", "))
	}
	const file = "../../docs/trials.md"
	if *update {
		require.NoError(t, os.WriteFile(file, []byte(out.String()), 0o644))
	}
	want, err := os.ReadFile(file)
	require.NoError(t, err)
	require.Equal(t, string(want), out.String(), "go test ./core/work -update writes it anew")
}
