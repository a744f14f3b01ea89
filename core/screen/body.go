package screen

import (
	"slices"
	"strconv"
	"strings"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// BodyView is where the dog is handled: the words of the step's list, for its outline.
type BodyView struct {
	Sites []SiteView `json:"sites"`
	Right bool       `json:"right,omitempty"` // the outline is seen from the right
	Tool  string     `json:"tool,omitempty"`  // in the hand, "" where there is no other
	Round bool       `json:"round,omitempty"` // a visit over many sites
	Can   bool       `json:"can,omitempty"`   // there can be one
	Says  string     `json:"says,omitempty"`  // what is next, or why a site is not touched

	Parts []work.Button `json:"parts,omitempty"` // of the site, while it is really done: which claw
	Other *pack.Option  `json:"other,omitempty"` // the side that the dog can be turned to
}

// SiteView is one site, with the tool in the hand.
type SiteView struct {
	Name  string    `json:"name"`           // as it is written on the list
	At    bool      `json:"at,omitempty"`   // next, or under the hand
	Next  bool      `json:"next,omitempty"` // proposed
	Shape string    `json:"shape,omitempty"`
	Mark  care.Mark `json:"mark,omitempty"`
	Over  bool      `json:"over,omitempty"` // done for today
	Says  string    `json:"says"`           // all of that
}

// say puts a site into words; level is how the dog takes it, "" where that is not known.
func (v *SiteView) say(level string) {
	words := []string{v.Name}
	for _, one := range []struct {
		on   bool
		word string
	}{
		{level != "", strings.ToLower(level)}, {v.Mark == care.Sore, "sore"}, {v.Mark == care.Never, "never touched"}, {v.Over, "done for today"},
		{v.Next, "next"},
	} {
		if one.on {
			words = append(words, one.word)
		}
	}
	v.Says = strings.Join(words, ", ")
}

// Touches is the site that is next, or under the hand; "" where it is not on the list.
func (v *BodyView) Touches() string {
	for _, one := range v.Sites {
		if one.At {
			return one.Name
		}
	}
	return ""
}

// body shows the outline while a site is handled, nil for other kinds of work.
func (r Screen) body(phase session.Phase) *BodyView {
	if !r.Kind().HandsOn || phase != session.Idle && phase != session.Trying {
		return nil
	}
	d, _ := r.Today().Criteria.Dimension(criteria.Site)
	track, at := r.Pack().Track, r.Site()
	if o := r.Session().Trying; o != nil && o.Touch.Site != "" {
		at = o.Touch.Site
	}
	v := &BodyView{Right: strings.Contains(strings.ToLower(track), "right"), Round: r.Armed().Round, Can: r.Visits()}
	_, steps := r.Position()
	if tools := progression.Tools(steps); len(tools) > 1 {
		v.Tool = r.Tool()
	}
	if sides := r.Sides(); len(sides) > 1 && phase == session.Idle && len(r.Lanes()) == 0 && !r.Helps() {
		v.Other = &sides[1].Option
	}
	if r.Armed().Done && phase == session.Idle {
		for _, part := range care.Parts(at) {
			one := work.Button{Key: work.Key(part), Label: say.Upper(part), On: part == r.Armed().Part}
			if slices.ContainsFunc(r.Visited(), func(t *trial.Trial) bool { return t.Site == at && t.Done && t.Part == part }) {
				one.Label += " ✓"
			}
			v.Parts = append(v.Parts, one)
		}
	}
	round := r.Round()
	next, with, more := r.NextSite()
	for _, name := range d.Items {
		site := trial.OnTrack(name, track)
		one := SiteView{Name: name, At: site == at, Next: v.Round && more && name == next, Mark: r.Mark(site), Over: round.Over[site]}
		words := ""
		if level, known := r.Level(site, r.Tool()); known {
			one.Shape, words = "state"+strconv.Itoa(level), work.StateNames[level]
		}
		one.say(words)
		v.Sites = append(v.Sites, one)
	}
	v.Says = r.visitSays(at, next, with, more)
	return v
}

// visitSays is what there is to say of the site and the tool that are chosen, and of what is next on this side.
func (r Screen) visitSays(at, next, with string, more bool) string {
	tool, round := r.Tool(), r.Armed().Round
	_, _, elsewhere := r.Round().Next(tool, nil)
	switch refused := r.Refused(); {
	case refused != nil && refused.Field == "":
		return Text(*refused)
	case refused != nil:
		return say.Upper(refused.Field) + ": " + Text(*refused)
	case r.PulledAt(at):
		return "It pulled away there: shorter now, or without the tool."
	case r.Mark(at) == care.Sore:
		return "Sore, by its mark: its easiest touch, and only what is agreed with the vet."
	case r.TakenOut():
		return "The tool is out: pay better than before."
	case round && more && with != tool:
		return "Next: " + next + ", with " + with + "."
	case round && !more && elsewhere:
		return "Every site on this side had its touch: the other side waits."
	case round && !more:
		return "Every site had its touch: end with one at ease."
	}
	if first, early := r.Round().Early(at, tool); early {
		return "Not ready there for " + tool + ": " + first + " first."
	}
	return ""
}
