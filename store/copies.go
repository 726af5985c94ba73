package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Copies that are made by themselves, a day, beside the file: "beds.db.day-20261201T060000". Of the last seven days
// that have one it stays, of the last four weeks and of the last three months the newest; none is older than
// [CopyLasts].
const (
	dayMark            = ".day-"
	dayForm            = "20060102T150405"
	daysKept           = 7
	weeksKept          = 4
	monthsKept         = 3
	lookedKey          = "looked through"
	mostUnplannedNamed = 5
)

// Looked is what looking through a copy found, as it is written into it.
type Looked struct {
	At        string // when, RFC 3339; "" where nobody has yet
	Projects  int
	Revisions int
	Damaged   int     // projects that cannot be read
	Planned   int     // projects that were planned from it
	Unplanned []int64 // some of those that could not be, though they can be read
	Short     int     // how many of those there are
}

// Good reports whether everything in the copy was read and planned.
func (l Looked) Good() bool {
	return l.At != "" && l.Damaged == 0 && l.Short == 0 && l.Planned == l.Projects
}

// Unplan counts a project that could not be planned.
func (l *Looked) Unplan(project int64) {
	l.Short++
	if len(l.Unplanned) < mostUnplannedNamed {
		l.Unplanned = append(l.Unplanned, project)
	}
}

// Copy is one of those.
type Copy struct {
	Path string
	Made time.Time // by its name
	Size int64     // bytes
	Looked
}

// Copies are those beside a file, the newest first.
func Copies(path string) ([]Copy, error) {
	folder, base := filepath.Split(path)
	if folder == "" {
		folder = "."
	}
	list, err := os.ReadDir(folder)
	if err != nil {
		return nil, fmt.Errorf("copies of %s: %w", path, err)
	}
	var copies []Copy
	for i := len(list) - 1; i >= 0; i-- { // names sort by when they were made
		stamp, of := strings.CutPrefix(list[i].Name(), base+dayMark)
		made, err := time.Parse(dayForm, stamp)
		if !of || err != nil {
			continue
		}
		c := Copy{Path: filepath.Join(folder, list[i].Name()), Made: made}
		if info, err := list[i].Info(); err == nil {
			c.Size = info.Size()
		}
		copies = append(copies, c)
	}
	return copies, nil
}

// Look reads what was found in a copy, and leaves it empty where nobody has looked or it cannot be read.
func (c *Copy) Look() {
	db, err := connect(c.Path, "ro")
	if err != nil {
		return
	}
	defer db.Close()
	var raw []string
	if db.Select(&raw, "SELECT value FROM about WHERE key = ?", lookedKey) == nil && len(raw) == 1 {
		_ = json.Unmarshal([]byte(raw[0]), &c.Looked)
	}
}

// Path is the file's.
func (s *Store) Path() string { return s.path }

// CopyNow makes a copy of the file as it is, beside it, and looks through it: that it holds together and that every
// project can be read. It takes those away that the rule does not keep, where this one is sound.
func (s *Store) CopyNow() (c Copy, err error) {
	s.copying.Lock()
	defer s.copying.Unlock()
	now := s.now().UTC()
	c = Copy{Path: s.path + dayMark + now.Format(dayForm), Made: now.Truncate(time.Second)}
	if err := copyOf(s.db, c.Path); err != nil {
		return c, fmt.Errorf("copy %s: %w", s.path, err)
	}
	if err := markUntil(c.Path, now.Add(CopyLasts).Format(time.DateOnly)); err != nil {
		return c, fmt.Errorf("copy %s: %w", s.path, err)
	}
	found, err := Check(c.Path)
	if err != nil {
		return c, fmt.Errorf("copy %s: %w", s.path, errors.Join(err, remove(c.Path)))
	}
	if info, err := os.Stat(c.Path); err == nil {
		c.Size = info.Size()
	}
	c.Looked = Looked{At: s.stamp(), Projects: found.Projects, Revisions: found.Revisions, Damaged: len(found.Damaged)}
	if err := c.Note(c.Looked); err != nil {
		return c, err
	}
	return c, thin(s.path, now)
}

// Note writes into a copy what was found in it.
func (c *Copy) Note(found Looked) error {
	raw, err := json.Marshal(found)
	if err != nil {
		return err
	}
	db, err := connect(c.Path, "rw")
	if err != nil {
		return err
	}
	_, err = db.Exec("INSERT INTO about (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value ="+
		" excluded.value", lookedKey, string(raw))
	if err := errors.Join(err, db.Close()); err != nil {
		return fmt.Errorf("copy %s: %w", c.Path, err)
	}
	c.Looked = found
	return nil
}

// DueCopy reports whether there is no copy of today yet. A clock that was ahead once, and has left copies of days to
// come, keeps none from being made.
func (s *Store) DueCopy() bool {
	copies, err := Copies(s.path)
	if err != nil {
		return true
	}
	today := s.now().UTC().Format(time.DateOnly)
	for _, c := range copies {
		if c.Made.Format(time.DateOnly) == today {
			return false
		}
	}
	return true
}

// thin takes away the copies that the rule does not keep.
func thin(path string, now time.Time) error {
	copies, err := Copies(path)
	if err != nil {
		return err
	}
	keep := kept(copies, now)
	for i, c := range copies {
		if !keep[i] {
			err = errors.Join(err, remove(c.Path))
		}
	}
	return err
}

// kept says which of some copies, the newest first, stay. Those of days to come stay: a clock that is behind is no
// reason
// to take a copy away.
func kept(copies []Copy, now time.Time) []bool {
	keep := make([]bool, len(copies))
	for _, rule := range []struct {
		most   int
		period func(time.Time) string
	}{
		{daysKept, func(t time.Time) string { return t.Format(time.DateOnly) }},
		{weeksKept, func(t time.Time) string { y, w := t.ISOWeek(); return fmt.Sprint(y, " ", w) }},
		{monthsKept, func(t time.Time) string { return t.Format("2006-01") }},
	} {
		last, n := "", 0
		for i, c := range copies {
			if c.Made.After(now) {
				keep[i] = true
			} else if p := rule.period(c.Made); p != last && n < rule.most {
				keep[i], last, n = true, p, n+1
			}
		}
	}
	for i, c := range copies {
		if now.Sub(c.Made) > CopyLasts {
			keep[i] = false
		}
	}
	return keep
}

// LastGood is the newest copy beside a file in which every project could be read, false where there is none. Whether
// each could be planned too is [Looked.Good].
func LastGood(path string) (Copy, bool) {
	copies, err := Copies(path)
	if err != nil {
		return Copy{}, false
	}
	for _, c := range copies {
		if c.Look(); c.At != "" && c.Damaged == 0 {
			return c, true
		}
	}
	return Copy{}, false
}

// OpenCopy opens a copy to be read only.
func OpenCopy(path string) (*Store, error) {
	at, err := inspect(path)
	if err != nil {
		return nil, err
	}
	if known, err := newest(); err != nil || at != known {
		return nil, errors.Join(err, fmt.Errorf("%s is of another version", path))
	}
	db, err := connect(path, "ro")
	if err != nil {
		return nil, err
	}
	return &Store{db: db, now: time.Now, path: path}, nil
}

// EachProject hands over every project there is, deleted or not, in the order of their numbers, until do fails. Each
// is read by itself, so that nothing else waits.
func (s *Store) EachProject(ctx context.Context, do func(Standing) error) error {
	var ids []int64
	if err := s.db.SelectContext(ctx, &ids, "SELECT id FROM projects ORDER BY id"); err != nil {
		return fmt.Errorf("projects: %w", err)
	}
	for _, id := range ids {
		h, err := s.Standing(ctx, id)
		if errors.Is(err, ErrNotFound) {
			continue // it has been deleted for good meanwhile
		}
		if err == nil {
			err = do(h)
		}
		if err != nil {
			return err
		}
	}
	return nil
}
