// Package core holds everything that is reckoned; see its rooms.
package core

import (
	"os/exec"
	"slices"
	"strings"
	"testing"
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
