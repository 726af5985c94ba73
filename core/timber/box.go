package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// box is a rectangle of boards on edge and what most wooden beds share: walls,
// cap, soil, sheet and dimensions. Systems add what holds the walls together.
//
//	 sides cover ends        ends cover sides         pinwheel
//	==================       |================|      ================|
//	|                |       |                |      |               |
//	|                |       |                |      |               |
//	==================       |================|      |================
//
// Sizes follow from the clear opening outwards: the cap overhangs the inside
// of the wall by CapIn, so the walls stand CapIn outside the opening, and the
// outside is a board's thickness further.
type box struct {
	bed               design.Bed
	cat               *catalog.Catalog
	board, cap        catalog.Profile
	species           catalog.Species
	overhang          measure.Length // of the cap, inwards
	inLength, inWidth measure.Length
	outLength         measure.Length
	outWidth          measure.Length
	courses           int
	lift              measure.Length // of the walls' lower edge above the ground
	floor             measure.Length // of what the soil lies on above the ground
	rim               measure.Length
	f                 frame.Frame
	sides             [4]run
	rails             []string // of the cap
}

// newBox lays out the walls of a bed, its cap and its sheet; what holds it
// together comes from the system, and finish after it.
//
// lift is how far the walls stand above the ground, and floor how far above
// their lower edge the soil lies: both zero for a bed on the ground.
func newBox(bed design.Bed, cat *catalog.Catalog, lift, floor measure.Length) (*box, error) {
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return nil, fmt.Errorf("board: %w", err)
	}
	species, err := cat.SpeciesOf(bed.Species)
	if err != nil {
		return nil, err
	}
	b := &box{bed: bed, cat: cat, board: board, species: species}
	b.inLength, b.inWidth = bed.Length, bed.Width
	if bed.Cap != design.NoCap {
		if b.cap, err = cat.Profile(bed.CapProfile); err != nil {
			return nil, fmt.Errorf("cap: %w", err)
		}
		b.overhang = bed.CapIn
		b.inLength += 2 * bed.CapIn
		b.inWidth += 2 * bed.CapIn
	}
	b.outLength = b.inLength + 2*board.Thickness
	b.outWidth = b.inWidth + 2*board.Thickness
	b.courses = coursesFor(floor+bed.Soil+bed.Freeboard, board)
	b.lift, b.floor = lift, lift+floor
	b.rim = lift + board.Width*measure.Length(b.courses)
	b.f = frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: b.rim, OnFeet: lift > 0}
	b.walls()
	return b, nil
}

// coursesFor is how many boards, one above the other, reach a height: the
// fewest whose actual widths do.
func coursesFor(tall measure.Length, board catalog.Profile) int {
	return int((tall + board.Width - 1) / board.Width)
}

// finish adds the cap, the soil round what stands in it, the sheet and the
// dimensions.
func (b *box) finish() frame.Frame {
	b.capRails()
	b.capAct()
	b.soil()
	b.under()
	b.measures()
	return b.f
}

// run is one wall seen from above: the rectangle its boards stand on.
type run struct {
	key, name string
	kind      string
	lo, hi    frame.Spot
	grain     frame.Axis
	boards    []string
}

// side indices in box.sides.
const (
	front = iota
	right
	back
	left
)

func (b *box) id(format string, args ...any) string {
	return b.bed.ID + "." + fmt.Sprintf(format, args...)
}

// walls lays the four walls out by the corner scheme and stacks their boards.
func (b *box) walls() {
	t, l, w := b.board.Thickness, b.outLength, b.outWidth
	b.sides = [4]run{
		front: {key: "front", name: "front side", kind: "side", grain: frame.X},
		right: {key: "right", name: "right end", kind: "end", grain: frame.Y},
		back:  {key: "back", name: "back side", kind: "side", grain: frame.X},
		left:  {key: "left", name: "left end", kind: "end", grain: frame.Y},
	}
	s := &b.sides
	switch b.bed.Corners {
	case design.EndsCover:
		s[front].lo, s[front].hi = frame.Spot{U: t}, frame.Spot{U: l - t, V: t}
		s[right].lo, s[right].hi = frame.Spot{U: l - t}, frame.Spot{U: l, V: w}
		s[back].lo, s[back].hi = frame.Spot{U: t, V: w - t}, frame.Spot{U: l - t, V: w}
		s[left].lo, s[left].hi = frame.Spot{}, frame.Spot{U: t, V: w}
	case design.Pinwheel:
		s[front].lo, s[front].hi = frame.Spot{}, frame.Spot{U: l - t, V: t}
		s[right].lo, s[right].hi = frame.Spot{U: l - t}, frame.Spot{U: l, V: w - t}
		s[back].lo, s[back].hi = frame.Spot{U: t, V: w - t}, frame.Spot{U: l, V: w}
		s[left].lo, s[left].hi = frame.Spot{V: t}, frame.Spot{U: t, V: w}
	default:
		s[front].lo, s[front].hi = frame.Spot{}, frame.Spot{U: l, V: t}
		s[right].lo, s[right].hi = frame.Spot{U: l - t, V: t}, frame.Spot{U: l, V: w - t}
		s[back].lo, s[back].hi = frame.Spot{V: w - t}, frame.Spot{U: l, V: w}
		s[left].lo, s[left].hi = frame.Spot{V: t}, frame.Spot{U: t, V: w - t}
	}
	for i := range s {
		for course := 1; course <= b.courses; course++ {
			z := b.lift + b.board.Width*measure.Length(course-1)
			r := &s[i]
			p := b.part(b.board, r.kind, fmt.Sprintf("%s, course %d", r.name, course))
			p.ID = b.id("%s.%d", r.key, course)
			p.Course, p.Grain = course, r.grain
			p.Body = standing(r.lo, r.hi, z, z+b.board.Width, r.grain)
			p.Length = p.Body.To - p.Body.From
			b.f.Parts = append(b.f.Parts, p)
			r.boards = append(r.boards, p.ID)
		}
	}
}

// standing is a board on edge over a rectangle seen from above.
func standing(lo, hi frame.Spot, z0, z1 measure.Length, grain frame.Axis) frame.Prism {
	if grain == frame.X {
		return frame.Box(frame.Point{X: lo.U, Y: lo.V, Z: z0}, frame.Point{X: hi.U, Y: hi.V, Z: z1})
	}
	return frame.Prism{Axis: frame.Y, From: lo.V, To: hi.V, Outline: []frame.Spot{
		{U: lo.U, V: z0}, {U: hi.U, V: z0}, {U: hi.U, V: z1}, {U: lo.U, V: z1},
	}}
}

// part starts a piece of a profile in the bed's timber, or in the timber the
// profile is sold in.
func (b *box) part(p catalog.Profile, kind, role string) frame.Part {
	return frame.Part{
		Role: role, Kind: kind, Bed: b.bed.ID, Profile: p.ID,
		Species: design.SpeciesFor(b.cat, p.ID, b.bed.Species),
		Width:   p.Width, Thickness: p.Thickness, Ends: [2]frame.End{frame.Square, frame.Square},
	}
}

// corner is where an upright stands inside two walls.
type corner struct {
	key, name string
	x, y      measure.Length // its near corner, from above
	sides     [2]int         // the walls it touches
}

// corners lists the four for an upright q square.
func (b *box) corners(q measure.Length) [4]corner {
	t := b.board.Thickness
	x0, x1, y0, y1 := t, b.outLength-t-q, t, b.outWidth-t-q
	return [4]corner{
		{"front-left", "front left", x0, y0, [2]int{front, left}},
		{"front-right", "front right", x1, y0, [2]int{front, right}},
		{"back-right", "back right", x1, y1, [2]int{back, right}},
		{"back-left", "back left", x0, y1, [2]int{back, left}},
	}
}

// limit is the most a planter of some kind takes of a decision, and what to do
// instead.
type limit struct {
	field    string
	is, most measure.Length
	instead  string
}

// within refuses what is over a limit; kind is the planter's.
func within(refuse design.Refuse, p measure.Precision, kind string, limits ...limit) {
	for _, l := range limits {
		if l.is > l.most {
			refuse(l.field, "%s is too much for a %s: up to %s works; %s", p.Feet(l.is), kind, p.Feet(l.most), l.instead)
		}
	}
}

// screwTo joins every board of a side to an upright q square inside it, whose
// near corner is at x, y.
func (b *box) screwTo(side int, upright string, q, x, y measure.Length) {
	r := b.sides[side]
	for i, board := range r.boards {
		at := frame.Point{X: x + q/2, Y: y + q/2, Z: b.lift + b.board.Width*measure.Length(i) + b.board.Width/2}
		switch side {
		case front:
			at.Y = y
		case back:
			at.Y = y + q
		case left:
			at.X = x
		default:
			at.X = x + q
		}
		b.f.Joints = append(b.f.Joints, frame.Joint{
			ID: board + "+" + upright, Kind: frame.FaceToPost, Parts: [2]string{board, upright},
			Through: b.board.Thickness, Into: q, Run: b.board.Width, At: at,
			Load: "the push of the soil on the board",
		})
	}
}

// capRails lays the cap round the rim.
func (b *box) capRails() {
	if b.bed.Cap == design.NoCap {
		return
	}
	wide := b.bed.CapIn + b.board.Thickness + b.bed.CapOut
	o := b.bed.CapOut
	lo := frame.Spot{U: -o, V: -o}
	hi := frame.Spot{U: b.outLength + o, V: b.outWidth + o}
	z0, z1 := b.rim, b.rim+b.cap.Thickness
	mitred := b.bed.Cap == design.Mitred
	in := measure.Length(0) // how far a rail's inner edge is short of its outer one
	if mitred {
		in = wide
	}
	// Long rails run through, or are mitred at 45 degrees.
	outlines := [4][]frame.Spot{
		front: {lo, {U: hi.U, V: lo.V}, {U: hi.U - in, V: lo.V + wide}, {U: lo.U + in, V: lo.V + wide}},
		back:  {{U: lo.U + in, V: hi.V - wide}, {U: hi.U - in, V: hi.V - wide}, hi, {U: lo.U, V: hi.V}},
		left:  {{U: lo.U, V: lo.V + wide - in}, {U: lo.U + wide, V: lo.V + wide}, {U: lo.U + wide, V: hi.V - wide}, {U: lo.U, V: hi.V - wide + in}},
		right: {{U: hi.U - wide, V: lo.V + wide}, {U: hi.U, V: lo.V + wide - in}, {U: hi.U, V: hi.V - wide + in}, {U: hi.U - wide, V: hi.V - wide}},
	}
	var rails []string
	for _, i := range []int{front, back, left, right} {
		r := b.sides[i]
		p := b.part(b.cap, "cap", "cap, "+r.name)
		p.ID, p.Grain, p.Width = b.id("cap.%s", r.key), r.grain, wide
		if mitred {
			p.Ends = [2]frame.End{frame.Mitred, frame.Mitred}
		}
		p.Body = frame.Prism{Axis: frame.Z, From: z0, To: z1, Outline: outlines[i]}
		a, c := p.Body.Bounds()
		p.Length = c.Along(r.grain) - a.Along(r.grain)
		b.f.Parts = append(b.f.Parts, p)
		rails = append(rails, p.ID)
		mid := frame.Point{X: (r.lo.U + r.hi.U) / 2, Y: (r.lo.V + r.hi.V) / 2, Z: z0}
		b.f.Joints = append(b.f.Joints, frame.Joint{
			ID: p.ID + "+" + r.boards[b.courses-1], Kind: frame.CapToWall,
			Parts: [2]string{p.ID, r.boards[b.courses-1]}, Through: b.cap.Thickness, Into: b.board.Width,
			Run: p.Length, At: mid, Load: "someone sitting on it, and keeping the walls in line",
		})
	}
	b.rails = rails
}

// capAct is the act that fixes the cap, where there is one.
func (b *box) capAct() {
	if b.bed.Cap == design.NoCap {
		return
	}
	note := "Screw it down into the middle of the wall's edge; an end board without a pilot hole splits."
	if b.bed.Cap == design.Mitred {
		note = "Cut the mitres to the long points and try all four before screwing: a frame out of square shows here first. " + note
	}
	b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FixCap, Title: "Fix the cap", Where: "on the rim, once the frame is square and in place",
		Parts: b.rails, Note: note})
}

// soil is the room between the walls up to the depth asked for, less the posts
// that stand in it.
func (b *box) soil() {
	t := b.board.Thickness
	lo := frame.Spot{U: t, V: t}
	hi := frame.Spot{U: t + b.inLength, V: t + b.inWidth}
	c := frame.Cavity{ID: b.id("soil"), Bed: b.bed.ID, Bottom: b.floor, Top: b.floor + b.bed.Soil,
		Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}}
	for _, p := range b.f.Parts {
		if p.Course > 0 || p.Kind == "cap" {
			continue
		}
		if in, ok := p.Body.Slice(c.Bottom, c.Top); ok {
			c.Displaced = append(c.Displaced, frame.Displaced{Part: p.ID, Volume: in.Volume()})
		}
	}
	b.f.Cavities = []frame.Cavity{c}
	b.f.Opening = [2]frame.Spot{{U: lo.U + b.overhang, V: lo.V + b.overhang}, {U: hi.U - b.overhang, V: hi.V - b.overhang}}
	b.f.Outside = [2]frame.Spot{{}, {U: b.outLength, V: b.outWidth}}
}

func (b *box) under() {
	if b.bed.Under == "none" || b.f.OnFeet {
		return
	}
	b.f.Sheets = append(b.f.Sheets, frame.Sheet{ID: b.id("under"), Bed: b.bed.ID, Material: b.bed.Under,
		Place: "under the bed", Length: b.outLength, Width: b.outWidth})
}

func (b *box) measures() {
	lo, hi := b.f.Opening[0], b.f.Opening[1]
	t := b.board.Thickness
	top := b.rim
	if b.bed.Cap != design.NoCap {
		top += b.cap.Thickness
	}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	b.f.Measures = []frame.Measure{
		{Name: "planting length", Field: "length", From: at(lo.U, lo.V, top), To: at(hi.U, lo.V, top), Primary: true},
		{Name: "planting width", Field: "width", From: at(lo.U, lo.V, top), To: at(lo.U, hi.V, top), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(b.outLength, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, b.outWidth, 0)},
		{Name: "soil depth", Field: "soil", From: at(t, t, b.floor), To: at(t, t, b.floor+b.bed.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, b.lift), To: at(0, 0, b.rim)},
	}
	if b.bed.Cap != design.NoCap && b.bed.CapOut > 0 {
		a, c := b.f.Bounds()
		b.f.Measures = append(b.f.Measures,
			frame.Measure{Name: "cap length", From: at(a.X, a.Y, top), To: at(c.X, a.Y, top)},
			frame.Measure{Name: "cap width", From: at(a.X, a.Y, top), To: at(a.X, c.Y, top)})
	}
}
