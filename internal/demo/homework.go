package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
)

// household is a family that is given homework and writes down what came of it.
type household struct {
	dog, person string
	skills      []string
	line        string // from the trainer
	days        int    // ago that it began
	every       int    // days between what comes back
	right       float64
	places      []string
	remarks     map[int]string // by the number of the line
	linked      bool           // they send by a link, the others on paper
}

// One counts kindly: the trainer sees less of it at the same step.
var households = []household{
	{
		dog: "Pilchard", person: owner, skills: []string{"Come away from dropped chips", "Settle on deck"},
		line: "Short and often. Stop while he still wants more.", days: 12, every: 2, right: 0.84,
		places: []string{"the shop", "the yard", "upstairs"}, linked: true,
		remarks: map[int]string{1: "a gull got there first", 4: "he looked at the till, then at me"},
	},
	{
		dog: "Brine", person: "Hob Calloway", skills: []string{"Down by the bollard"}, line: "Five, then a rest.", days: 33, every: 1, right: 1,
		places: []string{"the wheelhouse", "the galley"}, remarks: map[int]string{3: "“easy”, says the crew"},
	},
}

// homework gives the households their sheets, and enters what comes back.
func (m *maker) homework(ctx context.Context) error {
	m.clock = m.now.AddDate(0, 0, -households[1].days-1)
	if err := m.p.SavePerson(ctx, form.Typed{"name": households[1].person, "role": app.RoleFamily}); err != nil {
		return err
	}
	v, err := m.p.Settings(ctx)
	if err != nil {
		return err
	}
	for _, one := range v.People {
		m.ids[one.Name] = one.ID
	}
	if err := m.p.SaveHouse(ctx, m.ids["Pilchard"], form.Typed{
		"never": "chips from the counter\nthe shop door without a leash", "invited": "the armchair upstairs",
		"always": "four feet down before hello", "version": "0",
	}); err != nil {
		return err
	}
	for i, h := range households {
		rng := rand.New(rand.NewPCG(uint64(i), 22)) //nolint:gosec // a made-up family
		if err := m.logs(ctx, h, rng); err != nil {
			return fmt.Errorf("%s: %w", h.person, err)
		}
	}
	return m.recap(ctx, "Pilchard", "Thank you for the notes from the shop: the gull counts. See you on Thursday at the ramp.")
}

// recap keeps what the people of a dog were told of the week before, with a line from the trainer.
func (m *maker) recap(ctx context.Context, dog, line string) error {
	m.clock = m.now.AddDate(0, 0, -7)
	v, err := m.p.Recap(ctx, m.ids[dog], "", false)
	if err != nil {
		return err
	}
	typed := v.Form
	typed["line"] = line
	if err := m.p.SaveRecap(ctx, m.ids[dog], typed); err != nil {
		return err
	}
	if err := m.p.PostRecap(ctx, m.ids[dog], v.To); err != nil {
		return err
	}
	m.clock = m.clock.Add(5 * time.Hour)
	post, err := m.p.Post(ctx)
	if err != nil {
		return err
	}
	return m.p.Answer(ctx, post.Out[0].ID, form.Typed{"text": "We keep the yard for him now. On Thursday the late ferry?"})
}

func (m *maker) logs(ctx context.Context, h household, rng *rand.Rand) error {
	m.clock = m.now.AddDate(0, 0, -h.days).Truncate(24 * time.Hour).Add(17 * time.Hour)
	dog, who := m.ids[h.dog], m.ids[h.person]
	v, err := m.p.Homework(ctx, dog, homework.Asked{With: who})
	if err != nil {
		return err
	}
	var plans []string
	for _, name := range h.skills {
		at := slices.IndexFunc(v.Could, func(one homework.Choice) bool { return one.Name == name })
		if at < 0 {
			return fmt.Errorf("no plan is called %q", name)
		}
		plans = append(plans, v.Could[at].ID)
	}
	give := func() error {
		return m.p.Give(ctx, dog, form.Typed{"with": who, "skills": strings.Join(plans, ", "), "line": h.line})
	}
	if err := give(); err != nil {
		return err
	}
	send := func(plan, name string, right int, place, remark string) error {
		text := strings.TrimSuffix(fmt.Sprintf("%s %d of 5 %s, %s", name, right, place, remark), ", ")
		return m.p.Return(ctx, dog, form.Typed{"with": who, "lines": text})
	}
	if h.linked {
		token, err := m.p.MakeLink(ctx, dog, form.Typed{"with": who})
		if err != nil {
			return err
		}
		send = func(plan, _ string, right int, place, remark string) error {
			return m.sends(ctx, token, plan, right, place, remark)
		}
	}
	for n, day := 0, h.every; day < h.days; n, day = n+1, day+h.every {
		m.clock = m.clock.AddDate(0, 0, h.every)
		for i, name := range h.skills {
			right := 0
			for range 5 {
				if rng.Float64() < h.right {
					right++
				}
			}
			if err := send(plans[i], name, right, h.places[n%len(h.places)], h.remarks[n]); err != nil {
				return err
			}
		}
		v, err := m.p.Homework(ctx, dog, homework.Asked{With: who})
		if err != nil {
			return err
		}
		if len(v.Changed) > 0 && day+2*h.every < h.days { // of the last step nobody was given a sheet yet
			if err := give(); err != nil {
				return err
			}
		}
	}
	return nil
}

// sends is a household that opens its link and sends a round of five.
func (m *maker) sends(ctx context.Context, token, plan string, right int, place, remark string) error {
	link, err := m.p.Link(ctx, token)
	if err != nil {
		return err
	}
	v, err := m.p.AtHome(ctx, link)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(v.Skills, func(one homework.Skill) bool { return one.Plan == plan })
	taken, err := m.p.FromHome(ctx, link, []homework.Sent{{
		ID: app.NewID(), Plan: plan, Step: v.Skills[at].At.ID, Day: v.Day, Met: right, Of: 5, Place: place, Remark: remark,
	}})
	if err == nil && taken[0].Why != "" {
		err = fmt.Errorf("a line from home was refused: %s", taken[0].Why)
	}
	return err
}
