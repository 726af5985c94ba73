package main

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/plan"
	"chamfer/demo"
	"chamfer/export"
	"chamfer/people"
	"chamfer/store"
)

// garden is a file with the demo in it, and of every kind of thing that is kept something: two households, an account,
// an
// author, photos, boards, prices, ticks, a project that is deleted, one that cannot be read.
func garden(t *testing.T, path string) {
	t.Helper()
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	do := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	do(demo.Fill(s))
	secret, err := s.MakeLink(store.Link{Kind: store.First, Household: new(store.Home), Role: people.Owner, Once: true},
		1e12)
	do(err)
	link, err := s.Link(t.Context(), secret)
	do(err)
	ottoline, err := s.Join(link, 0, "Ottoline", "no hash at all")
	do(err)
	other, err := s.FoundHousehold("Next door", ottoline)
	do(err)
	for _, region := range []string{"us", "metric"} {
		c, err := catalog.ForRegion(region)
		do(err)
		h := c.Habits
		h.CarLitres++
		do(s.SetHabits(other, region, h))
		do(s.Stow(other, region, catalog.Leftover{Profile: "2x6", Species: "cedar", Length: 41e7, Quantity: 8,
			Note: "behind the “door”, ümlaut \x00 and \xff"}))
	}
	p, err := s.Project(t.Context(), 1)
	do(err)
	p.Design.Note = "changed by somebody"
	do(s.Save(1, p.Head, p.Design, "note", store.Kept{Edit: store.Edit{By: ottoline}}))
	do(s.Tick(1, store.Tick{Key: "step:buy", Print: "x", Done: true}))
	do(s.AddPhotos(1, store.Photo{Key: "step:buy", Caption: "as bought", Width: 2, Height: 1,
		Body: []byte("\xff\xd8 jpeg")}))
	do(s.HandOut(1, []store.Event{{UID: "u1", Title: "buy", Begins: "2027-04-01T09:00", Ends: "2027-04-01T11:00"}}))
	_, err = s.Create(other, p.Design, "a bed next door", store.Kept{})
	do(err)
	do(s.Delete(2))
}

// unzipped is what is in an archive, by name.
func unzipped(t *testing.T, raw []byte) map[string][]byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		t.Fatal(err)
	}
	files := map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		if files[f.Name], err = io.ReadAll(r); err != nil {
			t.Fatal(err)
		}
		r.Close()
	}
	return files
}

// Everything goes into an archive of open formats and comes back without loss: the archive of what came back is the
// same,
// byte by byte. Each project in it is a file that plans as the project does.
func TestArchive(t *testing.T) {
	dir := t.TempDir()
	path, one, back, two := filepath.Join(dir, "beds.db"), filepath.Join(dir, "one.zip"), filepath.Join(dir, "back.db"),
		filepath.Join(dir, "two.zip")
	garden(t, path)
	var out bytes.Buffer
	call := func(want int, args ...string) string {
		t.Helper()
		out.Reset()
		if code := run(args, strings.NewReader(""), &out, &out); code != want {
			t.Fatalf("chamfer %v: code %d, want %d\n%s", args, code, want, out.String())
		}
		return out.String()
	}
	call(0, "archive", one, "--data", path)
	call(0, "restore", one, "--data", back)
	call(0, "archive", two, "--data", back)
	first, err := os.ReadFile(one)
	if err != nil {
		t.Fatal(err)
	}
	second, err := os.ReadFile(two)
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(first, second) {
		a, b := unzipped(t, first), unzipped(t, second)
		for name, raw := range a {
			if !bytes.Equal(raw, b[name]) {
				t.Errorf("%s comes back as another: %d bytes of %d", name, len(b[name]), len(raw))
			}
		}
		t.Fatalf("the archive of what came back is another: %d files, %d", len(a), len(b))
	}
	projects := 0
	for name, raw := range unzipped(t, first) {
		switch {
		case strings.HasSuffix(name, ".chamfer.json"):
			projects++
			p, err := export.ReadProject(raw)
			if err != nil {
				t.Fatalf("%s: %v", name, err)
			}
			shop, err := p.Shop()
			if err != nil {
				t.Fatal(err)
			}
			if _, err := plan.Make(p.Design, shop); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		case strings.HasSuffix(name, ".jsonl"):
			for line := range bytes.Lines(raw) {
				if !json.Valid(line) {
					t.Errorf("%s: %s is no JSON", name, line)
				}
			}
		}
	}
	if projects != 5 {
		t.Errorf("%d projects are in it", projects)
	}
	// What is no archive, or a hurt one, is refused whole and leaves what is there.
	was, _ := os.ReadFile(back)
	for i, hurt := range [][]byte{first[:len(first)/2], bytes.Replace(first, []byte("kept.jsonl"), []byte("kept.jsonx"),
		-1),
		append([]byte("PK\x03\x04"), first[200:]...)} {
		bad := filepath.Join(dir, fmt.Sprint("bad", i, ".zip"))
		if err := os.WriteFile(bad, hurt, 0o600); err != nil {
			t.Fatal(err)
		}
		if said := call(2, "restore", bad, "--data", back, "--over"); !strings.Contains(said, "no archive") {
			t.Errorf("hurt in way %d: %s", i, said)
		}
	}
	if now, _ := os.ReadFile(back); !bytes.Equal(was, now) {
		t.Error("what was there was changed by an archive that is none")
	}
	// A household's own has nothing of the other's, nor of who they are, and comes to be the one that a new machine opens.
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	var own bytes.Buffer
	err = s.Archive(t.Context(), &own, 2)
	s.Close()
	if err != nil {
		t.Fatal(err)
	}
	for name, raw := range unzipped(t, own.Bytes()) {
		if bytes.Contains(raw, []byte("Ottoline")) && !strings.Contains(name, "project") || strings.Contains(name,
			"household-1") {
			t.Errorf("%s is another's: %s", name, raw)
		}
	}
	mine := filepath.Join(dir, "mine.zip")
	if err := os.WriteFile(mine, own.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	call(0, "restore", mine, "--data", filepath.Join(dir, "mine.db"))
	if got, _ := names(t, filepath.Join(dir, "mine.db")); len(got) != 1 {
		t.Errorf("of the household next door there are %v", got)
	}
}

// A damaged file is not served: it is said what could be had, by itself and with the last good copy, and how; that is
// so.
func TestDamagedStart(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "beds.db")
	garden(t, path)
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.CopyNow(); err != nil {
		t.Fatal(err)
	}
	p, err := s.Project(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	p.Design.Name = "since the copy"
	if err := s.Save(1, p.Head, p.Design, "name", store.Kept{}); err != nil {
		t.Fatal(err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	raw, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	at := bytes.Index(raw, []byte("Wren's bean bed")) &^ 4095
	clear(raw[at : at+4096])
	if err := os.WriteFile(path, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	var said bytes.Buffer
	if code := run([]string{"serve", "--addr", "127.0.0.1:0", "--data", path}, nil, &said, &said); code != exitMalformed ||
		!strings.Contains(said.String(), "By itself it still has") || !strings.Contains(said.String(),
		"Its last good copy is") {
		t.Fatalf("code %d: %s", code, said.String())
	}
	if now, err := os.ReadFile(path); err != nil || !bytes.Equal(now, raw) {
		t.Fatalf("it was written to: %v", err)
	}
	said.Reset()
	if code := run([]string{"salvage", "--data", path}, nil, &said, &said); code != 0 {
		t.Fatalf("code %d: %s", code, said.String())
	}
	was := regexp.MustCompile(`The damaged file is now (.+)`).FindStringSubmatch(said.String())
	if was == nil {
		t.Fatalf("it does not say where the damaged file is: %s", said.String())
	}
	if kept, err := os.ReadFile(was[1]); err != nil || !bytes.Equal(kept, raw) {
		t.Errorf("the damaged file is not kept: %v", err)
	}
	named, _ := names(t, path)
	if named[1] != "since the copy" || len(named) != 3 {
		t.Errorf("salvaged: %v\n%s", named, said.String())
	}
}

// The doctor says what is not as it should be about how a file is kept, and nothing where all is well.
func TestDoctor(t *testing.T) {
	path := filepath.Join(t.TempDir(), "beds.db")
	garden(t, path)
	said := func() string {
		t.Helper()
		var out bytes.Buffer
		if code := run([]string{"doctor", "--data", path}, nil, &out, &out); code != 0 {
			t.Fatalf("code %d: %s", code, out.String())
		}
		return out.String()
	}
	if s := said(); strings.Count(s, "see to") != 1 || !strings.Contains(s, "no good copy") {
		t.Errorf("without a copy: %s", s)
	}
	s, err := store.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	c, err := s.CopyNow()
	s.Close()
	if err != nil {
		t.Fatal(err)
	}
	if s := said(); strings.Contains(s, "see to") {
		t.Errorf("all is well: %s", s)
	}
	old := strings.Replace(c.Path, c.Made.Format("20060102"), c.Made.AddDate(0, 0, -3).Format("20060102"), 1)
	for _, err := range []error{os.Rename(c.Path, old), os.Chmod(path, 0o644), os.WriteFile(path+".part", nil, 0o600)} {
		if err != nil {
			t.Fatal(err)
		}
	}
	for _, want := range []string{"others may read", "the last good copy is of", "was left by a copy"} {
		if s := said(); !strings.Contains(s, want) {
			t.Errorf("it does not say %q: %s", want, s)
		}
	}
	checked, err := store.Check(path)
	if err != nil {
		t.Fatal(err)
	}
	if list := seeTo(path, checked, time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)); !strings.Contains(fmt.Sprint(list),
		"set the clock") {
		t.Errorf("with a clock of long ago: %v", list)
	}
}
