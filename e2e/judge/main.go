// Command judge measures how often what the program claims is wrong, on simulated dogs: forecasts, claims, stop signs, proof,
// predictions, and what each rule costs. It writes docs/judgement.md; `make judge` runs it.
package main

import (
	"errors"
	"flag"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/fit"
	"patientfox/core/load"
	"patientfox/core/outlook"
	"patientfox/core/phrase"
	"patientfox/core/reinforce"
	"patientfox/internal/judge"
)

// The band of 80 % may hold between these shares of the dogs.
const least, most = 0.70, 0.90

type page struct {
	strings.Builder
	missed []string
}

func (p *page) line(format string, args ...any) { fmt.Fprintf(p, format+"\n", args...) }

// head begins a table.
func (p *page) head(cells ...string) {
	p.line("| %s |", strings.Join(cells, " | "))
	p.line("|%s", strings.Repeat(" --- |", len(cells)))
}

// bound is a cell that says whether a share of n keeps its bounds: it misses them where chance explains that in less than 1 of 100.
func (p *page) bound(what string, share float64, n int, lo, hi float64) string {
	likely := evidence.Wilson(int(math.Round(share*float64(n))), n, 0.98)
	if n > 0 && (likely.Hi < lo || likely.Lo > hi) {
		p.missed = append(p.missed, what)
		return fmt.Sprintf("**%.1f %%**", 100*share)
	}
	return fmt.Sprintf("%.1f %%", 100*share)
}

func main() {
	dogs := flag.Int("dogs", 1000, "simulated dogs of each sort")
	seed := flag.Uint64("seed", 1, "another seed is other dogs")
	out := flag.String("out", "docs/judgement.md", "the file to write")
	flag.Parse()
	var p page
	p.line("# How often what Patient Fox claims is wrong\n")
	p.line("Measured on %d simulated dogs of each sort, seed %d, on %s, by `make judge`. Bold figures miss their bound by more than "+
		"chance explains. The dogs are made up: they show that a claim keeps its error where its assumptions hold, and how it fails where "+
		"they do not.\n",
		*dogs, *seed, time.Now().Format("2 January 2006"))
	p.forecasts(*dogs, *seed)
	p.newDogs(*dogs/25, *seed)
	p.claims(*dogs, *seed)
	p.proofs(*dogs, *seed)
	p.loads(*dogs)
	p.rules(*dogs, *seed)
	if err := os.WriteFile(*out, []byte(p.String()), 0o644); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	fmt.Print(p.String())
	if len(p.missed) > 0 {
		fmt.Fprintln(os.Stderr, "missed:", strings.Join(p.missed, ", "))
		os.Exit(1)
	}
}

// forecasts are held against dogs of each form; those with which a forecast reckons must keep their band.
func (p *page) forecasts(dogs int, seed uint64) {
	p.line("## Forecasts\n\nSixteen steps; the forecast sees eight sessions. Its 80 %% band should hold the sessions that the dog then " +
		"takes in 70 to 90 of 100 of the forms with which it reckons (first three).\n")
	p.head(append([]string{"rule"}, named(outlook.Learners)...)...)
	for _, one := range []struct {
		name string
		kind decision.Kind
		pay  reinforce.Schedule
	}{
		{"sets", decision.Set, reinforce.Schedule{}}, {"runs", decision.Run, reinforce.Schedule{}},
		{"a gate", decision.Gate, reinforce.Schedule{}},
		{"sets, every third paid", decision.Set, reinforce.Schedule{Way: reinforce.Fixed, K: 3}},
	} {
		row, kind := one.name, one.kind
		course := outlook.JudgedCourse(decision.Usual(kind))
		course.Pay = one.pay
		n := len(outlook.Learners)
		shares, counts, errs := make([]float64, n), make([]int, n), make([]error, n)
		var all sync.WaitGroup
		for i, form := range outlook.Learners {
			n := dogs / 10
			if reckoned(form) {
				n = dogs / 5
			}
			all.Go(func() {
				var j outlook.Judged
				j, errs[i] = outlook.Judge(form, course, max(50, n), 8, 400, seed)
				shares[i], counts[i] = float64(j.Held)/float64(max(1, j.Dogs)), j.Dogs
			})
		}
		all.Wait()
		if err := errors.Join(errs...); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		for i, form := range outlook.Learners {
			lo, hi := 0.0, 1.0
			if kind == decision.Set && reckoned(form) {
				lo, hi = least, most
			}
			row += " | " + p.bound(fmt.Sprintf("forecast %s %s", kind, form), shares[i], counts[i], lo, hi)
		}
		p.line("| %s |", row)
	}
	p.line("")
}

// newDogs are forecast before anything is known of them.
func (p *page) newDogs(practices int, seed uint64) {
	p.line("## A new dog\n\nWithout a record a forecast begins from the practice's own plans, here of dogs that are more like each other " +
		"than dogs are. *Off* is how many times too long or too short half of the runs are, on average.\n")
	p.head("own plans", "its band holds", "off", "the band of what is usual holds", "off")
	for _, own := range []int{3, 6, 12} {
		j, err := outlook.JudgeNew(outlook.CourseOf(decision.Usual(decision.Run), 10), practices, own, 10, 300, seed)
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		n := float64(j.Dogs)
		p.line("| %d | %s | %.2f | %.1f %% | %.2f |", own, p.bound(fmt.Sprint("new dog ", own), float64(j.Own)/n, j.Dogs, least, most),
			math.Exp(j.OwnOff), 100*float64(j.Usual)/n, math.Exp(j.UsualOff))
	}
	p.line("")
}

func reckoned(form outlook.Form) bool { return slices.Contains(outlook.Forms, form) }

func named(forms []outlook.Form) (names []string) {
	for _, f := range forms {
		names = append(names, strings.ReplaceAll(string(f), "_", " "))
	}
	return names
}

func (p *page) claims(dogs int, seed uint64) {
	n := float64(dogs)
	p.line("## Claims\n")
	p.head("claim", "dogs", "told in vain", "told where it is so")
	for _, mood := range []float64{0.4, 0.65} {
		told, _ := judge.Conditions(dogs, mood, 0, seed)
		_, three := judge.Conditions(dogs, mood, 1.0986, seed+1)
		_, five := judge.Conditions(dogs, mood, 1.6094, seed+1)
		p.line("| something is associated with a condition, ever in 40 sessions | six conditions, mood %g | %s | %.0f %% at three times the "+
			"odds, %.0f %% at five |", mood, p.bound("conditions", float64(told)/n, dogs, 0, 0.07), 100*float64(three)/n, 100*float64(five)/n)
	}
	p.line("| cold trials differ, ever in 40 sessions | mood 0.65 | %s | %.0f %% at a fifth of the odds |",
		p.bound("cold", float64(judge.Cold(dogs, 0, seed))/n, dogs, 0, 0.05), 100*float64(judge.Cold(dogs, -1.6094, seed))/n)
	early := []int{2, 3, judge.Never}
	told, _ := judge.Tired(dogs, 0, early, seed)
	slow, slowNear := judge.Tired(dogs, 0.2, early[2:], seed)
	fast, fastNear := judge.Tired(dogs, 0.4, early[2:], seed)
	p.line("| it falls off within a session, ever in 40 sessions | of 25 trials, mood 0.65 | %s | %.0f %% where each trial after the "+
		"fifteenth costs 0.2 on the logit, %.0f %% of these within two trials; %.0f %% and %.0f %% where it costs 0.4 |",
		p.bound("tiring", float64(told)/n, dogs, 0, 0.07), 100*float64(slow)/n, 100*float64(slowNear)/float64(max(1, slow)),
		100*float64(fast)/n, 100*float64(fastNear)/float64(max(1, fast)))
	p.line("| days off cost more, the more there are, ever in 40 breaks | mood 0.65 | %s | %.0f %% where each doubling costs 0.4 on the "+
		"logit, %.0f %% where it costs 0.8 |", p.bound("days off", float64(judge.Lost(dogs, 0, seed))/n, dogs, 0, 0.07),
		100*float64(judge.Lost(dogs, 0.4, seed))/n, 100*float64(judge.Lost(dogs, 0.8, seed))/n)
	p.line("| more comes back from home than is seen in visits, ever in 12 weeks | days and visits differ, mood 0.4 | %s | %.0f %% where the "+
		"counting is kinder by 1 on the logit, %.0f %% by 2 |",
		p.bound("home and visit", float64(judge.Homes(dogs, 0.4, 0, seed))/n, dogs, 0, 0.05),
		100*float64(judge.Homes(dogs, 0.4, 1, seed))/n, 100*float64(judge.Homes(dogs, 0.4, 2, seed))/n)
	for _, rate := range []float64{0.7, 0.8, 0.9} {
		told := judge.Stops(dogs, 60, judge.Steady(rate), judge.Steady(1), seed)
		p.line("| finish: it grows slower, or worse | a session of 60 trials at a rate of %g | %s | |", rate,
			p.bound("stop", float64(told)/n, dogs, 0, 0.08))
	}
	p.line("| the same, by the 30th trial | from 0.9 to 0.5 at the 15th | | %.0f %% |",
		100*float64(judge.Stops(dogs, 30, judge.Falls, judge.Steady(1), seed))/n)
	p.line("| the same, by the 30th trial | twice as slow from the 15th on | | %.0f %% |",
		100*float64(judge.Stops(dogs, 30, judge.Steady(0.95), judge.Tires, seed))/n)
	p.line("")
}

func (p *page) proofs(dogs int, seed uint64) {
	n := float64(dogs)
	p.line("## Proof of 95 %%, within 40 sessions\n")
	p.head("right in", "trials a session", "pass", "half of these after", "pass with a mood of 0.4")
	for _, rate := range []float64{0.93, 0.95, 0.98, 0.99} {
		for _, per := range []int{8, 15} {
			passed, median := judge.Proofs(dogs, per, rate, 0, seed)
			moody, _ := judge.Proofs(dogs, per, rate, 0.4, seed)
			hi := 1.0
			if rate <= 0.95 {
				hi = 0.10
			}
			p.line("| %.0f %% | %d | %s | %d sessions | %.1f %% |", 100*rate, per, p.bound("proof", float64(passed)/n, dogs, 0, hi), median,
				100*float64(moody)/n)
		}
	}
	p.line("")
}

func (p *page) loads(dogs int) {
	l := judge.Load(max(400, dogs/2))
	p.line("## What makes it harder and easier\n\nAfter 36 sessions of 12 trials, with learning and mood. An 80 %% range should hold " +
		"what is true in 70 to 92 of 100.\n")
	p.head("what", "dogs", "within its range")
	p.line("| the threshold distance | %d | %s |", l.Threshold.N, p.bound("threshold", l.Threshold.Share(), l.Threshold.N, 0.70, 0.92))
	for term := load.Distance; term <= load.Help; term++ {
		if h, tried := l.Levers[term]; tried && h.N > 60 {
			p.line("| %s | %d | %s |", strings.ToLower(phrase.Effect(term)), h.N, p.bound("lever", h.Share(), h.N, 0.70, 0.92))
		}
	}
	p.line("| a lever without effect is left unclaimed | %d | %s |", l.Harmless.N,
		p.bound("harmless", l.Harmless.Share(), l.Harmless.N, 0.93, 1))
	all, model, running := judge.Predictions(max(200, dogs/4))
	p.line("\nMean squared error of what was predicted: %.4f; of the running rate of the step: %.4f.\n", model, running)
	p.head("predicted", "trials", "on average", "came")
	if model > running {
		p.missed = append(p.missed, "predictions")
	}
	for i, t := range fit.Tenths(all) {
		came := float64(t.Met) / float64(max(1, t.N))
		lo, hi := 0.0, 1.0
		if t.N >= 500 {
			lo, hi = t.Mean-0.05, t.Mean+0.05
		}
		p.line("| %d to %d %% | %d | %.1f %% | %s |", 10*i, 10*i+10, t.N, 100*t.Mean, p.bound("tenth", came, t.N, lo, hi))
	}
	p.line("")
}

func (p *page) rules(dogs int, seed uint64) {
	p.line("## What each rule costs\n\nSessions until the last step is passed (half of the dogs; 300 is the bound), and the share of trials " +
		"that were not right. New plans get figures under which no more than one trial in four is not right on average, counting up apart; " +
		"*before* are those that older plans may have.\n")
	for _, steps := range []int{6, 12, 20} {
		p.head(append(append([]string{fmt.Sprint(steps, " steps")}, named(outlook.Learners)...), "not right, mean")...)
		for _, r := range judge.Rules(steps, dogs, seed) {
			name := phrase.RuleName(r.Kind)
			if !r.New {
				name += ", before"
			}
			for _, c := range r.Costs {
				name += fmt.Sprintf(" | %d, %.0f %%", c.Sessions.Mid, 100*c.Wrong)
			}
			hi := 1.0
			if r.New && r.Kind != decision.CountUp {
				hi = 0.25
			}
			p.line("| %s | %s |", name, p.bound("rule "+string(r.Kind), r.Wrong(), dogs, 0, hi))
		}
		p.line("")
	}
}
