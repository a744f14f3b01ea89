package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"github.com/gofrs/flock"
	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
	"github.com/spf13/cobra"

	"patientfox/core/say"
	"patientfox/internal/copies"
	"patientfox/internal/store"
)

// release is set when archives are built.
var release = "dev"

// version names this build: its release and commit.
func version() string {
	commit := built
	if info, ok := debug.ReadBuildInfo(); ok && commit == "" {
		for _, s := range info.Settings {
			if s.Key == "vcs.revision" && len(s.Value) >= 12 {
				commit = s.Value[:12]
			}
		}
	}
	switch {
	case commit == "":
		return release
	case strings.HasPrefix(commit, release): // no release: archives are named by the commit
		return commit
	}
	return release + " " + commit
}

// built is the commit, where the build was told it.
var built = ""

// lock takes a database for this process alone, as long as it is served.
func lock(path string) (*flock.Flock, error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return nil, err
	}
	held := flock.New(path+".lock", flock.SetPermissions(0o600))
	got, err := held.TryLock()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", held.Path(), err)
	}
	if !got {
		return nil, &servedError{path}
	}
	return held, nil
}

// servedError says that a database is served by another process.
type servedError struct{ path string }

func (e *servedError) Error() string {
	return e.path + " is served by another Patient Fox just now; stop that one first"
}

func (o *options) database() string { return filepath.Join(o.data, "practice.db") }

func (o *options) backupCommand() *cobra.Command {
	c := &cobra.Command{
		Use: "backup [file]", Short: "Copy the practice into one file, while it is served or not, and check it", Args: cobra.MaximumNArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			now, err := o.clock()
			if err != nil {
				return err
			}
			to := fmt.Sprintf("patientfox-%s.zip", now().UTC().Format("2006-01-02T150405Z"))
			if o.recipient != "" {
				to += ".age"
			}
			if len(args) == 1 {
				to = args[0]
			}
			m, err := copies.Backup(c.Context(), o.database(), to, copies.Options{Program: version(), Now: now(), Recipient: o.recipient})
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s holds %s\n", to, holds(m))
			if o.recipient == "" {
				fmt.Fprintln(c.OutOrStdout(), "It is checked, and not encrypted.")
			}
			return nil
		},
	}
	c.Flags().StringVar(&o.recipient, "for", "", "encrypt it as an age file for this recipient (age1…)")
	return c
}

func holds(m copies.Manifest) string {
	name := m.Name
	if name == "" {
		name = "a practice without a name"
	}
	return fmt.Sprintf("%s: %s, %s, %s, as of %s.", name, say.Count(m.Dogs, "dog"), say.Count(m.Sessions, "session"),
		say.Count(m.Events, "event"), m.Made.Local().Format("2 January 2006, 15:04"))
}

func (o *options) verifyCommand() *cobra.Command {
	c := &cobra.Command{
		Use: "verify file", Short: "Check a copy whole, and say what it holds", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			m, err := copies.Verify(c.Context(), args[0], o.identity)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is whole. It holds %s\n", args[0], holds(m))
			return nil
		},
	}
	c.Flags().StringVar(&o.identity, "identity", env("PATIENTFOX_IDENTITY", ""),
		"file of the age identity, for an encrypted copy (PATIENTFOX_IDENTITY)")
	return c
}

func (o *options) restoreCommand() *cobra.Command {
	c := &cobra.Command{
		Use: "restore [file]", Short: "Put a copy in place, and keep what was there", Args: cobra.MaximumNArgs(1),
		Long: "Puts a copy in the place of the practice in the data folder (--data), which may be a new one: a file, or with " +
			"--from what a\ncontinuous copy holds, as it was last or --at a moment of the last 30 days. It is checked first; what " +
			"was there is kept\nbeside it. It is refused while the practice is served.",
		RunE: func(c *cobra.Command, args []string) (err error) {
			if (len(args) == 1) == (o.from != "") {
				return errors.New("name a file, or where a continuous copy lies with --from")
			}
			held, err := lock(o.database())
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, held.Unlock()) }()
			now, err := o.clock()
			if err != nil {
				return err
			}
			var r copies.Restored
			if o.from == "" {
				r, err = copies.Restore(c.Context(), o.database(), args[0], o.identity, now())
			} else {
				r, err = o.restoreFrom(c.Context(), now())
			}
			if err != nil {
				return err
			}
			told(c.OutOrStdout(), r)
			return nil
		},
	}
	c.Flags().StringVar(&o.identity, "identity", env("PATIENTFOX_IDENTITY", ""),
		"file of the age identity, for an encrypted copy (PATIENTFOX_IDENTITY)")
	c.Flags().StringVar(&o.from, "from", "", "where a continuous copy lies: a folder, or s3://bucket/prefix?endpoint=…")
	c.Flags().StringVar(&o.at, "at", "", "as it was at this moment, RFC 3339, to about a minute")
	o.keysFlag(c)
	return c
}

func (o *options) keysFlag(c *cobra.Command) {
	c.Flags().StringVar(&o.copyKeys, "copy-keys", env("PATIENTFOX_COPY_KEYS", ""),
		"file with the storage's keys, a line id=… and a line secret=…, readable for you alone; else PATIENTFOX_S3_ID and "+
			"PATIENTFOX_S3_SECRET (PATIENTFOX_COPY_KEYS)")
}

// credentials are the storage's keys: never from a flag, and never in the database.
func (o *options) credentials() (copies.Credentials, error) {
	if o.copyKeys != "" {
		return copies.ReadCredentials(o.copyKeys)
	}
	return copies.Credentials{KeyID: os.Getenv("PATIENTFOX_S3_ID"), Secret: os.Getenv("PATIENTFOX_S3_SECRET")}, nil
}

func (o *options) continues(ctx context.Context, path string, log *slog.Logger) (*copies.Continuous, error) {
	keys, err := o.credentials()
	if err != nil {
		return nil, err
	}
	return copies.Continue(ctx, path, o.copyTo, keys, log)
}

func (o *options) restoreFrom(ctx context.Context, now time.Time) (r copies.Restored, err error) {
	at := time.Time{}
	if o.at != "" {
		if at, err = time.Parse(time.RFC3339, o.at); err != nil {
			return r, errors.New("--at: write the moment as 2026-11-27T09:00:00Z")
		}
	}
	keys, err := o.credentials()
	if err != nil {
		return r, err
	}
	log, err := o.logger()
	if err != nil {
		return r, err
	}
	return copies.RestoreAt(ctx, o.database(), o.from, keys, at, now, log)
}

// storageCommand is a stand-in for S3-compatible storage, for trying the continuous copy out without any.
func (o *options) storageCommand() *cobra.Command {
	listen := ""
	c := &cobra.Command{
		Use: "storage", Short: "Serve a stand-in for S3-compatible storage, in memory, for trying a continuous copy out", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if !loopback(listen) {
				return errors.New("--listen: the stand-in asks for no keys, so it listens on this machine alone")
			}
			backend := s3mem.New()
			if err := backend.CreateBucket("patientfox"); err != nil {
				return err
			}
			listener, err := net.Listen("tcp", listen)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(),
				"Storage is at http://%s, and forgets everything when it stops. To copy there:\nPATIENTFOX_S3_ID=any "+
					"PATIENTFOX_S3_SECRET=any patientfox serve --copy-to 's3://patientfox/practice?endpoint=http://%s&region=us-east-1'\n",
				listener.Addr(), listener.Addr())
			server := &http.Server{Handler: gofakes3.New(backend).Server(), ReadHeaderTimeout: 10 * time.Second}
			go func() {
				<-c.Context().Done()
				_ = server.Close()
			}()
			if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
				return err
			}
			return nil
		},
	}
	c.Flags().StringVar(&listen, "listen", "127.0.0.1:9410", "address to listen on")
	return c
}

// told says what a restore did, and what is to be done now.
func told(out io.Writer, r copies.Restored) {
	fmt.Fprintf(out, "%s now holds %s\n", r.Path, holds(r.Manifest))
	if r.Kept != "" {
		fmt.Fprintf(out, "What was there is kept as %s.\n", r.Kept)
	}
	if r.Keys {
		fmt.Fprintln(out, "Devices that were paired here come in as before, and send again what they still hold.")
	} else {
		fmt.Fprintln(out,
			"No device is paired here: each phone, and each browser on another machine, has to be paired once. Then it sends again "+
				"what it still holds.")
	}
}

// checkDaily checks the whole database file while it is served: soon, because a large one was checked quickly only when it
// was opened and a laptop may be shut before the day is over, and then once a day.
func checkDaily(ctx context.Context, st *store.Store, log *slog.Logger) {
	for wait := 10 * time.Minute; ; wait = 24 * time.Hour {
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		if err := st.Check(ctx); err != nil && ctx.Err() == nil {
			log.Error("the database failed its daily check", "error", err.Error())
		}
	}
}
