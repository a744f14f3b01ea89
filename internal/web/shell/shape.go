package shell

// shape is one outcome drawn as a shape: shape first, colour second. Figures draw theirs with the
// same fields.
type shape struct {
	Label string // met, late, helped, missed, void, "" for an empty place
	Full  bool   // paid
}

func newShape(outcome string, paid bool) shape { return shape{outcome, paid} }
