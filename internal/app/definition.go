package app

import (
	"encoding/json"
	"patientfox/core/criteria"
	"patientfox/internal/store"
)

func DefinitionOf(rows []store.Definition, skill string, version int) (d criteria.Definition, err error) {
	for _, r := range rows {
		if r.Skill == skill && r.Version == version {
			err = json.Unmarshal([]byte(r.Body), &d)
			return d, err
		}
	}
	return d, nil
}
