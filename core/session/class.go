package session

import (
	"strconv"

	"patientfox/core/record"
	"patientfox/core/work"
)

// Looked is what was seen of a dog after a look: of so many trials so many met. What nobody saw is in neither.
type Looked struct {
	Seen int `json:"seen"`
	Met  int `json:"met"`
}

// Look keeps it, as a tally.
func (r *Run) Look(l Looked) ([]record.Draft, *Problem) {
	return r.Tally(TallyTyped{Met: strconv.Itoa(l.Met), Missed: strconv.Itoa(l.Seen - l.Met)})
}

// Sign keeps a sign that was seen of the dog, or takes it back where it stands already.
func (r *Run) Sign(sign work.Sign) ([]record.Draft, *Problem) {
	if work.SignName(sign) == "" {
		return nil, &Problem{Field: "sign", Code: NotInList}
	}
	for _, n := range r.s.Notes {
		if n.Sign == sign {
			return []record.Draft{record.NewDraft(record.KRetract, record.RetractData{Target: n.ID})}, nil
		}
	}
	return []record.Draft{record.NewDraft(record.KNote, record.NoteData{Sign: sign})}, nil
}
