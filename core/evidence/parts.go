package evidence

import "patientfox/core/trial"

// Part is how one card of a deck, or one phase of the trials, went.
type Part struct {
	Name    string
	Met, Of int
	Seconds []float64 // that it took each time, none for a card
}

// MedianS is how long the part took, s; 0 where no time was taken.
func (p Part) MedianS() float64 {
	if len(p.Seconds) == 0 {
		return 0
	}
	return Quantile(p.Seconds, 0.5)
}

// Parts gathers how cards or phases went, in the order in which they first came. The zero value is ready; it may not be shared.
type Parts struct {
	List []Part
	at   map[string]int
}

// Card adds a trial to the card that it was dealt; "" is no card. Void trials, those ended early and a helper's are left out.
func (p *Parts) Card(says string, t *trial.Trial) {
	if says == "" || t.Waits || t.Outcome.Unread() {
		return
	}
	p.part(says).add(t.Outcome == trial.Met)
}

// Phases adds each phase of a trial: met where it was marked as met and lasted, or with the dog at ease. Void trials and a helper's
// are left out.
func (p *Parts) Phases(t *trial.Trial) {
	if t.Waits || t.Outcome == trial.Void {
		return
	}
	for _, one := range t.Phases {
		part := p.part(one.Name)
		part.add(one.Read() == trial.Met || one.State != nil && *one.State <= 1)
		part.Seconds = append(part.Seconds, one.S)
	}
}

func (p *Parts) part(name string) *Part {
	at, known := p.at[name]
	if !known {
		if p.at == nil {
			p.at = map[string]int{}
		}
		at = len(p.List)
		p.at[name], p.List = at, append(p.List, Part{Name: name})
	}
	return &p.List[at]
}

func (p *Part) add(met bool) {
	p.Of++
	if met {
		p.Met++
	}
}
