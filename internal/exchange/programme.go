package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"patientfox/core/programme"
)

// What a file of a programme says of itself.
const (
	ProgrammeFormat  = "patient-fox-programme"
	ProgrammeVersion = 1
)

// ErrNoProgramme says that a file is none of a programme, or of a version that this program does not know.
var ErrNoProgramme = errors.New("no programme of Patient Fox")

type programmeFile struct {
	Format  string `json:"format"`
	Version int    `json:"version"`
	programme.Programme
}

// WriteProgramme writes a programme as a file. Its key is the practice's own, and the names and criteria of its skills are those of the
// library that reads it.
func WriteProgramme(p programme.Programme) ([]byte, error) {
	p.Key, p.Rows = "", slices.Clone(p.Rows)
	for i := range p.Rows {
		p.Rows[i].Skill, p.Rows[i].Criteria = "", nil
	}
	return json.MarshalIndent(programmeFile{ProgrammeFormat, ProgrammeVersion, p}, "", "  ")
}

// ReadProgramme reads the file of a programme. Whether its skills are there and its weeks can stand is for programme.Check.
func ReadProgramme(data []byte) (programme.Programme, error) {
	var file programmeFile
	r := json.NewDecoder(bytes.NewReader(data))
	r.DisallowUnknownFields()
	if err := r.Decode(&file); err != nil {
		return programme.Programme{}, fmt.Errorf("%w: %w", ErrNoProgramme, err)
	}
	if file.Format != ProgrammeFormat || file.Version != ProgrammeVersion {
		return programme.Programme{}, ErrNoProgramme
	}
	return file.Programme, nil
}
