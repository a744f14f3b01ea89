package patientfox_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// A return that names a variable and, in the same list, calls what changes it leaves the order to the compiler: the language
// says nothing of it. What is returned is worked out before.
func TestNoReturnChangesWhatItReturns(t *testing.T) {
	files := token.NewFileSet()
	for _, folder := range []string{"core", "internal", "cmd"} {
		require.NoError(t, filepath.WalkDir(folder, func(path string, entry fs.DirEntry, err error) error {
			if err != nil || entry.IsDir() || !strings.HasSuffix(path, ".go") {
				return err
			}
			parsed, err := parser.ParseFile(files, path, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(parsed, func(n ast.Node) bool {
				if r, is := n.(*ast.ReturnStmt); is && changes(r) {
					t.Errorf("%s: a result changes another of the same return", files.Position(r.Pos()))
				}
				return true
			})
			return nil
		}))
	}
}

// changes tells whether a variable is returned beside a call of one of its methods, or one that is given its address.
func changes(r *ast.ReturnStmt) bool {
	for i, result := range r.Results {
		name, is := result.(*ast.Ident)
		if !is || name.Name == "nil" {
			continue
		}
		for j, other := range r.Results {
			if i == j {
				continue
			}
			found := false
			ast.Inspect(other, func(n ast.Node) bool {
				switch n := n.(type) {
				case *ast.FuncLit:
					return false // what it changes, it changes later or inside a transaction that is checked by itself
				case *ast.UnaryExpr:
					of, plain := n.X.(*ast.Ident)
					found = found || n.Op == token.AND && plain && of.Name == name.Name
					part, field := n.X.(*ast.SelectorExpr)
					if field && n.Op == token.AND {
						of, plain := part.X.(*ast.Ident)
						found = found || plain && of.Name == name.Name
					}
				case *ast.CallExpr:
					if method, is := n.Fun.(*ast.SelectorExpr); is {
						of, plain := method.X.(*ast.Ident)
						found = found || plain && of.Name == name.Name
					}
				}
				return true
			})
			if found {
				return true
			}
		}
	}
	return false
}
