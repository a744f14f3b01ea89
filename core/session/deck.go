package session

import (
	"maps"

	"patientfox/core/criteria"
	"patientfox/core/deal"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// dealt is the deck of a block that is about to begin, nil where none was chosen.
func (r *Run) dealt(c Choice) []record.Card {
	if !c.Deck || len(r.pack.Deck) < 2 || work.Of(r.pack.Kind).ByState {
		return nil
	}
	return r.pack.Deck
}

// Card is the card of the trial under way, or of the next one: its number in the deck, from 1, and what it asks. It is 0 without a deck.
func (r *Run) Card() (number int, card record.Card) {
	b := r.Block()
	if b == nil || len(b.Deck) == 0 {
		return 0, nil
	}
	n := 0
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Block == b.ID && t.Outcome != trial.Void && !t.Waits {
			n++
		}
	}
	at := deal.Deck{Seed: r.Seed("deck " + b.ID), Cards: len(b.Deck)}.At(n)
	return at + 1, b.Deck[at]
}

// onCard is a step's criteria as the card has them.
func (r *Run) onCard(c criteria.Criteria) criteria.Criteria {
	_, card := r.Card()
	for key, x := range card {
		c = c.With(key, x)
	}
	return c
}

// cardWorked adds to the settings as they really are those of the card that the plan has otherwise; what a trial shows is measured.
func (r *Run) cardWorked(worked map[criteria.Key]float64) map[criteria.Key]float64 {
	_, card := r.Card()
	for key, x := range card {
		d, known := criteria.Find(key)
		if key == criteria.Lead || key == criteria.Out || !known || x == work.Planned(r.step().Criteria, d) {
			continue
		}
		if worked == nil {
			worked = map[criteria.Key]float64{}
		}
		worked[key] = x
	}
	return worked
}

// cardAsked is what a trial asks by its card, beside what varies.
func (r *Run) cardAsked(target map[criteria.Key]float64) map[criteria.Key]float64 {
	_, card := r.Card()
	if len(card) == 0 {
		return target
	}
	asked := maps.Clone(card)
	maps.Copy(asked, target)
	return asked
}
