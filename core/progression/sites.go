package progression

import (
	"slices"

	"patientfox/core/criteria"
)

// comfortable is how many steps a ladder over sites has at most where fewer seconds a site would do.
const comfortable = 25

// sites goes breadth first: each tool over all places on the body, then over all of them in turn for longer, before the next tool. Sore
// places come last, each with every tool and every rung of the seconds, so that they hold up no others. Where that is long, a single place
// has only the first rungs of the seconds, and all of them in turn have the rest.
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
	for alone := len(seconds.steps); ; alone-- {
		r := overSites(site, tool, sound, sore, seconds.steps, alone, most)
		if alone == 1 || len(r.steps) <= comfortable {
			return r, nil
		}
	}
}

// overSites lays sites out: each by itself for the first rungs of the seconds, alone many, and all in turn from the last of those on.
func overSites(site, tool criteria.Dimension, sound, sore []int, seconds []criteria.Criteria, alone, most int) rungs {
	r := rungs{first: true, holds: true}
	touch := func(site criteria.Dimension, s, t int, over []criteria.Criteria, vary ...criteria.Key) {
		for _, step := range over {
			step = step.WithDimension(site, float64(s)).WithDimension(tool, float64(t))
			step.Vary = vary
			r.steps = append(r.steps, step)
		}
	}
	turns := site // those that are touched in turn: a sore one never is
	turns.Items = nil
	for _, s := range sound {
		turns.Items = append(turns.Items, site.Items[s])
	}
	for t := 0; t < len(tool.Items) && len(r.steps) <= most; t++ { // the builder says that there are too many
		for _, s := range sound {
			if len(sound) == 1 {
				touch(site, s, t, seconds)
			} else {
				touch(site, s, t, seconds[:alone])
			}
		}
		if len(sound) > 1 {
			touch(turns, 0, t, seconds[alone-1:], criteria.Site)
		}
	}
	for _, s := range sore {
		for t := range tool.Items {
			touch(site, s, t, seconds)
		}
	}
	return r
}
