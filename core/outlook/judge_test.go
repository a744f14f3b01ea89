//go:build !race && !js

package outlook_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/outlook"
)

// Two hundred dogs of every form, whose future the forecast was not fitted on. `make judge` does a thousand
// of each. Pure arithmetic, and much of it: the race detector and wasm are for the other tests.
func TestForecastsHoldWhatTheySay(t *testing.T) {
	c := outlook.JudgedCourse(decision.Defaults(decision.Set))
	held, dogs := 0, 0
	for i, form := range outlook.Forms {
		j, err := outlook.Judge(form, c, []int{67, 67, 66}[i], 8, 400, 26)
		require.NoError(t, err)
		held, dogs = held+j.Held, dogs+j.Dogs
	}
	require.Equal(t, 200, dogs)
	// Of 200 dogs, a band of 80 % holds 144 to 176 in 99.6 of 100 such tests.
	likely := evidence.Wilson(held, dogs, 0.99)
	require.True(t, likely.Lo < 0.8 && 0.8 < likely.Hi, "%d of 200", held)
}

// Where dogs of a practice are more alike than dogs are, a forecast without a record of its own is nearer to what comes when it begins
// from theirs, and its band holds as often.
func TestForecastsBeginFromOwnDogs(t *testing.T) {
	j, err := outlook.JudgeNew(outlook.CourseOf(decision.Usual(decision.Run), 8), 10, 8, 8, 200, 4)
	require.NoError(t, err)
	require.Equal(t, 40, j.Dogs)
	require.Less(t, j.OwnOff, j.UsualOff)
	require.GreaterOrEqual(t, j.Own, 24, "of 40, where 32 are expected: fewer in 1 of 400 such tests")
}
