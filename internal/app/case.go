package app

import (
	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/store"
)

// CaseOf is what a new ladder is for: a dog on a day, the kind of work and its definition.
func CaseOf(d store.Dog, today string, kind work.Kind, def criteria.Definition, body *library.Body) progression.Case {
	weeks, kg := WeeksOld(d.Born, today), 0.0
	if d.WeightKg != nil {
		kg = *d.WeightKg
	}
	c := progression.Case{
		Weeks: weeks, Least: work.Of(kind).Floor(def), MaxHeight: progression.HeightLimit(weeks, kg, caution.Hurts(d.Flags)),
	}
	if body != nil {
		c.Rests = body.Arousal == library.Settling
	}
	return c
}

// Case is what the ladder of a plan is for, on a day.
func (l Plan) Case(today string) progression.Case {
	dog := store.Dog{Born: l.DogBorn, Flags: l.DogFlags}
	c := CaseOf(dog, today, work.Kind(l.Kind), l.Def, &l.Body)
	c.Reached = l.Reached()
	return c
}
