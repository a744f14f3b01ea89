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
	Source, After, Instead                   string // of one that was not right
	Right                                    bool
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
	Time, Step, Recommended, Why, Action string
	Overruled                            bool
	Now                                  string // what today's reading says, where that differs
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
	Logged, LoggedLine        string
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
				line.Plan, line.Step = b.Plan, fmt.Sprintf("step %d", number)
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

func (r *reviewer) figures(clock reinforce.Clock, last float64) {
	var outcomes []trial.Outcome
	exposures, helped := len(r.f.Trials) > 0, 0
	for i := range r.f.Trials {
		if t := &r.f.Trials[i]; t.Counted() {
			outcomes = append(outcomes, t.Outcome)
			if t.Outcome == trial.Met && t.Assisted {
				helped++
			}
			exposures = exposures && t.State != nil
		}
	}
	r.RateOf = "Met"
	if exposures && len(outcomes) > 0 {
		r.RateOf = "At ease"
	}
	tally := evidence.Count(outcomes)
	r.Strict, r.Lenient = say.Percent(tally.Strict()), say.Percent(tally.Lenient())
	if tally.N() > 0 {
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
	default:
		r.Logged, r.LoggedLine = say.Upper(say.Count(logged, "trial")), "Nobody said whether any are missing."
	}
	if eaten, known := r.f.Eaten(); known {
		r.LoggedLine += fmt.Sprintf(" %s eaten, %d paid in the log.", say.Count(eaten, "treat"), r.f.PaidPieces())
	}
	r.active = clock.Active(last)
	if seconds := r.active; seconds < minRateS && len(r.Pays) > 0 {
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

// sagged says that pay stopped before misses in a gap, "" where it has none, or they came before it was overdue.
func (r *reviewer) sagged(gap Gap) string {
	misses, first := 0, 0.0
	for _, t := range r.f.Trials {
		if t.Outcome == trial.Missed && t.At > gap.From && t.At <= gap.To {
			if misses++; misses == 1 {
				first = t.At
			}
		}
	}
	stopped := "Pay stopped before "
	if r.ranOut(gap) {
		stopped = "The treats ran out before "
	}
	switch {
	case misses == 0 || first-gap.From < r.Band.Overdue():
		return ""
	case onlyExposures(r.f):
		return stopped + "it turned wary"
	case misses == 1:
		return stopped + "the miss"
	}
	return stopped + "the misses"
}

// ranOut tells whether all treats that were counted out had been paid when a gap began.
func (r *reviewer) ranOut(gap Gap) bool {
	if r.f.Pieces == nil || *r.f.Pieces == 0 {
		return false
	}
	paid := 0
	for _, p := range r.f.Pays {
		if p.At <= gap.From {
			paid += p.Pieces
		}
	}
	return paid >= *r.f.Pieces
}

// minRateS is under how much active time no rate is said, s.
const minRateS = 20

// gravest is the headline of a session that stopped or recovered, or went back at once; "" for any other.
func (r *reviewer) gravest() string {
	if n := len(r.f.Growls); n > 0 {
		r.Sentence = "At " + say.Clock(r.f.Growls[0].At) + ". Ask a veterinarian or a certified behaviour professional before the next session."
		return "Growled or snapped"
	}
	for _, t := range r.f.Trials {
		if t.Shown() == 4 {
			r.Sentence = "At " + say.Clock(t.At) + "."
			return "Stopped: over threshold"
		}
	}
	for _, one := range r.f.States { // noted beside the trials
		if one.State == 4 {
			r.Sentence = "Noted at " + say.Clock(one.At) + "."
			return "Over threshold"
		}
	}
	if r.f.Ended != nil && r.f.Ended.Reason == "stop" {
		return "Stopped"
	}
	if n := len(r.f.Recovers); n > 0 {
		last := r.f.Recovers[n-1]
		r.Sentence = fmt.Sprintf("From %s: %s at %s.", say.Clock(r.f.Recovers[0].At), say.Lower(recoverySays(last.What)), say.Clock(last.At))
		return "A recovery"
	}
	for _, v := range r.f.Verdicts {
		if reasons := string(v.Reasons); v.Action != string(decision.StepBack) {
			continue
		} else if strings.Contains(reasons, string(decision.GuardMisses)) {
			r.Sentence = "After misses in a row, at " + say.Clock(v.At) + "."
		} else if strings.Contains(reasons, string(decision.GuardWary)) {
			r.Sentence = "Not at ease several times in a row, at " + say.Clock(v.At) + "."
		} else {
			continue
		}
		return "Back a step at once"
	}
	return ""
}

// headline says in one sentence what is active knowing first: the gravest thing that happened.
func (r *reviewer) headline() {
	if r.Headline = r.gravest(); r.Headline != "" {
		return
	}
	worst := Gap{}
	for _, g := range r.Gaps {
		if g.Active > worst.Active {
			worst = g
		}
	}
	if worst.Active > 0 {
		r.Sentence = fmt.Sprintf("From %s nothing was paid for %d s, against a plan of %d at the longest.",
			say.Clock(worst.From), int(math.Round(worst.Active)), int(math.Round(60/r.Band.Lo)))
		if r.ranOut(worst) {
			r.Sentence += fmt.Sprintf(" Nothing was left of the %s counted out.", say.Count(*r.f.Pieces, "treat"))
		}
		if r.Headline = r.sagged(worst); r.Headline != "" {
			return
		}
	}
	up, down := 0, 0
	for _, m := range r.f.Moves {
		switch {
		case !m.Followed:
		case m.Why == progression.WhyStepUp:
			up++
		case m.Why == progression.WhyStepBack || m.Why == progression.WhyRestart:
			down++
		}
	}
	switch {
	case len(r.f.Trials) == 0:
		r.Headline = "Nothing was logged"
	case up > 0 && down == 0:
		r.Headline = say.Upper(say.CountInWords(up, "step")) + " up"
	case down > 0 && up == 0:
		r.Headline = say.Upper(say.CountInWords(down, "step")) + " back"
	case up > 0:
		r.Headline = say.Upper(say.CountInWords(up, "step")) + " up, " + say.CountInWords(down, "step") + " back"
	case r.byHand() != "":
		r.Headline = r.byHand()
	default:
		r.Headline = cmp.Or(r.beside(), r.under(), "Held its step")
	}
	if r.Sentence == "" && r.Band.Lo > 0 && len(r.Pays) > 0 && r.active >= minRateS && !r.perTrial() {
		r.Sentence = "No gap between pays was overdue."
	}
}

// beside is the headline of a session of which no trial counts towards a step; "" where one does.
func (r *reviewer) beside() string {
	cards := true
	for i := range r.f.Trials {
		t := &r.f.Trials[i]
		if t.Counted() {
			return ""
		}
		cards = cards && (t.OffStep() || t.Waits)
	}
	mode := record.Train
	if n := len(r.f.Blocks); n > 0 {
		mode = r.f.Blocks[n-1].Mode
	}
	switch {
	case mode == record.Baseline:
		return "A baseline"
	case mode == record.Placing:
		if n := len(r.f.Moves); n > 0 && r.f.Moves[n-1].Followed && r.f.Moves[n-1].Why == progression.WhyPlaced {
			return "Found where to begin"
		}
		return "Looked for where to begin"
	case cards:
		return "Cards other than its step"
	}
	return "No trial counts"
}

// under says that a skill was worked below its step to the end of the session, or came back up to it; "" where neither is so. An easy one
// at the end and two steps in turn are at the step all the same.
func (r *reviewer) under() string {
	if len(r.f.Blocks) == 0 {
		return ""
	}
	b := r.f.Blocks[len(r.f.Blocks)-1]
	for _, m := range slices.Backward(r.f.Moves) {
		switch {
		case !m.Followed || r.f.PlanOf(m.Block) != b.Plan || m.Why == progression.WhyFinish:
		case m.Why == progression.WhySplit:
			return "Half a step down"
		case m.Why == progression.WhyRegain && m.To == b.Position.Reached:
			return "Back at its step"
		case m.Why == progression.WhyStart || m.Why == progression.WhyRegain:
			return "Worked below its step"
		default:
			return ""
		}
	}
	return ""
}

// byHand says to which step the trainer moved a skill in the session, "" where it was worked where it had begun to the end.
func (r *reviewer) byHand() string {
	for _, b := range slices.Backward(r.f.Blocks) {
		began := ""
		for _, t := range r.f.Trials {
			if r.f.PlanOf(t.Block) == b.Plan {
				began = cmp.Or(began, t.Step)
			}
		}
		for _, m := range slices.Backward(r.f.Moves) {
			if m.Followed && m.Why == progression.WhyHand && r.f.PlanOf(m.Block) == b.Plan {
				if number, _ := r.stepName(b, m.To); m.To != began && number > 0 {
					return fmt.Sprintf("Set manually to step %d", number)
				}
				break
			}
		}
	}
	return ""
}
