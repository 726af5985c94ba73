package timber

import (
	"fmt"
	"slices"
	"strings"

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
	carcass
	bed       design.Bed
	cat       *catalog.Catalog
	f         frame.Frame
	sides     [4]run
	rails     []string                   // of the cap
	slope     measure.Length             // how much deeper the soil is where a sloping floor is lowest
	wedges    []frame.Prism              // of soil, below the floor's highest line
	joints    map[int][][]measure.Length // of pieced sides: by side and course
	pieced    []string                   // their pieces
	plates    int
	arms      []arm  // that it is made of, within its walls; nil for one rectangle
	key, tier string // of a tier: "upper-" in its parts' IDs, "upper " in their names
}

// arm is a rectangle of a bed that has several, from above.
type arm struct {
	name   string
	lo, hi frame.Spot
	open   measure.Length // of its edges, where it meets others
}

// carcass is the sizes of a box, reckoned once: its parts follow from it.
type carcass struct {
	board, cap        catalog.Profile
	species           catalog.Species
	overhang          measure.Length // of the cap, inwards
	inLength, inWidth measure.Length
	outLength         measure.Length
	outWidth          measure.Length
	rows              []row          // courses, from the lowest
	lift              measure.Length // of the walls' lower edge above the ground
	floor             measure.Length // of what the soil lies on above the ground
	rim               measure.Length
	between           measure.Length // legs' width, where the boards run between legs
}

// newBox lays out the walls of a bed, its cap and its sheet; what holds it
// together comes from the system, and finish after it.
//
// lift is how far the walls stand above the ground, and floor how far above
// their lower edge the soil lies: both zero for a bed on the ground.
func newBox(bed design.Bed, cat *catalog.Catalog, lift, floor measure.Length) (*box, error) {
	return newTier(bed, cat, lift, floor, "", "")
}

// newTier is a box that is one of several in a bed: its parts carry the tier's
// key and name.
func newTier(bed design.Bed, cat *catalog.Catalog, lift, floor measure.Length, key, name string) (*box, error) {
	return raised(bed, cat, lift, floor, 0, key, name)
}

// newBoxBetween is a box whose boards run between legs q square at its corners,
// outer faces flush; q zero is any other box.
func newBoxBetween(bed design.Bed, cat *catalog.Catalog, lift, floor, q measure.Length) (*box, error) {
	return raised(bed, cat, lift, floor, q, "", "")
}

// raised is a box with its walls.
func raised(
	bed design.Bed, cat *catalog.Catalog, lift, floor, between measure.Length, key, name string,
) (*box, error) {
	c, err := carcassOf(bed, cat, lift, floor, between)
	if err != nil {
		return nil, err
	}
	b := boxOf(c, bed, cat)
	b.key, b.tier = key, name
	b.walls()
	return b, nil
}

// boxOf is a carcass without any parts yet.
func boxOf(c carcass, bed design.Bed, cat *catalog.Catalog) *box {
	return &box{carcass: c, bed: bed, cat: cat,
		f: frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: c.rim, OnFeet: c.lift > 0}}
}

// carcassOf reckons the sizes of a box.
func carcassOf(
	bed design.Bed, cat *catalog.Catalog, lift, floor, between measure.Length,
) (c carcass, err error) {
	if c.board, err = cat.Profile(bed.Board); err != nil {
		return c, fmt.Errorf("board: %w", err)
	}
	if c.species, err = cat.SpeciesOf(bed.Species); err != nil {
		return c, err
	}
	c.inLength, c.inWidth = bed.Length, bed.Width
	if bed.Cap != design.NoCap {
		if c.cap, err = cat.Profile(bed.CapProfile); err != nil {
			return c, fmt.Errorf("cap: %w", err)
		}
		c.overhang = bed.CapIn
		c.inLength += 2 * bed.CapIn
		c.inWidth += 2 * bed.CapIn
	}
	c.outLength = c.inLength + 2*c.board.Thickness
	c.outWidth = c.inWidth + 2*c.board.Thickness
	c.rows = rowsFor(bed, cat, c.board, floor)
	c.lift, c.floor, c.between = lift, lift+floor, between
	c.rim = lift + high(c.rows)
	return c, nil
}

// coursesFor is how many boards, one above the other, reach a height: the
// fewest whose actual widths do.
func coursesFor(tall measure.Length, board catalog.Profile) int {
	return int((tall + board.Width - 1) / board.Width)
}

// finish adds the cap, the soil round what stands in it, the sheet, the
// dimensions and what else has been asked for.
func (b *box) finish() frame.Frame {
	b.capRails()
	b.capAct()
	b.soil()
	b.under()
	b.measures()
	b.addExtras()
	b.saidEach()
	return b.f
}

// run is one wall seen from above: the rectangle its boards stand on.
type run struct {
	key, name string
	kind      frame.PartKind
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
	return b.bed.ID + "." + b.key + fmt.Sprintf(format, args...)
}

// walls lays the four walls out by the corner scheme and stacks their boards.
func (b *box) walls() {
	t, l, w := b.board.Thickness, b.outLength, b.outWidth
	b.sides = [4]run{
		front: {key: "front", name: "front side", kind: frame.SideBoard, grain: frame.X},
		right: {key: "right", name: "right end", kind: frame.EndBoard, grain: frame.Y},
		back:  {key: "back", name: "back side", kind: frame.SideBoard, grain: frame.X},
		left:  {key: "left", name: "left end", kind: frame.EndBoard, grain: frame.Y},
	}
	s := &b.sides
	switch q := b.between; {
	case q > 0:
		s[front].lo, s[front].hi = frame.Spot{U: q}, frame.Spot{U: l - q, V: t}
		s[right].lo, s[right].hi = frame.Spot{U: l - t, V: q}, frame.Spot{U: l, V: w - q}
		s[back].lo, s[back].hi = frame.Spot{U: q, V: w - t}, frame.Spot{U: l - q, V: w}
		s[left].lo, s[left].hi = frame.Spot{V: q}, frame.Spot{U: t, V: w - q}
	case b.bed.Corners == design.EndsCover:
		s[front].lo, s[front].hi = frame.Spot{U: t}, frame.Spot{U: l - t, V: t}
		s[right].lo, s[right].hi = frame.Spot{U: l - t}, frame.Spot{U: l, V: w}
		s[back].lo, s[back].hi = frame.Spot{U: t, V: w - t}, frame.Spot{U: l - t, V: w}
		s[left].lo, s[left].hi = frame.Spot{}, frame.Spot{U: t, V: w}
	case b.bed.Corners == design.Pinwheel:
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
		r := &s[i]
		for course := range len(b.rows) {
			var cuts []measure.Length
			if rows := b.joints[i]; rows != nil {
				cuts = rows[course]
			}
			b.course(r, course+1, cuts)
		}
	}
}

// course lays one course of a wall, in pieces where it is joined at cuts.
func (b *box) course(r *run, course int, cuts []measure.Length) {
	z := b.lift + b.rows[course-1].from
	lo := r.lo
	var ids []string
	for k := 0; k <= len(cuts); k++ {
		hi := r.hi
		p := b.part(b.rows[course-1].board, r.kind, fmt.Sprintf("%s%s, course %d", b.tier, r.name, course))
		p.ID = b.id("%s.%d", r.key, course)
		if len(cuts) > 0 {
			p.ID += string(rune('a' + k%26))
			p.Role += fmt.Sprintf(", piece %d", k+1)
			p.Fields = []string{"longest_piece", "pieced_sides", "board"}
			b.pieced = append(b.pieced, p.ID)
		}
		if k < len(cuts) && r.grain == frame.X {
			hi.U = cuts[k]
		} else if k < len(cuts) {
			hi.V = cuts[k]
		}
		p.Course, p.Grain = course, r.grain
		p.Width = b.wide(course)
		p.Body = standing(lo, hi, z, z+p.Width, r.grain)
		p.Length = p.Body.To - p.Body.From
		b.f.Parts = append(b.f.Parts, p)
		ids = append(ids, p.ID)
		if k < len(cuts) && r.grain == frame.X {
			lo.U = cuts[k]
		} else if k < len(cuts) {
			lo.V = cuts[k]
		}
	}
	r.boards = append(r.boards, ids...)
	b.splice(ids)
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

// fittings is a fitting by its name, if the bed has it.
func (b *box) fittings(name string) []string {
	if slices.ContainsFunc(b.f.Fittings, func(x frame.Fitting) bool { return x.ID == b.id("%s", name) }) {
		return []string{b.id("%s", name)}
	}
	return nil
}

// part starts a piece of a profile in the bed's timber, or in the timber the
// profile is sold in.
func (b *box) part(p catalog.Profile, kind frame.PartKind, role string) frame.Part {
	return frame.Part{
		Role: role, Kind: kind, Bed: b.bed.ID, Profile: p.ID,
		Species: design.SpeciesFor(b.cat, p.ID, b.bed.Species),
		Width:   p.Width, Thickness: p.Thickness, Ends: [2]frame.End{frame.Square, frame.Square},
		Fields: shapedBy[kind],
	}
}

// shapedBy are the decisions that shape a kind of part, for those who take it
// in hand; a bed's system may do without some of them.
var shapedBy = map[frame.PartKind][]string{
	frame.SideBoard: {"length", "board", "species", "corners"}, frame.EndBoard: {"width", "board", "species", "corners"},
	frame.CornerPost: {"post", "post_below_rim", "post_in_ground"}, frame.MidPost: {"mid_posts", "mid_in_ground", "post"},
	frame.Stake: {
		stakeKey,
		"stakes",
		"end_stakes",
		"stake_in_ground",
	}, frame.Tie: {"ties", "cross_ties", "cap_profile"}, frame.TieCleat: {"ties", "cross_ties"},
	frame.CapBoard: {"cap", "cap_profile", "cap_in", "cap_out"}, frame.Leg: {"height", "post", "legs", "feet"},
	frame.Ledger: {
		"beams",
	}, frame.Beam: {"beams"}, frame.Slat: {"gap", "floor", "floor_of", "false_floor"}, frame.Cleat: {"cleats"},
	frame.Strap: {
		"tiers",
	}, frame.Spanner: {"spanners"}, frame.TrellisPart: {"trellis", "trellis_height"}, frame.BenchPart: {"bench",
		"bench_height",
		"bench_depth"},
	frame.Strip: {"grid", "grid_cell"}, frame.Apron: {"apron"}, frame.Block: {"ledger_ends"}, frame.Trim: {"trim"},
}

// put adds a whole piece of a profile where its body is.
func (b *box) put(
	p catalog.Profile,
	kind frame.PartKind,
	role, id string,
	body frame.Prism,
	grain frame.Axis,
) frame.Part {
	part := b.part(p, kind, role)
	part.ID, part.Grain, part.Body = b.id("%s", id), grain, body
	lo, hi := body.Bounds()
	part.Length = hi.Along(grain) - lo.Along(grain)
	b.f.Parts = append(b.f.Parts, part)
	return part
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
			refuse(
				l.field,
				"%s is too much for a %s: up to %s works; %s",
				p.Feet(l.is),
				kind,
				p.AtMost(l.most),
				l.instead,
			)
		}
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
	mitred := b.bed.Cap == design.Mitred
	in := measure.Length(0) // how far a rail's inner edge is short of its outer one
	if mitred {
		in = wide
	}
	// Long rails run through, or are mitred at 45 degrees.
	outlines := [4][]frame.Spot{
		front: {lo, {U: hi.U, V: lo.V}, {U: hi.U - in, V: lo.V + wide}, {U: lo.U + in, V: lo.V + wide}},
		back:  {{U: lo.U + in, V: hi.V - wide}, {U: hi.U - in, V: hi.V - wide}, hi, {U: lo.U, V: hi.V}},
		left: {
			{U: lo.U, V: lo.V + wide - in},
			{U: lo.U + wide, V: lo.V + wide},
			{U: lo.U + wide, V: hi.V - wide},
			{U: lo.U, V: hi.V - wide + in},
		},
		right: {
			{U: hi.U - wide, V: lo.V + wide},
			{U: hi.U, V: lo.V + wide - in},
			{U: hi.U, V: hi.V - wide + in},
			{U: hi.U - wide, V: hi.V - wide},
		},
	}
	var rails []string
	for _, i := range []int{front, back, left, right} {
		p := b.rail(i, outlines[i])
		if mitred {
			p.Ends = [2]frame.End{frame.Mitred, frame.Mitred}
		}
		b.f.Parts = append(b.f.Parts, p)
		rails = append(rails, p.ID)
		b.screwCap(p, i)
	}
	b.rails = rails
}

// rail is one length of cap over a side, with its outline from above.
func (b *box) rail(side int, outline []frame.Spot) frame.Part {
	r := b.sides[side]
	p := b.part(b.cap, frame.CapBoard, b.tier+"cap, "+r.name)
	p.ID, p.Grain, p.Width = b.id("cap.%s", r.key), r.grain, b.bed.CapIn+b.board.Thickness+b.bed.CapOut
	p.Body = frame.Prism{Axis: frame.Z, From: b.rim, To: b.rim + b.cap.Thickness, Outline: outline}
	a, c := p.Body.Bounds()
	p.Length = c.Along(r.grain) - a.Along(r.grain)
	return p
}

// screwCap fixes a rail down into the wall's edge.
func (b *box) screwCap(p frame.Part, side int) {
	r := b.sides[side]
	at := frame.Point{X: (r.lo.U + r.hi.U) / 2, Y: (r.lo.V + r.hi.V) / 2, Z: b.rim}
	top := r.boards[len(r.boards)-1]
	if board, found := b.f.Part(top); found { // it may end before the board does
		if mid, _, ok := contact(p.Body, board.Body); ok {
			at = mid
		}
	}
	b.f.Joints = append(
		b.f.Joints,
		frame.Joint{ID: p.ID + "+" + top, Kind: frame.CapToWall, Parts: [2]string{p.ID, top},
			Through: b.cap.Thickness, Into: b.wide(len(b.rows)), Run: p.Length, At: at,
			Load: "someone sitting on it, and keeping the walls in line"},
	)
}

// capAct is the act that fixes the cap, where there is one.
func (b *box) capAct() {
	if b.bed.Cap == design.NoCap {
		return
	}
	note := "Screw it down into the middle of the wall's edge; an end board without a pilot hole splits."
	if b.bed.Cap == design.Mitred {
		note = "Cut the mitres to the long points and try them all before screwing: a frame out of square shows here" +
			" first. " + note
	}
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.FixCap,
			Of:    "cap",
			Title: "Fix the cap",
			Where: "on the rim, once the frame is square and in place",
			Parts: b.rails,
			Note:  note,
		},
	)
}

// soil is the room between the walls up to the depth asked for, less the posts
// that stand in it.
func (b *box) soil() {
	t := b.board.Thickness
	lo := frame.Spot{U: t, V: t}
	hi := frame.Spot{U: t + b.inLength, V: t + b.inWidth}
	c := frame.Cavity{
		ID:      b.id("soil"),
		Bed:     b.bed.ID,
		Bottom:  b.floor,
		Top:     b.floor - b.slope + b.bed.Soil,
		Rim:     b.rim,
		Outline: rectangle(lo, hi),
		Wedges:  b.wedges,
	}
	b.f.Cavities = append(b.f.Cavities, b.displaced(c))
	b.f.Openings = append(b.f.Openings, frame.Opening{Name: strings.TrimSpace(b.tier),
		Lo: frame.Spot{
			U: lo.U + b.overhang,
			V: lo.V + b.overhang,
		}, Hi: frame.Spot{U: hi.U - b.overhang, V: hi.V - b.overhang}, Rim: b.rim})
	b.f.Outside = [2]frame.Spot{{}, {U: b.outLength, V: b.outWidth}}
}

// rectangle is its outline, anticlockwise.
func rectangle(lo, hi frame.Spot) []frame.Spot {
	return []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}
}

// displaced notes what stands in a cavity. Walls and caps are outside it.
func (b *box) displaced(c frame.Cavity) frame.Cavity {
	for _, p := range b.f.Parts {
		if p.Course > 0 || p.Kind == frame.CapBoard {
			continue
		}
		if v, ok := c.Takes(p.Body, c.Bottom, c.Top); ok {
			c.Displaced = append(c.Displaced, frame.Displaced{Part: p.ID, Volume: v})
		}
	}
	return c
}

func (b *box) under() {
	if b.bed.Under == "none" || b.f.OnFeet {
		return
	}
	b.f.Sheets = append(b.f.Sheets, frame.Sheet{ID: b.id("under"), Bed: b.bed.ID, Material: b.bed.Under,
		Place: "under the bed", Length: b.outLength, Width: b.outWidth})
}

func (b *box) measures() {
	lo, hi := b.f.Openings[0].Lo, b.f.Openings[0].Hi
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
		{
			Name:    "soil depth",
			Field:   "soil",
			From:    at(t, t, b.floor-b.slope),
			To:      at(t, t, b.floor-b.slope+b.bed.Soil),
			Primary: true,
		},
		{Name: "wall height", From: at(0, 0, b.lift), To: at(0, 0, b.rim)},
	}
	if b.bed.Cap != design.NoCap && b.bed.CapOut > 0 {
		a, c := b.f.Bounds()
		b.f.Measures = append(b.f.Measures,
			frame.Measure{Name: "cap length", From: at(a.X, a.Y, top), To: at(c.X, a.Y, top)},
			frame.Measure{Name: "cap width", From: at(a.X, a.Y, top), To: at(a.X, c.Y, top)})
	}
}
