package insight

import (
	"cmp"
	"fmt"
	"math"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// helpSection says how often the dog answered without more help than its step begins with, and how it was helped.
func (a *account) helpSection() app.Section {
	h := evidence.HelpOf(a.Evidence)
	s := app.Section{Key: "help", Title: "Help", Small: smallIf(h.N())}
	if h.N() > 0 {
		line := fmt.Sprintf("Without more help %d of %d", h.OnOwn, h.N())
		if h.Planned > 0 {
			line += fmt.Sprintf(", after the help that the step plans %d", h.Planned)
		}
		s.Lines = []string{fmt.Sprintf("%s, only with more help %d.", line, h.Unplanned)}
	}
	if h.Prompts > 0 {
		s.Lines = append(s.Lines, fmt.Sprintf("%s in %d, %.2f a response.", say.Upper(say.Count(h.Prompts, "prompt")), h.N(), h.PerResponse()))
	}
	kinds := evidence.CountNamed(a.Evidence, func(t *trial.Trial) []string {
		if t.Prompt == "" || t.Prompts == 0 {
			return nil
		}
		return []string{t.Prompt}
	})
	if len(kinds) > 0 {
		s.Lines = append(s.Lines, "How: "+listNamed(kinds)+".")
	}
	s.Table = a.helpTable(h)
	if at := a.Reached(); at < len(a.Steps) {
		for _, key := range fades {
			if c := a.Steps[at].Criteria; c.Has(key) {
				if d, ok := criteria.Find(key); ok {
					s.Lines = append(s.Lines, fmt.Sprintf("%s at step %d: %s.", d.Label, at+1, c.Item(key)))
				}
			}
		}
	}
	return s
}

// helpTable is help step by step, nil where there never was any.
func (a *account) helpTable(all evidence.Help) *app.Table {
	if all.N() == all.OnOwn {
		return nil
	}
	t := &app.Table{
		Key: "help", Title: "Help, step by step",
		Head: []string{"Step", "Without more help", "After planned help", "With more help", "Prompts a response"},
	}
	by := a.bySteps()
	for i := len(a.Steps) - 1; i >= 0; i-- {
		if h := evidence.HelpOf(by[i]); h.N() > 0 {
			t.Add(strconv.Itoa(i+1), strconv.Itoa(h.OnOwn), strconv.Itoa(h.Planned), strconv.Itoa(h.Unplanned), fmt.Sprintf("%.2f", h.PerResponse()))
		}
	}
	return t
}

func listNamed(list []evidence.Named) string {
	var parts []string
	for _, one := range list {
		parts = append(parts, fmt.Sprintf("%s %d", one.Name, one.N))
	}
	return say.List(parts)
}

// namedErrors counts what the dog did wrong, step by step.
func (a *account) namedErrors() app.Section {
	s := app.Section{Key: "named", Title: "What went wrong"}
	all := evidence.CountNamed(a.Evidence, func(t *trial.Trial) []string { return t.Errors })
	if len(all) == 0 {
		return s
	}
	t := &app.Table{Key: "named", Title: "Errors, step by step", Head: []string{"Step", "Trials"}}
	for _, one := range all {
		t.Head = append(t.Head, say.Upper(one.Name))
	}
	by := a.bySteps()
	for i := len(a.Steps) - 1; i >= 0; i-- {
		if len(by[i]) == 0 {
			continue
		}
		row := []string{strconv.Itoa(i + 1), strconv.Itoa(len(by[i]))}
		for _, one := range all {
			n := 0
			for _, here := range evidence.CountNamed(by[i], func(t *trial.Trial) []string { return t.Errors }) {
				if here.Name == one.Name {
					n = here.N
				}
			}
			row = append(row, strconv.Itoa(n))
		}
		t.Add(row...)
	}
	s.Lines = []string{fmt.Sprintf("In %s: %s.", say.Count(len(a.Evidence), "trial"), listNamed(all))}
	s.Table = t
	return s
}

// mistakeSection counts the handler's own; a cue that was repeated beyond what the definition allows is one.
func (a *account) mistakeSection() app.Section {
	s := app.Section{Key: "mistakes", Title: "The handler’s mistakes"}
	allowed := a.Def.CuesAllowed()
	n := 0
	all := evidence.CountNamed(a.Evidence, func(t *trial.Trial) (names []string) {
		switch t.Mistake {
		case "":
		case work.MistakeNotSaid:
			names = append(names, "not said which")
		default:
			names = append(names, t.Mistake)
		}
		if t.State == nil && t.Cues > allowed {
			names = append(names, "repeated cue")
		}
		if len(names) > 0 {
			n++
		}
		return names
	})
	if n == 0 {
		return s
	}
	s.Lines = []string{fmt.Sprintf("In %d of %s: %s.", n, say.Count(len(a.Evidence), "trial"), listNamed(all))}
	s.Small = phrase.Small(len(a.Evidence))
	return s
}

// arousalSection sets how excited the dog became beside how its sessions ended. It claims nothing: it counts.
func (a *account) arousalSection() app.Section {
	s := app.Section{Key: "arousal", Title: "Arousal"}
	highest := map[string]int{}
	for _, b := range a.Blocks {
		if was, known := highest[b.Session]; b.Arousal >= 0 && (!known || b.Arousal > was) {
			highest[b.Session] = b.Arousal
		}
	}
	if len(highest) == 0 {
		return s
	}
	t := &app.Table{Key: "arousal", Title: "The most that was noted in a session", Head: []string{"Arousal", "Sessions", "Ended in a stop"}}
	for level, name := range work.ArousalNames {
		n, stopped := 0, 0
		for _, one := range a.Sessions {
			if at, known := highest[one.ID]; known && at == level {
				n, stopped = n+1, stopped+app.BoolInt(one.Reason == "stop")
			}
		}
		t.Add(name, strconv.Itoa(n), strconv.Itoa(stopped))
	}
	s.Lines = []string{fmt.Sprintf("Noted in %d of %s.", len(highest), say.Count(len(a.Sessions), "session"))}
	s.Table = t
	return s
}

// lifeSection is the real share of pays that were what the dog wanted itself, against the planned one.
func (a *account) lifeSection() app.Section {
	s := app.Section{Key: "life", Title: "Life rewards"}
	life, pays := 0, 0
	for _, b := range a.Blocks {
		life, pays = life+b.Life, pays+b.Pays
	}
	planned := a.PayHere().LifeReward
	if pays == 0 || life == 0 && planned == 0 {
		return s
	}
	s.Lines = []string{fmt.Sprintf("%d of %s were the distraction itself, %s. The plan says %s here.", life, say.Count(pays, "pay"),
		say.Percent(float64(life)/float64(pays)), say.Percent(planned))}
	return s
}

// cardSection is the success of each card of a deck, over all trials that were dealt one.
func (a *account) cardSection() app.Section {
	s := app.Section{Key: "cards", Title: "By card"}
	var cards evidence.Parts
	for i := range a.History.Trials {
		cards.Card(a.History.Trials[i].CardSays, &a.History.Trials[i].Trial)
	}
	if len(cards.List) == 0 {
		return s
	}
	all := 0
	t := &app.Table{Key: "cards", Title: "Success by card", Head: []string{"Card", "Met", "Of", "Rate"}}
	for _, one := range cards.List {
		all += one.Of
		t.Add(say.Upper(one.Name), strconv.Itoa(one.Met), strconv.Itoa(one.Of), say.Percent(float64(one.Met)/float64(one.Of)))
	}
	s.Lines = []string{say.Upper(say.Count(all, "trial")) + " dealt in mixed decks. Those not as the step plans are in no rate above."}
	s.Table, s.Small = t, phrase.Small(all)
	return s
}

// readySection compares the readiness tests before this plan's sessions, place by place. It counts, and claims no difference.
func (a *account) readySection() (s app.Section, err error) {
	s = app.Section{Key: "ready", Title: "Readiness, place by place"}
	type at struct {
		here, further, home int
		looks               []float64
	}
	by, order := map[string]*at{}, []string{}
	all := 0
	for _, one := range a.Sessions {
		if one.Ready == "" {
			continue
		}
		var r store.Ready
		if err := store.FromJSON(one.Ready, &r); err != nil {
			return s, err
		}
		place := cmp.Or(one.Where, "not said")
		if by[place] == nil {
			by[place], order = &at{}, append(order, place)
		}
		switch decision.Verdict(r.Verdict) {
		case decision.WorkHere:
			by[place].here++
		case decision.MakeEasier:
			by[place].further++
		case decision.GoElsewhere:
			by[place].home++
		}
		if r.LookS != nil {
			by[place].looks = append(by[place].looks, *r.LookS)
		}
		all++
	}
	if all == 0 {
		return s, nil
	}
	t := &app.Table{
		Key: "ready", Title: "Tests before sessions", Head: []string{"Place", "Work here", "Further off", "Home", "A look after, median"},
	}
	for _, place := range order {
		one, look := by[place], "–"
		if len(one.looks) > 0 {
			look = say.Seconds(math.Round(10*evidence.Quantile(one.looks, 0.5)) / 10)
		}
		t.Add(place, strconv.Itoa(one.here), strconv.Itoa(one.further), strconv.Itoa(one.home), look)
	}
	s.Lines = []string{say.Upper(say.Count(all, "readiness test")) + "."}
	s.Table, s.Small = t, phrase.Small(all)
	return s, nil
}

// phaseSection is how each phase of the trials went.
func (a *account) phaseSection() app.Section {
	s := app.Section{Key: "phases", Title: "By phase"}
	var phases evidence.Parts
	for i := range a.History.Trials {
		phases.Phases(&a.History.Trials[i].Trial)
	}
	if len(phases.List) == 0 {
		return s
	}
	t := &app.Table{Key: "phases", Title: "Phase by phase", Head: []string{"Phase", say.Upper(a.Work().Success()), "Of", "Median"}}
	for _, one := range phases.List {
		t.Add(one.Name, strconv.Itoa(one.Met), strconv.Itoa(one.Of), say.Seconds(math.Round(10*one.MedianS())/10))
	}
	s.Table, s.Small = t, phrase.Small(phases.List[0].Of)
	return s
}
