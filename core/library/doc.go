// Package library says what a plan holds beside its steps, and what a template to begin from is.
//
// A Body has the rule and the pay of a plan, and by step id those of a step that differ; how it is cued, managed and what goes wrong. A
// Template is a Body with a Definition and a Layout. PayLints says what is not sound about how a ladder is paid.
//
//	rule, own := body.RuleAt(step) // own: the step has its own rule
//
// A Body that is only read may be shared between goroutines.
package library
