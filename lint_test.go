package patientfox_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/require"
)

// Bounds of what is read at a glance.
const (
	maxOfLine     = 140 // characters of a line of Go, a tab is one
	maxOfTemplate = 200 // of a line of a template
	maxOfFunction = 60  // lines of a function
)

// ours calls do with every file of the project with one of the endings.
func ours(t *testing.T, do func(path string, text string), endings ...string) {
	t.Helper()
	n := 0
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git" || d.Name() == "dist" || d.Name() == "bin") {
			return filepath.SkipDir
		}
		for _, ending := range endings {
			if strings.HasSuffix(path, ending) {
				text, err := os.ReadFile(path)
				require.NoError(t, err)
				do(path, string(text))
				n++
			}
		}
		return nil
	}))
	require.Greater(t, n, 20)
}

func longLines(t *testing.T, most int, ending string) {
	ours(t, func(path, text string) {
		for i, line := range strings.Split(text, "\n") {
			if n := utf8.RuneCountInString(line); n > most {
				t.Errorf("%s:%d: %d characters; at most %d", path, i+1, n, most)
			}
		}
	}, ending)
}

func TestNoLineIsTooLongToRead(t *testing.T) {
	longLines(t, maxOfLine, ".go")
	longLines(t, maxOfTemplate, ".html")
}

// long are functions that are longer than the bound, with how long they are, because they read worse in pieces.
var long = map[string]int{
	// One table each: a case, or a command, for every thing that there is.
	"core/phrase.parts":      105,
	"core/phrase.Reason":     101,
	"cmd/patientfox.command": 79,
	// The routes of a screen or of the program, one under the other.
	"internal/web/copies.Mount": 62,
	// One walk along one thing: a record, a drawing from left to right, the life of the server from its lock to its end.
	"core/outlook.follow":            66,
	"cmd/patientfox.serve":           87,
	"internal/web/figures.DrawStrip": 72,
	"internal/web/figures.DrawTrend": 91,
	// A story that is told once, and measurements one after another.
	"internal/demo.sheeted": 86,
	"internal/demo.plan":    79,
	"e2e/bench.phone":       119,
	"e2e/bench.main":        61,
	"e2e/bench.accounts":    61,
	"e2e/large.main":        62,
	"e2e/large.bareReading": 70,
	"e2e/shots.main":        90,
}

func TestNoFunctionIsTooLongToRead(t *testing.T) {
	seen := map[string]bool{}
	ours(t, func(path, text string) {
		if strings.HasSuffix(path, "_test.go") {
			return // a test tells a story from its beginning to its end
		}
		fset := token.NewFileSet()
		file, err := parser.ParseFile(fset, path, text, 0)
		require.NoError(t, err)
		for _, d := range file.Decls {
			f, is := d.(*ast.FuncDecl)
			if !is {
				continue
			}
			name := filepath.Dir(path) + "." + f.Name.Name
			n := fset.Position(f.End()).Line - fset.Position(f.Pos()).Line + 1
			most := max(maxOfFunction, long[name])
			seen[name] = seen[name] || n > maxOfFunction
			if n > most {
				t.Errorf("%s: %s has %d lines; at most %d", path, f.Name.Name, n, most)
			}
		}
	}, ".go")
	for name := range long {
		require.True(t, seen[name], "%s is no longer long: take it off the list", name)
	}
}
