package work

import (
	"slices"
	"strings"

	"patientfox/core/criteria"
)

// questions gathers what a stranger would still have to guess.
type questions struct {
	def   criteria.Definition
	steps []criteria.Criteria
	list  []string
}

// text asks where the definition does not say.
func (q *questions) text(said, question string) {
	if strings.TrimSpace(said) == "" {
		q.list = append(q.list, question)
	}
}

// step asks where no step has any of the dimensions.
func (q *questions) step(question string, keys ...criteria.Key) {
	says := func(c criteria.Criteria) bool { return slices.ContainsFunc(keys, c.Has) }
	if !slices.ContainsFunc(q.steps, says) {
		q.list = append(q.list, question)
	}
}

func (q *questions) cue() {
	if !q.def.Uncued() {
		q.text(q.def.Cue, "What is the cue?")
	}
}

func (q *questions) wrong() { q.text(q.def.Break, "What counts as wrong, or as a break?") }

func (q *questions) posture() {
	q.text(q.def.Postures, "Which postures are allowed?")
	q.text(q.def.Release, "How does it end: what is the release?")
}

// Missing asks for what a stranger would still have to guess of a definition, given the steps that follow it.
func (w *Work) Missing(def criteria.Definition, steps []criteria.Criteria) []string {
	q := &questions{def: def, steps: steps}
	if w.asks == nil {
		q.cue()
		q.wrong()
	} else {
		w.asks(q)
	}
	return q.list
}

// Stops says how a definition's release reads as a tick.
func (w *Work) Stops() string {
	if w.stop != "" {
		return w.stop
	}
	return "Ends with: "
}
