package demo

import (
	"context"
	"time"

	"patientfox/internal/app/form"
)

// notes are what colleagues are told: of a dog, or of one of its skills.
var notes = []struct{ dog, skill, whom, text string }{
	{"Brine", "Down by the bollard", "Jorun Vale", "Keep the line short at the bollard: the bait boxes are back until Friday."},
	{"Tansy", "", "", "Her left hind paw is fine again. If she shortens her stride on the ramp, stop and tell me."},
}

// team assigns a dog to the second trainer for today, and leaves notes.
func (m *maker) team(ctx context.Context) error {
	m.clock = m.now
	s, err := m.p.Settings(ctx)
	if err != nil {
		return err
	}
	people := map[string]string{}
	for _, one := range s.People {
		people[one.Name] = one.ID
	}
	brine := m.ids["Brine"]
	day := form.Typed{"day": m.now.Format(time.DateOnly), "dog_" + brine: people["Jorun Vale"], "was_" + brine: ""}
	if err := m.p.Assign(ctx, day); err != nil {
		return err
	}
	for _, one := range notes {
		v, err := m.p.Dog(ctx, m.ids[one.dog])
		if err != nil {
			return err
		}
		note := form.Typed{"dog": v.ID, "whom": people[one.whom], "text": one.text}
		for _, row := range v.Plans {
			if row.Skill == one.skill {
				note["plan"] = row.ID
			}
		}
		if err := m.p.AddNote(ctx, note); err != nil {
			return err
		}
	}
	return nil
}
