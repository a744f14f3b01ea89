// Package programme is what a class works towards: skills, and by the end of each week how far each is meant to be.
package programme

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"patientfox/core/criteria"
)

// Bounds of a programme.
const (
	MaxWeeks = 26
	MaxRows  = 12
	MaxText  = 300 // characters of what it is about
)

// Programme is weeks × skills. It is a value, and safe to share as long as nobody changes its rows.
type Programme struct {
	Key   string `json:"key,omitempty"` // of one that ships with the program, "" for a practice's own
	Name  string `json:"name"`
	About string `json:"about,omitempty"`
	Weeks int    `json:"weeks"`
	Rows  []Row  `json:"rows"`
}

// Row is one skill of a programme.
type Row struct {
	From  string `json:"from"`            // the template that its plans are laid out from, by key
	Skill string `json:"skill,omitempty"` // by name
	// Aims are, by week, the steps of the template's ladder that are meant to be reached by its end, from 1; 0 where the skill is not begun.
	Aims []int `json:"aims"`
	// Criteria are those of the aims, empty where the skill is not begun: a class keeps them, because a template may change.
	Criteria []criteria.Criteria `json:"criteria,omitempty"`
}

// Begins is the first week in which the skill is worked, from 1; 0 for never.
func (r Row) Begins() int {
	return slices.IndexFunc(r.Aims, func(aim int) bool { return aim > 0 }) + 1
}

// Check lists what is wrong with a programme; steps says how many steps a template's ladder has, 0 where there is no such template.
func (p Programme) Check(steps func(from string) int) []criteria.Problem {
	var problems []criteria.Problem
	add := func(field, format string, args ...any) {
		problems = append(problems, criteria.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	switch n := utf8.RuneCountInString(strings.TrimSpace(p.Name)); {
	case n == 0:
		add("name", "Give it a name.")
	case n > criteria.MaxName:
		add("name", "At most %d characters.", criteria.MaxName)
	}
	if utf8.RuneCountInString(p.About) > MaxText {
		add("about", "At most %d characters.", MaxText)
	}
	if p.Weeks < 1 || p.Weeks > MaxWeeks {
		add("weeks", "From 1 to %d weeks.", MaxWeeks)
	}
	if len(p.Rows) == 0 || len(p.Rows) > MaxRows {
		add("rows", "From 1 to %d skills.", MaxRows)
	}
	seen := map[string]bool{}
	for i, r := range p.Rows {
		field := fmt.Sprintf("row%d", i+1)
		most := steps(r.From)
		switch {
		case most == 0:
			add(field, "There is no such skill in the library.")
		case seen[r.From]:
			add(field, "This skill stands there twice.")
		case len(r.Aims) != p.Weeks:
			add(field, "Say for each week how far it is meant to be.")
		case r.Begins() == 0:
			add(field, "It has no week.")
		case !slices.IsSorted(r.Aims):
			add(field, "No week asks for less than the one before it.")
		case r.Aims[0] < 0 || r.Aims[len(r.Aims)-1] > most:
			add(field, "Its ladder has %d steps.", most)
		}
		seen[r.From] = true
	}
	return problems
}

// Week is the week of a class on a day, from 1; 0 before it begins. Days are counted from the day of its first meeting.
func Week(daysSinceStart int) int {
	if daysSinceStart < 0 {
		return 0
	}
	return daysSinceStart/7 + 1
}

// Dog is one dog of a class, as its weeks are counted.
type Dog struct {
	Joined int   // the week in which it came in, from 1
	Missed []int // weeks of meetings at which it was not
}

// At is the week of the programme in which a dog is while the class is in a week: one that came in late begins with the first week, and
// each meeting it missed holds it back by a week.
func (d Dog) At(week int) int {
	at := week - max(0, d.Joined-1)
	for _, missed := range d.Missed {
		if missed >= d.Joined && missed <= week {
			at--
		}
	}
	return max(0, at)
}

// Aim is the criteria of a row by the end of a week, ok false where the skill is not begun by then. After the last week it is the last aim.
func (r Row) Aim(week int) (aim criteria.Criteria, ok bool) {
	week = min(week, len(r.Aims))
	if week < 1 || r.Aims[week-1] == 0 || week > len(r.Criteria) {
		return aim, false
	}
	return r.Criteria[week-1], true
}

// Aimed is the index of the step of a dog's ladder at which an aim is met: the same step, else the last one that is harder in nothing, −1
// where there is none. A ladder may be longer than the template's, or lower for a young dog.
func Aimed(ladder []criteria.Criteria, aim criteria.Criteria) int {
	if at := slices.IndexFunc(ladder, aim.Equal); at >= 0 {
		return at
	}
	for i, c := range slices.Backward(ladder) {
		if harder, _ := criteria.Changed(aim, c); len(harder) == 0 && c.Text == aim.Text {
			return i
		}
	}
	for i, c := range slices.Backward(ladder) {
		if harder, _ := criteria.Changed(aim, c); len(harder) == 0 {
			return i
		}
	}
	return -1
}

// Stand is where a dog stands against an aim.
type Stand int

// Where a dog can stand.
const (
	Apart Stand = iota // its ladder goes another way, so that the two cannot be compared
	Short              // steps are to go
	There              // it is at the aim, or further
)

// Against compares the step that a dog reached, by its index, with an aim: the index of the step that meets it, and where the dog stands.
// On a ladder that has the aim's very step, indexes decide. On another one the dog is there if nothing that it has reached is easier than
// the aim, or if its ladder goes no further.
func Against(ladder []criteria.Criteria, reached int, aim criteria.Criteria) (aimed int, stand Stand) {
	aimed = Aimed(ladder, aim)
	if aimed < 0 || reached < 0 || reached >= len(ladder) {
		return aimed, Apart
	}
	if reached < aimed {
		return aimed, Short
	}
	_, easier := criteria.Changed(aim, ladder[reached])
	if aim.Equal(ladder[aimed]) || aimed == len(ladder)-1 || len(easier) == 0 {
		return aimed, There
	}
	return aimed, Apart
}
