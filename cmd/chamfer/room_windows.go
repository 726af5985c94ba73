package main

import "golang.org/x/sys/windows"

// roomIn is how many bytes are free in a folder, for whoever asks.
func roomIn(folder string) (int64, error) {
	name, err := windows.UTF16PtrFromString(folder)
	if err != nil {
		return 0, err
	}
	var free uint64
	if err := windows.GetDiskFreeSpaceEx(name, &free, nil, nil); err != nil {
		return 0, err
	}
	return int64(free), nil
}
