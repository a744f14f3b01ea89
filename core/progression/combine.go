package progression

import (
	"cmp"
	"hash/maphash"
	"math"
	"slices"

	"patientfox/core/criteria"
)

// builder puts generators together, a step at a time: each raises one generator by one rung, and may ease others. state is the rung of
// each generator, −1 while it is out. A measure is never out.
type builder struct {
	l          Layout
	base       criteria.Criteria
	fixed      map[criteria.Key]bool // what a generator gave the base
	generators []rungs
	state      []int
	before     int   // the rung of the generator that is being raised
	last       []int // the rungs of the step that was laid down last
	most       int
	out        []criteria.Criteria
	same       map[uint64][]int // places in out, by figuresOf, of the first known
	known      int
}

// newBuilder begins with everything out, and measures and supports at their first rung. What has one rung only is part of every step.
// The work's own measure is in every step too, and can be eased where others come in.
func newBuilder(l Layout, made []rungs, most int) *builder {
	b := &builder{l: l, base: l.Case.Least.Over(l.Base), fixed: map[criteria.Key]bool{}, same: map[uint64][]int{}, most: most}
	b.base.Text = l.Base.Text
	for _, r := range made {
		if len(made) > 1 {
			r = r.easable(l.Case, most)
		}
		if len(r.steps) == 1 && len(made) > 1 {
			b.base = b.base.Over(r.steps[0])
			for key := range r.steps[0].Values {
				b.fixed[key] = true
			}
			continue
		}
		b.generators = append(b.generators, r)
	}
	if len(b.generators) == 0 {
		b.generators = []rungs{made[len(made)-1]}
	}
	if len(b.generators) > 1 {
		b.measure()
	}
	b.order(l.Combine != InSequence && l.Combine != AtFull)
	for i, r := range b.generators {
		if r.holds {
			b.fromBase(i)
		}
	}
	b.state = make([]int, len(b.generators))
	for i, r := range b.generators {
		if i == 0 || !r.fades && (!r.holds || b.generators[0].whole) {
			b.state[i] = -1 // nobody times half of a behaviour
		}
	}
	return b
}

// easable gives one figure an easier one below, so that it can ease when something new comes in.
func (r rungs) easable(c Case, most int) rungs {
	if len(r.steps) > 1 || r.dim == nil || r.dim.Scale != criteria.Measure {
		return r
	}
	d, goal := *r.dim, r.steps[0].Get(r.dim.Key)
	half := halfAsHard(d, goal)
	start := clamp(d, round(d, c.Units, math.Inf(-d.Harder), half, half))
	if d.Key == criteria.Duration {
		start = math.Min(goal, math.Max(start, minHold))
	}
	if (goal-start)*float64(d.Harder) <= 0 {
		return r
	}
	return Generator{What: d}.of(Generator{What: d}.between(c, start, goal, most))
}

// measure adds the work's own measure where no generator builds it, so that it can be eased when something new comes in.
func (b *builder) measure() {
	for _, d := range b.l.Case.Least.Asked() {
		if d.IsList() || slices.ContainsFunc(b.generators, func(r rungs) bool { return r.steps[0].Has(d.Key) }) {
			continue
		}
		if least := b.base.Get(d.Key); !b.l.Base.Has(d.Key) && least == b.l.Case.Least.Get(d.Key) && !b.fixed[d.Key] {
			two := Generator{What: d}.of([]float64{least, b.l.Case.limit(d, least)})
			b.generators = append([]rungs{two}, b.generators...)
		}
	}
}

// fromBase has a measure grow from what every step asks: nobody times half of a behaviour for longer than that, and otherwise it is its
// own first figure that every step asks.
func (b *builder) fromBase(i int) {
	r := &b.generators[i]
	for _, d := range b.base.Asked() {
		if d.IsList() || !measures[d.Key] || !r.steps[0].Has(d.Key) {
			continue
		}
		first, least := r.steps[0].Get(d.Key), b.base.Get(d.Key)
		if b.generators[0].whole && (first-least)*float64(d.Harder) > 0 {
			r.grow(d, Generator{What: d}.between(b.l.Case, least, first, b.most))
		} else if r.dim != nil {
			b.base = b.base.With(d.Key, first)
		}
	}
}

// grow puts rungs before the first one, in which a measure rises to what that one asks.
func (r *rungs) grow(d criteria.Dimension, to []float64) {
	var lower []criteria.Criteria
	for _, x := range to[:len(to)-1] {
		lower = append(lower, r.steps[0].WithDimension(d, x))
	}
	r.steps = append(lower, r.steps...)
}

// order puts the whole behaviour before all. In a weave measures come next, and last what has the most to ease: it pays for what joins it.
func (b *builder) order(weave bool) {
	rank := func(r rungs) int {
		switch {
		case r.first:
			return 0
		case weave && r.last:
			return 4
		case !weave || r.holds:
			return 1
		case r.at(b.share(), len(r.steps)-1) < 1:
			return 2
		}
		return 3
	}
	slices.SortStableFunc(b.generators, func(x, y rungs) int { return cmp.Compare(rank(x), rank(y)) })
}

func (b *builder) share() float64 { return or(b.l.Share, defaultShare) }

func (b *builder) ease() float64 { return or(b.l.Ease, defaultEase) }

func (b *builder) compose() criteria.Criteria {
	c := b.base
	for i, rung := range b.state {
		if rung >= 0 {
			c = c.Over(b.generators[i].steps[rung])
			c.Vary = append(c.Vary[:len(c.Vary):len(c.Vary)], b.generators[i].steps[rung].Vary...)
		}
	}
	return c
}

// emit adds the step that the state describes, in which one generator was raised, unless it is harder in nothing than the one before.
// Where something new would come in and nothing be easier, the others ease; where they ask for the least already, one of them first
// comes up by a rung. What was eased so far that the step was there before stays as it was.
func (b *builder) emit(raised int) {
	if len(b.out) > b.most {
		return
	}
	n := len(b.out)
	if n == 0 {
		b.lay(b.compose())
		return
	}
	for i := 0; i < len(b.state) && b.laid(b.compose()); i++ {
		if i != raised {
			b.state[i] = max(b.state[i], b.last[i])
		}
	}
	last, c := b.out[n-1], b.compose()
	if harder, _ := criteria.Changed(last, c); len(harder) == 0 {
		return
	}
	if b.pays(last, c) {
		full := slices.Clone(b.state)
		eased := b.easeFor(raised, last)
		easy := slices.Clone(b.state)
		if !eased || b.laid(b.compose()) { // eased, it was there already
			copy(b.state, full)
			if !b.lift(raised) && eased {
				copy(b.state, easy)
			}
		}
	}
	b.lay(b.compose())
}

func (b *builder) lay(c criteria.Criteria) {
	b.out = append(b.out, c)
	b.last = slices.Clone(b.state)
}

// laid tells whether a step is there already. Those that have the same figures are looked up, so that a long ladder takes no longer a step.
func (b *builder) laid(c criteria.Criteria) bool {
	for ; b.known < len(b.out); b.known++ {
		mark := figuresOf(b.out[b.known])
		b.same[mark] = append(b.same[mark], b.known)
	}
	return slices.ContainsFunc(b.same[figuresOf(c)], func(i int) bool { return c.Equal(b.out[i]) })
}

// figuresOf is a number that steps with the same figures share.
func figuresOf(c criteria.Criteria) (mark uint64) {
	for key, value := range c.Values {
		mark ^= maphash.Comparable(figureSeed, figure{key, value}) // in whatever order they come
	}
	return mark
}

type figure struct {
	key   criteria.Key
	value float64
}

var figureSeed = maphash.MakeSeed()

// lift adds a step in which another generator is a rung further, so that it can ease for what comes in; false where there is none.
func (b *builder) lift(raised int) bool {
	target, rung := b.compose(), b.state[raised]
	for j := range b.generators {
		was := b.state[j]
		if was < 0 && b.inBase(j) {
			was = 0 // a measure that waits for the whole behaviour is asked at its first figure already
		}
		if j == raised || was < 0 || was == b.top(j) {
			continue
		}
		kept := b.state[j]
		b.state[raised], b.state[j] = b.before, was+1
		lifted := b.compose()
		b.state[raised], b.state[j] = rung, kept
		if harder, _ := criteria.Changed(lifted, target); len(harder) > 0 && !b.pays(lifted, target) && !b.laid(lifted) {
			b.out = append(b.out, lifted)
			return true
		}
	}
	return false
}

// inBase tells whether a generator builds a measure that every step asks.
func (b *builder) inBase(i int) bool {
	r := b.generators[i]
	return r.holds && r.dim != nil && b.base.Has(r.dim.Key)
}

// easeFor eases the other generators until what comes in is paid for, and tells whether it is.
func (b *builder) easeFor(raised int, last criteria.Criteria) bool {
	for i, r := range b.generators {
		if i != raised && b.state[i] > 0 {
			b.state[i] = r.eased(b.state[i], b.state[i]-1)
		}
		if !b.pays(last, b.compose()) {
			return true
		}
	}
	return false
}

// pays tells whether something new comes in for which nothing eases although it could.
func (b *builder) pays(from, to criteria.Criteria) bool {
	harder, easier := criteria.Changed(from, to)
	if _, fresh := split(from, harder); len(fresh) > 0 && len(easier) == 0 {
		_, can := eased(from, to, fresh)
		return can
	}
	return false
}

// raise brings one generator up to a rung, step by step.
func (b *builder) raise(generator, to int) {
	for b.state[generator] < to && len(b.out) <= b.most {
		b.set(generator, b.state[generator]+1)
	}
}

// set raises a generator to a rung at once.
func (b *builder) set(generator, rung int) {
	b.before, b.state[generator] = b.state[generator], rung
	b.emit(generator)
}

func (b *builder) top(generator int) int { return len(b.generators[generator].steps) - 1 }

// then builds one generator after another: while one is built the earlier ones are eased, and come back to their goal, one at a time,
// before the next. At full they are not eased, but where something new comes in.
func (b *builder) then(full bool) {
	for i := range b.generators {
		if !full {
			b.easeAll(i, b.ease())
		}
		b.raise(i, b.top(i))
		for j := range i {
			b.raise(j, b.top(j))
		}
	}
}

// easeAll eases the generators below one to a share of where they are.
func (b *builder) easeAll(below int, share float64) {
	for j := range below {
		if r := b.generators[j]; b.state[j] > 0 {
			b.state[j] = r.eased(b.state[j], r.at(share, b.state[j]))
		}
	}
}

// woven is where one generator goes in a weave.
type woven struct {
	out   int // while it has no part in it: −1, or of a measure or a support the rung that it keeps
	entry int // the first rung that asks for more than that
	point int // a share of its goal
}

// weave builds each generator alone to a share of its goal, then pairs of them (where there are more than
// two), then all to the goal. Whenever one joins, the others ease. The line and the prop stay until then.
func (b *builder) weave() {
	n := 0
	for n < len(b.generators) && !b.generators[n].last {
		n++
	}
	b.interleave(n)
	for i := n; i < len(b.generators); i++ {
		b.raise(i, b.top(i))
	}
}

// ways says of the first n generators where each goes in a weave.
func (b *builder) ways(n int) []woven {
	ways := make([]woven, n)
	for i, r := range b.generators[:n] {
		w := woven{out: -1, entry: b.entry(i)}
		if r.fades {
			w.out, w.entry = 0, min(1, b.top(i))
		}
		w.point = max(r.at(b.share(), b.top(i)), min(b.top(i), w.entry+1))
		if r.holds && !r.first {
			w.point = min(b.top(i), max(w.point, 2))
			w.out = max(0, min(w.point-1, r.at(b.ease(), w.point)))
			w.entry = w.out + 1
		}
		if r.first {
			w.out, w.entry = w.point, 0
		}
		ways[i] = w
	}
	return ways
}

// interleave weaves the first n generators.
func (b *builder) interleave(n int) {
	if n == 0 {
		return
	}
	if n == 1 {
		b.raise(0, b.top(0))
		return
	}
	ways := b.ways(n)
	var holds, others []int
	for i, r := range b.generators[:n] {
		if r.holds {
			holds = append(holds, i)
		} else {
			others = append(others, i)
		}
	}
	b.raise(0, ways[0].point)
	for at, i := range holds {
		if i == 0 {
			continue
		}
		for _, j := range holds[:at] {
			b.goOut(j, ways[j].out)
		}
		b.raise(i, ways[i].point)
	}
	for _, i := range others {
		if i > 0 {
			b.phase(ways, []int{i})
		}
		for _, h := range holds {
			if n > 2 {
				b.phase(ways, []int{i, h})
			}
		}
	}
	if n > 2 {
		for _, pair := range pairs(len(others)) {
			b.phase(ways, []int{others[pair[0]], others[pair[1]]})
		}
	}
	b.phase(ways, append(slices.Clone(others), holds...))
	b.together(n)
}

// phase works on some generators: the others go out, those that come in do so one by one while the ones that were in ease, and all are
// raised to their share of the goal.
func (b *builder) phase(ways []woven, members []int) {
	for i, w := range ways {
		if !slices.Contains(members, i) && b.state[i] > w.out {
			b.goOut(i, w.out)
		}
	}
	entering := 0
	for _, i := range members {
		if ways[i].entry > ways[i].out && b.state[i] <= ways[i].out {
			entering++
		}
	}
	if entering == 0 {
		return // nothing new
	}
	for _, i := range members {
		w := ways[i]
		if b.state[i] > w.out || w.entry <= w.out {
			continue
		}
		for _, j := range members {
			if r := b.generators[j]; j != i && b.state[j] > ways[j].entry {
				if at := r.eased(b.state[j], max(ways[j].entry, r.at(b.ease(), b.state[j]))); at >= ways[j].entry {
					b.state[j] = at
				}
			}
		}
		if b.state[i] < 0 {
			b.set(i, w.entry)
		}
		b.raise(i, w.entry)
	}
	for _, i := range members {
		b.raise(i, ways[i].point)
	}
}

// goOut takes a generator out, or down to the rung that it keeps where that is easier.
func (b *builder) goOut(i, to int) {
	if to < 0 {
		b.state[i] = to
		return
	}
	if at := b.generators[i].eased(b.state[i], to); at <= to {
		b.state[i] = at
	}
}

// entry is the first rung of a generator that asks for anything at all: none beside the dog, and no metre
// away from it, are the same.
func (b *builder) entry(generator int) int {
	for i, rung := range b.generators[generator].steps {
		if harder, _ := criteria.Changed(b.base, b.base.Over(rung)); len(harder) > 0 {
			return i
		}
	}
	return 0
}

// together brings the first n generators to their goals, always the one that is furthest behind.
func (b *builder) together(n int) {
	for len(b.out) <= b.most {
		next, least := -1, 2.0
		for i := range n {
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

// alternate takes steps in turn: with help one more is asked, without help one less. Of two rungs of the ladder, both come with help
// first, then both with the next word of help, and so on to none. A rung that eases something comes by itself.
func (b *builder) alternate(help []string) {
	d, _ := criteria.Find(criteria.Help)
	d.Items = []string{"with help", "none"}
	if len(help) >= 2 {
		d.Items = help
	}
	inner := *b
	if len(inner.generators) == 1 {
		inner.raise(0, inner.top(0))
	} else {
		inner.weave()
	}
	for i := 0; i < len(inner.out) && len(b.out) <= b.most; {
		group := inner.out[i : i+1]
		if i+1 < len(inner.out) && criteria.Below(inner.out[i], inner.out[i+1]) {
			group = inner.out[i : i+2]
		}
		for word := range d.Items {
			for _, c := range group {
				b.out = append(b.out, c.WithDimension(d, float64(word)))
			}
		}
		i += len(group)
	}
}
