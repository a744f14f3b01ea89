package practice_test

import (
	"compress/gzip"
	"database/sql"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
)

// judged is what the trials of a database counted as: outcome, and whether they were easy, by id.
func judged(t *testing.T, path string) map[string]string {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query(`SELECT id, outcome || CASE easy WHEN 1 THEN ' easy' ELSE '' END FROM trials`)
	require.NoError(t, err)
	defer rows.Close()
	list := map[string]string{}
	for rows.Next() {
		var id, outcome string
		require.NoError(t, rows.Scan(&id, &outcome))
		list[id] = outcome
	}
	require.NoError(t, rows.Err())
	return list
}

// What was once judged stays judged so: each trial of the first wave's practice counts today as it did then.
func TestOldTrialsKeepTheirJudgement(t *testing.T) {
	in, err := os.Open("../store/testdata/practice-schema6.db.gz")
	require.NoError(t, err)
	defer in.Close()
	packed, err := gzip.NewReader(in)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "practice.db")
	out, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY, 0o600)
	require.NoError(t, err)
	_, err = io.Copy(out, packed) //nolint:gosec // our own file
	require.NoError(t, err)
	require.NoError(t, out.Close())
	then := judged(t, path)
	require.Len(t, then, 1847)
	o := practicetest.Open(t, path)
	o.CatchUp(t)
	require.Equal(t, then, judged(t, path))
}
