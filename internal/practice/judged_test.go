package practice_test

import (
	"database/sql"
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
	path := practicetest.Unpack(t, "../store/testdata/practice-schema6.db.gz")
	then := judged(t, path)
	require.Len(t, then, 1847)
	o := practicetest.Open(t, path)
	o.CatchUp(t)
	require.Equal(t, then, judged(t, path))
}
