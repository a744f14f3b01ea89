package progression

import (
	"slices"
	"strings"

	"patientfox/core/criteria"
)

// CellAt is the index of the step that asks for a touch at a site with a tool: the one at from where it does, else the nearest below it
// that does, else the nearest above; −1 where none does. A site can have the word of a track behind it: "ear, left" is the ladder's "ear".
func CellAt(steps []Step, from int, site, tool string) int {
	below, above := -1, -1
	for i := range steps {
		switch {
		case !asksFor(&steps[i].Criteria, site, tool):
		case i <= from:
			below = i
		case above < 0:
			above = i
		}
	}
	if below >= 0 {
		return below
	}
	return above
}

// asksFor tells whether criteria ask for a touch at a site with a tool. Where the site varies they ask for all on the list, and where
// they name no tool, for any.
func asksFor(c *criteria.Criteria, site, tool string) bool {
	if !c.Has(criteria.Site) || c.Has(criteria.Tool) && c.Item(criteria.Tool) != tool {
		return false
	}
	d, _ := c.Dimension(criteria.Site)
	listed := Listed(d.Items, site)
	return listed != "" && (listed == c.Item(criteria.Site) || slices.Contains(c.Vary, criteria.Site))
}

// Sites are those that a step asks for: the one it names, or all on its list where they are taken in turn.
func (s Step) Sites() []string {
	c := &s.Criteria
	if !c.Has(criteria.Site) {
		return nil
	}
	if d, _ := c.Dimension(criteria.Site); slices.Contains(c.Vary, criteria.Site) {
		return d.Items
	}
	return []string{c.Item(criteria.Site)}
}

// Listed is the word of a list of sites that a site is, with or without a track behind it; "" where it is none of them.
func Listed(sites []string, site string) (word string) {
	for _, one := range sites {
		if rest, is := strings.CutPrefix(site, one); is && (rest == "" || strings.HasPrefix(rest, ", ")) && len(one) > len(word) {
			word = one
		}
	}
	return word
}

// Tools are those of a ladder, in the order in which they come out.
func Tools(steps []Step) (tools []string) {
	for i := range steps {
		if tool := steps[i].Criteria.Item(criteria.Tool); tool != "" && !slices.Contains(tools, tool) {
			tools = append(tools, tool)
		}
	}
	return tools
}
