package store

import (
	"archive/zip"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// few is a file with two projects in it, and its bytes.
func few(t testing.TB, path string) []byte {
	t.Helper()
	s, err := Open(path)
	if err != nil {
		t.Fatal(err)
	}
	for i, c := range catalog.Regions() {
		id, err := s.Create(Home, design.New(c, fmt.Sprint("bed ", i)), "started", Kept{})
		if err != nil {
			t.Fatal(err)
		}
		if err := errors.Join(s.Tick(id, Tick{Key: "cut:1", Done: true}), s.AddPhotos(id, Photo{Body: []byte("jpeg")}),
			s.Stow(Home, c.ID, catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 8})); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

// FuzzArchive brings archives back that somebody has written by hand: what is taken holds together, can be opened and
// goes
// into an archive again; the rest is refused, and leaves nothing.
func FuzzArchive(f *testing.F) {
	dir := f.TempDir()
	path := filepath.Join(dir, "beds.db")
	few(f, path)
	if _, err := ArchiveFile(path, filepath.Join(dir, "all.zip")); err != nil {
		f.Fatal(err)
	}
	z, err := zip.OpenReader(filepath.Join(dir, "all.zip"))
	if err != nil {
		f.Fatal(err)
	}
	defer z.Close()
	var head, house, project []byte
	u := unpacker{files: map[string]*zip.File{}}
	for _, file := range z.File {
		u.files[file.Name] = file
	}
	for name, to := range map[string]*[]byte{"archive.json": &head, "household-1/kept.jsonl": &house,
		"household-1/project-1/kept.jsonl": &project} {
		if *to, err = u.read(name); err != nil {
			f.Fatal(err)
		}
	}
	f.Add(head, house, project)
	f.Add([]byte(`{"format":"chamfer-archive-1","schema":12,"households":1,"projects":0}`), house, []byte(""))
	f.Add(head, []byte(`{"table":"households","row":{"id":1,"name":{"base64":"AA=="},"created_at":null}}`), project)
	f.Add(head, house, []byte(`{"table":"goose_db_version","row":{"version_id":99}}`))
	f.Add(head, house, []byte(`{"table":"photos","row":{"body":{"file":"../kept.jsonl"},"id":"x"}}`))
	f.Fuzz(func(t *testing.T, head, house, project []byte) {
		dir := t.TempDir()
		made, back := filepath.Join(dir, "made.zip"), filepath.Join(dir, "back.db")
		out, err := os.Create(made)
		if err != nil {
			t.Fatal(err)
		}
		w := zip.NewWriter(out)
		for _, file := range []struct {
			name string
			raw  []byte
		}{{"archive.json", head}, {"household-1/kept.jsonl", house}, {"household-1/project-1/kept.jsonl", project},
			{"household-1/project-1/photo-1.jpg", []byte("jpeg")}} {
			in, err := w.Create(file.name)
			if err == nil {
				_, err = in.Write(file.raw)
			}
			if err != nil {
				t.Fatal(err)
			}
		}
		if err := errors.Join(w.Close(), out.Close()); err != nil {
			t.Fatal(err)
		}
		if _, _, err := Restore(made, back, false); err != nil {
			list, err := os.ReadDir(dir)
			if err != nil {
				t.Fatal(err)
			}
			for _, e := range list {
				if name := e.Name(); name != "made.zip" && name != "back.db.lock" {
					t.Errorf("refused, and there is %s", name)
				}
			}
			return
		}
		s, err := Open(back)
		if err != nil {
			t.Fatalf("taken, and not opened: %v", err)
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
		if _, err := ArchiveFile(back, filepath.Join(dir, "again.zip")); err != nil {
			t.Errorf("taken, and in no archive again: %v", err)
		}
	})
}

// FuzzSalvage scribbles over a file at random places: it is opened as it is, or refused and salvaged to one that holds
// together; never a panic, never a file that is opened as if it were new.
func FuzzSalvage(f *testing.F) {
	good := few(f, filepath.Join(f.TempDir(), "beds.db"))
	f.Add(uint32(100), []byte("scribble"), uint32(5000), []byte{0, 0, 0, 0})
	f.Add(uint32(4096*3), []byte{0}, uint32(4096*9+8), []byte{0xff, 0xff, 0xff})
	f.Add(uint32(28), []byte{0, 0, 0, 1}, uint32(24), []byte{9})
	f.Fuzz(func(t *testing.T, at uint32, raw []byte, at2 uint32, raw2 []byte) {
		path := filepath.Join(t.TempDir(), "hurt.db")
		hurt := append([]byte(nil), good...)
		copy(hurt[int(at)%len(hurt):], raw)
		copy(hurt[int(at2)%len(hurt):], raw2)
		if err := os.WriteFile(path, hurt, 0o600); err != nil {
			t.Fatal(err)
		}
		s, err := Open(path)
		if err == nil {
			list, lerr := s.List(t.Context(), Scope{Household: Home}, After{}, "", 10)
			if lerr == nil && len(list) == 0 {
				t.Error("opened as if it were new")
			}
			_ = s.Close()
			return
		}
		if !errors.Is(err, ErrBroken) {
			return // no file of projects at all, or of a newer version
		}
		if _, err := Salvage(path, ""); err != nil {
			return // so little can be read that it says so
		}
		if c, err := Check(path); err != nil || len(c.Damaged) > 0 {
			t.Errorf("salvaged, and %+v, %v", c, err)
		}
	})
}
