package field

import (
	"strings"

	"patientfox/core/criteria"
)

// BodyView is where the dog is handled: the words of the step's list, for its outline.
type BodyView struct {
	Sites []string `json:"sites"` // as they are written on the list
	At    string   `json:"at"`    // the one that is next, or under the hand
	Steps string   `json:"steps"` // the one that the step asks for
}

// body shows the outline while a site is handled, nil for other kinds of work.
func (r *Run) body(phase Phase) *BodyView {
	if !r.work().HandsOn || phase != Idle && phase != Trying {
		return nil
	}
	c := r.step().Criteria
	d, _ := c.Dimension(criteria.Site)
	v := &BodyView{Sites: d.Items, At: r.site(), Steps: c.Item(criteria.Site)}
	if o := r.s.Trying; o != nil && o.Touch.Site != "" {
		v.At = o.Touch.Site
	}
	v.At, _, _ = strings.Cut(v.At, ", ")
	return v
}
