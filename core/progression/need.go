package progression

// Need is a prerequisite of a step: another skill of the same dog, at a step or
// finished.
type Need struct {
	Skill  string `json:"skill"`            // by name
	Step   int    `json:"step,omitempty"`   // the step that must be reached, from 1; 0 where it must be finished
	Before string `json:"before,omitempty"` // the step of this plan that waits for it, "" for the first
	Why    string `json:"why,omitempty"`
	Waived string `json:"waived,omitempty"` // why the trainer goes on without it, "" where not
}

// Progress is how far a dog is in one skill.
type Progress struct {
	Skill    string
	Reached  int // index
	Steps    int
	Finished bool
}

// Met tells whether a prerequisite is met, given how far the dog is in it; ok is false where the dog has no
// plan for it.
func (n Need) Met(s Progress, ok bool) bool {
	switch {
	case !ok:
		return false
	case s.Finished:
		return true
	}
	return n.Step > 0 && s.Reached+1 >= n.Step
}
