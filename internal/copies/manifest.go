package copies

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	_ "modernc.org/sqlite" // the driver
)

// Manifest says what a copy holds.
type Manifest struct {
	Format   int                 `json:"format"` // 1
	Made     time.Time           `json:"made"`
	Program  string              `json:"program"` // version of the program that made it
	Schema   int64               `json:"schema"`
	Name     string              `json:"name"` // of the practice
	Dogs     int                 `json:"dogs"`
	Sessions int                 `json:"sessions"`
	Events   int                 `json:"events"`
	Tables   map[string]TableSum `json:"tables"`
}

// TableSum is a table's rows and their hash: SHA-256 over every value with its type, row by row.
type TableSum struct {
	Rows int    `json:"rows"`
	Hash string `json:"hash"`
}

const format = 1

// readOnly opens a database that is not written to.
func readOnly(path string) (*sqlx.DB, error) {
	db, err := sqlx.Open("sqlite",
		"file:"+(&url.URL{Path: path}).EscapedPath()+"?mode=ro&_pragma=busy_timeout(5000)&_pragma=temp_store(MEMORY)")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	return db, nil
}

// summed works out the manifest of a database.
func summed(ctx context.Context, path string, made time.Time, program string) (m Manifest, err error) {
	db, err := readOnly(path)
	if err != nil {
		return m, err
	}
	defer db.Close()
	m = Manifest{Format: format, Made: made.UTC().Truncate(time.Second), Program: program, Tables: map[string]TableSum{}}
	for query, to := range map[string]any{
		`SELECT coalesce(max(version_id), 0) FROM goose_db_version WHERE is_applied`: &m.Schema,
		`SELECT coalesce(max(name), '') FROM practice`:                               &m.Name,
		`SELECT count(*) FROM dogs WHERE deleted IS NULL`:                            &m.Dogs,
		`SELECT count(*) FROM sessions WHERE deleted IS NULL AND opened > 0`:         &m.Sessions,
		`SELECT count(*) FROM events`:                                                &m.Events,
	} {
		if err := db.GetContext(ctx, to, query); err != nil {
			return m, fmt.Errorf("counting what the copy holds: %w", err)
		}
	}
	tables, err := tablesOf(ctx, db)
	if err != nil {
		return m, err
	}
	for _, table := range tables {
		if m.Tables[table], err = sum(ctx, db, table); err != nil {
			return m, fmt.Errorf("table %s: %w", table, err)
		}
	}
	return m, nil
}

// tablesOf lists a practice's tables: not SQLite's own, nor those of the continuous copy.
func tablesOf(ctx context.Context, db *sqlx.DB) (tables []string, err error) {
	var all []string
	err = db.SelectContext(ctx, &all, `SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name`)
	for _, name := range all {
		if !strings.HasPrefix(name, "sqlite_") && !strings.HasPrefix(name, "_litestream_") {
			tables = append(tables, name)
		}
	}
	return tables, err
}

// sum hashes a table's rows, in the order of their keys.
func sum(ctx context.Context, db *sqlx.DB, table string) (s TableSum, err error) {
	var columns []struct {
		Name string `db:"name"`
		Key  int    `db:"pk"`
	}
	if err := db.SelectContext(ctx, &columns, `SELECT name, pk FROM pragma_table_info(?)`, table); err != nil {
		return s, err
	}
	var names, order []string
	for _, c := range columns {
		names = append(names, `"`+c.Name+`"`)
	}
	slices.Sort(names) // a migration may have added columns in another order elsewhere
	keys := slices.Clone(columns)
	slices.SortFunc(keys, func(a, b struct {
		Name string `db:"name"`
		Key  int    `db:"pk"`
	}) int {
		return a.Key - b.Key
	})
	for _, c := range keys {
		if c.Key > 0 {
			order = append(order, `"`+c.Name+`"`)
		}
	}
	if len(order) == 0 {
		order = []string{"rowid"}
	}
	rows, err := db.QueryContext(ctx, `SELECT `+strings.Join(names, ", ")+` FROM "`+table+`" ORDER BY `+strings.Join(order, ", "))
	if err != nil {
		return s, err
	}
	defer rows.Close()
	hash := sha256.New()
	fmt.Fprintln(hash, strings.Join(names, ","))
	cells, to := make([]any, len(names)), make([]any, len(names))
	for i := range cells {
		to[i] = &cells[i]
	}
	for rows.Next() {
		if err := rows.Scan(to...); err != nil {
			return s, err
		}
		for _, cell := range cells {
			switch value := cell.(type) {
			case []byte:
				fmt.Fprintf(hash, "b%d:%x;", len(value), value)
			case string:
				fmt.Fprintf(hash, "s%d:%s;", len(value), value)
			case float64:
				fmt.Fprintf(hash, "f%x;", value)
			default:
				fmt.Fprintf(hash, "%T%v;", value, value)
			}
		}
		s.Rows++
	}
	s.Hash = hex.EncodeToString(hash.Sum(nil))
	return s, rows.Err()
}

// differs names what is not as the manifest says, "" where all is.
func (m Manifest) differs(now Manifest) string {
	for table, want := range m.Tables {
		got, there := now.Tables[table]
		switch {
		case !there:
			return fmt.Sprintf("its table %s is missing", table)
		case got.Rows != want.Rows:
			return fmt.Sprintf("its table %s has %d rows, and had %d when it was made", table, got.Rows, want.Rows)
		case got.Hash != want.Hash:
			return fmt.Sprintf("something in its table %s is not as it was when it was made", table)
		}
	}
	for table := range now.Tables {
		if _, there := m.Tables[table]; !there {
			return fmt.Sprintf("its table %s was not there when it was made", table)
		}
	}
	return ""
}
