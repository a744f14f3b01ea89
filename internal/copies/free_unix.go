//go:build unix

package copies

import "golang.org/x/sys/unix"

// freeBytes is how much a folder's disk has left for us.
func freeBytes(folder string) (uint64, error) {
	var at unix.Statfs_t
	if err := unix.Statfs(folder, &at); err != nil {
		return 0, err
	}
	return uint64(at.Bavail) * uint64(at.Bsize), nil //nolint:gosec,unconvert // their types differ by system
}
