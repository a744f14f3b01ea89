package record

import (
	"math"
	"slices"

	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// ClockOf is the active time of blocks, and when it ends (s): from their first cue to the end of their last trial, without what Between
// leaves out, waits, and time that was only tallied. Blocks that were only paid in count from the first pay to the last; in others a pay
// before the first cue does not begin it. It is false where nothing was done. Every rate and every gap goes by it.
func (s *Session) ClockOf(blocks ...*Block) (clock reinforce.Clock, end float64, begun bool) {
	first, last := s.workOf(blocks)
	if math.IsInf(first, 1) {
		return reinforce.Clock{}, 0, false
	}
	return reinforce.NewClock(first, slices.Concat(s.Between(blocks...), s.Waits, s.Tallied)), last, true
}

// workOf is from when to when blocks were worked, +Inf to −Inf where they were not.
func (s *Session) workOf(blocks []*Block) (first, last float64) {
	first, last = math.Inf(1), math.Inf(-1)
	among := func(id string) bool {
		for _, b := range blocks {
			if b.ID == id {
				return true
			}
		}
		return false
	}
	for i := range s.Trials {
		if t := &s.Trials[i]; among(t.Block) {
			first, last = math.Min(first, t.From), math.Max(last, t.At)
		}
	}
	if s.Trying != nil && s.At != nil && among(s.At.ID) {
		first, last = math.Min(first, s.Trying.From), math.Max(last, s.Trying.From)
	}
	if math.IsInf(first, 1) {
		for _, p := range s.Pays {
			if among(p.Block) && !p.Warm {
				first, last = math.Min(first, p.At), math.Max(last, p.At)
			}
		}
	}
	return first, last
}

// Between are the breaks, the time from the end of one of the blocks to the start of the next, in which nothing is asked, and, of one
// block alone, the turns of others.
func (s *Session) Between(blocks ...*Block) []reinforce.Span {
	spans := append([]reinforce.Span(nil), s.Breaks...)
	if len(blocks) == 1 {
		return append(spans, blocks[0].Rests...)
	}
	before := math.Inf(-1)
	for i, b := range blocks {
		first, last := s.workOf(blocks[i : i+1])
		if math.IsInf(first, 1) {
			continue
		}
		if b.With == "" && !math.IsInf(before, -1) && first > before { // those in turn are one work
			spans = append(spans, reinforce.Span{From: before, To: first})
		}
		before = math.Max(before, last)
	}
	return spans
}

// ActiveIn is how long a block was worked, s.
func (s *Session) ActiveIn(block string) float64 {
	for _, b := range s.Blocks {
		if b.ID == block {
			if clock, end, begun := s.ClockOf(b); begun {
				return clock.Active(end)
			}
		}
	}
	return 0
}

// Off are the spans of a block's counter-conditioning in which the stimulus was not there: the rate of an exposure is its
// pays ÷ the time with the stimulus on. Of other kinds of work there are none.
func (s *Session) Off(b *Block) (spans []reinforce.Span) {
	if !work.Of(b.Kind).Pairs {
		return nil
	}
	from, apart := b.At, true // apart from work of other blocks, in turn with this one
	end := math.Inf(1)
	for t := range trial.Each(s.Trials) {
		if t.Block != b.ID {
			apart = apart && t.At <= from
			continue
		}
		if apart {
			spans = append(spans, reinforce.Span{From: from, To: t.From})
		}
		from, apart = t.At, true
	}
	if !apart {
		return spans
	}
	if s.Trying != nil && s.At == b {
		end = math.Max(from, s.Trying.From)
	}
	for _, next := range s.Blocks {
		if next.At > b.At {
			end = math.Min(end, math.Max(from, next.At))
		}
	}
	return append(spans, reinforce.Span{From: from, To: end})
}
