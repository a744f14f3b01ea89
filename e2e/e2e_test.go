// Package e2e_test drives the real interface in Chromium.
package e2e_test

import (
	"context"
	"crypto/tls"
	"fmt"
	"net"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
	"patientfox/internal/web/run"
)

var (
	ctx      = context.Background()
	chromium *browser.Browser
)

func TestMain(m *testing.M) {
	if !run.Built() {
		fmt.Fprintln(os.Stderr, "the browser's core is not built: run `make core` first")
		os.Exit(1)
	}
	var err error
	if chromium, err = browser.Start(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	code := m.Run()
	chromium.Close()
	os.Exit(code)
}

// server is the application on its own port. It can be stopped and started again there.
type server struct {
	*practicetest.Opened
	t    testing.TB
	Addr string
	With web.Options // beside the log
	TLS  *tls.Config // nil for plain http
	stop func()
	keep sync.Once // sessions are read in the background until the test ends
}

func serve(t testing.TB, o *practicetest.Opened) *server {
	t.Helper()
	return serveAt(t, o, "127.0.0.1:0", web.Options{})
}

func serveAt(t testing.TB, o *practicetest.Opened, addr string, with web.Options) *server {
	t.Helper()
	s := &server{Opened: o, t: t, Addr: addr, With: with}
	s.Start()
	t.Cleanup(func() { s.Stop() })
	return s
}

// Start listens on the server's address.
func (s *server) Start() {
	s.t.Helper()
	s.keep.Do(func() { s.KeepUp(s.t) })
	s.With.Log = practicetest.Quiet()
	app, err := web.New(ctx, s.Practice, s.With)
	require.NoError(s.t, err)
	listener, err := net.Listen("tcp", s.Addr)
	require.NoError(s.t, err)
	s.Addr = listener.Addr().String()
	calls := &calls{Listener: listener}
	listener = calls
	if s.TLS != nil {
		listener = tls.NewListener(listener, s.TLS)
	}
	done := make(chan struct{})
	go func() {
		defer close(done)
		_ = app.Listener(listener, fiber.ListenConfig{DisableStartupMessage: true})
	}()
	s.stop = func() {
		_ = app.ShutdownWithTimeout(2 * time.Second)
		calls.hangUp()
		<-done
		s.stop = nil
	}
}

// calls are the connections that were taken: a browser would be answered on one that stays open after the server has stopped.
type calls struct {
	net.Listener
	lock sync.Mutex
	open []net.Conn
}

func (c *calls) Accept() (net.Conn, error) {
	one, err := c.Listener.Accept()
	if err == nil {
		c.lock.Lock()
		c.open = append(c.open, one)
		c.lock.Unlock()
	}
	return one, err
}

func (c *calls) hangUp() {
	c.lock.Lock()
	defer c.lock.Unlock()
	for _, one := range c.open {
		_ = one.Close()
	}
}

// Stop takes the server away, as a lost signal does.
func (s *server) Stop() {
	if s.stop != nil {
		s.stop()
	}
}

// Page opens a page on the server; what goes wrong in its scripts fails the test at its end.
func (s *server) Page(size browser.Size) *browser.Page {
	s.t.Helper()
	return s.pageOf(chromium, "http", size)
}

func (s *server) pageOf(b *browser.Browser, scheme string, size browser.Size) *browser.Page {
	s.t.Helper()
	p := b.Page(scheme+"://"+s.Addr, size, s.t.Fatalf)
	s.t.Cleanup(p.Close)
	p.Clock(time.Until(s.Clock.Now())) // the practice's clock, whatever the day is
	return p
}

// clean asserts that nothing went wrong in a page's scripts so far.
func clean(t testing.TB, p *browser.Page) {
	t.Helper()
	require.Empty(t, p.Errors())
}
