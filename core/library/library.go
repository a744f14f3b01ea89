package library

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// Body is what a plan's version holds beside its steps.
type Body struct {
	Rule       decision.Rule                 `json:"rule"`
	StepRules  map[string]decision.Rule      `json:"step_rules,omitempty"` // by step: where it is not the plan's
	Pay        reinforce.Strategy            `json:"pay"`
	StepPay    map[string]reinforce.Strategy `json:"step_pay,omitempty"` // by step: where it is paid otherwise than the plan
	Lifeline   bool                          `json:"lifeline,omitempty"` // coming, stopping or leaving things: never thinned far
	Errors     []work.Error                  `json:"errors,omitzero"`    // of the dog's, each on a key; nil for those of its kind
	Phases     []work.Phase                  `json:"phases,omitempty"`   // parts of a trial, none or two to four
	Engaged    []string                      `json:"engaged,omitempty"`  // what an engaged dog looks like; nil as usual
	Deck       Deck                          `json:"deck,omitempty"`     // figures that can be mixed in a session
	RestMin    *float64                      `json:"rest_min,omitempty"` // minutes of work before a rest; 0 for no bound, nil as usual
	DecoyIn    *int                          `json:"decoy_in,omitempty"` // of movements one in so many is a decoy; 0 none, nil as usual
	Arousal    string                        `json:"arousal,omitempty"`  // lively or settling; "" as its kind of work usually is
	Needs      []progression.Need            `json:"needs,omitempty"`
	Management []Instead                     `json:"management,omitempty"`
	Props      string                        `json:"props,omitempty"`  // what is put away between sessions
	Method     string                        `json:"method,omitempty"` // how the behaviour is got
	Cueing     Cueing                        `json:"cueing,omitzero"`
	Cautions   []string                      `json:"cautions,omitempty"`
	Wrong      []string                      `json:"wrong,omitempty"` // what usually goes wrong
}

// Instead is one thing that must not be rehearsed between sessions, and what to do instead.
type Instead struct {
	Not     string `json:"not"`
	Instead string `json:"instead"`
}

// Cueing is how the behaviour gets its cue.
type Cueing struct {
	New   string `json:"new,omitempty"`   // the cue that is wanted
	Old   string `json:"old,omitempty"`   // the cue or hand sign that works now, "" where there is none
	Added string `json:"added,omitempty"` // YYYY-MM-DD, the day from which the new one was given
}

// CueReady tells whether a cue may be added: the behaviour is offered reliably, which a run of met ones
// shows. met is how many of the last trials running were met.
func CueReady(met int) bool { return met >= CueRun }

// CueRun is how many met in a row show that a behaviour is offered reliably: as many as a run steps up on.
var CueRun = decision.Defaults(decision.Run).Up

// RuleAt is the rule that decides at a step: the one it was given, else proof where somebody could be hurt,
// else the plan's. own tells whether it is another one than the plan's.
func (b Body) RuleAt(s progression.Step) (rule decision.Rule, own bool) {
	if s.Safety {
		defer func() { rule.SlowWrong, rule.AgainWrong, own = true, true, true }() // where somebody could be hurt neither is right
	}
	if rule, own = b.StepRules[s.ID]; own {
		return rule, true
	}
	if s.NeedsProof() && b.Rule.Kind != decision.Proof {
		return decision.Defaults(decision.Proof), true
	}
	return b.Rule, false
}

// Proofs are the rules of the steps that are proved, nil where none is.
func (b Body) Proofs(steps []progression.Step) map[string]decision.Rule {
	var rules map[string]decision.Rule
	for _, s := range steps {
		if rule, _ := b.RuleAt(s); rule.Kind == decision.Proof {
			if rules == nil {
				rules = map[string]decision.Rule{}
			}
			rules[s.ID] = rule
		}
	}
	return rules
}

// ErrorsOf are the errors that a plan of a kind of work names.
func (b Body) ErrorsOf(kind work.Kind) []work.Error {
	if b.Errors == nil {
		return work.Of(kind).Errors()
	}
	return b.Errors
}

// DecoyInOf is one in how many movements towards the dog is a decoy in a plan of a kind of work, 0 for none.
func (b Body) DecoyInOf(kind work.Kind) int {
	switch {
	case !work.Of(kind).ByState:
		return 0
	case b.DecoyIn == nil:
		return UsualDecoyIn
	}
	return *b.DecoyIn
}

// EngagedOr is what an engaged dog looks like, in the plan's words or the usual ones.
func (b Body) EngagedOr() []string {
	if len(b.Engaged) == 0 {
		return work.Engaged
	}
	return b.Engaged
}

// Deck is figures by dimension, of which each with each makes a card.
type Deck map[criteria.Key][]float64

// DeckKeys are the dimensions that a deck can mix.
var DeckKeys = []criteria.Key{criteria.Lead, criteria.Intensity, criteria.Out, criteria.Trigger}

// MaxCards is how many cards a deck has at most.
const MaxCards = 30

// Cards are all cards of a deck, none where it has no figures.
func (d Deck) Cards() []map[criteria.Key]float64 {
	var cards []map[criteria.Key]float64
	for _, key := range DeckKeys {
		if len(d[key]) == 0 {
			continue
		}
		if cards == nil {
			cards = []map[criteria.Key]float64{{}}
		}
		var next []map[criteria.Key]float64
		for _, card := range cards {
			for _, x := range d[key] {
				with := maps.Clone(card)
				with[key] = x
				next = append(next, with)
			}
		}
		if cards = next; len(cards) > MaxCards {
			return cards
		}
	}
	return cards
}

// check lists what is wrong with a deck.
func (d Deck) check() []criteria.Problem {
	switch n := len(d.Cards()); {
	case n == 1:
		return []criteria.Problem{{Field: "deck", Text: "One card is no deck: give one of the lines a second figure."}}
	case n > MaxCards:
		return []criteria.Problem{{Field: "deck", Text: fmt.Sprintf("More than %d cards: take some figures out.", MaxCards)}}
	}
	return nil
}

// RestAfter is how long the dog works before it rests, s; 0 for no bound.
func (b Body) RestAfter(kind work.Kind) float64 {
	if b.RestMin == nil {
		return work.Of(kind).RestAfter()
	}
	return 60 * *b.RestMin
}

// MaxRestMin is how many minutes a dog works at most before it rests.
const MaxRestMin = 30

// Decoys are one in UsualDecoyIn movements where a plan says nothing else, and at least one in MaxDecoyIn.
const (
	UsualDecoyIn = 4
	MaxDecoyIn   = 20
)

// PayAt is how a step is paid: as it was given, else as the plan says. own tells whether it is its own way.
func (b Body) PayAt(step string) (pay reinforce.Strategy, own bool) {
	if pay, own = b.StepPay[step]; own {
		return pay, true
	}
	return b.Pay, false
}

// Template is a plan to begin from.
type Template struct {
	Key        string // of a built-in one, "" for the practice's own
	Name       string
	About      string
	For        string // which dogs and people it suits
	Bring      string // what it needs: gear, a place, a helper
	Kind       work.Kind
	Definition criteria.Definition
	Layout     progression.Layout  // how the ladder is made, where it has generators
	Steps      []criteria.Criteria // the ladder itself, where it has none
	Safety     []bool              // of Steps
	Tracks     []string
	Body       Body // its needs name the number of a step in Before
}

// Bounds of a template.
const (
	MaxSteps  = 60
	MaxTracks = 8
	MaxLines  = 12 // of a list of texts
	MaxNeeds  = 12
)

// Ladder is the template's ladder for a grown dog.
func (t Template) Ladder() ([]criteria.Criteria, []criteria.Problem) {
	return t.LadderFor(progression.Case{})
}

// LadderFor is the template's ladder in a case, of which the work's own measure is the template's.
func (t Template) LadderFor(c progression.Case) ([]criteria.Criteria, []criteria.Problem) {
	if len(t.Layout.Generators) == 0 {
		return t.Steps, nil
	}
	l := t.Layout
	l.Case = t.Case(c)
	return l.Steps(MaxSteps)
}

// Case is a case with what the template says of the work.
func (t Template) Case(c progression.Case) progression.Case {
	c.Least, c.Rests = work.Of(t.Kind).Floor(t.Definition), t.Body.Arousal == Settling
	return c
}

// Check lists what is wrong with a template.
func (t Template) Check() []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	short(add, "name", t.Name, true)
	long(add, "about", t.About)
	long(add, "for_whom", t.For)
	long(add, "bring", t.Bring)
	if !t.Kind.Known() {
		add("kind", "There is no kind of work called “%s”.", t.Kind)
	}
	problems = append(problems, t.Definition.Check()...)
	steps, bad := t.Ladder()
	problems = append(problems, bad...)
	if len(bad) == 0 && (len(steps) == 0 || len(steps) > MaxSteps) {
		add("steps", "A ladder has 1 to %d steps; this one has %d.", MaxSteps, len(steps))
	}
	for i, c := range steps {
		for _, p := range c.Check() {
			add("steps", "Step %d: %s", i+1, p.Text)
		}
	}
	problems = append(problems, CheckTracks(t.Tracks)...)
	return append(problems, t.Body.Check(t.Kind)...)
}

// CheckTracks lists what is wrong with a list of tracks.
func CheckTracks(tracks []string) []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if len(tracks) == 1 || len(tracks) > MaxTracks {
		add("tracks", "Tracks are 2 to %d, such as left and right; or none.", MaxTracks)
	}
	seen := map[string]bool{}
	for _, name := range tracks {
		short(add, "tracks", name, true)
		if key := strings.ToLower(strings.TrimSpace(name)); seen[key] {
			add("tracks", "The track “%s” stands there twice.", name)
		} else {
			seen[key] = true
		}
	}
	return problems
}

// Check lists what is wrong with the body of a plan of a kind of work.
func (b Body) Check(kind work.Kind) []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	for _, p := range b.Rule.Check() {
		add(p.Field, "%s", p.Text)
	}
	for _, rule := range b.StepRules {
		for _, p := range rule.Check() {
			add("step_rule", "%s", p.Text)
		}
	}
	problems = append(problems, b.Pay.Check(work.Of(kind).MaxRung(b.Lifeline), b.Lifeline)...)
	for _, pay := range b.StepPay {
		problems = append(problems, pay.Check(work.Of(kind).MaxRung(b.Lifeline), b.Lifeline)...)
	}
	if b.Arousal != "" && b.Arousal != Lively && b.Arousal != Settling {
		add("arousal", "Choose one of: %s, %s.", Lively, Settling)
	}
	for field, text := range map[string]string{"props": b.Props, "method": b.Method, "cue_new": b.Cueing.New, "cue_old": b.Cueing.Old} {
		long(add, field, text)
	}
	problems = append(problems, checkErrors(b.Errors, kind)...)
	problems = append(problems, slices.Concat(b.checkPace(), b.Deck.check(), checkPhases(b.Phases, kind))...)
	if len(b.Management) > MaxLines {
		add("management", "At most %d.", MaxLines)
	}
	for _, m := range b.Management {
		if strings.TrimSpace(m.Not) == "" {
			add("management", "Say what must not happen.")
		}
		long(add, "management", m.Not)
		long(add, "management", m.Instead)
	}
	if len(b.Needs) > MaxNeeds {
		add("needs", "At most %d.", MaxNeeds)
	}
	for _, n := range b.Needs {
		short(add, "needs", n.Skill, true)
		long(add, "needs", n.Why)
		long(add, "needs", n.Waived)
		if n.Step < 0 || n.Step > MaxSteps {
			add("needs", "A step is numbered from 1.")
		}
	}
	if len(b.Engaged) > work.MaxErrors {
		add("engaged", "At most %d: they are keys on the phone.", work.MaxErrors)
	}
	for field, list := range map[string][]string{"cautions": b.Cautions, "wrong": b.Wrong, "engaged": b.Engaged} {
		if len(list) > MaxLines {
			add(field, "At most %d lines.", MaxLines)
		}
		for _, line := range list {
			long(add, field, line)
		}
	}
	return problems
}

// checkPace lists what is wrong with the minutes of work and with the decoys.
func (b Body) checkPace() (problems []criteria.Problem) {
	if m := b.RestMin; m != nil && !(*m == 0 || *m >= 0.5 && *m <= MaxRestMin) {
		text := fmt.Sprintf("From half a minute to %d minutes, or 0 for no bound.", MaxRestMin)
		problems = append(problems, criteria.Problem{Field: "rest_min", Text: text})
	}
	if in := b.DecoyIn; in != nil && *in != 0 && (*in < 2 || *in > MaxDecoyIn) {
		problems = append(problems, criteria.Problem{Field: "decoy_in", Text: fmt.Sprintf("One in 2 to %d, or 0 for none.", MaxDecoyIn)})
	}
	return problems
}

// checkPhases lists what is wrong with the phases of a plan.
func checkPhases(phases []work.Phase, kind work.Kind) (problems []criteria.Problem) {
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if n := len(phases); n == 1 || n > work.MaxPhases {
		add("phases", "A trial has 2 to %d phases, or none.", work.MaxPhases)
	}
	if len(phases) > 0 && !work.Of(kind).Phased() {
		add("phases", "Trials of this kind of work have parts already.")
	}
	for _, p := range phases {
		short(add, "phases", p.Name, true)
		if !(p.Seconds >= 0 && p.Seconds <= 7200) {
			add("phases", "A phase lasts 0 to 7200 seconds.")
		}
		if p.Step && p.Seconds > 0 {
			add("phases", "A phase lasts as long as the step asks, or a number of seconds of its own.")
		}
	}
	if meals := slices.DeleteFunc(slices.Clone(phases), func(p work.Phase) bool { return !p.Meal }); len(meals) > 1 {
		add("phases", "The rest of a meal is fed in one phase.")
	}
	if at := work.StepPhase(phases); at >= 0 && work.StepPhase(phases[at+1:]) >= 0 {
		add("phases", "One phase at most lasts as long as the step asks.")
	}
	return problems
}

// checkErrors lists what is wrong with the errors of a plan.
func checkErrors(errors []work.Error, kind work.Kind) []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if len(errors) > work.MaxErrors {
		add("errors", "At most %d errors: they are keys on the phone, and more do not fit.", work.MaxErrors)
	}
	if len(errors) > 0 && work.Of(kind).ByState {
		add("errors", "An exposure has a state and no right answer, so it has no errors.")
	}
	seen := map[string]bool{}
	for _, e := range errors {
		short(add, "errors", e.Name, true)
		key := strings.ToLower(strings.TrimSpace(e.Name))
		if seen[key] {
			add("errors", "“%s” is named twice.", e.Name)
		}
		seen[key] = true
	}
	return problems
}

func short(add func(field, format string, args ...any), field, text string, needed bool) {
	switch n := utf8.RuneCountInString(strings.TrimSpace(text)); {
	case n == 0 && needed:
		add(field, "Give it a name.")
	case n > criteria.MaxName:
		add(field, "At most %d characters.", criteria.MaxName)
	}
}

func long(add func(field, format string, args ...any), field, text string) {
	if utf8.RuneCountInString(text) > criteria.MaxText {
		add(field, "At most %d characters.", criteria.MaxText)
	}
}
