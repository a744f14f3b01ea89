package caution_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/caution"
)

func TestCautionsStandWhereTheyMatterAndDefer(t *testing.T) {
	require.Empty(t, caution.For(caution.Where{AfterError: "wait"}))
	flags := strings.Join(caution.For(caution.Where{Flags: true}), " ")
	require.Contains(t, flags, "veterinarian or a certified behaviour professional")
	require.Contains(t, flags, "vet first")
	require.Contains(t, caution.For(caution.Where{Safety: true})[0], "never permission")
	interrupter := caution.For(caution.Where{AfterError: "spoken interrupter"})[0]
	require.Contains(t, interrupter, "local law")
	require.Contains(t, interrupter, "licensed")
	require.Len(t, caution.For(caution.Where{Flags: true, Safety: true, AfterError: "spoken interrupter"}), 3)
}
