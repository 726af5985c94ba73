package masonry

import (
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// poured is a wall cast between two strips of flashing that rebar stakes hold apart: a
// straight front with rounded corners, or all round. Rubble inside saves cement and is
// kept off the faces; the top is floated level, also where the ground falls away.
//
//	o      o      o      o     stakes, closer on the curves
//	=======================\    strips of flashing
//	  .o. O .o.  O  .o. .    |  mortar and rubble
//	======================/ /
var poured = System{
	System: design.System{
		Name: "poured", Title: "Poured wall",
		About: "mortar and rubble between strips of flashing: curves, and no two alike", Of: "masonry",
		Examples: []design.Example{{About: "a wall of mortar and rubble cast between strips of flashing, with round" +
			" corners"}},
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Adds:  adds,
		Own: append([]design.Field{
			{Key: shapeKey, Label: "Walls", Stage: design.AtBed, Kind: design.ChoiceField, Default: "closed",
				Offers: []design.Choice{
					{Value: "closed", Label: "all round", Note: "stands by itself"},
					{Value: "u", Label: "front and both ends", Note: "open to what stands behind"},
					{
						Value: "l",
						Label: "front and left end",
						Note:  "in a corner",
					},
					{Value: "straight", Label: "front only", Note: "between two things that stand"},
				}},
			{
				Key:     fallKey,
				Label:   "Ground falls from left to right",
				Stage:   design.AtSite,
				Kind:    design.LengthField,
				Default: "0 in",
				Metric:  "0 mm",
				Help:    "Over the length of the bed. The top stays level: the wall gets as much taller.",
			},
			{
				Key:     roundKey,
				Label:   "Corners rounded to",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "12 in",
				Metric:  "300 mm",
				Help:    "The radius of the inner face. Half the width makes round ends.",
			},
		}, castFields()...),
		Start: func(cat *catalog.Catalog, b *design.Bed) {
			deep := 300 * measure.Millimetre
			if cat.System == measure.Imperial {
				deep = measure.Foot
			}
			b.Soil = min(b.Soil, deep)
		},
		Check: checkPoured,
	},
	Build: buildPoured,
}

const (
	roundKey = "rounded"
	fallKey  = "fall"
)

func checkPoured(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	thick, r := b.OptionLength(thickKey), b.OptionLength(roundKey)
	if !checkCast(b, cat, refuse) {
		return
	}
	if most := min(b.Length, b.Width) / 2; r < 0 || r > most {
		refuse(roundKey, "corners of %s do not fit into %s: up to %s works", p.Feet(r), p.Feet(b.Width), p.AtMost(most))
	}
	if r > 0 && r < leastBend {
		refuse(roundKey, "flashing kinks round %s: from %s works, or 0 for square corners", p.Short(r), p.AtLeast(leastBend))
	}
	fall := b.OptionLength(fallKey)
	if most := b.Length / 6; fall < 0 || fall > most {
		refuse(
			fallKey,
			"a fall of %s along this bed is a slope for terraces: up to %s works",
			p.Feet(fall),
			p.AtMost(most),
		)
		return
	}
	b.Soil += fall // at its deepest
	bears(b, cat, castUnit(thick), refuse)
}

// path is a cast wall from above: corners of its inner and outer face, as many, and
// what they run to.
type path struct {
	in, out  []frame.Spot
	straight measure.Length // of the inner face
	quarters int            // of circles, or square corners
	open     bool
}

// pathOf walks round a bed's walls anticlockwise.
func pathOf(shape string, b design.Bed, thick, r measure.Length) path {
	const n = 24
	var w path
	lo := frame.Spot{U: thick, V: thick}
	if shape == "straight" {
		lo.U = 0
	}
	hi := frame.Spot{U: lo.U + b.Length, V: lo.V + b.Width}
	corner := func(q int) {
		w.quarters++
		mid := []frame.Spot{{U: hi.U - r, V: lo.V + r}, {U: hi.U - r, V: hi.V - r}, {U: lo.U + r, V: hi.V - r},
			{U: lo.U + r, V: lo.V + r}}[q]
		if r == 0 {
			du, dv := []measure.Length{1, 1, -1, -1}[q]*thick, []measure.Length{-1, 1, 1, -1}[q]*thick
			w.in, w.out = append(w.in, mid), append(w.out, frame.Spot{U: mid.U + du, V: mid.V + dv})
			return
		}
		for k := 0; k <= n; k++ {
			s, c := math.Sincos((float64(q-1) + float64(k)/n) * math.Pi / 2)
			w.in = append(
				w.in,
				frame.Spot{U: mid.U + measure.Length(float64(r)*c), V: mid.V + measure.Length(float64(r)*s)},
			)
			w.out = append(
				w.out,
				frame.Spot{
					U: mid.U + measure.Length(float64(r+thick)*c),
					V: mid.V + measure.Length(float64(r+thick)*s),
				},
			)
		}
	}
	stop := func(in, out frame.Spot) { w.in, w.out = append(w.in, in), append(w.out, out) }
	w.open = shape != "closed"
	switch shape {
	case "closed":
		for q := range 4 {
			corner(q)
		}
		w.straight = 2 * (b.Length + b.Width - 4*r)
		return w
	case "straight":
		stop(lo, frame.Spot{})
		stop(frame.Spot{U: hi.U, V: lo.V}, frame.Spot{U: hi.U})
		w.straight = b.Length
		return w
	}
	stop(frame.Spot{U: lo.U, V: hi.V}, frame.Spot{V: hi.V})
	corner(3)
	if shape == "l" {
		stop(frame.Spot{U: hi.U, V: lo.V}, frame.Spot{U: hi.U})
		w.straight = b.Length + b.Width - 2*r
		return w
	}
	corner(0)
	stop(hi, frame.Spot{U: hi.U + thick, V: hi.V})
	w.straight = b.Length + 2*b.Width - 4*r
	return w
}

// inside is the soil's outline: the inner face, closed across what stands behind.
func (w path) inside(hi frame.Spot) []frame.Spot {
	list := slices.Clone(w.in)
	switch first, last := list[0], list[len(list)-1]; {
	case w.open && w.quarters == 0:
		list = append(list, hi, frame.Spot{U: first.U, V: hi.V})
	case w.open && last.V < hi.V:
		list = append(list, hi)
	}
	return list
}

// parted parts long stretches, so that each can follow falling ground.
func (w path) parted() path {
	const most = 150 * measure.Millimetre
	p := path{straight: w.straight, quarters: w.quarters, open: w.open}
	for i := range w.in {
		j := (i + 1) % len(w.in)
		n := measure.Length(1)
		if far := measure.Hypot(w.out[j].U-w.out[i].U, w.out[j].V-w.out[i].V); far > most && (j > 0 || !w.open) {
			n = (far + most - 1) / most
		}
		for k := range n {
			mix := func(a, b frame.Spot) frame.Spot {
				return frame.Spot{U: a.U + (b.U-a.U)*k/n,
					V: a.V + (b.V-a.V)*k/n}
			}
			p.in, p.out = append(p.in, mix(w.in[i], w.in[j])), append(p.out, mix(w.out[i], w.out[j]))
		}
	}
	return p
}

func buildPoured(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	thick, r, bury := bed.OptionLength(thickKey), bed.OptionLength(roundKey), buried(bed)
	top, fall := bed.Soil+bed.Freeboard, bed.OptionLength(fallKey)
	f := frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: top, Fall: fall}
	w := pathOf(bed.Options[shapeKey], bed, thick, r)
	quarter := func(radius measure.Length) measure.Length {
		return measure.Length(math.Pi / 2 * float64(radius) * float64(w.quarters))
	}
	area := measure.Over(
		w.straight,
		thick,
	) + measure.Area(
		float64(w.quarters)*math.Pi/4*float64(measure.Over(2*r+thick, thick)),
	)
	inner, outer, line := w.straight+quarter(r), w.straight+quarter(r+thick), w.straight+quarter(r+thick/2)
	if square := measure.Length(w.quarters); r == 0 {
		area = measure.Over(w.straight+square*thick, thick)
		inner, outer, line = w.straight, w.straight+2*thick*square, w.straight+square*thick
	}
	lo := frame.Spot{U: thick, V: thick}
	if bed.Options[shapeKey] == "straight" {
		lo.U = 0
	}
	hi := frame.Spot{U: lo.U + bed.Length, V: lo.V + bed.Width}
	far := hi // outside
	if w.quarters == 2 || !w.open {
		far.U += thick
	}
	if !w.open {
		far.V += thick
	}
	in := w.inside(hi)
	stakes := 0
	for _, curve := range []measure.Length{quarter(r), outer - w.straight} {
		stakes += int((w.straight+stakeStraight-1)/stakeStraight) + int((curve+stakeCurve-1)/stakeCurve)
	}
	form, err := formed(bed, cat, inner+outer, top+bury+fall, stakes)
	if err != nil {
		return f, err
	}
	f.Fittings = form.fittings(bed.ID)
	if fall > 0 {
		w = w.parted()
	}
	pour := form.pour(bed, bed.ID+".pour", area.By(top+bury), -bury, top)
	pour.Outside, pour.Inside, pour.Open = w.out, w.in, w.open
	pour.Fall, pour.Length = fall, far.U
	soil := frame.Cavity{ID: bed.ID + ".soil", Bed: bed.ID, Top: bed.Soil, Rim: top, Outline: in}
	for i := len(w.in) - 1; w.open && i < len(in); i++ {
		soil.Free = append(soil.Free, i) // between its ends
	}
	if fall > 0 { // both reach down to it
		for _, s := range pour.Solids() {
			pour.Volume += frame.OutlineArea(s.Outline).By(-bury - s.From)
		}
		soil.HeapedAs = "where the ground falls away"
		soil.Heaped = frame.OutlineArea(in).By(measure.Length(float64(fall) * float64(middleU(in)) / float64(far.U)))
	}
	f.Pours, f.Cavities = []frame.Pour{pour}, []frame.Cavity{soil}
	f.Openings = []frame.Opening{{Lo: lo, Hi: hi, Rim: top, Round: in}}
	f.Outside = [2]frame.Spot{{}, far}
	f.Bases = []frame.Base{castBase(bed, cat, line)}
	f.Stacks = []frame.Stack{
		{Bed: bed.ID, Units: []string{pour.ID}, Thick: thick, Soil: bed.Soil + fall, Density: cast,
			Tied: w.quarters > 0, Bond: frame.Cast},
	}
	if bed.Under != "none" {
		f.Sheets = append(
			f.Sheets,
			frame.Sheet{
				ID:       bed.ID + ".under",
				Bed:      bed.ID,
				Material: bed.Under,
				Place:    "inside the walls",
				Length:   bed.Length,
				Width:    bed.Width,
			},
		)
	}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	f.Measures = []frame.Measure{
		{Name: "inside length", Field: "length", From: at(lo.U, lo.V, top), To: at(hi.U, lo.V, top), Primary: true},
		{Name: "inside width", Field: "width", From: at(lo.U, lo.V, top), To: at(lo.U, hi.V, top), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(far.U, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, far.V, 0)},
		{Name: "soil depth", Field: "soil", From: at(lo.U, lo.V, 0), To: at(lo.U, lo.V, bed.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, top)},
	}
	if fall > 0 {
		f.Measures = append(
			f.Measures,
			frame.Measure{Name: "wall height at the right", From: at(far.U, 0, -fall), To: at(far.U, 0, top)},
		)
	}
	foot := "on the base, along the string"
	if fall > 0 {
		foot += "; its foot follows the ground, its top does not"
	}
	f.Acts = castActs(bed, cat, pour, line, foot, "", pour.ID)
	return f, nil
}

// middleU is how far along the middle of an outline lies (of triangles from its first
// corner, each by its area).
func middleU(o []frame.Spot) measure.Length {
	var area, moment float64
	for i := 1; i+1 < len(o); i++ {
		a := float64(o[i].U-o[0].U)*float64(o[i+1].V-o[0].V) - float64(o[i+1].U-o[0].U)*float64(o[i].V-o[0].V)
		area += a
		moment += a * float64(o[0].U+o[i].U+o[i+1].U) / 3
	}
	return measure.Length(moment / area)
}
