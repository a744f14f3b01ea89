package copies

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/iotest"

	"github.com/stretchr/testify/require"
)

// A disk that takes no more is not held against the copy, and the other way round.
func TestWhoIsToBlame(t *testing.T) {
	path := filepath.Join(t.TempDir(), "out")
	require.NoError(t, os.WriteFile(path, nil, 0o600))
	full, err := os.Open(path) // writing fails
	require.NoError(t, err)
	defer full.Close()
	_, err = written(full, strings.NewReader("content"), "a.zip")
	require.Error(t, err)
	require.NotErrorIs(t, err, ErrBad)

	out, err := os.Create(path)
	require.NoError(t, err)
	defer out.Close()
	_, err = written(out, iotest.ErrReader(errors.New("flate: corrupt input")), "a.zip")
	require.ErrorIs(t, err, ErrBad)
	n, err := written(out, strings.NewReader("content"), "a.zip")
	require.NoError(t, err)
	require.EqualValues(t, 7, n)
}

func TestSizesAreReadable(t *testing.T) {
	for bytes, want := range map[uint64]string{0: "0 KB", 1: "1 KB", 4096: "4 KB", 3 << 19: "1.5 MB", 5 << 29: "2.5 GB"} {
		require.Equal(t, want, Size(bytes))
	}
}
