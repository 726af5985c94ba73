package masonry

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// ring is units round a circle, a half circle against a wall or a quarter in a
// corner. Their inner faces make a polygon: so many of them round a circle touch at
// one size, and with the joints opened they make a bigger one.
//
//	   __      n units of inner face L and joint j, inner faces R from the middle:
//	 /    \
//	|  +R--|      R = (L + j) / (2 tan(180 deg / n))
//	 \ __ /
var ring = System{
	System: design.System{
		Name: "ring", Title: "Ring of blocks", About: "a round bed, half a one at a wall or a quarter in a corner",
		Of: "masonry",
		Examples: []design.Example{{About: "a round bed of tapered blocks"},
			{Name: "half-ring", Title: "Half ring", About: "half a ring against a wall or fence",
				Edits: []design.Edit{{Bed: "b1", Field: "arc", Value: "half"}}}},
		Uses:  []string{"grass", "under"},
		Lacks: append([]string{"width"}, lacks...),
		Adds:  addsRound,
		Names: map[string]string{"length": "Inside across"},
		Own: append(
			ownFields(cornerCaps, catalog.RingUnit, catalog.WallUnit, catalog.EdgingUnit, catalog.Brick),
			design.Field{
				Key:     arcKey,
				Label:   "How much of a circle",
				Stage:   design.AtBed,
				Kind:    design.ChoiceField,
				Default: "full",
				Offers: []design.Choice{
					{Value: "full", Label: "all of it", Note: "stands by itself"},
					{Value: "half", Label: "half", Note: "against a wall or fence"},
					{Value: "quarter", Label: "a quarter", Note: "in a corner"},
				},
			},
			design.Field{
				Key:     countKey,
				Label:   "Units in a course",
				Stage:   design.AtBed,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    400,
				Help: "auto takes as many as make the size asked for, with the joints opened a little. A number" +
					" makes the size follow: lay them out in the shop aisle.",
			},
			design.Field{
				Key:     gapKey,
				Label:   "Joint inside, with a number of units",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "0 in",
				Metric:  "0 mm",
				Help: "Nothing where they touch; up to about 3/4 in (20 mm) opens the ring without letting soil" +
					" out (common practice).",
			},
			design.Field{
				Key:     tiersKey,
				Label:   "Rings, one on the other",
				Stage:   design.AtBed,
				Kind:    design.NumberField,
				Default: "1",
				Most:    4,
				Help:    "Each stands on the soil of the one below, further in, and closes with touching units.",
			},
			design.Field{
				Key:     ledgeKey,
				Label:   "Ledge to plant between them",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "10 in",
				Metric:  "250 mm",
				Help:    "At least; a ring only closes at certain sizes.",
			},
			design.Field{
				Key:     tierCoursesKey,
				Label:   "Courses of each upper ring",
				Stage:   design.AtBed,
				Kind:    design.NumberField,
				Default: "2",
				Most:    6,
			},
		),
		Start:  startRing,
		Check:  checkRing,
		Follow: followRing,
		Ways:   ringsOf,
		Ruled: func(b design.Bed, field string) string {
			if _, counted := b.OptionCount(countKey); counted && field == "length" {
				return countKey
			}
			return ""
		},
	},
	Build: buildRing,
}

const (
	arcKey   = "arc"
	countKey = "ring_units"
	gapKey   = "ring_joint"

	tiersKey       = "tiers"
	ledgeKey       = "ledge"
	tierCoursesKey = "tier_courses"
)

// widestGap is how far joints are opened inside (common practice: about 3/4 in,
// 20 mm); leastUnits how few make a third of a circle.
const (
	widestGap  = 20 * measure.Millimetre
	leastUnits = 2
)

// arcs is how much of the whole circle an arc is: 1, 2 (half) or 4 (quarter). A
// quarter's size is its radius, of the others the diameter.
var arcs = map[string]int{"full": 1, "half": 2, "quarter": 4}

// apothem is from the middle to the inner faces of n units round a circle with a
// joint inside: where they taper more than the circle needs they touch outside.
func apothem(u catalog.Unit, n int, joint measure.Length) measure.Length {
	t := math.Tan(math.Pi / float64(n))
	inside := float64(u.Back+joint) / (2 * t)
	outside := float64(u.Length+joint)/(2*t) - float64(u.Depth)
	return measure.Length(math.Ceil(max(inside, outside)))
}

// round is how a ring is laid out.
type round struct {
	n      int            // units round the whole circle
	joint  measure.Length // inside
	inner  measure.Length // apothem
	middle frame.Spot
	parts  int // 1, 2 or 4: the whole circle, half or a quarter of it
}

// radiusOf is the wanted apothem.
func radiusOf(b design.Bed) measure.Length {
	if b.Options[arcKey] == "quarter" {
		return b.Length
	}
	return b.Length / 2
}

// roundOf finds the units and the joint that make the size asked for: as many as
// fit with their joints no tighter than the unit's own. The number is one that the
// arc divides.
func roundOf(b design.Bed, u catalog.Unit) round {
	parts := arcs[b.Options[arcKey]]
	r := round{parts: parts, inner: radiusOf(b)}
	if n, ok := b.OptionCount(countKey); ok {
		r.n, r.joint = n, b.OptionLength(gapKey)
		return r
	}
	for n := 3 * leastUnits * parts; n <= 4000; n += parts {
		if apothem(u, n, u.Joint) > r.inner {
			break
		}
		r.n = n
	}
	if r.n > 0 {
		t := math.Tan(math.Pi / float64(r.n))
		r.joint = min(
			measure.Length(2*float64(r.inner)*t)-u.Back,
			measure.Length(2*float64(r.inner+u.Depth)*t)-u.Length,
		)
	}
	return r
}

func startRing(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.RingUnit)[0]
	b.Options[unitKey] = u.ID
	b.Length = min(b.Length, 48*measure.Inch)
	if cat.System == measure.Metric {
		b.Length = min(b.Length, 1200*measure.Millimetre)
	}
	b.Soil = min(b.Soil, cat.Told(measure.Foot, 300*measure.Millimetre))
}

// followRing lets the size follow a number of units, and other units or arcs where
// the size was not asked for anew; and the width of the length.
func followRing(b *design.Bed, cat *catalog.Catalog, changed func(string) bool) {
	u, err := cat.Unit(b.Options[unitKey])
	parts := arcs[b.Options[arcKey]]
	if parts > 1 && changed(arcKey) && !changed("access") {
		b.Access = b.Access.ToOne() // it stands against something
	}
	if err == nil && parts > 0 {
		n, counted := b.OptionCount(countKey)
		switch {
		case counted && n >= 3*leastUnits:
			b.Length = acrossOf(parts, apothem(u, n, b.OptionLength(gapKey)))
		case !counted && !changed("length") && (changed(unitKey) || changed(arcKey) || changed(countKey)):
			r := roundOf(*b, u)
			if least := leastRound(u, parts); r.n < least {
				r.n = least
			}
			if r.joint > widestGap+u.Joint || radiusOf(*b) < apothem(u, r.n, u.Joint) {
				b.Length = acrossOf(parts, apothem(u, r.n, u.Joint))
			}
		}
	}
	if b.Width = b.Length; parts == 2 {
		b.Width = b.Length / 2
	}
}

// acrossOf is a ring's size for a radius: of a quarter the radius, of others across.
func acrossOf(parts int, r measure.Length) measure.Length {
	if parts == 4 {
		return r
	}
	return 2 * r
}

func checkRing(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	parts := arcs[b.Options[arcKey]]
	across := func(r measure.Length) measure.Length { return acrossOf(parts, r) }
	if n, ok := b.OptionCount(countKey); ok {
		least := leastRound(u, parts)
		switch {
		case n%parts != 0:
			refuse(countKey, "%d units do not part into %d: %d and %d do", n, parts, n/parts*parts, (n/parts+1)*parts)
		case n < least:
			refuse(
				countKey,
				"with %d of these the joints would gape outside: from %d, which are %s across inside",
				n,
				least,
				p.Feet(across(apothem(u, least, u.Joint))),
			)
		}
		if gap := b.OptionLength(gapKey); gap > widestGap || gap < 0 {
			refuse(gapKey, "a joint of %s lets soil out: up to %s works", p.Short(gap), p.AtMost(widestGap))
		}
	} else if r := roundOf(b, u); r.n < leastRound(u, parts) {
		least := across(apothem(u, leastRound(u, parts), u.Joint))
		refuse("length", "%s across is too tight for these units, their joints would gape outside: from %s works, or"+
			" a shorter unit", p.Feet(b.Length), lengthText(p, up(least, p.Step)))
	} else if r.joint > widestGap+u.Joint {
		less, more := across(apothem(u, r.n, u.Joint+widestGap)), across(apothem(u, r.n+parts, u.Joint))
		refuse("length", "no number of these units closes a circle of %s with joints up to %s: %s and %s do",
			p.Feet(b.Length), p.Short(widestGap), lengthText(p, less/p.Step*p.Step), lengthText(p, up(more, p.Step)))
	}
	if n, ok := b.OptionCount(tiersKey); !ok || n < 1 {
		refuse(tiersKey, "a ring is one at least: 1 to 4 work")
	} else if r := roundOf(b, u); r.n > 0 {
		if got := len(tiersOf(b, u, r)) + 1; got < n {
			refuse(tiersKey, "%d rings with ledges of %s do not fit into %s: %d do, or narrower ledges, or a"+
				" larger ring", n, p.Feet(b.OptionLength(ledgeKey)), p.Feet(b.Length), got)
		}
	}
	if n, ok := b.OptionCount(tierCoursesKey); !ok || n < 1 {
		refuse(tierCoursesKey, "1 to 6 courses work")
	}
	if l := b.OptionLength(ledgeKey); l < 100*measure.Millimetre || l > measure.Metre {
		refuse(
			ledgeKey,
			"nothing is planted on %s: from %s to %s works",
			p.Short(l),
			p.AtLeast(100*measure.Millimetre),
			p.AtMost(measure.Metre),
		)
	}
	bears(b, cat, u, refuse)
}

func up(l, step measure.Length) measure.Length { return (l + step - 1) / step * step }

// leastRound is the fewest units round a whole circle whose joints gape no more
// outside than half a unit (common practice), a multiple of parts.
func leastRound(u catalog.Unit, parts int) int {
	for n := 3 * leastUnits * parts; ; n += parts {
		t := math.Tan(math.Pi / float64(n))
		if gape := 2*float64(apothem(u, n, u.Joint)+u.Depth)*t - float64(u.Length); gape <= float64(u.Length)/2 {
			return n
		}
	}
}

func buildRing(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	w, err := newLaid(bed, cat)
	if err != nil {
		return frame.Frame{}, err
	}
	r := roundOf(bed, w.unit)
	if r.n == 0 {
		return frame.Frame{}, fmt.Errorf("no ring of %s", bed.Length)
	}
	far := measure.Length(math.Ceil(math.Hypot(float64(r.inner+w.unit.Depth), float64(w.unit.Length)/2)))
	capped := w.cap.ID != ""
	var over measure.Length
	if capped {
		over = max(0, (w.cap.Depth-w.unit.Depth)/2)
	}
	r.middle = frame.Spot{U: far + over, V: far + over} // the outside touches the axes
	for course := 1; course <= w.courses; course++ {
		w.ringCourse(r, course)
	}
	if capped {
		w.ringCaps(r, over)
	}
	w.ringInside(r, far+over, over)
	tiers := tiersOf(bed, w.unit, r)
	for _, t := range tiers {
		w.tier(t)
	}
	w.f.Backed = r.parts > 1
	share := measure.Length(r.parts)
	mean := 2 * math.Pi * float64(r.inner+w.unit.Depth/2) / float64(share)
	line := measure.Length(mean)
	w.base(line, measure.Over(line, w.unit.Depth), measure.Over(line, w.unit.Depth+2*w.usual.beside))
	w.stack(bed.Soil, true)
	w.acts("round a peg with a string, or along a board cut to the circle", "from the joint of two below")
	return w.f, nil
}

// spot is a place so far out from the middle at an angle, and so far beside that
// line.
func (r round) spot(angle float64, out, beside float64) frame.Spot {
	s, c := math.Sincos(angle)
	return frame.Spot{
		U: r.middle.U + measure.Length(math.Round(out*c-beside*s)),
		V: r.middle.V + measure.Length(math.Round(out*s+beside*c)),
	}
}

// begin is where an arc starts: a half opens away from the viewer, a quarter back
// and right.
func (r round) begin() (from, to float64) {
	switch r.parts {
	case 2:
		return -math.Pi, 0
	case 4:
		return -math.Pi, -math.Pi / 2
	}
	return -math.Pi / 2, 3 * math.Pi / 2
}

// ringCourse lays a course; every other one is turned by half a unit, and ends at a
// wall with cut ones.
func (w *laid) ringCourse(r round, course int) {
	u := w.unit
	step := 2 * math.Pi / float64(r.n)
	from, _ := r.begin()
	n := r.n / r.parts
	role := fmt.Sprintf("ring, course %d", course)
	in, out := float64(r.inner), float64(r.inner+u.Depth)
	whole := func(mid float64) {
		w.lay(
			u.ID,
			frame.StandardUnit,
			role,
			course,
			[]frame.Spot{r.spot(mid, in, -float64(u.Back)/2), r.spot(mid, out, -float64(u.Length)/2),
				r.spot(mid, out, float64(u.Length)/2), r.spot(mid, in, float64(u.Back)/2)},
			0,
			0,
		)
	}
	if course%2 == 1 || r.parts == 1 {
		turn := step / 2
		if course%2 == 0 {
			turn = 0
		}
		for k := range n {
			whole(from + turn + step*float64(k))
		}
		return
	}
	for k := range n + 1 {
		mid := from + step*float64(k)
		switch k {
		case 0: // the half that is on this side of the wall
			w.lay(
				u.ID,
				frame.CutUnit,
				role,
				course,
				[]frame.Spot{
					r.spot(mid, in, 0),
					r.spot(mid, out, 0),
					r.spot(mid, out, float64(u.Length)/2),
					r.spot(mid, in, float64(u.Back)/2),
				},
				u.Length/2,
				0,
			)
		case n:
			w.lay(
				u.ID,
				frame.CutUnit,
				role,
				course,
				[]frame.Spot{
					r.spot(mid, in, -float64(u.Back)/2),
					r.spot(mid, out, -float64(u.Length)/2),
					r.spot(mid, out, 0),
					r.spot(mid, in, 0),
				},
				u.Length/2,
				0,
			)
		default:
			whole(mid)
		}
	}
}

// ringCaps lays caps round the rim, each cut on both sides to the angle at which it
// meets the next: 180 degrees by their number.
func (w *laid) ringCaps(r round, over measure.Length) {
	c := w.cap
	out, in := float64(r.inner+w.unit.Depth+over), float64(r.inner+w.unit.Depth+over-c.Depth)
	n := r.parts * int(math.Ceil(math.Pi/math.Atan(float64(c.Length)/(2*out))/float64(r.parts)))
	step := 2 * math.Pi / float64(n)
	t := math.Tan(step / 2)
	from, _ := r.begin()
	for k := range n / r.parts {
		mid := from + step*(float64(k)+0.5)
		wide, narrow := math.Floor(out*t)-1, math.Floor(in*t)-1
		w.lay(
			c.ID,
			frame.CapUnit,
			"cap",
			w.courses,
			[]frame.Spot{
				r.spot(mid, in, -narrow),
				r.spot(mid, out, -wide),
				r.spot(mid, out, wide),
				r.spot(mid, in, narrow),
			},
			measure.Length(2*wide),
			180/float64(n),
		)
	}
	w.f.Beads = append(
		w.f.Beads,
		frame.Bead{
			Bed:    w.bed.ID,
			Place:  "under the caps",
			Length: measure.Length(2 * 2 * math.Pi * float64(r.inner+w.unit.Depth/2) / float64(r.parts)),
		},
	)
}

// corners is how many corners a drawn circle has.
const corners = 96

// disc is part of a circle from above, as corners that enclose the circle's area.
func (r round) disc(radius measure.Length) []frame.Spot {
	from, to := r.begin()
	n := corners / r.parts
	step := (to - from) / float64(n)
	out := float64(radius) * math.Sqrt(step/math.Sin(step))
	var list []frame.Spot
	if r.parts > 1 {
		list = append(list, r.middle)
		n++
	}
	for k := range n {
		list = append(list, r.spot(from+step*float64(k), out, 0))
	}
	return list
}

// flat are the sides of a part of a disc that are straight: it stands against something.
func (r round) flat() []int {
	if r.parts == 1 {
		return nil
	}
	return []int{0, len(r.disc(r.inner)) - 1}
}

// ringInside is the soil, the opening and the measures; far is from the middle to
// the outside, over the caps' overhang.
func (w *laid) ringInside(r round, far, over measure.Length) {
	b := w.bed
	w.f.Cavities = []frame.Cavity{{ID: w.id("soil"), Bed: b.ID, Top: b.Soil, Rim: w.top, Outline: r.disc(r.inner),
		Free: r.flat()}}
	m := r.middle
	lo, hi := frame.Spot{U: m.U - r.inner, V: m.V - r.inner}, frame.Spot{U: m.U + r.inner, V: m.V + r.inner}
	outLo, outHi := frame.Spot{}, frame.Spot{U: m.U + far, V: m.V + far}
	switch r.parts {
	case 2:
		hi.V, outHi.V = m.V, m.V
	case 4:
		hi, outHi = m, m
	}
	w.f.Openings = []frame.Opening{{Lo: lo, Hi: hi, Rim: w.top, Round: r.disc(r.inner - over)}}
	w.f.Outside = [2]frame.Spot{outLo, outHi}
	w.f.Arcs = []frame.Arc{
		{Bed: b.ID, Name: "ring", Middle: m, Inside: r.inner, Outside: r.inner + w.unit.Depth, Degrees: 360 / r.parts},
	}
	w.under(hi.U-lo.U, hi.V-lo.V)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	mid := m.V
	w.f.Measures = []frame.Measure{
		{Name: "inside across", Field: "length", From: at(lo.U, mid, w.top), To: at(hi.U, mid, w.top), Primary: true},
		{Name: "outside across", From: at(outLo.U, mid, 0), To: at(outHi.U, mid, 0)},
		{Name: "outside deep", From: at(outLo.U, outLo.V, 0), To: at(outLo.U, outHi.V, 0), Primary: true},
		{Name: "soil depth", Field: "soil", From: at(lo.U, mid, 0), To: at(lo.U, mid, b.Soil), Primary: true},
		{Name: "wall height", From: at(outLo.U, mid, 0), To: at(outLo.U, mid, w.top)},
	}
}
