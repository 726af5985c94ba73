package store

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/long"
)

// Of a file with one page of it damaged every project that is not on that page alone is had back; with a copy, all.
func TestSalvage(t *testing.T) {
	dir := t.TempDir()
	path, copied := filepath.Join(dir, "beds.db"), filepath.Join(dir, "copy.db")
	s, err := Open(path)
	must(t, err)
	const projects = 16
	heads := map[int64]int64{}
	for i := range projects {
		d := design.New(catalog.Regions()[i%2], fmt.Sprint("bed ", i))
		id, err := s.Create(Home, d, "started", Kept{Card: []byte("{}")})
		must(t, err)
		for n := range 3 {
			p, err := s.Project(t.Context(), id)
			must(t, err)
			p.Design.Note = fmt.Sprint("change ", n, strings.Repeat(" and more", 200))
			must(t, s.Save(id, p.Head, p.Design, "note", Kept{Card: []byte("{}")}))
		}
		must(t, s.Tick(id, Tick{Key: "cut:1", Done: true}))
		h, err := s.Standing(t.Context(), id)
		must(t, err)
		heads[id] = h.Head
	}
	must(t, s.Stow(Home, "us", catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 8}))
	must(t, s.Close())
	if _, err := Backup(path, copied); err != nil {
		t.Fatal(err)
	}
	good, err := os.ReadFile(path)
	must(t, err)
	const page = 4096
	r := rand.New(rand.NewPCG(25, 1))
	pages := len(good) / page
	tries, refused, whole, earlier, lost := 0, 0, 0, 0, 0
	for n := range pages {
		if !long.Whole() && r.IntN(10) > 0 && n > 3 {
			continue
		}
		tries++
		raw := append([]byte(nil), good...)
		what := "zeroed"
		if n%2 == 0 && n > 0 {
			what = "scribbled over"
			for i := range page {
				raw[n*page+i] = byte(r.Uint32())
			}
		} else {
			clear(raw[max(n*page, 100) : (n+1)*page]) // the first page's head says that it is a file of SQLite
		}
		hurt := filepath.Join(dir, "hurt.db")
		must(t, remove(hurt))
		must(t, os.WriteFile(hurt, raw, 0o600))
		s, err := Open(hurt)
		if err == nil { // what was on that page is of no use any more, or hides no other
			must(t, s.Close())
			continue
		}
		if !errors.Is(err, ErrBroken) {
			t.Fatalf("page %d %s: %v", n, what, err)
		}
		refused++
		alone, err := Readable(hurt, "")
		if err != nil {
			t.Fatalf("page %d %s: nothing can be read: %v", n, what, err)
		}
		whole, earlier, lost = whole+alone.Whole, earlier+len(alone.Earlier), lost+projects-alone.Whole-len(alone.Earlier)
		if now, err := os.ReadFile(hurt); err != nil || string(now) != string(raw) {
			t.Fatalf("page %d %s: it was written to (%v)", n, what, err)
		}
		found, err := Salvage(hurt, copied)
		if err != nil {
			t.Fatalf("page %d %s: %v", n, what, err)
		}
		if was, err := os.ReadFile(found.Was); err != nil || string(was) != string(raw) {
			t.Errorf("page %d %s: it is not kept as it was (%v)", n, what, err)
		}
		must(t, remove(found.Was))
		c, err := Check(hurt)
		if err != nil || c.Projects != projects || len(c.Damaged) > 0 || len(found.Lost) > 0 {
			t.Fatalf("page %d %s: %+v, %+v, %v", n, what, c, found, err)
		}
		s, err = Open(hurt)
		must(t, err)
		for id, head := range heads {
			if p, err := s.Project(t.Context(), id); err != nil || p.Head != head {
				t.Errorf("page %d %s: project %d is at %d of %d, %v", n, what, id, p.Head, head, err)
			}
		}
		must(t, s.Close())
	}
	t.Logf("%d of %d pages damaged, %d refused; by themselves on average %.1f of %d projects whole, %.1f at an earlier"+
		" revision, %.1f lost", tries, pages, refused, float64(whole)/float64(refused), projects,
		float64(earlier)/float64(refused), float64(lost)/float64(refused))
	if refused < tries/2 {
		t.Errorf("only %d of %d damages were seen", refused, tries)
	}
	if _, err := Salvage(path, ""); err == nil {
		t.Error("a sound file was salvaged")
	}
}
