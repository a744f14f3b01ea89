package screen

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
)

// Door is the way in from outside Go: methods by name, JSON in, JSON out. It keeps the running
// session between calls, because folding a long log from JSON on every tap would be too slow.
type Door struct {
	run    *session.Run
	looked []byte // the view of the last look, but for its dial
}

type answer struct {
	Drafts  []record.Draft `json:"drafts,omitempty"`
	Problem *Problem       `json:"problem,omitempty"`
	View    *View          `json:"view,omitempty"`
	Dial    *turned        `json:"dial,omitempty"`
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
	if fault != nil && d.run != nil && d.run.Salvage(func() { Of(d.run).View(at) }) {
		v := Of(d.run).View(at)
		a = answer{View: &v}
		if method != "apply" && method != "view" {
			a.Error = "Something logged could not be read and was set aside. Try that again."
		}
	} else if fault != nil {
		a = answer{Error: fmt.Sprintf("the core failed at %q: %v", method, fault)}
	}
	raw, err := json.Marshal(a)
	if err != nil {
		raw, _ = json.Marshal(answer{Error: err.Error()}) // which is text
	}
	return raw
}

// shows are the methods that change or ask for the view.
var shows = []string{"open", "renew", "apply", "view", "arm", "alter", "once"}

func (d *Door) try(method string, arg []byte, at int64) (a answer, fault any) {
	defer func() { fault = recover() }()
	a, err := d.call(method, arg, at)
	if err != nil {
		a = answer{Error: err.Error()}
	} else if method == "look" {
		return d.look(at), nil
	} else if slices.Contains(shows, method) {
		v := Of(d.run).View(at)
		a.View, d.looked = &v, nil
	}
	return a, nil
}

// turned is the dial, with the time since the last pay: what goes on between two presses.
type turned struct {
	Dial
	Since string `json:"since"`
}

// look answers with the view, or with the dial alone where nothing else of the view has changed since the look before.
func (d *Door) look(at int64) answer {
	v := Of(d.run).View(at)
	rest := v
	rest.Dial, rest.Pay.Since = Dial{Live: v.Dial.Live}, ""
	raw, err := json.Marshal(rest)
	if err == nil && bytes.Equal(raw, d.looked) {
		return answer{Dial: &turned{v.Dial, v.Pay.Since}}
	}
	d.looked = raw
	return answer{View: &v}
}

func (d *Door) call(method string, arg []byte, at int64) (answer, error) {
	switch method {
	case "open":
		return with(func(p pack.Pack) (a answer, err error) { d.run, err = session.Open(p); return a, err })(arg)
	case "list":
		return with(func(packs []pack.Pack) (answer, error) { return answer{Rows: Rows(packs)}, nil })(arg)
	}
	if d.run == nil {
		return answer{}, fmt.Errorf("nothing is open")
	}
	if do, is := Of(d.run).methods(at)[method]; is {
		return do(arg)
	}
	return answer{}, fmt.Errorf("there is no method %q", method)
}

// told is what somebody says about the last trial.
type told struct {
	What  string `json:"what"`
	Value string `json:"value"`
}

// alters makes a setting larger or smaller by one press.
type alters struct {
	Key criteria.Key `json:"key"`
	By  int          `json:"by"`
}

// methods are what can be asked of an open session at a moment of its clock, in ms.
func (r Screen) methods(at int64) map[string]func(arg []byte) (answer, error) {
	return map[string]func([]byte) (answer, error){
		"view":   with(func(any) (answer, error) { return answer{}, nil }), // which try adds
		"look":   with(func(any) (answer, error) { return answer{}, nil }), // likewise
		"renew":  with(func(p pack.Pack) (answer, error) { return answer{}, r.Renew(p) }),
		"follow": does(r.Follow),
		"apply":  does(r.Apply),
		"device": does(r.On),
		"arm":    r.arms,
		"alter":  does(func(a alters) { r.Alter(a.Key, a.By) }),
		"once":   does(r.JustOne),

		"setup":     with(func(c session.Choice) (answer, error) { setup := r.Setup(c); return answer{Setup: &setup}, nil }),
		"after":     with(func(any) (answer, error) { return answer{Packs: r.After()}, nil }),
		"exits":     with(func(any) (answer, error) { return answer{Lines: r.Exits()}, nil }),
		"reckoning": with(func(any) (answer, error) { return answer{Lines: r.Reckoning()}, nil }),
		"check":     with(func(left string) (answer, error) { return answer{Hint: r.CrossCheck(left)}, nil }),

		"begin": drafts(r, r.Begin),
		"note":  drafts(r, r.Note),
		"tally": drafts(r, r.Tally),
		"seen":  drafts(r, r.Look),
		"sign":  drafts(r, r.Sign),
		"hands": drafts(r, r.HandOver),
		"roles": drafts(r, r.Share),
		"close": drafts(r, r.Close),
		"topup": drafts(r, r.TopUp),
		"food":  with(func(h session.Hold) (answer, error) { return answer{Drafts: r.Take(h)}, nil }),
		"press": with(func(key work.Key) (answer, error) { return answer{Drafts: r.Press(key, at)}, nil }),
		"side":  with(func(plan string) (answer, error) { return answer{Drafts: r.TurnsTo(plan)}, nil }),
		"tell":  with(func(t told) (answer, error) { return answer{Drafts: r.Tell(t.What, t.Value)}, nil }),
	}
}

// arms chooses for the next trial what an argument names, and leaves the rest as it is.
func (r Screen) arms(raw []byte) (answer, error) {
	armed := r.Armed()
	if err := json.Unmarshal(raw, &armed); err != nil {
		return answer{}, err
	}
	r.Arm(armed)
	return answer{}, nil
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
func drafts[T any](r Screen, do func(T) ([]record.Draft, *session.Problem)) func([]byte) (answer, error) {
	return with(func(arg T) (answer, error) {
		made, problem := do(arg)
		return answer{Drafts: made, Problem: r.Say(problem)}, nil
	})
}
