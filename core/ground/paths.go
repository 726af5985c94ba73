package ground

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// pegged is how far apart pegs are along a strip of cloth under chips: a foot (common practice).
const pegged = 300 * measure.Millimetre

// Edged is what paths so large are held with: pegs in the cloth under them, and edging so long where they end.
func Edged(paths measure.Area, edge measure.Length, cat *catalog.Catalog) ([]frame.Fitting, error) {
	if paths == 0 {
		return nil, nil
	}
	roll, err := cat.Sheet(catalog.Fabric)
	if err != nil {
		return nil, fmt.Errorf("paths: %w", err)
	}
	p := cat.Precision(cat.Habits)
	long := strips(paths, roll)
	list := []frame.Fitting{{ID: "paths.pegs", Kind: "peg", Place: "the cloth under the paths",
		Count: int((long + pegged - 1) / pegged),
		Why:   "one every foot (300 mm) along its strips, " + p.Feet(long) + " in all"}}
	if edge > 0 {
		list = append(list, frame.Fitting{ID: "paths.edging", Kind: "edging-strip", Place: "where the paths end", Count: 1,
			Each: edge, Why: p.Feet(edge) + " round the plot, where no fence stands"})
	}
	return list, nil
}

// strips is how much of a roll covers an area in lapped strips.
func strips(area measure.Area, roll catalog.Sheet) measure.Length {
	return measure.Length(area.SquareMetres() / (roll.RollWidth - roll.Lap).Metres() * float64(measure.Metre))
}
