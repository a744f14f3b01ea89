package criteria

import "slices"

// Both lists the dimensions that either of two steps has, in the order in which pages show them,
// as the second has them where both do.
func Both(from, to Criteria) []Dimension {
	list := make([]Dimension, 0, len(from.Values)+len(to.Values))
	add := func(key Key) {
		if to.Has(key) {
			d, _ := to.Dimension(key)
			list = append(list, d)
		} else if from.Has(key) {
			d, _ := from.Dimension(key)
			list = append(list, d)
		}
	}
	for _, d := range Dimensions {
		add(d.Key)
	}
	for _, d := range to.Own {
		add(d.Key)
	}
	for _, d := range from.Own {
		if _, both := to.Dimension(d.Key); !both {
			add(d.Key)
		}
	}
	return list
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
// gone, which is hardest. Any change of a list without an order counts as harder.
func Changed(from, to Criteria) (harder, easier []Dimension) {
	for _, d := range Both(from, to) {
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

// Below tells whether a is easier than b in the partial order: harder in nothing, and easier in
// something.
func Below(a, b Criteria) bool {
	harder, easier := Changed(b, a)
	return len(harder) == 0 && len(easier) > 0
}
