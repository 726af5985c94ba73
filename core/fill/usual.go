package fill

import (
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// Usual is a way a bed is often filled: its layers as they are written, and what is called so.
type Usual struct{ Label, Layers string }

// Usuals are those that fit a bed as deep as this one, but for the one it has. Filler leaves 12 in,
// 300 mm, of good soil over it (common practice).
func Usuals(bed design.Bed, cat *catalog.Catalog, p measure.Precision) []Usual {
	good, some := cat.Told(12*measure.Inch, 300*measure.Millimetre), cat.Told(4*measure.Inch, 100*measure.Millimetre)
	list := []Usual{{"soil alone", ""}, {"2 parts of soil to 1 of compost", "2 mix + 1 compost"},
		{"3 topsoil, 2 compost, 1 sand, mixed here", "3 topsoil + 2 compost + 1 sand"}}
	if rest := bed.Soil - good; rest >= some {
		list = append(list, Usual{"branches below " + p.Short(good) + " of soil", "branches: " + rest.String() + "; mix"})
		if rest > some {
			list = append(list, Usual{"branches, then manure, below " + p.Short(good) + " of soil",
				"branches: " + (rest - some).String() + "; manure: " + some.String() + "; mix"})
		}
	}
	var others []Usual
	for _, u := range list {
		if u.Layers != bed.Layers {
			others = append(others, u)
		}
	}
	return others
}
