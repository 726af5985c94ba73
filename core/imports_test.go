// Package core holds everything that is reckoned; see its rooms.
package core

import (
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"
)

// numeric is the one library for numbers that the core may use.
var numeric = []string{"gonum.org/v1/gonum"}

// The core imports nothing outside of itself, the standard library and one numeric library,
// in tests neither, but for what they are checked against.
func TestCoreImports(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "./...").Output()
	if err != nil {
		t.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(string(out)), "\n")
	if len(lines) < 20 {
		t.Fatalf("only %d rooms were looked at", len(lines))
	}
	for _, line := range lines {
		words := strings.Fields(line)
		for _, path := range words[1:] {
			first, _, _ := strings.Cut(path, "/")
			own := strings.HasPrefix(path, "chamfer/core/") || strings.HasPrefix(path, "chamfer/long")
			known := slices.ContainsFunc(numeric, func(n string) bool { return strings.HasPrefix(path, n) })
			if strings.Contains(first, ".") && !known || first == "chamfer" && !own {
				t.Errorf("%s imports %s", words[0], path)
			}
		}
	}
}

// Nobody but the builders opens a bed's own options: who reads asks the frame what is there,
// and a decision what it is for.
func TestReadersOpenNoOptions(t *testing.T) {
	builders := []string{"design", "timber", "masonry", "addition"}
	looked := 0
	for _, dir := range []string{".", "../draw", "../export", "../web"} {
		err := filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
			if err != nil || d.IsDir() && slices.Contains(builders, path) {
				if err == nil {
					err = filepath.SkipDir
				}
				return err
			}
			if !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return nil
			}
			raw, err := os.ReadFile(path)
			looked++
			for i, line := range strings.Split(string(raw), "\n") {
				for _, opens := range []string{".Options[", ".OptionLength(", ".OptionCount("} {
					if strings.Contains(line, opens) {
						t.Errorf("%s:%d opens an option: %s", path, i+1, strings.TrimSpace(line))
					}
				}
			}
			return err
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	if looked < 100 {
		t.Errorf("only %d files were looked at", looked)
	}
}

// Lines are read, not scrolled: they end by column 120. What is generated or is somebody
// else's does not count, nor the style inside drawings, which are compared byte for byte.
func TestLinesEnd(t *testing.T) {
	out, err := exec.Command("git", "ls-files", "..").Output()
	if err != nil {
		t.Skip("not a checkout")
	}
	looked := 0
	for _, path := range strings.Fields(string(out)) {
		switch filepath.Ext(path) {
		case ".go", ".html", ".css", ".js":
		default:
			continue
		}
		if strings.Contains(path, "/static/") || strings.Contains(path, "/testdata/") || path == "../draw/look.css" {
			continue
		}
		raw, err := os.ReadFile(path)
		if err != nil {
			continue // it has been moved
		}
		looked++
		for i, line := range strings.Split(string(raw), "\n") {
			if n := utf8.RuneCountInString(line); n > 120 {
				t.Errorf("%s:%d is %d long", path, i+1, n)
			}
		}
	}
	if looked < 200 {
		t.Errorf("only %d files were looked at", looked)
	}
}
