package care_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/care"
)

func TestWhatIsABareHand(t *testing.T) {
	for tool, bare := range map[string]bool{
		"fingers": true, "the back of a hand": true, "Palm ": true, "the file": false, "the clipper in the hand": false, "": false,
	} {
		require.Equal(t, bare, care.BareHand(tool), tool)
	}
}
