package copies_test

import (
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
	"github.com/stretchr/testify/require"

	"patientfox/internal/copies"
	"patientfox/internal/practicetest"
)

// bucket is a stand-in for S3-compatible storage, with one bucket.
func bucket(t *testing.T) string {
	backend := s3mem.New()
	require.NoError(t, backend.CreateBucket("quay"))
	server := httptest.NewServer(gofakes3.New(backend).Server())
	t.Cleanup(server.Close)
	return "s3://quay/practice?endpoint=" + url.QueryEscape(server.URL) + "&region=us-east-1"
}

// A continuous copy, to a folder or to S3-compatible storage, holds what was saved, and goes on after the practice was
// restored from it.
func TestAContinuousCopyComesBackAndGoesOn(t *testing.T) {
	keys := copies.Credentials{KeyID: "id", Secret: "secret"}
	for name, to := range map[string]string{"folder": filepath.Join(t.TempDir(), "elsewhere"), "storage": bucket(t)} {
		t.Run(name, func(t *testing.T) {
			folder := t.TempDir()
			path := filepath.Join(folder, "practice.db")
			save := func(o *practicetest.Opened, dog string) {
				_, err := o.AddDog(ctx, map[string]string{"name": dog})
				require.NoError(t, err)
			}
			dogs := func(at string) int {
				o := practicetest.Open(t, at)
				v, err := o.Dogs(ctx, "")
				require.NoError(t, err)
				return len(v.Dogs)
			}
			copied := func(dog string) {
				o := practicetest.Open(t, path)
				c, err := copies.Continue(ctx, path, to, keys, practicetest.Quiet())
				require.NoError(t, err)
				save(o, dog)
				require.NoError(t, c.Sync(ctx))
				behind, said := c.Behind()
				require.NoError(t, said)
				require.Less(t, behind, time.Minute)
				require.NoError(t, o.Store.Close())
				require.NoError(t, c.Close())
			}
			copied("Tansy")
			between := time.Now()
			// A moment to go back to: the copy tells seconds apart.
			require.Eventually(t, func() bool { return time.Since(between) > 1100*time.Millisecond }, 5*time.Second, 20*time.Millisecond)
			copied("Quill")
			elsewhere := filepath.Join(t.TempDir(), "practice.db")
			r, err := copies.RestoreAt(ctx, elsewhere, to, keys, time.Time{}, time.Now(), practicetest.Quiet())
			require.NoError(t, err)
			require.Equal(t, 2, r.Dogs)
			require.Equal(t, 2, dogs(elsewhere))
			earlier := filepath.Join(t.TempDir(), "practice.db")
			r, err = copies.RestoreAt(ctx, earlier, to, keys, between, time.Now(), practicetest.Quiet())
			require.NoError(t, err)
			require.Equal(t, 1, r.Dogs)
			// In place, to the earlier moment; then on from there.
			_, err = copies.RestoreAt(ctx, path, to, keys, between, time.Now(), practicetest.Quiet())
			require.NoError(t, err)
			copied("Brine")
			last := filepath.Join(t.TempDir(), "practice.db")
			r, err = copies.RestoreAt(ctx, last, to, keys, time.Time{}, time.Now(), practicetest.Quiet())
			require.NoError(t, err)
			require.Equal(t, 2, r.Dogs)
			m, err := copies.Verify(ctx, backup(t, last), "")
			require.NoError(t, err)
			require.NotContains(t, m.Tables, "_litestream_seq")
		})
	}
}

func TestWhereAContinuousCopyCannotGoIsSaid(t *testing.T) {
	path := practicetest.Empty(t).Path
	for _, to := range []string{"s3://", "ftp://quay/x", "s3://id:secret@quay/x", "s3://quay/x"} {
		_, err := copies.Continue(ctx, path, to, copies.Credentials{}, practicetest.Quiet())
		require.Error(t, err, to)
		require.NotContains(t, err.Error(), "id:secret")
	}
	_, err := copies.RestoreAt(ctx, filepath.Join(t.TempDir(), "p.db"), t.TempDir(), copies.Credentials{}, time.Time{}, time.Now(),
		practicetest.Quiet())
	require.ErrorIs(t, err, copies.ErrBad, "an empty folder")
	keys := filepath.Join(t.TempDir(), "keys")
	require.NoError(t, os.WriteFile(keys, []byte("id=a\nsecret=b\n"), 0o644))
	_, err = copies.ReadCredentials(keys)
	require.ErrorContains(t, err, "chmod 600")
	require.NoError(t, os.Chmod(keys, 0o600))
	c, err := copies.ReadCredentials(keys)
	require.NoError(t, err)
	require.Equal(t, copies.Credentials{KeyID: "a", Secret: "b"}, c)
}
