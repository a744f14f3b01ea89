package e2e_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/e2e/browser"
	"patientfox/internal/app"
	"patientfox/internal/practicetest"
)

// program builds the real program, once.
var program = sync.OnceValues(func() (string, error) {
	folder, err := os.MkdirTemp("", "patientfox-program")
	if err != nil {
		return "", err
	}
	binary := filepath.Join(folder, "patientfox")
	out, err := exec.Command("go", "build", "-o", binary, "patientfox/cmd/patientfox").CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("%w: %s", err, out)
	}
	return binary, nil
})

// process is the program on a practice's folder, to be killed.
type process struct {
	t    *testing.T
	o    *practicetest.Opened
	addr string
	cmd  *exec.Cmd
}

func (p *process) start() {
	p.t.Helper()
	binary, err := program()
	require.NoError(p.t, err)
	p.cmd = exec.Command(binary, "serve", "--data", filepath.Dir(p.o.Path), "--listen", p.addr, "--log", "error")
	require.NoError(p.t, p.cmd.Start())
	require.Eventually(p.t, func() bool {
		answer, err := http.Get("http://" + p.addr + "/healthz")
		if err != nil {
			return false
		}
		answer.Body.Close()
		return answer.StatusCode == http.StatusOK
	}, 20*time.Second, 10*time.Millisecond, "the server does not answer")
}

// kill ends it as a power cut does.
func (p *process) kill() {
	_ = p.cmd.Process.Kill()
	_ = p.cmd.Wait()
}

// flood posts events of a session for as long as it is let, and returns the ids that the server acknowledged.
func flood(addr, session string, stop <-chan struct{}) (acknowledged []string) {
	for seq := int64(1); ; {
		select {
		case <-stop:
			return acknowledged
		default:
		}
		events := make([]record.Event, 20)
		for i := range events {
			events[i] = record.Event{
				V: 1, ID: app.NewID(), Session: session, Dev: "other", Seq: seq, T: seq, Wall: seq, Kind: record.KNote,
				Data: json.RawMessage(`{"text":"n"}`),
			}
			seq++
		}
		raw, err := json.Marshal(map[string]any{"events": events})
		if err != nil {
			panic(err)
		}
		ask, err := http.NewRequest(http.MethodPost, "http://"+addr+"/api/events", bytes.NewReader(raw))
		if err != nil {
			panic(err)
		}
		ask.Header.Set("Content-Type", "application/json")
		ask.Header.Set("X-Patient-Fox", "1")
		answer, err := http.DefaultClient.Do(ask)
		if err != nil {
			continue // it is being killed
		}
		var said struct {
			Receipts []struct{ ID, Result string }
		}
		err = json.NewDecoder(answer.Body).Decode(&said)
		answer.Body.Close()
		for _, r := range said.Receipts {
			if err == nil && (r.Result == "stored" || r.Result == "duplicate") {
				acknowledged = append(acknowledged, r.ID)
			}
		}
	}
}

// The server is killed and started again while a phone logs and another device floods it: what was tapped and what was
// acknowledged is there, each once.
func TestAServerKilledUnderLoadLosesNothing(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "0.5, 1, 2")
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	s := &process{t: t, o: o, addr: free.Addr().String()}
	require.NoError(t, free.Close())
	s.start()
	t.Cleanup(s.kill)

	p := chromium.Page("http://"+s.addr, browser.Phone, t.Fatalf)
	t.Cleanup(p.Close)
	begin(p, plan, "")
	stop, flooded, other := make(chan struct{}), make(chan []string, 1), app.NewID()
	go func() { flooded <- flood(s.addr, other, stop) }()
	for range 3 {
		press(p)
		phase(p, "trying")
		s.kill() // between the cue and the mark, with posts on their way
		p.Wait(`patientfox.view.dial.full`)
		press(p)
		phase(p, "idle")
		s.start()
	}
	saved(p)
	close(stop)
	acknowledged := <-flooded
	require.Equal(t, "3 trials · 3 pays", p.Text("#log"))
	require.NotEmpty(t, acknowledged)
	p.Errors() // the browser notes each try that failed

	events, err := o.Store.Read().Events(ctx, browser.Get[string](p, `patientfox.session.id`))
	require.NoError(t, err)
	require.Len(t, events, 2+3*4)
	there := map[string]bool{}
	logged, err := o.Store.Read().Events(ctx, other)
	require.NoError(t, err)
	for _, e := range logged {
		there[e.ID] = true
	}
	for _, id := range acknowledged {
		require.True(t, there[id], "acknowledged and gone")
	}
}
