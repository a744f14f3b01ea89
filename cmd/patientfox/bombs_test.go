package main_test

import (
	"bytes"
	"compress/flate"
	"compress/gzip"
	"crypto/tls"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/andybalholm/brotli"
	"github.com/klauspost/compress/zstd"
	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// memory reads a figure of a process's memory in MB: VmRSS now, VmHWM at its highest.
func memory(t *testing.T, pid int, what string) int {
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	require.NoError(t, err)
	for line := range strings.Lines(string(raw)) {
		if rest, is := strings.CutPrefix(line, what+":"); is {
			kb, err := strconv.Atoi(strings.Fields(rest)[0])
			require.NoError(t, err)
			return kb >> 10
		}
	}
	t.Fatalf("no %s", what)
	return 0
}

// bombs are bodies that are small as they come and 100 MB unpacked, by how they are packed.
func bombs(t *testing.T) map[string][]byte {
	const size = 100 << 20
	zeros := func(to io.WriteCloser) {
		block := make([]byte, 1<<20)
		for range size >> 20 {
			_, err := to.Write(block)
			require.NoError(t, err)
		}
		require.NoError(t, to.Close())
	}
	list := map[string][]byte{}
	var out bytes.Buffer
	kept := func(name string) {
		list[name] = bytes.Clone(out.Bytes())
		out.Reset()
	}
	zeros(gzip.NewWriter(&out))
	kept("gzip")
	packed, err := flate.NewWriter(&out, 9)
	require.NoError(t, err)
	zeros(packed)
	kept("deflate")
	zeros(brotli.NewWriter(&out))
	kept("br")
	zstandard, err := zstd.NewWriter(&out)
	require.NoError(t, err)
	zeros(zstandard)
	kept("zstd")
	return list
}

// routes are all that take a body, with the form keys' place and names of nothing for what they name.
func routes(t *testing.T) (paths []string) {
	app, err := web.New(t.Context(), practicetest.Empty(t).Practice, web.Options{Log: practicetest.Quiet()})
	require.NoError(t, err)
	for _, r := range app.GetRoutes(true) {
		path := regexp.MustCompile(`:\w+`).ReplaceAllString(r.Path, "01a21cbc-e386-78c1-a278-3367636f6438")
		if r.Method == http.MethodPost && !slices.Contains(paths, path) {
			paths = append(paths, path)
		}
	}
	require.Greater(t, len(paths), 40)
	return append(paths, "/nothing", "/")
}

// No body is unpacked, or read beyond its bound, for strangers or for those who are let in, whatever the route.
func TestBombsTakeNoMemory(t *testing.T) {
	paths, packed := routes(t), bombs(t)
	var form bytes.Buffer
	parts := multipart.NewWriter(&form)
	file, err := parts.CreateFormFile("file", "template.json")
	require.NoError(t, err)
	_, err = file.Write(make([]byte, 30<<20))
	require.NoError(t, err)
	require.NoError(t, parts.Close())
	for who, flags := range map[string][]string{
		"strangers": {"--listen", "0.0.0.0:", "--tls", "self"}, "the machine itself": {"--listen", "127.0.0.1:"},
	} {
		t.Run(who, func(t *testing.T) {
			data, port := t.TempDir(), freePort(t)
			flags[1] += port
			base := "http://127.0.0.1:" + port
			if len(flags) > 2 {
				base = "https://127.0.0.1:" + port
			}
			cmd := exec.Command(binary, append([]string{"serve", "--data", data, "--log", "error"}, flags...)...)
			require.NoError(t, cmd.Start())
			t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
			client := &http.Client{
				Timeout:   20 * time.Second,
				Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}, DisableCompression: true},
			}
			healthy := func() bool {
				resp, err := client.Get(base + "/healthz")
				if err == nil {
					resp.Body.Close()
				}
				return err == nil && resp.StatusCode == http.StatusOK
			}
			require.Eventually(t, healthy, 20*time.Second, 20*time.Millisecond)
			send := func(path, encoding, kind string, body io.Reader) int {
				req, err := http.NewRequest("POST", base+path, body)
				require.NoError(t, err)
				if encoding != "" {
					req.Header.Set("Content-Encoding", encoding)
				}
				req.Header.Set("Content-Type", kind)
				req.Header.Set("X-Patient-Fox", "1")
				resp, err := client.Do(req)
				if err != nil {
					return 0 // hung up on
				}
				defer resp.Body.Close()
				_, _ = io.Copy(io.Discard, resp.Body)
				return resp.StatusCode
			}
			idle := memory(t, cmd.Process.Pid, "VmRSS")
			for _, path := range paths {
				var all sync.WaitGroup
				for encoding, body := range packed {
					for range 2 {
						all.Go(func() {
							if status := send(path, encoding, "application/json", bytes.NewReader(body)); status >= 200 && status < 300 || status >= 500 {
								t.Errorf("%s takes %s: %d", path, encoding, status)
							}
						})
					}
				}
				all.Go(func() { send(path, "", parts.FormDataContentType(), bytes.NewReader(form.Bytes())) })
				all.Go(func() {
					send(path, "", "application/x-www-form-urlencoded", strings.NewReader("a="+strings.Repeat("x", 20<<20)))
				})
				all.Go(func() {
					send(path, "", "application/json", struct{ io.Reader }{strings.NewReader(strings.Repeat("[", 20<<20))})
				}) // of no stated length
				all.Wait()
			}
			peak := memory(t, cmd.Process.Pid, "VmHWM")
			t.Logf("%d routes: idle %d MB, at most %d MB", len(paths), idle, peak)
			require.LessOrEqual(t, peak, idle+60)
			require.True(t, healthy())
		})
	}
}
