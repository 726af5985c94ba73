// Package sources tells once, of every published work that the figures rest on, what it is
// taken for and how it was checked. No book was at hand when they were written down: they
// are from memory, and said to be so here and not beside every figure.
package sources

import (
	_ "embed"
	"encoding/csv"
	"strings"
	"sync"
)

//go:embed sources.csv
var table string

// Work is one published work.
type Work struct {
	Key     string // what it is called where it is cited
	Name    string
	For     string // what is taken from it
	Checked string // against what
}

// List is all of them, in the order of the table.
var List = sync.OnceValue(func() []Work {
	rows, err := csv.NewReader(strings.NewReader(table)).ReadAll()
	if err != nil {
		return nil // a test reads it
	}
	var list []Work
	for _, r := range rows[1:] {
		list = append(list, Work{r[0], r[1], r[2], r[3]})
	}
	return list
})

var unsaid = strings.NewReplacer(
	" (from memory)",
	"",
	", from memory)",
	")",
	", from memory",
	"",
	"; from memory",
	"",
	"from memory; ",
	"",
	" from memory",
	"",
)

// Said is a source for reading, without the remark that this package makes once.
func Said(source string) string { return unsaid.Replace(source) }
