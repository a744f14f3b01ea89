package form

import (
	"strconv"

	"patientfox/core/criteria"
)

// ReadDefinition reads what "right" means as a form has it.
func (f Figures) ReadDefinition(ps Problems, t Typed) criteria.Definition {
	seconds := func(field string) float64 {
		latency, _ := criteria.Find(criteria.Latency)
		limit, _, problem := f.Units.Parse(latency, t[field])
		if problem != "" {
			ps.Add(field, problem)
		}
		return limit
	}
	return criteria.Definition{
		Position: t.Text("position"), Postures: t.Text("postures"), When: t.Text("when"), Break: t.Text("break"), Cue: t.Text("cue"),
		CueBy: t.Text("cue_by"), Cue2: t.Text("cue2"), Cue3: t.Text("cue3"), LatencyS: seconds("latency_s"), MissedS: seconds("missed_s"),
		TimedFrom: t.Text("timed_from"),
		Marker:    t.Text("marker"), Release: t.Text("release"), AfterError: t.Text("after_error"), AfterText: t.Text("after_text"),
		Text: t.Text("text"),
	}
}

// TypedDefinition is a definition as its form shows it.
func TypedDefinition(d criteria.Definition, version int) Typed {
	t := Typed{
		"position": d.Position, "postures": d.Postures, "when": d.When, "break": d.Break, "cue": d.Cue, "cue_by": d.CueBy, "cue2": d.Cue2,
		"cue3": d.Cue3, "timed_from": d.TimedFrom, "marker": d.Marker, "release": d.Release, "after_error": d.AfterError,
		"after_text": d.AfterText, "text": d.Text, "version": strconv.Itoa(version),
	}
	if d.LatencyS > 0 {
		t["latency_s"] = criteria.Figure(d.LatencyS)
	}
	if d.MissedS > 0 {
		t["missed_s"] = criteria.Figure(d.MissedS)
	}
	return t
}
