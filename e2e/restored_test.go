package e2e_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/copies"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// A server that was restored from an older copy gets back what a phone had logged and had been told is saved.
func TestAPhoneSendsAgainWhatARestoredServerHasLost(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	path := filepath.Join(folder, "practice.db")
	o := practicetest.Open(t, path)
	plan, dog := o.LayOut(t, "0.5, 1, 2")
	s := serveAt(t, o, "127.0.0.1:0", web.Options{})
	copied := filepath.Join(t.TempDir(), "copy.zip")
	_, err := copies.Backup(ctx, path, copied, copies.Options{Now: practicetest.Now})
	require.NoError(t, err)

	p := s.Page(browser.Phone)
	p.Go("/")
	begin(p, plan, "")
	hold(p)
	ends(p)
	saved(p)
	o.CatchUp(t)
	v, err := o.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Sessions, 1)
	s.Stop()

	// The disk fails; the copy from before the session is put in place under the same address.
	elsewhere := t.TempDir()
	back := filepath.Join(elsewhere, "practice.db")
	_, err = copies.Restore(ctx, back, copied, "", practicetest.Now)
	require.NoError(t, err)
	keys, err := os.ReadFile(filepath.Join(folder, "practice.keys"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(elsewhere, "practice.keys"), keys, 0o600))
	restored := practicetest.Open(t, back)
	v, err = restored.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Empty(t, v.Sessions, "the copy does not know of it")
	again := serveAt(t, restored, s.Addr, web.Options{})
	p.Go("/")
	p.Wait(`document.getElementById("unsaved").textContent.includes("all saved")`)
	restored.CatchUp(t)
	v, err = restored.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Sessions, 1)
	review, err := restored.Review(ctx, v.Sessions[0].ID)
	require.NoError(t, err)
	require.NotEmpty(t, review.Table)
	again.Stop()
}
