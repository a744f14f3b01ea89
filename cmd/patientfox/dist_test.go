package main_test

import (
	"archive/tar"
	"archive/zip"
	"bytes"
	"compress/gzip"
	"debug/elf"
	"debug/macho"
	"debug/pe"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// unpacked is the content of an archive by the name of each file, without the folder they lie in.
func unpacked(t *testing.T, path string) map[string][]byte {
	t.Helper()
	files := map[string][]byte{}
	if strings.HasSuffix(path, ".zip") {
		packed, err := zip.OpenReader(path)
		require.NoError(t, err)
		defer packed.Close()
		for _, f := range packed.File {
			in, err := f.Open()
			require.NoError(t, err)
			files[filepath.Base(f.Name)], err = io.ReadAll(in)
			require.NoError(t, err)
		}
		return files
	}
	in, err := os.Open(path)
	require.NoError(t, err)
	defer in.Close()
	packed, err := gzip.NewReader(in)
	require.NoError(t, err)
	list := tar.NewReader(packed)
	for {
		head, err := list.Next()
		if err == io.EOF {
			return files
		}
		require.NoError(t, err)
		if head.Typeflag == tar.TypeReg {
			files[filepath.Base(head.Name)], err = io.ReadAll(list)
			require.NoError(t, err)
		}
	}
}

// archives are those to be looked at: this system's, made here, or all of a folder that `make dist` made.
func archives(t *testing.T) []string {
	folder := os.Getenv("PATIENTFOX_DIST")
	if folder == "" {
		folder = t.TempDir()
		build := exec.Command("../../scripts/dist.sh", folder)
		build.Env = append(os.Environ(), "TARGETS=linux/amd64", "RELEASE=test")
		out, err := build.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	zips, err := filepath.Glob(filepath.Join(folder, "*.zip"))
	require.NoError(t, err)
	tars, err := filepath.Glob(filepath.Join(folder, "*.tar.gz"))
	require.NoError(t, err)
	require.FileExists(t, filepath.Join(folder, "SHA256SUMS"))
	require.NotEmpty(t, append(zips, tars...))
	return append(zips, tars...)
}

// What a trainer unpacks has one program for the system it says, a page to read first, and the notices of what it carries; this
// system's starts, shows its page, and a second one finds the first.
func TestArchives(t *testing.T) {
	for _, path := range archives(t) {
		files := unpacked(t, path)
		require.Len(t, files, 3, path)
		require.Contains(t, string(files["READ-ME-FIRST.txt"]), "patientfox")
		for _, notice := range []string{"Alpine.js", "Atkinson", "Lucide", "gofiber/fiber", "modernc.org/sqlite", "litestream", "Copyright"} {
			require.Contains(t, string(files["THIRD-PARTY.txt"]), notice)
		}
		require.NotContains(t, string(files["THIRD-PARTY.txt"]), "carries no licence file")
		program := files["patientfox"]
		switch name := filepath.Base(path); {
		case strings.Contains(name, "windows"):
			head, err := pe.NewFile(bytes.NewReader(files["patientfox.exe"]))
			require.NoError(t, err)
			require.EqualValues(t, pe.IMAGE_FILE_MACHINE_AMD64, head.Machine)
		case strings.Contains(name, "darwin"):
			head, err := macho.NewFile(bytes.NewReader(program))
			require.NoError(t, err)
			want := macho.CpuAmd64
			if strings.Contains(name, "arm64") {
				want = macho.CpuArm64
			}
			require.Equal(t, want, head.Cpu)
		default:
			head, err := elf.NewFile(bytes.NewReader(program))
			require.NoError(t, err)
			if strings.Contains(name, "arm64") {
				require.Equal(t, elf.EM_AARCH64, head.Machine)
			} else {
				require.Equal(t, elf.EM_X86_64, head.Machine)
				starts(t, program)
			}
		}
	}
}

// starts runs a program as a double-click does, from a folder with nothing else in it.
func starts(t *testing.T, program []byte) {
	folder, data, port := t.TempDir(), t.TempDir(), freePort(t)
	path := filepath.Join(folder, "patientfox")
	require.NoError(t, os.WriteFile(path, program, 0o700))
	environment := []string{"HOME=" + data, "PORT=" + port, "PATIENTFOX_DATA=" + data, "PATIENTFOX_NO_BROWSER=1", "PATIENTFOX_LOG=error"}
	cmd := exec.Command(path)
	cmd.Env, cmd.Dir = environment, folder
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Signal(os.Interrupt); _ = cmd.Wait() })
	page := ""
	require.Eventually(t, func() bool {
		answer, err := http.Get("http://127.0.0.1:" + port + "/")
		if err != nil {
			return false
		}
		defer answer.Body.Close()
		raw, err := io.ReadAll(answer.Body)
		page = string(raw)
		return err == nil && answer.StatusCode == http.StatusOK
	}, 20*time.Second, 20*time.Millisecond)
	require.Contains(t, page, "there is no dog yet")
	second := exec.Command(path)
	second.Env, second.Dir = environment, folder
	out, err := second.CombinedOutput()
	require.NoError(t, err, string(out))
	require.Contains(t, string(out), "runs already, at http://127.0.0.1:"+port)
	version, err := exec.Command(path, "--version").Output()
	require.NoError(t, err)
	require.Contains(t, string(version), "patientfox version ")
}
