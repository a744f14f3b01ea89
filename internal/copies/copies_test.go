package copies_test

import (
	"archive/zip"
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"
	"time"

	"filippo.io/age"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/copies"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/store"
)

var ctx = context.Background()

func backup(t *testing.T, path string) string {
	t.Helper()
	to := filepath.Join(t.TempDir(), "copy.zip")
	_, err := copies.Backup(ctx, path, to, copies.Options{Now: practicetest.Now})
	require.NoError(t, err)
	return to
}

// A copy made while the practice is written to is whole, verifies, and comes back as it was, in a new epoch; what was there is
// kept, and what lets devices in is not in it.
func TestACopyComesBack(t *testing.T) {
	o := practicetest.Demo(t)
	code, err := o.Store.Keys().Secret(ctx)
	require.NoError(t, err)
	stop := make(chan struct{})
	wrote := make(chan struct{})
	go func() {
		defer close(wrote)
		for n := 0; ; n++ {
			select {
			case <-stop:
				return
			default:
				if err := o.SavePlace(ctx, map[string]string{"name": fmt.Sprint("berth ", n)}); err != nil {
					t.Error(err)
				}
			}
		}
	}()
	path := backup(t, o.Path)
	close(stop)
	<-wrote
	m, err := copies.Verify(ctx, path, "")
	require.NoError(t, err)
	require.Positive(t, m.Events)
	require.Equal(t, store.Schema(), m.Schema)
	require.NotContains(t, m.Tables, "devices")
	raw, err := os.ReadFile(unzipped(t, path))
	require.NoError(t, err)
	require.False(t, bytes.Contains(raw, code), "the form secret is in no copy")
	info, err := os.Stat(path)
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())

	before, err := o.Epoch(ctx)
	require.NoError(t, err)
	folder := t.TempDir()
	place := filepath.Join(folder, "practice.db")
	r, err := copies.Restore(ctx, place, path, "", practicetest.Now)
	require.NoError(t, err)
	require.Empty(t, r.Kept)
	require.False(t, r.Keys)
	back := practicetest.Open(t, place)
	after, err := back.Epoch(ctx)
	require.NoError(t, err)
	require.NotEqual(t, before, after)
	today, err := back.Today(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, today.Next)
	again := backup(t, back.Path)
	now, err := copies.Verify(ctx, again, "")
	require.NoError(t, err)
	require.Equal(t, m.Tables["events"], now.Tables["events"], "the log is the same to the byte")
	require.Equal(t, m.Tables["trials"], now.Tables["trials"])
}

func TestRestoringKeepsWhatWasThere(t *testing.T) {
	folder := t.TempDir()
	path := filepath.Join(folder, "practice.db")
	one := practicetest.Open(t, path)
	_, err := one.AddDog(ctx, map[string]string{"name": "Tansy"})
	require.NoError(t, err)
	saved := backup(t, path)
	_, err = one.AddDog(ctx, map[string]string{"name": "Quill"})
	require.NoError(t, err)
	// A copy that is not whole touches nothing.
	cut := filepath.Join(t.TempDir(), "cut.zip")
	raw, err := os.ReadFile(saved)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(cut, raw[:len(raw)/2], 0o600))
	_, err = copies.Restore(ctx, path, cut, "", practicetest.Now)
	require.ErrorIs(t, err, copies.ErrBad)
	dogs, err := one.Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, dogs.Dogs, 2)

	elsewhere := filepath.Join(t.TempDir(), "practice.db")
	require.NoError(t, os.WriteFile(elsewhere, raw[:0], 0o600))
	require.NoError(t, os.WriteFile(elsewhere+"-wal", []byte("of another"), 0o600))
	r, err := copies.Restore(ctx, elsewhere, saved, "", practicetest.Now)
	require.NoError(t, err)
	require.FileExists(t, r.Kept)
	require.FileExists(t, r.Kept+"-wal")
	require.NoFileExists(t, elsewhere+"-wal", "another database's log would be laid over the restored one")
	dogs, err = practicetest.Open(t, elsewhere).Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, dogs.Dogs, 1)

	alone := filepath.Join(t.TempDir(), "practice.db")
	require.NoError(t, os.WriteFile(alone+"-wal", []byte("its database was moved away"), 0o600))
	r, err = copies.Restore(ctx, alone, saved, "", practicetest.Now)
	require.NoError(t, err)
	require.FileExists(t, r.Kept+"-wal")
	require.NoFileExists(t, alone+"-wal")
}

func unzipped(t *testing.T, path string) string {
	packed, err := zip.OpenReader(path)
	require.NoError(t, err)
	defer packed.Close()
	in, err := packed.Open("practice.db")
	require.NoError(t, err)
	raw, err := io.ReadAll(in)
	require.NoError(t, err)
	to := filepath.Join(t.TempDir(), "practice.db")
	require.NoError(t, os.WriteFile(to, raw, 0o600))
	return to
}

// rezipped packs another database under a copy's manifest.
func rezipped(t *testing.T, path, database string) string {
	packed, err := zip.OpenReader(path)
	require.NoError(t, err)
	defer packed.Close()
	manifest, err := packed.Open("manifest.json")
	require.NoError(t, err)
	to := filepath.Join(t.TempDir(), "changed.zip")
	out, err := os.Create(to)
	require.NoError(t, err)
	z := zip.NewWriter(out)
	head, err := z.Create("manifest.json")
	require.NoError(t, err)
	_, err = io.Copy(head, manifest)
	require.NoError(t, err)
	body, err := z.Create("practice.db")
	require.NoError(t, err)
	raw, err := os.ReadFile(database)
	require.NoError(t, err)
	_, err = body.Write(raw)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	require.NoError(t, out.Close())
	return to
}

// A single changed letter inside a value, which no check of the database itself can see, is found by the manifest.
func TestVerifyFindsAChangedLetter(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	o.End(t, h, sessiontest.Hold(h, 1000, 5, 2000, work.Main), session.Closing{})
	path := backup(t, o.Path)
	for _, change := range []string{
		`UPDATE dogs SET name = 'Tansi'`, `UPDATE trials SET held_s = held_s + 0.001 WHERE ord = 2`, `DELETE FROM fed`,
		`CREATE TABLE boats (name TEXT)`, `UPDATE sessions SET pieces = '5'`,
	} {
		database := unzipped(t, path)
		db, err := sql.Open("sqlite", database)
		require.NoError(t, err)
		_, err = db.Exec(change)
		require.NoError(t, err, change)
		require.NoError(t, db.Close())
		_, err = copies.Verify(ctx, rezipped(t, path, database), "")
		require.ErrorIs(t, err, copies.ErrBad, change)
	}
}

// Whatever happens to a copy's file is found.
func TestVerifyFindsDamage(t *testing.T) {
	o := practicetest.Empty(t)
	o.LayOut(t, "2, 4")
	path := backup(t, o.Path)
	raw, err := os.ReadFile(path)
	require.NoError(t, err)
	rng := rand.New(rand.NewPCG(1, 7))
	for n := range 24 {
		bad := append([]byte(nil), raw...)
		switch n % 4 {
		case 0:
			bad = bad[:rng.IntN(len(bad))]
		case 1:
			at := rng.IntN(len(bad) - 600)
			clear(bad[at : at+512])
		case 2:
			// Bytes of the packed database: those of a name in the archive's index would change nothing that is read.
			at := 2000 + rng.IntN(len(bad)-4000)
			bad[at] ^= 0x55
		default:
			copy(bad, "PK no more")
		}
		to := filepath.Join(t.TempDir(), "bad.zip")
		require.NoError(t, os.WriteFile(to, bad, 0o600))
		_, err := copies.Verify(ctx, to, "")
		require.Error(t, err, "damage %d", n)
	}
}

func TestACopyCanBeForOneReaderAlone(t *testing.T) {
	o := practicetest.Empty(t)
	o.LayOut(t, "2, 4")
	folder := t.TempDir()
	mine, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	other, err := age.GenerateX25519Identity()
	require.NoError(t, err)
	for name, one := range map[string]*age.X25519Identity{"mine": mine, "other": other} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(one.String()+"\n"), 0o600))
	}
	path := filepath.Join(folder, "copy.zip.age")
	_, err = copies.Backup(ctx, o.Path, path, copies.Options{Now: practicetest.Now, Recipient: mine.Recipient().String()})
	require.NoError(t, err)
	raw, err := os.ReadFile(path)
	require.NoError(t, err)
	require.False(t, bytes.Contains(raw, []byte("practice.db")))
	m, err := copies.Verify(ctx, path, filepath.Join(folder, "mine"))
	require.NoError(t, err)
	require.Equal(t, 1, m.Dogs)
	_, err = copies.Verify(ctx, path, filepath.Join(folder, "other"))
	require.ErrorContains(t, err, "somebody else")
	_, err = copies.Verify(ctx, path, "")
	require.ErrorContains(t, err, "--identity")
	_, err = copies.Backup(ctx, o.Path, path+"2", copies.Options{Now: practicetest.Now, Recipient: "nobody"})
	require.ErrorContains(t, err, "no age recipient")
	_, err = copies.Backup(ctx, o.Path, path, copies.Options{Now: practicetest.Now})
	require.ErrorContains(t, err, "there already")
}

// The copy that is put by before a change of the schema is restored as well.
func TestABareDatabaseIsRestored(t *testing.T) {
	o := practicetest.Empty(t)
	o.LayOut(t, "2, 4")
	database := unzipped(t, backup(t, o.Path))
	place := filepath.Join(t.TempDir(), "practice.db")
	_, err := copies.Restore(ctx, place, database, "", practicetest.Now)
	require.NoError(t, err)
	text := filepath.Join(t.TempDir(), "text")
	require.NoError(t, os.WriteFile(text, []byte("nothing of ours"), 0o600))
	_, err = copies.Verify(ctx, text, "")
	require.ErrorIs(t, err, copies.ErrBad)
}

// Kept are never more than 7 days, 4 weeks and 12 months ask for, the newest is always among them, and a year of daily copies
// leaves one of each month.
func TestKeptCopies(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := practicetest.Now
		var list []copies.Copy
		for range rapid.IntRange(1, 400).Draw(t, "copies") {
			list = append(list, copies.Copy{Name: fmt.Sprint(len(list)), Made: at})
			at = at.Add(-time.Duration(rapid.IntRange(1, 60).Draw(t, "hours")) * time.Hour)
		}
		kept := copies.Kept(list)
		require.True(t, kept["0"])
		require.LessOrEqual(t, len(kept), 7+4+12)
		for n := range min(7, len(list)) {
			if n > 0 && list[n].Made.YearDay() == list[n-1].Made.YearDay() {
				break
			}
			require.True(t, kept[fmt.Sprint(n)], "the last days")
		}
	})
	var year []copies.Copy
	for n := range 400 {
		year = append(year, copies.Copy{Name: fmt.Sprint(n), Made: practicetest.Now.AddDate(0, 0, -n)})
	}
	kept := copies.Kept(year)
	months := map[time.Month]bool{}
	for _, c := range year[:360] {
		if kept[c.Name] {
			months[c.Made.Month()] = true
		}
	}
	require.Len(t, months, 12)
}

// A copy is made once a day by itself, old ones go, and a disk without room is said, not filled.
func TestDailyCopies(t *testing.T) {
	o := practicetest.Empty(t)
	o.LayOut(t, "2, 4")
	now := practicetest.Now
	room := uint64(1 << 40)
	k := &copies.Keeper{Path: o.Path, Now: func() time.Time { return now }, Free: func(string) (uint64, error) { return room, nil }}
	for range 16 {
		_, err := k.Make(ctx)
		require.NoError(t, err)
		now = now.Add(60 * time.Hour)
	}
	list, err := k.List()
	require.NoError(t, err)
	require.LessOrEqual(t, len(list), 10)
	require.GreaterOrEqual(t, len(list), 7)
	require.Equal(t, now.Add(-60*time.Hour).Truncate(time.Second), list[0].Made)
	require.False(t, list[0].Proved.IsZero(), "it was read back")
	room = 1 << 10
	_, err = k.Make(ctx)
	var none *copies.ErrNoRoom
	require.ErrorAs(t, err, &none)
	_, said := k.State()
	require.ErrorAs(t, said, &none)
	left, err := os.ReadDir(k.Folder())
	require.NoError(t, err)
	require.Len(t, left, len(list), "nothing half made is left")
}
