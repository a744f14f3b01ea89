package store_test

import (
	"database/sql"
	"io"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/store"
)

func entries(t *testing.T, st *store.Store, what string) []store.Entry {
	t.Helper()
	list, err := st.Read().Journal(ctx, store.JournalFilter{What: []string{what}, Most: 100})
	require.NoError(t, err)
	return list
}

// Whatever way a row is changed, the journal says by whom, when, and what it was before; what was undone was never done.
func TestTheJournalKeepsEveryChange(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	st := open(t, path)
	now := int64(1000)
	st.By(func() int64 { return now })
	place := store.Place{ID: "shed", Name: "the net shed", Made: 1}
	require.NoError(t, st.Write(store.As(ctx, "ebba"), func(q store.Q) error { return q.AddPlace(ctx, place) }))
	// Somebody else, while the first one's context is long gone.
	now = 2000
	require.NoError(t, st.Write(store.As(ctx, "jorun"), func(q store.Q) error {
		if _, err := q.RenamePlace(ctx, "shed", "the “net” shed"); err != nil {
			return err
		}
		_, err := q.SetBans(ctx, "shed", "[]") // as it was
		return err
	}))
	require.ErrorIs(t, st.Write(ctx, func(q store.Q) error {
		_, err := q.RenamePlace(ctx, "shed", "nowhere")
		require.NoError(t, err)
		return io.ErrUnexpectedEOF
	}), io.ErrUnexpectedEOF)
	// Not through the program at all.
	raw, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	_, err = raw.Exec(`UPDATE places SET notes = 'by hand'`)
	require.NoError(t, err)
	require.Len(t, entries(t, st, "places"), 2, "nobody has said yet who that was")
	require.NoError(t, st.Close())
	st = open(t, path)

	list := entries(t, st, "places")
	require.Len(t, list, 3)
	require.Equal(t, []string{"", "jorun", "ebba"}, []string{list[0].Person, list[1].Person, list[2].Person})
	require.Equal(t, []int64{2000, 1000}, []int64{list[1].At, list[2].At})
	require.Nil(t, list[2].Was)
	require.JSONEq(t, `{"id":"shed","name":"the net shed","notes":"","deleted":null,"bans":"[]"}`, *list[1].Was)
	require.JSONEq(t, `{"id":"shed","name":"the “net” shed","notes":"","deleted":null,"bans":"[]"}`, *list[1].Became)
	for _, change := range []string{`UPDATE journal SET person = 'nobody'`, `DELETE FROM journal`} {
		_, err = raw.Exec(change)
		require.ErrorContains(t, err, "only ever added")
	}
	require.NoError(t, raw.Close())
}

// A password is in no entry.
func TestTheJournalHoldsNoPassword(t *testing.T) {
	st := open(t, filepath.Join(t.TempDir(), "p.db"))
	require.NoError(t, st.Write(ctx, func(q store.Q) error {
		if err := q.AddPerson(ctx, store.Person{ID: "maren", Name: "Maren Oduya", Role: "trainer", Made: 1}); err != nil {
			return err
		}
		return q.SetLogin(ctx, "maren", "a hash", 1)
	}))
	list := entries(t, st, "logins")
	require.Len(t, list, 1)
	require.JSONEq(t, `{"person":"maren"}`, *list[0].Became)
}

// A program of another version made other triggers: opening makes those of this one, once.
func TestTheJournalIsKeptAsThisProgramDoes(t *testing.T) {
	path := filepath.Join(t.TempDir(), "p.db")
	require.NoError(t, open(t, path).Close())
	raw, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	triggers := func() (n int) {
		require.NoError(t, raw.QueryRow(`SELECT count(*) FROM sqlite_master WHERE type = 'trigger' AND sql LIKE '%INTO journal%'`).Scan(&n))
		return n
	}
	all := triggers()
	require.Equal(t, 3*len(store.Journaled()), all)
	for _, change := range []string{
		`DROP TRIGGER journal_dogs_added`, `DROP TRIGGER journal_places_changed`,
		`CREATE TRIGGER journal_places_changed AFTER UPDATE ON places WHEN 0 BEGIN SELECT 1; END`,
		`CREATE TRIGGER journal_trials_added AFTER INSERT ON trials BEGIN
			INSERT INTO journal (dog, what, id) VALUES ('', 'trials', NEW.id); END`,
	} {
		_, err = raw.Exec(change)
		require.NoError(t, err)
	}
	require.NoError(t, open(t, path).Close())
	require.Equal(t, all, triggers())
	var made string
	require.NoError(t, raw.QueryRow(`SELECT sql FROM sqlite_master WHERE name = 'journal_places_changed'`).Scan(&made))
	require.Contains(t, made, "INTO journal")
	require.NoError(t, raw.Close())
}
