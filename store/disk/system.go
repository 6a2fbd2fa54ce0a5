package disk

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// Settle gives a finished file its name, in place of what had it, and waits until both
// are on the disk: after a power loss it is there whole, or as it was before.
func Settle(half, name string) error {
	if err := SyncFile(half); err != nil {
		return err
	}
	if err := os.Rename(half, name); err != nil {
		return err
	}
	return SyncFolder(filepath.Dir(name))
}

// SyncFile waits until a file is on the disk.
func SyncFile(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// synced are folders that a program copies to other machines while they are used, as
// they are named on people's disks.
var synced = []string{
	"dropbox",
	"onedrive",
	"google drive",
	"googledrive",
	"my drive",
	"icloud drive",
	"icloud~",
	"com~apple~clouddocs",
	"mobile documents",
	"nextcloud",
	"owncloud",
	"syncthing",
	"pcloud",
	"box sync",
}

// Risky says why a folder is a bad place for records that are written to all day; empty
// when nothing is known against it. A database that is copied while it is written to, or
// whose locks do not reach across a Network, is damaged sooner or later.
func Risky(dir string) string {
	path, err := filepath.Abs(dir)
	if err != nil {
		path = dir
	}
	if real, err := filepath.EvalSymlinks(path); err == nil {
		path = real
	}
	const remedy = "Keep the records on a disk of this computer, and copies of them there."
	for _, part := range strings.Split(filepath.ToSlash(path), "/") {
		name := strings.ToLower(part)
		if slices.ContainsFunc(synced, func(s string) bool {
			return name == s || strings.HasPrefix(name, s+" ") || strings.HasPrefix(name, s+"-")
		}) {
			return fmt.Sprintf(
				"The records lie in “%s”, which is copied to other machines while they are written to; that damages them sooner or later. %s",
				part,
				remedy,
			)
		}
	}
	if kind := Network(path); kind != "" {
		return fmt.Sprintf(
			"The records lie on a Network drive (%s); its locks and its power cuts are not those of this computer, and that damages "+
				"them sooner or later. %s",
			kind,
			remedy,
		)
	}
	return ""
}
