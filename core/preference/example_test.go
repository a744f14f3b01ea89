package preference_test

import (
	"fmt"

	"patientfox/core/preference"
)

// Fish was taken three times of four over biscuit, and both always over kibble.
func ExampleStrengths() {
	fit, err := preference.Strengths([][]int{
		{0, 3, 4}, // fish
		{1, 0, 4}, // biscuit
		{0, 0, 0}, // kibble
	})
	fmt.Println(err)
	for i, name := range []string{"fish", "biscuit", "kibble"} {
		fmt.Printf("%s %.1f\n", name, fit.Strength[i])
	}
	// Output:
	// <nil>
	// fish 0.9
	// biscuit 0.3
	// kibble -1.2
}
