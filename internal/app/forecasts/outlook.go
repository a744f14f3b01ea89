package forecasts

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/outlook"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/jobs"
	"patientfox/internal/store"
)

// RangeRow is one figure of a forecast: a tenth of the runs below Lo, half below Mid, a tenth above Hi.
type RangeRow struct {
	Label       string
	Lo, Mid, Hi int
	Open        bool // too many runs had no end: the upper figure is only a bound
}

// RuleRow is how the same dog would go under one rule.
type RuleRow struct {
	Name, Rule string
	Own        bool // the plan's, with the rules of its steps
	Sessions   RangeRow
	Misses     int
	Trials     int
	FalseUps   string
	Done       string
}

// LookView is one computation: under way, cancelled, or done.
type LookView struct {
	Running, Cancelled, Ready bool
	Part                      int // %
}

// OutlookView is the page of what lies ahead of a plan.
type OutlookView struct {
	ID, Dog, DogID, Skill string
	Refuses               string // why there is no forecast
	Forecast, Compare     LookView
	Sentence              string
	When                  string
	Rows                  []RangeRow
	Rules                 []RuleRow
	Assumes               []string
	False                 string // what a false step-up is
	Forms                 string
	Seed                  uint64
	Own                   int         // other plans from which it began
	With                  app.Named   // the handler of whose way it is, beside the main one
	Handlers              []app.Named // of whom it can be: the main one first
	Tables                []app.Section
}

// Runs of a forecast, and of each rule that is compared.
const (
	forecastRuns = 1000
	compareRuns  = 300
)

// quick is how long a page waits for a computation before it shows how far that is.
const quick = 400 * time.Millisecond

// look is what a forecast is worked out from.
type looking struct {
	app.Account
	ask    Ask
	hands  hands
	record []outlook.Trial
	course outlook.Course
	seed   uint64
	from   string
}

// Outlook shows what lies ahead of a plan. The forecast is begun when somebody looks; the rules are compared
// when somebody asks.
func (p *Cases) Outlook(ctx context.Context, ask Ask) (OutlookView, error) {
	w, err := p.looking(ctx, ask)
	if err != nil {
		return OutlookView{}, err
	}
	v := w.view()
	if v.Refuses != "" {
		return v, nil
	}
	one := p.Jobs.Find(ask.job("forecast"), w.from)
	if one == nil {
		if one, err = p.startForecast(w); err != nil {
			return v, err
		}
	}
	one.Wait(quick)
	if v.Forecast = lookOf(one); v.Forecast.Ready {
		found, _ := one.Result()
		f := found.(forecast)
		if v.Refuses = w.tooLittle(f.own); v.Refuses != "" {
			return v, nil
		}
		w.forecast(&v, f, p.Now())
	}
	if one := p.Jobs.Find(ask.job("compare"), w.from); one != nil {
		if v.Compare = lookOf(one); v.Compare.Ready {
			found, _ := one.Result()
			v.Rules = found.([]RuleRow)
			v.Tables = append(v.Tables, rulesTable(v.Rules))
		}
	}
	return v, nil
}

// OutlookTable is one table of that page, for its file.
func (p *Cases) OutlookTable(ctx context.Context, ask Ask, key string) (app.Table, error) {
	v, err := p.Outlook(ctx, ask)
	if err != nil {
		return app.Table{}, err
	}
	return app.FindTable(v.Tables, key)
}

// LookAhead begins a computation anew: "forecast", or "compare" for the rules side by side; or stops it.
func (p *Cases) LookAhead(ctx context.Context, ask Ask, what string, stop bool) error {
	if what != "forecast" && what != "compare" {
		return app.ErrNotFound
	}
	if stop {
		p.Jobs.Stop(ask.job(what))
		return nil
	}
	w, err := p.looking(ctx, ask)
	if err != nil {
		return err
	}
	switch {
	case w.view().Refuses != "":
	case what == "forecast":
		_, err = p.startForecast(w)
	default:
		_, err = p.startCompare(w)
	}
	return err
}

// Looking tells how far a computation is, for a page that waits for it.
func (p *Cases) Looking(ask Ask, what string) LookView {
	one := p.Jobs.Latest(ask.job(what))
	if one == nil {
		return LookView{}
	}
	return lookOf(one)
}

func lookOf(one *jobs.Job) LookView {
	v := LookView{Part: int(100 * one.Part())}
	if v.Running = !one.Ready(); v.Running {
		return v
	}
	_, err := one.Result()
	v.Cancelled, v.Ready = errors.Is(err, context.Canceled), err == nil
	return v
}

// forecast is one, and from how many other plans it began.
type forecast struct {
	outlook.Forecast
	own int
}

// ownPart is the part of a computation that the other plans take.
const ownPart = 0.4

func (p *Cases) startForecast(w looking) (*jobs.Job, error) {
	return p.Jobs.StartLong(w.ask.job("forecast"), w.from, func(ctx context.Context, progress func(float64)) (any, error) {
		prior, err := p.prior(ctx, w, func(part float64) { progress(ownPart * part) })
		if err != nil || w.tooLittle(prior.Records) != "" {
			return forecast{own: prior.Records}, err
		}
		fit := outlook.FitTo(w.record, w.course.Heights, prior, w.seed)
		f, err := fit.Look(ctx, w.course, forecastRuns, w.seed, func(part float64) { progress(ownPart + (1-ownPart)*part) })
		return forecast{f, prior.Records}, err
	})
}

func (p *Cases) startCompare(w looking) (*jobs.Job, error) {
	rules := w.compared()
	return p.Jobs.StartLong(w.ask.job("compare"), w.from, func(ctx context.Context, progress func(float64)) (any, error) {
		prior, err := p.prior(ctx, w, func(float64) {})
		if err != nil || w.tooLittle(prior.Records) != "" {
			return []RuleRow(nil), err
		}
		fit := outlook.FitTo(w.record, w.course.Heights, prior, w.seed)
		var rows []RuleRow
		for i, rule := range rules {
			// The plan's own is the forecast above it, run for run.
			course, runs := w.course, forecastRuns
			if i > 0 {
				course, runs = course.With(rule), compareRuns
			}
			f, err := fit.Look(ctx, course, runs, w.seed, func(part float64) { progress((float64(i) + part) / float64(len(rules))) })
			if err != nil {
				return nil, err
			}
			row := RuleRow{
				Name: phrase.RuleName(rule.Kind), Rule: phrase.Rule(rule), Own: i == 0, Sessions: rangeRow("Sessions", f.Sessions, f),
				Misses: f.Misses.Mid, Trials: f.Trials.Mid, FalseUps: "–", Done: say.Percent(float64(f.Done) / float64(f.Runs)),
			}
			if f.Ups > 0 {
				row.FalseUps = say.Percent(f.FalseUps / f.Ups)
			}
			if i == 0 {
				row.Name = w.ownRules()
			}
			rows = append(rows, row)
		}
		return rows, nil
	})
}

// ownRules names the plan's rule, and how many steps have one of their own.
func (w looking) ownRules() string {
	name := "This plan: " + say.Lower(phrase.RuleName(w.Body.Rule.Kind))
	others := map[decision.Kind]int{}
	for _, rule := range w.course.Rules {
		if rule.Kind != w.Body.Rule.Kind {
			others[rule.Kind]++
		}
	}
	for _, kind := range decision.Kinds {
		if n := others[kind]; n > 0 {
			name += fmt.Sprintf("; %s at %s", say.Lower(phrase.RuleName(kind)), say.Count(n, "step"))
		}
	}
	return name
}

// compared are the rules that are set side by side, the plan's own first.
func (w looking) compared() []decision.Rule {
	rules := []decision.Rule{w.Body.Rule}
	kinds := []decision.Kind{decision.Run, decision.Set, decision.Gate, decision.Proof}
	switch {
	case w.Work().ByState:
		kinds = []decision.Kind{decision.Calm, decision.Run, decision.Set, decision.Gate}
	case w.Body.Rule.Kind == decision.CountUp:
		kinds = append([]decision.Kind{decision.CountUp}, kinds...)
	}
	for _, kind := range kinds {
		rules = append(rules, decision.Usual(kind))
	}
	return rules
}

func (p *Cases) looking(ctx context.Context, ask Ask) (w looking, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		w, err = p.looks(ctx, q, ask)
		return err
	})
	return w, err
}

func (p *Cases) looks(ctx context.Context, q store.Q, ask Ask) (w looking, err error) {
	w.ask = ask
	if w.Account, err = p.Account(ctx, q, ask.Plan); err != nil {
		return w, err
	}
	if err := p.goesTo(ctx, q, &w); err != nil {
		return w, err
	}
	if err := p.Ready(ctx, q, w.Dog, w.ID); err != nil {
		return w, err
	}
	versions, err := q.StepsOfVersions(ctx, []string{w.Main})
	if err != nil {
		return w, err
	}
	w.seed = app.SeedOf(ask.Plan) % 10_000
	if typed, err := strconv.ParseUint(ask.Seed, 10, 32); err == nil {
		w.seed = typed
	}
	w.record = w.asLearnt()
	w.course = w.courseAhead(progression.Heights(laidOut(versions), w.Steps))
	last := ""
	if n := len(w.History.Trials); n > 0 {
		last = w.History.Trials[n-1].ID
	}
	w.from = fmt.Sprint(w.seed, w.Plan.Version, w.Definition, w.Standing.Reached, w.Standing.Since, w.Standing.Half, len(w.History.Trials),
		last, app.TallyOf(w.Evidence))
	if !outlook.Enough(w.record) { // then it is of the other plans more than of this one
		w.from += " " + p.PracticeStamp()
	}
	return w, nil
}

// asLearnt is the record as a learner is fitted to it.
func (w *looking) asLearnt() []outlook.Trial {
	places := w.placeNumbers()
	var record []outlook.Trial
	last, lastDay := "", ""
	for i, t := range w.Evidence {
		mark, counts := decision.MarkOf(t.Outcome)
		row := w.History.Trials[i]
		if !counts || t.Easy || w.At[i] < 0 {
			continue
		}
		one := outlook.Trial{
			Step: w.At[i], Opens: row.Session != last, Place: places[row.Place], Mark: mark, Paid: row.Pays > 0, State: t.Shown(),
		}
		if one.Opens && lastDay != "" {
			one.Days = app.DaysBetween(lastDay, row.Day)
		}
		last, lastDay = row.Session, row.Day
		record = append(record, one)
	}
	return record
}

// placeNumbers numbers the places of the record.
func (w *looking) placeNumbers() map[string]uint8 {
	numbers := map[string]uint8{}
	for _, s := range w.Sessions {
		if _, known := numbers[s.Place]; !known {
			numbers[s.Place] = uint8(len(numbers) % decision.MaxPlaces)
		}
	}
	return numbers
}

// lateCourse is how many of the latest sessions say how the plan is worked.
const lateCourse = 10

func (w *looking) courseAhead(heights []float64) outlook.Course {
	c := outlook.Course{
		At: w.Reached(), Halved: w.Position().Halved(w.Steps) == 1, Heights: heights, Gap: 3, Pieces: w.Body.Pay.Piece(), Calm: w.Work().ByState,
		To: w.hands.to, Pay: w.Body.Pay.Schedule, Rung: w.Standing.Rung, MaxRung: w.Work().MaxRung(w.Body.Lifeline),
	}
	for _, s := range w.Steps {
		rule := w.Body.Rule
		if own, has := w.Body.RuleAt(s); has {
			rule = own
		}
		c.Rules = append(c.Rules, rule)
	}
	counted := map[string]int{}
	for i, t := range w.Evidence {
		if t.Counted() {
			counted[w.History.Trials[i].Session]++
		}
	}
	places := w.placeNumbers()
	var gaps []int
	for i, s := range w.Sessions[max(0, len(w.Sessions)-lateCourse):] {
		if counted[s.ID] == 0 {
			continue
		}
		c.Trials, c.Places = append(c.Trials, counted[s.ID]), append(c.Places, places[s.Place])
		if all := max(0, len(w.Sessions)-lateCourse) + i; all > 0 {
			gaps = append(gaps, app.DaysBetween(w.Sessions[all-1].Day, s.Day))
		}
	}
	if len(gaps) > 0 {
		slices.Sort(gaps)
		c.Gap = max(1, gaps[len(gaps)/2])
	}
	last, over := "", w.RoundsBefore()
	c.RoundsBefore = over.N
	for _, t := range w.Stretch(w.History.Trials) {
		mark, counts := decision.MarkOf(t.Outcome)
		if !counts || t.Easy {
			continue
		}
		c.Waits = c.Waits || last == "" && t.Session == over.In
		c.Since = append(c.Since, outlook.Trial{
			Step: c.At, Opens: t.Session != last, Place: places[t.Place], Mark: mark, State: t.Shown(), Splits: t.Splits,
		})
		last = t.Session
	}
	return c
}

// laidOut are a plan's versions in their order, of which only the steps' ids are read.
func laidOut(rows []store.Step) (versions [][]string) {
	slices.SortStableFunc(rows, func(a, b store.Step) int { return cmp.Compare(a.Version, b.Version) })
	for i, row := range rows {
		if i == 0 || row.Version != rows[i-1].Version {
			versions = append(versions, nil)
		}
		versions[len(versions)-1] = append(versions[len(versions)-1], row.ID)
	}
	return versions
}

// tooLittle says why there is no forecast that began from so many other plans; "" where there is one.
func (w looking) tooLittle(own int) string {
	if outlook.Enough(w.record) || own >= outlook.MinRecords {
		return ""
	}
	sessions := 0
	for _, t := range w.record {
		sessions += app.BoolInt(t.Opens)
	}
	return fmt.Sprintf("%s so far, from %s: too little to look ahead. It takes %d from two sessions, or %s of this practice with as much; "+
		"until then a forecast would be a guess about dogs, not about %s.", say.Upper(say.Count(len(w.record), "counted trial")),
		say.Count(sessions, "session"), outlook.MinTrials, say.Count(outlook.MinRecords, "other plan"), w.DogName)
}

// view is the page before anything is worked out.
func (w looking) view() OutlookView {
	v := OutlookView{
		ID: w.ID, Dog: w.DogName, DogID: w.Dog, Skill: w.Name(), Seed: w.seed, With: w.hands.with,
		Handlers: w.hands.all, Refuses: w.hands.refuses,
	}
	if v.Refuses == "" && w.Finished() {
		v.Refuses = "Finished: nothing lies ahead but probes."
	}
	v.False = fmt.Sprintf("A false step-up is one taken while the dog would still fail more than %s of the trials.",
		say.Percent(1-outlook.SureEnough))
	c := w.course
	trials := 0
	for _, n := range c.Trials {
		trials += n
	}
	as := fmt.Sprintf("It goes on as in the last sessions: about %s each, one %s, in the places of the record.",
		say.Count(trials/max(1, len(c.Trials)), "trial"), every(c.Gap))
	if trials == 0 {
		as = fmt.Sprintf("Sessions of about %s, one %s.", say.Count(outlook.UsualTrials, "trial"), every(c.Gap))
	}
	v.Assumes = []string{
		as,
		"Every verdict is taken, half steps too. Where a rule asks for more places than the record has, others are gone to.",
		"The learner is a simple one. It claims nothing about what goes on in a dog; it only spreads what the record leaves open.",
	}
	return v
}

func rangeRow(label string, r outlook.Range, f outlook.Forecast) RangeRow {
	return RangeRow{Label: label, Lo: r.Lo, Mid: r.Mid, Hi: r.Hi, Open: float64(f.Done) < 0.9*float64(f.Runs)}
}

// Says is the range in words.
func (r RangeRow) Says() string {
	if r.Open {
		return fmt.Sprintf("%d to over %d", r.Lo, r.Hi)
	}
	if r.Lo == r.Hi {
		return strconv.Itoa(r.Lo)
	}
	return fmt.Sprintf("%d–%d", r.Lo, r.Hi)
}

func (w looking) forecast(v *OutlookView, f forecast, now time.Time) {
	v.Rows = []RangeRow{
		rangeRow("Sessions", f.Sessions, f.Forecast), rangeRow("Trials", f.Trials, f.Forecast), rangeRow("Not right", f.Misses, f.Forecast),
		rangeRow("Treats", f.Pieces, f.Forecast),
	}
	v.Sentence = fmt.Sprintf("%s more sessions%s to %s, most likely around %d.",
		v.Rows[0].Says(), w.hands.says(), w.hands.goal(), f.Sessions.Mid)
	if f.Done*2 < f.Runs {
		v.Sentence = fmt.Sprintf("As it goes now%s, %s is out of reach: %s of the runs get there within %d sessions.",
			w.hands.says(), w.hands.goal(), say.Percent(float64(f.Done)/float64(f.Runs)), outlook.MaxSessions)
	} else {
		day := func(sessions int) string {
			return app.ShortDay(now.In(w.Zone).AddDate(0, 0, sessions*w.course.Gap).Format(app.DayLayout), w.Today)
		}
		if v.When = fmt.Sprintf("At one session %s that is between %s and %s.", every(w.course.Gap),
			day(f.Sessions.Lo), day(f.Sessions.Hi)); v.Rows[0].Open {
			v.When = fmt.Sprintf("At one session %s that is not before %s.", every(w.course.Gap), day(f.Sessions.Lo))
		}
	}
	t := &app.Table{
		Key: "forecast", Title: "To the top step",
		Head: []string{"What", "One in ten is below", "Half are below", "One in ten is above"},
	}
	for _, row := range v.Rows {
		hi := strconv.Itoa(row.Hi)
		if row.Open {
			hi = "over " + hi
		}
		t.Add(row.Label, strconv.Itoa(row.Lo), strconv.Itoa(row.Mid), hi)
	}
	v.Tables = append(v.Tables, app.Section{Key: "forecast", Title: t.Title, Table: t})
	v.Forms, v.Own = w.runsOf(f), f.own
}

// runsOf says with what dogs the runs of a forecast were.
func (w looking) runsOf(f forecast) string {
	runs, own := say.Upper(say.Count(f.Runs, "run")), say.Count(f.own, "other plan")
	if len(w.record) == 0 {
		return fmt.Sprintf("%s, each with a dog like those of %s of this practice; seed %d. Nothing is known of %s yet, so the range is wide.",
			runs, own, w.seed, w.DogName)
	}
	text := fmt.Sprintf("%s, each with a dog that could have made this record of %s; seed %d.", runs, say.Count(len(w.record), "trial"),
		w.seed)
	if f.own > 0 {
		text += fmt.Sprintf(" What it leaves open is taken to be as with %s of this practice.", own)
	}
	if app.TallyOf(w.Evidence).N() < 3*evidence.Few {
		text += " Few trials, so the range is wide."
	}
	return text
}

func rulesTable(rows []RuleRow) app.Section {
	t := &app.Table{
		Key: "rules", Title: "The same dog under each rule",
		Head: []string{"Rule", "Sessions", "Trials", "Not right", "False step-ups", "Get there"},
	}
	for _, r := range rows {
		t.Add(r.Name, fmt.Sprintf("%s, half within %d", r.Sessions.Says(), r.Sessions.Mid), strconv.Itoa(r.Trials),
			strconv.Itoa(r.Misses), r.FalseUps, r.Done)
	}
	return app.Section{Key: "rules", Title: t.Title, Table: t}
}

// every says how often one comes that comes every so many days.
func every(days int) string {
	if days <= 1 {
		return "a day"
	}
	return fmt.Sprintf("every %d days", days)
}
