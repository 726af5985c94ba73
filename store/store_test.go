package store

import (
	"errors"
	"fmt"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

func opened(t *testing.T, path string) *Store {
	t.Helper()
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func soil(t *testing.T, s *Store, id int64) measure.Length {
	t.Helper()
	p, err := s.Project(t.Context(), id)
	must(t, err)
	return p.Design.Beds[0].Soil / measure.Inch
}

// Undo, redo and history are moves over stored revisions, and a file opened
// again holds all of it.
func TestRevisions(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	s := opened(t, path)
	d := design.New(catalog.Regions()[0], "a bed")
	id, err := s.Create(Home, d, "started", Kept{})
	must(t, err)
	edit := func(inches measure.Length) {
		t.Helper()
		p, err := s.Project(t.Context(), id)
		must(t, err)
		p.Design.Beds[0].Soil = inches * measure.Inch
		must(t, s.Save(id, p.Head, p.Design, "soil", Kept{}))
	}
	edit(10)
	edit(11)
	undo := func() error {
		p, err := s.Project(t.Context(), id)
		must(t, err)
		return s.Undo(id, p.Head)
	}
	redo := func() error {
		p, err := s.Project(t.Context(), id)
		must(t, err)
		return s.Redo(id, p.Head)
	}
	must(t, undo())
	must(t, undo())
	if got := soil(t, s, id); got != 12 {
		t.Errorf("after two undos %d in", got)
	}
	if err := undo(); !errors.Is(err, ErrNothing) {
		t.Errorf("undo past the start: %v", err)
	}
	must(t, redo())
	if got := soil(t, s, id); got != 10 {
		t.Errorf("after a redo %d in", got)
	}
	edit(14) // a new branch: redo now has nowhere to go, history keeps both
	if err := redo(); !errors.Is(err, ErrNothing) {
		t.Errorf("redo after an edit: %v", err)
	}
	list, err := s.History(t.Context(), id, 10)
	must(t, err)
	if len(list) != 4 {
		t.Fatalf("%d revisions, want 4", len(list))
	}
	must(t, s.Close())
	s = opened(t, path)
	if got := soil(t, s, id); got != 14 {
		t.Errorf("after opening again %d in", got)
	}
	p, err := s.Project(t.Context(), id)
	must(t, err)
	must(t, s.GoTo(id, p.Head, list[1].ID)) // the abandoned 11 in
	if got := soil(t, s, id); got != 11 {
		t.Errorf("gone to %d in", got)
	}
	if err := s.GoTo(id, list[1].ID, 9999); !errors.Is(err, ErrNoRevision) {
		t.Errorf("went to a revision that is not there: %v", err)
	}
}

// Two windows: the later save is told, and nothing is overwritten.
func TestConflict(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	id, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{})
	must(t, err)
	p, err := s.Project(t.Context(), id)
	must(t, err)
	var wait sync.WaitGroup
	results := make([]error, 8)
	for i := range results {
		wait.Add(1)
		go func() {
			defer wait.Done()
			d := p.Design.Copy()
			d.Beds[0].Soil = measure.Length(8+i) * measure.Inch
			results[i] = s.Save(id, p.Head, d, "soil", Kept{})
		}()
	}
	wait.Wait()
	saved := 0
	for _, err := range results {
		var c *Conflict
		switch {
		case err == nil:
			saved++
		case !errors.As(err, &c) || c.Base != p.Head || c.Head == p.Head:
			t.Errorf("%v is no conflict", err)
		}
	}
	list, err := s.History(t.Context(), id, 100)
	must(t, err)
	if saved != 1 || len(list) != 2 {
		t.Errorf("%d saves went through, %d revisions", saved, len(list))
	}
}

func TestDeleteTicksHabits(t *testing.T) {
	s := opened(t, filepath.Join(t.TempDir(), "beds.db"))
	id, err := s.Create(Home, design.New(catalog.Regions()[1], "a bed"), "started", Kept{})
	must(t, err)
	must(t, s.Delete(id))
	if list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10); err != nil || len(list) != 0 {
		t.Errorf("deleted, yet %d projects, %v", len(list), err)
	}
	must(t, s.Restore(id))
	if list, err := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10); err != nil || len(list) != 1 {
		t.Errorf("restored, yet %d projects, %v", len(list), err)
	}
	if err := s.Delete(99); !errors.Is(err, ErrNotFound) {
		t.Errorf("deleted what is not there: %v", err)
	}
	must(t, s.Tick(id, Tick{Key: "step:cut", Print: "x", Done: true}))
	must(t, s.Tick(id, Tick{Key: "step:cut", Print: "x", Done: true}))
	must(t, s.Tick(id, Tick{Key: "step:buy", Done: true}))
	must(t, s.Tick(id, Tick{Key: "step:buy"}))
	if ticks, err := s.Ticks(t.Context(), id); err != nil || len(ticks) != 1 || ticks["step:cut"].Print != "x" {
		t.Errorf("ticks %v, %v", ticks, err)
	}
	if err := s.Tick(99, Tick{Key: "x", Done: true}); err == nil {
		t.Error("ticked a project that is not there: foreign keys are off")
	}
	c := catalog.Regions()[1]
	h, err := s.Habits(t.Context(), Home, c)
	must(t, err)
	h.Kerf = 2 * measure.Millimetre
	must(t, s.SetHabits(Home, c.ID, h))
	must(t, s.SetHabits(Home, c.ID, h))
	if got, err := s.Habits(t.Context(), Home, c); err != nil || got != h {
		t.Errorf("habits %+v, %v", got, err)
	}
	var mode string
	must(t, s.db.Get(&mode, "PRAGMA journal_mode"))
	if mode != "wal" {
		t.Errorf("journal mode %s", mode)
	}
}

// The shed counts alike boards together, never goes below none, and takes what a
// job leaves just once.
func TestShed(t *testing.T) {
	s, err := Open(filepath.Join(t.TempDir(), "beds.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	l := catalog.Leftover{
		Profile:  "2x6",
		Species:  "cedar",
		Length:   41 * measure.Inch,
		Quantity: 3,
		TrimEnd:  2 * measure.Inch,
		Note:     "one cracked end",
	}
	other := catalog.Leftover{
		Profile:  "2x4",
		Species:  "cedar",
		Length:   30 * measure.Inch,
		Width:    2 * measure.Inch,
		Quantity: 1,
		BadFrom:  9 * measure.Inch,
		BadTo:    11 * measure.Inch,
	}
	if err := s.Stow(Home, "us", l, other, l); err != nil {
		t.Fatal(err)
	}
	holds := func() []catalog.Leftover {
		t.Helper()
		list, err := s.Shed(t.Context(), Home, "us")
		if err != nil {
			t.Fatal(err)
		}
		return list
	}
	list := holds()
	if len(list) != 2 || list[1].Quantity != 6 || list[1].TrimEnd != l.TrimEnd || list[1].Length != l.Length ||
		list[0].Profile != "2x4" ||
		list[0].BadFrom != other.BadFrom ||
		list[0].Width != other.Width ||
		list[0].BadTo != other.BadTo {
		t.Fatalf("%+v", list)
	}
	if metric, _ := s.Shed(t.Context(), Home, "metric"); len(metric) != 0 {
		t.Errorf("%+v", metric)
	}
	if err := s.TakeOut(Home, list[0].ID, 5); err != nil || len(holds()) != 1 {
		t.Errorf("%v, %+v", err, holds())
	}
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	id, err := s.Create(Home, design.New(cat, "a bed"), "started", Kept{})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []bool{true, false} {
		done, err := s.PutAway(id, "us", map[int64]int{list[1].ID: 2}, []catalog.Leftover{other})
		if err != nil || done != want {
			t.Errorf("%d: %v, %v", i, done, err)
		}
	}
	if list = holds(); len(list) != 2 || list[0].Quantity != 1 || list[1].Quantity != 4 {
		t.Errorf("%+v", list)
	}
	if away, err := s.IsPutAway(t.Context(), id); !away || err != nil {
		t.Errorf("%v, %v", away, err)
	}
}

// What longer searches came to is kept by job, the latest, and not without end.
func TestFound(t *testing.T) {
	s, err := Open(filepath.Join(t.TempDir(), "beds.db"))
	must(t, err)
	defer s.Close()
	at := time.Date(2026, 5, 1, 9, 0, 0, 0, time.UTC)
	s.now = func() time.Time { at = at.Add(time.Second); return at }
	must(t, s.KeepFound("a", []byte("first")))
	must(t, s.KeepFound("b", []byte("other")))
	must(t, s.KeepFound("a", []byte("second")))
	list, err := s.Found(t.Context())
	must(t, err)
	if got := fmt.Sprintf("%s", list); got != "[other second]" {
		t.Error(got)
	}
	for i := range mostFound {
		must(t, s.KeepFound(fmt.Sprint(i), []byte{1}))
	}
	if list, err = s.Found(t.Context()); err != nil || len(list) != mostFound || string(list[0]) == "other" {
		t.Errorf("%d, %v", len(list), err)
	}
}
