package addition

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Grid parts the surface into cells: strings from nail to nail, or thin strips that lie on the
// soil between boards.
var Grid = design.Extra{Name: "grid", Fields: []design.Field{
	{Key: "grid", Label: "Planting grid", Stage: design.AtFrame, Kind: design.ChoiceField, Default: design.NotThere,
		Help: "Whole cells are shared out over the opening; a cell is never smaller than asked.",
		Offer: func(_ *catalog.Catalog, b design.Bed) []design.Choice {
			list := orNone("", design.Choice{Value: "string", Label: "strings", Note: "cheap, in the way of nothing"})
			if s, _ := design.SystemNamed(b.System); slices.Contains(s.Makes, "grid") {
				list = append(list, design.Choice{Value: "strips", Label: "thin strips",
					Note: "ripped from thin boards, leftovers first"})
			}
			return list
		}},
	{
		Key:     "grid_cell",
		Label:   "Cells of",
		Stage:   design.AtFrame,
		Kind:    design.LengthField,
		Default: "12 in",
		Metric:  "300 mm",
	}},
	Check: checkGrid,
}

// StripTall is how thick a strip lies.
const StripTall = 10 * measure.Millimetre

func checkGrid(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	cell := b.OptionLength("grid_cell")
	if least := 50 * measure.Millimetre; cell < least || cell > b.Width {
		refuse(
			"grid_cell",
			"cells of %s do not fit: from %s to the bed's %s works",
			p.Feet(cell),
			p.AtLeast(least),
			p.Feet(b.Width),
		)
		return
	}
	if b.Options["grid"] == "strips" && b.Freeboard < 2*StripTall {
		refuse(
			"grid",
			"two strips, one across the other, lie %s high and the soil only %s below the rim; strings work, or more"+
				" below the rim",
			p.Short(2*StripTall),
			p.Short(b.Freeboard),
		)
	}
	thin, err := design.ThinBoard(cat, b.Species)
	if b.Options["grid"] == "strips" && (err != nil || cell < 3*thin.Thickness) {
		refuse(
			"grid_cell",
			"strips %s wide leave too little between: from %s works, or strings",
			p.Short(thin.Thickness),
			p.AtLeast(3*thin.Thickness),
		)
	}
	if (b.Length/cell-1)+(b.Width/cell-1) > 60 {
		refuse("grid_cell", "that is more lines than anyone lays; from %s works", p.AtLeast((b.Length+b.Width)/60))
	}
}

// buildStrings stretches strings over openings of any shape, from pegs pressed into the soil
// beside walls that take no nail, or from nails in boards.
func buildStrings(s *site) {
	cell := s.bed.OptionLength("grid_cell")
	var lines [][]frame.Point
	all := measure.Length(0)
	for _, o := range s.f.Openings {
		round := outline(o)
		for _, turned := range []bool{false, true} {
			from, long := o.Lo.U, o.Hi.U-o.Lo.U
			if turned {
				from, long = o.Lo.V, o.Hi.V-o.Lo.V
			}
			n := long / cell
			for i := measure.Length(1); i < n; i++ {
				at := from + long*i/n
				for _, span := range chords(round, at, turned) {
					a, b := frame.Point{X: at, Y: span[0], Z: o.Rim}, frame.Point{X: at, Y: span[1], Z: o.Rim}
					if turned {
						a, b = frame.Point{X: span[0], Y: at, Z: o.Rim}, frame.Point{X: span[1], Y: at, Z: o.Rim}
					}
					lines, all = append(lines, []frame.Point{a, b}), all+span[1]-span[0]
				}
			}
		}
	}
	if len(lines) == 0 {
		return // one cell
	}
	held := frame.Fitting{ID: s.id("nails"), Bed: s.bed.ID, Kind: "nail", Place: "the planting grid",
		Count: 2 * len(lines),
		Why:   "2 for each of " + measure.Count(len(lines), "line")}
	where := "from nail to nail in the boards' tops"
	if s.boards() == 0 {
		held.Kind, held.Place, where = "peg", "in the soil beside the walls", "from peg to peg, close over the soil"
	}
	s.f.Fittings = append(s.f.Fittings, frame.Fitting{ID: s.id("string"), Bed: s.bed.ID, Kind: "string",
		Place: "the planting grid", Count: 1, Each: all, Why: measure.Count(len(lines), "line"), Lines: lines}, held)
	s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.FitOut, Of: "grid", Title: "Lay the planting grid",
		Where: where + ", once the soil has settled", Fits: []string{s.id("string"), s.id("nails")}, Soil: frame.OnSoil,
		Note: fmt.Sprintf("Whole cells of at least %s: measure from one corner, the tape left in place.", cell)})
}
