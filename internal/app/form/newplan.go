package form

import (
	"patientfox/core/work"
)

// firstLeg proposes what a kind of work usually begins with.
func FirstLeg(t Typed, kind work.Kind) {
	Figures{}.typedLeg(t, 0, work.Of(kind).First)
}
