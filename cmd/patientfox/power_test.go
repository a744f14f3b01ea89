//go:build unix

package main_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/store"
)

// A power cut at any moment loses nothing that was acknowledged. The process is stopped and its files are copied; of the copied
// log only what was there at the last acknowledgement is sure to be on the disk, so it is cut anywhere behind that; and pages that
// were written back into the database since, and not known to be on the disk, are put back at random.
func TestPowerCutsLoseNothingThatWasAcknowledged(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	rng := rand.New(rand.NewPCG(12, 34))
	session := record.UUID(rng)
	path := filepath.Join(data, "practice.db")
	cmd := start(t, data, port)
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	acknowledged, seq := map[string]bool{}, int64(0)
	send := func(n int) {
		events := make([]record.Event, n)
		for i := range events {
			seq++
			events[i] = record.Event{
				V: 1, ID: record.UUID(rng), Session: session, Dev: "phone", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
				Data: json.RawMessage(fmt.Sprintf(`{"text":%q}`, strings.Repeat("n", rng.IntN(3000)))),
			}
		}
		stored, err := post(port, events)
		require.NoError(t, err)
		for _, id := range stored {
			acknowledged[id] = true
		}
	}
	read := func(name string) []byte {
		raw, err := os.ReadFile(name)
		require.NoError(t, err)
		return raw
	}
	for round := range asked("PATIENTFOX_POWER", 8) {
		send(1 + rng.IntN(20))
		earlier, salts := read(path), read(path + "-wal")[16:24]
		for range 1 + rng.IntN(6) {
			send(1 + rng.IntN(20))
		}
		info, err := os.Stat(path + "-wal")
		require.NoError(t, err)
		sure := int(info.Size())
		more := make(chan struct{})
		go func() { // something that is under way when the power goes, and is acknowledged to nobody
			defer close(more)
			raw := record.Event{
				V: 1, ID: record.UUID(rand.New(rand.NewPCG(uint64(round), 1))), Session: session, Dev: "other", Seq: int64(round + 1),
				T: 1, Wall: 1, Kind: record.KNote, Data: json.RawMessage(`{"text":"half way"}`),
			}
			_, _ = post(port, []record.Event{raw})
		}()
		require.NoError(t, cmd.Process.Signal(syscall.SIGSTOP))
		now, log := read(path), read(path+"-wal")
		require.NoError(t, cmd.Process.Signal(syscall.SIGCONT))
		<-more

		if sure = min(sure, len(log)); len(log) > sure {
			log = log[:sure+rng.IntN(len(log)-sure+1)]
		}
		if bytes.Equal(log[16:24], salts) { // the log was not begun anew since: it still holds every page that was written back
			for at := 0; at+4096 <= min(len(now), len(earlier)); at += 4096 {
				if rng.IntN(2) == 0 {
					copy(now[at:at+4096], earlier[at:at+4096])
				}
			}
		}
		cut := t.TempDir()
		require.NoError(t, os.WriteFile(filepath.Join(cut, "practice.db"), now, 0o600))
		require.NoError(t, os.WriteFile(filepath.Join(cut, "practice.db-wal"), log, 0o600))
		st, err := store.Open(context.Background(), filepath.Join(cut, "practice.db"))
		require.NoError(t, err, "round %d", round)
		events, err := st.Read().Events(context.Background(), session)
		require.NoError(t, err)
		have := map[string]bool{}
		for _, e := range events {
			have[e.ID] = true
		}
		for id := range acknowledged {
			require.True(t, have[id], "round %d: event %s was acknowledged and is gone", round, id)
		}
		require.NoError(t, st.Check(context.Background()), "round %d", round)
		require.NoError(t, st.Close())
	}
}
