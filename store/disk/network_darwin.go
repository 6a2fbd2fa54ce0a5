package disk

import (
	"slices"

	"golang.org/x/sys/unix"
)

// Network names the kind of Network drive that a folder is on, if it is.
func Network(path string) string {
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
