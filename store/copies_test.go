package store

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// A copy a day for two years, on a machine whose clock jumps now and then: the newest of seven days, four weeks and
// three
// months are there, none older than it may be, and the last is always a good one.
func TestCopiesOfTwoYears(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds?.db")
	s := opened(t, path)
	_, err := s.Create(Home, design.New(catalog.Regions()[0], "a bed"), "started", Kept{})
	must(t, err)
	now := time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	s.now = func() time.Time { return now }
	for day := range 730 {
		name := fmt.Sprint(path, dayMark, now.AddDate(0, 0, day).Format(dayForm))
		must(t, os.WriteFile(name, []byte("as if"), 0o600))
		must(t, thin(path, now.AddDate(0, 0, day)))
	}
	now = now.AddDate(0, 0, 730)
	if !s.DueCopy() {
		t.Error("there is none of today, and none is due")
	}
	c, err := s.CopyNow()
	must(t, err)
	if s.DueCopy() {
		t.Error("there is one of today, and another is due")
	}
	list, err := Copies(path)
	must(t, err)
	// Worked by hand on a calendar of 2028: the seven days to Thursday 30 November; of the weeks before it those that end
	// on
	// Sunday 26 (among the days), 19 and 12 November; of the months November (among the days), October and September.
	var stamps []string
	for _, c := range list {
		stamps = append(stamps, c.Made.Format("01-02"))
	}
	want := "[11-30 11-29 11-28 11-27 11-26 11-25 11-24 11-19 11-12 10-31 09-30]"
	if now.Format("2006-01-02") != "2028-11-30" {
		t.Fatalf("the last day is %v", now)
	}
	if got := fmt.Sprint(stamps); got != want {
		t.Errorf("there are copies of %v, want %v", got, want)
	}
	if last, ok := LastGood(path); !ok || last.Path != c.Path || last.Projects != 1 {
		t.Errorf("the last good one is %+v, %v", last, ok)
	}
	// The clock has lost its battery: nothing is taken away, and a copy is made.
	back := now
	now = time.Date(1970, 1, 1, 0, 0, 5, 0, time.UTC)
	_, err = s.CopyNow()
	must(t, err)
	if again, err := Copies(path); err != nil || len(again) != len(list)+1 {
		t.Errorf("in 1970 there are %d copies, %v", len(again), err)
	}
	if err := s.Save(1, 1, design.New(catalog.Regions()[0], "of 1970"), "name", Kept{}); err != nil {
		t.Error(err)
	}
	now = back.AddDate(0, 0, 1)
	_, err = s.CopyNow()
	must(t, err)
	again, err := Copies(path)
	must(t, err)
	if len(again) == 0 || again[0].Made != now || again[len(again)-1].Made.Year() != 2028 {
		t.Errorf("after the clock was set again: %v", again)
	}
	if p, err := s.Project(t.Context(), 1); err != nil || p.Design.Name != "of 1970" {
		t.Errorf("the last change is %q, %v", p.Design.Name, err)
	}
	copied, err := OpenCopy(again[0].Path)
	must(t, err)
	defer copied.Close()
	if p, err := copied.Project(t.Context(), 1); err != nil || p.Design.Name != "of 1970" {
		t.Errorf("the copy has %q, %v", p.Design.Name, err)
	}
	if err := copied.Delete(1); err == nil {
		t.Error("a copy that is looked at was written to")
	}
}
