package pack

import (
	"fmt"
	"slices"

	"patientfox/core/care"
	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/experiment"
	"patientfox/core/load"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Option is something to choose from before a session.
type Option struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Known bool   `json:"known"` // this skill has been worked there, or by this person
	// Of a person: what they are, and the last day on which they handled the skill, "" for never.
	Role    string `json:"role,omitempty"`
	LastDay string `json:"last_day,omitempty"`
}

// Pack is all a phone needs of one plan to run it without a server.
type Pack struct {
	V           int                           `json:"v"`
	Plan        string                        `json:"plan"`
	PlanVersion int                           `json:"plan_version"`
	Track       string                        `json:"track"`
	Tracks      []Option                      `json:"tracks,omitempty"` // the other sides of the same ladder, by plan
	Dog         string                        `json:"dog"`
	DogName     string                        `json:"dog_name"`
	Skill       string                        `json:"skill"`
	SkillName   string                        `json:"skill_name"`
	Kind        work.Kind                     `json:"kind"`
	Definition  criteria.Definition           `json:"definition"`
	DefVersion  int                           `json:"def_version"`
	Steps       []progression.Step            `json:"steps"`
	Rule        decision.Rule                 `json:"rule"`
	StepRules   map[string]decision.Rule      `json:"step_rules,omitempty"` // by step: where it is not the plan's
	Pay         reinforce.Strategy            `json:"pay"`
	StepPay     map[string]reinforce.Strategy `json:"step_pay,omitempty"`   // by step: where it is paid otherwise than the plan
	Phases      []work.Phase                  `json:"phases,omitempty"`     // parts of a trial
	Engaged     []string                      `json:"engaged,omitempty"`    // what an engaged dog looks like
	Experiment  *experiment.Running           `json:"experiment,omitempty"` // under way with this plan
	Deck        []map[criteria.Key]float64    `json:"deck,omitempty"`       // cards that can be mixed
	RestAfter   float64                       `json:"rest_after,omitempty"` // s of work after which the dog rests, 0 for no bound
	DecoyIn     int                           `json:"decoy_in,omitempty"`   // of movements towards the dog one in so many is a decoy, 0 none
	Unhelped    int                           `json:"unhelped,omitempty"`   // counted trials of the skill so far that had no help
	Lifeline    bool                          `json:"lifeline,omitempty"`
	Errors      []work.Error                  `json:"errors,omitempty"`  // of the dog's, each on a key
	Lately      map[string]standing.Lately    `json:"lately,omitempty"`  // by step: how long trials took
	Foods       []reinforce.Reward            `json:"foods,omitempty"`   // the dog's rewards, what can be paid with
	Bans        map[string][]reinforce.Ban    `json:"bans,omitempty"`    // by place
	Rung        int                           `json:"rung"`              // how far thinning has come
	Rounds      standing.Rounds               `json:"rounds,omitempty"`  // proof rounds that were over, as standing.Standing has them
	Visits      int                           `json:"visits,omitempty"`  // sessions of the plan so far
	Been        []string                      `json:"been,omitempty"`    // where the plan was worked, by id
	Founder     string                        `json:"founder,omitempty"` // who began the plan, "" where nobody has yet
	Main        string                        `json:"main,omitempty"`    // its main handler
	Levels      map[string]Level              `json:"levels,omitempty"`  // of its other handlers, as LevelOf names them
	Shown       map[string][]string           `json:"shown,omitempty"`   // by person: the safety steps that a trainer has shown them
	Level       string                        `json:"level,omitempty"`   // that the pack shows: the main handler's, before a session opens
	Position    progression.Position          `json:"place"`
	Stretch     []trial.Trial                 `json:"stretch"` // of earlier sessions, as rules read them
	Cover       map[string]standing.Cover     `json:"cover"`   // by block of the stretch
	First       bool                          `json:"first"`   // no earlier session of this skill
	Days        int                           `json:"days"`
	Stopped     bool                          `json:"stopped"`
	Finished    bool                          `json:"finished"` // the top step was passed and that was taken
	Places      []Option                      `json:"places"`
	People      []Option                      `json:"people"`
	LastPlace   string                        `json:"last_place"`
	Person      string                        `json:"person"` // who is signed in
	Cautions    []string                      `json:"cautions"`
	States      []string                      `json:"states,omitempty"`  // how the practice describes the five states, "" for the usual
	Ruled       *caution.Ruled                `json:"ruled,omitempty"`   // why the dog's safety flags keep it from starting
	Blocked     map[string]string             `json:"blocked,omitempty"` // by step: what it waits for, where a prerequisite is not met
	Units       criteria.Units                `json:"units"`
	Tried       map[string]int                `json:"tried,omitempty"`       // trials so far at each step whose targets vary
	LastDay     string                        `json:"last_day,omitempty"`    // of the skill, YYYY-MM-DD in the practice's zone
	LastLogged  string                        `json:"last_logged,omitempty"` // the last day on which a trial of the skill was logged
	Now         int64                         `json:"now"`                   // when it was made, UTC ms by the server's clock
	Zone        string                        `json:"zone"`
	Today       string                        `json:"today,omitempty"` // the day on which it is opened, as the phone reads it in that zone
	Made        []record.Made                 `json:"made,omitempty"`  // steps made in the field since this version
	// Load is what makes the skill harder and easier for the dog, as the server worked it out before the session; nil where it has not.
	Load *Load `json:"load,omitempty"`
	// Care is how the dog takes each tool at each site of the skill, as far as it was read before the session; nil of other work.
	Care *care.Skill `json:"care,omitempty"`
	// Read is how far the latest sessions of the plan have been read into it: by session and device, the highest number of
	// the device's events. A device keeps the pack that its own session left until this one has read that session.
	Read map[string]map[string]int64 `json:"read,omitempty"`

	// Of a pack as it opens for a handler beside the main one: how, the step above which it does not go, the safety step that was not
	// shown to them, where that is why, and where their record has them, where the pack opens elsewhere.
	Hands decision.Hands       `json:"-"`
	Cap   string               `json:"-"`
	Held  string               `json:"-"`
	From  progression.Position `json:"-"`

	// Of packs before version 3, for the reached step: they are read into Lately.
	Latencies []float64 `json:"latencies,omitempty"`
	BetweenS  float64   `json:"between_s,omitempty"`
}

// Load is a model of the chance that a trial is met, with how much the dog had worked the skill.
type Load struct {
	load.Model
	load.Experience
}

// ChanceAt is how likely a trial at a step is met, in a place, with a reward in the hand ("" for what the plan pays with); ok is false
// where nothing is known of the dog.
func (p *Pack) ChanceAt(step progression.Step, place, hand string) (c load.Chance, ok bool) {
	if p.Load == nil || len(p.Load.Coef) != int(load.Terms) {
		return c, false
	}
	pay := p.PayAt(step.ID)
	value := reinforce.ValueInHand(p.Foods, pay.Tier, place, p.Bans[place])
	for _, r := range p.Foods {
		if r.ID == hand && r.Tier > 0 {
			value = r.Tier
		}
	}
	return p.Load.At(p.Load.Ahead(step.Criteria, place, float64(value), pay.Band.Mid())), true
}

// Version is the version of packs that is made now.
const Version = 4

// Upgrade reads a pack of an earlier version, which a device may have carried since before the program was brought up to date.
func (p *Pack) Upgrade() {
	if p.V >= Version {
		return
	}
	p.Errors, p.Engaged = work.Of(p.Kind).Errors(), work.Engaged
	if p.V == 3 {
		p.V = Version
		return
	}
	one := standing.Lately{Latencies: p.Latencies}
	if p.BetweenS > 0 {
		one.Between = slices.Repeat([]float64{p.BetweenS}, reinforce.MinMeasured)
	}
	if len(one.Latencies)+len(one.Between) > 0 {
		p.Lately = map[string]standing.Lately{p.Position.Reached: one}
	}
	for _, place := range p.Places {
		if place.Known {
			p.Been = standing.Been(p.Been, place.ID)
		}
	}
	if !p.First {
		p.Visits, p.LastLogged = 1, p.LastDay
	}
	p.V, p.Latencies, p.BetweenS = Version, nil, 0
}

// Check says what in a pack keeps it from being run at all. The server checked the figures of its rules.
func (p *Pack) Check() error {
	if len(p.Steps) == 0 {
		return fmt.Errorf("the plan has no steps")
	}
	for _, rule := range append([]decision.Rule{p.Rule}, p.ownRules()...) {
		if !slices.Contains(decision.Kinds, rule.Kind) || rule.Kind == decision.Set && rule.Size < 1 ||
			rule.Kind == decision.Gate && min(rule.Window, rule.BackWindow) < 1 {
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

// Find finds an option in a list.
func Find(list []Option, id string) (Option, bool) {
	for _, o := range list {
		if o.ID == id {
			return o, true
		}
	}
	return Option{}, false
}

// NewPlace stands for a place that has no id yet.
const NewPlace = "new"

// StartAt says where a session at a place opens for the handler for whom the pack is: the step, and why lower than the reached one.
func (p *Pack) StartAt(placeID, handler string) (step int, drops []decision.Drop) {
	place, knownPlace := Find(p.Places, placeID)
	return decision.StartStep(decision.Visit{
		Reached: p.ReachedAt(), Steps: len(p.Steps),
		First: p.First, Days: p.daysOf(handler), Stopped: p.Stopped, Halved: p.Position.Halved(p.Steps),
		NewPlace: placeID == NewPlace || knownPlace && !place.Known,
	})
}

// daysOf is how long ago a handler worked the skill; 0 for somebody who never did, who opens lower anyway.
func (p *Pack) daysOf(handler string) int {
	person, known := Find(p.People, handler)
	days, dated := standing.Days(person.LastDay, p.Today)
	switch {
	case known && dated:
		return max(0, days)
	case p.Hands == decision.HandsFirst:
		return 0
	}
	return p.Days
}

// ReachedAt is the index of the reached step.
func (p *Pack) ReachedAt() int { return max(0, progression.Index(p.Steps, p.Position.Reached)) }

// Date counts the days since the skill was last worked, where the phone says which day it is: a pack may be older than a day by the
// time it is opened.
func (p *Pack) Date() {
	if days, ok := standing.Days(p.LastDay, p.Today); ok {
		p.Days = max(0, days)
	}
}

// Train is how a choice says that the session teaches; "" leaves it to the plan.
const Train = "train"

// Mode is what a session is for: a finished skill that was not worked today is probed, anything else taught, unless something else
// was chosen. A ladder that begins with a safety step is rehearsed by whoever was not shown it.
func (p *Pack) Mode(chosen string) record.Mode {
	mode, rehearsed := record.Mode(chosen), p.Rehearses(p.Steps, p.Position.Reached)
	if mode == record.Rehearsal && rehearsed < 0 { // chosen for another handler
		mode = record.Train
	}
	switch {
	case rehearsed == 0:
		return record.Rehearsal
	case chosen == Train || !mode.Valid():
		return record.Train
	case mode != record.Train:
		return mode
	case p.Finished && p.Days > 0:
		return record.Probe
	}
	return record.Train
}

// OpensIn is the step at which a session of a mode opens that does not teach.
func (p *Pack) OpensIn(mode record.Mode) int {
	switch mode {
	case record.Placing:
		return 0
	case record.Baseline:
		return p.ReachedAt()
	case record.Rehearsal:
		return p.Rehearses(p.Steps, p.Position.Reached)
	}
	if most := progression.Index(p.Steps, p.Cap); most >= 0 { // for a handler beside the main one
		return most
	}
	return len(p.Steps) - 1
}
