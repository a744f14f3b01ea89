package copies

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"filippo.io/age"
	"github.com/jmoiron/sqlx"

	"patientfox/internal/store"
)

// ErrBad says that a copy is not whole; the error's text says what is wrong.
var ErrBad = errors.New("this copy is not whole")

// The files in a copy.
const (
	databaseFile = "practice.db"
	manifestFile = "manifest.json"
)

// maxDatabase bounds what is unpacked, in bytes.
const maxDatabase = 64 << 30

// Options are what a backup can be told.
type Options struct {
	Program   string // version of the program, for the manifest
	Now       time.Time
	Recipient string // an age recipient (age1…) for whom it is encrypted, "" for nobody
}

// Backup copies the database at path, which may be in use, into a new file, and checks what was written. The file is the
// owner's alone, and appears under its name when it is whole.
func Backup(ctx context.Context, path, to string, o Options) (m Manifest, err error) {
	if _, err := os.Stat(to); err == nil {
		return m, fmt.Errorf("%s is there already", to)
	}
	work, done, err := workBeside(to, ".copying-")
	if err != nil {
		return m, err
	}
	defer done()
	database := filepath.Join(work, databaseFile)
	if err := snapshot(ctx, path, database); err != nil {
		return m, err
	}
	if m, err = summed(ctx, database, o.Now, o.Program); err != nil {
		return m, err
	}
	packed := filepath.Join(work, "copy")
	if err := pack(packed, database, m, o.Recipient); err != nil {
		return m, err
	}
	if o.Recipient == "" { // what is encrypted can be read by its recipient alone
		if _, err := Verify(ctx, packed, ""); err != nil {
			return m, fmt.Errorf("the copy does not read back: %w", err)
		}
	}
	return m, os.Rename(packed, to)
}

// workBeside makes a folder to work in beside a file that will come of it, so that it can be put in place by its name; done
// takes it away.
func workBeside(path, name string) (work string, done func(), err error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return "", nil, err
	}
	work, err = os.MkdirTemp(filepath.Dir(path), name)
	return work, func() { os.RemoveAll(work) }, err
}

// snapshot copies a database as it is at one moment.
func snapshot(ctx context.Context, path, to string) error {
	if _, err := os.Stat(path); err != nil {
		return err
	}
	file, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	if err := file.Close(); err != nil {
		return err
	}
	db, err := readOnly(path)
	if err != nil {
		return err
	}
	defer db.Close()
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", to); err != nil {
		return store.Failure("copying "+path, err)
	}
	// The continuous copy's own tables belong to that database alone.
	copied, err := sqlx.Open("sqlite", "file:"+(&url.URL{Path: to}).EscapedPath())
	if err != nil {
		return err
	}
	defer copied.Close()
	copied.SetMaxOpenConns(1)
	for _, statement := range []string{"DROP TABLE IF EXISTS _litestream_seq", "DROP TABLE IF EXISTS _litestream_lock"} {
		if _, err := copied.ExecContext(ctx, statement); err != nil {
			return store.Failure("copying "+path, err)
		}
	}
	return nil
}

// pack writes a copy's file.
func pack(to, database string, m Manifest, recipient string) (err error) {
	file, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, file.Close()) }()
	out := io.WriteCloser(nopCloser{file})
	if recipient != "" {
		who, err := age.ParseX25519Recipient(recipient)
		if err != nil {
			return fmt.Errorf("%q is no age recipient: %w", recipient, err)
		}
		if out, err = age.Encrypt(file, who); err != nil {
			return err
		}
	}
	packed := zip.NewWriter(out)
	head, err := packed.CreateHeader(&zip.FileHeader{Name: manifestFile, Method: zip.Deflate, Modified: m.Made})
	if err != nil {
		return err
	}
	encoder := json.NewEncoder(head)
	encoder.SetIndent("", "  ")
	if err := encoder.Encode(m); err != nil {
		return err
	}
	body, err := packed.CreateHeader(&zip.FileHeader{Name: databaseFile, Method: zip.Deflate, Modified: m.Made})
	if err != nil {
		return err
	}
	in, err := os.Open(database)
	if err != nil {
		return err
	}
	defer in.Close()
	if _, err := io.Copy(body, in); err != nil {
		return err
	}
	return errors.Join(packed.Close(), out.Close(), file.Sync())
}

type nopCloser struct{ io.Writer }

func (nopCloser) Close() error { return nil }

const ageHead = "age-encryption.org/v1"

// Verify checks a copy whole: that it unpacks, that its database is sound, and that every table is as its manifest says. An
// encrypted one needs a file of age identities. It writes beside the copy, or where that cannot be written among the
// system's temporary files, and takes it away again.
func Verify(ctx context.Context, path, identities string) (Manifest, error) {
	work, err := workFolder(path)
	if err != nil {
		return Manifest{}, err
	}
	defer os.RemoveAll(work)
	return unpack(ctx, path, identities, filepath.Join(work, databaseFile))
}

func workFolder(path string) (string, error) {
	if work, err := os.MkdirTemp(filepath.Dir(path), ".verifying-"); err == nil {
		return work, nil
	}
	return os.MkdirTemp("", "patientfox-verifying-")
}

func bad(path, why string, args ...any) error {
	return fmt.Errorf("%w: %s: %s", ErrBad, path, fmt.Sprintf(why, args...))
}

// blamed says that a copy is bad, unless asking was given up or the disk on which it was unpacked is to blame.
func blamed(ctx context.Context, path, why string, err error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if known := store.Failure("checking "+path, err); errors.Is(known, store.ErrFull) || errors.Is(known, store.ErrReadOnly) ||
		errors.Is(known, store.ErrBusy) {
		return known
	}
	return bad(path, "%s (%v)", why, err)
}

// written writes what a copy holds to the disk. It tells a copy that cannot be unpacked from a disk that takes no more.
func written(out *os.File, in io.Reader, path string) (n int64, err error) {
	disk := &taking{to: out}
	n, err = io.Copy(disk, in)
	if disk.err == nil && err == nil {
		disk.err = out.Sync()
	}
	switch {
	case disk.err != nil:
		return n, fmt.Errorf("%s cannot be unpacked here: %w", path, disk.err)
	case err != nil:
		return n, bad(path, "it cannot be unpacked (%v)", err)
	}
	return n, nil
}

// taking keeps why a disk takes no more.
type taking struct {
	to  io.Writer
	err error
}

func (t *taking) Write(p []byte) (n int, err error) {
	n, err = t.to.Write(p)
	t.err = err
	return n, err
}

// unpack puts a copy's database at to, and checks it.
func unpack(ctx context.Context, path, identities, to string) (m Manifest, err error) {
	file, err := os.Open(path)
	if err != nil {
		return m, err
	}
	defer file.Close()
	head := make([]byte, len(sqliteHead))
	if n, _ := file.ReadAt(head, 0); string(head[:n]) == sqliteHead {
		return plain(ctx, file, path, to)
	}
	in, size, done, err := opened(file, path, identities, filepath.Dir(to))
	if err != nil {
		return m, err
	}
	defer done()
	packed, err := zip.NewReader(in, size)
	if err != nil {
		return m, bad(path, "it is no copy of Patient Fox, or it is cut (%v)", err)
	}
	raw, err := part(packed, manifestFile)
	if err != nil {
		return m, bad(path, "it has no manifest")
	}
	err = json.NewDecoder(io.LimitReader(raw, 1<<20)).Decode(&m)
	raw.Close()
	if err != nil || m.Format != format {
		return m, bad(path, "its manifest cannot be read by this program")
	}
	body, err := part(packed, databaseFile)
	if err != nil {
		return m, bad(path, "it has no database")
	}
	defer body.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return m, err
	}
	n, err := written(out, io.LimitReader(body, maxDatabase+1), path)
	if err = errors.Join(err, out.Close()); err != nil {
		return m, err
	}
	if n > maxDatabase {
		return m, bad(path, "it unpacks to more than %s", Size(maxDatabase))
	}
	if err := sound(ctx, to); err != nil {
		return m, blamed(ctx, path, "its database is damaged", err)
	}
	now, err := summed(ctx, to, m.Made, m.Program)
	if err != nil {
		return m, blamed(ctx, path, "its database cannot be read", err)
	}
	if says := m.differs(now); says != "" {
		return m, bad(path, "%s", says)
	}
	return m, nil
}

const sqliteHead = "SQLite format 3\x00"

// plain takes a bare database, such as is put by before its schema changes: it has no manifest to be held to.
func plain(ctx context.Context, file *os.File, path, to string) (m Manifest, err error) {
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return m, err
	}
	_, err = written(out, file, path)
	if err = errors.Join(err, out.Close()); err != nil {
		return m, err
	}
	if err := sound(ctx, to); err != nil {
		return m, blamed(ctx, path, "it is damaged", err)
	}
	info, err := file.Stat()
	if err != nil {
		return m, err
	}
	if m, err = summed(ctx, to, info.ModTime(), ""); err != nil {
		return m, blamed(ctx, path, "it is a database, and not one of Patient Fox", err)
	}
	return m, nil
}

// opened is a copy's ZIP, decrypted where it is encrypted; done takes what that needed away.
func opened(file *os.File, path, identities, work string) (in io.ReaderAt, size int64, done func(), err error) {
	info, err := file.Stat()
	if err != nil {
		return nil, 0, nil, err
	}
	head := make([]byte, len(ageHead))
	if n, _ := file.ReadAt(head, 0); string(head[:n]) != ageHead {
		return file, info.Size(), func() {}, nil
	}
	if identities == "" {
		return nil, 0, nil, fmt.Errorf("%s is encrypted: give the file of its age identity (--identity)", path)
	}
	keys, err := os.Open(identities)
	if err != nil {
		return nil, 0, nil, err
	}
	defer keys.Close()
	who, err := age.ParseIdentities(keys)
	if err != nil {
		return nil, 0, nil, fmt.Errorf("%s: %w", identities, err)
	}
	plain, err := age.Decrypt(file, who...)
	var none *age.NoIdentityMatchError
	if errors.As(err, &none) {
		return nil, 0, nil, fmt.Errorf("%s is encrypted for somebody else than %s", path, identities)
	}
	if err != nil {
		return nil, 0, nil, bad(path, "it cannot be decrypted (%v)", err)
	}
	out, err := os.CreateTemp(work, "decrypted-")
	if err != nil {
		return nil, 0, nil, err
	}
	done = func() { _ = errors.Join(out.Close(), os.Remove(out.Name())) }
	if size, err = written(out, plain, path); err != nil {
		done()
		return nil, 0, nil, err
	}
	return out, size, done, nil
}

func part(packed *zip.Reader, name string) (io.ReadCloser, error) {
	for _, file := range packed.File {
		if file.Name == name {
			return file.Open()
		}
	}
	return nil, os.ErrNotExist
}

// sound runs SQLite's own check.
func sound(ctx context.Context, path string) error {
	db, err := readOnly(path)
	if err != nil {
		return err
	}
	defer db.Close()
	var says []string
	if err := db.SelectContext(ctx, &says, "PRAGMA integrity_check(5)"); err != nil {
		return err
	}
	if len(says) != 1 || says[0] != "ok" {
		return errors.New(strings.Join(says, "; "))
	}
	return nil
}
