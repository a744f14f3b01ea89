package copies

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"github.com/benbjohnson/litestream"
	"github.com/benbjohnson/litestream/file"
	"github.com/benbjohnson/litestream/s3"
)

// Figures of the continuous copy.
const (
	copyRetention = 30 * 24 * time.Hour // how far back a moment can be gone back to
	snapshotEvery = 24 * time.Hour
	lookEvery     = 10 * time.Second // how often it is asked how far behind it is
	closing       = 10 * time.Second // for what is still to be sent at the end
)

// Credentials are the keys of S3-compatible storage. They come from the environment or from a file of the owner's alone.
type Credentials struct{ KeyID, Secret string }

// ReadCredentials reads them from a file with a line id=… and a line secret=…, which nobody else may read.
func ReadCredentials(path string) (c Credentials, err error) {
	in, err := os.Open(path)
	if err != nil {
		return c, err
	}
	defer in.Close()
	if info, err := in.Stat(); err != nil {
		return c, err
	} else if info.Mode().Perm()&0o077 != 0 {
		return c, fmt.Errorf("%s can be read by others: chmod 600 it", path)
	}
	lines := bufio.NewScanner(in)
	for lines.Scan() {
		key, value, _ := strings.Cut(lines.Text(), "=")
		switch strings.TrimSpace(key) {
		case "id":
			c.KeyID = strings.TrimSpace(value)
		case "secret":
			c.Secret = strings.TrimSpace(value)
		}
	}
	if err := lines.Err(); err != nil {
		return c, err
	}
	if c.KeyID == "" || c.Secret == "" {
		return c, fmt.Errorf("%s: a line id=… and a line secret=… are wanted", path)
	}
	return c, nil
}

// client opens where the copy goes: a folder, or s3://bucket/prefix, with ?endpoint=https://… for storage that is not its
// inventor's.
func client(to string, keys Credentials, log *slog.Logger) (litestream.ReplicaClient, error) {
	if !strings.Contains(to, "://") {
		folder, err := filepath.Abs(to)
		if err != nil {
			return nil, err
		}
		c := file.NewReplicaClient(folder)
		c.SetLogger(log)
		return c, nil
	}
	u, err := url.Parse(to)
	if err != nil || u.Scheme != "s3" || u.Host == "" {
		return nil, fmt.Errorf("%q is neither a folder nor s3://bucket/prefix", to)
	}
	if u.User != nil {
		return nil, errors.New("keys are not part of an address: set PATIENTFOX_S3_ID and PATIENTFOX_S3_SECRET, or name a file with --copy-keys")
	}
	if keys.KeyID == "" || keys.Secret == "" {
		return nil, errors.New("the storage's keys are missing: set PATIENTFOX_S3_ID and PATIENTFOX_S3_SECRET, or name a file with --copy-keys")
	}
	// The library fails where this is set, which it does not support; Go's own SSL_CERT_FILE does the same.
	if err := os.Unsetenv("AWS_CA_BUNDLE"); err != nil {
		return nil, err
	}
	c := s3.NewReplicaClient()
	c.SetLogger(log)
	c.AccessKeyID, c.SecretAccessKey = keys.KeyID, keys.Secret
	c.Bucket, c.Path = u.Host, strings.Trim(u.Path, "/")
	c.Endpoint, c.Region = u.Query().Get("endpoint"), u.Query().Get("region")
	c.ForcePathStyle = c.Endpoint != ""
	return c, nil
}

// Continuous copies a database while it is served. It is safe for concurrent use.
type Continuous struct {
	To    string
	store *litestream.Store
	db    *litestream.DB
	log   *slog.Logger
	stop  context.CancelFunc
	done  sync.WaitGroup

	lock   sync.Mutex
	inSync time.Time // when it was last found to have everything
	since  time.Time // since when it is found not to, zero while it has everything
	said   error     // why it could not be asked
}

// Continue begins to copy the database at path, which is open already and has its schema. Close it after the database's own
// connections.
func Continue(ctx context.Context, path, to string, keys Credentials, log *slog.Logger) (*Continuous, error) {
	log = log.With("copy", "continuous")
	storage, err := client(to, keys, log)
	if err != nil {
		return nil, err
	}
	db := litestream.NewDB(path)
	db.Replica = litestream.NewReplicaWithClient(db, storage)
	db.Replica.AutoRecoverEnabled = true
	if local, is := storage.(*file.ReplicaClient); is {
		local.Replica = db.Replica
	}
	all := litestream.NewStore([]*litestream.DB{db}, litestream.DefaultCompactionLevels)
	all.Logger = log
	db.SetLogger(log)
	all.SnapshotInterval, all.SnapshotRetention = snapshotEvery, copyRetention
	if err := all.Open(ctx); err != nil {
		return nil, fmt.Errorf("the continuous copy to %s: %w", to, err)
	}
	c := &Continuous{To: to, store: all, db: db, log: log, inSync: time.Now()}
	watching, stop := context.WithCancel(context.Background())
	c.stop = stop
	c.done.Go(func() { c.watch(watching) })
	return c, nil
}

// watch asks how far behind the copy is.
func (c *Continuous) watch(ctx context.Context) {
	for {
		asked, cancel := context.WithTimeout(ctx, lookEvery)
		status, err := c.db.SyncStatus(asked)
		cancel()
		if ctx.Err() != nil {
			return
		}
		c.lock.Lock()
		switch now := time.Now(); {
		case err == nil && status.InSync:
			c.inSync, c.since, c.said = now, time.Time{}, nil
		default:
			if c.since.IsZero() {
				c.since = c.inSync
			}
			if c.said = err; err != nil {
				c.log.Warn("the continuous copy cannot be reached", "error", err.Error())
			}
		}
		c.lock.Unlock()
		select {
		case <-ctx.Done():
			return
		case <-time.After(lookEvery):
		}
	}
}

// Behind is for how long the copy has been without something, 0 where it has all; said is why it could not be asked.
func (c *Continuous) Behind() (behind time.Duration, said error) {
	c.lock.Lock()
	defer c.lock.Unlock()
	if c.since.IsZero() {
		return 0, nil
	}
	return time.Since(c.since), c.said
}

// Sync sends what is not copied yet, and returns when it is.
func (c *Continuous) Sync(ctx context.Context) error { return c.db.SyncAndWait(ctx) }

// Close sends what is still to be sent, for some seconds, and ends.
func (c *Continuous) Close() error {
	c.stop()
	c.done.Wait()
	ctx, cancel := context.WithTimeout(context.Background(), closing)
	defer cancel()
	if err := c.db.SyncAndWait(ctx); err != nil { // one that has hardly begun would not be sent by closing
		c.log.Warn("the continuous copy is left behind", "error", err.Error())
	}
	return c.store.Close(ctx)
}

// RestoreAt puts the database at path as a continuous copy holds it at a moment, or as it was last for a zero one. What is
// there is kept beside it; nothing is touched where the copy cannot be read.
func RestoreAt(ctx context.Context, path, from string, keys Credentials, at, now time.Time, log *slog.Logger) (r Restored, err error) {
	storage, err := client(from, keys, log)
	if err != nil {
		return r, err
	}
	if err := storage.Init(ctx); err != nil {
		return r, fmt.Errorf("%s: %w", from, err)
	}
	work, done, err := workBeside(path, ".restoring-")
	if err != nil {
		return r, err
	}
	defer done()
	database := filepath.Join(work, databaseFile)
	o := litestream.NewRestoreOptions()
	o.OutputPath, o.Timestamp = database, at
	replica := litestream.NewReplicaWithClient(nil, storage)
	if err := replica.Restore(ctx, o); err != nil {
		return r, fmt.Errorf("%w: %s: %w", ErrBad, from, err)
	}
	if err := os.Chmod(database, 0o600); err != nil {
		return r, err
	}
	if err := sound(ctx, database); err != nil {
		return r, bad(from, "what it holds is damaged (%v)", err)
	}
	made := at
	if made.IsZero() {
		made = now
	}
	if r.Manifest, err = summed(ctx, database, made, ""); err != nil {
		return r, bad(from, "it holds no practice (%v)", err)
	}
	for _, part := range []string{"-wal", "-shm", "-txid"} {
		if err := os.Remove(database + part); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return r, err
		}
	}
	err = r.place(ctx, path, database, now)
	return r, err
}

// metaOf is where the continuous copy keeps what it knows of a database.
func metaOf(path string) string {
	return filepath.Join(filepath.Dir(path), "."+filepath.Base(path)+litestream.MetaDirSuffix)
}
