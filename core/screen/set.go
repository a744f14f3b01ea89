package screen

import (
	"fmt"

	"patientfox/core/decision"
	"patientfox/core/phrase"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
)

// How many places have room in one row, and how many are shown of a longer one.
const (
	maxPlaces = 10
	fewPlaces = 5
)

// set shows the set under way, or the one just filled while its verdict waits.
func (r Screen) set() SetView {
	b := r.Block()
	size := r.Now().Rule.Size
	if b == nil {
		return SetView{}
	}
	if r.Now().Rule.Kind == session.ByWarmUp {
		if !r.TriedBefore() {
			var v View
			r.ready(&v, 0)
			return v.Set
		}
		return r.warmSet()
	}
	if r.Doing() != record.Train || r.Now().Rule.Kind == session.ByProbe {
		return r.modeSet(b)
	}
	if number, _ := r.Card(); number > 0 {
		return r.deckSet(len(b.Deck))
	}
	if r.Armed().Round {
		return r.visit()
	}
	counted := r.Counted()
	if size == 0 {
		return r.runPlaces(counted)
	}
	sets := decision.SetsOf(counted, size)
	number := max(1, len(sets))
	var shown []trial.Trial
	if len(sets) > 0 {
		shown = sets[len(sets)-1]
	}
	waits := r.Now().Due && (!r.Now().Answered || r.Now().Verdict == decision.Repeat) && r.Session().Trying == nil
	if len(shown) == size && !waits {
		shown, number = nil, number+1
	}
	v := SetView{Label: fmt.Sprintf("Set %d", number), Places: members(shown)}
	for len(v.Places) < size {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// visit shows the last touches of a visit, at whatever site.
func (r Screen) visit() SetView {
	touched := r.Visited()
	v := SetView{Label: fmt.Sprintf("Visit: %d", len(touched))}
	for _, t := range touched[max(0, len(touched)-fewPlaces):] {
		v.Places = append(v.Places, SetMember{t.Shape(), t.Pays > 0})
	}
	for len(v.Places) < fewPlaces {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// deckSet shows how the deck's cards went in this round, the last few of them where the deck is large.
func (r Screen) deckSet(cards int) SetView {
	dealt := r.Dealt()
	n := len(dealt) % cards
	if n == 0 && len(dealt) > 0 && r.Session().Trying == nil {
		n = cards
	}
	v := SetView{Label: fmt.Sprintf("Deck: %d of %d", n, cards)}
	round := dealt[len(dealt)-n:]
	if cards > maxPlaces {
		v.Places = members(round[max(0, n-fewPlaces):])
		cards = fewPlaces
	} else {
		v.Places = members(round)
	}
	for len(v.Places) < cards {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// runPlaces shows the run towards the step up.
func (r Screen) runPlaces(counted []trial.Trial) SetView {
	up := max(1, r.Now().Rule.Up, r.Now().Rule.Clean)
	if label, wide := r.windowLabel(); wide {
		v := SetView{Label: label, Places: members(counted[max(0, len(counted)-fewPlaces):])}
		for len(v.Places) < fewPlaces {
			v.Places = append(v.Places, SetMember{})
		}
		return v
	}
	recent := counted[max(0, len(counted)-up):]
	for i := len(recent) - 1; i >= 0; i-- {
		if recent[i].Assisted || recent[i].Outcome != trial.Met && !(r.Now().Rule.Lenient && recent[i].Outcome == trial.Late) {
			// A row starts anew after a trial that broke it; that one is still shown while it is the last.
			if i < len(recent)-1 {
				recent = recent[i+1:]
			} else {
				recent = recent[i:]
			}
			break
		}
	}
	v := SetView{Label: "In a row", Places: members(recent)}
	for len(v.Places) < up {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// windowLabel says how far a rule that reads many trials has come, those of earlier sessions too.
func (r Screen) windowLabel() (string, bool) {
	b := r.Block()
	switch r.Now().Rule.Kind {
	case decision.Gate:
		n := 0
		for t := range trial.Each(r.Pack().Stretched(r.Session(), b)) {
			if t.Counted() {
				n++
			}
		}
		in := n % r.Now().Rule.Window
		if in == 0 && n > 0 {
			in = r.Now().Rule.Window
		}
		return fmt.Sprintf("Window: %d of %d", in, r.Now().Rule.Window), true
	case decision.Proof:
		if round := decision.RoundSaid(r.Now().Rule, r.Now().Reasons); round != nil {
			return phrase.ProofShort(*round), true
		}
		return phrase.RuleName(decision.Proof), true
	}
	return "", false
}

func members(trials []trial.Trial) []SetMember {
	var list []SetMember
	for t := range trial.Each(trials) {
		shape := t.Shape()
		if t.Assisted && t.State == nil { // the step up waits for it
			shape = string(trial.Helped)
		}
		list = append(list, SetMember{shape, t.Pays > 0})
	}
	return list
}

// warmSet shows the tries of the warm-up.
func (r Screen) warmSet() SetView {
	v := SetView{Label: "Warm-up"}
	shapes := map[decision.Answer]string{decision.AnswerEager: "met", decision.AnswerSlow: "late", decision.AnswerNone: "missed"}
	for _, w := range r.Session().Warm {
		v.Places = append(v.Places, SetMember{shapes[w.Answer], w.Answer != decision.AnswerNone})
	}
	for len(v.Places) < decision.ReadyTries {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// modeSet shows the block's trials where no set is counted.
func (r Screen) modeSet(b *record.Block) SetView {
	var shown []trial.Trial
	for t := range trial.Each(r.Session().Trials) {
		if t.Block == b.ID {
			shown = append(shown, *t)
		}
	}
	v := SetView{Label: say.Count(len(shown), "trial"), Places: members(shown[max(0, len(shown)-5):])}
	for len(v.Places) < 5 {
		v.Places = append(v.Places, SetMember{})
	}
	return v
}

// eager is how many tries of the warm-up were.
func (r Screen) eager() int {
	n := 0
	for _, w := range r.Session().Warm {
		if w.Answer == decision.AnswerEager {
			n++
		}
	}
	return n
}
