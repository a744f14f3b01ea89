package patientfox_test

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/bluekeyes/go-gitdiff/gitdiff"
	"github.com/stretchr/testify/require"
)

// Each recipe of CONTRIBUTING is kept with what it led to, as a patch over the program as it is. It has to fit, to build, and to
// pass the tests that it brings along.
func TestRecipesWork(t *testing.T) {
	for name, packages := range map[string][]string{
		"a-kind-of-work": {"./core/work", "./internal/templates"},
		"a-screen":       {"./internal/web"},
		"an-event-field": {"./core/record"},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			overlay, tests := applied(t, filepath.Join("docs", "recipes", name+".patch"))
			run(t, "build", "-overlay", overlay, "-o", os.DevNull, "./cmd/patientfox")
			run(t, slices.Concat([]string{"test", "-vet=off", "-overlay", overlay, "-run", tests}, packages)...)
		})
	}
}

func run(t *testing.T, args ...string) {
	t.Helper()
	out, err := exec.Command("go", args...).CombinedOutput()
	require.NoError(t, err, "go %s\n%s", strings.Join(args, " "), out)
}

// applied makes an overlay for the go tool out of a patch, and says which tests the patch adds; "" stands for all.
func applied(t *testing.T, patch string) (overlay, tests string) {
	t.Helper()
	text, err := os.Open(patch)
	require.NoError(t, err)
	defer text.Close()
	files, _, err := gitdiff.Parse(text)
	require.NoError(t, err)
	folder := t.TempDir()
	replace := map[string]string{}
	var names []string
	for _, f := range files {
		var was, now bytes.Buffer
		if !f.IsNew {
			body, err := os.ReadFile(f.OldName)
			require.NoError(t, err)
			was.Write(body)
		}
		require.NoError(t, gitdiff.Apply(&now, bytes.NewReader(was.Bytes()), f), f.NewName)
		at := filepath.Join(folder, strings.ReplaceAll(f.NewName, "/", "_"))
		require.NoError(t, os.WriteFile(at, now.Bytes(), 0o600))
		whole, err := filepath.Abs(f.NewName)
		require.NoError(t, err)
		replace[whole] = at
		if f.IsNew && strings.HasSuffix(f.NewName, "_test.go") {
			for line := range strings.Lines(now.String()) {
				if rest, is := strings.CutPrefix(line, "func Test"); is {
					name, _, _ := strings.Cut(rest, "(")
					names = append(names, "^Test"+name+"$")
				}
			}
		}
	}
	body, err := json.Marshal(map[string]any{"Replace": replace})
	require.NoError(t, err)
	overlay = filepath.Join(folder, "overlay.json")
	require.NoError(t, os.WriteFile(overlay, body, 0o600))
	return overlay, strings.Join(names, "|")
}
