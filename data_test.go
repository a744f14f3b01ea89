package patientfox_test

import (
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"patientfox/internal/store"
)

// Every table and every kind of event is in docs/data.md, with what becomes of it; what that says of the journal is so.
func TestEveryTableIsInDataMd(t *testing.T) {
	path := t.TempDir() + "/practice.db"
	st, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	require.NoError(t, st.Close())
	var tables []string
	for _, file := range []string{path, store.KeysPath(path)} {
		db, err := sqlx.Open("sqlite", file)
		require.NoError(t, err)
		var here []string
		require.NoError(t, db.Select(&here, `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'
			AND name <> 'goose_db_version'`))
		require.NoError(t, db.Close())
		require.NotEmpty(t, here)
		tables = append(tables, here...)
	}
	text, err := os.ReadFile("docs/data.md")
	require.NoError(t, err)
	kept, kinds := map[string]string{}, []string{}
	for line := range strings.Lines(string(text)) {
		cells := strings.Split(strings.Trim(strings.TrimSpace(line), "|"), "|")
		name := strings.Trim(strings.TrimSpace(cells[0]), "`")
		switch {
		case !strings.HasPrefix(line, "| `"):
		case len(cells) == 7:
			for _, cell := range cells {
				require.NotEmpty(t, strings.TrimSpace(cell), line)
			}
			kept[name] = strings.TrimSpace(cells[6])
		default:
			kinds = append(kinds, name)
		}
	}
	for _, table := range tables {
		require.Contains(t, kept, table, "docs/data.md")
		require.Equal(t, slices.Contains(store.Journaled(), table), kept[table] == "yes", table)
		delete(kept, table)
	}
	require.Empty(t, kept, "in docs/data.md, and no table")
	source, err := os.ReadFile("core/record/event.go")
	require.NoError(t, err)
	for _, kind := range regexp.MustCompile(`(?m)^\s+K\w+\s+Kind = "(\w+)"`).FindAllStringSubmatch(string(source), -1) {
		require.Contains(t, kinds, kind[1], "docs/data.md")
	}
}
