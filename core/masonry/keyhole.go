package masonry

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/why"
)

// keyhole is a ring with a way in to a compost basket in its middle. Soil slopes
// down from the basket to the rim, so that what the basket gives off feeds all of
// it.
//
//	   ____
//	 /      \      R inside of the rim, r the basket, w the way in:
//	|   ()   |     soil = pi R^2 - pi r^2 - the way between the two
//	 \_ || _/
var keyhole = System{
	System: design.System{
		Name: "keyhole", Title: "Keyhole bed", About: "a ring with a compost basket in its middle and a way in to it",
		Of:       "masonry",
		Examples: []design.Example{{About: "a ring with a compost basket in its middle and a way in to it"}},
		Uses:     []string{"grass", "under"},
		Lacks:    append([]string{"width"}, lacks...),
		Adds:     []string{"fence"},
		WayIn:    true,
		Names:    map[string]string{"length": "Inside across"},
		Own: append(
			ownFields(noCaps, catalog.RingUnit, catalog.WallUnit, catalog.EdgingUnit, catalog.Brick),
			design.Field{
				Key:     basketKey,
				Label:   "Basket across",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "40 in",
				Metric:  "1000 mm",
				Help: "About 3 ft (0.9 m) across, and as wide at least as the way in with its walls (common" +
					" practice).",
			},
			design.Field{
				Key:     tallKey,
				Label:   "Basket above the rim",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "12 in",
				Metric:  "300 mm",
				Help:    "So that scraps go in from above.",
			},
			design.Field{
				Key:     wayKey,
				Label:   "Way in",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "24 in",
				Metric:  "600 mm",
				Help:    "About 2 ft (0.6 m), wide enough to kneel in (common practice).",
			},
			design.Field{
				Key:     riseKey,
				Label:   "Soil rises to the basket",
				Stage:   design.AtFill,
				Kind:    design.LengthField,
				Default: "8 in",
				Metric:  "200 mm",
			},
			design.Field{
				Key:     pegKey,
				Label:   "Pegs of the basket apart",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "12 in",
				Metric:  "300 mm",
			},
		),
		Start: startKeyhole,
		Check: checkKeyhole,
		Follow: func(b *design.Bed, _ *catalog.Catalog, _ func(string) bool) {
			b.Width = b.Length
		},
	},
	Build: buildKeyhole,
}

const (
	basketKey = "basket"
	tallKey   = "basket_above"
	wayKey    = "way_in"
	riseKey   = "rise"
	pegKey    = "pegs"
)

func startKeyhole(cat *catalog.Catalog, b *design.Bed) {
	b.Options[unitKey] = cat.UnitsOf(catalog.RingUnit)[0].ID
	b.Length = 84 * measure.Inch
	if cat.System == measure.Metric {
		b.Length = 2100 * measure.Millimetre
	}
	b.Soil = min(b.Soil, cat.Told(measure.Foot, 300*measure.Millimetre))
}

// hole is a keyhole's plan: the middle, the rim's inside, the basket, half the way.
type hole struct {
	r           round
	basket, way measure.Length // radius; half the width
	from, to    float64        // angles of the rim's ends
}

// holeOf lays a keyhole out. The way comes in from the front; the rim's units fill
// what is left of the circle evenly.
func holeOf(b design.Bed, u catalog.Unit) hole {
	h := hole{basket: b.OptionLength(basketKey) / 2, way: b.OptionLength(wayKey) / 2}
	h.r = round{inner: b.Length / 2, parts: 1}
	half := math.Asin(min(1, float64(h.way+u.Depth)/float64(h.r.inner))) // the way and its walls
	h.from, h.to = -math.Pi/2+half, 3*math.Pi/2-half
	step := 2 * math.Atan(float64(u.Back+u.Joint)/(2*float64(h.r.inner)))
	step = max(step, 2*math.Atan(float64(u.Length+u.Joint)/(2*float64(h.r.inner+u.Depth))))
	h.r.n = int((h.to - h.from) / step) // in the arc, not round the circle
	return h
}

func checkKeyhole(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	basket, way := b.OptionLength(basketKey), b.OptionLength(wayKey)
	most := b.Length - 2*400*measure.Millimetre // so much soil at least on either side
	switch {
	case way >= basket:
		refuse(
			wayKey,
			"a way in of %s is wider than the basket, %s: up to %s works",
			p.Feet(way),
			p.Feet(basket),
			p.AtMost(basket-p.Step),
		)
	case way+2*u.Depth > basket:
		refuse(
			basketKey,
			"the walls beside a way in of %s would miss a basket of %s: from %s works, or a narrower way",
			p.Feet(way),
			p.Feet(basket),
			p.AtLeast(way+2*u.Depth),
		)
	case way < 300*measure.Millimetre:
		refuse(wayKey, "nobody gets in by %s: from %s works", p.Feet(way), p.AtLeast(300*measure.Millimetre))
	case basket > most || basket < 300*measure.Millimetre:
		refuse(
			basketKey,
			"a basket of %s leaves too little soil in a bed of %s, or holds nothing: from %s to %s works",
			p.Feet(basket),
			p.Feet(b.Length),
			p.AtLeast(300*measure.Millimetre),
			p.AtMost(max(most, 300*measure.Millimetre)),
		)
	case b.OptionLength(pegKey) < 100*measure.Millimetre || b.OptionLength(pegKey) > 600*measure.Millimetre:
		refuse(pegKey, "from %s to %s works", p.AtLeast(100*measure.Millimetre), p.AtMost(600*measure.Millimetre))
	case b.OptionLength(riseKey) < 0 || b.OptionLength(riseKey) > 500*measure.Millimetre:
		refuse(riseKey, "soil does not lie that steeply: up to %s works", p.AtMost(500*measure.Millimetre))
	case b.OptionLength(tallKey) < 0 || b.OptionLength(tallKey) > measure.Metre:
		refuse(tallKey, "up to %s works", p.AtMost(measure.Metre))
	case holeOf(b, u).r.n < 6:
		refuse(
			"length",
			"with a way in of %s too little of a ring of %s is left: from %s works",
			p.Feet(way),
			p.Feet(b.Length),
			p.AtLeast(2*basket),
		)
	}
	if b.Options[capKey] != "none" {
		refuse(capKey, "a keyhole's rim is not capped; none works")
	}
	bears(b, cat, u, refuse)
}

// heap is what soil that rises evenly from the rim to the basket adds, for the part
// of the circle that is soil: rise x pi (R^2 + R r - 2 r^2) / 3 all round.
func (h hole) heap(rise measure.Length, soil measure.Area) measure.Volume {
	r, b := h.r.inner.Metres(), h.basket.Metres()
	whole := math.Pi * (r*r - b*b)
	return measure.CubicMetres(rise.Metres() * math.Pi * (r*r + r*b - 2*b*b) / 3 * soil.SquareMetres() / whole)
}

func buildKeyhole(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	w, err := newLaid(bed, cat)
	if err != nil {
		return frame.Frame{}, err
	}
	u := w.unit
	h := holeOf(bed, u)
	far := measure.Length(math.Ceil(math.Hypot(float64(h.r.inner+u.Depth), float64(u.Length)/2)))
	h.r.middle = frame.Spot{U: far, V: far}
	for course := 1; course <= w.courses; course++ {
		w.holeCourse(h, course)
	}
	w.holeInside(h, far)
	arc := float64(h.r.inner+u.Depth/2) * (h.to - h.from)
	line := measure.Length(arc) + 2*h.wayLong(u)
	trench := h.trench(u, w.usual.beside)
	w.base(line, measure.Over(line, u.Depth), frame.OutlineArea(trench))
	w.f.Bases[0].Trench = trench
	w.stack(bed.Soil, true)
	w.acts("round a peg with a string, from one side of the way in to the other", "from the joint of two below")
	basket := measure.Length(2 * math.Pi * float64(h.basket))
	tall := bed.Soil + bed.OptionLength(riseKey) + bed.OptionLength(tallKey)
	pegs := int((basket + bed.OptionLength(pegKey) - 1) / bed.OptionLength(pegKey))
	w.f.Sheets = append(
		w.f.Sheets,
		frame.Sheet{
			ID:       w.id("basket"),
			Bed:      bed.ID,
			Material: "mesh",
			Place:    "round the basket's pegs, points turned in",
			After:    "fit out basket",
			Length:   basket,
			Width:    tall,
			Inside:   true,
			Along:    true,
			Closed:   true,
		},
	)
	// A foot of each goes into the ground.
	peg, err := cat.Reaching(
		"peg-",
		tall+300*measure.Millimetre,
		func(f catalog.Fitting) measure.Length { return f.Each },
	)
	if err != nil {
		return frame.Frame{}, err
	}
	w.f.Radii = append(
		w.f.Radii,
		frame.Radius{Bed: bed.ID, Middle: h.r.middle, Reach: h.basket, What: "the basket's mesh"},
	)
	w.f.Fittings = append(
		w.f.Fittings,
		frame.Fitting{
			ID:    w.id("pegs"),
			Bed:   bed.ID,
			Kind:  peg.ID,
			Place: "round the basket, with a cap on each",
			Count: pegs,
			Lines: h.basketLines(pegs, tall),
			Why: fmt.Sprintf(
				"%d round a basket whose mesh, %s high, is laid round them; a foot of each goes into the ground",
				pegs,
				cat.Precision(cat.Habits).Feet(tall),
			),
		},
	)
	w.f.Acts = append(
		w.f.Acts,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "basket",
			Title: "Set the basket",
			Where: "in the middle",
			Fits:  []string{w.id("pegs")},
			Tools: []string{"mallet", "pliers and wire", "gloves"},
			Soil:  frame.BeforeSoil,
			Note: "Drive the pegs, wrap the mesh round them and wire it, cut points turned in. Lay a cover on it," +
				" of boards or a bin's lid, a hand wider than the basket: it keeps rain and rats out and the heap warm.",
		},
		frame.Act{
			Verb:  frame.Fill,
			Of:    "layers",
			Title: "Fill it in layers",
			Where: "round the basket",
			Note:  layers(bed, cat.Precision(cat.Habits)),
		},
	)
	w.found(h, tall, cat.System == measure.Metric)
	return w.f, nil
}

// basketLines are the basket's pegs, and its mesh at the ground and at the top.
func (h hole) basketLines(pegs int, tall measure.Length) [][]frame.Point {
	at := func(turn float64, z measure.Length) frame.Point {
		s := h.r.spot(2*math.Pi*turn, float64(h.basket), 0)
		return frame.Point{X: s.U, Y: s.V, Z: z}
	}
	var lines [][]frame.Point
	for k := range pegs {
		turn := float64(k) / float64(pegs)
		lines = append(lines, []frame.Point{at(turn, 0), at(turn, tall)})
	}
	const fine = 48
	for _, z := range []measure.Length{0, tall / 2, tall} {
		var round []frame.Point
		for k := range fine + 1 {
			round = append(round, at(float64(k)/fine, z))
		}
		lines = append(lines, round)
	}
	return lines
}

// wayLong is how long the walls beside the way in are, from the rim's inside to the
// basket.
func (h hole) wayLong(u catalog.Unit) measure.Length {
	x := float64(h.way) + float64(u.Depth)
	return measure.Length(
		math.Sqrt(float64(h.r.inner)*float64(h.r.inner)-x*x) - math.Sqrt(float64(h.basket)*float64(h.basket)-x*x),
	)
}

// holeCourse lays a course: the rim from one side of the way in to the other, every
// other one moved by half a unit and ended with halves; then the walls of the way.
func (w *laid) holeCourse(h hole, course int) {
	u, role := w.unit, fmt.Sprintf("rim, course %d", course)
	step := (h.to - h.from) / float64(h.r.n)
	in, out := float64(h.r.inner), float64(h.r.inner+u.Depth)
	n := h.r.n
	shift := 0.5
	if course%2 == 0 {
		n, shift = n+1, 0
	}
	for k := range n {
		mid := h.from + step*(float64(k)+shift)
		left, right := 1.0, 1.0
		kind, cut := frame.StandardUnit, measure.Length(0)
		if course%2 == 0 && (k == 0 || k == n-1) { // half of it would stand in the way
			kind, cut = frame.CutUnit, u.Length/2
			if k == 0 {
				left = 0
			} else {
				right = 0
			}
		}
		w.lay(
			u.ID,
			kind,
			role,
			course,
			[]frame.Spot{h.r.spot(mid, in, -left*float64(u.Back)/2), h.r.spot(mid, out, -left*float64(u.Length)/2),
				h.r.spot(mid, out, right*float64(u.Length)/2), h.r.spot(mid, in, right*float64(u.Back)/2)},
			cut,
			0,
		)
	}
	long := h.wayLong(u)
	front := math.Sqrt(in*in - math.Pow(float64(h.way+u.Depth), 2)) // how far the walls begin from the middle
	for _, side := range []measure.Length{-1, 1} {
		r := run{key: map[measure.Length]string{-1: "left", 1: "right"}[side] + " of the way in", dv: 1, length: long}
		r.at = frame.Spot{U: h.r.middle.U + side*h.way, V: h.r.middle.V - measure.Length(front) + u.Joint}
		if side > 0 { // its wall lies to the right of the line along it
			r.at.U += u.Depth
		}
		for _, p := range stretch(r, rectangular(u), course) {
			cut, kind := measure.Length(0), frame.StandardUnit
			if l := p.to - p.from; l != u.Length {
				cut, kind = l, frame.CutUnit
			}
			w.lay(
				u.ID,
				kind,
				fmt.Sprintf("%s, course %d", r.key, course),
				course,
				r.outline(p.from, p.to, p.from, p.to, 0, u.Depth),
				cut,
				0,
			)
		}
	}
}

// rectangular is a unit as it lies in a straight wall: a tapered one takes as much of
// it as its longer face.
func rectangular(u catalog.Unit) catalog.Unit {
	u.Back = u.Length
	return u
}

// holeInside is the soil, the opening and the measures.
func (w *laid) holeInside(h hole, far measure.Length) {
	b, u := w.bed, w.unit
	// One outline with the basket and the way left out: along the rim, in beside the
	// way, back round the basket.
	half := float64(h.way + u.Depth)
	outline := h.outline(half)
	area := frame.OutlineArea(outline)
	w.f.Cavities = []frame.Cavity{
		{
			ID:       w.id("soil"),
			Bed:      b.ID,
			Top:      b.Soil,
			Rim:      w.top,
			Outline:  outline,
			Free:     h.meshed(),
			Pieces:   h.pieces(half),
			HeapedAs: "heaped up to the basket",
			Heaped:   h.heap(b.OptionLength(riseKey), area),
		},
	}
	rim, basket := frame.Circle(h.r.inner, 1), frame.Circle(h.basket, 1)
	way := why.Of(why.Area, rim.Value()-basket.Value()-area.SquareMetres()).Called("of the way in and its walls")
	surface := why.Less(rim, basket, way)
	w.f.Cavities[0].Surface = &surface
	m := h.r.middle
	w.f.Openings = []frame.Opening{
		{
			Lo:      frame.Spot{U: m.U - h.r.inner, V: m.V - h.r.inner},
			Hi:      frame.Spot{U: m.U + h.r.inner, V: m.V + h.r.inner},
			Rim:     w.top,
			Round:   outline,
			Surface: &surface,
		},
	}
	w.f.Outside = [2]frame.Spot{{}, {U: 2 * far, V: 2 * far}}
	w.f.Deepest, w.f.DeepestBy, w.f.DeepestPer = h.r.inner-h.basket, "length", 2
	w.f.Arcs = []frame.Arc{
		{Bed: b.ID, Name: "rim", Middle: m, Inside: h.r.inner, Outside: h.r.inner + u.Depth, Degrees: 360},
	}
	out := float64(h.r.inner + u.Depth) // where the faces beside the way meet the outer one
	front := m.V - measure.Length(math.Sqrt(out*out-float64(h.way)*float64(h.way)))
	w.f.Marks = []frame.Mark{
		{At: frame.Spot{U: m.U - h.way, V: front}, What: "left of the way in, at the outer face"},
		{At: frame.Spot{U: m.U + h.way, V: front}, What: "right of the way in"},
	}
	w.under(2*h.r.inner, 2*h.r.inner)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	w.f.Measures = []frame.Measure{
		{
			Name:    "inside across",
			Field:   "length",
			From:    at(m.U-h.r.inner, m.V, w.top),
			To:      at(m.U+h.r.inner, m.V, w.top),
			Primary: true,
		},
		{Name: "way in", Field: wayKey, From: at(m.U-h.way, 0, w.top), To: at(m.U+h.way, 0, w.top)},
		{Name: "outside deep", From: at(0, 0, 0), To: at(0, 2*far, 0), Primary: true},
		{
			Name:    "soil depth at the rim",
			Field:   "soil",
			From:    at(m.U-h.r.inner, m.V, 0),
			To:      at(m.U-h.r.inner, m.V, b.Soil),
			Primary: true,
		},
		{Name: "wall height", From: at(0, m.V, 0), To: at(0, m.V, w.top)},
	}
}

// trench is what is dug for the rim and the walls of the way, so far beside them, as
// one outline: round the rim, in along the way, back out on the wall's other side and
// round inside the rim, the other wall alike.
func (h hole) trench(u catalog.Unit, beside measure.Length) []frame.Spot {
	out, in := float64(h.r.inner+u.Depth+beside), float64(h.r.inner-beside)
	near, far := float64(h.way-beside), float64(h.way+u.Depth+beside) // of the middle of the way
	face, rim, basket := float64(h.way+u.Depth), float64(h.r.inner), float64(h.basket)
	begin, end := math.Sqrt(
		rim*rim-face*face,
	)+float64(
		beside,
	), math.Sqrt(
		basket*basket-face*face,
	)-float64(
		beside,
	) // of the walls, before the middle
	var list []frame.Spot
	arc := func(r, x, by float64) { // from one side of the way to the other
		from := math.Asin(x / r)
		for k := range 73 {
			turn := by * (from + (2*math.Pi-2*from)*float64(k)/72)
			list = append(list, h.r.spot(-math.Pi/2+turn, r, 0))
		}
	}
	corner := func(x, y float64) {
		list = append(
			list,
			frame.Spot{
				U: h.r.middle.U + measure.Length(math.Round(x)),
				V: h.r.middle.V - measure.Length(math.Round(y)),
			},
		)
	}
	arc(out, face-float64(beside), 1)
	corner(-face+float64(beside), begin)
	corner(-near, begin)
	corner(-near, end)
	corner(-far, end)
	arc(in, far, -1)
	corner(far, end)
	corner(near, end)
	corner(near, begin)
	corner(face-float64(beside), begin)
	return list
}

// pieces are the soil from above in stretches without a hollow, from rim to basket.
func (h hole) pieces(half float64) [][]frame.Spot {
	rim, basket := float64(h.r.inner), float64(h.basket)
	a, b := math.Asin(half/rim), math.Asin(half/basket)
	const n, fine = 20, 4
	at := func(from, k float64) float64 { return -math.Pi/2 + from + (2*math.Pi-2*from)*k/n }
	var list [][]frame.Spot
	for k := range n {
		var piece []frame.Spot
		for i := 0; i <= fine; i++ {
			piece = append(piece, h.r.spot(at(a, float64(k)+float64(i)/fine), rim, 0))
		}
		list = append(
			list,
			append(piece, h.r.spot(at(b, float64(k)+1), basket, 0), h.r.spot(at(b, float64(k)), basket, 0)),
		)
	}
	return list
}

// rounded is how many sides stand for a circle.
const rounded = 180

// outline is the soil from above, as corners, with a way of half a width left out.
func (h hole) outline(half float64) []frame.Spot {
	var list []frame.Spot
	rim, basket := float64(h.r.inner), float64(h.basket)
	a, b := math.Asin(half/rim), math.Asin(half/basket)
	const n = rounded
	for k := 0; k <= n; k++ { // anticlockwise from the way's right side
		list = append(list, h.r.spot(-math.Pi/2+a+(2*math.Pi-2*a)*float64(k)/n, rim, 0))
	}
	for k := n; k >= 0; k-- {
		list = append(list, h.r.spot(-math.Pi/2+b+(2*math.Pi-2*b)*float64(k)/n, basket, 0))
	}
	return list
}

// meshed are the sides of that outline which the basket's mesh holds.
func (h hole) meshed() []int {
	var list []int
	for i := rounded + 1; i <= 2*rounded; i++ {
		list = append(list, i)
	}
	return list
}

// coarse is how deep the rough stuff lies at the bottom, 0 where the bed is too shallow
// for it: the lowest third at most, with good soil above it.
func coarse(bed design.Bed, metric bool) (deep, good measure.Length) {
	good = 10 * measure.Inch
	if metric {
		good = 250 * measure.Millimetre
	}
	step := measure.Inch / 2
	if deep = min(bed.Soil/3, bed.Soil-good) / step * step; deep < 2*measure.Inch {
		return 0, good
	}
	return deep, good
}

// found counts what a keyhole is filled with that nobody buys: twigs below the soil, and
// the heap in its basket, to the top of the mesh.
func (w *laid) found(h hole, tall measure.Length, metric bool) {
	c := w.f.Cavities[0]
	if deep, _ := coarse(w.bed, metric); deep > 0 {
		of := why.Times(*c.Surface, why.Long(deep))
		w.f.Found = append(w.f.Found, frame.Found{Name: "twigs and stalks at the bottom, trodden down", Below: true,
			Volume: measure.CubicMetres(of.Value()), Of: of})
	}
	of := why.Times(frame.Circle(h.basket, 1), why.Long(tall))
	w.f.Found = append(w.f.Found, frame.Found{Name: "garden and kitchen waste for the basket",
		Volume: measure.CubicMetres(of.Value()), Of: of})
}

// layers is how a keyhole is filled: coarse stuff in the lowest third at most, so that 10
// in (250 mm) of good soil are left above it; sloped up to the basket (common practice).
func layers(bed design.Bed, p measure.Precision) string {
	words := ""
	if deep, good := coarse(bed, p.System == measure.Metric); deep > 0 {
		words = fmt.Sprintf(
			"Twigs and stalks first, %s deep and no piece thicker than a hand, trodden down; then green stuff,"+
				" wetted; then soil, %s of it and more. ",
			p.Short(deep),
			p.Short(good),
		)
	} else {
		words = "It is too shallow for rough stuff below: good soil all the way down. "
	}
	return words + fmt.Sprintf(
		"Slope it up from the rim to the basket by %s, so that what is poured on the heap runs outwards under the"+
			" plants. Wet every layer, let it settle a week, and top it up before planting.",
		p.Short(bed.OptionLength(riseKey)),
	)
}
