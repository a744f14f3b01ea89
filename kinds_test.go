package patientfox_test

import (
	"go/ast"
	"go/token"
	"go/types"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/tools/go/packages"

	"patientfox/core/work"
)

// Whatever differs by kind of work stands in core/work: nobody else names a kind, switches over kinds or compares two.
func TestNobodyButCoreWorkAsksWhichKindOfWorkItIs(t *testing.T) {
	const kinds = "patientfox/core/work"
	loaded, err := packages.Load(&packages.Config{
		Mode: packages.NeedName | packages.NeedSyntax | packages.NeedTypes | packages.NeedTypesInfo |
			packages.NeedImports | packages.NeedDeps | packages.NeedFiles,
	}, "./...")
	require.NoError(t, err)
	seen := 0
	for _, p := range loaded {
		require.Empty(t, p.Errors, p.PkgPath)
		if p.PkgPath == kinds || strings.HasSuffix(p.PkgPath, "/sessiontest") { // what tests begin with is of a kind
			continue
		}
		isKind := func(e ast.Expr) bool {
			tv, known := p.TypesInfo.Types[e]
			return known && types.TypeString(tv.Type, nil) == kinds+".Kind"
		}
		for _, file := range p.Syntax {
			ast.Inspect(file, func(n ast.Node) bool {
				where := ""
				if n != nil {
					where = p.Fset.Position(n.Pos()).String()
				}
				switch n := n.(type) {
				case *ast.SwitchStmt:
					require.False(t, n.Tag != nil && isKind(n.Tag), "%s: a switch over kinds of work", where)
				case *ast.BinaryExpr:
					compares := n.Op == token.EQL || n.Op == token.NEQ
					require.False(t, compares && isKind(n.X), "%s: kinds of work are compared", where)
				case ast.Expr:
					if !isKind(n) {
						break
					}
					seen++
					require.Nil(t, p.TypesInfo.Types[n].Value, "%s: a kind of work is named", where)
				}
				return true
			})
		}
	}
	require.Greater(t, seen, 100, "the test looks at what it is to look at")
}

// Nor do templates and scripts.
func TestNoPageAsksWhichKindOfWorkItIs(t *testing.T) {
	var names []string
	for _, one := range work.All {
		names = append(names, string(one.Kind))
	}
	any := `["'` + "`]" + `(` + strings.Join(names, "|") + `)["'` + "`]"
	asks := map[string]*regexp.Regexp{
		".html": regexp.MustCompile(`\b(eq|ne)\b[^}]*` + any),
		".js":   regexp.MustCompile(`(===?|!==?|case)\s*` + any + `|` + any + `\s*(===?|!==?)`),
	}
	looked := 0
	require.NoError(t, filepath.WalkDir("internal/web", func(path string, d fs.DirEntry, err error) error {
		pattern := asks[filepath.Ext(path)]
		if err != nil || d.IsDir() || pattern == nil || strings.Contains(path, "dist") || strings.HasSuffix(path, "alpine.js") {
			return err
		}
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		require.Empty(t, pattern.FindAllString(string(text), -1), path)
		looked++
		return nil
	}))
	require.Greater(t, looked, 40)
	require.Regexp(t, asks[".html"], `{{if eq .Kind "held"}}`)
	require.Regexp(t, asks[".js"], `v.kind !== "cued"`)
}
