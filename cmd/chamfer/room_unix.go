//go:build unix

package main

import "golang.org/x/sys/unix"

// roomIn is how many bytes are free in a folder, for whoever asks.
func roomIn(folder string) (int64, error) {
	var s unix.Statfs_t
	if err := unix.Statfs(folder, &s); err != nil {
		return 0, err
	}
	return int64(s.Bavail) * int64(s.Bsize), nil
}
