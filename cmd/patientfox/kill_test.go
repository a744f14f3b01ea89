package main_test

import (
	"bufio"
	"bytes"
	"context"
	"crypto/tls"
	"crypto/x509"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/ownca"
	"patientfox/internal/store"
)

var binary string

func TestMain(m *testing.M) {
	folder, err := os.MkdirTemp("", "patientfox")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(folder, "patientfox")
	build := exec.Command("go", "build", "-o", binary, ".")
	build.Stderr = os.Stderr
	if err := build.Run(); err != nil {
		fmt.Fprintln(os.Stderr, "building the program:", err)
		os.Exit(1)
	}
	code := m.Run()
	os.RemoveAll(folder)
	os.Exit(code)
}

// kills is how often the server is killed; `make soak` asks for more.
func kills() int { return asked("PATIENTFOX_KILLS", 20) }

func asked(name string, otherwise int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return otherwise
}

func freePort(t *testing.T) string {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	_, port, err := net.SplitHostPort(l.Addr().String())
	require.NoError(t, err)
	return port
}

// start runs the real program and waits until it answers.
func start(t *testing.T, data, port string, more ...string) *exec.Cmd {
	cmd := exec.Command(binary, append([]string{"serve", "--data", data, "--log", "error"}, more...)...)
	cmd.Env = append(os.Environ(), "PORT="+port)
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &out
	require.NoError(t, cmd.Start())
	require.Eventually(t, func() bool {
		resp, err := http.Get("http://127.0.0.1:" + port + "/healthz")
		if err != nil {
			return false
		}
		resp.Body.Close()
		return resp.StatusCode == 200
	}, 20*time.Second, 10*time.Millisecond, "the server does not answer: %s", &out)
	return cmd
}

func post(port string, events []record.Event) (stored []string, err error) {
	raw, err := json.Marshal(map[string]any{"events": events})
	if err != nil {
		return nil, err
	}
	req, err := http.NewRequest("POST", "http://127.0.0.1:"+port+"/api/events", bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Patient-Fox", "1")
	resp, err := http.DefaultClient.Do(req)
	if err != nil {
		return nil, err
	}
	defer resp.Body.Close()
	var answer struct {
		Receipts []struct{ ID, Result string }
	}
	if err := json.NewDecoder(resp.Body).Decode(&answer); err != nil {
		return nil, err
	}
	for _, r := range answer.Receipts {
		if r.Result == "stored" || r.Result == "duplicate" {
			stored = append(stored, r.ID)
		}
	}
	return stored, nil
}

// A server killed while events are posted has every event that it acknowledged after each restart.
func TestKilledServersLoseNothingTheyAcknowledged(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	rng := rand.New(rand.NewPCG(9, 9))
	session := record.UUID(rng)
	var lock sync.Mutex
	acknowledged := map[string]bool{}
	seq := int64(0)
	next := func() []record.Event {
		lock.Lock()
		defer lock.Unlock()
		events := make([]record.Event, 1+rng.IntN(8))
		for i := range events {
			seq++
			events[i] = record.Event{
				V: 1, ID: record.UUID(rng), Session: session, Dev: "phone", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
				Data: json.RawMessage(fmt.Sprintf(`{"text":"%s"}`, strings.Repeat("n", rng.IntN(300)))),
			}
		}
		return events
	}
	for round := range kills() {
		cmd := start(t, data, port)
		var posting sync.WaitGroup
		for range 3 {
			posting.Go(func() {
				for {
					stored, err := post(port, next())
					lock.Lock()
					for _, id := range stored {
						acknowledged[id] = true
					}
					lock.Unlock()
					if err != nil {
						return // killed
					}
				}
			})
		}
		lock.Lock()
		enough := len(acknowledged) + 5 + rng.IntN(60)
		lock.Unlock()
		require.Eventually(t, func() bool {
			lock.Lock()
			defer lock.Unlock()
			return len(acknowledged) >= enough
		}, 20*time.Second, time.Millisecond)
		require.NoError(t, cmd.Process.Signal(syscall.SIGKILL))
		_ = cmd.Wait()
		posting.Wait()

		st, err := store.Open(context.Background(), filepath.Join(data, "practice.db"))
		require.NoError(t, err, "round %d", round)
		events, err := st.Read().Events(context.Background(), session)
		require.NoError(t, err)
		require.NoError(t, st.Close())
		have := make(map[string]bool, len(events))
		for _, e := range events {
			have[e.ID] = true
		}
		for id := range acknowledged {
			require.True(t, have[id], "round %d: event %s was acknowledged and is gone", round, id)
		}
	}
	require.Greater(t, len(acknowledged), 5*kills())
}

func TestAnInterruptedServerStopsInGoodOrder(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	cmd := start(t, data, port)
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	require.NoError(t, cmd.Wait())
	_, err := os.Stat(filepath.Join(data, "practice.db-wal"))
	require.ErrorIs(t, err, os.ErrNotExist, "the log is folded in")
}

// Beyond loopback it speaks https with a certificate made on the spot, says how to trust it, and lets nobody in unasked.
func TestOtherMachinesReachItOverItsOwnCertificate(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	cmd := exec.Command(binary, "serve", "--data", data, "--listen", "0.0.0.0:"+port, "--tls", "self", "--log", "info")
	var logged bytes.Buffer
	cmd.Stderr = &logged
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	lines := bufio.NewScanner(out)
	said := ""
	for !strings.Contains(said, "SHA-256") && lines.Scan() {
		said += lines.Text() + "\n"
	}
	require.Contains(t, said, "patientfox pair")
	ca, err := os.ReadFile(filepath.Join(data, "tls", "root.pem"))
	require.NoError(t, err)
	trusted := x509.NewCertPool()
	require.True(t, trusted.AppendCertsFromPEM(ca))
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := http.Client{
		Jar: jar, Transport: &http.Transport{TLSClientConfig: &tls.Config{RootCAs: trusted}},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	for _, name := range ownca.OwnNames() {
		if ip := net.ParseIP(name); ip == nil || ip.To4() == nil || !ip.IsLoopback() && !ip.IsPrivate() {
			continue // the certificate speaks for no address that somebody else may have
		}
		answer, err := client.Get("https://" + name + ":" + port + "/")
		require.NoError(t, err)
		answer.Body.Close()
		require.Equal(t, http.StatusSeeOther, answer.StatusCode, "%s: nobody comes in unasked, not even from this machine", name)
	}
	// While it runs, a code from another terminal lets this machine's own browser in; it is in no log.
	printed, err := exec.Command(binary, "pair", "--data", data, "--log", "error").Output()
	require.NoError(t, err)
	code, _, _ := strings.Cut(string(printed), "\n")
	base := "https://127.0.0.1:" + port
	answer, err := client.Get(base + "/pair/" + code)
	require.NoError(t, err)
	answer.Body.Close()
	require.Equal(t, "/pair", answer.Header.Get("Location"))
	for _, cookie := range answer.Cookies() {
		require.True(t, cookie.Secure && cookie.HttpOnly, cookie.Name)
	}
	answer, err = client.Get(base + "/pair")
	require.NoError(t, err)
	page, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	answer.Body.Close()
	token := regexp.MustCompile(`name="csrf" value="([^"]+)"`).FindSubmatch(page)
	require.NotNil(t, token)
	answer, err = client.PostForm(base+"/pair", url.Values{"csrf": {string(token[1])}, "device": {"this machine"}})
	require.NoError(t, err)
	answer.Body.Close()
	require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	answer, err = client.Get(base + "/")
	require.NoError(t, err)
	answer.Body.Close()
	require.Equal(t, http.StatusOK, answer.StatusCode)
	require.Empty(t, answer.Header.Get("Strict-Transport-Security"), "not under a certificate made here")
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	_ = cmd.Wait()
	require.Contains(t, logged.String(), "/pair/…")
	require.NotContains(t, logged.String(), strings.ReplaceAll(code, "-", ""))
	require.NotContains(t, logged.String(), code)
}

func TestHalfACertificateIsRefusedInWords(t *testing.T) {
	for _, args := range [][]string{{"--tls-cert", "x.pem"}, {"--tls", "yes"}, {"--tls-cert", "no.pem", "--tls-key", "no.key"}} {
		out, err := exec.Command(binary, append([]string{"serve", "--data", t.TempDir(), "--listen", "127.0.0.1:0"}, args...)...).CombinedOutput()
		require.Error(t, err)
		require.Contains(t, string(out), "--tls")
	}
}

func TestTheDemoIsMadeOncePerDayAndRebuiltEqual(t *testing.T) {
	data := t.TempDir()
	file := func(now string) string {
		out, err := exec.Command(binary, "make-demo", "--data", data, "--now", now, "--log", "error").CombinedOutput()
		require.NoError(t, err, string(out))
		return strings.TrimSpace(string(out))
	}
	first := file("2026-11-23T15:00:00Z")
	before, err := os.Stat(first)
	require.NoError(t, err)
	require.Equal(t, first, file("2026-11-23T18:00:00Z"))
	after, err := os.Stat(first)
	require.NoError(t, err)
	require.Equal(t, before.ModTime(), after.ModTime(), "the same day's demo is kept")
	require.NotEqual(t, first, file("2026-11-24T09:00:00Z"))
	_, err = os.Stat(first)
	require.ErrorIs(t, err, os.ErrNotExist, "another day's demo is put away")
	out, err := exec.Command(binary, "rebuild", file("2026-11-24T09:00:00Z"), "--log", "error").CombinedOutput()
	require.NoError(t, err)
	require.Contains(t, string(out), "all equal")
}

func TestHelpNamesEveryFlagAndItsVariable(t *testing.T) {
	out, err := exec.Command(binary, "serve", "--help").CombinedOutput()
	require.NoError(t, err)
	for _, part := range []string{"--listen", "PORT", "--data", "PATIENTFOX_DATA", "--now", "--zone", "--log"} {
		require.Contains(t, string(out), part)
	}
}
