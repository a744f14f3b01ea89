// Package templates has the plans to begin from that ship with the program: one file each, in the
// same open format in which a practice reads and writes its own.
package templates

import (
	"embed"
	"fmt"
	"sort"
	"strings"
	"sync"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/programme"
	"patientfox/internal/exchange"
)

//go:embed *.json programmes/*.json
var files embed.FS

// All are the templates, by kind and name.
var All = sync.OnceValue(load)

// Find returns the template of a key.
func Find(key string) (library.Template, bool) {
	for _, t := range All() {
		if t.Key == key {
			return t, true
		}
	}
	return library.Template{}, false
}

// First are the keys of three plans that suit a dog with none, by its age in weeks (0 where it is unknown): the marker and attention, then
// something to do for a pup, something to rest on for a grown dog, something gentle for an old one.
func First(weeks float64) []string {
	switch {
	case weeks > 0 && weeks < 26:
		return []string{"charge-the-marker", "name-means-look", "sit"}
	case weeks >= 9*52:
		return []string{"charge-the-marker", "nose-to-palm", "find-and-show"}
	}
	return []string{"charge-the-marker", "name-means-look", "settle-on-a-mat"}
}

func load() []library.Template {
	entries, err := files.ReadDir(".")
	if err != nil {
		panic(err)
	}
	var all []library.Template
	for _, e := range entries {
		if e.IsDir() {
			continue
		}
		body, err := files.ReadFile(e.Name())
		if err != nil {
			panic(err)
		}
		t, problems := exchange.ReadTemplate(body)
		if len(problems) > 0 {
			panic(fmt.Sprintf("%s: %v", e.Name(), problems))
		}
		t.Key = strings.TrimSuffix(e.Name(), ".json")
		all = append(all, t)
	}
	sort.SliceStable(all, func(i, j int) bool { return all[i].Name < all[j].Name })
	return all
}

// Programmes are those that ship with the program, by name.
var Programmes = sync.OnceValue(loadProgrammes)

// FindProgramme returns the programme of a key.
func FindProgramme(key string) (programme.Programme, bool) {
	for _, p := range Programmes() {
		if p.Key == key {
			return p, true
		}
	}
	return programme.Programme{}, false
}

func loadProgrammes() (all []programme.Programme) {
	entries, err := files.ReadDir("programmes")
	if err != nil {
		panic(err)
	}
	for _, e := range entries {
		body, err := files.ReadFile("programmes/" + e.Name())
		if err != nil {
			panic(err)
		}
		p, err := exchange.ReadProgramme(body)
		if err != nil {
			panic(fmt.Sprintf("%s: %v", e.Name(), err))
		}
		p.Key = strings.TrimSuffix(e.Name(), ".json")
		if p, err = Aimed(p); err != nil {
			panic(fmt.Sprintf("%s: %v", e.Name(), err))
		}
		all = append(all, p)
	}
	sort.SliceStable(all, func(i, j int) bool { return all[i].Name < all[j].Name })
	return all
}

// Steps is how many steps the ladder of a template has for a grown dog, 0 where there is no template of that key.
func Steps(key string) int {
	t, _ := Find(key)
	ladder, _ := t.Ladder()
	return len(ladder)
}

// Aimed is a programme with the criteria of its aims, as the ladders of its templates for a grown dog have them, and the names of its
// skills.
func Aimed(p programme.Programme) (programme.Programme, error) {
	if bad := p.Check(Steps); len(bad) > 0 {
		return p, fmt.Errorf("%s: %s", bad[0].Field, bad[0].Text)
	}
	rows := make([]programme.Row, len(p.Rows))
	for i, r := range p.Rows {
		t, _ := Find(r.From)
		ladder, _ := t.Ladder()
		r.Skill, r.Criteria = t.Name, make([]criteria.Criteria, len(r.Aims))
		for week, aim := range r.Aims {
			if aim > 0 {
				r.Criteria[week] = ladder[aim-1]
			}
		}
		rows[i] = r
	}
	p.Rows = rows
	return p, nil
}
