package field

import (
	"cmp"
	"patientfox/core/pack"
	"slices"
)

// After is the packs of the plans that were worked, as this session leaves them: without a signal the next session
// begins where this one ended. The server's own pack takes its place once it knows of the session.
func (r *Run) After() []pack.Pack {
	if r.helps() {
		return nil
	}
	var list []pack.Pack
	for i := len(r.s.Blocks) - 1; i >= 0; i-- {
		b := r.s.Blocks[i]
		if slices.ContainsFunc(list, func(p pack.Pack) bool { return p.Plan == b.Plan }) {
			continue
		}
		if p := r.packFor(b.Plan); p != nil {
			list = append(list, pack.Leave(*p, r.s, b))
		}
	}
	return list
}

// packFor is the latest pack of a plan, nil where there is none.
func (r *Run) packFor(plan string) *pack.Pack {
	for i := len(r.packs) - 1; i >= 0; i-- {
		if r.packs[i].Plan == plan {
			return &r.packs[i]
		}
	}
	return nil
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
func Rows(packs []pack.Pack) []Row {
	type aged struct {
		Row
		age int
	}
	list := make([]aged, 0, len(packs))
	for _, p := range packs {
		if p.Date(); p.Check() != nil {
			continue
		}
		run, err := Open(p)
		if err != nil {
			continue
		}
		s := run.Setup(Choice{Place: p.LastPlace, Mode: pack.Train})
		row := Row{p.Plan, p.DogName, s.Skill, s.Step, s.Start, run.where(p.Place.Open(), p.Steps, p.ReachedAt()), p.Finished}
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
