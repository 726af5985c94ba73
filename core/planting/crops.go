// Package planting is what grows in a bed: the crops with the room, depth, sun and time they take, how many fit on a
// piece of soil and where each stands, which of them go well beside one another, and their year. It knows soil only as
// outlines and depths: what a bed is built of is nothing to it.
package planting

import (
	"bytes"
	"cmp"
	_ "embed"
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"sync"

	"chamfer/core/measure"
)

// Crop is one that can be grown. Weeks are after the last frost of spring, before it where they are negative.
type Crop struct {
	ID, Name, Latin, Family string
	Kind                    string // "veg", "herb", "flower" or "fruit"
	Perennial               bool
	InRow, Rows             measure.Length // in a row, and from row to row
	Each                    measure.Length // each way
	Deep                    measure.Length // least depth of soil
	High, Spread            measure.Length // full grown
	Roots                   string         // "shallow", "medium" or "deep"
	Sun                     string         // "full", "part_ok" or "shade_ok"
	SunHours                int            // least, a day
	Support                 string         // "" for none
	SowDeep                 measure.Length
	Indoor, Out, Direct     *Weeks // sown indoors, set out, sown where it grows
	Autumn                  *Weeks // sown, in weeks before the first frost of autumn: from the earlier
	Days                    Span   // to the first harvest
	FromSowing              bool   // counted from there, and not from setting out
	Picked                  Span   // weeks of harvest
	Feeding, Water          string // "light" or "low", "medium", "heavy" or "high"
	Again                   Span   // days until it is sown again; zero for once
	Hardy                   string
	Source, Note            string
}

// Weeks is a stretch of weeks, from and to.
type Weeks struct{ From, To int }

// Span is a least and a most.
type Span struct{ Min, Max int }

// Climbs reports whether a crop needs something to grow up.
func (c Crop) Climbs() bool {
	return strings.Contains(c.Support, "trellis") || strings.Contains(c.Support, "pole")
}

// Thirsty is 1, 2 or 3.
func (c Crop) Thirsty() int { return rank(c.Water) }

// Hungry is 1, 2 or 3.
func (c Crop) Hungry() int { return rank(c.Feeding) }

func rank(word string) int {
	switch word {
	case "light", "low":
		return 1
	case "heavy", "high":
		return 3
	}
	return 2
}

// Tender reports whether frost kills it.
func (c Crop) Tender() bool { return c.Hardy == "tender" || c.Hardy == "very_tender" }

//go:embed crops.csv
var table []byte

var crops = sync.OnceValue(func() map[measure.System][]Crop {
	m := map[measure.System][]Crop{}
	for _, s := range []measure.System{measure.Imperial, measure.Metric} {
		list, err := ReadCrops(bytes.NewReader(table), s)
		if err != nil {
			panic("the table of crops that ships with the program: " + err.Error()) // a test reads it
		}
		m[s] = list
	}
	return m
})

// Crops are all that are known, by name; their sizes are those that books of the region give.
func Crops(s measure.System) []Crop { return crops()[s] }

// ReadCrops reads a table of crops as docs/format.md describes it; sizes are taken from the columns in inches or in
// millimetres. A fault is told by its line and column, and nothing is half taken in.
func ReadCrops(r io.Reader, s measure.System) ([]Crop, error) {
	lines, err := csv.NewReader(r).ReadAll()
	if err != nil {
		return nil, fmt.Errorf("a table of crops: %w", err)
	}
	if len(lines) == 0 {
		return nil, fmt.Errorf("a table of crops: there is no line that names the columns")
	}
	var list []Crop
	seen := map[string]bool{}
	for n, cells := range lines[1:] {
		row := cropRow{names: lines[0], cells: cells, line: n + 2, s: s}
		c := row.crop()
		if row.err == nil && seen[c.ID] {
			row.fail("id", "is there twice")
		}
		if row.err != nil {
			return nil, row.err
		}
		seen[c.ID] = true
		list = append(list, c)
	}
	slices.SortStableFunc(list, func(a, b Crop) int { return strings.Compare(a.Name, b.Name) })
	return list, nil
}

// columnOf is the column that says what a text says by another word.
var columnOf = map[string]string{"each": "equidistant_min", "in row": "in_row_min", "rows": "row_min",
	"soil": "soil_depth_min", "high": "height_max", "spread": "spread_max", "roots": "root_class",
	"hours": "sun_min_hours", "sown deep": "sow_depth", "sown inside": "indoor_from_wk_lsf",
	"set out": "transplant_from_wk_lsf", "sown": "direct_from_wk_lsf", "autumn": "autumn_earliest_sow_wk_before_faf",
	"days": "maturity_min_days", "picked": "harvest_min_wk", "again": "succession_min_days", "hardy": "hardiness"}

type cropRow struct {
	names, cells []string
	line         int
	s            measure.System
	err          error
}

func (r *cropRow) fail(column, what string) {
	if r.err == nil {
		r.err = fmt.Errorf("a table of crops, line %d, column %s: %s", r.line, column, what)
	}
}

func (r *cropRow) text(column string) string {
	i := slices.Index(r.names, column)
	if i < 0 {
		r.fail(column, "there is no such column")
		return ""
	}
	return strings.TrimSpace(r.cells[i])
}

func (r *cropRow) number(column string) int {
	t := r.text(column)
	if t == "" {
		return 0
	}
	v, err := strconv.Atoi(t)
	if err != nil || v < -100 || v > 4000 {
		r.fail(column, fmt.Sprintf("%q is no whole number from -100 to 4000", t))
	}
	return v
}

// size is read from the column in inches or in millimetres.
func (r *cropRow) size(column string) measure.Length {
	unit := measure.Millimetre
	if column += "_mm"; r.s == measure.Imperial {
		column, unit = strings.TrimSuffix(column, "mm")+"in", measure.Inch
	}
	t := r.text(column)
	if t == "" {
		return 0
	}
	v, err := strconv.ParseFloat(t, 64)
	if err != nil || v < 0 || v > 20000 {
		r.fail(column, fmt.Sprintf("%q is no size", t))
	}
	return sized(v, unit)
}

func (r *cropRow) span(column, of string) Span {
	return Span{r.number(column + "_min_" + of), r.number(column + "_max_" + of)}
}

func (r *cropRow) weeks(column, of string) *Weeks {
	if r.text(column+"_from_wk_"+of) == "" {
		return nil
	}
	return &Weeks{r.number(column + "_from_wk_" + of), r.number(column + "_to_wk_" + of)}
}

func (r *cropRow) crop() Crop {
	c := Crop{ID: r.text("id"), Name: r.text("name"), Latin: r.text("latin"), Family: r.text("family"),
		Kind: r.text("kind"), Perennial: r.text("life") == "perennial",
		InRow: r.size("in_row_min"), Rows: r.size("row_min"), Each: r.size("equidistant_min"),
		Deep: r.size("soil_depth_min"), High: r.size("height_max"), Spread: r.size("spread_max"),
		Roots: r.text("root_class"), Sun: r.text("sun"), SunHours: r.number("sun_min_hours"),
		Support: r.text("support"), SowDeep: r.size("sow_depth"),
		Indoor: r.weeks("indoor", "lsf"), Out: r.weeks("transplant", "lsf"), Direct: r.weeks("direct", "lsf"),
		Days: r.span("maturity", "days"), FromSowing: r.text("maturity_counted_from") != "transplant",
		Picked:  r.span("harvest", "wk"),
		Feeding: r.text("feeding"), Water: r.text("water"), Again: r.span("succession", "days"),
		Hardy: r.text("hardiness"), Source: r.text("source"), Note: r.text("note")}
	if c.Support == "none" {
		c.Support = ""
	}
	if r.text("autumn_latest_sow_wk_before_faf") != "" {
		c.Autumn = &Weeks{r.number("autumn_earliest_sow_wk_before_faf"), r.number("autumn_latest_sow_wk_before_faf")}
	}
	if err := c.whole(); err != nil {
		r.fail("id", err.Error())
	} else if again, err := ReadCrop(c, c.Text(), measure.Metric); err != nil {
		key, why, _ := strings.Cut(err.Error(), ": ")
		r.fail(cmp.Or(columnOf[key], key), why)
	} else if c.Text() != again.Text() {
		r.fail("id", "it cannot be written down: its words have a semicolon or a blank at their ends")
	}
	return c
}
