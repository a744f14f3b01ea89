package copies

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Restored says what came of restoring.
type Restored struct {
	Manifest
	Path string // of the database now
	Kept string // where what was there before was put, "" where nothing was
	Keys bool   // devices that were paired with this folder come in as before
}

// Restore puts a copy's database at path. What is there already is kept beside it. Nothing is touched where the copy fails its
// check. The caller makes sure that nobody serves the database.
//
// A restore begins a new epoch: devices that see it send again all that they still hold.
func Restore(ctx context.Context, path, from, identities string, now time.Time) (r Restored, err error) {
	work, done, err := workBeside(path, ".restoring-")
	if err != nil {
		return r, err
	}
	defer done()
	database := filepath.Join(work, databaseFile)
	if r.Manifest, err = unpack(ctx, from, identities, database); err != nil {
		return r, err
	}
	err = r.place(ctx, path, database, now)
	return r, err
}

// place puts a checked database in its place, in a new epoch.
func (r *Restored) place(ctx context.Context, path, database string, now time.Time) (err error) {
	if err := newEpoch(ctx, database); err != nil {
		return err
	}
	r.Path = path
	if r.Kept, err = keep(path, now); err != nil {
		return err
	}
	if err := os.Rename(database, path); err != nil {
		return err
	}
	_, missing := os.Stat(keysOf(path))
	r.Keys = missing == nil
	return syncFolder(filepath.Dir(path))
}

// keep puts a database, with what belongs to it, aside; "" where there was nothing. A log without its database is put aside
// too: it would be laid over the restored one.
func keep(path string, now time.Time) (string, error) {
	parts := []string{"-wal", "-shm", ""} // in this order, or a log could be left alone
	parts = slices.DeleteFunc(parts, func(part string) bool {
		_, err := os.Stat(path + part)
		return errors.Is(err, fs.ErrNotExist)
	})
	if len(parts) == 0 {
		return "", nil
	}
	kept := fmt.Sprintf("%s.kept-%s", path, now.UTC().Format("20060102T150405Z"))
	for n := 2; ; n++ {
		if _, err := os.Stat(kept); errors.Is(err, fs.ErrNotExist) {
			break
		}
		kept = fmt.Sprintf("%s.kept-%s-%d", path, now.UTC().Format("20060102T150405Z"), n)
	}
	for _, part := range parts {
		if err := os.Rename(path+part, kept+part); err != nil {
			return "", err
		}
	}
	// What the continuous copy knows is of that database; of the restored one it begins anew.
	if err := os.RemoveAll(metaOf(path)); err != nil {
		return "", err
	}
	return kept, nil
}

// newEpoch names a restored database anew. One of a schema from before epochs gets its first when it is brought up to date.
func newEpoch(ctx context.Context, path string) error {
	db, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath())
	if err != nil {
		return err
	}
	defer db.Close()
	var has int
	if err := db.GetContext(ctx, &has, `SELECT count(*) FROM pragma_table_info('practice') WHERE name = 'epoch'`); err != nil || has == 0 {
		return err
	}
	_, err = db.ExecContext(ctx, `UPDATE practice SET epoch = ?`, uuid.NewString())
	return err
}

func syncFolder(path string) error {
	folder, err := os.Open(path)
	if err != nil {
		return err
	}
	defer folder.Close()
	_ = folder.Sync() // not every system has it for folders
	return nil
}
