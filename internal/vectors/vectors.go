// Package vectors reads the reference values in core/testdata for the tests of the packages that
// compute them.
package vectors

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// Case is one reference value: a function, its input, its output.
type Case struct {
	Fn  string          `json:"fn"`
	In  json.RawMessage `json:"in"`
	Out map[string]any  `json:"out"`
	At  string          `json:"-"`
}

// Load reads the cases of the named files.
func Load(t testing.TB, files ...string) []Case {
	t.Helper()
	var all []Case
	for _, name := range files {
		raw, err := os.ReadFile(filepath.Join("..", "testdata", name))
		require.NoError(t, err)
		var file struct{ Cases []Case }
		require.NoError(t, json.Unmarshal(raw, &file))
		for i := range file.Cases {
			file.Cases[i].At = fmt.Sprintf("%s case %d", name, i)
		}
		all = append(all, file.Cases...)
	}
	return all
}

// Read decodes a case's input.
func Read[T any](t testing.TB, in json.RawMessage) T {
	t.Helper()
	var v T
	require.NoError(t, json.Unmarshal(in, &v))
	return v
}

// Near compares a result with a case's output, figures to 1e-6 relative.
func Near(t testing.TB, c Case, got map[string]any) {
	t.Helper()
	for name, want := range c.Out {
		near(t, c, name, want, got[name])
	}
}

func near(t testing.TB, c Case, name string, want, got any) {
	t.Helper()
	switch want := want.(type) {
	case float64:
		require.IsType(t, want, got, "%s: %s", c.At, name)
		require.InDelta(t, want, got, 1e-6*max(abs(want), 1e-6), "%s: %s %s of %s", c.At, c.Fn, name, c.In)
	case []any:
		list, ok := got.([]any)
		require.True(t, ok, "%s: %s is no list", c.At, name)
		require.Len(t, list, len(want), "%s: %s of %s", c.At, name, c.In)
		for i := range want {
			near(t, c, fmt.Sprintf("%s[%d]", name, i), want[i], list[i])
		}
	default:
		require.Equal(t, want, got, "%s: %s %s of %s", c.At, c.Fn, name, c.In)
	}
}

func abs(x float64) float64 {
	if x < 0 {
		return -x
	}
	return x
}
