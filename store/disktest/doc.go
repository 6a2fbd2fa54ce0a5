// Package disktest makes small disks for tests: what happens on a full or a
// write-protected disk is tried on a real one. Disks are made in memory and need the
// right to mount, which the machine that runs the tests has; elsewhere such a test says
// that it was left out.
package disktest
