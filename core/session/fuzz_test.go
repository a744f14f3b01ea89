package session_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/screen"
	"patientfox/internal/randomlog"
)

// FuzzPack: a pack that can be opened can be set up, begun, pressed and shown.
func FuzzPack(f *testing.F) {
	for seed := range uint64(4) {
		pack, _ := randomlog.Make(seed, 0)
		raw, err := json.Marshal(pack)
		require.NoError(f, err)
		f.Add(raw)
	}
	f.Add([]byte(`{"steps":[{}],"rule":{"kind":"set","size":5}}`))
	f.Add([]byte(`{"steps":[{"id":"a"}],"rule":{"kind":"proof"},"kind":"walking","place":{"reached":"b"},"stretch":[{}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var d screen.Door
		for _, call := range []struct{ method, arg string }{
			{"open", string(raw)}, {"setup", `{}`}, {"begin", `{}`}, {"view", ``}, {"press", `"main"`}, {"note", `"x"`},
			{"exits", ``}, {"reckoning", ``}, {"after", ``},
			{"close", `{"end":true,"reason":"done"}`},
		} {
			var answer struct{ Error string }
			if err := json.Unmarshal(d.Call(call.method, []byte(call.arg), 1000), &answer); err != nil {
				t.Fatalf("%s answers no JSON: %v", call.method, err)
			}
			if call.method == "open" && answer.Error != "" {
				return
			}
		}
	})
}
