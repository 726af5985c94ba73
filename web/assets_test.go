package web

import (
	"crypto/sha256"
	"encoding/hex"
	"flag"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

var update = flag.Bool("update", false, "note that the assets have just been built")

// What make assets builds, and what it builds from, are noted side by side: a
// template, style or script that changed without a new build shows here, also
// on a machine without Node.js.
func TestAssetsAreCurrent(t *testing.T) {
	sum := func(roots ...string) string {
		var files []string
		for _, root := range roots {
			err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
				if err != nil || d.IsDir() {
					if d != nil && d.Name() == "node_modules" {
						return filepath.SkipDir
					}
					return err
				}
				files = append(files, path)
				return nil
			})
			if err != nil {
				t.Fatal(err)
			}
		}
		slices.Sort(files)
		h := sha256.New()
		for _, f := range files {
			if filepath.Base(f) == "assets.sum" {
				continue
			}
			raw, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			h.Write([]byte(filepath.ToSlash(f) + "\n"))
			h.Write(raw)
		}
		return hex.EncodeToString(h.Sum(nil))
	}
	now := "sources " + sum("assets", "templates", "../draw/look.css") + "\nbuilt " + sum("static", "../paper/faces") +
		"\n"
	if *update {
		if err := os.WriteFile("assets/assets.sum", []byte(now), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	noted, err := os.ReadFile("assets/assets.sum")
	if err != nil || strings.TrimSpace(string(noted)) != strings.TrimSpace(now) {
		t.Errorf("styles, script or templates have changed since the last make assets (%v)", err)
	}
}
