package field

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/work"
)

// row is the keys above the large one.
func (r *Run) row(at float64) []work.Button {
	if r.phase() == Warming {
		return work.Outcomes("Slow", "Skip it", "Nothing")
	}
	return r.work().Row(r.moment(at))
}

// beside are the keys of the moment, over that row: few, and only those that mean something.
func (r *Run) beside(phase Phase) (keys []work.Button) {
	add := func(key work.Key, label string, on bool) {
		if r.meansOwn(key, phase) {
			keys = append(keys, work.Button{Key: key, Label: label, On: on})
		}
	}
	for _, name := range r.others() {
		add(instead+work.Key(name), "Did: "+name, false)
	}
	if other := r.otherDog(); other != nil {
		add(work.SwapKey, "Swap: "+r.dogOf(other)+" works", false)
	}
	own := r.work().Beside(r.moment(0))
	if phase == Idle || phase == Trying {
		keys = append(keys, own...)
	}
	if r.armed.Done {
		add(work.DoneKey, "Really done", true)
	} else {
		add(work.DoneKey, "Rehearsal", false)
	}
	add(work.ItselfKey, "Itself again", false)
	if w := r.worried(); w != nil && *w.State >= 3 || r.s.Away != nil {
		add(work.RecoverKey, "Recover", false)
	}
	if r.s.Away == nil && r.work().Leaves {
		add(work.LeftKey, "It left", false)
	}
	return keys
}

// measures is what the trial under way counts, in a line; what else is asked where nothing is under way.
func (r *Run) measures(at float64) string {
	if r.s.Away != nil {
		return "It left, as it may. Wait, and see whether it comes back and offers again."
	}
	return r.work().Line(r.moment(at))
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
			d.Of, d.Part = "of "+say.Seconds(decision.FurtherOffS), math.Min(1, math.Max(0, at-last.At)/decision.FurtherOffS)
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
			return Dial{Big: strconv.Itoa(made), Of: "of " + say.Count(n, "pace"), Part: float64(made) / float64(n)}, true
		}
		return Dial{Big: strconv.Itoa(n), Of: strings.TrimPrefix(say.Count(n, "pace"), strconv.Itoa(n)+" ")}, true
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
