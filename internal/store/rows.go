package store

import (
	"encoding/json"
	"fmt"
	"time"

	"patientfox/core/progression"
)

// JSON is a value as a column keeps it. Our own types always encode; anything else is a fault of the program.
func JSON(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return string(raw)
}

// FromJSON reads a value out of a column.
func FromJSON(raw string, to any) error { return json.Unmarshal([]byte(raw), to) }

// ReadSteps decodes the rows of steps.
func ReadSteps(rows []Step) ([]progression.Step, error) {
	steps := make([]progression.Step, len(rows))
	for i, r := range rows {
		steps[i] = progression.Step{ID: r.ID, Rev: r.Rev, Safety: r.Safety}
		if err := FromJSON(r.Criteria, &steps[i].Criteria); err != nil {
			return nil, fmt.Errorf("criteria of step %s: %w", r.ID, err)
		}
	}
	return steps, nil
}

// StepRows are steps as rows.
func StepRows(steps []progression.Step) []Step {
	rows := make([]Step, len(steps))
	for i, s := range steps {
		rows[i] = Step{ID: s.ID, Rev: s.Rev, Criteria: JSON(s.Criteria), Safety: s.Safety}
	}
	return rows
}

// Location is where the practice is; one that this machine does not know is UTC.
func (p Practice) Location() *time.Location {
	zone, err := time.LoadLocation(p.Zone)
	if err != nil {
		return time.UTC
	}
	return zone
}
