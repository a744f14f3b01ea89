package people

import (
	"context"

	"patientfox/core/pack"
	"patientfox/internal/store"
)

// Access is how far the devices of somebody reach, from the least on: each reaches what the ones before it do.
type Access int

// The kinds of access.
const (
	Nobody    Access = iota // what anybody may ask for
	Household               // somebody of a household: their own page; homework comes by a link
	Viewer                  // looks at dogs and plans, and changes nothing
	Helper                  // runs sessions and logs in them
	Trainer                 // plans, changes and keeps in touch with households
	Owner                   // lets people and devices in, and keeps the copies
)

// Accesses are those that somebody can have.
var Accesses = []Access{Household, Viewer, Helper, Trainer, Owner}

// String is what somebody with it is called.
func (a Access) String() string {
	return []string{"nobody", "household", "viewer", "helper", "trainer", "owner"}[a]
}

// Says is what they may do, in words.
func (a Access) Says() string {
	return []string{
		"", "Homework comes by a link or on paper. This device reaches nothing else.", "You see dogs, plans and sessions, and change nothing.",
		"You see dogs and plans, run sessions and log in them.", "You plan and change all of the dogs’ work, and write to households.",
		"You also let people and devices in, and keep the copies.",
	}[a]
}

// As is a context in which somebody does what is done, by id.
func As(ctx context.Context, person string) context.Context { return store.As(ctx, person) }

// accessOf is the access of a person.
func accessOf(p store.Person) Access {
	switch {
	case p.Owner:
		return Owner
	case p.Role == pack.RoleTrainer:
		return Trainer
	case p.Role == pack.RoleHelper:
		return Helper
	case p.Role == roleViewer:
		return Viewer
	}
	return Household
}
