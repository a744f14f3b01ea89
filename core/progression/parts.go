package progression

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"patientfox/core/criteria"
)

// Part is one look, smell, sound or motion of a stimulus, with its own small ladder: how near, how strong, how long. What it does not
// say it takes from the others, at their easiest.
type Part struct {
	Name    string    `json:"name"`
	Metres  []float64 `json:"metres,omitempty"`   // to the dog, furthest first
	Levels  []float64 `json:"strength,omitempty"` // 0 to 5, faintest first
	Seconds []float64 `json:"seconds,omitempty"`  // that it is there, a flash first
}

// partKeys are the dimensions of a part's own ladder, in the order in which they are raised.
var partKeys = []criteria.Key{criteria.Duration, criteria.Trigger, criteria.Intensity}

func (p Part) figures(key criteria.Key) []float64 {
	switch key {
	case criteria.Duration:
		return p.Seconds
	case criteria.Trigger:
		return p.Metres
	}
	return p.Levels
}

// withParts has the parts of a layout that was kept before parts had ladders of their own.
func (g Generator) withParts() Generator {
	if len(g.Parts) == 0 {
		for _, name := range g.Items {
			g.Parts = append(g.Parts, Part{Name: name})
		}
	}
	return g
}

// parts builds each part by itself, from its start to its end, and then those that come together.
func (g Generator) parts(c Case, most int) (rungs, []criteria.Problem) {
	g = g.withParts()
	names := make([]string, len(g.Parts))
	for i, p := range g.Parts {
		names[i] = strings.TrimSpace(p.Name)
	}
	if problems := criteria.CheckItems("parts", names); len(problems) > 0 {
		return rungs{}, problems
	}
	groups, problems := g.groups(names)
	if len(problems) > 0 {
		return rungs{}, problems
	}
	b := partBuilder{c: c, most: most, keys: g.keys()[1:], names: names, at: map[criteria.Key]float64{}}
	for i, p := range g.Parts {
		if text := checkPart(p); text != "" {
			return rungs{}, []criteria.Problem{{Field: "parts", Text: fmt.Sprintf("%s: %s", names[i], text)}}
		}
	}
	b.d, _ = criteria.Find(criteria.Part)
	b.d.Items = slices.Clone(names)
	for _, group := range groups {
		b.d.Items = append(b.d.Items, together(names, group, b.d.Items))
	}
	if len(b.d.Items) > criteria.MaxItems {
		text := fmt.Sprintf("At most %d parts and combinations.", criteria.MaxItems)
		return rungs{}, []criteria.Problem{{Field: "parts", Text: text}}
	}
	for i := range g.Parts {
		b.part(i, g.Parts, []int{i})
	}
	for i, group := range groups {
		b.part(len(names)+i, g.Parts, group)
	}
	return rungs{steps: b.steps, first: true, holds: true}, nil
}

func checkPart(p Part) string {
	for _, key := range partKeys {
		d, _ := criteria.Find(key)
		for i, x := range p.figures(key) {
			if text := d.Check(x); text != "" {
				return text
			}
			if i > 0 && (x-p.figures(key)[i-1])*float64(d.Harder) <= 0 {
				return fmt.Sprintf("easiest first: %s does not follow %s.", criteria.Figure(x), criteria.Figure(p.figures(key)[i-1]))
			}
		}
	}
	return ""
}

// groups are the parts that come together, by their place among the names.
func (g Generator) groups(names []string) (groups [][]int, problems []criteria.Problem) {
	if g.Together == nil {
		for n := 2; n <= len(names); n++ {
			var all []int
			for i := range n {
				all = append(all, i)
			}
			groups = append(groups, all)
		}
		return groups, nil
	}
	for _, group := range g.Together {
		var places []int
		for _, name := range group {
			at := slices.IndexFunc(names, func(n string) bool { return strings.EqualFold(n, strings.TrimSpace(name)) })
			switch {
			case at < 0:
				return nil, []criteria.Problem{{Field: "together", Text: fmt.Sprintf("“%s” is none of the parts.", name)}}
			case !slices.Contains(places, at):
				places = append(places, at)
			}
		}
		if len(places) < 2 {
			return nil, []criteria.Problem{{Field: "together", Text: "Two parts or more come together."}}
		}
		groups = append(groups, places)
	}
	return groups, nil
}

// together names the parts that come at once: all of them where they fit, else the first and how many more.
func together(names []string, group []int, taken []string) string {
	list := make([]string, len(group))
	for i, at := range group {
		list[i] = names[at]
	}
	for shown := len(list); shown > 0; shown-- {
		text := strings.Join(list[:shown], ", ")
		if shown == len(list) {
			text = strings.Join(list[:shown-1], ", ") + " and " + list[shown-1]
		} else {
			text = fmt.Sprintf("%s and %d more", text, len(list)-shown)
		}
		if utf8.RuneCountInString(text) <= criteria.MaxName && !slices.Contains(taken, text) {
			return text
		}
	}
	return fmt.Sprintf("%d together, the %d.", len(list), len(taken)+1)
}

// partBuilder lays parts out one after another; at is where the last one ended.
type partBuilder struct {
	c     Case
	most  int
	keys  []criteria.Key
	names []string
	d     criteria.Dimension
	at    map[criteria.Key]float64
	steps []criteria.Criteria
}

// part adds one part, or several together: from the easiest start of them, and no harder than where the last one ended, to the hardest
// end.
func (b *partBuilder) part(place int, parts []Part, members []int) {
	ways := map[criteria.Key][]float64{}
	for _, key := range b.keys {
		d, _ := criteria.Find(key)
		ways[key] = b.way(d, parts, members)
		b.at[key] = ways[key][0]
	}
	b.emit(place)
	for _, key := range b.keys {
		for _, x := range ways[key][1:] {
			b.at[key] = x
			b.emit(place)
		}
	}
}

func (b *partBuilder) emit(place int) {
	if len(b.steps) > b.most {
		return
	}
	c := criteria.Criteria{}.WithDimension(b.d, float64(place))
	for _, key := range b.keys {
		c = c.With(key, b.at[key])
	}
	if far, _ := criteria.Find(criteria.Trigger); len(b.steps) == 0 && c.Has(criteria.Trigger) && b.near(far) && b.c.Reached <= 0 {
		b.steps = append(b.steps, c.Without(criteria.Trigger))
	}
	b.steps = append(b.steps, c)
}

// way are the figures of one dimension for some parts: their own, with steps between where those are further apart than is sound.
func (b *partBuilder) way(d criteria.Dimension, parts []Part, members []int) []float64 {
	sign := float64(d.Harder)
	own := b.own(d, parts, members)
	start := own[0]
	if last, before := b.at[d.Key]; before {
		start = sign * math.Min(sign*start, sign*last)
	} else if most, known := firstMost[d.Key]; known && b.c.Reached <= 0 && !b.near(d) {
		start = sign * math.Min(sign*start, sign*round(d, b.c.Units, math.Inf(-d.Harder), most, most))
	}
	values := []float64{start}
	for _, x := range own {
		if from := values[len(values)-1]; sign*(x-from) > 1e-9 {
			values = append(values, Generator{What: d}.between(b.c, from, x, b.most)[1:]...)
		}
	}
	return values
}

// own are the figures that some parts give, easiest first: of several together the easiest and the hardest; of none the easiest of all,
// and as many seconds as a first step may last.
func (b *partBuilder) own(d criteria.Dimension, parts []Part, members []int) []float64 {
	var own []float64
	for _, i := range members {
		own = append(own, parts[i].figures(d.Key)...)
	}
	given := len(own) > 0
	for _, p := range parts {
		if !given {
			own = append(own, p.figures(d.Key)...)
		}
	}
	for i, x := range own {
		own[i] = float64(d.Harder) * b.bound(d, x)
	}
	slices.Sort(own)
	for i := range own {
		own[i] *= float64(d.Harder)
	}
	switch {
	case !given && d.Key == criteria.Duration:
		return []float64{math.Min(own[len(own)-1], firstMost[d.Key])}
	case !given:
		return own[:1]
	case len(members) > 1:
		return []float64{own[0], own[len(own)-1]}
	}
	return own
}

// near tells whether the place is too short for the first step to be far off: then a part comes by itself before it has a distance.
func (b *partBuilder) near(d criteria.Dimension) bool {
	return d.Key == criteria.Trigger && b.c.Space > 0 && b.c.Space < firstMost[criteria.Trigger]
}

// bound is a figure that the dog and the place allow.
func (b *partBuilder) bound(d criteria.Dimension, x float64) float64 {
	switch {
	case d.Key == criteria.Duration:
		return math.Min(x, b.c.hold())
	case d.Key == criteria.Trigger && b.c.Space > 0:
		return math.Min(x, within(d, b.c.Units, b.c.Space))
	}
	return x
}
