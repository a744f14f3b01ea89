package wire_test

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/core/wire"
)

type inner struct {
	Paces int      `json:"paces,omitempty"`
	S     *float64 `json:"s,omitempty"`
}

type key string

type outer struct {
	Name  string             `json:"name"`
	Kind  key                `json:"kind,omitempty"`
	On    bool               `json:"on,omitempty"`
	N     int64              `json:"n"`
	U     uint64             `json:"u,omitempty"`
	X     float64            `json:"x"`
	List  []inner            `json:"list"`
	Words []string           `json:"words,omitempty"`
	By    map[key]float64    `json:"by,omitempty"`
	Lists map[string][]inner `json:"lists,omitempty"`
	Raw   json.RawMessage    `json:"raw,omitempty"`
	One   *inner             `json:"one,omitempty"`
	Two   inner              `json:"two"`
	Bare  int
	Not   int `json:"-"`
	inner
}

func drawn(t *rapid.T) outer {
	word := rapid.StringOf(rapid.RuneFrom([]rune("abé🦊\"\\\n\t\x01\u2028<&/ ")))
	x := rapid.Float64Range(-1e12, 1e12)
	in := rapid.Custom(func(t *rapid.T) inner {
		one := inner{Paces: rapid.IntRange(-5, 5).Draw(t, "paces")}
		if rapid.Bool().Draw(t, "s") {
			s := x.Draw(t, "seconds")
			one.S = &s
		}
		return one
	})
	o := outer{
		Name: word.Draw(t, "name"), Kind: key(word.Draw(t, "kind")), On: rapid.Bool().Draw(t, "on"), N: rapid.Int64().Draw(t, "n"), U: rapid.Uint64().Draw(t, "u"),
		X: x.Draw(t, "x"), List: rapid.SliceOf(in).Draw(t, "list"), Words: rapid.SliceOf(word).Draw(t, "words"), Two: in.Draw(t, "two"),
		By: rapid.MapOf(rapid.Map(word, func(s string) key { return key(s) }), x).Draw(t, "by"), Lists: rapid.MapOf(word, rapid.SliceOf(in)).Draw(t, "lists"),
		inner: in.Draw(t, "inner"),
	}
	if rapid.Bool().Draw(t, "raw") {
		o.Raw, _ = json.Marshal(o.Words)
	}
	if rapid.Bool().Draw(t, "one") {
		one := in.Draw(t, "pointed")
		o.One = &one
	}
	return o
}

// What is written reads as the library reads it, and what the library writes reads the same.
func TestReadsAndWritesAsTheLibraryDoes(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := drawn(t)
		ours, err := wire.Marshal(o)
		require.NoError(t, err)
		theirs, err := json.Marshal(o)
		require.NoError(t, err)
		require.JSONEq(t, string(theirs), string(ours))
		var a, b outer
		require.NoError(t, json.Unmarshal(theirs, &a))
		require.NoError(t, wire.Unmarshal(theirs, &b))
		require.Equal(t, a, b)
		spaced, err := json.MarshalIndent(o, "\n", "\t ")
		require.NoError(t, err)
		require.Equal(t, string(theirs), string(wire.Compact(spaced)))
	})
}

// Whatever bytes come in, they are JSON for us where they are for the library, and nothing breaks.
func TestDamagedTextIsRefusedAsTheLibraryRefusesIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		raw, err := json.Marshal(drawn(t))
		require.NoError(t, err)
		for range rapid.IntRange(0, 3).Draw(t, "damage") {
			at := rapid.IntRange(0, len(raw)-1).Draw(t, "at")
			raw[at] = rapid.SampledFrom([]byte(`{}[],:"\0129.eE-+tfnu `)).Draw(t, "to")
		}
		raw = raw[:rapid.IntRange(len(raw)/2, len(raw)).Draw(t, "cut")]
		require.Equal(t, json.Valid(raw), wire.Valid(raw), "%q", raw)
		var a, b outer
		theirs, ours := json.Unmarshal(raw, &a), wire.Unmarshal(raw, &b)
		if ours == nil {
			require.NoError(t, theirs)
		}
	})
}

func FuzzValid(f *testing.F) {
	for _, text := range []string{`{"a":[1,2.5e-3,"\ud83e\udd8a",null,true]}`, "[[[]]]", `"\u12"`, "01", "-", "1.", "nul"} {
		f.Add([]byte(text))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		if len(raw) < 150 {
			require.Equal(t, json.Valid(raw), wire.Valid(raw))
		}
	})
}

func TestWhatCannotBeWrittenOrReadSaysSo(t *testing.T) {
	_, err := wire.Marshal(math.NaN())
	require.Error(t, err)
	_, err = wire.Marshal(make(chan int))
	require.Error(t, err)
	var n int
	for _, text := range []string{"1.5", `"1"`, "", "1 2", "99999999999999999999"} {
		require.Error(t, wire.Unmarshal([]byte(text), &n), text)
	}
	var o outer
	require.NoError(t, wire.Unmarshal([]byte(`{"name":null,"unknown":[{"x":1}],"list":null,"NAME":"x"}`), &o))
	require.Equal(t, outer{}, o, "keys are read as they are written")
	deep := make([]byte, 5000)
	for i := range deep {
		deep[i] = '['
	}
	require.False(t, wire.Valid(deep))
}
