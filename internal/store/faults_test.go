package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// firstWave unpacks the demo practice as the first wave left it.
func firstWave(t testing.TB) string { return practicetest.Unpack(t, "testdata/practice-schema6.db.gz") }

// rawEvents are a database's events as they lie there.
func rawEvents(t *testing.T, path string) (list []string) {
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query(`SELECT pos, hex(id), session, v, dev, seq, t, wall, by, handler, kind, data, received FROM events ORDER BY pos`)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		cells := make([]any, 13)
		to := make([]any, 13)
		for i := range cells {
			to[i] = &cells[i]
		}
		require.NoError(t, rows.Scan(to...))
		list = append(list, fmt.Sprint(cells...))
	}
	require.NoError(t, rows.Err())
	return list
}

// The first wave's demo goes through every schema since, and its events stay as they were to the byte. What was
// logged then is still taken at the door.
func TestTheFirstWavesPracticeIsBroughtUpToDate(t *testing.T) {
	path := firstWave(t)
	before := rawEvents(t, path)
	require.Len(t, before, 9478)
	st := open(t, path)
	require.Equal(t, before, rawEvents(t, path))
	require.Equal(t, before, rawEvents(t, fmt.Sprintf("%s.before-%d", path, store.Schema())), "a copy was put by")
	info, err := os.Stat(fmt.Sprintf("%s.before-%d", path, store.Schema()))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	ids, err := st.Read().SessionIDs(ctx)
	require.NoError(t, err)
	for _, id := range ids {
		events, err := st.Read().Events(ctx, id)
		require.NoError(t, err)
		for _, e := range events {
			require.NoError(t, record.Check(e), "%s %s", e.Kind, e.Data)
		}
		plans, err := st.Read().PlansOfSession(ctx, id)
		require.NoError(t, err)
		require.NotEmpty(t, plans)
	}
}

// Statements are dropped while others run them; a bound far below what runs at once made 916 of these fail.
func TestStatementsAreClosedWhenNobodyRunsThem(t *testing.T) {
	st, err := store.OpenBounded(ctx, filepath.Join(t.TempDir(), "p.db"), 3)
	require.NoError(t, err)
	defer st.Close()
	rng := rand.New(rand.NewPCG(3, 3))
	session := record.UUID(rng)
	for seq := range int64(40) {
		add(t, st, note(rng, session, seq+1))
	}
	var all sync.WaitGroup
	for n := range 8 {
		all.Go(func() {
			for round := range 150 {
				q := st.Read()
				var err error
				switch (n + round) % 6 {
				case 0:
					_, err = q.Events(ctx, session)
				case 1:
					_, err = q.SessionIDs(ctx)
				case 2:
					_, err = q.LastPos(ctx, session)
				case 3:
					_, _, err = q.Behind(ctx)
				case 4:
					_, err = q.People(ctx)
				default:
					_, err = q.LogPage(ctx, session, 0, 10)
				}
				if err != nil {
					t.Errorf("round %d: %v", round, err)
					return
				}
			}
		})
	}
	all.Wait()
}

// damage is one way in which a file goes bad; the pages are of 4096 bytes.
func damaged(t *testing.T, raw []byte, n int, rng *rand.Rand) []byte {
	const page = 4096
	bad := append([]byte(nil), raw...)
	pages := len(bad) / page
	switch n % 6 {
	case 0: // the header
		copy(bad, "not a database at all")
	case 1: // cut
		bad = bad[:page*(1+rng.IntN(pages-1))+rng.IntN(page)]
	case 2: // pages zeroed
		for range 3 {
			at := page * (1 + rng.IntN(pages-1))
			clear(bad[at : at+page])
		}
	case 3: // pages of something else
		for range 3 {
			at := page * (1 + rng.IntN(pages-1))
			for i := range page {
				bad[at+i] = byte(rng.Uint32())
			}
		}
	case 4: // pages swapped
		for range 3 {
			a, b := page*(1+rng.IntN(pages-1)), page*(1+rng.IntN(pages-1))
			kept := append([]byte(nil), bad[a:a+page]...)
			copy(bad[a:a+page], bad[b:b+page])
			copy(bad[b:b+page], kept)
		}
	case 5: // a stretch across pages overwritten
		at := page + rng.IntN(len(bad)-3*page)
		copy(bad[at:at+page], strings.Repeat("gull", page/4))
	}
	require.False(t, bytes.Equal(raw, bad))
	return bad
}

// files is how many files are damaged; `make soak` asks for more.
func files() int { return asked("PATIENTFOX_DAMAGED", 24) }

// A damaged file is refused in words, and is left as it was. One in which only a page that nothing uses was hit may open.
func TestDamagedFilesAreNotServed(t *testing.T) {
	raw, err := os.ReadFile(firstWave(t))
	require.NoError(t, err)
	rng := rand.New(rand.NewPCG(11, 4))
	for n := range files() {
		path := filepath.Join(t.TempDir(), "practice.db")
		bad := damaged(t, raw, n, rng)
		require.NoError(t, os.WriteFile(path, bad, 0o600))
		st, err := store.Open(ctx, path)
		if err == nil {
			require.NoError(t, st.Close())
			t.Errorf("damage %d (%d) was served", n, n%6)
			continue
		}
		var refused *store.Refused
		require.ErrorAs(t, err, &refused, "damage %d: %v", n, err)
		require.ErrorIs(t, err, store.ErrDamaged)
		require.Contains(t, err.Error(), path)
		now, err := os.ReadFile(path)
		require.NoError(t, err)
		require.Equal(t, len(bad), len(now), "damage %d: the file was changed", n)
	}
}

func TestEmptyAndForeignFilesAreRefusedAndKept(t *testing.T) {
	folder := t.TempDir()
	empty, foreign, text := filepath.Join(folder, "empty.db"), filepath.Join(folder, "foreign.db"), filepath.Join(folder, "text.db")
	require.NoError(t, os.WriteFile(empty, nil, 0o600))
	require.NoError(t, os.WriteFile(text, []byte("dogs, and when they were walked"), 0o644))
	other, err := sql.Open("sqlite", foreign)
	require.NoError(t, err)
	_, err = other.Exec(`CREATE TABLE boats (name TEXT)`)
	require.NoError(t, err)
	require.NoError(t, other.Close())
	for _, path := range []string{empty, foreign, text} {
		before, err := os.ReadFile(path)
		require.NoError(t, err)
		_, err = store.Open(ctx, path)
		require.ErrorIs(t, err, store.ErrDamaged, path)
		after, err := os.ReadFile(path)
		require.NoError(t, err)
		require.True(t, bytes.Equal(before, after), path)
	}
}

// A refusal names the copies that there are, and how to go back to one.
func TestARefusalNamesItsCopies(t *testing.T) {
	folder := t.TempDir()
	path := filepath.Join(folder, "practice.db")
	require.NoError(t, os.WriteFile(path, nil, 0o600))
	require.NoError(t, os.MkdirAll(filepath.Join(folder, "copies"), 0o700))
	copied := filepath.Join(folder, "copies", "practice-2026-11-20T060000Z.zip")
	require.NoError(t, os.WriteFile(copied, []byte("x"), 0o600))
	_, err := store.Open(ctx, path)
	require.ErrorContains(t, err, "patientfox restore \""+copied+"\"")
}

// A migration that fails names the copy that was put by before it.
func TestAFailedMigrationNamesItsCopy(t *testing.T) {
	path := firstWave(t)
	db, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	_, err = db.Exec(`CREATE TABLE left_out (in_the_way TEXT)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = store.Open(ctx, path)
	require.ErrorContains(t, err, fmt.Sprintf("%s.before-%d", path, store.Schema()))
}

// Derived rows that are committed do not tell others that anything changed; everything else does, from another process too.
func TestVersionTellsDerivedRowsFromOthers(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st := open(t, path)
	version := func() int64 {
		v, err := st.Version(ctx)
		require.NoError(t, err)
		return v
	}
	rng := rand.New(rand.NewPCG(4, 4))
	before := version()
	add(t, st, note(rng, record.UUID(rng), 1))
	after := version()
	require.NotEqual(t, before, after)
	require.NoError(t, st.WriteDerived(ctx, func(q store.Q) error { return q.PlanStands(ctx, "some", "record") }))
	require.Equal(t, after, version())
	raw, err := sql.Open("sqlite", store.DSN(path))
	require.NoError(t, err)
	defer raw.Close()
	_, err = raw.Exec(`DELETE FROM plans_behind`)
	require.NoError(t, err)
	again := version()
	require.NotEqual(t, after, again)
	_, err = raw.Exec(`DELETE FROM plans_behind`)
	require.NoError(t, err)
	require.NoError(t, st.WriteDerived(ctx, func(q store.Q) error { return q.PlanStands(ctx, "some", "record") }))
	require.NotEqual(t, again, version(), "a change of others before is not covered up")
}

// With a full disk everything can be read and nothing is half saved; what failed is typed, and all goes on when there is room.
func TestAFullDiskTakesNoReadingAway(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st := open(t, path)
	rng := rand.New(rand.NewPCG(5, 5))
	session := record.UUID(rng)
	add(t, st, note(rng, session, 1))
	require.NoError(t, st.Full(ctx, true))
	err := st.Write(ctx, func(q store.Q) error {
		for seq := range int64(400) {
			e := note(rng, session, seq+2)
			e.Data = json.RawMessage(fmt.Sprintf(`{"text":%q}`, strings.Repeat("n", 2000)))
			if _, err := q.AddEvent(ctx, e, 1); err != nil {
				return fmt.Errorf("event %d: %w", seq, err)
			}
		}
		return nil
	})
	require.ErrorIs(t, err, store.ErrFull)
	require.ErrorIs(t, st.Trouble(), store.ErrFull)
	events, err := st.Read().Events(ctx, session)
	require.NoError(t, err)
	require.Len(t, events, 1, "nothing is half saved")
	require.NoError(t, st.Full(ctx, false))
	require.NoError(t, st.Probe(ctx))
	require.NoError(t, st.Trouble())
	add(t, st, note(rng, session, 500))
}

// A disk that does not let a whole file be opened is not told apart as damage: nobody is sent back to a copy for it.
func TestTheDiskIsNotTheFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st := open(t, path)
	add(t, st, note(rand.New(rand.NewPCG(5, 5)), record.UUID(rand.New(rand.NewPCG(5, 6))), 1))
	require.NoError(t, st.Close())
	require.NoError(t, os.Mkdir(path+"-wal", 0o700)) // where SQLite wants its log
	_, err := store.Open(ctx, path)
	require.ErrorIs(t, err, store.ErrReadOnly)
	require.NotErrorIs(t, err, store.ErrDamaged)
	require.NotContains(t, err.Error(), "restore")
	require.NoError(t, os.Remove(path+"-wal"))
	open(t, path)
}

func TestWaitingToWriteEndsWithItsContext(t *testing.T) {
	st := open(t, filepath.Join(t.TempDir(), "p.db"))
	require.NoError(t, st.Write(ctx, func(store.Q) error {
		short, cancel := context.WithCancel(ctx)
		cancel()
		require.ErrorIs(t, st.Write(short, func(store.Q) error { return nil }), context.Canceled)
		return nil
	}))
}
