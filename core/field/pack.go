// Package field is one running session as the Run screen needs it: Open(pack), Apply(events),
// Press(key) → events, View(t) → what the screen shows. It runs in the browser, so that a phone
// decides without a signal, and on the server, where the demo practice is made with it.
package field

import (
	"fmt"
	"slices"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/standing"
)

// CoreVersion is written into verdicts, so that a later reader knows which core spoke.
const CoreVersion = "1"

// Option is something to choose from before a session.
type Option struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Known bool   `json:"known"` // this skill has been worked there, or by this person
}

// Cover is how much of a block was logged.
type Cover struct {
	Logged   int `json:"logged"`
	Unlogged int `json:"unlogged"`
}

// Prior is one counted trial of the stretch from earlier sessions.
type Prior struct {
	decision.Trial
	Step string
	Rev  int
}

// CoverOf picks the blocks of a stretch.
func CoverOf(stretch []Prior, covers map[string]Cover) map[string]Cover {
	of := map[string]Cover{}
	for _, one := range stretch {
		of[one.Block] = covers[one.Block]
	}
	return of
}

// Pack is all a phone needs of one plan to run it without a server.
type Pack struct {
	V           int                           `json:"v"`
	Plan        string                        `json:"plan"`
	PlanVersion int                           `json:"plan_version"`
	Track       string                        `json:"track"`
	Dog         string                        `json:"dog"`
	DogName     string                        `json:"dog_name"`
	Skill       string                        `json:"skill"`
	SkillName   string                        `json:"skill_name"`
	Kind        criteria.Kind                 `json:"kind"`
	Definition  criteria.Definition           `json:"definition"`
	DefVersion  int                           `json:"def_version"`
	Steps       []progression.Step            `json:"steps"`
	Rule        decision.Rule                 `json:"rule"`
	StepRules   map[string]decision.Rule      `json:"step_rules,omitempty"` // by step: where it is not the plan's
	Pay         reinforce.Strategy            `json:"pay"`
	StepPay     map[string]reinforce.Strategy `json:"step_pay,omitempty"` // by step: where it is paid otherwise than the plan
	Unhelped    int                           `json:"unhelped,omitempty"` // counted trials of the skill so far that had no help
	Lifeline    bool                          `json:"lifeline,omitempty"`
	Lately      map[string]standing.Lately    `json:"lately,omitempty"` // by step: how long trials took
	Foods       []reinforce.Reward            `json:"foods,omitempty"`  // what can be paid with
	Bans        map[string][]reinforce.Ban    `json:"bans,omitempty"`   // by place
	Rung        int                           `json:"rung"`             // how far thinning has come
	Visits      int                           `json:"visits,omitempty"` // sessions of the plan so far
	Been        []string                      `json:"been,omitempty"`   // where the plan was worked, by id
	Place       progression.Place             `json:"place"`
	Stretch     []Prior                       `json:"stretch"`
	Cover       map[string]Cover              `json:"cover"` // by block of the stretch
	First       bool                          `json:"first"` // no earlier session of this skill
	Days        int                           `json:"days"`
	Stopped     bool                          `json:"stopped"`
	Finished    bool                          `json:"finished"` // the top step was passed and that was taken
	Places      []Option                      `json:"places"`
	People      []Option                      `json:"people"`
	LastPlace   string                        `json:"last_place"`
	Person      string                        `json:"person"` // who is signed in
	Cautions    []string                      `json:"cautions"`
	Ruled       *caution.Ruled                `json:"ruled,omitempty"`   // why the dog's safety flags keep it from starting
	Blocked     map[string]string             `json:"blocked,omitempty"` // by step: what it waits for, where something must stand first
	Units       criteria.Units                `json:"units"`
	Tried       map[string]int                `json:"tried,omitempty"`       // trials so far at each step whose targets vary
	LastDay     string                        `json:"last_day,omitempty"`    // of the skill, YYYY-MM-DD in the practice's zone
	LastLogged  string                        `json:"last_logged,omitempty"` // the last day on which a trial of the skill was logged
	Now         int64                         `json:"now"`                   // when it was made, UTC ms by the server's clock
	Zone        string                        `json:"zone"`
	Today       string                        `json:"today,omitempty"` // the day on which it is opened, as the phone reads it in that zone
	Made        []record.Made                 `json:"made,omitempty"`  // steps made in the field since this version
	// Read is how far the latest sessions of the plan have been read into it: by session and device, the highest number of
	// the device's events. A device keeps the pack that its own session left until this one has read that session.
	Read map[string]map[string]int64 `json:"read,omitempty"`

	// Of packs before version 3, for the reached step: they are read into Lately.
	Latencies []float64 `json:"latencies,omitempty"`
	BetweenS  float64   `json:"between_s,omitempty"`
}

// PackVersion is the version of packs that is made now.
const PackVersion = 3

// upgrade reads a pack of an earlier version, which a device may have carried since before the program was brought up to date.
func (p *Pack) upgrade() {
	if p.V >= PackVersion {
		return
	}
	one := standing.Lately{Latencies: p.Latencies}
	if p.BetweenS > 0 {
		one.Between = slices.Repeat([]float64{p.BetweenS}, reinforce.LeastMeasured)
	}
	if len(one.Latencies)+len(one.Between) > 0 {
		p.Lately = map[string]standing.Lately{p.Place.Reached: one}
	}
	for _, place := range p.Places {
		if place.Known {
			p.Been = standing.Been(p.Been, place.ID)
		}
	}
	if !p.First {
		p.Visits, p.LastLogged = 1, p.LastDay
	}
	p.V, p.Latencies, p.BetweenS = PackVersion, nil, 0
}

// Choice is what is chosen before a session begins.
type Choice struct {
	Place    string `json:"place"`
	Handler  string `json:"handler"`
	Step     string `json:"step"`     // "" is the step advised
	Pieces   string `json:"pieces"`   // counted out, as typed
	Mode     string `json:"mode"`     // train, or one of record's modes; "" as the plan stands
	Food     string `json:"food"`     // in the hand; "" is the one that fits
	Finish   bool   `json:"finish"`   // the easy one at the end
	Although string `json:"although"` // who cleared a plan that the dog's flags rule out
	Tags     string `json:"tags"`     // how it is there: words with commas between
	With     bool   `json:"with"`     // in turn with what is worked now: mixed, or the other dog's
}

func (p *Pack) check() error {
	if len(p.Steps) == 0 {
		return fmt.Errorf("the plan has no steps")
	}
	// The server checked the figures of the rules; here only what could not be run at all is refused.
	for _, rule := range append([]decision.Rule{p.Rule}, p.ownRules()...) {
		if !slices.Contains(decision.Kinds, rule.Kind) || rule.Kind == decision.Set && rule.Size < 1 || rule.Kind == decision.Gate && min(rule.Window, rule.BackWindow) < 1 {
			return fmt.Errorf("the rule “%s” cannot stand", rule.Kind)
		}
	}
	return nil
}

func (p *Pack) ownRules() (rules []decision.Rule) {
	for _, rule := range p.StepRules {
		rules = append(rules, rule)
	}
	return rules
}

// RuleAt is the rule that decides at a step.
func (p *Pack) RuleAt(step string) decision.Rule {
	if rule, own := p.StepRules[step]; own {
		return rule
	}
	return p.Rule
}

// PayAt is how a step is paid.
func (p *Pack) PayAt(step string) reinforce.Strategy {
	if pay, own := p.StepPay[step]; own {
		return pay
	}
	return p.Pay
}

func option(list []Option, id string) (Option, bool) {
	for _, o := range list {
		if o.ID == id {
			return o, true
		}
	}
	return Option{}, false
}

// StartAt says where this choice opens: the step, and why lower than the reached one.
func (p *Pack) StartAt(c Choice) (step int, drops []decision.Drop) {
	place, knownPlace := option(p.Places, c.Place)
	person, knownPerson := option(p.People, c.Handler)
	return decision.StartStep(decision.Visit{
		Reached: max(0, progression.Index(p.Steps, p.Place.Reached)), Steps: len(p.Steps),
		First: p.First, Days: p.Days, Stopped: p.Stopped,
		NewPlace:   knownPlace && !place.Known,
		NewHandler: knownPerson && !person.Known,
	})
}
