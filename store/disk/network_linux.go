package disk

import "golang.org/x/sys/unix"

// remote are the file systems that live on another machine.
var remote = map[int64]string{
	unix.NFS_SUPER_MAGIC: "NFS", unix.SMB_SUPER_MAGIC: "SMB", unix.CIFS_SUPER_MAGIC: "SMB", unix.SMB2_SUPER_MAGIC: "SMB",
	unix.V9FS_MAGIC: "9P", unix.CEPH_SUPER_MAGIC: "Ceph", unix.AFS_SUPER_MAGIC: "AFS", unix.CODA_SUPER_MAGIC: "Coda",
}

// Network names the kind of Network drive that a folder is on, if it is.
func Network(path string) string {
	var at unix.Statfs_t
	if err := unix.Statfs(path, &at); err != nil {
		return "" // it is not there yet
	}
	return remote[int64(at.Type)&0xffffffff]
}
