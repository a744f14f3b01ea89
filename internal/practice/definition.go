package practice

import (
	"context"
	"encoding/json"
	"strconv"

	"patientfox/core/criteria"
	"patientfox/internal/store"
)

// readDefinition reads what "right" means as a form has it.
func (f forms) readDefinition(ps problems, t Typed) criteria.Definition {
	latency, _ := criteria.Find(criteria.Latency)
	limit, _, problem := f.units.Parse(latency, t["latency_s"])
	if problem != "" {
		ps.add("latency_s", problem)
	}
	return criteria.Definition{
		Position: t.Text("position"), Postures: t.Text("postures"), When: t.Text("when"), Break: t.Text("break"), Cue: t.Text("cue"),
		CueBy: t.Text("cue_by"), Cue2: t.Text("cue2"), Cue3: t.Text("cue3"), LatencyS: limit, TimedFrom: t.Text("timed_from"),
		Marker: t.Text("marker"), Release: t.Text("release"), AfterError: t.Text("after_error"), AfterText: t.Text("after_text"), Text: t.Text("text"),
	}
}

func typedDefinition(d criteria.Definition, version int) Typed {
	t := Typed{
		"position": d.Position, "postures": d.Postures, "when": d.When, "break": d.Break, "cue": d.Cue, "cue_by": d.CueBy, "cue2": d.Cue2,
		"cue3": d.Cue3, "timed_from": d.TimedFrom, "marker": d.Marker, "release": d.Release, "after_error": d.AfterError,
		"after_text": d.AfterText, "text": d.Text, "version": strconv.Itoa(version),
	}
	if d.LatencyS > 0 {
		t["latency_s"] = criteria.Figure(d.LatencyS)
	}
	return t
}

// SaveDefinition writes the next version of what "right" means. The past keeps the version it ran
// under; stretches of evidence begin anew.
func (p *Practice) SaveDefinition(ctx context.Context, plan string, t Typed) error {
	ps := problems{}
	def := forms{}.readDefinition(ps, t)
	ps.criteria(def.Check())
	if err := ps.err(); err != nil {
		return err
	}
	version, _ := strconv.Atoi(t.Text("version"))
	return p.store.Write(ctx, func(q store.Q) error {
		row, err := q.Plan(ctx, plan)
		if err != nil {
			return found(err)
		}
		defs, err := q.Definitions(ctx, []string{row.Skill})
		if err != nil {
			return err
		}
		now, err := definitionOf(defs, row.Skill, row.Definition)
		if err != nil {
			return err
		}
		if row.Definition != version {
			return &Conflict{typedDefinition(now, row.Definition)}
		}
		if now == def {
			return nil
		}
		me, err := q.Practice(ctx)
		if err != nil {
			return err
		}
		newest, err := q.AddDefinition(ctx, store.Definition{
			Skill: row.Skill, Version: version + 1, Body: encode(def), Made: p.ms(), MadeBy: me.Person,
		})
		if err == nil && !newest {
			return &Conflict{typedDefinition(now, row.Definition)}
		}
		return err
	})
}

func definitionOf(rows []store.Definition, skill string, version int) (d criteria.Definition, err error) {
	for _, r := range rows {
		if r.Skill == skill && r.Version == version {
			err = json.Unmarshal([]byte(r.Body), &d)
			return d, err
		}
	}
	return d, nil
}
