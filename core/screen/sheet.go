package screen

import (
	"fmt"
	"strings"

	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
)

// SheetView is how far a session has come on its sheet.
type SheetView struct {
	Line  string      `json:"line"` // "Block 2 of 3 · 5 of 10 trials"
	Done  bool        `json:"done"` // what was planned of this block is done
	Next  string      `json:"next"` // what comes then
	Parts []SheetPart `json:"parts,omitempty"`
}

// SheetPart is what can come after the running block.
type SheetPart struct {
	Plan   string `json:"plan"`
	Name   string `json:"name"`
	Step   string `json:"step"`
	Mode   string `json:"mode,omitempty"`
	Finish bool   `json:"finish,omitempty"`
	First  bool   `json:"first,omitempty"` // its turn has come
}

// sheetView shows how far the sheet has come.
func (r Screen) sheetView() SheetView {
	b := r.Block()
	if b == nil {
		return SheetView{}
	}
	if r.Sheet() == nil {
		return r.sidesView()
	}
	plan := r.Sheet().Plan
	now, next := r.SheetAt()
	v := SheetView{}
	if now >= 0 {
		one := plan.Blocks[now]
		done := 0
		for t := range trial.Each(r.Session().Trials) {
			if t.Block == b.ID && t.Outcome != trial.Void {
				done++
			}
		}
		v.Line = fmt.Sprintf("Block %d of %d · %d of %s", now+1, len(plan.Blocks), done, say.Count(one.Trials(), "trial"))
		v.Done = done >= one.Trials()
		if one.Probe && b.Mode == record.Probe {
			v.Line, v.Done = fmt.Sprintf("Block %d of %d · a cold probe", now+1, len(plan.Blocks)), r.Probed(b)
		}
		if one.BreakS > 0 {
			v.Next = "A minute of being a dog"
		}
	}
	for i := next; i < len(plan.Blocks); i++ {
		o := plan.Blocks[i]
		part := SheetPart{Plan: o.Plan, Name: r.Sheet().Names[o.Plan]}
		if o.Chosen {
			part.Step = o.Step
		}
		if o.Probe {
			part.Mode = string(record.Probe)
		}
		v.Parts = append(v.Parts, part)
	}
	if plan.Finish != "" && !r.Finishing() {
		v.Parts = append(v.Parts, SheetPart{Plan: plan.Finish, Name: "Finish: " + r.Sheet().Names[plan.Finish], Finish: true})
	}
	if len(v.Parts) > 0 {
		name := v.Parts[0].Name
		if v.Next == "" {
			v.Next = "Next: " + name
		} else {
			v.Next += ", then " + name
		}
	} else {
		v.Next = "That was all that was planned"
	}
	v.Next = "Done. " + v.Next
	return v
}

// sidesView shows how often each side was worked, and when it is the other's turn.
func (r Screen) sidesView() (v SheetView) {
	sides := r.Sides()
	if len(sides) == 0 {
		return v
	}
	var parts []string
	for _, side := range sides {
		part := fmt.Sprintf("%s %d", say.Upper(side.Name), side.Trials)
		if side.Here && r.Block().Quota > 0 {
			part += fmt.Sprintf(" of %d", r.Block().Quota)
		}
		parts = append(parts, part)
	}
	v.Line = strings.Join(parts, " · ")
	other, due := r.OtherSide()
	if v.Done = due; due {
		v.Next = "Change sides: " + other.Name + "."
		if r.Block().Quota == 0 {
			v.Next = "Half the treats are gone. " + v.Next
		}
	}
	for _, side := range sides[1:] {
		v.Parts = append(v.Parts, SheetPart{Plan: side.ID, Name: "The other side: " + side.Name, First: due && side.ID == other.ID})
	}
	return v
}

// outline says in a line what the sheet holds.
func (r Screen) outline() string {
	plan := r.Sheet().Plan
	var parts []string
	if plan.WarmS > 0 {
		parts = append(parts, "warm-up")
	}
	for _, b := range plan.Blocks {
		parts = append(parts, r.Sheet().Names[b.Plan])
	}
	if plan.Finish != "" {
		parts = append(parts, "an easy finish")
	}
	return say.Upper(say.List(parts)) + "."
}
