package main_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// run runs one command of the program.
func run(t *testing.T, args ...string) (string, error) {
	t.Helper()
	out, err := exec.Command(binary, args...).CombinedOutput()
	return string(out), err
}

// A practice that is served is backed up, and cannot be served twice or restored over; stopped, it comes back as it was.
func TestCopiesByCommand(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	cmd := start(t, data, port)
	rng := rand.New(rand.NewPCG(3, 9))
	session := record.UUID(rng)
	note := func(seq int64) record.Event {
		return record.Event{
			V: 1, ID: record.UUID(rng), Session: session, Dev: "phone", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
			Data: json.RawMessage(`{"text":"at the ramp"}`),
		}
	}
	stored, err := post(port, []record.Event{note(1), note(2)})
	require.NoError(t, err)
	require.Len(t, stored, 2)
	copied := filepath.Join(t.TempDir(), "copy.zip")
	out, err := run(t, "backup", copied, "--data", data)
	require.NoError(t, err, out)
	require.Contains(t, out, "2 events")
	_, err = post(port, []record.Event{note(3)})
	require.NoError(t, err)
	out, err = run(t, "serve", "--data", data, "--listen", "127.0.0.1:0")
	require.Error(t, err)
	require.Contains(t, out, "served by another Patient Fox")
	out, err = run(t, "restore", copied, "--data", data)
	require.Error(t, err)
	require.Contains(t, out, "stop that one first")
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	require.NoError(t, cmd.Wait())

	out, err = run(t, "verify", copied)
	require.NoError(t, err, out)
	require.Contains(t, out, "is whole")
	out, err = run(t, "restore", copied, "--data", data)
	require.NoError(t, err, out)
	require.Contains(t, out, "What was there is kept as")
	require.Contains(t, out, "come in as before")
	require.Equal(t, 2, eventsIn(t, data, session))
	fresh := filepath.Join(t.TempDir(), "new")
	out, err = run(t, "restore", copied, "--data", fresh)
	require.NoError(t, err, out)
	require.Contains(t, out, "has to be paired once")
	out, err = run(t, "restore", "--data", fresh)
	require.Error(t, err)
	require.Contains(t, out, "--from")
	out, err = run(t, "--version")
	require.NoError(t, err)
	require.Contains(t, out, "patientfox")
}

func eventsIn(t *testing.T, data, session string) int {
	t.Helper()
	st, err := store.Open(context.Background(), filepath.Join(data, "practice.db"))
	require.NoError(t, err)
	defer st.Close()
	events, err := st.Read().Events(context.Background(), session)
	require.NoError(t, err)
	return len(events)
}

// A file that is not a practice's is refused in words by every command, and left alone.
func TestARefusedFileIsNotServed(t *testing.T) {
	data := t.TempDir()
	path := filepath.Join(data, "practice.db")
	require.NoError(t, os.WriteFile(path, []byte("dogs, and when they were walked"), 0o600))
	out, err := run(t, "serve", "--data", data, "--listen", "127.0.0.1:0")
	require.Error(t, err)
	require.Contains(t, out, path+" is not opened: it does not begin as a database does. It was left as it is.")
	raw, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, "dogs, and when they were walked", string(raw))
}

// Killed again and again while it is copied continuously, the copy holds at the end everything that was acknowledged.
func TestKilledServersGoOnCopying(t *testing.T) {
	data, port, to := t.TempDir(), freePort(t), filepath.Join(t.TempDir(), "elsewhere")
	rng := rand.New(rand.NewPCG(5, 9))
	session := record.UUID(rng)
	var lock sync.Mutex
	acknowledged, seq := 0, int64(0)
	next := func() []record.Event {
		lock.Lock()
		defer lock.Unlock()
		seq++
		return []record.Event{
			{
				V: 1, ID: record.UUID(rng), Session: session, Dev: "phone", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
				Data: json.RawMessage(fmt.Sprintf(`{"text":%q}`, strings.Repeat("n", rng.IntN(400)))),
			},
		}
	}
	rounds := asked("PATIENTFOX_COPY_KILLS", 4)
	for round := range rounds {
		cmd := start(t, data, port, "--copy-to", to)
		want := acknowledged + 20 + rng.IntN(40)
		for acknowledged < want {
			stored, err := post(port, next())
			require.NoError(t, err)
			acknowledged += len(stored)
		}
		signal := syscall.SIGKILL
		if round == rounds-1 {
			signal = syscall.SIGINT
		}
		require.NoError(t, cmd.Process.Signal(signal))
		_ = cmd.Wait()
	}
	for _, folder := range []string{data, to} {
		require.NoError(t, filepath.WalkDir(folder, func(path string, entry fs.DirEntry, err error) error {
			require.NoError(t, err)
			info, err := entry.Info()
			require.NoError(t, err)
			if path != data { // the test's own
				require.Zero(t, info.Mode().Perm()&0o077, "%s is its owner's alone", path)
			}
			return nil
		}))
	}
	back := t.TempDir()
	out, err := run(t, "restore", "--from", to, "--data", back, "--log", "error")
	require.NoError(t, err, out)
	require.Equal(t, acknowledged, eventsIn(t, back, session))
}
