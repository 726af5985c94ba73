package masonry

import (
	"cmp"
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// blockWall is a bed of blocks or bricks in stretcher bond: all round, or open to
// what stands behind it. Round a corner every wall begins with a whole unit and
// ends against the next one's side, the other way about in every other course; so
// a wall bonds with whole units where it is as long as some of them and one unit's
// depth, and joints lie a depth apart from those below.
//
//	course 1                 course 2
//	 ___ ______ ______        ______ ______ ___
//	|   |______|______|      |______|______|   |
//	|   |          |  |      |  |          |   |
var blockWall = System{
	System: design.System{
		Name: "block-wall", Title: "Block wall", About: "blocks or bricks in half bond, dry or with joints; lasts longest",
		Of:    "masonry",
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Own: append(ownFields("wall", "hollow", "brick", "edging"), design.Field{Key: shapeKey, Label: "Walls", Stage: "bed", Kind: design.ChoiceField, Default: "closed",
			Offers: []design.Choice{{Value: "closed", Label: "all round", Note: "stands by itself"}, {Value: "u", Label: "front and both ends", Note: "open to what stands behind"},
				{Value: "l", Label: "front and left end", Note: "in a corner"}, {Value: "straight", Label: "front only", Note: "between two things that stand"}}},
			design.Field{Key: bondKey, Label: "Bond", Stage: "frame", Kind: design.ChoiceField, Default: "half",
				Offers: []design.Choice{{Value: "half", Label: "half a unit over the joint", Note: "ties the wall together"}, {Value: "stack", Label: "joint over joint", Note: "no halves, but only glue or mortar ties it: low walls"}}},
			design.Field{Key: fallKey, Label: "Ground falls from left to right", Stage: "site", Kind: design.LengthField, Default: "0 in", Metric: "0 mm",
				Help: "Over the length of the bed. The top stays level; the base goes down in steps of whole courses, so that every course lies level."},
			drainField("none")),
		Start:  startWall,
		Check:  checkWall,
		Follow: followWall,
		Apart:  apartWall,
	},
	Build: buildWall,
}

const (
	shapeKey = "walls"
	bondKey  = "bond"
)

// laps is the course whose pattern a course has: in stack bond every one is as the
// first.
func laps(b design.Bed, course int) int {
	if b.Options[bondKey] == "stack" {
		return 1
	}
	return course
}

// run is a straight wall: where its outer face begins, which way it goes, how long
// it is, and whether it turns a corner at either end.
type run struct {
	key        string
	at         frame.Spot
	du, dv     measure.Length // one of them 1 or -1
	length     measure.Length
	start, end bool // a corner
}

// runs lists the walls of a shape with their outer sizes.
func runs(shape string, a, b measure.Length) []run {
	closed := shape == "closed"
	left := run{key: "left", at: frame.Spot{V: b}, dv: -1, length: b, start: closed, end: true}
	front := run{key: "front", du: 1, length: a, start: shape != "straight", end: closed || shape == "u"}
	right := run{key: "right", at: frame.Spot{U: a}, dv: 1, length: b, start: true, end: closed}
	back := run{key: "back", at: frame.Spot{U: a, V: b}, du: -1, length: a, start: true, end: true}
	switch shape {
	case "closed":
		return []run{front, right, back, left}
	case "u":
		return []run{left, front, right}
	case "l":
		return []run{left, front}
	}
	return []run{front}
}

// outer are the outer sizes of a bed with its walls; a shape's open sides add
// nothing.
func outer(b design.Bed, u catalog.Unit) (length, width measure.Length) {
	length, width = b.Length, b.Width+2*u.Depth
	switch b.Options[shapeKey] {
	case "closed":
		length += 2 * u.Depth
	case "u":
		length, width = length+2*u.Depth, b.Width+u.Depth
	case "l":
		length, width = length+u.Depth, b.Width+u.Depth
	default:
		width = b.Width + u.Depth
	}
	return length, width
}

// over is what a run is longer than whole units make it: with a corner some units and
// one's depth, without any, or joint over joint from a corner that all its courses
// begin at, some units less the last joint.
func (r run) over(b design.Bed, u catalog.Unit) measure.Length {
	if r.end || r.start && b.Options[bondKey] != "stack" {
		return (r.length - u.Depth) % u.Module()
	}
	return (r.length + u.Joint) % u.Module()
}

// bonded are the nearest lengths of a clear size, shorter and longer, with which
// all runs along it bond.
func bonded(clear, over measure.Length, u catalog.Unit) (less, more measure.Length) {
	return clear - over, clear - over + u.Module()
}

func startWall(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf("wall")[0]
	b.Options[unitKey] = u.ID
	b.Soil = min(b.Soil, 300*measure.Millimetre)
	snap(b, u)
}

// snap makes a bed as long and as wide as whole units bond, a little less than it
// was or as long as one of them at least.
func snap(b *design.Bed, u catalog.Unit) {
	long, wide := outer(*b, u)
	for _, r := range runs(b.Options[shapeKey], long, wide) {
		size := &b.Length
		if r.dv != 0 {
			size = &b.Width
		}
		long, wide := outer(*b, u)
		for _, again := range runs(b.Options[shapeKey], long, wide) {
			if again.key != r.key {
				continue
			}
			less, more := bonded(*size, again.over(*b, u), u)
			if *size = less; less < u.Length {
				*size = more
			}
		}
	}
}

// followWall keeps a bed in bond when its units or walls change, and its size was
// not asked for anew.
func followWall(b *design.Bed, cat *catalog.Catalog, changed func(string) bool) {
	u, err := cat.Unit(b.Options[unitKey])
	if err == nil && (changed(unitKey) || changed(shapeKey) || changed(bondKey)) && !changed("length") && !changed("width") {
		snap(b, u)
	}
}

// apartWall is a unit and its joint: walls grow by whole units.
func apartWall(b design.Bed, cat *catalog.Catalog, field string) measure.Length {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil || field != "length" && (field != "width" || b.Options[shapeKey] == "straight") {
		return 0
	}
	return u.Module()
}

func checkWall(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	long, wide := outer(b, u)
	told := map[string]bool{}
	for _, r := range runs(b.Options[shapeKey], long, wide) {
		field, clear := "length", b.Length
		if r.dv != 0 {
			field, clear = "width", b.Width
		}
		over := r.over(b, u)
		if over == 0 || told[field] {
			continue
		}
		told[field] = true
		less, more := bonded(clear, over, u)
		refuse(field, "no bond of whole units makes %s: %s and %s do", p.Feet(clear), lengthText(p, less), lengthText(p, more))
	}
	stack := b.Options[bondKey] == "stack"
	if most := usually(cat).stacked; stack && b.Soil > most {
		refuse(bondKey, "joint over joint %s of soil would part the wall: up to %s works, or half a unit over the joint", p.Feet(b.Soil), p.Feet(most))
	}
	if lap := u.Depth + u.Joint; !stack && len(runs(b.Options[shapeKey], long, wide)) > 1 && min(lap%u.Module(), u.Module()-lap%u.Module()) < u.Length/4 {
		refuse(unitKey, "round a corner the joints of a %s would lie less than a quarter of it apart; another unit works", u.Name)
	}
	if b.Options[capKey] == "mitred" {
		w := &laid{bed: b, unit: u, cap: capFor(cat, u)}
		for _, r := range runs(b.Options[shapeKey], long, wide) {
			if len(told) == 0 && !w.mitres(r) {
				refuse(capKey, "the caps of a wall of %s come out too short to be mitred: butted works, or a longer wall", p.Feet(r.length))
				break
			}
		}
	}
	fall := b.OptionLength(fallKey)
	if most := b.Length / 6; fall < 0 || fall > most {
		refuse(fallKey, "a fall of %s along this bed is a slope for terraces: up to %s works", p.Feet(fall), p.Feet(most))
		return
	}
	b.Soil += fall // at its deepest
	bears(b, cat, u, refuse)
}

// lengthText is a length that can be typed as it is: exact where rounding would
// change it.
func lengthText(p measure.Precision, l measure.Length) string {
	if p.Exact(l) {
		return p.Feet(l)
	}
	return l.String()
}

// piece is a stretch of a run that a unit covers.
type piece struct{ from, to measure.Length }

// stretch fills a run's stretch with units: whole ones from the end that has a
// corner, and at the other end what is left. Without a corner every other course
// begins with half a unit.
func stretch(r run, u catalog.Unit, course int) []piece {
	lo, hi := measure.Length(0), r.length
	odd := course%2 == 1
	if r.start && !odd {
		lo += u.Depth + u.Joint
	}
	if r.end && odd {
		hi -= u.Depth + u.Joint
	}
	var list []piece
	if r.end && !r.start { // from the corner backwards
		for at := hi; at > lo; at -= u.Module() {
			list = append(list, piece{max(lo, at-u.Length), at})
		}
		return list
	}
	at := lo
	if !r.start && !r.end && !odd {
		half := u.Module()/2 - u.Joint
		list = append(list, piece{lo, lo + half})
		at += half + u.Joint
	}
	for ; at < hi; at += u.Module() {
		list = append(list, piece{at, min(hi, at+u.Length)})
	}
	return list
}

// outline is a piece from above, depth deep, set back from the outer face.
func (r run) outline(from, to, inFrom, inTo, back, depth measure.Length) []frame.Spot {
	at := func(s, in measure.Length) frame.Spot {
		return frame.Spot{U: r.at.U + r.du*s - r.dv*in, V: r.at.V + r.dv*s + r.du*in}
	}
	return []frame.Spot{at(from, back), at(to, back), at(inTo, back+depth), at(inFrom, back+depth)}
}

func buildWall(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	w, err := newLaid(bed, cat)
	if err != nil {
		return frame.Frame{}, err
	}
	u := w.unit
	long, wide := outer(bed, u)
	walls := runs(bed.Options[shapeKey], long, wide)
	w.f.Outside = [2]frame.Spot{{}, {U: long, V: wide}}
	for course := 1; course <= w.courses; course++ {
		for _, r := range walls {
			w.run(r, course)
		}
	}
	if w.cap.ID != "" {
		for _, r := range walls {
			w.capRun(r)
		}
	}
	w.insides(long, wide)
	line, seat, trench := footprint(walls, long, wide, u, w.usual.beside)
	inside := measure.Length(0) // of the walls, where stone can lie
	for _, r := range walls {
		if inside += bed.Length; r.dv != 0 {
			inside += bed.Width - bed.Length
		}
	}
	corners := max(0, len(walls)-1)
	if bed.Options[shapeKey] == "closed" {
		corners = 4
	}
	w.drain(0, inside-w.usual.drained*measure.Length(corners))
	trench += measure.Over(u.Length, u.Depth+2*w.usual.beside) * measure.Area(2*w.steps) // lower steps reach under the upper ones
	w.base(line, seat, trench)
	if w.fall > 0 {
		c := &w.f.Cavities[0]
		c.Heaped += frame.OutlineArea(c.Outline).By(measure.Length(float64(w.fall) * float64(middleU(c.Outline)) / float64(long)))
	}
	shape := bed.Options[shapeKey]
	w.stack(bed.Soil, (shape == "closed" || shape == "u") && bed.Length <= tieEvery || shape == "l" && bed.Length <= tieEvery/2)
	if bed.Options[bondKey] == "stack" && u.Joint == 0 && w.courses > 1 {
		w.f.Beads = append(w.f.Beads, frame.Bead{Bed: bed.ID, Place: "between the courses", Length: 2 * line * measure.Length(w.courses-1)})
	}
	first := "from a corner, along a line"
	if w.steps > 0 {
		first = fmt.Sprintf("from the lowest step up: the base goes down %d times by one course, %s", w.steps, cat.Precision(cat.Habits).Short(u.Course()))
	}
	w.acts(first, "from the corners, which alternate")
	return w.f, nil
}

// down is how many courses the base lies lower under a piece than at the left, where the
// ground falls away: half of what is buried there is still in the ground at its lowest end.
func (w *laid) down(r run, ends ...measure.Length) int {
	most := measure.Length(0)
	for _, s := range ends {
		most = max(most, r.at.U+r.du*s)
	}
	if r.du == 0 && r.at.U > 0 { // along the right
		most = w.f.Outside[1].U
	}
	return w.deeper(measure.Length(float64(w.fall) * float64(most) / float64(w.f.Outside[1].U)))
}

// deeper is how many courses lower the base has to be where the ground is so much lower.
func (w *laid) deeper(ground measure.Length) int {
	course := w.unit.Course()
	return max(0, int((ground-w.bury/2+course-1)/course))
}

// run lays one course of a wall.
func (w *laid) run(r run, course int) {
	u := w.unit
	laps := laps(w.bed, course)
	list := stretch(r, u, laps)
	for i, p := range list {
		if course <= w.steps && course <= w.steps-w.down(r, p.to, p.from) {
			continue // the base is higher here
		}
		kind, sku, cut := "standard", u.ID, measure.Length(0)
		switch l := p.to - p.from; {
		case l == u.Length:
		case w.half.ID != "" && l == w.half.Length:
			kind, sku = "half", w.half.ID
		default:
			kind, cut = "cut", l
		}
		first, last := i == 0, i == len(list)-1
		if r.end && !r.start { // it was laid from its end
			first, last = last, first
		}
		switch {
		case kind != "standard":
		case r.start && first && laps%2 == 1:
			kind, sku = "left corner", cmp.Or(u.Left, sku)
		case r.end && last && laps%2 == 0:
			kind, sku = "right corner", cmp.Or(u.Right, sku)
		}
		w.lay(sku, kind, fmt.Sprintf("%s, course %d", r.key, course), course, r.outline(p.from, p.to, p.from, p.to, 0, u.Depth), cut, 0)
		w.f.Units[len(w.f.Units)-1].Lugs = u.Lugs && (course <= 1+w.steps || strings.HasSuffix(kind, " corner"))
	}
}

// capRun lays the caps of a wall, half of what they are deeper than it on either
// side. Whole ones come first; the last few share what is left, so that none is a
// sliver.
func (w *laid) capRun(r run) {
	c := w.cap
	lo, hi, over := w.capSpan(r)
	mitred := w.bed.Options[capKey] == "mitred"
	inLo, inHi := lo, hi
	if mitred && r.start {
		inLo += c.Depth
	}
	if mitred && r.end {
		inHi -= c.Depth
	}
	for _, p := range w.capPieces(r) {
		cut, angle := measure.Length(0), 0.0
		if l := p.to - p.from; l != c.Length {
			cut = l
		}
		if mitred && (p.from == lo && r.start || p.to == hi && r.end) {
			cut, angle = p.to-p.from, 45
		}
		w.lay(c.ID, "cap", "cap, "+r.key, w.courses, r.outline(p.from, p.to, max(p.from, inLo), min(p.to, inHi), -over, c.Depth), cut, angle)
	}
	w.f.Beads = append(w.f.Beads, frame.Bead{Bed: w.bed.ID, Place: "under the caps, " + r.key, Length: 2 * (hi - lo)})
}

// capPieces parts a wall's caps: where they are mitred a whole one to each corner,
// between them as many whole ones as fit and the rest shared.
func (w *laid) capPieces(r run) []piece {
	c := w.cap
	lo, hi, _ := w.capSpan(r)
	if w.bed.Options[capKey] != "mitred" {
		return shared(lo, hi, c.Length/4, c)
	}
	if hi-lo <= 3*c.Module() {
		return shared(lo, hi, c.Depth+leastBeside, c)
	}
	var list, last []piece
	if r.start {
		list = append(list, piece{lo, lo + c.Length})
		lo += c.Module()
	}
	if r.end {
		last = append(last, piece{hi - c.Length, hi})
		hi -= c.Module()
	}
	return append(append(list, shared(lo, hi, c.Length/4, c)...), last...)
}

// leastBeside is what is left of a mitred cap's inner edge at least.
const leastBeside = 25 * measure.Millimetre

// mitres reports whether a wall's caps are long enough to be mitred at its corners.
func (w *laid) mitres(r run) bool {
	list := w.capPieces(r)
	first, last := list[0], list[len(list)-1]
	return (!r.start || first.to-first.from >= w.cap.Depth+leastBeside) && (!r.end || last.to-last.from >= w.cap.Depth+leastBeside)
}

// capSpan is where a wall's caps begin and end, and how far they stand over it:
// half of what they are deeper. Butted ones end at the side of the next wall's.
func (w *laid) capSpan(r run) (lo, hi, over measure.Length) {
	c := w.cap
	over = (c.Depth - w.unit.Depth) / 2
	hi = r.length
	if r.start {
		lo -= over
	}
	if r.end {
		hi += over
	}
	if r.end && w.bed.Options[capKey] != "mitred" {
		hi -= c.Depth + c.Joint
	}
	return lo, hi, over
}

// shared covers a stretch with whole units and, where it does not come out, with
// the last few cut to one length that is no less than the least.
func shared(lo, hi, least measure.Length, u catalog.Unit) []piece {
	n := int((hi - lo + u.Joint + u.Module() - 1) / u.Module())
	var list []piece
	for whole := n; whole >= 0; whole-- {
		rest := hi - lo - u.Module()*measure.Length(whole) // after whole units and their joints
		cuts := n - whole
		if cuts == 0 {
			if rest+u.Joint != 0 {
				continue
			}
		} else if each := (rest+u.Joint)/measure.Length(cuts) - u.Joint; each < least && whole > 0 {
			continue
		}
		at := lo
		for range whole {
			list = append(list, piece{at, at + u.Length})
			at += u.Module()
		}
		for k := range cuts {
			end := at + (hi-at+u.Joint)/measure.Length(cuts-k) - u.Joint
			if k == cuts-1 {
				end = hi
			}
			list = append(list, piece{at, end})
			at = end + u.Joint
		}
		return list
	}
	return list
}

// insides are the soil, the opening and the measures.
func (w *laid) insides(long, wide measure.Length) {
	b, u := w.bed, w.unit
	lo := frame.Spot{U: u.Depth, V: u.Depth}
	if b.Options[shapeKey] == "straight" {
		lo.U = 0
	}
	hi := frame.Spot{U: lo.U + b.Length, V: lo.V + b.Width}
	w.f.Cavities = []frame.Cavity{{ID: w.id("soil"), Bed: b.ID, Top: b.Soil, Rim: w.top, Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}}}
	over := measure.Length(0) // of the caps, inwards
	if w.cap.ID != "" {
		over = max(0, (w.cap.Depth-u.Depth)/2)
	}
	open := frame.Opening{Lo: lo, Hi: hi, Rim: w.top}
	for _, r := range runs(b.Options[shapeKey], long, wide) {
		switch r.key {
		case "front":
			open.Lo.V += over
		case "back":
			open.Hi.V -= over
		case "left":
			open.Lo.U += over
		case "right":
			open.Hi.U -= over
		}
	}
	w.f.Openings = []frame.Opening{open}
	w.under(b.Length, b.Width)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	w.f.Measures = []frame.Measure{
		{Name: "inside length", Field: "length", From: at(lo.U, lo.V, w.top), To: at(hi.U, lo.V, w.top), Primary: true},
		{Name: "inside width", Field: "width", From: at(lo.U, lo.V, w.top), To: at(lo.U, hi.V, w.top), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(long, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, wide, 0)},
		{Name: "soil depth", Field: "soil", From: at(lo.U, lo.V, 0), To: at(lo.U, lo.V, b.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, w.top)},
	}
}

// footprint is the walls' middle line, the area under them and that of their
// trench, corners counted once.
func footprint(walls []run, long, wide measure.Length, u catalog.Unit, beside measure.Length) (line measure.Length, seat, trench measure.Area) {
	corners := 0
	for _, r := range walls {
		line += r.length
		if r.start {
			corners++
		}
	}
	line -= u.Depth * measure.Length(corners)
	seat = measure.Over(line, u.Depth)
	if corners == 4 {
		a, b := long+2*beside, wide+2*beside
		return line, seat, measure.Over(a, b) - measure.Over(long-2*u.Depth-2*beside, wide-2*u.Depth-2*beside)
	}
	// Each corner lies in both walls' trenches; each turned corner adds the little
	// squares outside and inside, which cancel along the middle line.
	return line, seat, measure.Over(line, u.Depth+2*beside)
}
