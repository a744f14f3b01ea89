package lookback

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// Segment is a stretch of the time strip: a step, or a break.
type Segment struct {
	From, To float64 // s
	Label    string
	Plan     string // whose step it is; "" for a break or a wait
	Break    bool
}

// StripTrial is one trial on the strip.
type StripTrial struct {
	At      float64 // s
	Outcome string
	Paid    bool
	Easy    bool
	Waits   bool // logged by another device and not accepted
}

// Gap is time without a pay that was overdue.
type Gap struct {
	From, To float64 // s of the session's clock
	Active   float64 // s
}

// RatePoint is the rolling rate at a moment.
type RatePoint struct{ At, Rate float64 }

// TrialLine is one row of the table behind the strip.
type TrialLine struct {
	ID                                       string // "" where it cannot be corrected: a tally's
	Number                                   int
	Time, Step, Outcome, Measure, Paid, Note string
	Plan                                     string // whose step it was
	Handler                                  string // id of who handled the dog
	trial.Roles
	Source, After, Instead string // of one that was not right
	Right                  bool
}

// Beside is all that stands beside the trial, in a line.
func (l TrialLine) Beside() string {
	var parts []string
	for _, one := range []struct{ lead, what string }{{"from: ", l.Source}, {"then: ", l.After}, {"instead: ", l.Instead}, {"", l.Note}} {
		if one.what != "" {
			parts = append(parts, one.lead+one.what)
		}
	}
	return strings.Join(parts, " · ")
}

// VerdictLine is one verdict: what the rule said, and what was done.
type VerdictLine struct {
	Plan                                 string
	Handler                              string // who handled the block that it was of, by id
	Time, Step, Recommended, Why, Action string
	Overruled                            bool
	Now                                  string // what today's reading says, where that differs
}

// PartRate is how the trials of one plan of a session went, or those at one site.
type PartRate struct {
	Plan string
	Site string // "" where it is all of the plan
	Word string // for a trial that counts as right
	evidence.Tally
}

// View is one session looked back at.
type View struct {
	Headline, Sentence        string
	Experiment                []string // what its blocks were given of one
	Length                    float64  // s
	Segments                  []Segment
	Trials                    []StripTrial
	Pays                      []float64 // s
	Rate                      []RatePoint
	Band                      reinforce.Band
	Gaps                      []Gap
	Table                     []TrialLine
	Verdicts                  []VerdictLine
	Cards, Phases             []evidence.Part // how each card of a deck went, and each phase
	RateOf                    string          // what the rate is of: met, or at ease where every trial was an exposure
	Strict, Lenient, RateLine string
	RatesBy                   []PartRate // of a session over several plans or sites, whose rates are not one
	Logged, LoggedLine        string
	Looks                     bool // in a class, all counted after looks at the dog
	PayLine                   string
	NextNote                  string   // the trainer's own line for next time
	Recoveries                []string // what was done to come back from too much, and how it ended
	Notes                     []NoteLine
	Flags                     []string
}

// reviewer works one session out.
type reviewer struct {
	*View
	log    *record.Log
	f      *record.Session
	active float64          // s of work, or with the stimulus on
	breaks []reinforce.Span // those that were taken, the time from one block to the next, and waits
	words  phrase.Words
}

// Read looks back at a folded session; band is the rate of reinforcement that was planned, and log is
// what the session was folded from. Steps are said in words.
func Read(log *record.Log, f *record.Session, band reinforce.Band, words phrase.Words) View {
	v := View{Band: band}
	r := reviewer{View: &v, log: log, f: f, words: words, breaks: slices.Concat(f.Between(f.Blocks...), f.Waits, f.Tallied)}
	r.read()
	return v
}

func (r *reviewer) read() {
	f := r.f
	for _, b := range f.Blocks {
		if b.Experiment != nil {
			r.Experiment = append(r.Experiment, phrase.Given(*b.Experiment))
		}
	}
	first, last := math.Inf(1), 0.0
	for _, t := range f.Trials {
		first, last = math.Min(first, t.From), math.Max(last, t.At)
	}
	for _, p := range f.Pays {
		if p.Warm || p.Apart && onlyExposures(f) || p.Reason == record.WhileRecovering {
			continue // on the way back, before the work, or beside the exposures, whose rate is over the time with the stimulus on: in no rate
		}
		first, last = math.Min(first, p.At), math.Max(last, p.At)
		r.Pays = append(r.Pays, p.At)
	}
	if f.Trying != nil { // begun, and never closed
		first, last = math.Min(first, f.Trying.From), math.Max(last, f.Trying.From)
	}
	if math.IsInf(first, 1) {
		first = 0
	}
	r.Length = math.Max(last, 1)
	r.segments(first)
	clock, end, begun := f.ClockOf(f.Blocks...)
	if !begun { // paid outside any block
		clock, end = reinforce.NewClock(first, r.breaks), last
	}
	for _, b := range f.Blocks {
		clock = clock.Without(f.Off(b))
	}
	r.rates(clock, first, last)
	r.trials()
	r.verdicts()
	r.figures(clock, end)
	r.PayLine = say.Sentences(r.PayLine, r.sorts())
	r.headline()
	for _, m := range f.Recovers {
		r.Recoveries = append(r.Recoveries, say.Clock(m.At)+" · "+recoverySays(m.What))
	}
	r.notes()
	r.readiness()
	if f.Ended != nil {
		r.NextNote = f.Ended.Next
	}
	if n := fedFirst(f); n > 0 {
		r.Flags = append(r.Flags,
			say.Upper(say.Count(n, "exposure"))+" began just after food. First the stimulus, then food, every time: else the food foretells it.")
	}
	var codes []string
	for _, flag := range f.Flags {
		if !slices.Contains(codes, flag.Code) { // once, however often
			codes = append(codes, flag.Code)
			r.Flags = append(r.Flags, flagText(flag.Code))
		}
	}
}

func flagText(code string) string {
	switch code {
	case "move_apart":
		return "A change of step did not begin where the dog stood. It is kept, and was not followed."
	case "no_outcome":
		return "A start has no outcome: nothing was tapped after it."
	case "no_block":
		return "Something was logged outside a block and could not be placed."
	case "unknown_step":
		return "A trial names a step that is in no version of the plan."
	}
	return code
}

func (r *reviewer) stepName(block *record.Block, id string) (number int, name string) {
	i := progression.Index(block.Steps, id)
	if i < 0 {
		return 0, "a step that is gone"
	}
	return i + 1, r.words.Short(block.Steps[i].Criteria)
}

// segments cuts the strip where the step changes, and at breaks.
func (r *reviewer) segments(first float64) {
	for n, b := range r.f.Blocks {
		from, to := b.At, r.Length
		if n == 0 {
			from = math.Min(first, b.At)
		}
		if n+1 < len(r.f.Blocks) {
			to = r.f.Blocks[n+1].At
		}
		step, started := b.Reached, false
		for _, m := range r.f.Moves {
			if m.Block != b.ID || !m.Followed {
				continue
			}
			if started || m.At > from+1 {
				r.segment(b, step, from, m.At)
				from = m.At
			}
			step, started = m.To, true
		}
		r.segment(b, step, from, to)
	}
	for _, wait := range r.f.Waits {
		r.cut(wait, "wait")
	}
	for _, pause := range r.f.Between(r.f.Blocks...) {
		r.cut(pause, "break")
	}
}

// cut puts a break or a wait into the segments: the step it fell into goes on after it.
func (r *reviewer) cut(span reinforce.Span, label string) {
	from, to := span.From, math.Min(span.To, r.Length)
	if to <= from {
		return
	}
	var out []Segment
	for _, s := range r.Segments {
		before, after := s, s
		before.To, after.From = math.Min(s.To, from), math.Max(s.From, to)
		for _, part := range []Segment{before, after} {
			if part.To > part.From {
				out = append(out, part)
			}
		}
	}
	out = append(out, Segment{From: from, To: to, Label: label, Break: true})
	slices.SortFunc(out, func(a, b Segment) int { return cmp.Compare(a.From, b.From) })
	r.Segments = out
}

func (r *reviewer) segment(b *record.Block, step string, from, to float64) {
	to = math.Min(to, r.Length)
	if to <= from {
		return
	}
	number, _ := r.stepName(b, step)
	label := fmt.Sprintf("step %d", number)
	for i := range r.f.Trials {
		if t := &r.f.Trials[i]; t.Block == b.ID && t.Cell && t.At > from && t.At <= to && t.Step != step {
			label = "a visit" // at the steps of the sites that were touched
		}
	}
	if n := len(r.Segments); n > 0 && r.Segments[n-1].Label == label && r.Segments[n-1].Plan == b.Plan {
		r.Segments[n-1].To = to
		return
	}
	r.Segments = append(r.Segments, Segment{From: from, To: to, Label: label, Plan: b.Plan})
}

// verdicts lists what was said and done, and reads each anew.
func (r *reviewer) verdicts() {
	trials := map[string]trial.Trial{}
	for _, t := range r.f.Trials {
		trials[t.ID] = t
	}
	for _, said := range r.f.Verdicts {
		line := VerdictLine{
			Time: say.Clock(said.At), Recommended: phrase.Verdict(decision.Verdict(said.Recommended)), Action: actionText(said.Action),
			Why: why(said.Reasons),
		}
		for _, b := range r.f.Blocks {
			if b.ID == said.Block {
				number, _ := r.stepName(b, said.Step)
				line.Plan, line.Handler, line.Step = b.Plan, b.Handler, fmt.Sprintf("step %d", number)
				line.Overruled = Overruled(b.Steps, said.Step, said.Recommended, said.Action)
			}
		}
		line.Now = r.again(said, trials)
		r.Verdicts = append(r.Verdicts, line)
	}
}

// Overruled tells whether what was done after a verdict was something else than it said; a verdict that nobody answered was not overruled.
// A step of the ladder without a figure to halve cannot be split: staying there overrules nothing.
func Overruled(steps []progression.Step, step, recommended, action string) bool {
	if action == recommended || action == "open" {
		return false
	}
	at := progression.Index(steps, step)
	cannot := recommended == string(decision.Split) && action == string(decision.Repeat) && at >= 0 && !progression.Halves(steps, at)
	return !cannot
}

func why(raw json.RawMessage) string {
	var reasons []decision.Reason
	if json.Unmarshal(raw, &reasons) != nil {
		return ""
	}
	return phrase.Why(reasons)
}

func actionText(action string) string {
	if action == "open" {
		return "not answered"
	}
	return strings.ToLower(phrase.Action(action))
}

// again reads the trials that a verdict rested on as they are now.
func (r *reviewer) again(said record.Verdict, trials map[string]trial.Trial) string {
	var rule decision.Rule
	if len(said.TrialIDs) == 0 || json.Unmarshal(said.Rule, &rule) != nil || len(rule.Check()) > 0 {
		return ""
	}
	var reads []trial.Trial
	for _, id := range said.TrialIDs {
		t, ok := trials[id]
		if !ok {
			if base, _, _ := strings.Cut(id, "#"); !r.log.Has(base) {
				return "" // from an earlier session: its own page has it
			}
			return "One of the trials it rested on has been taken back since."
		}
		reads = append(reads, t)
	}
	if now, same := decision.Again(rule, decision.Verdict(said.Recommended), reads, r.atFirst(said)); !same {
		return "As the record reads now: " + strings.ToLower(phrase.Verdict(now)) + "."
	}
	return ""
}

// atFirst tells whether a verdict was said at the first step of its ladder, as that was then: a half step may have come below it since.
func (r *reviewer) atFirst(said record.Verdict) bool {
	for _, b := range r.f.Blocks {
		for _, step := range b.Steps {
			later := func(m record.Move) bool { return m.New != nil && m.New.ID == step.ID && m.At >= said.At }
			if b.ID == said.Block && !slices.ContainsFunc(r.f.Moves, later) {
				return step.ID == said.Step
			}
		}
	}
	return false
}

// part is a plan, or a site that it was worked at.
type part struct{ plan, site string }

// outcomes counts the trials, over all and by plan or site, and those met with help.
func (r *reviewer) outcomes() (all evidence.Tally, helped int) {
	var every []trial.Outcome
	of, states := map[part][]trial.Outcome{}, map[part]bool{}
	var parts []part
	visit := trial.Sites(trial.Each(r.f.Trials)) != nil
	for i := range r.f.Trials {
		t := &r.f.Trials[i]
		if !t.Counted() {
			continue
		}
		at := part{plan: r.f.PlanOf(t.Block)}
		if visit {
			at.site = t.Site
		}
		if _, known := of[at]; !known {
			parts, states[at] = append(parts, at), true
		}
		of[at], states[at] = append(of[at], t.Outcome), states[at] && t.State != nil
		every = append(every, t.Outcome)
		if t.Outcome == trial.Met && t.Assisted {
			helped++
		}
	}
	r.RateOf = "At ease"
	for _, at := range parts {
		one := PartRate{at.plan, at.site, "at ease", evidence.Count(of[at])}
		if !states[at] {
			r.RateOf, one.Word = "Met", "met"
		}
		r.RatesBy = append(r.RatesBy, one)
	}
	if len(parts) == 0 {
		r.RateOf = "Met"
	}
	return evidence.Count(every), helped
}

func (r *reviewer) figures(clock reinforce.Clock, last float64) {
	tally, helped := r.outcomes()
	r.Strict, r.Lenient = say.Percent(tally.Strict()), say.Percent(tally.Lenient())
	if len(r.RatesBy) > 1 {
		r.Strict = fmt.Sprintf("%d of %d", tally.Met, tally.N())
	} else if tally.N() > 0 {
		i := evidence.Wilson(tally.Met, tally.N(), 0.95)
		r.RateLine = fmt.Sprintf("%d of %d, likely %s.", tally.Met, tally.N(), phrase.Range(i))
		if r.RateOf == "Met" && tally.Late > 0 {
			r.RateLine += " " + r.Lenient + " with slow ones."
		}
	}
	r.RateLine = say.Sentences(r.RateLine, phrase.AfterHelp(helped, tally.Met), phrase.OffStep(r.f.Trials))
	logged, unlogged, said := 0, 0, false
	for _, b := range r.f.Blocks {
		logged, unlogged, said = logged+b.Logged, unlogged+b.Unlogged, said || b.UnloggedConfirmed
	}
	r.Logged = say.Percent(evidence.Coverage(logged, unlogged))
	switch {
	case unlogged > 0:
		r.LoggedLine = fmt.Sprintf("%s logged, about %d not.", say.Count(logged, "trial"), unlogged)
	case said:
		r.LoggedLine = say.Count(logged, "trial") + ", none reported missing."
	case r.f.Class != "":
		r.Logged, r.LoggedLine = say.Upper(say.Count(logged, "trial")), "In a class: what nobody saw is not asked for."
		r.Looks = !slices.ContainsFunc(r.f.Trials, func(t trial.Trial) bool { return !t.Tally })
	default:
		r.Logged, r.LoggedLine = say.Upper(say.Count(logged, "trial")), "Nobody said whether any are missing."
	}
	if eaten, known := r.f.Eaten(); known {
		r.LoggedLine += fmt.Sprintf(" %s eaten, %d paid in the log.", say.Count(eaten, "treat"), r.f.PaidPieces())
	}
	r.active = clock.Active(last)
	if seconds := r.active; seconds < reinforce.RateFrom && len(r.Pays) > 0 {
		r.PayLine = fmt.Sprintf("%s in %s: too short for a rate.", say.Count(len(r.Pays), "pay"), say.Seconds(math.Round(seconds)))
	} else if minutes := seconds / 60; len(r.Pays) > 0 {
		of := "of work"
		if onlyExposures(r.f) {
			of = "with the stimulus on"
		}
		r.PayLine = fmt.Sprintf("%s in %s %s: %.1f a minute.", say.Count(len(r.Pays), "pay"), say.Seconds(math.Round(minutes*60)), of,
			float64(len(r.Pays))/minutes)
	}
}
