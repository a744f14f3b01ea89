package field

import (
	"cmp"
	"maps"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
)

// dated counts the days since the skill was last worked, where the phone says which day it is: a pack may be older
// than a day by the time it is opened.
func (p *Pack) dated() {
	if days, ok := standing.Days(p.LastDay, p.Today); ok {
		p.Days = max(0, days)
	}
}

// After is the packs of the plans that were worked, as this session leaves them: without a signal the next session
// begins where this one ended. The server's own pack takes its place once it knows of the session.
func (r *Run) After() []Pack {
	if r.helps() {
		return nil
	}
	running, working := r.pack, r.s.At
	defer func() { r.pack, r.s.At = running, working }()
	var list []Pack
	for i := len(r.s.Blocks) - 1; i >= 0; i-- {
		b := r.s.Blocks[i]
		r.s.At = b // what is asked of the block that is worked is asked of this plan's
		if slices.ContainsFunc(list, func(p Pack) bool { return p.Plan == b.Plan }) {
			continue
		}
		for j := len(r.packs) - 1; j >= 0; j-- {
			if r.packs[j].Plan == b.Plan {
				r.pack = r.packs[j]
				p := r.after(b)
				p.Stopped = r.s.Ended != nil && r.s.Ended.Reason == "stop" && i == len(r.s.Blocks)-1
				list = append(list, p)
				break
			}
		}
	}
	return list
}

// after is the pack of one plan after its last block of this session.
func (r *Run) after(b *record.BlockRead) Pack {
	p := r.pack
	p.Place, p.Read = b.Place.Open(), nil // how far the server has read says nothing of what this session left
	p.Stretch = nil
	covers := maps.Clone(r.pack.Cover)
	if covers == nil {
		covers = map[string]Cover{}
	}
	for _, one := range r.s.Blocks {
		covers[one.ID] = Cover{one.Logged, one.Unlogged}
	}
	at := progression.Index(b.Steps, b.Place.Reached)
	for _, t := range r.stretch(b) {
		p.Stretch = append(p.Stretch, Prior{Trial: t, Step: b.Place.Reached, Rev: b.Steps[max(0, at)].Rev})
	}
	p.Cover = CoverOf(p.Stretch, covers)
	for _, m := range r.s.Moves {
		if m.New != nil && m.Followed && r.planOf(m.Block) == b.Plan && !slices.ContainsFunc(p.Made, func(one record.Made) bool { return one.Step.ID == m.New.ID }) {
			p.Made = append(slices.Clone(p.Made), record.Made{Step: *m.New, Above: m.Above})
		}
	}
	p.Steps = b.Steps
	trials, works := r.workOn(b.Plan)
	p.Rung = r.climbs(works)
	p.Visits, p.Been = p.Visits+1, standing.Been(p.Been, r.s.Place)
	p.Unhelped += standing.Unhelped(trials)
	p.Lately = standing.Times(trials, p.Lately)
	p.Tried = standing.Tried(b.Steps, trials, p.Tried)
	p.First, p.Days, p.LastDay = false, 0, p.Today
	if slices.ContainsFunc(r.s.Blocks, func(one *record.BlockRead) bool { return one.Skill == b.Skill && one.Logged > 0 }) {
		p.LastLogged = p.Today
	}
	p.Finished = p.Finished && b.Place.Since == r.pack.Place.Since
	for _, v := range r.s.Verdicts {
		if r.planOf(v.Block) == b.Plan && v.Deed == string(decision.Finished) && v.Step == b.Place.Reached {
			p.Finished = true
		}
	}
	if r.s.Place != "" {
		p.LastPlace = r.s.Place
	}
	p.Places, p.People = knows(p.Places, r.s.Place), knows(p.People, b.Handler)
	return p
}

// workOn is what this session has of a plan: its trials, and what its blocks were worked.
func (r *Run) workOn(plan string) (trials []standing.Trial, blocks []standing.Work) {
	for _, t := range r.s.Trials {
		if r.planOf(t.Block) == plan {
			trials = append(trials, standing.Trial{
				Block: t.Block, Step: t.Step, Rev: t.Rev, From: t.From, At: t.At, Outcome: t.Outcome, LatencyS: t.LatencyS, Easy: t.Easy, Counts: t.Counts,
			})
		}
	}
	for _, b := range r.s.Blocks {
		if b.Plan == plan {
			blocks = append(blocks, standing.Work{Teaches: b.Mode.Teaches(), Pays: r.s.PaysIn(b.ID), Active: r.s.ActiveIn(b.ID)})
		}
	}
	return trials, blocks
}

// knows marks one of the options as known.
func knows(list []Option, id string) []Option {
	list = slices.Clone(list)
	for i := range list {
		list[i].Known = list[i].Known || list[i].ID == id
	}
	return list
}

// Row is a plan that can be run on this device as it is.
type Row struct {
	Plan     string `json:"plan"`
	Dog      string `json:"dog"`
	Skill    string `json:"skill"`
	Step     string `json:"step"`
	Start    string `json:"start"`
	Where    string `json:"where"`
	Finished bool   `json:"finished"`
}

// Rows lists packs for a page that has no server to ask: those worked longest ago first, finished ones last.
func Rows(packs []Pack) []Row {
	type aged struct {
		Row
		age int
	}
	list := make([]aged, 0, len(packs))
	for _, p := range packs {
		if p.dated(); p.check() != nil {
			continue
		}
		run, err := Open(p)
		if err != nil {
			continue
		}
		s := run.Setup(Choice{Place: p.LastPlace, Mode: train})
		row := Row{p.Plan, p.DogName, s.Skill, s.Step, s.Start, run.where(p.Place.Open(), p.Steps, max(0, progression.Index(p.Steps, p.Place.Reached))), p.Finished}
		age := p.Days
		if p.First {
			age = -1
		}
		if p.Finished {
			age -= 100000
		}
		list = append(list, aged{row, age})
	}
	slices.SortStableFunc(list, func(a, b aged) int { return cmp.Compare(b.age, a.age) })
	rows := make([]Row, len(list))
	for i, one := range list {
		rows[i] = one.Row
	}
	return rows
}
