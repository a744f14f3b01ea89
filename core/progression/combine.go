package progression

import (
	"slices"

	"patientfox/core/criteria"
)

// builder puts generators together. state is the rung of each generator, −1 while it is out.
type builder struct {
	base        criteria.Criteria
	generators  []rungs
	share, ease float64
	most        int
	state       []int
	out         []criteria.Criteria
}

// emit adds the step that the state describes, unless it is harder in nothing than the one before.
func (b *builder) emit() {
	if len(b.out) > b.most {
		return
	}
	c := b.base
	for i, rung := range b.state {
		if rung >= 0 {
			c = c.Over(b.generators[i].steps[rung])
		}
	}
	if n := len(b.out); n > 0 {
		if harder, _ := criteria.Changed(b.out[n-1], c); len(harder) == 0 {
			return
		}
	}
	b.out = append(b.out, c)
}

// raise brings one generator up to a rung, step by step.
func (b *builder) raise(generator, to int) {
	for b.state[generator] < to && len(b.out) <= b.most {
		b.state[generator]++
		b.emit()
	}
}

func (b *builder) top(generator int) int { return len(b.generators[generator].steps) - 1 }

// clear takes every generator out. Help, food and gear are never out: there they are at their most.
func (b *builder) clear() {
	b.state = make([]int, len(b.generators))
	for i, generator := range b.generators {
		if !generator.fades {
			b.state[i] = -1
		}
	}
}

// then builds one generator after another: while one is built the earlier ones are eased, and come back to
// their goal, one at a time, before the next.
func (b *builder) then() {
	b.clear()
	for i := range b.generators {
		for j := range i {
			b.state[j] = b.generators[j].at(b.ease, b.top(j))
		}
		b.raise(i, b.top(i))
		for j := range i {
			b.raise(j, b.top(j))
		}
	}
}

// entry is the first rung of a generator that asks for anything at all: none beside the dog, and no metre
// away from it, are the same.
func (b *builder) entry(generator int) int {
	for i, rung := range b.generators[generator].steps {
		if harder, _ := criteria.Changed(b.base, b.base.Over(rung)); len(harder) > 0 || b.generators[generator].fades {
			return i
		}
	}
	return 0
}

// weave builds each generator alone to a share of its goal, then pairs of them (where there are more than
// two), then all to the goal. Whenever one joins, the others ease.
func (b *builder) weave() {
	n := len(b.generators)
	// What has nothing to ease at its share comes first: the last one alone pays for what joins it.
	slices.SortStableFunc(b.generators, func(x, y rungs) int {
		return min(1, x.at(b.share, len(x.steps)-1)) - min(1, y.at(b.share, len(y.steps)-1))
	})
	point := make([]int, n) // the share of the goal
	low := make([]int, n)   // where it comes in, and what it eases to
	for i := range b.generators {
		entry := b.entry(i)
		point[i] = max(entry, b.generators[i].at(b.share, b.top(i)))
		low[i] = max(entry, b.generators[i].at(b.ease, point[i]))
	}
	for i := range b.generators {
		b.clear()
		b.raise(i, point[i])
	}
	in := []int{n - 1}
	if n > 2 {
		for _, pair := range pairs(n) {
			b.clear()
			for _, i := range pair {
				b.state[i] = low[i]
			}
			b.emit()
			for _, i := range pair {
				b.raise(i, point[i])
			}
			in = pair
		}
	}
	inside := map[int]bool{}
	for _, i := range in {
		inside[i] = true
	}
	for i := range b.generators {
		if inside[i] {
			continue
		}
		inside[i] = true
		for j := range inside {
			b.state[j] = low[j]
		}
		b.emit()
	}
	for i := range b.generators {
		b.raise(i, point[i])
	}
	b.together()
}

// together brings all generators to their goals, always the one that is furthest behind.
func (b *builder) together() {
	for len(b.out) <= b.most {
		next, least := -1, 2.0
		for i := range b.generators {
			if b.state[i] >= b.top(i) {
				continue
			}
			if done := float64(b.state[i]+1) / float64(b.top(i)+1); done < least {
				next, least = i, done
			}
		}
		if next < 0 {
			return
		}
		b.raise(next, b.state[next]+1)
	}
}

// pairs lists all pairs of n > 2 generators so that each shares one with the pair before, beginning with
// one that has the last generator: only one thing is ever new.
func pairs(n int) [][]int {
	var list [][]int
	used := map[[2]int]bool{}
	last := []int{n - 1}
	for len(list) < n*(n-1)/2 {
		next := [2]int{-1, -1}
	search:
		for _, i := range last {
			for j := range n {
				key := [2]int{min(i, j), max(i, j)}
				if i != j && !used[key] {
					next = [2]int{i, j}
					used[key] = true
					break search
				}
			}
		}
		if next[0] < 0 {
			// No pair is left that shares one: begin anew with any.
			for i := range n {
				for j := i + 1; j < n && next[0] < 0; j++ {
					if !used[[2]int{i, j}] {
						next = [2]int{i, j}
						used[next] = true
					}
				}
			}
		}
		last = []int{next[1], next[0]}
		list = append(list, []int{next[0], next[1]})
	}
	return list
}

// alternate takes two steps in turn: with help ask more, without help ask less. The generators together are
// climbed with help one rung ahead of without.
func (b *builder) alternate(help []string) {
	d, _ := criteria.Find(criteria.Help)
	d.Items = []string{"with help", "none"}
	if len(help) == 2 {
		d.Items = help
	}
	inner := *b
	inner.out = nil
	if len(inner.generators) == 1 {
		inner.state = []int{-1}
		inner.raise(0, inner.top(0))
	} else {
		inner.weave()
	}
	for _, c := range inner.out {
		b.out = append(b.out, c.WithDimension(d, 0), c.WithDimension(d, 1))
		if len(b.out) > b.most {
			return
		}
	}
}
