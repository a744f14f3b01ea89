// Command judge looks whether forecasts hold what they say: for each form of the simulated learner, a
// thousand dogs whose future the forecast was not fitted on. `make judge` runs it.
package main

import (
	"flag"
	"fmt"
	"os"
	"sync"

	"patientfox/core/decision"
	"patientfox/core/outlook"
)

// The band of 80 % may hold between these shares of the dogs.
const least, most = 0.75, 0.85

func main() {
	dogs := flag.Int("dogs", 1000, "simulated dogs of each form")
	before := flag.Int("before", 8, "sessions that the forecast sees")
	runs := flag.Int("runs", 400, "runs of each forecast")
	seed := flag.Uint64("seed", 1, "another seed is other dogs")
	rule := flag.String("rule", "set", "set, run or gate, with its usual figures")
	flag.Parse()
	course := outlook.JudgedCourse(decision.Defaults(decision.Kind(*rule)))
	results, errs := make([]outlook.Judged, len(outlook.Forms)), make([]error, len(outlook.Forms))
	var all sync.WaitGroup
	for i, shown := range outlook.Forms {
		all.Go(func() {
			results[i], errs[i] = outlook.Judge(shown, course, *dogs, *before, *runs, *seed)
		})
	}
	all.Wait()
	failed := false
	fmt.Printf("%-12s %6s %6s %6s %s\n", "form", "dogs", "held", "share", "width of the band ÷ its middle")
	for i, shown := range outlook.Forms {
		if errs[i] != nil {
			fmt.Fprintln(os.Stderr, errs[i])
			os.Exit(1)
		}
		j := results[i]
		share := float64(j.Held) / float64(j.Dogs)
		fmt.Printf("%-12s %6d %6d %5.1f%% %.2f\n", shown, j.Dogs, j.Held, 100*share, j.Width)
		failed = failed || share < least || share > most
	}
	if failed {
		fmt.Printf("outside %.0f to %.0f %%\n", 100*least, 100*most)
		os.Exit(1)
	}
}
