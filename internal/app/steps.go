package app

import (
	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app/form"
)

// StepView is one step as the Plan page shows it.
type StepView struct {
	ID         string
	Number     int // 1 is the easiest
	Name       string
	Short      string
	Safety     bool
	Reached    bool
	Difference string
	Figures    form.Typed // as its form shows them
	Half       string
	Lints      []LintView
	Blocked    string     // what it waits for
	Rule       string     // where another rule decides here than the plan's, in a sentence
	Next       []string   // what the next five trials ask, where the step varies
	Fields     []StepDim  // what its form offers: what the plan uses and its kind of work usually has
	More       []StepDim  // everything else
	Lists      []ListView // whose words can be changed
}

// StepDim is one dimension in a step's form.
type StepDim struct {
	Key, Label, Unit, Hint string
	Items                  []string
	Varies                 bool
}

// ListView is a list of words that a step uses.
type ListView struct{ Key, Label, Items string }

// LintView is one thing that is not sound about a step, with its fix.
type LintView struct{ Code, Says, Fix string }

// StepsOf shows steps without what is odd about them.
func StepsOf(steps []progression.Step, words phrase.Words) []StepView {
	views := make([]StepView, len(steps))
	asked := make([]criteria.Criteria, len(steps))
	for i, s := range steps {
		asked[i] = s.Criteria
	}
	shorts := words.Shorts(asked)
	for i, s := range steps {
		view := StepView{
			ID: s.ID, Number: i + 1, Name: say.Upper(words.Step(s.Criteria)), Short: shorts[i], Safety: s.Safety,
			Difference: "The first step: nothing below it.", Figures: form.TypedStep(s, words.Units),
			Half: words.Step(progression.Half(steps, i)),
		}
		if i > 0 {
			view.Difference = phrase.Difference(steps[i-1].Criteria, s.Criteria)
		}
		views[i] = view
	}
	return views
}
