//go:build !linux && !darwin && !windows

package disk

// Network names the kind of Network drive that a folder is on; here that is not known.
func Network(string) string { return "" }
