//go:build unix

package disk

import (
	"errors"
	"fmt"
	"os"
	"syscall"
)

func full(err error) bool     { return errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT) }
func readOnly(err error) bool { return errors.Is(err, syscall.EROFS) }

// SyncFolder waits until the names in a folder are on the disk.
func SyncFolder(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// OwnersAlone makes the file, when it is new, and keeps it from everybody but its owner;
// the engine makes its other files as readable as this one.
func OwnersAlone(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("open records: %w", err)
	}
	if err := errors.Join(f.Chmod(0o600), f.Close()); err != nil {
		return fmt.Errorf("keep records to their owner: %w", err)
	}
	return nil
}
