package patientfox_test

import (
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
			// What the code writes into docs is written after it: an overlay changes Go's files alone.
			run(t, slices.Concat([]string{"test", "-vet=off", "-overlay", overlay, "-run", tests, "-skip", "TestTheTableOfTrialsIsCurrent"},
				packages)...)
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
		now := patched(t, f)
		at := filepath.Join(folder, strings.ReplaceAll(f.NewName, "/", "_"))
		require.NoError(t, os.WriteFile(at, []byte(now), 0o600))
		whole, err := filepath.Abs(f.NewName)
		require.NoError(t, err)
		replace[whole] = at
		if f.IsNew && strings.HasSuffix(f.NewName, "_test.go") {
			for line := range strings.Lines(now) {
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

// patched is a file after its part of a patch, wherever in the file the lines stand by now.
func patched(t *testing.T, f *gitdiff.File) string {
	t.Helper()
	text := ""
	if !f.IsNew {
		body, err := os.ReadFile(f.OldName)
		require.NoError(t, err)
		text = string(body)
	}
	for _, fragment := range f.TextFragments {
		var was, now strings.Builder
		for _, line := range fragment.Lines {
			if line.Op != gitdiff.OpAdd {
				was.WriteString(line.Line)
			}
			if line.Op != gitdiff.OpDelete {
				now.WriteString(line.Line)
			}
		}
		if f.IsNew {
			text += now.String()
			continue
		}
		require.Equal(t, 1, strings.Count(text, was.String()), "%s no longer has, once, the lines at which the recipe changes it:\n%s",
			f.OldName, was.String())
		text = strings.Replace(text, was.String(), now.String(), 1)
	}
	return text
}
