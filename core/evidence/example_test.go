package evidence_test

import (
	"fmt"

	"patientfox/core/evidence"
)

// Five of five looks like certainty, and is not.
func ExampleJeffreys() {
	rate := evidence.Jeffreys(5, 5, 0.95)
	fmt.Printf("%.2f to %.2f\n", rate.Lo, rate.Hi)
	rate = evidence.Jeffreys(45, 50, 0.95)
	fmt.Printf("%.2f to %.2f\n", rate.Lo, rate.Hi)
	// Output:
	// 0.62 to 1.00
	// 0.79 to 0.96
}

// How many clean trials show that a dog comes nine times in ten, at 95 %?
func ExampleExactNeeded() {
	fmt.Println(evidence.ExactNeeded(0.9, 0.95, 0), "clean, or", evidence.ExactNeeded(0.9, 0.95, 1), "with one miss")
	// Output: 29 clean, or 46 with one miss
}
