// Package patientfox_test proves from `go list` which package may import which.
package patientfox_test

import (
	"os"
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

// Use cases know no interface and no SQL, and their areas meet only in what is shared.
func TestAreasOfUseCasesMeetOnlyInWhatIsShared(t *testing.T) {
	const app = "patientfox/internal/app"
	shared := map[string]bool{
		app: true, app + "/form": true, "patientfox/internal/derive": true, "patientfox/internal/store": true, "patientfox/internal/jobs": true,
	}
	beside := map[string]bool{"patientfox/internal/exchange": true, "patientfox/internal/templates": true}
	areas := imports(t, "./internal/app/...", "", ".Imports")
	require.Greater(t, len(areas), 8)
	for name, list := range areas {
		for _, dep := range list {
			ours := strings.HasPrefix(dep, "patientfox/internal/")
			require.True(t, !ours || shared[dep] || beside[dep], "%s imports %s", name, dep)
			require.False(t, strings.Contains(dep, "gofiber") || strings.Contains(dep, "sqlx") || dep == "html/template", "%s imports %s", name, dep)
		}
	}
	for _, dep := range areas[app+"/form"] {
		require.False(t, strings.HasPrefix(dep, "patientfox/internal/"), "the forms import %s", dep)
	}
	for name, list := range imports(t, "./internal/derive", "", ".Imports") {
		for _, dep := range list {
			require.True(t, !strings.HasPrefix(dep, "patientfox/internal/") || dep == "patientfox/internal/store", "%s imports %s", name, dep)
		}
	}
}

// No room is larger than one that a newcomer can read.
func TestNoAreaIsLargerThanCanBeRead(t *testing.T) {
	const most = 2500 // lines, tests apart
	for name, list := range imports(t, "./internal/app/...", "", ".GoFiles") {
		lines := 0
		for _, file := range list {
			text, err := os.ReadFile(strings.TrimPrefix(name, "patientfox/") + "/" + file)
			require.NoError(t, err)
			lines += strings.Count(string(text), "\n")
		}
		require.Less(t, lines, most, name)
	}
}

func TestTheBrowsersCoreIsTheDoorAndTheCore(t *testing.T) {
	for _, list := range imports(t, "./cmd/fieldcore", "GOOS=js GOARCH=wasm", ".Imports") {
		require.ElementsMatch(t, []string{"patientfox/core/screen", "runtime", "runtime/debug", "syscall/js"}, list)
	}
}
