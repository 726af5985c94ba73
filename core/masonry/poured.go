package masonry

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// poured is a wall cast between two strips of flashing that rebar stakes hold apart: a
// straight front with rounded corners, or all round. Rubble inside saves cement and is
// kept off the faces; the top is floated level.
//
//	o      o      o      o     stakes, closer on the curves
//	=======================\    strips of flashing
//	  .o. O .o.  O  .o. .    |  mortar and rubble
//	======================/ /
var poured = System{
	System: design.System{
		Name: "poured", Title: "Poured wall", About: "mortar and rubble between strips of flashing: curves, and no two alike", Of: "masonry",
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Own: []design.Field{
			{Key: thickKey, Label: "Wall thick", Stage: "frame", Kind: design.LengthField, Default: "6 in", Metric: "150 mm", Help: "About a hand's width and more, 5 to 8 in (125 to 200 mm) (common practice)."},
			{Key: roundKey, Label: "Corners rounded to", Stage: "bed", Kind: design.LengthField, Default: "12 in", Metric: "300 mm", Help: "The radius of the inner face. Half the width makes round ends."},
			{Key: rubbleKey, Label: "Rubble in it, per cent", Stage: "frame", Kind: design.NumberField, Default: "25", Most: 50, Help: "Clean broken brick or stone, washed, two fingers off either face (common practice: a quarter to a third)."},
			{Key: batchKey, Label: "Mixed in", Stage: "frame", Kind: design.ChoiceField, Default: "barrow",
				Offers: []design.Choice{{Value: "barrow", Label: "a wheelbarrow", Note: "2 bags at a time"}, {Value: "mixer", Label: "a hired mixer", Note: "4 bags at a time"}}},
			{Key: buryKey, Label: "Foot below the ground", Stage: "ground", Kind: design.LengthField, Default: "4 in", Metric: "100 mm", Help: "So that it cannot slide, and frost lifts it less."},
			{Key: baseKey, Label: "It stands on", Stage: "ground", Kind: design.ChoiceField, Default: "full",
				Offers: []design.Choice{{Value: "full", Label: "compacted base", Note: "drains, and frost lifts it less"}, {Value: "levelled", Label: "firm ground", Note: "cheaper; may crack"}}},
		},
		Start: func(cat *catalog.Catalog, b *design.Bed) { b.Soil = min(b.Soil, 300*measure.Millimetre) },
		Check: checkPoured,
	},
	Build: buildPoured,
}

const (
	thickKey  = "thick"
	roundKey  = "rounded"
	rubbleKey = "rubble"
	batchKey  = "mixed_in"
)

// Stakes about every 2 ft (600 mm) on the straight and 1 ft (300 mm) on curves; strips
// lap a hand, 100 mm (4 in) (common practice).
const (
	stakeStraight = 600 * measure.Millimetre
	stakeCurve    = 300 * measure.Millimetre
	stripLap      = 100 * measure.Millimetre
)

// cast is what a poured wall weighs, kg/m³ (EN 1991-1-1 Table A.1: plain concrete 24
// kN/m³, from memory; less for what is trowelled).
const cast = 2200

func checkPoured(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	thick, r := b.OptionLength(thickKey), b.OptionLength(roundKey)
	if thick < 75*measure.Millimetre || thick > 400*measure.Millimetre {
		refuse(thickKey, "a cast wall %s thick cracks or wastes: from %s to %s works", p.Short(thick), p.Short(75*measure.Millimetre), p.Short(400*measure.Millimetre))
		return
	}
	if most := min(b.Length, b.Width) / 2; r < 0 || r > most {
		refuse(roundKey, "corners of %s do not fit into %s: up to %s works", p.Feet(r), p.Feet(b.Width), p.Feet(most))
	}
	if r > 0 && r < 100*measure.Millimetre {
		refuse(roundKey, "flashing kinks round %s: from %s works, or 0 for square corners", p.Short(r), p.Short(100*measure.Millimetre))
	}
	if bury := b.OptionLength(buryKey); bury < 0 || bury > 500*measure.Millimetre {
		refuse(buryKey, "up to %s works", p.Feet(500*measure.Millimetre))
	}
	u := catalog.Unit{Kind: "cast", Depth: thick, Length: thick, Back: thick, Height: thick}
	u.Mass = cast * measure.Over(thick, thick).By(thick).CubicMetres()
	bears(b, cat, u, refuse)
}

func buildPoured(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	thick, r, bury := bed.OptionLength(thickKey), bed.OptionLength(roundKey), bed.OptionLength(buryKey)
	top, use := bed.Soil+bed.Freeboard, usually(cat)
	f := frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: top}
	long, wide := bed.Length+2*thick, bed.Width+2*thick
	in := roundedOutline(frame.Spot{U: thick, V: thick}, frame.Spot{U: thick + bed.Length, V: thick + bed.Width}, r)
	out := roundedOutline(frame.Spot{}, frame.Spot{U: long, V: wide}, r+roundedBy(r, thick))
	area := roundedArea(long, wide, r+roundedBy(r, thick)) - roundedArea(bed.Length, bed.Width, r)
	volume := area.By(top + bury)
	straight := 2 * (bed.Length + bed.Width - 4*r)
	arc := func(radius measure.Length) measure.Length { return measure.Length(2 * math.Pi * float64(radius)) }
	inner, outer := straight+arc(r), straight+arc(r+roundedBy(r, thick))
	if r == 0 {
		outer += 8 * thick
	}
	rubble, _ := bed.OptionCount(rubbleKey)
	stakes := 0
	for _, curve := range []measure.Length{arc(r), arc(r + roundedBy(r, thick))} {
		stakes += int((straight+stakeStraight-1)/stakeStraight) + int((curve+stakeCurve-1)/stakeCurve)
	}
	strip, err := cat.Fitting("flashing")
	if err != nil {
		return f, err
	}
	strips := int((inner + outer + strip.Each - stripLap - 1) / (strip.Each - stripLap))
	f.Fittings = []frame.Fitting{{ID: bed.ID + ".flashing", Bed: bed.ID, Kind: "flashing", Place: "both faces of the form, lapped a hand", Count: strips, Why: fmt.Sprintf("%d strips for both faces, each lapping the next by %s", strips, cat.Precision(cat.Habits).Short(stripLap))},
		{ID: bed.ID + ".stakes", Bed: bed.ID, Kind: "pin", Place: "outside the strips", Count: stakes, Why: fmt.Sprintf("%d stakes, every 2 ft (600 mm) and every foot (300 mm) on curves; they serve again", stakes)}}
	f.Pours = []frame.Pour{{ID: bed.ID + ".pour", Bed: bed.ID, Volume: volume, FormLength: inner + outer, FormHeight: top + bury, Strips: strips, Stakes: stakes, Rubble: rubble * 10,
		Batch: map[string]int{"barrow": 2, "mixer": 4}[bed.Options[batchKey]], Outside: out, Inside: in, From: -bury, To: top}}
	f.Cavities = []frame.Cavity{{ID: bed.ID + ".soil", Bed: bed.ID, Top: bed.Soil, Rim: top, Outline: in}}
	f.Openings = []frame.Opening{{Lo: frame.Spot{U: thick, V: thick}, Hi: frame.Spot{U: thick + bed.Length, V: thick + bed.Width}, Rim: top, Round: in}}
	f.Outside = [2]frame.Spot{{}, {U: long, V: wide}}
	line := straight + arc(r+roundedBy(r, thick)/2)
	if r == 0 {
		line += 4 * thick
	}
	base := frame.Base{Bed: bed.ID, Line: line, Thick: thick, Wide: thick + 2*use.beside, Area: measure.Over(line, thick+2*use.beside), Seat: measure.Over(line, thick), Stone: use.stone, Buried: bury}
	if bed.Options[baseKey] == "levelled" {
		base.Stone = 0
	}
	f.Bases = []frame.Base{base}
	if bed.Under != "none" {
		f.Sheets = append(f.Sheets, frame.Sheet{ID: bed.ID + ".under", Bed: bed.ID, Material: bed.Under, Place: "inside the walls", Length: bed.Length, Width: bed.Width})
	}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	f.Measures = []frame.Measure{
		{Name: "inside length", Field: "length", From: at(thick, thick, top), To: at(thick+bed.Length, thick, top), Primary: true},
		{Name: "inside width", Field: "width", From: at(thick, thick, top), To: at(thick, thick+bed.Width, top), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(long, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, wide, 0)},
		{Name: "soil depth", Field: "soil", From: at(thick, thick, 0), To: at(thick, thick, bed.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, top)},
	}
	f.Acts = []frame.Act{
		{Verb: frame.Lay, Title: "Stand the form", Where: "on the base, along the string", Note: fmt.Sprintf("Two strips %s apart, lapped a hand and held by stakes outside, every 2 ft (600 mm) and every foot (300 mm) on curves. Mark the top on the inside with a level: water finds the low place.", cat.Precision(cat.Habits).Short(thick))},
		{Verb: frame.Lay, Title: "Fill it", Where: "in layers a hand deep", Note: "Work the mortar round each piece of rubble with a stick, and keep rubble two fingers off the face. End a day's pour on a slope, never on an upright face: the next day's holds on it. What mix is left over makes bricks."},
		{Verb: frame.Lay, Title: "Float the top and strip it", Where: "the next day", Note: "Float the top smooth as it stiffens. Take the strips off after a day, keep the wall damp and shaded for a week, and put caps on stakes that stay."},
	}
	return f, nil
}

// roundedBy is how much larger the outer radius is: nothing at a square corner.
func roundedBy(r, thick measure.Length) measure.Length {
	if r == 0 {
		return 0
	}
	return thick
}

// roundedArea is a rectangle's with rounded corners: a b - (4 - pi) r^2.
func roundedArea(a, b, r measure.Length) measure.Area {
	return measure.Over(a, b) - measure.Area((4-math.Pi)*float64(measure.Over(r, r)))
}

// roundedOutline is a rectangle with rounded corners, anticlockwise.
func roundedOutline(lo, hi frame.Spot, r measure.Length) []frame.Spot {
	if r == 0 {
		return []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}
	}
	const n = 24
	var list []frame.Spot
	for q, m := range []frame.Spot{{U: hi.U - r, V: lo.V + r}, {U: hi.U - r, V: hi.V - r}, {U: lo.U + r, V: hi.V - r}, {U: lo.U + r, V: lo.V + r}} {
		for k := 0; k <= n; k++ {
			s, c := math.Sincos((float64(q-1) + float64(k)/n) * math.Pi / 2)
			list = append(list, frame.Spot{U: m.U + measure.Length(float64(r)*c), V: m.V + measure.Length(float64(r)*s)})
		}
	}
	return list
}
