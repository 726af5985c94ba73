package store

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// made makes a file with some projects and closes it.
func made(t *testing.T, path string, n int) {
	t.Helper()
	s, err := Open(path)
	must(t, err)
	for i := range n {
		_, err := s.Create(
			Home,
			design.New(catalog.Regions()[i%2], fmt.Sprint("bed ", i)),
			"started",
			Kept{Card: []byte("{}")},
		)
		must(t, err)
	}
	must(t, s.Close())
}

// Any path is a file of that name, and only its owner may read it.
func TestAnyName(t *testing.T) {
	for _, name := range []string{"beds.db", "odd?name.db", "100%.db", "a#b.db", "with blank.db", "%41.db",
		"ümlaut & co;.db", "file:x.db", "?.db"} {
		dir := t.TempDir()
		path := filepath.Join(dir, name)
		made(t, path, 2)
		list, err := os.ReadDir(dir)
		must(t, err)
		var names []string
		for _, e := range list {
			names = append(names, e.Name())
		}
		if !slices.Contains(names, name) || len(names) != 2 || names[1] != name+".lock" && names[0] != name+".lock" {
			t.Errorf("%q: the folder holds %q", name, names)
		}
		info, err := os.Stat(path)
		must(t, err)
		if info.Mode().Perm() != 0o600 {
			t.Errorf("%q may be read by others: %v", name, info.Mode())
		}
		must(t, os.Chmod(path, 0o644)) // as an older program left it
		made(t, path, 0)
		if info, err = os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%q may still be read by others: %v", name, info.Mode())
		}
	}
}

// What is not opened is left as it is, and it is said what would work.
func TestRefusedFiles(t *testing.T) {
	dir := t.TempDir()
	good := filepath.Join(dir, "good.db")
	made(t, good, 3)
	raw, err := os.ReadFile(good)
	must(t, err)
	wal := slices.Clone(raw[:4096])
	for i := 100; i < len(wal); i++ {
		wal[i] = 0
	}
	foreign := filepath.Join(dir, "foreign.db")
	db, err := sqlx.Open("sqlite", foreign)
	must(t, err)
	db.MustExec("CREATE TABLE recipes (name TEXT)")
	must(t, db.Close())
	theirs, err := os.ReadFile(foreign)
	must(t, err)
	torn := filepath.Join(dir, "running.db") // a copy of the main file alone, made before anything came to it
	db, err = sqlx.Open("sqlite", torn)
	must(t, err)
	db.MustExec("PRAGMA journal_mode = WAL")
	must(t, db.Close())
	half, err := os.ReadFile(torn)
	must(t, err)
	broken := slices.Clone(raw)
	for i := 4096 * 2; i < len(broken)-4096; i += 13 {
		broken[i] ^= 0x5a
	}
	newer := filepath.Join(dir, "newer.db")
	must(t, os.WriteFile(newer, raw, 0o600))
	db, err = sqlx.Open("sqlite", newer)
	must(t, err)
	db.MustExec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	db.MustExec("PRAGMA wal_checkpoint(TRUNCATE)")
	must(t, db.Close())
	later, err := os.ReadFile(newer)
	must(t, err)
	for name, c := range map[string]struct {
		raw  []byte
		want error
		says string
	}{
		"text":    {[]byte("Dear diary, today I built a bed."), ErrForeign, "name another file"},
		"short":   {[]byte("SQL"), ErrForeign, "name another file"},
		"foreign": {theirs, ErrForeign, "another program"},
		"torn":    {half, ErrTorn, "chamfer backup"},
		"broken":  {broken, ErrBroken, "chamfer restore"},
		"cut off": {raw[:len(raw)/2], ErrBroken, "chamfer restore"},
		"newer":   {later, ErrNewer, "newer program"},
	} {
		path := filepath.Join(dir, name+" file")
		must(t, os.WriteFile(path, c.raw, 0o600))
		s, err := Open(path)
		if err == nil {
			s.Close()
		}
		if !errors.Is(err, c.want) || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
		if after, _ := os.ReadFile(path); name != "newer" && name != "torn" && string(after) != string(c.raw) {
			t.Errorf("%s was written to", name)
		}
		if _, err := Check(path); !errors.Is(err, c.want) {
			t.Errorf("%s, looked through: %v", name, err)
		}
		if _, err := Backup(path, path+" copy"); !errors.Is(err, c.want) {
			t.Errorf("%s, copied: %v", name, err)
		}
		if _, _, err := Restore(path, good, true); !errors.Is(err, c.want) {
			t.Errorf("%s, brought back: %v", name, err)
		}
	}
	if c, err := Check(good); err != nil || c.Projects != 3 {
		t.Errorf("the good file has %d projects, %v", c.Projects, err)
	}
}

// A demo's file is started afresh only where it is one, and nobody has it open.
func TestAfresh(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	made(t, path, 2)
	if s, err := OpenAfresh(path); !errors.Is(err, ErrForeign) {
		s.Close()
		t.Fatalf("somebody's projects: %v", err)
	}
	s := opened(t, path)
	must(t, s.MarkDemo())
	if demo, err := s.IsDemo(t.Context()); !demo || err != nil {
		t.Errorf("marked, yet %v, %v", demo, err)
	}
	if again, err := OpenAfresh(path); !errors.Is(err, ErrInUse) {
		again.Close()
		t.Fatalf("while it is open: %v", err)
	}
	if list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10); err != nil || len(list) != 2 {
		t.Errorf("%d projects are left, %v", len(list), err)
	}
	must(t, s.Close())
	s, err := OpenAfresh(path)
	must(t, err)
	if list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10); err != nil || len(list) != 0 {
		t.Errorf("afresh, and %d projects, %v", len(list), err)
	}
	must(t, s.Close())
	for _, name := range []string{"new.db", "text"} {
		other := filepath.Join(filepath.Dir(path), name)
		if name == "text" {
			must(t, os.WriteFile(other, []byte("Dear diary"), 0o600))
		}
		s, err := OpenAfresh(other)
		if (err == nil) != (name == "new.db") {
			t.Errorf("%s: %v", name, err)
		}
		if err == nil {
			must(t, s.Close())
		} else if raw, _ := os.ReadFile(other); string(raw) != "Dear diary" {
			t.Error("a text was thrown away")
		}
	}
}

// Before a file of an older version is brought up to date, a copy of it is made; what was
// in it is all there afterwards.
func TestOlderVersion(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	made(t, path, 2)
	db, err := connect(path, "")
	must(t, err)
	sub, err := fs.Sub(migrations, "migrations")
	must(t, err)
	down, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	must(t, err)
	_, err = down.DownTo(t.Context(), 5)
	must(t, err)
	must(t, db.Close())
	s := opened(t, path)
	list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10)
	if err != nil || len(list) != 2 || list[0].Name != "bed 1" || list[0].Card != nil {
		t.Errorf("%+v, %v", list, err)
	}
	copies, err := filepath.Glob(path + ".v5-*")
	must(t, err)
	if len(copies) != 1 {
		t.Fatalf("copies: %v", copies)
	}
	if c, err := Check(copies[0]); err != nil || c.Projects != 2 {
		t.Errorf("the copy has %d projects, %v", c.Projects, err)
	}
}

// A copy is made while the file is in use, stands by itself, and is brought back over
// what is not later; what was there is kept.
func TestBackup(t *testing.T) {
	dir := t.TempDir()
	path, one, two := filepath.Join(dir, "beds?.db"), filepath.Join(dir, "one#.db"), filepath.Join(dir, "two.db")
	s, err := Open(path)
	must(t, err)
	t.Cleanup(func() { s.Close() })
	at := s.now()
	s.now = func() time.Time { at = at.Add(time.Second); return at }
	id, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{})
	must(t, err)
	c, err := Backup(path, one)
	must(t, err)
	if c.Projects != 1 || c.Revisions != 1 || len(c.Damaged) != 0 {
		t.Errorf("copied %+v", c)
	}
	if _, err := Backup(path, one); err == nil {
		t.Error("a copy was written over")
	}
	if _, err := Backup(path, path); err == nil {
		t.Error("a file was copied onto itself")
	}
	p, err := s.Project(t.Context(), id)
	must(t, err)
	p.Design.Beds[0].Name = "later"
	must(t, s.Save(id, p.Head, p.Design, "name", Kept{}))
	if _, err := Backup(path, two); err != nil {
		t.Fatal(err)
	}
	for _, ends := range []string{"-wal", "-shm", ".part", "-journal"} {
		if _, err := os.Stat(one + ends); err == nil {
			t.Errorf("a copy has a %s beside it", ends)
		}
	}
	if _, _, err := Restore(one, path, false); !errors.Is(err, ErrInUse) {
		t.Errorf("over a file in use: %v", err)
	}
	must(t, s.Close())
	var later *Later
	if _, _, err := Restore(one, path, false); !errors.As(err, &later) {
		t.Errorf("over a later file: %v", err)
	}
	was, _, err := Restore(one, path, true)
	must(t, err)
	if c, err := Check(was); err != nil || c.Revisions != 2 {
		t.Errorf("what was there is kept with %d revisions, %v", c.Revisions, err)
	}
	s, err = Open(path)
	must(t, err)
	if p, err := s.Project(t.Context(), id); err != nil || p.Design.Beds[0].Name != "Bed 1" {
		t.Errorf("brought back: %q, %v", p.Design.Beds[0].Name, err)
	}
	must(t, s.Close())
	if _, _, err := Restore(two, path, false); err != nil {
		t.Errorf("over an earlier file: %v", err)
	}
	if was, _, err := Restore(two, filepath.Join(dir, "new.db"), false); err != nil || was != "" {
		t.Errorf("to a new file: %q, %v", was, err)
	}
	// A damaged file is replaced only where that is meant, and kept too.
	raw, err := os.ReadFile(path)
	must(t, err)
	must(t, os.WriteFile(path, raw[:len(raw)/2], 0o600))
	if _, _, err := Restore(two, path, false); !errors.Is(err, ErrBroken) {
		t.Errorf("over a damaged file: %v", err)
	}
	if was, _, err := Restore(two, path, true); err != nil || was == "" {
		t.Errorf("over a damaged file all the same: %v", err)
	}
	if c, err := Check(path); err != nil || c.Projects != 1 {
		t.Errorf("%d projects, %v", c.Projects, err)
	}
}

// A full disk is told as one, nothing of what did not fit is there, and all from before.
func TestFullDisk(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	s.db.SetMaxOpenConns(1)
	id, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{})
	must(t, err)
	s.db.MustExec("PRAGMA max_page_count = 1") // no more than there are
	n := 0
	for err = nil; err == nil && n < 1000; n++ {
		var p Project
		if p, err = s.Project(t.Context(), id); err == nil {
			p.Design.Name = fmt.Sprint("change ", n, strings.Repeat("x", 60))
			err = s.Save(id, p.Head, p.Design, "name", Kept{Card: make([]byte, 9000)})
		}
	}
	if Why(err) != Full {
		t.Fatalf("after %d changes: %v", n, err)
	}
	list, err := s.History(t.Context(), id, 2000)
	must(t, err)
	if p, err := s.Project(t.Context(), id); err != nil || len(list) != n || p.Head != list[0].ID {
		t.Errorf("%d changes were acknowledged, %d revisions are there, %v", n-1, len(list), err)
	}
	s.db.MustExec("PRAGMA query_only = 1")
	if err := s.Delete(id); Why(err) != ReadOnly {
		t.Errorf("a file that may not be written: %v", err)
	}
}

// Boards of the shed are counted on by one project at a time.
func TestClaims(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	must(t, s.Stow(Home, "us", catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 8}))
	list, err := s.Shed(t.Context(), Home, "us")
	must(t, err)
	board := list[0].ID
	make := func(n int) int64 {
		id, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{Claims: map[int64]int{board: n}})
		must(t, err)
		return id
	}
	has := func(id int64, want int) {
		t.Helper()
		if claims, err := s.Claims(t.Context(), id); err != nil || claims[board] != want {
			t.Errorf("%d boards are kept for %d, want %d (%v)", claims[board], id, want, err)
		}
	}
	one, two := make(5), make(6)
	has(one, 5)
	has(two, 3) // what is left
	p, err := s.Project(t.Context(), one)
	must(t, err)
	must(t, s.Save(one, p.Head, p.Design, "less", Kept{Claims: map[int64]int{board: 1}}))
	must(t, s.Keep(two, 2, "a bed", Kept{Claims: map[int64]int{board: 6}}))
	has(two, 6)
	must(t, s.Keep(two, 999, "a bed", Kept{})) // of another revision: not its head
	has(two, 6)
	others, err := s.OthersClaims(t.Context(), one)
	must(t, err)
	if len(others) != 1 || others[0].Project != two || others[0].Boards != 6 {
		t.Errorf("%+v", others)
	}
	must(t, s.Delete(two))
	if others, _ := s.OthersClaims(t.Context(), one); len(others) != 0 {
		t.Errorf("a deleted project keeps boards: %+v", others)
	}
	must(t, s.Keep(one, p.Head+2, "a bed", Kept{Claims: map[int64]int{board: 50}}))
	has(one, 8)
}

// Once nothing is written for a while, a copy of the file alone has all of it.
func TestRestfulFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	s := opened(t, path)
	for i := range 5 {
		_, err := s.Create(Home, design.New(catalog.Regions()[0], fmt.Sprint("bed ", i)), "started", Kept{})
		must(t, err)
	}
	if s.idle.timer == nil {
		t.Fatal("nothing waits to put the journal into the file")
	}
	s.idle.checkpoint() // as the timer does
	raw, err := os.ReadFile(path)
	must(t, err)
	alone := filepath.Join(t.TempDir(), "alone.db")
	must(t, os.WriteFile(alone, raw, 0o600))
	if c, err := Check(alone); err != nil || c.Projects != 5 {
		t.Errorf("the file alone has %d projects, %v", c.Projects, err)
	}
}
