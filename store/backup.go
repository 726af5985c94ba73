package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
)

// Checked is what looking through a file found.
type Checked struct {
	Projects, Revisions int
	Newest              string // when something was last changed in it
	Until               string // day a copy is to be kept to, "" for no copy
	Damaged             []Damaged
	Packed              Packed
	Unpacked            int  // old revisions whose designs are in packs that cannot be read
	View                bool // it is one of a log that others share
}

// Check looks through a file: that it holds together, and that every project's head can
// be read. A file that does not hold together is [Refused].
func Check(path string) (Checked, error) {
	var c Checked
	if _, err := os.Stat(path); err != nil {
		return c, err
	}
	at, err := inspect(path)
	if err != nil {
		return c, err
	}
	if at == 0 {
		return c, &Refused{path, ErrForeign, "there are no projects in it"}
	}
	db, err := connect(path, "rw")
	if err != nil {
		return c, err
	}
	defer db.Close()
	return check(db, path)
}

func check(db *sqlx.DB, path string) (c Checked, err error) {
	var said []string
	if err := db.Select(&said, "PRAGMA integrity_check(5)"); err != nil || len(said) != 1 || said[0] != "ok" {
		return c, &Refused{path, ErrBroken, fmt.Sprintf("bring back another copy (%v %v)", said, err)}
	}
	var loose int
	if err := db.Get(&loose, "SELECT count(*) FROM pragma_foreign_key_check"); err != nil || loose > 0 {
		return c, &Refused{
			path,
			ErrBroken,
			fmt.Sprintf("%d of its rows belong to nothing: bring back another copy (%v)", loose, err),
		}
	}
	rows, err := db.Queryx(
		"SELECT p.id, p.head, coalesce(r.design, '') AS design FROM projects p LEFT JOIN revisions r ON r.id =" +
			" p.head ORDER BY p.id",
	)
	if err != nil {
		return c, fmt.Errorf("look through %s: %w", path, err)
	}
	defer rows.Close()
	for rows.Next() {
		var h Standing
		if err := rows.StructScan(&h); err != nil {
			return c, fmt.Errorf("look through %s: %w", path, err)
		}
		c.Projects++
		var d *Damaged
		if _, err := h.Read(); errors.As(err, &d) {
			c.Damaged = append(c.Damaged, *d)
		}
	}
	if err := rows.Err(); err != nil {
		return c, fmt.Errorf("look through %s: %w", path, err)
	}
	if err := db.Get(&c.Revisions, "SELECT count(*) FROM revisions"); err != nil {
		return c, fmt.Errorf("look through %s: %w", path, err)
	}
	if packs, _, err := columnsOf(db, "packs"); err != nil {
		return c, fmt.Errorf("look through %s: %w", path, err)
	} else if len(packs) > 0 {
		if c.Packed, err = packedIn(context.Background(), db, 0); err != nil {
			return c, fmt.Errorf("look through %s: %w", path, err)
		}
		if c.Unpacked, err = checkPacks(db); err != nil {
			return c, fmt.Errorf("look through %s: %w", path, err)
		}
	}
	if err := db.Get(&c.View, "SELECT EXISTS (SELECT 1 FROM about WHERE key = ?)", clusterKey); err != nil {
		c.View = false // a file that is older than that
	}
	var until []string
	if err := db.Select(&until, "SELECT value FROM about WHERE key = ?", untilKey); err == nil && len(until) > 0 {
		c.Until = until[0]
	}
	err = db.Get(
		&c.Newest,
		"SELECT coalesce(max(t), '') FROM (SELECT max(created_at) AS t FROM revisions UNION ALL SELECT"+
			" max(updated_at) FROM projects)",
	)
	return c, err
}

// Backup copies a file of projects, in use or not, to a new file, and looks through the
// copy. Every change that was acknowledged before it began is in it.
func Backup(path, to string) (Checked, error) {
	if _, err := os.Stat(path); err != nil {
		return Checked{}, err
	}
	if same(path, to) {
		return Checked{}, fmt.Errorf("%s is the file itself: name another for the copy", to)
	}
	at, err := inspect(path)
	if err != nil {
		return Checked{}, err
	}
	if at == 0 {
		return Checked{}, &Refused{path, ErrForeign, "there are no projects in it"}
	}
	db, err := connect(path, "rw")
	if err != nil {
		return Checked{}, err
	}
	defer db.Close()
	if err := copyOf(db, to); err != nil {
		return Checked{}, fmt.Errorf("copy %s: %w", path, err)
	}
	if err := markUntil(to, time.Now().Add(CopyLasts).UTC().Format(time.DateOnly)); err != nil {
		return Checked{}, fmt.Errorf("copy %s: %w", path, err)
	}
	return Check(to)
}

// CopyLasts is how long a copy is to be kept: what is deleted for good lives on in it until then.
const CopyLasts = 90 * 24 * time.Hour

const untilKey = "keep until"

// markUntil writes into a copy until when it is to be kept, or with "" that it is none.
func markUntil(path, day string) error {
	db, err := connect(path, "rw")
	if err != nil {
		return err
	}
	var some int
	if err = db.Get(&some, "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name = 'about'"); err == nil &&
		some > 0 { // a file of an older version has no place for it
		_, err = db.Exec("DELETE FROM about WHERE key = ?", untilKey)
		if err == nil && day != "" {
			_, err = db.Exec("INSERT INTO about (key, value) VALUES (?, ?)", untilKey, day)
		}
	}
	return errors.Join(err, db.Close())
}

// tidy takes away the copies that were made beside a file by themselves, before it was brought up to date or replaced,
// once they are older than [CopyLasts].
func tidy(path string, now time.Time) {
	for _, kind := range []struct{ pattern, form string }{
		{path + ".v*-*", "20060102T150405"}, {path + ".before-*", "20060102T150405.000"}} {
		list, err := filepath.Glob(kind.pattern)
		if err != nil {
			continue // the path has signs of a pattern: its copies stay
		}
		for _, name := range list {
			stamp := strings.TrimSuffix(strings.TrimSuffix(name, "-wal"), "-shm") // a damaged file's journal goes with it
			stamp = stamp[strings.LastIndexByte(stamp, '-')+1:]
			if made, err := time.Parse(kind.form, stamp); err == nil && now.Sub(made) > CopyLasts {
				_ = os.Remove(name) // the next time it is opened
			}
		}
	}
}

func same(a, b string) bool {
	one, err1 := os.Stat(a)
	two, err2 := os.Stat(b)
	return err1 == nil && err2 == nil && os.SameFile(one, two)
}

// copyOf makes a copy that stands by itself, with no journal beside it. It comes to be
// at once and whole, or not at all; nothing is overwritten.
func copyOf(db *sqlx.DB, to string) error {
	if _, err := os.Lstat(to); err == nil {
		return fmt.Errorf("%s is there already: name a new file", to)
	}
	part := to + ".part"
	if err := errors.Join(remove(part), private(part)); err != nil {
		return err
	}
	err := online(db, part)
	if err == nil {
		err = settle(part)
	}
	if err == nil {
		err = os.Rename(part, to)
	}
	if err != nil {
		return errors.Join(err, remove(part))
	}
	return syncFolder(to)
}

// online runs SQLite's own backup of an open database, in one go.
func online(db *sqlx.DB, to string) error {
	name, err := source(to, "rwc")
	if err != nil {
		return err
	}
	conn, err := db.Conn(context.Background())
	if err != nil {
		return err
	}
	defer conn.Close()
	return conn.Raw(func(d any) error {
		from, ok := d.(interface {
			NewBackup(string) (*sqlite.Backup, error)
		})
		if !ok {
			return errors.New("the driver makes no backups")
		}
		b, err := from.NewBackup(name)
		if err != nil {
			return err
		}
		more := true
		for more && err == nil {
			more, err = b.Step(-1)
		}
		return errors.Join(err, b.Finish())
	})
}

// unsynced makes a file that is being filled quick to write: it is brought to the disk once it is whole, by [settle].
func unsynced(db *sqlx.DB) error {
	db.SetMaxOpenConns(1)
	_, err := db.Exec("PRAGMA synchronous = OFF")
	return err
}

// settle ends the journal of a copy and brings it to the disk.
func settle(path string) error {
	db, err := connect(path, "rw")
	if err != nil {
		return err
	}
	var mode string
	err = db.Get(&mode, "PRAGMA journal_mode = DELETE")
	if err := errors.Join(err, db.Close()); err != nil {
		return err
	}
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

func remove(path string) error {
	for _, end := range []string{"", "-wal", "-shm", "-journal"} {
		if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

func syncFolder(path string) error {
	dir, err := os.Open(filepath.Dir(path))
	if err != nil {
		return err
	}
	return errors.Join(dir.Sync(), dir.Close())
}

// Later says that a file holds something later than the copy that would replace it.
type Later struct{ File, Copy string }

func (l *Later) Error() string {
	return fmt.Sprintf("the file has changes up to %s, the copy only up to %s", l.File, l.Copy)
}

// restoreArchive brings an archive back: it is made a file of its own first.
func restoreArchive(from, path string, over bool) (was string, c Checked, err error) {
	made := path + ".unpacked"
	if err := unpack(from, made); err != nil {
		return "", c, err
	}
	defer func() { err = errors.Join(err, remove(made)) }()
	return Restore(made, path, over)
}

// Restore puts a copy, or an archive, in place of a file that nobody has open. What was there is kept
// beside it, under the name that is returned, "" where there was nothing. A file with
// something later in it than in the copy is replaced only where over says so: [*Later].
func Restore(from, path string, over bool) (was string, c Checked, err error) {
	if same(from, path) {
		return "", c, fmt.Errorf("%s is the file itself: name a copy of it", from)
	}
	if isArchive(from) {
		return restoreArchive(from, path, over)
	}
	if c, err = Check(from); err != nil {
		return "", c, err
	}
	h, err := alone(path)
	if err != nil {
		return "", c, err
	}
	defer func() { err = errors.Join(err, h.free()) }()
	if _, err := os.Stat(path); err == nil {
		if was, err = aside(path, c, over); err != nil {
			return "", c, err
		}
	}
	db, err := connect(from, "rw")
	if err != nil {
		return was, c, err
	}
	part := path + ".part"
	err = errors.Join(remove(part), private(part))
	if err == nil {
		err = online(db, part)
	}
	if err = errors.Join(err, db.Close()); err == nil {
		err = settle(part)
	}
	if err == nil {
		err = markUntil(part, "")
	}
	if err == nil {
		err = os.Rename(part, path)
	}
	if err != nil {
		return was, c, errors.Join(err, remove(part))
	}
	return was, c, syncFolder(path)
}

// aside keeps the file that will be replaced under another name beside it, what is in
// its journal put into it first.
func aside(path string, copied Checked, over bool) (string, error) {
	if at, err := inspect(path); err != nil && !over {
		return "", err
	} else if err == nil && at > 0 {
		db, err := connect(path, "rw")
		if err != nil {
			return "", err
		}
		now, err := check(db, path)
		_, _ = db.Exec("PRAGMA wal_checkpoint(TRUNCATE)")
		if err := errors.Join(err, db.Close()); err != nil && !over {
			return "", err
		}
		if now.Newest > copied.Newest && !over {
			return "", &Later{now.Newest, copied.Newest}
		}
	}
	was := fmt.Sprintf("%s.before-%s", path, time.Now().UTC().Format("20060102T150405.000"))
	if err := os.Link(path, was); err != nil {
		return "", fmt.Errorf("keep what is there beside it: %w", err)
	}
	for _, end := range []string{"-wal", "-shm"} { // a damaged file's journal goes with it
		if err := os.Rename(path+end, was+end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return was, err
		}
	}
	return was, nil
}
