package fill

import (
	"math"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// Usual is a way a bed is often filled: what is decided for it, what is called so, and what to know of it.
type Usual struct {
	Label, Note string
	Edits       []design.Edit
}

// deepBed is how much soil makes a bed deep enough to ask whether it has to be all soil: 18 in, 450 mm (common
// practice).
const deepBedInch, deepBedMetric = 18 * measure.Inch, 450 * measure.Millimetre

// Usuals are those that fit a bed as deep as this one, but for the one it has. Filler leaves 12 in,
// 300 mm, of good soil over it (common practice); of a deep bed a floor is one as well.
func Usuals(bed design.Bed, cat *catalog.Catalog, p measure.Precision) []Usual {
	good, some := cat.Told(12*measure.Inch, 300*measure.Millimetre), cat.Told(4*measure.Inch, 100*measure.Millimetre)
	set := func(field, value string) design.Edit { return design.Edit{Bed: bed.ID, Field: field, Value: value} }
	var list []Usual
	add := func(label, note, layers string) {
		if layers != bed.Layers {
			list = append(list, Usual{label, note, []design.Edit{set("filling", layers)}})
		}
	}
	add("soil alone", "nothing rots away below; the dearest and heaviest", "")
	add("2 parts of soil to 1 of compost", "loose and rich; top it up each spring", "2 mix + 1 compost")
	add("3 topsoil, 2 compost, 1 sand, mixed here", "mixed on a sheet, for a day's work", "3 topsoil + 2 compost + 1 sand")
	rest := bed.Soil - good
	sinks := func(deep measure.Length) string {
		share := 1 - math.Pow(0.5, 5/rotting)
		step := cat.Told(measure.Inch, 10*measure.Millimetre)
		down := (measure.Length(float64(deep)*share) + step/2) / step * step
		return "found, not bought; down by about " + p.Short(max(step, down)) + " in five years"
	}
	if rest >= some {
		add("branches below "+p.Short(good)+" of soil", sinks(rest), "branches: "+rest.String()+"; mix")
		if rest > some {
			add("branches, then manure, below "+p.Short(good)+" of soil", sinks(rest-some),
				"branches: "+(rest-some).String()+"; manure: "+some.String()+"; mix")
		}
	}
	if bed.Soil < cat.Told(deepBedInch, deepBedMetric) {
		return list
	}
	if floor, ok := design.Serve(bed, design.FloorsInside); ok {
		if !floor.Taken(bed) {
			list = append(list, Usual{"a false floor under " + p.Short(good) + " of soil",
				"the walls stay as high; water and air pass below", []design.Edit{floor.Edit(bed), set("filling", ""),
					set("soil", good.String())}})
		}
	} else if s, ok := design.SystemFor(design.AtWorkHeight); ok && s.Name != bed.System {
		list = append(list, Usual{"a raised floor: a " + strings.ToLower(s.Title) + " with " + p.Short(good) + " of soil",
			"another way to build; the room below stays empty",
			[]design.Edit{set("system", s.Name), set("soil", good.String())}})
	}
	return list
}
