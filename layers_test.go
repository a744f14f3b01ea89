// Package patientfox_test proves from `go list` which package may import which.
package patientfox_test

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func imports(t *testing.T, pattern, env, format string) map[string][]string {
	t.Helper()
	list := exec.Command("go", "list", "-f", `{{.ImportPath}}:{{join `+format+` " "}}`, pattern)
	list.Env = append(list.Environ(), strings.Fields(env)...)
	out, err := list.Output()
	require.NoError(t, err)
	found := map[string][]string{}
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		name, rest, _ := strings.Cut(line, ":")
		found[name] = strings.Fields(rest)
	}
	require.NotEmpty(t, found)
	return found
}

func TestCoreImportsOnlyTheStandardLibraryGonumAndItself(t *testing.T) {
	for name, list := range imports(t, "./core/...", "", ".Imports") {
		for _, dep := range list {
			ours := strings.HasPrefix(dep, "patientfox/core/")
			gonum := strings.HasPrefix(dep, "gonum.org/v1/gonum/")
			standard := !strings.Contains(strings.Split(dep, "/")[0], ".") && !strings.HasPrefix(dep, "patientfox/")
			require.True(t, ours || gonum || standard, "%s imports %s", name, dep)
			for _, kept := range []string{"time", "net/http", "database/sql", "html/template", "os", "crypto/rand"} {
				require.NotEqual(t, kept, dep, "%s imports %s", name, dep)
			}
		}
	}
}

// A running session knows no sentences, and its screen no rules.
func TestASessionKnowsNoWords(t *testing.T) {
	for _, list := range imports(t, "./core/session", "", ".Imports") {
		for _, words := range []string{"phrase", "say", "screen"} {
			require.NotContains(t, list, "patientfox/core/"+words)
		}
	}
}

func TestWebNeverTouchesStoreAndScreensNotEachOther(t *testing.T) {
	const web = "patientfox/internal/web"
	shared := map[string]bool{web + "/shell": true, web + "/figures": true, web + "/assets": true}
	for name, list := range imports(t, "./internal/web/...", "", ".Imports") {
		for _, dep := range list {
			require.NotEqual(t, "patientfox/internal/store", dep, "%s imports the store", name)
			if name != web && strings.HasPrefix(dep, web+"/") {
				require.True(t, shared[dep], "%s imports the screen %s", name, dep)
			}
		}
	}
}

func TestPracticeKnowsNoInterface(t *testing.T) {
	for name, list := range imports(t, "./internal/practice", "", ".Deps") {
		for _, dep := range list {
			require.False(t, strings.HasPrefix(dep, "patientfox/internal/web") || strings.Contains(dep, "gofiber") || dep == "html/template", "%s needs %s", name, dep)
		}
	}
}

func TestTheBrowsersCoreIsTheDoorAndTheCore(t *testing.T) {
	for _, list := range imports(t, "./cmd/fieldcore", "GOOS=js GOARCH=wasm", ".Imports") {
		require.ElementsMatch(t, []string{"patientfox/core/screen", "runtime", "runtime/debug", "syscall/js"}, list)
	}
}
