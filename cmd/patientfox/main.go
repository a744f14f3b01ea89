// Command patientfox is the whole application: serve a practice, serve the demo, rebuild what is
// derived.
package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"os/signal"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/spf13/cobra"
	"github.com/thlib/go-timezone-local/tzlocal"

	"patientfox/internal/copies"
	"patientfox/internal/demo"
	"patientfox/internal/practice"
	"patientfox/internal/store"
	"patientfox/internal/web"
)

func main() {
	private()
	cobra.MousetrapHelpText = "" // a double-click on Windows starts it too
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := command().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "patientfox:", err)
		if runtime.GOOS == "windows" && len(os.Args) == 1 { // its window would close before anybody has read that
			fmt.Fprintln(os.Stderr, "Press Enter to close this window.")
			_, _ = fmt.Scanln()
		}
		os.Exit(1)
	}
}

// options are set by flags, else by the environment, else by their defaults.
type options struct {
	data, listen, zone, now, level string
	hosts                          []string
	tls, cert, key, public         string
	show                           bool // the browser is opened
	daily                          bool // a copy a day, and a check of the file
	identity, recipient            string
	copyTo, copyKeys, from, at     string // of the continuous copy
}

func env(name, otherwise string) string {
	if value := os.Getenv(name); value != "" {
		return value
	}
	return otherwise
}

// localZone is this machine's zone by name, UTC where it does not say.
func localZone() string {
	zone, err := tzlocal.RuntimeTZ()
	if err != nil {
		return "UTC"
	}
	return zone
}

func command() *cobra.Command {
	o := &options{}
	root := &cobra.Command{
		Use: "patientfox", Short: "Plans and logs dog training, and says what the record shows",
		Version: version(), SilenceUsage: true, SilenceErrors: true,
	}
	root.Args = cobra.NoArgs
	root.RunE = func(c *cobra.Command, _ []string) error { return o.openOrServe(c.Context(), c.OutOrStdout()) }
	folder, err := os.UserConfigDir()
	if err != nil {
		folder = "."
	}
	flags := root.PersistentFlags()
	flags.StringVar(&o.data, "data", env("PATIENTFOX_DATA", filepath.Join(folder, "patientfox")), "folder of the databases (PATIENTFOX_DATA)")
	flags.StringVar(&o.zone, "zone", env("PATIENTFOX_ZONE", env("TZ", localZone())),
		"time zone of a new practice, by default this machine's (PATIENTFOX_ZONE, TZ)")
	flags.StringVar(&o.now, "now", env("PATIENTFOX_NOW", ""), "take this moment for now, RFC 3339; for pictures and tests (PATIENTFOX_NOW)")
	flags.StringVar(&o.level, "log", env("PATIENTFOX_LOG", "info"), "debug, info, warn or error (PATIENTFOX_LOG)")

	served := func(c *cobra.Command) *cobra.Command {
		c.Flags().StringVar(&o.listen, "listen", env("PATIENTFOX_LISTEN", "127.0.0.1:"+env("PORT", "8420")),
			"address to listen on; beyond loopback whoever asks has to be let in (PATIENTFOX_LISTEN, PORT)")
		c.Flags().StringSliceVar(&o.hosts, "host", nil, "a further name to answer to")
		c.Flags().StringVar(&o.tls, "tls", "", "self: make a certificate on the spot")
		c.Flags().StringVar(&o.cert, "tls-cert", "", "file of a certificate, PEM")
		c.Flags().StringVar(&o.key, "tls-key", "", "file of its key, PEM")
		c.Flags().StringVar(&o.public, "public-url", "", "address under which phones reach it, for pairing links; by https also for households")
		c.Flags().StringVar(&o.copyTo, "copy-to", env("PATIENTFOX_COPY_TO", ""),
			"copy continuously to this folder, or s3://bucket/prefix?endpoint=… (PATIENTFOX_COPY_TO)")
		o.keysFlag(c)
		return c
	}
	served(root)
	root.AddCommand(
		served(&cobra.Command{Use: "serve", Short: "Serve your practice", Args: cobra.NoArgs,
			RunE: func(c *cobra.Command, _ []string) error {
				o.daily = true
				return o.serve(c.Context(), filepath.Join(o.data, "practice.db"), c.OutOrStdout())
			}}),
		served(&cobra.Command{Use: "demo", Short: "Serve the demo practice, made afresh each day", Args: cobra.NoArgs,
			RunE: func(c *cobra.Command, _ []string) error { return o.serveDemo(c.Context(), c.OutOrStdout()) }}),
		&cobra.Command{Use: "make-demo", Short: "Make the demo practice and print its file", Args: cobra.NoArgs,
			RunE: func(c *cobra.Command, _ []string) error {
				path, err := o.demo(c.Context(), io.Discard)
				if err == nil {
					fmt.Fprintln(c.OutOrStdout(), path)
				}
				return err
			}},
		&cobra.Command{Use: "make-large", Short: "Make a large practice, for measuring, and print its file", Args: cobra.NoArgs,
			RunE: func(c *cobra.Command, _ []string) error {
				return o.large(c.Context(), c.OutOrStdout(), c.ErrOrStderr())
			}},
		o.backupCommand(), o.restoreCommand(), o.verifyCommand(), o.storageCommand(),
		&cobra.Command{Use: "pair [name]", Short: "Print a code that lets one device in, within ten minutes", Args: cobra.MaximumNArgs(1),
			RunE: func(c *cobra.Command, args []string) error {
				return o.pair(c.Context(), args, c.OutOrStdout())
			}},
		&cobra.Command{Use: "forget-password name", Args: cobra.ExactArgs(1),
			Short: "Take somebody's password and passkeys away, and sign their devices out",
			RunE: func(c *cobra.Command, args []string) error {
				return o.forgetPassword(c.Context(), args[0], c.OutOrStdout())
			}},
		&cobra.Command{Use: "rebuild [database]", Short: "Derive everything anew from the events, and say whether it was " +
			"equal", Args: cobra.MaximumNArgs(1), RunE: func(c *cobra.Command, args []string) error {
			path := filepath.Join(o.data, "practice.db")
			if len(args) == 1 {
				path = args[0]
			}
			return o.rebuild(c.Context(), path, c.OutOrStdout())
		}},
	)
	return root
}

// large makes a large practice in the data folder.
func (o *options) large(ctx context.Context, out, progress io.Writer) error {
	log, err := o.logger()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(o.data, 0o700); err != nil {
		return err
	}
	path := filepath.Join(o.data, "large.db")
	if _, err := os.Stat(path); err == nil {
		return fmt.Errorf("%s is there already", path)
	}
	st, err := store.Open(ctx, path)
	if err != nil {
		return err
	}
	defer st.Close()
	clock, err := o.clock()
	if err != nil {
		return err
	}
	p, err := practice.Open(ctx, st, log, clock, "UTC")
	if err != nil {
		return err
	}
	size := demo.LargeSize
	fmt.Fprintln(progress, size.Said())
	last := 0
	err = demo.Large(ctx, p, size, clock(), func(sessions int) {
		if part := 100 * sessions / size.Sessions; part >= last+5 {
			last = part
			fmt.Fprintf(progress, "%d %%\n", part)
		}
	})
	if err == nil {
		fmt.Fprintln(out, path)
	}
	return err
}

func (o *options) logger() (*slog.Logger, error) {
	var level slog.Level
	if err := level.UnmarshalText([]byte(o.level)); err != nil {
		return nil, fmt.Errorf("--log: %w", err)
	}
	return slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: level})), nil
}

// clock is the real one, or starts at --now and goes on from there.
func (o *options) clock() (func() time.Time, error) {
	if o.now == "" {
		return time.Now, nil
	}
	at, err := time.Parse(time.RFC3339, o.now)
	if err != nil {
		return nil, fmt.Errorf("--now: write it as 2026-11-23T15:00:00Z")
	}
	started := time.Now()
	return func() time.Time { return at.Add(time.Since(started)) }, nil
}

// serveDemo serves the demo practice. Where this machine alone reaches it, a household's page can be looked at from here.
func (o *options) serveDemo(ctx context.Context, out io.Writer) error {
	path, err := o.demo(ctx, out)
	if err != nil {
		return err
	}
	if o.public == "" && loopback(o.listen) {
		o.public = "http://" + o.listen
	}
	return o.serve(ctx, path, out)
}

func loopback(listen string) bool {
	host, _, err := net.SplitHostPort(listen)
	if err != nil {
		return false
	}
	ip := net.ParseIP(host)
	return host == "localhost" || ip != nil && ip.IsLoopback()
}

func (o *options) open(ctx context.Context, path string) (*store.Store, *practice.Practice, error) {
	log, err := o.logger()
	if err != nil {
		return nil, nil, err
	}
	now, err := o.clock()
	if err != nil {
		return nil, nil, err
	}
	st, err := store.Open(ctx, path)
	if err != nil {
		return nil, nil, err
	}
	p, err := practice.Open(ctx, st, log, now, o.zone)
	if err != nil {
		return nil, nil, errors.Join(err, st.Close())
	}
	return st, p, nil
}

func (o *options) serve(ctx context.Context, path string, out io.Writer) (err error) {
	locked, err := lock(path)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, locked.Unlock()) }()
	reached := !loopback(o.listen)
	secure, err := o.secured()
	if err != nil {
		return err
	}
	log, err := o.logger()
	if err != nil {
		return err
	}
	st, p, err := o.open(ctx, path)
	if err != nil {
		return err
	}
	background, rest := context.WithCancel(ctx)
	var keeping sync.WaitGroup
	var copied *copies.Continuous
	defer func() {
		rest()
		p.Close()
		keeping.Wait()
		err = errors.Join(err, st.Close())
		if copied != nil {
			err = errors.Join(err, copied.Close()) // after the database's own connections
		}
	}()
	if o.copyTo != "" {
		if copied, err = o.continues(ctx, path, log); err != nil {
			return err
		}
	}
	keeping.Go(func() { p.KeepUp(background) })
	now, err := o.clock()
	if err != nil {
		return err
	}
	keeper := &copies.Keeper{Path: path, Program: version(), Now: now}
	if o.daily {
		keeping.Go(func() {
			keeper.Daily(background, func(err error) { log.Error("the daily copy", "error", err.Error()) })
		})
		keeping.Go(func() { checkDaily(background, st, log) })
	}
	app, err := web.New(ctx, p, web.Options{
		Log: log, Hosts: append(append(o.hosts, secure.names...), o.publicName()...), SignIn: reached, PublicURL: o.publicURL(reached, secure),
		Households: o.households(secure), CA: secure.ca, Print: secure.print,
		Version: version(), Copies: keeper, Continuous: copied, HSTS: o.public != "" && o.cert != "",
	})
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", o.listen)
	if err != nil {
		return fmt.Errorf("%w; set PORT to use another one", err)
	}
	scheme := "http"
	if secure.config != nil {
		scheme, listener = "https", tls.NewListener(listener, secure.config)
	}
	address := servedAt(scheme, listener.Addr())
	fmt.Fprintf(out, "Patient Fox is at %s\nIts database is %s\nStop it with Ctrl-C.\n", address, path)
	if err := os.WriteFile(addressFile(path), []byte(address+"\n"), 0o600); err != nil {
		log.Warn("where it is served could not be written down", "error", err.Error())
	}
	defer os.Remove(addressFile(path))
	if o.show {
		if err := show(ctx, address); err != nil {
			log.Warn("the browser could not be opened", "error", err.Error())
		}
	}
	o.reachedBy(out, reached, secure)
	stopped := make(chan error, 1)
	go func() {
		<-ctx.Done()
		log.Info("stopping")
		stopped <- app.ShutdownWithTimeout(10 * time.Second)
	}()
	if err := app.Listener(listener, fiber.ListenConfig{DisableStartupMessage: true}); err != nil {
		return err
	}
	return <-stopped
}

// demo makes today's demo practice where there is none of today and of this schema.
func (o *options) demo(ctx context.Context, out io.Writer) (string, error) {
	log, err := o.logger()
	if err != nil {
		return "", err
	}
	now, err := o.clock()
	if err != nil {
		return "", err
	}
	folder := filepath.Join(o.data, "demo")
	path := demo.File(folder, now())
	if _, err := os.Stat(path); err == nil {
		return path, nil
	}
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return "", err
	}
	fmt.Fprintln(out, "Making the demo practice …")
	making := path + ".new"
	for _, old := range files(folder, "demo-") {
		if err := os.Remove(old); err != nil {
			return "", err
		}
	}
	if err := demo.Make(ctx, making, now(), log); err != nil {
		return "", err
	}
	return path, os.Rename(making, path)
}

func files(folder, prefix string) []string {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return nil
	}
	var list []string
	for _, e := range entries {
		if strings.HasPrefix(e.Name(), prefix) && !e.IsDir() {
			list = append(list, filepath.Join(folder, e.Name()))
		}
	}
	slices.Sort(list)
	return list
}

func (o *options) rebuild(ctx context.Context, path string, out io.Writer) error {
	if _, err := os.Stat(path); err != nil {
		return err
	}
	st, p, err := o.open(ctx, path)
	if err != nil {
		return err
	}
	r, err := p.Rebuild(ctx)
	if err = errors.Join(err, st.Close()); err != nil {
		return err
	}
	if len(r.Changed) == 0 {
		fmt.Fprintf(out, "%d sessions derived anew: all equal.\n", r.Sessions)
		return nil
	}
	fmt.Fprintf(out, "%d sessions derived anew: %d were not equal and now are:\n%s\n", r.Sessions, len(r.Changed),
		strings.Join(r.Changed, "\n"))
	return nil
}
