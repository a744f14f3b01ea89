package lookback

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// trials lists the trials, on the strip and in the table.
func (r *reviewer) trials() {
	blocks := map[string]*record.Block{}
	for _, b := range r.f.Blocks {
		blocks[b.ID] = b
	}
	said := r.delivered()
	var cards, phases evidence.Parts
	for i, t := range r.f.Trials {
		cards.Card(Card(t, blocks[t.Block], r.words), &t)
		phases.Phases(&t)
		r.Trials = append(r.Trials, StripTrial{r.drawnAt(i), t.Shape(), t.Pays > 0, t.Easy, t.Waits})
		number, name := r.stepName(blocks[t.Block], t.Step)
		line := TrialLine{
			Number: i + 1, Time: say.Clock(t.At), Step: fmt.Sprintf("%d · %s", number, name), Outcome: t.Shape(), Paid: paid(&t, said[t.ID]),
			Plan: r.f.PlanOf(t.Block), Handler: t.Handler, Roles: t.Roles,
			Source: t.Source, After: t.After, Instead: t.Instead, Right: t.Outcome.Right() || t.Outcome == trial.Void,
		}
		line.Measure = measured(t, blocks[t.Block])
		if !t.Tally {
			line.ID = t.ID
		}
		line.Note = trialNote(t, blocks[t.Block])
		if r.f.Twice(&t) {
			line.Note = strings.Trim(line.Note+" · the same touch, seen on two phones", " ·")
		}
		if card := Card(t, blocks[t.Block], r.words); card != "" {
			line.Note = strings.Trim("card: "+card+" · "+line.Note, " ·")
		} else if was := r.worked(blocks[t.Block], t); was != "" {
			line.Note = strings.Trim(line.Note+" · as worked: "+was, " ·")
		}
		r.Table = append(r.Table, line)
	}
	r.Cards, r.Phases = cards.List, phases.List
}

// drawnAt is where a trial stands on the strip (s): those of a tally spread over the time that they were worked in, since nobody knows when
// each was.
func (r *reviewer) drawnAt(i int) float64 {
	t := &r.f.Trials[i]
	if !t.Tally {
		return t.At
	}
	beside := func(at int) bool {
		return at >= 0 && at < len(r.f.Trials) && r.f.Trials[at].Tally && r.f.Trials[at].Block == t.Block && r.f.Trials[at].At == t.At
	}
	first, last := i, i
	for beside(first - 1) {
		first--
	}
	for beside(last + 1) {
		last++
	}
	for _, span := range r.f.Tallied {
		if span.To == t.At {
			return span.From + (span.To-span.From)*float64(i-first+1)/float64(last-first+1)
		}
	}
	return t.At
}

// worked says how the set-up of a trial really was, "" where it was as planned.
func (r *reviewer) worked(b *record.Block, t trial.Trial) string {
	at := progression.Index(b.Steps, t.Step)
	if len(t.Worked) == 0 || at < 0 {
		return ""
	}
	var was criteria.Criteria
	line := ""
	for _, d := range work.Settings(b.Steps, b.Steps[at].Criteria) {
		switch figure, other := t.Worked[d.Key]; {
		case !other:
		case d.Key == work.LineOut.Key:
			line = r.words.Units.Say(d, figure) + " of line let out"
		default:
			was = was.WithDimension(d, figure)
		}
	}
	return strings.Trim(r.words.Short(was)+" · "+line, " ·")
}

// delivered says of each trial, by its id, where its pays went and how they were taken, as far as that was said.
func (r *reviewer) delivered() map[string][]string {
	said := map[string][]string{}
	for i := range r.f.Pays {
		p := &r.f.Pays[i]
		taken := map[string]string{"slow": "eaten slowly", "refused": "refused"}[p.Taken]
		if p.Lasts() && p.Taken == "slow" {
			taken = "taken slowly"
		}
		jackpot := ""
		if p.Jackpot {
			jackpot = strings.TrimSuffix("jackpot: "+p.Reason, ": ")
		}
		for _, word := range []string{lasted(p), jackpot, reinforce.LabelOf(reinforce.Places, p.Where), taken} {
			if word != "" && !slices.Contains(said[p.Trial], word) {
				said[p.Trial] = append(said[p.Trial], word)
			}
		}
	}
	return said
}

func paid(t *trial.Trial, said []string) string {
	if t.Pays == 0 {
		return "–"
	}
	if t.Pieces == 0 {
		return strings.Join(said, ", ")
	}
	return strings.Join(append([]string{say.Count(t.Pieces, "treat")}, said...), ", ")
}

// lasted says what a pay was that took its time, and how long; "" for food in pieces.
func lasted(p *record.Payment) string {
	word := p.As.Short()
	if p.LifeReward {
		word = reinforce.Wanted.Short()
	}
	if word != "" && p.Seconds != nil {
		word += " " + say.Seconds(*p.Seconds)
	}
	return word
}

// apart lists what was paid for something else than a trial. Treats one after another on the way back from too much are one line.
func (r *reviewer) apart() {
	pays := r.f.Pays
	for i := 0; i < len(pays); i++ {
		p := &pays[i]
		if !p.Apart {
			continue
		}
		if p.Reason == record.WhileRecovering {
			last, treats := i, 0
			for n := i; n < len(pays) && pays[n].Reason == record.WhileRecovering; n++ {
				last, treats = n, treats+pays[n].Pieces
			}
			if last > i {
				r.note(p.At, "", fmt.Sprintf("fed on the way back, until %s: %s", say.Clock(pays[last].At), say.Count(treats, "treat")))
				i = last
				continue
			}
		}
		what := lasted(p)
		if what == "" {
			what = say.Count(p.Pieces, "treat")
		}
		for_ := p.Reason
		if for_ == "" {
			for_ = "something else"
		}
		r.note(p.At, p.ID, fmt.Sprintf("paid beside the trials, for %s: %s", for_, what))
	}
}

// sorts says what was paid with, where it was not food alone.
func (r *reviewer) sorts() string {
	type sum struct {
		n       int
		seconds float64
	}
	by, order := map[string]sum{}, []string{}
	jackpots := 0
	for i := range r.f.Pays {
		p := &r.f.Pays[i]
		if p.Warm {
			continue
		}
		name := "food"
		if p.LifeReward {
			name = reinforce.Wanted.Short()
		} else if p.As != "" {
			name = p.As.Short()
		}
		one, known := by[name]
		if !known {
			order = append(order, name)
		}
		one.n++
		if p.Seconds != nil {
			one.seconds += *p.Seconds
		}
		by[name] = one
		if p.Jackpot {
			jackpots++
		}
	}
	var parts []string
	all := 0
	for _, name := range order {
		all += by[name].n
	}
	for _, name := range order {
		part := fmt.Sprintf("%s %d of %d", name, by[name].n, all)
		if s := by[name].seconds; s > 0 {
			part += fmt.Sprintf(" (%s in all)", say.Seconds(math.Round(s)))
		}
		parts = append(parts, part)
	}
	line := ""
	if len(order) > 1 || len(order) == 1 && order[0] != "food" {
		line = "Paid with " + say.List(parts) + "."
	}
	if jackpots > 0 {
		line = say.Sentences(line, say.Upper(say.Count(jackpots, "jackpot"))+".")
	}
	return line
}

func trialNote(t trial.Trial, b *record.Block) string {
	notes := slices.Clone(t.Errors)
	switch t.Mistake {
	case "":
	case work.MistakeNotSaid:
		notes = append(notes, "my mistake")
	default:
		notes = append(notes, "my mistake: "+t.Mistake)
	}
	switch {
	case b != nil && b.Mode == record.Rehearsal:
		notes = append(notes, "a rehearsal, in no rate")
	case t.OffStep():
		notes = append(notes, "not what the step asks, in no rate")
	case t.Rearranged():
		notes = append(notes, "not as planned, in no rate")
	case t.Apart():
		notes = append(notes, "no step asks for it, in no rate")
	case t.Easy:
		notes = append(notes, "easy, in no rate")
	}
	if t.Eased {
		notes = append(notes, "sore: its easiest touch")
	}
	if t.State != nil && t.Outcome == trial.LetGo {
		notes = append(notes, "ended early, in no rate") // its shape is its state
	}
	if t.Cues > 1 {
		notes = append(notes, say.Count(t.Cues, "cue"))
	}
	if t.Tapped != "" && t.Tapped != t.Outcome {
		notes = append(notes, "tapped "+phrase.Outcome(t.Tapped))
	}
	if t.Tally {
		notes = append(notes, "from a tally")
	}
	if t.PutIn {
		notes = append(notes, "put in later")
	}
	if t.Amended {
		notes = append(notes, "corrected later")
	}
	if t.Waits {
		notes = append(notes, "another device's, not accepted")
	}
	return strings.Join(notes, " · ")
}
