package store

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// Old revisions are packed: each reads as it did, an archive is the same bytes, any of them can be gone back to, and
// one whose pack is damaged says so while the others stand. The newest, and the head, are never packed.
func TestPacks(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	s := opened(t, path)
	d := design.New(catalog.Regions()[0], "a bed")
	id, err := s.Create(Home, d, "started", Kept{})
	must(t, err)
	const changes = 900
	var ids []int64
	for i := range changes {
		h, err := s.Standing(t.Context(), id)
		must(t, err)
		ids = append(ids, h.Head)
		d.Beds[0].Soil = measure.Length(6+i%30) * measure.Inch
		d.Name = fmt.Sprint("bed ", i)
		must(t, s.Save(id, h.Head, d, "changed", Kept{}))
	}
	at := func(i int) {
		t.Helper()
		h, err := s.Standing(t.Context(), id)
		must(t, err)
		must(t, s.GoTo(id, h.Head, ids[i]))
	}
	at(5) // an old one is the head
	archive := func() []byte {
		t.Helper()
		var out bytes.Buffer
		must(t, s.Archive(t.Context(), &out, 0))
		return out.Bytes()
	}
	before := archive()
	for more := true; more; {
		more, err = s.PackOld()
		must(t, err)
	}
	p, err := s.Packed(t.Context(), Home)
	must(t, err)
	if p.Old < changes-neverPacked-2*packedAtOnce || p.Old > changes-neverPacked || p.Takes*10 > p.Size {
		t.Errorf("packed: %+v", p)
	}
	fileSize := func() int64 {
		t.Helper()
		s.checkpoint()
		info, err := os.Stat(path)
		must(t, err)
		return info.Size()
	}
	was := fileSize()
	if done, err := s.Compact(); err != nil || !done {
		t.Errorf("the file is not written anew (%v)", err)
	}
	if now := fileSize(); was-now < p.Size/2 {
		t.Errorf("the file had %d bytes, of which packing left %d; written anew it has %d", was, p.Size-p.Takes, now)
	}
	if done, err := s.Compact(); err != nil || done {
		t.Errorf("it is written anew once more (%v)", err)
	}
	t.Logf("%d of %d designs, %d kB, in %d packs of %d kB", p.Old, changes, p.Size>>10, p.Packs, p.Takes>>10)
	if !bytes.Equal(before, archive()) {
		t.Error("packing changes the archive")
	}
	for i, r := range ids[1:] {
		d, err := s.Revision(t.Context(), id, r)
		must(t, err)
		if d.Name != fmt.Sprint("bed ", i) {
			t.Fatalf("revision %d is of %q", r, d.Name)
		}
	}
	at(100)
	if p, err := s.Project(t.Context(), id); err != nil || p.Design.Name != "bed 99" {
		t.Errorf("went back to %q (%v)", p.Design.Name, err)
	}
	must(t, s.Undo(id, ids[100]))
	if p, err := s.Project(t.Context(), id); err != nil || p.Design.Name != "bed 98" {
		t.Errorf("one before it is %q (%v)", p.Design.Name, err)
	}
	if _, err := s.db.Exec("UPDATE packs SET body = substr(body, 1, length(body) / 2) WHERE id = 2"); err != nil {
		t.Fatal(err)
	}
	s.packed.list = nil
	hurt := 0
	for _, r := range ids {
		var damaged *Damaged
		if _, err := s.Revision(t.Context(), id, r); errors.As(err, &damaged) {
			hurt++
		} else if err != nil {
			t.Error(err)
		}
	}
	if hurt == 0 || hurt > packedAtOnce {
		t.Errorf("%d revisions are damaged", hurt)
	}
	if bad, err := checkPacks(s.db); err != nil || bad != hurt {
		t.Errorf("looking through it finds %d of %d that are damaged (%v)", bad, hurt, err)
	}
	must(t, s.Purge(id))
	if p, err := s.Packed(t.Context(), 0); err != nil || p.Packs != 0 {
		t.Errorf("after it was deleted: %+v (%v)", p, err)
	}
}

// FuzzUnpack reads whatever could stand in a pack: designs, or a reason why not.
func FuzzUnpack(f *testing.F) {
	body, err := pack([]int64{1, 70_000}, map[int64]string{1: `{"a":1}`, 70_000: `{"a":2}`})
	if err != nil {
		f.Fatal(err)
	}
	f.Add(body)
	f.Add([]byte{})
	f.Fuzz(func(t *testing.T, body []byte) {
		list, err := unpackDesigns(body)
		if err != nil {
			return
		}
		var ids []int64
		for id := range list {
			ids = append(ids, id)
		}
		again, err := pack(ids, list)
		must(t, err)
		back, err := unpackDesigns(again)
		if err != nil || len(back) != len(list) {
			t.Fatalf("%d designs, packed anew %d (%v)", len(list), len(back), err)
		}
		for id, d := range list {
			if back[id] != d {
				t.Errorf("design %d is another", id)
			}
		}
	})
}
