package sources

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// Every text that says a value is from memory names a work that the table tells of, or
// common practice; and nothing of the remark is left where it is read.
func TestEveryRecalledWorkIsListed(t *testing.T) {
	if len(List()) < 20 {
		t.Fatalf("%d works", len(List()))
	}
	listed := func(text string) bool {
		for _, w := range List() {
			if strings.Contains(text, w.Key) {
				return true
			}
		}
		return strings.Contains(text, "common practice")
	}
	seen := 0
	look := func(path, text string) {
		for line := range strings.Lines(text) {
			if !strings.Contains(line, "from memory") {
				continue
			}
			if seen++; !listed(line) {
				t.Errorf("%s: %q names no work that is listed", path, strings.TrimSpace(line))
			}
			if said := Said(line); strings.Contains(said, "from memory") {
				t.Errorf("%s: %q still says so", path, said)
			}
		}
	}
	err := filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") || strings.HasPrefix(path, "../sources") {
			return err
		}
		raw, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		switch filepath.Ext(path) {
		case ".csv", ".json":
			look(path, string(raw))
		case ".go":
			file, err := parser.ParseFile(token.NewFileSet(), path, raw, 0)
			if err != nil {
				return err
			}
			ast.Inspect(file, func(n ast.Node) bool {
				if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
					if text, err := strconv.Unquote(lit.Value); err == nil {
						look(path, text)
					}
				}
				return true
			})
		}
		return nil
	})
	if err != nil || seen < 50 {
		t.Errorf("%d texts looked at: %v", seen, err)
	}
}
