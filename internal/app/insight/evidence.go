package insight

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// EvidencePage is what the record says of one plan, part by part.
type EvidencePage struct {
	ID, Dog, DogID, Skill string
	None                  bool
	Stuck                 []Suggested
	StuckBecause          string
	Ahead                 string         // how likely the stuck step is
	Levers                []app.LeverRow // what alone would make it likely enough
	Sections              []app.Section
	Whose
}

// Evidence shows what the record says of one plan; with is a handler beside the main one, by id, of whose sessions alone, "" for all.
func (p *Cases) Evidence(ctx context.Context, id, with string) (EvidencePage, error) {
	return app.Remember(ctx, p.Practice, "evidence "+id+" "+with, func(v EvidencePage) string { return v.DogID },
		func() (EvidencePage, error) { return p.makeEvidence(ctx, id, with) })
}

// EvidenceTable is one table of that page, for its file.
func (p *Cases) EvidenceTable(ctx context.Context, id, with, key string) (app.Table, error) {
	v, err := p.Evidence(ctx, id, with)
	if err != nil {
		return app.Table{}, err
	}
	return app.FindTable(v.Sections, key)
}

func (p *Cases) makeEvidence(ctx context.Context, id, with string) (v EvidencePage, err error) {
	q := p.Store.Read()
	a, err := p.account(ctx, q, id)
	if err != nil {
		return v, err
	}
	whose, err := a.handled(ctx, q, with)
	if err != nil {
		return v, err
	}
	people, err := q.Everybody(ctx)
	if err != nil {
		return v, err
	}
	var beside []store.Trial // of the other tracks
	var tracks []string
	for _, one := range a.tracks()[1:] {
		tracks = append(tracks, one.ID)
	}
	if beside, err = q.TrialsOfPlans(ctx, tracks); err != nil {
		return v, err
	}
	v = EvidencePage{ID: a.ID, Dog: a.DogName, DogID: a.Dog, Skill: a.Name(), None: len(a.Evidence) == 0, Whose: whose}
	if v.None {
		return v, nil
	}
	if whose.With.ID != "" { // what compares people, and sides, is of all of them
		v.Sections, err = a.sectionsOf(nil, nil)
		return v, err
	}
	if v.StuckBecause, v.Stuck = a.stuck(); v.StuckBecause != "" {
		if v.Ahead, v.Levers, err = p.levers(ctx, q, &a); err != nil {
			return v, err
		}
	}
	v.Sections, err = a.sectionsOf(people, beside)
	return v, err
}

// sectionsOf makes the sections; without people, of one handler's sessions, those that compare people or sides are left out.
func (a *account) sectionsOf(people []store.Person, beside []store.Trial) ([]app.Section, error) {
	sections := []app.Section{a.ratesSection(), a.coldSection()}
	if a.Work().ByState {
		sections = append(sections, a.statesSection())
	} else {
		if evidence.Latencies(a.Evidence).N > 0 {
			sections = append(sections, a.latencySection())
		}
		if a.Work().OnCue {
			sections = append(sections, a.cueSection())
		}
		sections = append(sections, a.helpSection(), a.errorSection(), a.namedErrors())
	}
	sections = append(sections, a.mistakeSection(), a.arousalSection(), a.lifeSection(), a.cardSection(), a.phaseSection())
	if measured, any := a.measuresSection(); any {
		sections = append(sections, measured)
	}
	ready, err := a.readySection()
	if err != nil {
		return nil, err
	}
	sections = append(sections, ready)
	sections = slices.DeleteFunc(sections, func(s app.Section) bool { return len(s.Lines) == 0 && s.Table == nil })
	others := []app.Section{a.baselineSection(), a.conditionSection(people), a.confusionSection()}
	if people != nil {
		others = slices.Insert(append(others, a.handlerSection(people)), 1, a.trackSection(beside))
	}
	for _, s := range others {
		if len(s.Lines) > 0 || s.Table != nil {
			sections = append(sections, s)
		}
	}
	return sections, nil
}

func shares(t evidence.Tally) (strict, lenient string) {
	if t.N() == 0 {
		return "–", "–"
	}
	of := func(k int) string {
		return say.Percent(float64(k)/float64(t.N())) + ", likely " + phrase.Range(evidence.Wilson(k, t.N(), 0.95))
	}
	return of(t.Met), of(t.Right())
}

func (a *account) ratesSection() app.Section {
	here := app.TallyOf(a.Here)
	at := a.Reached()
	s := app.Section{Key: "rates", Title: "How often", Small: phrase.Small(here.N())}
	if here.N() == 0 {
		s.Small = ""
		s.Lines = []string{fmt.Sprintf("No counted trial at step %d yet.", at+1)}
	} else {
		strict, lenient := shares(here)
		s.Lines = []string{
			fmt.Sprintf("At step %d since it was reached: %d of %d %s. Strict: %s.", at+1, here.Met, here.N(), a.Work().Success(), strict),
		}
		if a.Work().Success() == "met" {
			s.Lines[0] += " Lenient, with slow ones: " + lenient + "."
		}
	}
	logged, unlogged := a.coverageOf(a.Evidence)
	s.Lines = append(s.Lines, say.Upper(phrase.Coverage(logged, unlogged))+" over the whole record.")
	t := &app.Table{
		Key: "steps", Title: "Step by step",
		Head: []string{"Step", "What", "Trials", "Strict", "Lenient", "Cold", "Median latency", "Logged"},
	}
	by := a.bySteps()
	for i := len(a.Steps) - 1; i >= 0; i-- {
		tally := app.TallyOf(by[i])
		if tally.N() == 0 {
			continue
		}
		strict, lenient := shares(tally)
		what := say.Upper(a.Plan.Words.Short(a.Steps[i].Criteria))
		s.Rates = append(s.Rates, app.RateRow{Label: fmt.Sprintf("%d · %s", i+1, what), Rates: []app.Rate{app.RateOf("", tally)}})
		cold := evidence.FirstTrials(by[i]).Cold
		latency := "–"
		if l := evidence.Latencies(by[i]); l.N > 0 {
			latency = say.Seconds(l.Median)
		}
		logged, unlogged := a.coverageOf(by[i])
		t.Add(strconv.Itoa(i+1), what, strconv.Itoa(tally.N()), strict, lenient,
			fmt.Sprintf("%d of %d", cold.Met, cold.N()), latency, say.Percent(evidence.Coverage(logged, unlogged)))
	}
	s.Table = t
	return s
}

// bySteps are the trials of each step.
func (a *account) bySteps() [][]trial.Trial {
	counts := make([]int, len(a.Steps))
	for _, at := range a.At {
		if at >= 0 {
			counts[at]++
		}
	}
	by := make([][]trial.Trial, len(a.Steps))
	for at, n := range counts {
		by[at] = make([]trial.Trial, 0, n)
	}
	for i, at := range a.At {
		if at >= 0 {
			by[at] = append(by[at], a.Evidence[i])
		}
	}
	return by
}

func (a *account) coldSection() app.Section {
	f := evidence.FirstTrials(a.Evidence).Within(a.Evidence)
	s := app.Section{
		Key: "cold", Title: "Cold, and the rest", Lines: []string{phrase.FirstTrials(f, evidence.OnlyCold(a.Evidence), a.Work().Success())},
		Small: smallIf(f.Cold.N()),
	}
	t := &app.Table{Key: "cold", Title: "The latest cold trials", Head: []string{"Day", "Place", "Step", "Outcome"}}
	for i := len(a.Evidence) - 1; i >= 0 && len(t.Rows) < app.RowsShown; i-- {
		if one := a.History.Trials[i]; a.Evidence[i].Cold {
			t.Add(app.ShortDay(one.Day, a.Today), a.Sessions[a.Order[one.Session]].Where, stepNumber(a.At[i]), phrase.Shown(&a.Evidence[i]))
		}
	}
	if len(t.Rows) > 0 {
		s.Table = t
	}
	return s
}

// smallIf calls a number small that is there at all.
func smallIf(n int) string {
	if n == 0 {
		return ""
	}
	return phrase.Small(n)
}

func stepNumber(at int) string {
	if at < 0 {
		return "gone"
	}
	return strconv.Itoa(at + 1)
}

func (a *account) latencySection() app.Section {
	here, all := evidence.Latencies(a.Here), evidence.Latencies(a.Evidence)
	s := app.Section{Key: "latency", Title: "How fast", Small: smallIf(here.N)}
	// A trend over several steps would tell of the steps.
	s.Lines = []string{fmt.Sprintf("At step %d: ", a.Reached()+1) + say.Lower(phrase.Latency(here))}
	if all.N > here.N {
		s.Lines = append(s.Lines, "Over all steps: median "+phrase.Quantiles(all.Median, all.P90)+".")
	}
	return s
}

func (a *account) cueSection() app.Section {
	cues := evidence.CueEconomy(a.Evidence)
	spent, perMinute := 0.0, 0.0
	for _, b := range a.Blocks {
		spent += b.Active
	}
	if spent >= reinforce.RateFrom {
		perMinute = float64(cues.Cues) / spent * 60
	}
	lines := []string{phrase.Cues(cues, perMinute), phrase.Control(app.TallyOf(a.Evidence).Right(), a.Offers)}
	withheld := 0
	for _, b := range a.Blocks {
		withheld += b.Withheld
	}
	if withheld > 0 {
		lines = append(lines, say.Upper(say.Count(withheld, "cue"))+" withheld: the dog was fetched, and not called.")
	}
	return app.Section{Key: "cues", Title: "Cues", Lines: lines}
}

// fades are the dimensions that take something away step by step.
var fades = func() (keys []criteria.Key) {
	for _, d := range criteria.Dimensions {
		if d.Fades {
			keys = append(keys, d.Key)
		}
	}
	return keys
}()

// errorRun says how many errors came one after another, where that is known: tallies have no order.
func errorRun(wrong, longest int) string {
	switch {
	case wrong == 0:
		return ""
	case longest == 0:
		return " They were counted in sets, so their order is not known."
	}
	return fmt.Sprintf(" The longest run of them in one session: %d.", longest)
}

func (a *account) errorSection() app.Section {
	tally := app.TallyOf(a.Evidence)
	wrong := tally.Helped + tally.Missed
	s := app.Section{
		Key: "errors", Title: "Errors",
		Lines: []string{
			fmt.Sprintf("%d of %d not right.", wrong, tally.N()) + errorRun(wrong, evidence.ErrorRun(a.Evidence)),
		},
	}
	sources := map[string]int{}
	said := 0
	for i := range a.Evidence {
		t := &a.Evidence[i]
		if t.Counted() && !t.Outcome.Right() && t.Source != "" {
			sources[t.Source]++
			said++
		}
	}
	if said == 0 {
		s.Lines = append(s.Lines, "Where they came from was not said. Say it on a session's page, beside the trial.")
	} else {
		line := fmt.Sprintf("Where %d of them came from:", said)
		for i, source := range criteria.Sources {
			if i > 0 {
				line += ","
			}
			line += fmt.Sprintf(" %s %d", source, sources[source])
		}
		s.Lines = append(s.Lines, line+".")
		s.Small = phrase.Small(said)
	}
	if after := evidence.ErrorResponses(a.Evidence); len(after) > 0 {
		careful := false
		t := &app.Table{
			Key: "after", Title: "What was done after an error, and the trial that followed",
			Head: []string{"Done", "Errors", "Next one right", "Of"},
		}
		for _, f := range after {
			careful = careful || criteria.Cautioned(f.How)
			t.Add(f.How, strconv.Itoa(f.N), strconv.Itoa(f.Right), strconv.Itoa(f.Next))
		}
		s.Table = t
		s.Lines = append(s.Lines, caution.For(caution.Where{Recorded: careful})...)
		s.Lines = append(s.Lines, "What was done goes with what followed; it need not be its cause.")
	}
	return s
}

func (a *account) statesSection() app.Section {
	counts := make([]int, len(work.StateNames))
	n := 0
	for i := range a.History.Trials {
		t := &a.History.Trials[i]
		if t.State != nil && a.Evidence[i].Counted() {
			counts[*t.State]++
			n++
		}
	}
	s := app.Section{Key: "states", Title: "States", Small: smallIf(n)}
	t := &app.Table{Key: "states", Title: "What it showed", Head: []string{"State", "Exposures", "Share"}}
	for i, count := range counts {
		t.Add(work.StateNames[i], strconv.Itoa(count), say.Percent(float64(count)/float64(max(1, n))))
	}
	s.Table = t
	return s
}

// baselineSection is what the dog did before it was taught.
func (a *account) baselineSection() app.Section {
	s := app.Section{Key: "baseline", Title: "Baseline"}
	tallies := map[int]evidence.Tally{}
	for i := range a.History.Trials {
		t := &a.History.Trials[i]
		if a.Baselines[t.Block] && a.At[i] >= 0 {
			tally := tallies[a.At[i]]
			tally.Add(a.Evidence[i].Outcome)
			tallies[a.At[i]] = tally
		}
	}
	for i := len(a.Steps) - 1; i >= 0; i-- {
		if tally := tallies[i]; tally.N() > 0 {
			s.Lines = append(s.Lines, fmt.Sprintf("Step %d, nothing taught or paid: %s.", i+1, phrase.Rate(tally, a.Work().Success())))
		}
	}
	return s
}

// tallyTracks counts the trials of each track, by step and in all; beside are those of the others.
func (a *account) tallyTracks(tracks []app.Plan, beside []store.Trial) (byTrack []map[int]evidence.Tally, totals []int) {
	byTrack = make([]map[int]evidence.Tally, len(tracks))
	totals = make([]int, len(tracks))
	for i := range tracks {
		byTrack[i] = map[int]evidence.Tally{}
	}
	count := func(track, step int, outcome trial.Outcome) {
		tally := byTrack[track][step]
		tally.Add(outcome)
		byTrack[track][step] = tally
		if outcome != trial.Void {
			totals[track]++
		}
	}
	for i := range a.Evidence {
		t := &a.Evidence[i]
		if t.Counted() && a.At[i] >= 0 {
			count(0, a.At[i], t.Outcome)
		}
	}
	for _, t := range beside {
		at := progression.Index(a.Steps, t.Step)
		i := slices.IndexFunc(tracks, func(l app.Plan) bool { return l.ID == t.Plan })
		if i > 0 && at >= 0 && !t.Waits && !t.Easy {
			count(i, at, trial.Outcome(t.Outcome))
		}
	}
	return byTrack, totals
}

func (a *account) trackSection(beside []store.Trial) app.Section {
	s := app.Section{Key: "tracks", Title: "Tracks"}
	tracks := a.tracks()
	if len(tracks) < 2 {
		return s
	}
	byTrack, totals := a.tallyTracks(tracks, beside)
	t := &app.Table{Key: "tracks", Title: "The same step on each track", Head: []string{"Step"}}
	for _, one := range tracks {
		t.Head = append(t.Head, one.Track, "likely")
	}
	for i := len(a.Steps) - 1; i >= 0; i-- {
		row, any := []string{strconv.Itoa(i + 1)}, false
		drawn := app.RateRow{Label: fmt.Sprintf("%d · %s", i+1, say.Upper(a.Plan.Words.Short(a.Steps[i].Criteria)))}
		for k, by := range byTrack {
			if tally := by[i]; tally.N() > 0 {
				drawn.Rates = append(drawn.Rates, app.RateOf(tracks[k].Track, tally))
				row, any = append(row, fmt.Sprintf("%d of %d", tally.Met, tally.N()), phrase.Range(evidence.Wilson(tally.Met, tally.N(), 0.95))), true
			} else {
				row = append(row, "–", "–")
			}
		}
		if any {
			t.Rows = append(t.Rows, row)
		}
		if len(drawn.Rates) > 1 {
			s.Rates = append(s.Rates, drawn)
		}
	}
	s.Lines = behind(tracks, byTrack, totals, len(a.Steps))
	if len(s.Lines) == 0 {
		s.Lines = []string{
			fmt.Sprintf("None is behind another, as far as the same steps have been worked on each (%d trials are needed).", evidence.MinTrack),
		}
	}
	s.Table = t
	return s
}

// behind says which track is behind which, step by step; each line once.
func behind(tracks []app.Plan, byTrack []map[int]evidence.Tally, totals []int, steps int) (lines []string) {
	for i := range tracks {
		for j := range tracks {
			for step := range steps {
				if i == j {
					continue
				}
				line := phrase.Track(
					tracks[i].Track, tracks[j].Track, byTrack[i][step], byTrack[j][step], totals[i], totals[j])
				if line != "" && !slices.Contains(lines, line) {
					lines = append(lines, line)
				}
			}
		}
	}
	return lines
}

// conditionSection compares sessions with and without each tag, place and handler.
func (a *account) conditionSection(people []store.Person) app.Section {
	s := app.Section{Key: "conditions", Title: "Associated with"}
	names, with := a.compared(people)
	if len(names) == 0 {
		return s
	}
	visits, sessions := a.visits(names, with)
	found := evidence.Associate(visits, len(names), app.SeedOf(a.ID))
	s.Lines = phrase.Associated(found, len(visits))
	if found.Visits == 0 {
		return s
	}
	t := &app.Table{
		Key: "conditions", Title: "Sessions with and without it",
		Head: []string{"Condition", "With", "Without", "Difference", "By chance", "Associated with"},
	}
	for _, c := range found.Conditions {
		by, p := "–", "–"
		if !c.Few && !c.Time {
			by, p = say.Points(c.Difference), say.Percent(c.P)
		}
		t.Add(names[c.Index], strconv.Itoa(c.With), strconv.Itoa(c.Without), by, p, phrase.AssociatedWith(c, a.Work().Success()))
	}
	for i, value := range found.Residuals {
		if one := a.Sessions[a.Order[sessions[found.From+i]]]; !math.IsNaN(value) {
			s.Rests = append(s.Rests, app.Rest{Session: one.ID, Day: app.ShortDay(one.Day, a.Today), Place: one.Where, Value: value})
		}
	}
	s.Table = t
	return s
}

// visits are the sessions that have counted trials, as conditions are compared, and their ids. The order of a trial is how many were
// before it at its step.
func (a *account) visits(names []string, with map[string]map[string]bool) (visits []evidence.Visit, sessions []string) {
	before, last := map[string]int{}, ""
	for i := range a.Evidence {
		t := &a.Evidence[i]
		if !t.Counted() {
			continue
		}
		if t.Session != last {
			last = t.Session
			v := evidence.Visit{With: make([]bool, len(names))}
			for k, name := range names {
				v.With[k] = with[name][t.Session]
			}
			visits, sessions = append(visits, v), append(sessions, t.Session)
		}
		v := &visits[len(visits)-1]
		v.Order = (v.Order*float64(v.N) + float64(before[t.Step])) / float64(v.N+1)
		v.N++
		v.Met += app.BoolInt(t.Outcome == trial.Met)
		before[t.Step]++
	}
	return visits, sessions
}

func (a *account) confusionSection() app.Section {
	c := evidence.Confused(a.Evidence)
	s := app.Section{Key: "instead", Title: "What it did instead"}
	if len(c.Names) < 2 {
		return s
	}
	t := &app.Table{Key: "instead", Title: "Asked for, and done", Head: append([]string{"Asked for"}, c.Names...)}
	for i, name := range c.Names {
		row := []string{name}
		for j := range c.Names {
			row = append(row, strconv.Itoa(c.Counts[i][j]))
		}
		t.Rows = append(t.Rows, row)
	}
	s.Table = t
	s.Lines = []string{
		"Rows are what was asked for, columns what was done. A miss about which nobody said what was done instead is not in it.",
	}
	return s
}
