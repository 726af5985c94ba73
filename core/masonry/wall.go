package masonry

import (
	"fmt"
	"slices"

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
		Name: "block-wall", Title: "Block wall",
		About: "blocks or bricks in half bond, dry or with joints; lasts longest",
		Of:    "masonry",
		Examples: []design.Example{{About: "a bed of garden wall blocks in half bond, with mitred caps, on a" +
			" compacted base", Then: func(b *design.Bed) { b.Options[capKey] = design.Mitred }}},
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Adds:  adds,
		Own: append(
			ownFields(cornerCaps, catalog.WallUnit, catalog.HollowUnit, catalog.Brick, catalog.EdgingUnit),
			design.Field{Key: shapeKey, Label: "Walls", Stage: design.AtBed, Kind: design.ChoiceField, Default: "closed",
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
			design.Field{Key: bondKey, Label: "Bond", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "half",
				Offers: []design.Choice{
					{Value: "half", Label: "half a unit over the joint", Note: "ties the wall together"},
					{
						Value: "stack",
						Label: "joint over joint",
						Note:  "no halves, but only glue or mortar ties it: low walls",
					},
				}},
			design.Field{
				Key:     fallKey,
				Label:   "Ground falls from left to right",
				Stage:   design.AtSite,
				Kind:    design.LengthField,
				Default: "0 in",
				Metric:  "0 mm",
				Help: "Over the length of the bed. The top stays level; the base goes down in steps of whole" +
					" courses, so that every course lies level.",
			},
			fitField,
			drainField("none"),
		),
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

// bonded are the nearest lengths of a clear size, shorter and longer, with which
// all runs along it bond.
func bonded(clear, over measure.Length, u catalog.Unit) (less, more measure.Length) {
	return clear - over, clear - over + u.Module()
}

func startWall(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.WallUnit)[0]
	b.Options[unitKey] = u.ID
	b.Soil = min(b.Soil, cat.Told(measure.Foot, 300*measure.Millimetre))
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
	u, err := unitOf(*b, cat)
	if err == nil && !cutToFit(*b) && (changed(unitKey) || changed(laidKey) || changed(shapeKey) || changed(bondKey)) &&
		!changed("length") &&
		!changed("width") {
		snap(b, u)
	}
}

// apartWall is a unit and its joint: walls grow by whole units.
func apartWall(b design.Bed, cat *catalog.Catalog, field string) measure.Length {
	u, err := unitOf(b, cat)
	if err != nil || cutToFit(b) || field != "length" && (field != "width" || b.Options[shapeKey] == "straight") {
		return 0
	}
	return u.Module()
}

func checkWall(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := unitOf(b, cat)
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
		if over == 0 || told[field] || cutToFit(b) {
			continue
		}
		told[field] = true
		less, more := bonded(clear, over, u)
		refuse(
			field,
			"no bond of whole units makes %s: %s and %s do",
			p.Feet(clear),
			lengthText(p, less),
			lengthText(p, more),
		)
	}
	stack := b.Options[bondKey] == "stack"
	if most := usually(cat).stacked; stack && b.Soil > most {
		refuse(
			bondKey,
			"joint over joint %s of soil would part the wall: up to %s works, or half a unit over the joint",
			p.Feet(b.Soil),
			p.AtMost(most),
		)
	}
	if lap := u.Depth + u.Joint; !stack && len(runs(b.Options[shapeKey], long, wide)) > 1 &&
		min(lap%u.Module(), u.Module()-lap%u.Module()) < u.Length/4 {
		refuse(
			unitKey,
			"round a corner the joints of a %s would lie less than a quarter of it apart; another unit works",
			u.Name,
		)
	}
	if b.Options[capKey] == "mitred" {
		w := &laid{bed: b, unit: u, cap: capFor(cat, u)}
		for _, r := range runs(b.Options[shapeKey], long, wide) {
			if len(told) == 0 && !w.mitres(r) {
				refuse(
					capKey,
					"the caps of a wall of %s come out too short to be mitred: butted works, or a longer wall",
					p.Feet(r.length),
				)
				break
			}
		}
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
	w.drain(0, inside-w.usual.drained*measure.Length(corners), bed.Options[shapeKey] == "closed")
	trench += measure.Over(
		u.Length,
		u.Depth+2*w.usual.beside,
	) * measure.Area(
		2*w.steps,
	) // lower steps reach under the upper ones
	w.base(line, seat, trench)
	if w.fall > 0 {
		c := &w.f.Cavities[0]
		c.HeapedAs = "where the ground falls away"
		c.Heaped += frame.OutlineArea(c.Outline).By(-w.f.GroundAt(middleU(c.Outline)))
	}
	shape := bed.Options[shapeKey]
	w.stack(
		bed.Soil,
		(shape == "closed" || shape == "u") && bed.Length <= tieEvery || shape == "l" && bed.Length <= tieEvery/2,
	)
	if bed.Options[bondKey] == "stack" && u.Joint == 0 && w.courses > 1 {
		w.f.Stacks[len(w.f.Stacks)-1].Bond = frame.Glued
		w.f.Beads = append(
			w.f.Beads,
			frame.Bead{Bed: bed.ID, Place: "between the courses", Length: 2 * line * measure.Length(w.courses-1)},
		)
	}
	first := "from a corner, along a line"
	if w.steps > 0 {
		first = fmt.Sprintf(
			"from the lowest step up: the base goes down %d times by one course, %s",
			w.steps,
			cat.Precision(cat.Habits).Short(u.Course()),
		)
	}
	w.acts(first, "from the corners, which alternate")
	return w.f, nil
}

// openSides are the sides of a rectangle, by their first corner, along which no wall runs:
// what stands there already holds the soil.
func openSides(walls []run) []int {
	var free []int
	for side, along := range [4][2]measure.Length{{1, 0}, {0, 1}, {-1, 0}, {0, -1}} {
		if !slices.ContainsFunc(walls, func(r run) bool { return [2]measure.Length{r.du, r.dv} == along }) {
			free = append(free, side)
		}
	}
	return free
}

// insides are the soil, the opening and the measures.
func (w *laid) insides(long, wide measure.Length) {
	b, u := w.bed, w.unit
	lo := frame.Spot{U: u.Depth, V: u.Depth}
	if b.Options[shapeKey] == "straight" {
		lo.U = 0
	}
	hi := frame.Spot{U: lo.U + b.Length, V: lo.V + b.Width}
	w.f.Cavities = []frame.Cavity{
		{
			ID:      w.id("soil"),
			Bed:     b.ID,
			Top:     b.Soil,
			Rim:     w.top,
			Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}},
			Free:    openSides(runs(b.Options[shapeKey], long, wide)),
		},
	}
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
func footprint(
	walls []run,
	long, wide measure.Length,
	u catalog.Unit,
	beside measure.Length,
) (line measure.Length, seat, trench measure.Area) {
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
