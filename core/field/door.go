package field

import (
	"encoding/json"
	"fmt"
	"slices"

	"patientfox/core/caution"
	"patientfox/core/pack"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/work"
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
	Places   []pack.Option  `json:"places"`
	People   []pack.Option  `json:"people"`
	Place    string         `json:"place"`
	Handler  string         `json:"handler"`
	Foods    []pack.Option  `json:"foods"`            // that can be paid with there, the fitting one first
	Pieces   int            `json:"pieces,omitempty"` // to count out, by the sheet
	Then     string         `json:"then,omitempty"`   // what the sheet brings after it
	Modes    []pack.Option  `json:"modes"`            // what the session can be for
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
	Packs   []pack.Pack    `json:"packs,omitempty"`
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

func (d *Door) call(method string, arg []byte, at int64) (answer, error) {
	switch method {
	case "open":
		return with(func(p pack.Pack) (a answer, err error) { d.run, err = Open(p); return a, err })(arg)
	case "list":
		return with(func(packs []pack.Pack) (answer, error) { return answer{Rows: Rows(packs)}, nil })(arg)
	}
	if d.run == nil {
		return answer{}, fmt.Errorf("nothing is open")
	}
	if do, is := d.run.methods(at)[method]; is {
		return do(arg)
	}
	return answer{}, fmt.Errorf("there is no method %q", method)
}

// told is what somebody says about the last trial.
type told struct {
	What  string `json:"what"`
	Value string `json:"value"`
}

// methods are what can be asked of an open session at a moment of its clock, in ms.
func (r *Run) methods(at int64) map[string]func(arg []byte) (answer, error) {
	return map[string]func([]byte) (answer, error){
		"view":   with(func(any) (answer, error) { return answer{}, nil }), // which try adds
		"renew":  with(func(p pack.Pack) (answer, error) { return answer{}, r.Renew(p) }),
		"follow": does(r.Follow),
		"apply":  does(r.Apply),
		"device": does(r.On),
		"arm":    does(r.Arm),

		"setup":     with(func(c Choice) (answer, error) { setup := r.Setup(c); return answer{Setup: &setup}, nil }),
		"after":     with(func(any) (answer, error) { return answer{Packs: r.After()}, nil }),
		"exits":     with(func(any) (answer, error) { return answer{Lines: r.Exits()}, nil }),
		"reckoning": with(func(any) (answer, error) { return answer{Lines: r.Reckoning()}, nil }),
		"check":     with(func(left string) (answer, error) { return answer{Hint: r.CrossCheck(left)}, nil }),

		"begin": drafts(r.Begin),
		"note":  drafts(r.Note),
		"tally": drafts(r.Tally),
		"close": drafts(r.Close),
		"food":  with(func(food string) (answer, error) { return answer{Drafts: r.Take(food)}, nil }),
		"press": with(func(key work.Key) (answer, error) { return answer{Drafts: r.Press(key, at)}, nil }),
		"tell":  with(func(t told) (answer, error) { return answer{Drafts: r.Tell(t.What, t.Value)}, nil }),
	}
}

// with makes a method of what takes an argument.
func with[T any](do func(T) (answer, error)) func([]byte) (answer, error) {
	return func(raw []byte) (answer, error) {
		var arg T
		if err := json.Unmarshal(raw, &arg); err != nil {
			return answer{}, err
		}
		return do(arg)
	}
}

// does makes a method of what answers nothing.
func does[T any](do func(T)) func([]byte) (answer, error) {
	return with(func(arg T) (answer, error) { do(arg); return answer{}, nil })
}

// drafts makes a method of what leads to events, or says what is wrong with what was typed.
func drafts[T any](do func(T) ([]record.Draft, *Problem)) func([]byte) (answer, error) {
	return with(func(arg T) (a answer, err error) { a.Drafts, a.Problem = do(arg); return a, nil })
}

// Setup shows what the choices made so far lead to.
func (r *Run) Setup(c Choice) SetupView {
	p := r.pack
	if c.Handler == "" {
		c.Handler = p.Person
	}
	place, _ := pack.Find(p.Places, c.Place)
	person, _ := pack.Find(p.People, c.Handler)
	at, drops := p.StartAt(c.Place, c.Handler)
	reached := p.ReachedAt()
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
	v.Modes, v.Mode = modes(&p), pack.Train
	if mode := p.Mode(c.Mode); mode != record.Train {
		at, v.Start = p.OpensIn(mode), saysOf(&p, mode)
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
	v.Step = say.Upper(phrase.In(p.Units).Step(p.Steps[at].Criteria))
	if says := reinforce.Otherwise(p.PayAt(p.Steps[at].ID).Delivery, p.Bans[c.Place]); says != "" {
		v.Cautions = append(slices.Clone(v.Cautions), says)
	}
	tags, _ := ReadTags(c.Tags)
	v.Cautions = slices.Concat(v.Cautions, r.cautionsOf(p.Steps[at]), caution.OfConditions(tags))
	v.Pay = phrase.Strategy(p.PayAt(p.Steps[at].ID), p.Rung)
	for _, food := range r.foods(c.Place, p.Steps[at].ID) {
		v.Foods = append(v.Foods, pack.Option{ID: food.ID, Name: food.Name})
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
