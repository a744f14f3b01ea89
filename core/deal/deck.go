package deal

// Deck deals cards, numbered from 0: all of them once, then all again, each time in another order, and none twice running where there
// is more than one. It may be shared.
type Deck struct {
	Seed  uint64
	Cards int
}

// At is the card that is dealt at a place, from 0; −1 from an empty deck.
func (d Deck) At(place int) int {
	if d.Cards < 1 {
		return -1
	}
	last := -1
	for round := 0; ; round++ {
		order := d.round(round, last)
		if place < d.Cards*(round+1) {
			return order[place-d.Cards*round]
		}
		last = order[d.Cards-1]
	}
}

// round is the order of all cards in one round, which does not begin with the last card of the round before.
func (d Deck) round(round, last int) []int {
	order := make([]int, d.Cards)
	for i := range order {
		order[i] = i
	}
	for i := d.Cards - 1; i > 0; i-- {
		j := int(hash(d.Seed, round*1000+i) % uint64(i+1))
		order[i], order[j] = order[j], order[i]
	}
	if d.Cards > 1 && order[0] == last {
		order[0], order[1] = order[1], order[0]
	}
	return order
}
