package assets

import (
	"bytes"
	"compress/gzip"
	"io"
	"strings"
	"testing"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/require"
)

// What was packed when the program was built comes to every browser whole.
func TestAPackedFileComesToEveryBrowser(t *testing.T) {
	whole := []byte(strings.Repeat("step, hold, mark, pay. ", 400))
	var packed bytes.Buffer
	w := brotli.NewWriter(&packed)
	_, err := w.Write(whole)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	a := New(map[string][]byte{"run/core.wasm.br": packed.Bytes()}, "")
	require.False(t, a.Has("run/core.wasm.br"))
	f := a.files["run/core.wasm"]
	require.Equal(t, "application/wasm", f.Type)
	for accepted, want := range map[string]string{
		"gzip, deflate, br, zstd": "br", "br;q=0, gzip": "gzip", "gzip;q=0.5": "gzip", "": "", "identity": "", "brotli": "",
	} {
		body, encoding, err := f.As(accepted)
		require.NoError(t, err)
		require.Equal(t, want, encoding, accepted)
		read := io.Reader(bytes.NewReader(body))
		switch encoding {
		case "br":
			read = brotli.NewReader(read)
		case "gzip":
			read, err = gzip.NewReader(read)
			require.NoError(t, err)
		}
		got, err := io.ReadAll(read)
		require.NoError(t, err)
		require.Equal(t, whole, got, accepted)
	}
}

// A font is packed already, and a few bytes are not worth it.
func TestWhatIsNotPacked(t *testing.T) {
	a := New(map[string][]byte{
		"small.js": []byte("1"), "large.js": bytes.Repeat([]byte("1"), 4096), "large.woff2": bytes.Repeat([]byte("1"), 4096),
	}, "")
	for name, want := range map[string]string{"small.js": "", "large.js": "gzip", "large.woff2": ""} {
		_, encoding, err := a.files[name].As("gzip, br")
		require.NoError(t, err)
		require.Equal(t, want, encoding, name)
	}
	require.NotEqual(t, a.Build(), New(nil, "").Build())
	require.NotEqual(t, New(nil, "a").Build(), New(nil, "b").Build())
}
