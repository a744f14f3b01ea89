package screen

import (
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/session"
)

// BodyView is where the dog is handled: the words of the step's list, for its outline.
type BodyView struct {
	Sites []string `json:"sites"` // as they are written on the list
	At    string   `json:"at"`    // the one that is next, or under the hand
	Steps string   `json:"steps"` // the one that the step asks for
}

// body shows the outline while a site is handled, nil for other kinds of work.
func (r Screen) body(phase session.Phase) *BodyView {
	if !r.Kind().HandsOn || phase != session.Idle && phase != session.Trying {
		return nil
	}
	c := r.Today().Criteria
	d, _ := c.Dimension(criteria.Site)
	v := &BodyView{Sites: d.Items, At: r.Site(), Steps: c.Item(criteria.Site)}
	if o := r.Session().Trying; o != nil && o.Touch.Site != "" {
		v.At = o.Touch.Site
	}
	v.At = strings.TrimSuffix(v.At, ", "+r.Pack().Track) // a name can have a comma of its own
	return v
}
