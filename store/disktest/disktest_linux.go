package disktest

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"golang.org/x/sys/unix"
)

// Disk is a small disk.
type Disk struct{ Dir string }

// ErrMayNot says that this machine does not let the test make a disk.
var ErrMayNot = errors.New("no right to mount a disk here")

// New makes a disk of so many bytes in an empty folder.
func New(dir string, bytes int) (*Disk, error) {
	err := unix.Mount("tmpfs", dir, "tmpfs", 0, fmt.Sprintf("size=%d,mode=700", bytes))
	if errors.Is(err, unix.EPERM) || errors.Is(err, unix.EACCES) {
		return nil, ErrMayNot
	}
	if err != nil {
		return nil, fmt.Errorf("mount: %w", err)
	}
	return &Disk{dir}, nil
}

const ballast = "ballast"

// Fill takes all of the space that is left, but so many bytes.
func (d *Disk) Fill(but int) error {
	var at unix.Statfs_t
	if err := unix.Statfs(d.Dir, &at); err != nil {
		return fmt.Errorf("free space: %w", err)
	}
	f, err := os.OpenFile(filepath.Join(d.Dir, ballast), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("fill: %w", err)
	}
	defer f.Close()
	for left := int64(at.Bavail)*int64(at.Bsize) - int64(but); left > 0; left -= 1 << 12 {
		if _, err := f.Write(make([]byte, min(left, 1<<12))); errors.Is(err, unix.ENOSPC) {
			return nil
		} else if err != nil {
			return fmt.Errorf("fill: %w", err)
		}
	}
	return nil
}

// Empty gives the space free again.
func (d *Disk) Empty() error { return os.Remove(filepath.Join(d.Dir, ballast)) }

// Protect makes the disk read-only, which nobody may be writing to, or lifts that.
func (d *Disk) Protect(on bool) error {
	flags := uintptr(unix.MS_REMOUNT)
	if on {
		flags |= unix.MS_RDONLY
	}
	return unix.Mount("", d.Dir, "", flags, "")
}

// Close takes the disk away with all that is on it.
func (d *Disk) Close() error { return unix.Unmount(d.Dir, unix.MNT_DETACH) }
