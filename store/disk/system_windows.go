package disk

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"golang.org/x/sys/windows"
)

func full(err error) bool {
	return errors.Is(err, windows.ERROR_DISK_FULL) || errors.Is(err, windows.ERROR_HANDLE_DISK_FULL)
}
func readOnly(err error) bool { return errors.Is(err, windows.ERROR_WRITE_PROTECT) }

// SyncFolder does nothing: here a name is on the disk with its file.
func SyncFolder(string) error { return nil }

// OwnersAlone makes the file, when it is new. Who may read it follows from its folder,
// which is in the owner's own.
func OwnersAlone(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("open records: %w", err)
	}
	return f.Close()
}

// Network names the kind of Network drive that a folder is on, if it is.
func Network(path string) string {
	volume := filepath.VolumeName(path)
	if strings.HasPrefix(volume, `\\`) {
		return volume
	}
	root, err := windows.UTF16PtrFromString(volume + `\`)
	if err == nil && windows.GetDriveType(root) == windows.DRIVE_REMOTE {
		return volume
	}
	return ""
}

// Free is how many bytes the disk under a folder still takes from us.
func Free(path string) (free uint64, err error) {
	name, err := windows.UTF16PtrFromString(path)
	if err != nil {
		return 0, err
	}
	return free, windows.GetDiskFreeSpaceEx(name, &free, nil, nil)
}
