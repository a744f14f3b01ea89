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
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/andybalholm/brotli"
	"github.com/klauspost/compress/zstd"
	"github.com/stretchr/testify/require"
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

// bombs are bodies that are small as they come and 200 MB unpacked, by how they are packed.
func bombs(t *testing.T) map[string][]byte {
	const size = 200 << 20
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

// No body is unpacked, or read beyond its bound, for strangers or for those who are let in, whatever the route.
func TestBombsTakeNoMemory(t *testing.T) {
	data, port := t.TempDir(), freePort(t)
	cmd := exec.Command(binary, "serve", "--data", data, "--listen", "0.0.0.0:"+port, "--tls", "self", "--log", "error")
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	client := &http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}, DisableCompression: true}}
	base := "https://127.0.0.1:" + port
	require.Eventually(t, func() bool {
		resp, err := client.Get(base + "/healthz")
		if err == nil {
			resp.Body.Close()
		}
		return err == nil
	}, 20*time.Second, 20*time.Millisecond)
	require.FileExists(t, filepath.Join(data, "practice.db"))
	send := func(host, path, encoding, kind string, body io.Reader) int {
		req, err := http.NewRequest("POST", base+path, body)
		require.NoError(t, err)
		req.Host = host
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
	packed := bombs(t)
	var form bytes.Buffer
	parts := multipart.NewWriter(&form)
	file, err := parts.CreateFormFile("file", "template.json")
	require.NoError(t, err)
	_, err = file.Write(make([]byte, 30<<20))
	require.NoError(t, err)
	require.NoError(t, parts.Close())
	paths := []string{"/signin", "/pair/ABCD", "/api/events", "/library", "/dogs", "/settings", "/devices/password", "/nothing", "/"}
	// 192.0.2.1 is nobody's name: the server takes who asks by it for a stranger.
	for _, host := range []string{"127.0.0.1:" + port, "192.0.2.1:" + port} {
		for _, path := range paths {
			var all sync.WaitGroup
			for encoding, body := range packed {
				for range 3 {
					all.Go(func() {
						status := send(host, path, encoding, "application/json", bytes.NewReader(body))
						if status != 0 && status != 415 && status != 429 {
							t.Errorf("%s takes %s: %d", path, encoding, status)
						}
					})
				}
			}
			all.Go(func() { send(host, path, "", parts.FormDataContentType(), bytes.NewReader(form.Bytes())) })
			all.Go(func() {
				send(host, path, "", "application/x-www-form-urlencoded", strings.NewReader("a="+strings.Repeat("x", 20<<20)))
			})
			all.Go(func() {
				send(host, path, "", "application/json", struct{ io.Reader }{strings.NewReader(strings.Repeat("[", 20<<20))})
			}) // of no stated length
			all.Wait()
		}
	}
	peak := memory(t, cmd.Process.Pid, "VmHWM")
	t.Logf("idle %d MB, at most %d MB", idle, peak)
	require.LessOrEqual(t, peak, idle+60, "idle it takes %d MB", idle)
	require.Equal(t, 0, func() int {
		resp, err := client.Get(base + "/healthz")
		require.NoError(t, err)
		resp.Body.Close()
		return resp.StatusCode - 200
	}())
}
