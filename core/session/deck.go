package session

import (
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

// Card is the card of the trial under way, or of the next one: its number in the deck, from 1, and what it asks. It is 0 without a deck,
// and while the deck is put aside.
func (r *Run) Card() (number int, card record.Card) {
	if aside, _ := r.DeckAside(); aside || !r.hasDeck() {
		return 0, nil
	}
	b := r.Block()
	at := deal.Deck{Seed: r.Seed("deck " + b.ID), Cards: len(b.Deck)}.At(len(r.Dealt()))
	return at + 1, b.Deck[at]
}

func (r *Run) hasDeck() bool { return r.Block() != nil && len(r.Block().Deck) > 0 }

// Dealt are the trials of the block that had a card of its deck, void ones and a helper's left out.
func (r *Run) Dealt() []trial.Trial {
	var dealt []trial.Trial
	if r.hasDeck() {
		for t := range trial.Each(r.s.Trials) {
			if t.Block == r.Block().ID && t.Card > 0 && t.Outcome != trial.Void && !t.Waits {
				dealt = append(dealt, *t)
			}
		}
	}
	return dealt
}

// Two cards missed running that ask more than the step put the deck aside, and three met in a row at the step bring it back.
const (
	asideAfter = 2
	backAfter  = 3
)

// DeckAside tells whether the block's deck is put aside, because it was too hard, and how many met in a row at the step are still
// wanted to bring it back.
func (r *Run) DeckAside() (aside bool, wanted int) {
	if !r.hasDeck() {
		return false, 0
	}
	row := 0
	next := func(more bool, enough int) {
		if row++; !more {
			row = 0
		}
		if row == enough {
			aside, row = !aside, 0
		}
	}
	for i := range r.s.Trials {
		t := &r.s.Trials[i]
		switch {
		case t.Block != r.Block().ID || t.Outcome.Unread() || t.Waits:
		case aside:
			next(t.Outcome == trial.Met && !t.Easy, backAfter)
		default:
			next(t.Above && t.Outcome == trial.Missed, asideAfter)
		}
	}
	return aside, backAfter - row
}

// OnCard is a step's criteria as the card has them.
func (r *Run) OnCard(c criteria.Criteria) criteria.Criteria {
	_, card := r.Card()
	for key, x := range card {
		c = c.With(key, x)
	}
	return c
}
