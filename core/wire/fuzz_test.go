package wire_test

import (
	"encoding/json"
	"testing"

	"patientfox/core/wire"
)

// FuzzReader: what the reader takes is JSON as the standard library sees it, and it never panics.
func FuzzReader(f *testing.F) {
	for _, seed := range []string{`{"a":[1,2,{"b":null}]}`, `"\ud800\u0041"`, `-0.5e+3`, `[[[[]]]]`, `{"a":1,"a":2}`, "\"\xff\"", `nul`, ``, `{"text":"x","set":{"n":[1]}}`} {
		f.Add([]byte(seed))
	}
	type shape struct {
		Text string                     `json:"text"`
		Set  map[string]json.RawMessage `json:"set"`
		List []struct {
			N *int `json:"n"`
		} `json:"list"`
		X float64 `json:"x"`
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		if wire.Valid(raw) && !json.Valid(raw) {
			t.Fatalf("taken, and no JSON: %q", raw)
		}
		wire.Compact(raw)
		for _, to := range []any{new(shape), new([]int), new(map[string]float64), new(string), new(*bool)} {
			_ = wire.Unmarshal(raw, to)
		}
	})
}
