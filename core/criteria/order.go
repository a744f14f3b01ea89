package criteria

import (
	"cmp"
	"slices"
)

// order is the order of dimensions on pages; those of a practice's own come last, by name.
var order = func() map[Key]int {
	m := make(map[Key]int, len(Dimensions))
	for i, d := range Dimensions {
		m[d.Key] = i
	}
	return m
}()

func place(key Key) int {
	if i, known := order[key]; known {
		return i
	}
	return len(order)
}

func compare(a, b Key) int { return cmp.Or(cmp.Compare(place(a), place(b)), cmp.Compare(a, b)) }

// few is room for the keys of two steps, as most have, without asking for memory: ladders are looked
// over on every press of a key in a form.
type few [12]Key

// sorted puts the keys of two steps in the order in which pages show them.
func sorted(keys []Key, a, b Criteria) []Key {
	for key := range a.Values {
		keys = append(keys, key)
	}
	for key := range b.Values {
		if _, twice := a.Values[key]; !twice {
			keys = append(keys, key)
		}
	}
	slices.SortFunc(keys, compare)
	return keys
}

// Both lists the dimensions that either of two steps has, in the order in which pages show them, as the
// second has them where both do.
func Both(from, to Criteria) []Dimension {
	var room few
	keys := sorted(room[:0], from, to)
	list := make([]Dimension, 0, len(keys))
	for _, key := range keys {
		if d, ok := either(from, to, key); ok {
			list = append(list, d)
		}
	}
	return list
}

func either(from, to Criteria, key Key) (Dimension, bool) {
	if to.Has(key) {
		return to.Dimension(key)
	}
	return from.Dimension(key)
}

// Level returns a dimension's figure in a step, with lists read by their words: a word keeps its
// place though the list around it was changed. ok is false where the step does not have it, or has a
// word that the list does not know.
func Level(c Criteria, d Dimension) (level float64, ok bool) {
	if !c.Has(d.Key) {
		return 0, false
	}
	if !d.IsList() {
		return c.Get(d.Key), true
	}
	at := slices.Index(d.Items, c.Item(d.Key))
	return float64(at), at >= 0
}

// Changed lists the dimensions in which to differs from from: those that got harder and those that
// got easier. A dimension that one of them lacks is easiest there, so a new one is harder, whatever
// its figure, except a figure of 0; but a support that is not named (help, gear, food at hand) is
// gone, which is hardest. Any change of a list without an order counts as harder. The pause before help says nothing
// where one of them has no help.
func Changed(from, to Criteria) (harder, easier []Dimension) {
	var room few
	for _, key := range sorted(room[:0], from, to) {
		d, known := either(from, to, key)
		if !known || key == HelpAfter && (unhelped(from) || unhelped(to)) {
			continue
		}
		a, hadA := Level(from, d)
		b, hadB := Level(to, d)
		end := float64(len(d.Items) - 1)
		switch {
		case d.Fades && !hadA:
			a, hadA = end, true
		case d.Fades && !hadB:
			b, hadB = end, true
		}
		switch {
		case hadA == hadB && a == b, !hadA && b == 0 && d.Harder > 0 && (!d.IsList() || d.Key == Moving), !hadB && a == 0 && d.Harder > 0:
		case d.Harder == 0 && hadB, !hadA, hadB && (b-a)*float64(d.Harder) > 0:
			harder = append(harder, d)
		default:
			easier = append(easier, d)
		}
	}
	return harder, easier
}

// unhelped tells whether a step asks for none of the help that its ladder fades.
func unhelped(c Criteria) bool { return c.Has(Help) && NoSupport(c.Item(Help)) && !c.Has(HelpAfter) }

// Below tells whether a is easier than b in the partial order: harder in nothing, and easier in
// something.
func Below(a, b Criteria) bool {
	harder, easier := Changed(b, a)
	return len(harder) == 0 && len(easier) > 0
}
