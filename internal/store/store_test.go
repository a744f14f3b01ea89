package store_test

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strconv"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/store"
)

var ctx = context.Background()

func open(t testing.TB, path string) *store.Store {
	t.Helper()
	st, err := store.Open(ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return st
}

func note(rng *rand.Rand, session string, seq int64) record.Event {
	return record.Event{
		V: 1, ID: record.UUID(rng), Session: session, Dev: "phone", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
		Data: json.RawMessage(fmt.Sprintf(`{"text":"note %d"}`, seq)),
	}
}

func add(t testing.TB, st *store.Store, e record.Event) record.Receipt {
	t.Helper()
	var receipt record.Receipt
	require.NoError(t, st.Write(ctx, func(q store.Q) error {
		if err := q.EnsureSession(ctx, e.Session); err != nil {
			return err
		}
		var err error
		receipt, err = q.AddEvent(ctx, e, 1)
		return err
	}))
	return receipt
}

func TestTheWriterWaitsForTheDisk(t *testing.T) {
	level, err := open(t, filepath.Join(t.TempDir(), "p.db")).Synchronous(ctx)
	require.NoError(t, err)
	require.Equal(t, 2, level, "2 is FULL")
}

func TestTheDatabaseIsTheOwnersAlone(t *testing.T) {
	path := filepath.Join(t.TempDir(), "deep", "p.db")
	open(t, path)
	info, err := os.Stat(path)
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())
}

func TestEventsAreOnlyEverAdded(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st := open(t, path)
	rng := rand.New(rand.NewPCG(1, 1))
	e := note(rng, record.UUID(rng), 1)
	require.Equal(t, record.Stored, add(t, st, e))
	require.Equal(t, record.Duplicate, add(t, st, e))
	e.T = 99
	require.Equal(t, record.Conflict, add(t, st, e))
	raw, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	defer raw.Close()
	_, err = raw.Exec(`UPDATE events SET t = 5`)
	require.ErrorContains(t, err, "only ever added")
	_, err = raw.Exec(`DELETE FROM events`)
	require.ErrorContains(t, err, "only ever added")
	events, err := st.Read().Events(ctx, e.Session)
	require.NoError(t, err)
	require.Len(t, events, 1)
	require.Equal(t, int64(1), events[0].T)
}

func TestAUseCaseThatFailsLeavesNothing(t *testing.T) {
	st := open(t, filepath.Join(t.TempDir(), "p.db"))
	rng := rand.New(rand.NewPCG(2, 1))
	e := note(rng, record.UUID(rng), 1)
	require.ErrorIs(t, st.Write(ctx, func(q store.Q) error {
		require.NoError(t, q.EnsureSession(ctx, e.Session))
		_, err := q.AddEvent(ctx, e, 1)
		require.NoError(t, err)
		return io.ErrUnexpectedEOF
	}), io.ErrUnexpectedEOF)
	events, err := st.Read().Events(ctx, e.Session)
	require.NoError(t, err)
	require.Empty(t, events)
}

// What a snapshot asks is of one moment, whatever is written meanwhile.
func TestASnapshotIsOfOneMoment(t *testing.T) {
	st := open(t, filepath.Join(t.TempDir(), "p.db"))
	rng := rand.New(rand.NewPCG(1, 1))
	session := record.UUID(rng)
	add(t, st, note(rng, session, 1))
	count := func(q store.Q) int {
		events, err := q.Events(ctx, session)
		require.NoError(t, err)
		return len(events)
	}
	require.NoError(t, st.Snapshot(ctx, func(q store.Q) error {
		require.Equal(t, 1, count(q))
		add(t, st, note(rng, session, 2))
		require.Equal(t, 1, count(q))
		require.Equal(t, 2, count(st.Read()))
		return nil
	}))
	require.NoError(t, st.Snapshot(ctx, func(q store.Q) error {
		require.Equal(t, 2, count(q))
		return nil
	}))
}

func TestANewerDatabaseIsRefusedWithASentence(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st, err := store.Open(ctx, path)
	require.NoError(t, err)
	require.NoError(t, st.Close())
	raw, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	_, err = raw.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)`)
	require.NoError(t, err)
	require.NoError(t, raw.Close())
	_, err = store.Open(ctx, path)
	require.ErrorIs(t, err, store.ErrNewer)
}

// A copy of the database and of its log, cut anywhere, opens whole, with every event that was
// acknowledged before the cut.
func TestCutCopiesKeepWhatWasAcknowledgedBeforeTheCut(t *testing.T) {
	folder := t.TempDir()
	path := filepath.Join(folder, "p.db")
	st := open(t, path)
	rng := rand.New(rand.NewPCG(3, 1))
	session := record.UUID(rng)
	size := func() int64 {
		info, err := os.Stat(path + "-wal")
		require.NoError(t, err)
		return info.Size()
	}
	var acknowledged []int64 // size of the log when each event was
	before := size()
	for seq := int64(1); seq <= 60; seq++ {
		require.Equal(t, record.Stored, add(t, st, note(rng, session, seq)))
		require.GreaterOrEqual(t, size(), before, "the log was folded in: the test must stay below that")
		before = size()
		acknowledged = append(acknowledged, before)
	}
	main, err := os.ReadFile(path)
	require.NoError(t, err)
	wal, err := os.ReadFile(path + "-wal")
	require.NoError(t, err)
	for i := range asked("PATIENTFOX_CUTS", 60) {
		cut := rng.Int64N(int64(len(wal)) + 1)
		copied := filepath.Join(folder, fmt.Sprintf("cut%d.db", i))
		require.NoError(t, os.WriteFile(copied, main, 0o600))
		require.NoError(t, os.WriteFile(copied+"-wal", wal[:cut], 0o600))
		want := 0
		for _, at := range acknowledged {
			if at <= cut {
				want++
			}
		}
		raw, err := sql.Open("sqlite", copied)
		require.NoError(t, err)
		var verdict string
		require.NoError(t, raw.QueryRow(`PRAGMA integrity_check`).Scan(&verdict))
		require.Equal(t, "ok", verdict)
		if want > 0 {
			got := 0
			require.NoError(t, raw.QueryRow(`SELECT count(*) FROM events WHERE seq <= ?`, want).Scan(&got))
			require.Equal(t, want, got, "cut at %d of %d", cut, len(wal))
		}
		require.NoError(t, raw.Close())
	}
}

// A database of the first schema opens under this one with all that was in it.
func TestAnOlderDatabaseIsBroughtUp(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	db, err := sql.Open("sqlite", store.DSN(path))
	require.NoError(t, err)
	old, err := goose.NewProvider(goose.DialectSQLite3, db, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = old.UpTo(ctx, 1)
	require.NoError(t, err)
	for _, row := range []string{
		`INSERT INTO people (id, name, made) VALUES ('maren', 'Maren Oduya', 1)`,
		`INSERT INTO practice (id, name, zone, person, secret, made) VALUES (1, 'Quay', 'UTC', 'maren', x'00', 1)`,
		`INSERT INTO dogs (id, name, made) VALUES ('tansy', 'Tansy', 1)`,
		`INSERT INTO skills (id, name, kind, version, made) VALUES ('wait', 'Wait', 'held', 1, 1)`,
		`INSERT INTO definitions (skill, version, body, made, made_by) VALUES ('wait', 1, '{}', 1, 'maren')`,
		`INSERT INTO plans (id, dog, skill, version, made) VALUES ('plan', 'tansy', 'wait', 1, 1)`,
		`INSERT INTO plan_versions (plan, version, body, made, made_by) VALUES ('plan', 1, '{}', 1, 'maren')`,
		`INSERT INTO steps (plan, version, ord, id, rev, criteria) VALUES ('plan', 1, 0, 'one', 1, '{"values":{"duration":2}}')`,
	} {
		_, err := db.Exec(row)
		require.NoError(t, err, row)
	}
	require.NoError(t, db.Close())

	q := open(t, path).Read()
	practice, err := q.Practice(ctx)
	require.NoError(t, err)
	require.Equal(t, "m", practice.Length)
	plan, err := q.Plan(ctx, "plan")
	require.NoError(t, err)
	require.Equal(t, "plan", plan.Main, "a plan without tracks climbs its own ladder")
	steps, err := q.Steps(ctx, []string{"plan"})
	require.NoError(t, err)
	require.Len(t, steps, 1)
	copies, err := filepath.Glob(filepath.Join(filepath.Dir(path), "*"))
	require.NoError(t, err)
	require.Greater(t, len(copies), 1, "a copy was made before")
}

// asked is how often something is tried: `make soak` asks for more than tests do.
func asked(name string, otherwise int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return otherwise
}
