package field

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/record"
)

// RowKey is one key of the row above the large one.
type RowKey struct {
	Key   Key    `json:"key"`
	Label string `json:"label"`
	Shape string `json:"shape,omitempty"` // an outcome or a state
	Kbd   string `json:"kbd,omitempty"`
	On    bool   `json:"on,omitempty"` // pressed in
}

// row is the keys above the large one: outcomes, states, or what else can be offered.
func (r *Run) row() []RowKey {
	kind := r.pack.Kind
	switch {
	case r.phase() == Warming:
		return []RowKey{{LateKey, "Slow", "late", "2", false}, {HelpKey, "Skip it", "helped", "3", false}, {MissKey, "Nothing", "missed", "4", false}}
	case kind.ByState():
		row := []RowKey{
			{MetKey, phrase.States[1], "state1", "1", false}, {LateKey, phrase.States[2], "state2", "2", false},
			{HelpKey, phrase.States[3], "state3", "3", false}, {MissKey, phrase.States[4], "state4", "4", false},
		}
		if kind == criteria.Counter && r.phase() == Trying {
			row = append([]RowKey{{ExpectKey, phrase.States[0], "state0", "E", false}}, row...)
		}
		return row
	case r.shapes():
		items, at := r.approximations()
		var row []RowKey
		for i := max(0, at-3); i < min(len(items), at+3); i++ {
			if i == at {
				continue // the large key
			}
			shape := "missed"
			if i > at {
				shape = "met"
			}
			row = append(row, RowKey{Key(offered + strconv.Itoa(i)), phrase.Upper(items[i]), shape, strconv.Itoa(len(row) + 1), false})
		}
		return append(row, RowKey{MissKey, "Other", "missed", "4", false})
	case kind == criteria.Walking:
		return []RowKey{{MetKey, "All paces", "met", "1", false}, {HelpKey, "Helped", "helped", "3", false}, {PullKey, "Pulled", "missed", "4", false}}
	case kind == criteria.Attention:
		return []RowKey{{ThrowKey, "Treat thrown", "", "2", false}, {HelpKey, "You called", "helped", "3", false}, {MissKey, "Stop it here", "missed", "4", false}}
	case kind == criteria.Steadiness:
		return []RowKey{{MetKey, "Released", "met", "1", false}, {HelpKey, "Helped", "helped", "3", false}, {MissKey, "Broke", "missed", "4", false}}
	}
	return []RowKey{{LateKey, "Late", "late", "2", false}, {HelpKey, "Helped", "helped", "3", false}, {MissKey, "Missed", "missed", "4", false}}
}

// beside are the keys of the moment, over that row: few, and only those that mean something.
func (r *Run) beside(phase Phase) (keys []RowKey) {
	add := func(key Key, label string, on bool) {
		if r.meansOwn(key, phase) {
			keys = append(keys, RowKey{Key: key, Label: label, On: on})
		}
	}
	for _, name := range r.others() {
		add(instead+Key(name), "Did: "+name, false)
	}
	if other := r.otherDog(); other != nil {
		add(SwapKey, "Swap: "+r.dogOf(other)+" works", false)
	}
	add(PulledKey, "Pulled away: let go", false)
	add(TakeKey, "You take it", false)
	if r.armed.Done {
		add(DoneKey, "Really done", true)
	} else {
		add(DoneKey, "Rehearsal", false)
	}
	add(PutAwayKey, "Distraction away", false)
	add(ItselfKey, "Itself again", false)
	if w := r.worried(); w != nil && *w.State >= 3 || r.s.Away != nil {
		add(RecoverKey, "Recover", false)
	}
	if r.s.Away == nil && (r.pack.Kind == criteria.Handling || r.pack.Kind == criteria.Shaping) {
		add(LeftKey, "It left", false)
	}
	return keys
}

// measures is what the trial under way counts, in a line; what else is asked where nothing is under way.
func (r *Run) measures(at float64) string {
	o, c := r.s.Trying, r.step().Criteria
	switch kind := r.pack.Kind; {
	case r.s.Away != nil:
		return "It left, as it may. Wait, and see whether it comes back and offers again."
	case kind == criteria.Attention && o != nil:
		line := fmt.Sprintf("%d of %s", o.Counted.CheckIns, phrase.Count(int(c.Get(criteria.CheckIns)), "check-in"))
		if o.Thrown != nil && o.Counted.ReturnS == nil {
			line += fmt.Sprintf(" · thrown %d s ago", int(at-*o.Thrown))
		} else if o.Counted.ReturnS != nil {
			line += " · back after " + phrase.Seconds(math.Round(*o.Counted.ReturnS*10)/10)
		}
		return line
	case kind == criteria.Counter && o != nil:
		line := phrase.Count(o.Pays(), "pay") + " while it is on"
		if o.FedFirst {
			line += " · food came first: first that, then food"
		}
		return line
	case kind == criteria.Handling:
		site := r.site()
		if o != nil && o.Touch.Site != "" {
			site = o.Touch.Site
		}
		return phrase.Upper(site)
	case kind == criteria.Steadiness && c.Has(criteria.Lead):
		return phrase.Upper(r.leadLine(at))
	}
	return ""
}

// leadLine says when the distraction comes.
func (r *Run) leadLine(at float64) string {
	lead, o := r.step().Criteria.Get(criteria.Lead), r.s.Trying
	s := phrase.Seconds(math.Abs(lead))
	switch {
	case lead > 0 && o != nil && o.Signal != nil && o.Out == nil:
		if left := lead - (at - *o.Signal); left > 0 {
			return fmt.Sprintf("distraction in %.1f s", left)
		}
		return "distraction now"
	case lead < 0 && o != nil && o.Out != nil && o.Signal == nil:
		if left := -lead - (at - *o.Out); left > 0 {
			return fmt.Sprintf("signal in %.1f s", left)
		}
		return "signal now"
	case o != nil && o.Out != nil:
		return "keeps its place until you release it"
	case lead > 0:
		return "signal, and the distraction " + s + " after it"
	case lead < 0:
		return "distraction, and the signal " + s + " after it"
	}
	return "signal and distraction together"
}

// kindDial is the dial of the kinds that wait for something else than an answer or the end of a hold.
func (r *Run) kindDial(at float64) (d Dial, ok bool) {
	o := r.s.Trying
	since := func(from float64, of string) Dial {
		return Dial{Big: fmt.Sprintf("%.1f", math.Floor(math.Max(0, at-from)*10)/10), Of: of}
	}
	switch {
	case r.phase() == Recovering:
		moves, _, _ := r.recovery()
		last := moves[len(moves)-1]
		d := since(last.At, "seconds")
		if last.What == record.Distance {
			d.Of, d.Part = "of "+phrase.Seconds(decision.FurtherOffS), math.Min(1, math.Max(0, at-last.At)/decision.FurtherOffS)
			d.Full = d.Part == 1
		}
		return d, true
	case r.s.Away != nil:
		return since(*r.s.Away, "seconds away"), true
	case r.s.Taut != nil:
		return since(*r.s.Taut, "s until it is slack"), true
	case r.worried() != nil:
		return since(r.worried().At, "s: itself again?"), true
	case r.paces() > 0:
		n, made := r.paces(), 0
		if o != nil {
			made = o.Counted.Paces
			return Dial{Big: strconv.Itoa(made), Of: "of " + phrase.Count(n, "pace"), Part: float64(made) / float64(n)}, true
		}
		return Dial{Big: strconv.Itoa(n), Of: strings.TrimPrefix(phrase.Count(n, "pace"), strconv.Itoa(n)+" ")}, true
	case r.shapes():
		return r.offersDial(at), true
	}
	return d, false
}

// offersDial is the rate of offers, those that were marked and those that were not.
func (r *Run) offersDial(at float64) Dial {
	d := Dial{Big: "0", Of: "offers a minute"}
	clock, begun := r.clock()
	if !begun {
		return d
	}
	n := r.block().Offers
	for _, t := range r.s.Trials {
		if t.Block == r.block().ID {
			n++
		}
	}
	if active := clock.Active(at); active > 0 {
		d.Big = strconv.FormatFloat(float64(n)/(math.Max(active, 10)/60), 'f', 1, 64)
	}
	return d
}
