package e2e_test

import (
	"encoding/json"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/e2e/browser"
	"patientfox/internal/practicetest"
	"patientfox/internal/randomlog"
)

// logs is how many random logs server and browser must agree on; `make soak` asks for more.
func logs() int {
	if n, err := strconv.Atoi(os.Getenv("PATIENTFOX_LOGS")); err == nil {
		return n
	}
	return 200
}

// The server's core and the browser's read the same shuffled log, with duplicates, amends and
// retracts, and show the same.
func TestServerAndBrowserFoldTheSame(t *testing.T) {
	t.Parallel()
	s := serve(t, practicetest.Empty(t))
	p := s.Page(browser.Laptop)
	p.Go("/run")
	p.Wait(`document.getElementById("run").dataset.wasm`)
	p.Eval(`window.ready = import(document.querySelector('script[type="module"]').src.replace("run.js", "core.js")).then(({ Core }) => {
		const d = document.getElementById("run").dataset;
		window.core = new Core({ worker: "/run/worker.js", exec: d.exec, wasm: d.wasm }); })`)
	browser.Get[bool](p, `ready.then(() => true)`)
	type round struct {
		Pack   json.RawMessage `json:"pack"`
		Events json.RawMessage `json:"events"`
		At     int64           `json:"at"`
	}
	const batch = 20
	n := logs()
	for from := 0; from < n; from += batch {
		var rounds []round
		var want []screen.View
		for seed := from; seed < min(from+batch, n); seed++ {
			pack, events := randomlog.Make(uint64(seed)+1, 20+seed%120)
			at := int64(1_000_000)
			run, err := session.Open(pack)
			require.NoError(t, err)
			run.Apply(events)
			want = append(want, screen.Of(run).View(at))
			packed, err := json.Marshal(pack)
			require.NoError(t, err)
			shuffled, err := json.Marshal(randomlog.Shuffle(uint64(seed), events))
			require.NoError(t, err)
			rounds = append(rounds, round{packed, shuffled, at})
		}
		raw, err := json.Marshal(rounds)
		require.NoError(t, err)
		answer := browser.Get[string](p, `(async () => { const out = [];
			for (const r of `+string(raw)+`) { await core.ask("open", r.pack, 0); out.push((await core.ask("apply", r.events, r.at)).view) }
			return JSON.stringify(out) })()`)
		var got []screen.View
		require.NoError(t, json.Unmarshal([]byte(answer), &got))
		require.Len(t, got, len(want))
		for i := range want {
			a, err := json.Marshal(want[i])
			require.NoError(t, err)
			b, err := json.Marshal(got[i])
			require.NoError(t, err)
			require.Equal(t, string(a), string(b), "log %d", from+i)
		}
	}
}
