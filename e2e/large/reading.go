package main

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"patientfox/internal/store"
)

// Bounds of reading everything anew, as after a change of the fold's version.
const (
	slowest  = 5 // a page's 95th percentile meanwhile, of that while nothing is read
	longest  = 5 // all of it, of reading and writing the same rows bare
	together = 12
)

// reading reads every session anew while pages are shown, and says how that went; ok tells whether the bounds were kept.
func reading(path string, now time.Time) (table string, ok bool) {
	folder, err := os.MkdirTemp("", "patientfox-reading")
	must(err)
	defer os.RemoveAll(folder)
	copied := filepath.Join(folder, "large.db")
	db, err := sql.Open("sqlite", store.DSN(path))
	must(err)
	_, err = db.Exec("VACUUM INTO ?", copied)
	must(err)
	must(db.Close())
	bare := bareReading(copied, folder)

	o := open(copied, now)
	idle := o.shown(20)
	mark, err := sql.Open("sqlite", store.DSN(copied))
	must(err)
	_, err = mark.Exec("UPDATE sessions SET stale = 1, fold = fold - 1")
	must(err)
	must(mark.Close())
	ctx, stop := context.WithCancel(ctx)
	var working sync.WaitGroup
	began, took := time.Now(), time.Duration(0)
	working.Go(func() {
		must(o.p.CatchUp(ctx))
		took = time.Since(began)
		stop()
	})
	var meanwhile []time.Duration
	for ctx.Err() == nil {
		meanwhile = append(meanwhile, o.each()...)
	}
	working.Wait()
	a, b := p95(idle), p95(meanwhile)
	slow, long := float64(b)/float64(a), float64(took)/float64(bare)
	ok = slow <= slowest && long <= longest
	says := map[bool]string{true: "kept", false: "**missed**"}
	return fmt.Sprintf("\nAll sessions read anew, as after a change of the fold: %v, beside %v for reading and writing the "+
		"same rows bare: %.2f times (bound %d): %s. Pages meanwhile, 95th percentile: %v, beside %v while nothing is read: %.2f "+
		"times (bound %d): %s; %d pages were shown.\n",
		took.Round(time.Millisecond), bare.Round(time.Millisecond), long, longest, says[long <= longest],
		b.Round(10*time.Microsecond), a.Round(10*time.Microsecond), slow, slowest, says[slow <= slowest], len(meanwhile)), ok
}

func p95(all []time.Duration) time.Duration {
	slices.Sort(all)
	return all[len(all)*95/100]
}

// each asks for every page once, after a change, so that nothing is shown from memory, and times them. Those that wait for what
// is read answer that.
func (o *opened) each() (took []time.Duration) {
	for _, page := range o.shows() {
		o.touch(len(took))
		started := time.Now()
		o.ask(page)
		took = append(took, time.Since(started))
	}
	return took
}

func (o *opened) shown(times int) (took []time.Duration) {
	for range times {
		took = append(took, o.each()...)
	}
	return took
}

// shows are the pages of the list, worked out once: which there are does not change meanwhile.
func (o *opened) shows() []string {
	if o.listed == nil {
		for _, page := range o.pages() {
			o.listed = append(o.listed, page[1])
		}
	}
	return o.listed
}

// bareReading times reading all events, session by session, and writing all derived rows into empty tables with the same
// indexes, as many sessions together as the practice takes.
func bareReading(path, folder string) time.Duration {
	db, err := sql.Open("sqlite", store.DSN(path))
	must(err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	to := filepath.Join(folder, "bare.db")
	_, err = db.Exec("ATTACH ? AS bare", to)
	must(err)
	for _, pragma := range []string{"PRAGMA bare.journal_mode = WAL", "PRAGMA bare.synchronous = FULL"} {
		_, err = db.Exec(pragma)
		must(err)
	}
	tables := []string{"blocks", "trials", "moves", "verdicts", "fed"}
	shapes, err := db.Query("SELECT type, sql FROM main.sqlite_master WHERE tbl_name IN ('blocks', 'trials', 'moves', " +
		"'verdicts', 'fed') AND sql IS NOT NULL ORDER BY type DESC")
	must(err)
	var made []string
	for shapes.Next() {
		var kind, text string
		must(shapes.Scan(&kind, &text))
		if kind == "table" {
			text = strings.Replace(text, "CREATE TABLE ", "CREATE TABLE bare.", 1)
		} else {
			text = strings.Replace(text, "INDEX ", "INDEX bare.", 1)
		}
		made = append(made, strings.ReplaceAll(text, "REFERENCES sessions (id)", ""))
	}
	must(shapes.Close())
	_, err = db.Exec("PRAGMA foreign_keys = 0")
	must(err)
	for _, text := range made {
		_, err = db.Exec(text)
		must(err)
	}
	rows, err := db.Query("SELECT id FROM sessions ORDER BY dog, opened")
	must(err)
	var ids []string
	for rows.Next() {
		var id string
		must(rows.Scan(&id))
		ids = append(ids, id)
	}
	must(rows.Close())
	columns := map[string][]string{}
	for _, table := range tables {
		one, err := db.Query("SELECT * FROM main." + table + " LIMIT 0")
		must(err)
		columns[table], err = one.Columns()
		must(err)
		must(one.Close())
	}
	started := time.Now()
	for len(ids) > 0 {
		n := min(together, len(ids))
		tx, err := db.Begin()
		must(err)
		for _, id := range ids[:n] {
			scan(tx, "SELECT * FROM events WHERE session = ? ORDER BY pos", id)
			for _, table := range tables {
				for _, cells := range scan(tx, "SELECT * FROM main."+table+" WHERE session = ?", id) {
					_, err := tx.Exec("INSERT INTO bare."+table+" VALUES (?"+strings.Repeat(", ?", len(columns[table])-1)+")", cells...)
					must(err)
				}
			}
		}
		must(tx.Commit())
		ids = ids[n:]
	}
	return time.Since(started)
}

func scan(tx *sql.Tx, query, id string) (all [][]any) {
	rows, err := tx.Query(query, id)
	must(err)
	defer rows.Close()
	columns, err := rows.Columns()
	must(err)
	for rows.Next() {
		cells, to := make([]any, len(columns)), make([]any, len(columns))
		for i := range cells {
			to[i] = &cells[i]
		}
		must(rows.Scan(to...))
		all = append(all, cells)
	}
	must(rows.Err())
	return all
}
