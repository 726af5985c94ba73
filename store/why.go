package store

import (
	"errors"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble is what kept a file from being read or written.
type Trouble string

// The troubles a person can do something about.
const (
	Full     Trouble = "full"      // no room on the disk
	ReadOnly Trouble = "read only" // the file or its folder may not be written
	Disk     Trouble = "disk"      // the disk does not do as it is told
	Busy     Trouble = "busy"      // another has held the file for too long
	Corrupt  Trouble = "corrupt"   // what is in the file makes no sense
)

// Why finds the trouble in an error, "" where it is none of these.
func Why(err error) Trouble {
	if errors.Is(err, errHeld) {
		return Busy
	}
	var e *sqlite.Error
	if !errors.As(err, &e) {
		return ""
	}
	switch e.Code() & 0xff {
	case sqlite3.SQLITE_FULL:
		return Full
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_PERM, sqlite3.SQLITE_CANTOPEN:
		return ReadOnly
	case sqlite3.SQLITE_IOERR:
		return Disk
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return Busy
	case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return Corrupt
	}
	return ""
}
