package patientfox_test

import (
	"maps"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// arrows are who rests on whom.
type arrows map[string]map[string]bool

func (a arrows) add(from, to string) {
	if a[from] == nil {
		a[from] = map[string]bool{}
	}
	if from != to && to != "" {
		a[from][to] = true
	}
}

// direct leaves out what somebody rests on through another.
func (a arrows) direct() []string {
	var reach func(from string, seen map[string]bool)
	reach = func(from string, seen map[string]bool) {
		for to := range a[from] {
			if !seen[to] {
				seen[to] = true
				reach(to, seen)
			}
		}
	}
	var list []string
	for from, all := range a {
		beyond := map[string]bool{}
		for to := range all {
			reach(to, beyond)
		}
		for to := range all {
			if !beyond[to] {
				list = append(list, from+" → "+to)
			}
		}
	}
	slices.Sort(list)
	return list
}

// house is what `go list` says, each package by the name of the room in which a picture shows it; "" is in no picture.
func house(t *testing.T, room func(pkg string) string) arrows {
	list := imports(t, "./...", "", ".Imports")
	maps.Copy(list, imports(t, "./cmd/fieldcore", "GOOS=js GOARCH=wasm", ".Imports"))
	a := arrows{}
	for pkg, deps := range list {
		from := room(strings.TrimPrefix(pkg, "patientfox/"))
		for _, dep := range deps {
			if own, ok := strings.CutPrefix(dep, "patientfox/"); ok && from != "" {
				a.add(from, room(own))
			}
		}
	}
	return a
}

// pictures are the arrows that ARCHITECTURE draws, picture by picture.
func pictures(text string) (list [][]string) {
	label := regexp.MustCompile(`(\w+)\[([^\]]+)\]`)
	for _, block := range regexp.MustCompile("(?s)```mermaid\n(.*?)```").FindAllStringSubmatch(text, -1) {
		names := map[string]string{}
		for _, m := range label.FindAllStringSubmatch(block[1], -1) {
			names[m[1]] = m[2]
		}
		named := func(side string) (found []string) {
			for id := range strings.SplitSeq(label.ReplaceAllString(side, "$1"), "&") {
				id = strings.TrimSpace(id)
				if names[id] != "" {
					id = names[id]
				}
				found = append(found, id)
			}
			return found
		}
		var drawn []string
		for line := range strings.Lines(block[1]) {
			left, right, ok := strings.Cut(strings.TrimSpace(line), "-->")
			if !ok {
				continue
			}
			for _, from := range named(left) {
				for _, to := range named(right) {
					drawn = append(drawn, from+" → "+to)
				}
			}
		}
		slices.Sort(drawn)
		list = append(list, drawn)
	}
	return list
}

func TestArchitectureDrawsTheHouseAsItIs(t *testing.T) {
	text, err := os.ReadFile("ARCHITECTURE.md")
	require.NoError(t, err)
	require.LessOrEqual(t, strings.Count(string(text), "\n"), 120)
	drawn := pictures(string(text))
	require.Len(t, drawn, 2)

	core := house(t, func(pkg string) string {
		name, _ := strings.CutPrefix(pkg, "core/")
		if name == pkg {
			return ""
		}
		return name
	})
	require.Equal(t, core.direct(), drawn[0], "the rules")

	program := house(t, func(pkg string) string {
		alone := []string{"internal/app/form", "internal/web/shell", "internal/web/assets", "internal/web/figures"}
		switch own := strings.TrimPrefix(pkg, "internal/"); {
		case pkg == "patientfox" || strings.HasPrefix(pkg, "e2e"):
			return ""
		case strings.HasPrefix(pkg, "core/"):
			return "core"
		case slices.Contains(alone, pkg):
			return own
		case strings.HasPrefix(own, "app/"):
			return "app/…"
		case strings.HasPrefix(own, "web/"):
			return "web/…"
		default:
			return own
		}
	})
	require.Equal(t, program.direct(), drawn[1], "the program")
}

// Each package stands in one of the lists: a folder of rooms stands for them.
func TestArchitectureNamesEveryPackage(t *testing.T) {
	text, err := os.ReadFile("ARCHITECTURE.md")
	require.NoError(t, err)
	named := map[string]bool{}
	for _, row := range regexp.MustCompile("(?m)^\\| (`[^|]+) \\|").FindAllStringSubmatch(string(text), -1) {
		for _, m := range regexp.MustCompile("`([^`]+)`").FindAllStringSubmatch(row[1], -1) {
			name := m[1]
			if !strings.Contains(name, "/") && name != "e2e" {
				name = "core/" + name
			}
			named[name] = true
		}
	}
	there := map[string]bool{}
	for pkg := range imports(t, "./...", "", ".Imports") {
		name := strings.TrimPrefix(pkg, "patientfox/")
		for _, folder := range []string{"e2e", "internal/web"} {
			if strings.HasPrefix(name, folder+"/") {
				name = folder
			}
		}
		if name != "patientfox" {
			there[name] = true
		}
	}
	require.ElementsMatch(t, slices.Collect(maps.Keys(there)), slices.Collect(maps.Keys(named)))
}
