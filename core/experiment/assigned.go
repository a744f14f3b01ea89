package experiment

// Ways are what A and B are, in the trainer's words.
type Ways [2]string

// Running is an experiment as a phone carries it.
type Running struct {
	ID   string `json:"id"`
	Ways Ways   `json:"ways"`
	Design
	Done int `json:"done"` // pairs that were begun
}

// Assigned is what the next session is given.
type Assigned struct {
	ID    string `json:"id"` // of the experiment
	Ways  Ways   `json:"ways"`
	Pair  int    `json:"pair"`  // from 0
	First Way    `json:"first"` // 0 or 1
	Each  int    `json:"each"`  // trials of a set
}

// Next is what the next session is given, nil after the last one.
func (r *Running) Next() *Assigned {
	if r == nil || r.Done >= r.Pairs {
		return nil
	}
	return &Assigned{ID: r.ID, Ways: r.Ways, Pair: r.Done, First: r.Design.First(r.Done), Each: r.Each}
}

// After is the experiment once a session was given what it was.
func (r *Running) After(a *Assigned) *Running {
	if r == nil || a == nil || a.ID != r.ID || a.Pair < r.Done {
		return r
	}
	next := *r
	next.Done = a.Pair + 1
	return &next
}

// At is the way of a session's trial, counted from 0; ok is false after both sets.
func (a *Assigned) At(trial int) (way Way, ok bool) {
	switch {
	case trial < a.Each:
		return a.First, true
	case trial < 2*a.Each:
		return a.First.Other(), true
	}
	return 0, false
}

// Of sorts the trials of a session, in order, into its pair; met tells of each whether it was.
func (a *Assigned) Of(met []bool) (p Pair) {
	for i, is := range met {
		way, ok := a.At(i)
		if !ok {
			break
		}
		set := &p.A
		if way == B {
			set = &p.B
		}
		if set.N++; is {
			set.Met++
		}
	}
	return p
}
