package recap

import "patientfox/core/progression"

// Move is one move of a dog on the ladder of a plan, at the level of its main handler.
type Move struct {
	progression.Move
	Session string // in which it was made
	Later   bool   // after the period
}

// Ends are the steps, by id, that a dog had reached as a period began and as it ended. reached is the step of now, moves are those since
// the period began, in their order: without any it was there all the time. A session begins at the reached step, so the first move leads
// from it.
func Ends(steps []progression.Step, reached string, moves []Move) (was, now string) {
	if len(moves) == 0 {
		return reached, reached
	}
	at := progression.Position{Reached: moves[0].From, Today: moves[0].From}
	was = at.Reached
	session := moves[0].Session
	for _, m := range moves {
		if m.Later {
			return was, m.From // as that session began, after what a setback may have done
		}
		if m.Session != session {
			at, session = at.Open(), m.Session
		}
		after, ok := at.Apply(steps, m.Move)
		if !ok { // the ladder is another one by now
			at.Today = m.From
			after, _ = at.Apply(steps, m.Move)
		}
		at = after
	}
	return was, reached // which a setback may have lowered
}

// Skill is what one skill of a dog came to in a period.
type Skill struct {
	Name    string
	Gained  int // steps up, below 0 for back
	Met, Of int // trials that count at the step reached by the end of it
}

// Code names what there is to praise.
type Code string

// What there is to praise.
const (
	Further Code = "further" // N steps further in a skill
	AtHome  Code = "at_home" // trained at home on N days
	AllMet  Code = "all_met" // all N trials of a skill at its step were right
	Worked  Code = "worked"  // worked in N sessions
	Nothing Code = "nothing" // nothing was done
)

// Praise is one thing to praise, true of the period whatever else is.
type Praise struct {
	Code  Code
	Skill string
	N     int
}

// EnoughTrials is from how many trials on a share of them says anything; fewer neither praise nor foretell.
const EnoughTrials = 5

const enoughDays = 3 // at home

// Best is the one thing to praise: a skill that went on, else work at home, else one in which all went well, else that it was worked.
func Best(skills []Skill, sessions, homeDays int) Praise {
	best, all := Praise{Code: Nothing}, Praise{Code: Nothing}
	for _, s := range skills {
		if s.Gained > best.N {
			best = Praise{Further, s.Name, s.Gained}
		}
		if s.Met == s.Of && s.Of >= EnoughTrials && s.Met > all.N {
			all = Praise{AllMet, s.Name, s.Met}
		}
	}
	switch {
	case best.Code == Further:
		return best
	case homeDays >= enoughDays:
		return Praise{Code: AtHome, N: homeDays}
	case all.Code == AllMet:
		return all
	case sessions > 0:
		return Praise{Code: Worked, N: sessions}
	}
	return best
}
