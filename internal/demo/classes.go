package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"patientfox/core/outlook"
	"patientfox/internal/app/form"
)

// evenings is a class in its third week, and how easily its dogs learn.
var evenings = struct {
	name, programme, place string
	dogs                   map[string]float64 // by name, the learner's ability at the start, logits
	skills                 []int              // rows of the programme that were worked at its meetings
}{
	"Evenings without fuss", "calm-at-home", "the net shed", map[string]float64{"Brine": 2.5, "Quill": 2.7}, []int{0, 1},
}

// class begins it two weeks ago, with somebody who helps at it; one of its dogs missed the second meeting.
func (m *maker) class(ctx context.Context) error {
	start := m.now.AddDate(0, 0, -14)
	m.clock = start
	if err := m.p.SavePerson(ctx, form.Typed{"name": "Ebba Lunde", "role": "helper"}); err != nil {
		return err
	}
	typed := form.Typed{
		"name": evenings.name, "programme": evenings.programme, "place": evenings.place, "start": start.Format(time.DateOnly), "at": "18:30",
		"minutes": "60",
	}
	for dog := range evenings.dogs {
		typed["dog_"+m.ids[dog]] = "1"
	}
	id, err := m.p.AddClass(ctx, typed)
	if err != nil {
		return err
	}
	v, err := m.p.Class(ctx, id, 1)
	if err != nil {
		return err
	}
	for i, dog := range v.Dogs {
		for _, row := range evenings.skills {
			pl := &plan{
				dog: dog.Name, ability: evenings.dogs[dog.Name], slope: 0.4, gain: 0.05, places: []string{evenings.place}, hands: "Maren Oduya",
				typed: form.Typed{"skill": v.Skills[row]},
			}
			r := &running{
				plan: pl, class: id, id: dog.Cells[row].Plan, dog: learner(200+10*i+row, pl), levels: map[string]*outlook.Level{},
				rng: rand.New(rand.NewPCG(uint64(200+10*i+row), 26)), says: rand.New(rand.NewPCG(uint64(200+10*i+row), 17)), //nolint:gosec // made up
			}
			view, err := m.p.Plan(ctx, r.id)
			if err != nil {
				return err
			}
			for at, step := range view.Steps {
				r.levels[step.ID] = &outlook.Level{Hard: pl.slope * float64(at)}
			}
			for week := 1; week <= 2; week++ {
				if week == 2 && dog.Name == "Brine" {
					continue
				}
				m.clock = start.AddDate(0, 0, 7*(week-1)).Truncate(24 * time.Hour).Add(18*time.Hour + time.Duration(40*i+10*row)*time.Minute)
				if err := m.session(ctx, r, 7*(week-1), false); err != nil {
					return fmt.Errorf("%s, %s: %w", dog.Name, pl.typed["skill"], err)
				}
			}
		}
	}
	return m.met(ctx, id, start)
}

// met says who was at its meetings.
func (m *maker) met(ctx context.Context, id string, start time.Time) error {
	for week, names := range map[int][]string{1: {"Brine", "Quill"}, 2: {"Quill"}} {
		m.clock = start.AddDate(0, 0, 7*(week-1)).Add(20 * time.Hour)
		meeting := form.Typed{"week": fmt.Sprint(week), "version": "0"}
		if week == 2 {
			meeting["note"] = "Rain on the roof, loud; Quill could rest through it by the end."
		}
		for _, name := range names {
			meeting["dog_"+m.ids[name]] = "1"
		}
		if err := m.p.SaveMeeting(ctx, id, meeting); err != nil {
			return err
		}
	}
	return nil
}
