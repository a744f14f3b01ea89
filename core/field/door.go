package field

import (
	"encoding/json"
	"fmt"
	"slices"

	"patientfox/core/caution"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
)

// Door is the way in from outside Go: methods by name, JSON in, JSON out. It keeps the running
// session between calls, because folding a long log from JSON on every tap would be too slow.
type Door struct{ run *Run }

// SetupView is what the page shows before a session begins.
type SetupView struct {
	Dog      string         `json:"dog"`
	Skill    string         `json:"skill"`
	Kind     string         `json:"kind"`
	Start    string         `json:"start"` // where it opens and why
	Step     string         `json:"step"`  // the step in words
	StepID   string         `json:"step_id"`
	Steps    []SetupStep    `json:"steps"` // hardest first
	Places   []Option       `json:"places"`
	People   []Option       `json:"people"`
	Place    string         `json:"place"`
	Handler  string         `json:"handler"`
	Foods    []Option       `json:"foods"`            // that can be paid with there, the fitting one first
	Pieces   int            `json:"pieces,omitempty"` // to count out, by the sheet
	Then     string         `json:"then,omitempty"`   // what the sheet brings after it
	Modes    []Option       `json:"modes"`            // what the session can be for
	Mode     string         `json:"mode"`
	Right    []string       `json:"right"` // the definition as ticks
	Pay      []string       `json:"pay"`   // how the step is paid
	Cautions []string       `json:"cautions"`
	How      []string       `json:"how"` // words for how it is there
	Ruled    *caution.Ruled `json:"ruled,omitempty"`
}

// SetupStep is a step to start at.
type SetupStep struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

type answer struct {
	Drafts  []record.Draft `json:"drafts,omitempty"`
	Problem *Problem       `json:"problem,omitempty"`
	View    *View          `json:"view,omitempty"`
	Setup   *SetupView     `json:"setup,omitempty"`
	Hint    string         `json:"hint,omitempty"`
	Lines   []string       `json:"lines,omitempty"`
	Packs   []Pack         `json:"packs,omitempty"`
	Rows    []Row          `json:"rows,omitempty"`
	Error   string         `json:"error,omitempty"`
}

// Call runs one method. at is the session's clock in ms. What changes or asks for the view carries
// it; what only makes drafts does not, because applying them will.
//
// A fault of the core is an answer with an error. Where the log brought it about, the events that cannot be read are set
// aside and the session goes on without them; the view counts them.
func (d *Door) Call(method string, arg []byte, at int64) []byte {
	a, fault := d.try(method, arg, at)
	if fault != nil && d.run != nil && d.run.salvage(at) {
		v := d.run.View(at)
		a = answer{View: &v}
		if method != "apply" && method != "view" {
			a.Error = "Something logged could not be read and was set aside. Try that again."
		}
	} else if fault != nil {
		a = answer{Error: fmt.Sprintf("the core failed at %q: %v", method, fault)}
	}
	return encode(a)
}

func (d *Door) try(method string, arg []byte, at int64) (a answer, fault any) {
	defer func() { fault = recover() }()
	a, err := d.call(method, arg, at)
	if err != nil {
		a = answer{Error: err.Error()}
	} else if method == "open" || method == "renew" || method == "apply" || method == "view" {
		v := d.run.View(at)
		a.View = &v
	}
	return a, nil
}

func (d *Door) call(method string, arg []byte, at int64) (a answer, err error) {
	if method == "open" {
		var pack Pack
		if err = json.Unmarshal(arg, &pack); err == nil {
			d.run, err = Open(pack)
		}
		return a, err
	}
	if method == "list" {
		var packs []Pack
		if err = json.Unmarshal(arg, &packs); err == nil {
			a.Rows = Rows(packs)
		}
		return a, err
	}
	if d.run == nil {
		return a, fmt.Errorf("nothing is open")
	}
	switch method {
	case "view":
	case "setup":
		var c Choice
		if err = json.Unmarshal(arg, &c); err == nil {
			setup := d.run.Setup(c)
			a.Setup = &setup
		}
	case "renew":
		var pack Pack
		if err = json.Unmarshal(arg, &pack); err == nil {
			err = d.run.Renew(pack)
		}
	case "follow":
		var s Sheet
		if err = json.Unmarshal(arg, &s); err == nil {
			d.run.Follow(s)
		}
	case "food":
		var food string
		if err = json.Unmarshal(arg, &food); err == nil {
			a.Drafts = d.run.Take(food)
		}
	case "begin":
		var c Choice
		if err = json.Unmarshal(arg, &c); err == nil {
			a.Drafts, a.Problem = d.run.Begin(c)
		}
	case "apply":
		var events []record.Event
		if err = json.Unmarshal(arg, &events); err == nil {
			d.run.Apply(events)
		}
	case "press":
		var key Key
		if err = json.Unmarshal(arg, &key); err == nil {
			a.Drafts = d.run.Press(key, at)
		}
	case "note":
		var text string
		if err = json.Unmarshal(arg, &text); err == nil {
			a.Drafts, a.Problem = d.run.Note(text)
		}
	case "after":
		a.Packs = d.run.After()
	case "device":
		var dev string
		if err = json.Unmarshal(arg, &dev); err == nil {
			d.run.On(dev)
		}
	case "arm":
		var armed Armed
		if err = json.Unmarshal(arg, &armed); err == nil {
			d.run.Arm(armed)
		}
	case "tell":
		var said struct {
			What  string `json:"what"`
			Value string `json:"value"`
		}
		if err = json.Unmarshal(arg, &said); err == nil {
			a.Drafts = d.run.Tell(said.What, said.Value)
		}
	case "tally":
		var t TallyTyped
		if err = json.Unmarshal(arg, &t); err == nil {
			a.Drafts, a.Problem = d.run.Tally(t)
		}
	case "exits":
		a.Lines = d.run.Exits()
	case "reckoning":
		a.Lines = d.run.Reckoning()
	case "check":
		var left string
		if err = json.Unmarshal(arg, &left); err == nil {
			a.Hint = d.run.CrossCheck(left)
		}
	case "close":
		var c Closing
		if err = json.Unmarshal(arg, &c); err == nil {
			a.Drafts, a.Problem = d.run.Close(c)
		}
	default:
		err = fmt.Errorf("there is no method %q", method)
	}
	return a, err
}

// Setup shows what the choices made so far lead to.
func (r *Run) Setup(c Choice) SetupView {
	p := r.pack
	if c.Handler == "" {
		c.Handler = p.Person
	}
	place, _ := option(p.Places, c.Place)
	person, _ := option(p.People, c.Handler)
	at, drops := p.StartAt(c)
	reached := max(0, progression.Index(p.Steps, p.Place.Reached))
	v := SetupView{
		Dog: p.DogName, Skill: p.SkillName, Kind: string(p.Kind), Places: p.Places, People: p.People,
		Place: c.Place, Handler: c.Handler, Right: phrase.Ticks(p.Kind, p.Definition), Cautions: p.Cautions,
		Ruled: p.Ruled, How: caution.Conditions,
		Start: phrase.Start(reached-at, drops, place.Name, person.Name), StepID: p.Steps[at].ID,
	}
	if p.Track != "" {
		v.Skill += ", " + p.Track
	}
	if p.First && at == 0 {
		v.Start = phrase.StartFirst
	}
	v.Modes, v.Mode = p.modes(), train
	if mode := p.mode(c.Mode); mode != record.Train {
		at, v.Start = p.opensIn(mode, reached)
		v.Mode, v.StepID = string(mode), p.Steps[at].ID
		if mode != record.Baseline {
			c.Step = ""
		}
	}
	if i := progression.Index(p.Steps, c.Step); i >= 0 && i != at {
		at = i
		v.Start = "Your own choice of step."
		v.StepID = c.Step
	}
	if waits := p.Blocked[p.Steps[at].ID]; waits != "" {
		v.Cautions = append([]string{"This step waits: " + waits}, v.Cautions...)
	}
	v.Step = phrase.Upper(phrase.In(p.Units).Step(p.Steps[at].Criteria))
	if says := reinforce.Otherwise(p.PayAt(p.Steps[at].ID).Delivery, p.Bans[c.Place]); says != "" {
		v.Cautions = append(slices.Clone(v.Cautions), says)
	}
	tags, _ := ReadTags(c.Tags)
	v.Cautions = slices.Concat(v.Cautions, r.cautionsOf(p.Steps[at]), caution.OfConditions(tags))
	v.Pay = phrase.Strategy(p.PayAt(p.Steps[at].ID), p.Rung)
	for _, food := range r.foods(c.Place, p.Steps[at].ID) {
		v.Foods = append(v.Foods, Option{ID: food.ID, Name: food.Name})
	}
	if r.sheet != nil {
		v.Pieces = r.sheet.Pieces
		v.Then = r.outline()
	}
	for i := len(p.Steps) - 1; i >= 0; i-- {
		name := fmt.Sprintf("%d · %s", i+1, phrase.In(p.Units).Short(p.Steps[i].Criteria))
		if i == reached && !p.First {
			name += " (reached)"
		}
		v.Steps = append(v.Steps, SetupStep{p.Steps[i].ID, name})
	}
	return v
}
