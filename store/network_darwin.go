package store

import (
	"slices"

	"golang.org/x/sys/unix"
)

// network names the kind of network drive that a folder is on, if it is.
func network(path string) string {
	var at unix.Statfs_t
	if err := unix.Statfs(path, &at); err != nil {
		return "" // it is not there yet
	}
	kind := unix.ByteSliceToString(at.Fstypename[:])
	if slices.Contains([]string{"smbfs", "nfs", "afpfs", "webdav", "ftp"}, kind) {
		return kind
	}
	return ""
}
