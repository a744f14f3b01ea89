package reinforce_test

import (
	"fmt"

	"patientfox/core/reinforce"
)

// Two steps up make pay thinner; something new makes it rich again, and so does a session that was paid too slowly.
func ExampleClimb() {
	most, lo := 5, 4.0
	up, fresh := false, true
	fmt.Println(reinforce.Climb(1, []reinforce.Visit{{Ups: []bool{up, up}, Rate: 6}}, most, lo))
	fmt.Println(reinforce.Climb(3, []reinforce.Visit{{Ups: []bool{fresh}, Rate: 6}}, most, lo))
	fmt.Println(reinforce.Climb(3, []reinforce.Visit{{Rate: 2}}, most, lo))
	// Output:
	// 3
	// 1
	// 2
}

// Three pays a minute within a hold of a minute: the last comes in position, just before the release.
func ExamplePayTimes() {
	for _, at := range reinforce.PayTimes(60, 3, 7) {
		fmt.Printf("%.0f s\n", at)
	}
	// Output:
	// 24 s
	// 40 s
	// 60 s
}
