//go:build linux || darwin

package disk

import "golang.org/x/sys/unix"

// Free is how many bytes the disk under a folder still takes from us.
func Free(path string) (uint64, error) {
	var s unix.Statfs_t
	if err := unix.Statfs(path, &s); err != nil {
		return 0, err
	}
	return s.Bavail * uint64(s.Bsize), nil
}
