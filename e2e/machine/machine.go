// Package machine says on what, and of which commit, something was measured.
package machine

import (
	"fmt"
	"os"
	"os/exec"
	"runtime"
	"strings"
	"time"
)

// Line is a sentence: the day, the commit, and the machine with its cores.
func Line() string {
	return fmt.Sprintf("%s, commit %s, %s, %d cores, %s, %s/%s", time.Now().Format("2 January 2006"), commit(), processor(), runtime.NumCPU(),
		runtime.Version(), runtime.GOOS, runtime.GOARCH)
}

func commit() string {
	short, err := exec.Command("git", "rev-parse", "--short", "HEAD").Output()
	if err != nil {
		return "unknown"
	}
	name := strings.TrimSpace(string(short))
	if changed, err := exec.Command("git", "status", "--porcelain", "--untracked-files=no").Output(); err != nil || len(changed) > 0 {
		name += " with changes"
	}
	return name
}

// processor is its name, as Linux has it.
func processor() string {
	text, err := os.ReadFile("/proc/cpuinfo")
	if err != nil {
		return "a processor"
	}
	for line := range strings.Lines(string(text)) {
		if name, value, _ := strings.Cut(line, ":"); strings.TrimSpace(name) == "model name" {
			return strings.TrimSpace(value)
		}
	}
	return "a processor"
}
