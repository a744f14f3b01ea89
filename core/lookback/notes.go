package lookback

import (
	"cmp"
	"math"
	"slices"
	"strconv"

	"patientfox/core/decision"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// NoteLine is something noted beside the trials.
type NoteLine struct {
	At       float64  // s
	ID, Text string   // ID is the event, "" where it cannot be taken back by itself
	Now      string   // which of Of it is
	Of       []Choice // what it can be corrected to; nil where it can only be taken back
}

// Choice is one thing that a note can say.
type Choice struct{ ID, Name string }

// NoteChoices are what a note of a kind can be corrected to: a state, how excited the dog was, its reaction to a decoy; nil for others.
func NoteChoices(kind record.Kind) (list []Choice) {
	names := map[record.Kind][]string{record.KState: work.StateNames, record.KArousal: work.ArousalNames}[kind]
	for i, name := range names {
		list = append(list, Choice{strconv.Itoa(i), name})
	}
	if kind == record.KDecoy {
		return []Choice{{"", "not said"}, {"none", "no reaction"}, {"looks", "it looked"}, {work.Withdraws, "it withdrew"}}
	}
	return list
}

// notes lists what was noted beside the trials, in the order in which it happened.
func (r *reviewer) notes() {
	f := r.f
	if !onlyByState(f) {
		for _, s := range f.States {
			r.choice(s.At, s.ID, "state", strconv.Itoa(s.State), record.KState)
		}
	}
	for _, a := range f.Arousals {
		r.choice(a.At, a.ID, "arousal", strconv.Itoa(a.Level), record.KArousal)
	}
	r.worn()
	r.apart()
	for _, w := range f.Withheld {
		r.note(w.At, w.ID, "fetched, not called: the cue was withheld")
	}
	for _, d := range f.Decoys {
		what := "decoy"
		if d.Tool != "" {
			what = "tool shown, paid, and away (" + d.Tool + ")"
		}
		r.choice(d.At, d.ID, what, d.Reaction, record.KDecoy)
	}
	for _, g := range f.Growls {
		r.note(g.At, g.ID, "growled or snapped")
	}
	for _, b := range f.Blocks {
		if b.ClearedBy != "" {
			r.note(b.At, "", "begun although the dog’s flags rule it out. Cleared: "+b.ClearedBy)
		}
	}
	for _, n := range f.Notes {
		r.note(n.At, n.ID, cmp.Or(n.Text, work.SignName(n.Sign)))
	}
	slices.SortStableFunc(r.Notes, func(a, b NoteLine) int { return cmp.Compare(a.At, b.At) })
}

// worn says where the dog's arousal called for a break, or after one for the end, and the work went on all the same.
func (r *reviewer) worn() {
	texts := map[decision.Excitement]string{
		decision.NeedsBreak: "over-excited twice running: a break was due",
		decision.NeedsEnd:   "over-excited again after the break: time to finish",
	}
	for _, a := range r.f.Arousals {
		dog := r.f.DogOf(a.Block)
		needs := r.f.Excited(dog, a.At)
		if texts[needs] == "" {
			continue
		}
		until := math.Inf(1)
		for _, b := range r.f.Breaks {
			if b.From >= a.At {
				until = math.Min(until, b.From)
			}
		}
		if n := r.begun(dog, a.At, until); n > 0 {
			r.note(a.At, "", texts[needs]+"; "+say.Count(n, "trial")+" followed")
		}
		delete(texts, needs)
	}
}

// begun is how many trials of a dog began between two moments, s; those of a helper's that nobody accepted left out.
func (r *reviewer) begun(dog string, from, to float64) (n int) {
	for _, t := range r.f.Trials {
		if r.f.DogOf(t.Block) == dog && t.From >= from && t.From < to && t.Outcome != trial.Void && !t.Waits {
			n++
		}
	}
	return n
}

func (r *reviewer) note(at float64, id, text string) {
	r.Notes = append(r.Notes, NoteLine{At: at, ID: id, Text: say.Clock(at) + " · " + text})
}

// choice notes one of the things that a kind of note can say.
func (r *reviewer) choice(at float64, id, what, now string, kind record.Kind) {
	of := NoteChoices(kind)
	for _, one := range of {
		if one.ID == now && now != "" {
			what += ": " + say.Lower(one.Name)
		}
	}
	r.note(at, id, what)
	line := &r.Notes[len(r.Notes)-1]
	line.Now, line.Of = now, of
}
