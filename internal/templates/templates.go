// Package templates has the plans to begin from that ship with the program: one file each, in the
// same open format in which a practice reads and writes its own.
package templates

import (
	"embed"
	"fmt"
	"sort"
	"strings"
	"sync"

	"patientfox/core/library"
	"patientfox/internal/exchange"
)

//go:embed *.json
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
