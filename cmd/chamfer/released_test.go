package main

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/plan"
	"chamfer/store"
)

// Files that the program of each version of the tables made by itself, its demo with three projects given a new name,
// open
// with all that is in them: each is read at its head, planned, undone, and goes into an archive and back.
func TestEveryVersionThereWas(t *testing.T) {
	list, err := filepath.Glob("../../store/testdata/released/v*.db.gz")
	if err != nil {
		t.Fatal(err)
	}
	migrations, err := filepath.Glob("../../store/migrations/*.sql")
	if err != nil || len(list) < len(migrations)-1 {
		t.Fatalf("there are files of %d versions, and there have been %d (%v)", len(list), len(migrations), err)
	}
	for _, name := range list {
		version := strings.TrimSuffix(filepath.Base(name), ".db.gz")
		t.Run(version, func(t *testing.T) {
			raw, err := os.ReadFile(name)
			if err != nil {
				t.Fatal(err)
			}
			r, err := gzip.NewReader(bytes.NewReader(raw))
			if err != nil {
				t.Fatal(err)
			}
			if raw, err = io.ReadAll(r); err != nil {
				t.Fatal(err)
			}
			dir := t.TempDir()
			path := filepath.Join(dir, "beds.db")
			if err := os.WriteFile(path, raw, 0o644); err != nil {
				t.Fatal(err)
			}
			s, err := store.Open(path)
			if err != nil {
				t.Fatal(err)
			}
			projects := 0
			err = s.EachProject(t.Context(), func(h store.Standing) error {
				p, err := h.Read()
				if err != nil {
					return err
				}
				projects++
				want := fmt.Sprintf("Kept since version %s, %d", version[1:], h.ID)
				if h.ID <= 3 && (p.Design.Name != want || h.Name != want) {
					t.Errorf("project %d is called %q, in the list %q", h.ID, p.Design.Name, h.Name)
				}
				c, err := catalog.ForRegion(p.Design.Region)
				if err != nil {
					return err
				}
				habits, err := s.Habits(t.Context(), h.Household, c)
				if err != nil {
					return err
				}
				if _, err := plan.Make(p.Design, plan.Shop{Catalog: c, Habits: habits}); err != nil {
					t.Errorf("project %d is not planned: %v", h.ID, err)
				}
				if h.ID <= 3 {
					if err := s.Undo(h.ID, h.Head); err != nil {
						return err
					}
					if p, err = s.Project(t.Context(), h.ID); err == nil && p.Design.Name == want {
						t.Errorf("project %d is called %q after its name was taken back", h.ID, p.Design.Name)
					}
				}
				return err
			})
			if err := s.Close(); err != nil {
				t.Fatal(err)
			}
			if err != nil || projects < 2 {
				t.Fatalf("%d projects, %v", projects, err)
			}
			var out bytes.Buffer
			if code := run([]string{"archive", filepath.Join(dir, "all.zip"), "--data", path}, nil, &out, &out); code != 0 {
				t.Errorf("no archive: %s", out.String())
			}
		})
	}
}
