package progression

import (
	"slices"

	"patientfox/core/criteria"
)

// comfortable is how many steps a ladder over sites has at most where fewer seconds a site would do.
const comfortable = 40

// sites goes breadth first: each tool over all places on the body, then all of them in turn, before the next tool. Sore places come
// last, each with every tool and every rung of the seconds, so that they hold up no others. Where that is long, a place after the first
// has fewer rungs of the seconds.
func (g Generator) sites(c Case, most int) (rungs, []criteria.Problem) {
	site, _ := criteria.Find(criteria.Site)
	tool, _ := criteria.Find(criteria.Tool)
	if len(g.Items) > 0 {
		site.Items = g.Items
	}
	if len(g.Tools) > 0 {
		tool.Items = g.Tools
	}
	problems := append(criteria.CheckItems("items", site.Items), criteria.CheckItems("tools", tool.Items)...)
	seconds, bad := g.ramp(c, most)
	if problems = append(problems, bad...); len(problems) > 0 {
		return rungs{}, problems
	}
	var sound, sore []int
	for i, name := range site.Items {
		if slices.Contains(g.Sore, name) {
			sore = append(sore, i)
		} else {
			sound = append(sound, i)
		}
	}
	for rest := len(seconds.steps); ; rest-- {
		r := overSites(site, tool, sound, sore, seconds.steps, rest, most)
		if rest == 1 || len(r.steps) <= comfortable {
			return r, nil
		}
	}
}

// overSites lays sites out with all rungs of the seconds at the first place for each tool, and the last few at the others.
func overSites(site, tool criteria.Dimension, sound, sore []int, seconds []criteria.Criteria, last, most int) rungs {
	r := rungs{first: true, holds: true}
	touch := func(s, t int, over ...criteria.Criteria) {
		for _, step := range over {
			r.steps = append(r.steps, step.WithDimension(site, float64(s)).WithDimension(tool, float64(t)))
		}
	}
	for t := 0; t < len(tool.Items) && len(r.steps) <= most; t++ { // the builder says that there are too many
		for i, s := range sound {
			if i == 0 {
				touch(s, t, seconds...)
			} else {
				touch(s, t, seconds[len(seconds)-last:]...)
			}
		}
		if len(sound) > 1 {
			inTurn := seconds[0]
			if t == len(tool.Items)-1 {
				inTurn = seconds[len(seconds)-1]
			}
			inTurn.Vary = []criteria.Key{criteria.Site}
			touch(sound[0], t, inTurn)
		}
	}
	for _, s := range sore {
		for t := range tool.Items {
			touch(s, t, seconds...)
		}
	}
	return r
}
