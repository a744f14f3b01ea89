package care

import (
	"context"
	"slices"
	"strings"

	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Card is a dog's care on one sheet of paper: for whoever does it, a veterinarian, a groomer or its owner.
type Card struct {
	View
	Owner bool // for its owner: what to do, as far as the dog is with them; else what works
	New   bool // nobody of the family has handled the dog yet
	Flags []string
	Works []CardSkill
	Known []string // of its health, for a veterinarian or a groomer: where it is sore, what it is given
}

// CardSkill is what works within one skill.
type CardSkill struct {
	Skill string
	Lines []string // a tool each, in the order in which they come out
	Now   string   // what is out, and what the next tool waits for
	Visit []string
}

// nobody has handled a dog: what it does with one person it does not do with another at once.
const nobody = "-"

// CareCard is the card of a dog; owner says for whom.
func (p *Cases) CareCard(ctx context.Context, dog string, owner bool) (c Card, err error) {
	if c.View, err = p.Care(ctx, dog, ""); err != nil {
		return c, err
	}
	if owner {
		at := slices.IndexFunc(c.Handlers, func(who app.Named) bool { return slices.Contains(c.family, who.ID) })
		family := nobody
		if c.New = at < 0; !c.New {
			family = c.Handlers[at].ID
		}
		if c.View, err = p.Care(ctx, dog, family); err != nil {
			return c, err
		}
	}
	row, err := p.Store.Read().Dog(ctx, dog)
	if err != nil {
		return c, app.Found(err)
	}
	if c.Owner = owner; !owner {
		if c.Known, err = p.known(ctx, dog); err != nil {
			return c, err
		}
	}
	for _, line := range strings.Split(row.Flags, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			c.Flags = append(c.Flags, line)
		}
	}
	for _, m := range c.Maps {
		one := CardSkill{Skill: m.Skill, Now: m.Says, Visit: m.Visit}
		for t, tool := range m.Tools {
			one.Lines = append(one.Lines, say.Upper(tool)+": "+m.stands(t)+".")
		}
		c.Works = append(c.Works, one)
	}
	return c, nil
}

// known is what goes on with a dog's health.
func (p *Cases) known(ctx context.Context, dog string) (lines []string, err error) {
	s, _, err := p.WithDog(ctx, p.Store.Read(), dog)
	if err != nil {
		return nil, err
	}
	list, err := p.Store.Read().HealthOf(ctx, dog)
	today := s.Day(p.Ms())
	for _, one := range list {
		if !one.GoesOn(today) {
			continue
		}
		what, said := "Medicine: ", ""
		if one.Kind == store.HealthSore {
			what = "Sore: "
		}
		if one.Said != "" {
			said = " “" + one.Said + "”"
		}
		lines = append(lines, what+one.What+", since "+app.ShortDay(one.Day, today)+"."+said)
	}
	return lines, err
}

// stands says how the dog takes one tool, the sites at which it takes it alike together.
func (m Map) stands(tool int) string {
	var levels []string
	at := map[string][]string{}
	for _, row := range m.Rows {
		level := row.Cells[tool].Level
		if level == "" || row.Mark != "" {
			continue
		}
		if !slices.Contains(levels, level) {
			levels = append(levels, level)
		}
		at[level] = append(at[level], row.Site)
	}
	if len(levels) == 0 {
		return "not yet"
	}
	for i, level := range levels {
		if i == 0 {
			level = say.Lower(level) // after the colon
		}
		levels[i] = level + " at " + strings.Join(at[levels[i]], "; ")
	}
	return strings.Join(levels, ". ")
}
