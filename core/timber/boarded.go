// Package timber turns a gardener's decisions about a wooden bed into a frame
// of parts, one file a building system. A builder places every piece in space
// and says what is screwed to what; nothing after it needs to know which
// builder it was.
package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// Build builds a bed by its system. The design has passed [design.Check].
func Build(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	switch bed.System {
	case "boarded":
		return Boarded(bed, cat)
	}
	return frame.Frame{}, fmt.Errorf("timber: no builder for system %q", bed.System)
}

// Boarded builds a rectangular frame of boards on edge, screwed from outside
// to posts that stand inside the corners.
//
//	 sides cover ends        ends cover sides         pinwheel
//	==================       |================|      ================|
//	|#              #|       |#              #|      |#              |
//	|                |       |                |      |               |
//	|#              #|       |#              #|      |              #|
//	==================       |================|      |================
//
// Sizes follow from the clear opening outwards: the cap overhangs the inside
// of the wall by CapIn, so the walls stand CapIn outside the opening, and the
// outside is a board's thickness further.
func Boarded(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("boarded: board: %w", err)
	}
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("boarded: post: %w", err)
	}
	species, err := cat.SpeciesOf(bed.Species)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("boarded: %w", err)
	}
	b := &boarded{bed: bed, cat: cat, board: board, post: post, species: species}
	b.inLength, b.inWidth = bed.Length, bed.Width
	if bed.Cap != design.NoCap {
		if b.cap, err = cat.Profile(bed.CapProfile); err != nil {
			return frame.Frame{}, fmt.Errorf("boarded: cap: %w", err)
		}
		b.overhang = bed.CapIn
		b.inLength += 2 * bed.CapIn
		b.inWidth += 2 * bed.CapIn
	}
	b.outLength = b.inLength + 2*board.Thickness
	b.outWidth = b.inWidth + 2*board.Thickness
	b.courses = bed.Courses(board)
	b.tall = board.Width * measure.Length(b.courses)

	b.f = frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: b.tall}
	b.walls()
	b.posts()
	b.capRails()
	b.soil()
	b.under()
	b.measures()
	return b.f, nil
}

type boarded struct {
	bed               design.Bed
	cat               *catalog.Catalog
	board, post, cap  catalog.Profile
	species           catalog.Species
	overhang          measure.Length // of the cap, inwards
	inLength, inWidth measure.Length
	outLength         measure.Length
	outWidth          measure.Length
	courses           int
	tall              measure.Length
	f                 frame.Frame
	sides             [4]run
}

// run is one wall seen from above: the rectangle its boards stand on.
type run struct {
	key, name string
	kind      string
	lo, hi    frame.Spot
	grain     frame.Axis
	boards    []string
}

// side indices in boarded.sides.
const (
	front = iota
	right
	back
	left
)

func (b *boarded) id(format string, args ...any) string {
	return b.bed.ID + "." + fmt.Sprintf(format, args...)
}

// walls lays the four walls out by the corner scheme and stacks their boards.
func (b *boarded) walls() {
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
			z := b.board.Width * measure.Length(course-1)
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
func (b *boarded) part(p catalog.Profile, kind, role string) frame.Part {
	return frame.Part{
		Role: role, Kind: kind, Bed: b.bed.ID, Profile: p.ID,
		Species: design.SpeciesFor(b.cat, p.ID, b.bed.Species),
		Width:   p.Width, Thickness: p.Thickness, Ends: [2]frame.End{frame.Square, frame.Square},
	}
}

// posts stands a post in each corner and the mid posts along the long sides,
// screws every board to every post it touches, and records what each wall
// leans on and the order in which it all goes together.
func (b *boarded) posts() {
	t, q := b.board.Thickness, b.post.Width
	top := b.tall - b.bed.PostBelowRim
	x0, x1 := t, b.outLength-t-q
	y0, y1 := t, b.outWidth-t-q
	foot := -b.bed.PostInGround
	corners := []struct {
		key, name string
		x, y      measure.Length
		sides     [2]int
	}{
		{"front-left", "front left", x0, y0, [2]int{front, left}},
		{"front-right", "front right", x1, y0, [2]int{front, right}},
		{"back-right", "back right", x1, y1, [2]int{back, right}},
		{"back-left", "back left", x0, y1, [2]int{back, left}},
	}
	var ends, mids []string
	for _, c := range corners {
		id := b.stand("post."+c.key, "corner post", c.name+" corner post", c.x, c.y, foot, top)
		ends = append(ends, id)
		for _, s := range c.sides {
			b.screw(s, id, c.x, c.y)
		}
	}
	supports := []measure.Length{x0 + q/2, x1 + q/2}
	n := b.midCount(supports[1] - supports[0])
	for k := 1; k <= n; k++ {
		centre := supports[0] + (supports[len(supports)-1]-supports[0])*measure.Length(k)/measure.Length(n+1)
		for _, m := range []struct {
			side int
			y    measure.Length
		}{{front, y0}, {back, y1}} {
			name := b.sides[m.side].key
			id := b.stand(fmt.Sprintf("mid.%s.%d", name, k), "mid post",
				fmt.Sprintf("mid post %d, %s", k, b.sides[m.side].name), centre-q/2, m.y, -b.bed.MidInGround, top)
			mids = append(mids, id)
			b.screw(m.side, id, centre-q/2, m.y)
		}
	}
	long := make([]measure.Length, 0, n+2)
	for k := 0; k <= n+1; k++ {
		long = append(long, supports[0]+(supports[1]-supports[0])*measure.Length(k)/measure.Length(n+1))
	}
	short := []measure.Length{y0 + q/2, y1 + q/2}
	for i, r := range b.sides {
		w := frame.Wall{ID: b.id("wall.%s", r.key), Bed: b.bed.ID, Name: r.name, Boards: r.boards, Soil: b.bed.Soil}
		if i == front || i == back {
			w.Supports, w.Field = long, "mid_posts"
		} else {
			w.Supports = short
		}
		b.f.Walls = append(b.f.Walls, w)
	}
	b.acts(ends, mids)
}

// midCount is the number asked for, or the fewest that keep the boards
// straight.
func (b *boarded) midCount(between measure.Length) int {
	if n, ok := b.bed.MidCount(); ok {
		return n
	}
	n := strength.MidSupports(strength.Side{
		Thickness: b.board.Thickness, Width: b.board.Width, Soil: b.bed.Soil,
		Species: b.species, Fluid: strength.AtRest,
	}, between)
	room := int((between - b.post.Width) / (b.post.Width + 50*measure.Millimetre))
	return min(n, max(0, room))
}

func (b *boarded) stand(key, kind, role string, x, y, z0, z1 measure.Length) string {
	q := b.post.Width
	p := b.part(b.post, kind, role)
	p.ID = b.id("%s", key)
	p.Grain, p.Hidden, p.Length = frame.Z, true, z1-z0
	p.Body = frame.Prism{Axis: frame.Z, From: z0, To: z1, Outline: []frame.Spot{
		{U: x, V: y}, {U: x + q, V: y}, {U: x + q, V: y + q}, {U: x, V: y + q},
	}}
	b.f.Parts = append(b.f.Parts, p)
	return p.ID
}

// screw joins every board of a side to a post whose near corner is at x, y.
func (b *boarded) screw(side int, post string, x, y measure.Length) {
	r, q := b.sides[side], b.post.Width
	for i, board := range r.boards {
		at := frame.Point{X: x + q/2, Y: y + q/2, Z: b.board.Width*measure.Length(i) + b.board.Width/2}
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
			ID: board + "+" + post, Kind: frame.FaceToPost, Parts: [2]string{board, post},
			Through: b.board.Thickness, Into: q, Run: b.board.Width, At: at,
			Load: "the push of the soil on the board",
		})
	}
}

func (b *boarded) acts(corner, mids []string) {
	side := func(i int) []string { return b.sides[i].boards }
	join := func(lists ...[]string) []string {
		var all []string
		for _, l := range lists {
			all = append(all, l...)
		}
		return all
	}
	b.f.Acts = append(b.f.Acts,
		frame.Act{Verb: frame.MakeUp, Title: "Make up the two ends", Where: "on a flat surface",
			Parts: join(side(left), side(right), corner),
			Note:  b.endNote()},
		frame.Act{Verb: frame.JoinUp, Title: "Join the ends with the long sides", Where: "where the bed will stand, because the finished frame is heavy to carry",
			Parts: join(side(front), side(back)),
			Note:  "Start with the bottom board of each side, one screw in each post, and put in the rest once the frame is square."})
	if len(mids) > 0 {
		b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.SetPost, Title: "Set the mid posts", Where: "inside the long sides",
			Parts: mids,
			Note:  "It is the ground that holds a mid post. Tamp the soil back round it in layers, then screw the boards to it from outside."})
	}
}

func (b *boarded) endNote() string {
	switch b.bed.Corners {
	case design.EndsCover:
		return "Let the end boards stand out past the posts by one board's thickness on both edges: they will cover the sides."
	case design.Pinwheel:
		return "Each end board stands out past one post by a board's thickness, the front end of the left one flush, the front end of the right one past its post: lay both ends out before driving a screw."
	}
	return "Keep the board ends flush with the outer faces of the posts: the long sides will cover them."
}

// capRails lays the cap round the rim.
func (b *boarded) capRails() {
	if b.bed.Cap == design.NoCap {
		return
	}
	wide := b.bed.CapIn + b.board.Thickness + b.bed.CapOut
	o := b.bed.CapOut
	lo := frame.Spot{U: -o, V: -o}
	hi := frame.Spot{U: b.outLength + o, V: b.outWidth + o}
	z0, z1 := b.tall, b.tall+b.cap.Thickness
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
	note := "Screw it down into the middle of the wall's edge; an end board without a pilot hole splits."
	if mitred {
		note = "Cut the mitres to the long points and try all four before screwing: a frame out of square shows here first. " + note
	}
	b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FixCap, Title: "Fix the cap", Where: "on the rim, once the frame is square and in place",
		Parts: rails, Note: note})
}

// soil is the room between the walls up to the depth asked for, less the posts
// that stand in it.
func (b *boarded) soil() {
	t := b.board.Thickness
	lo := frame.Spot{U: t, V: t}
	hi := frame.Spot{U: t + b.inLength, V: t + b.inWidth}
	c := frame.Cavity{ID: b.id("soil"), Bed: b.bed.ID, Top: b.bed.Soil,
		Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}}
	for _, p := range b.f.Parts {
		if p.Grain != frame.Z {
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

func (b *boarded) under() {
	if b.bed.Under == "none" {
		return
	}
	b.f.Sheets = append(b.f.Sheets, frame.Sheet{ID: b.id("under"), Bed: b.bed.ID, Material: b.bed.Under,
		Place: "under the bed", Length: b.outLength, Width: b.outWidth})
}

func (b *boarded) measures() {
	lo, hi := b.f.Opening[0], b.f.Opening[1]
	t := b.board.Thickness
	top := b.tall
	if b.bed.Cap != design.NoCap {
		top += b.cap.Thickness
	}
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	b.f.Measures = []frame.Measure{
		{Name: "planting length", Field: "length", From: at(lo.U, lo.V, top), To: at(hi.U, lo.V, top), Primary: true},
		{Name: "planting width", Field: "width", From: at(lo.U, lo.V, top), To: at(lo.U, hi.V, top), Primary: true},
		{Name: "outside length", From: at(0, 0, 0), To: at(b.outLength, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, b.outWidth, 0)},
		{Name: "soil depth", Field: "soil", From: at(t, t, 0), To: at(t, t, b.bed.Soil), Primary: true},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, b.tall)},
	}
	if b.bed.Cap != design.NoCap && b.bed.CapOut > 0 {
		a, c := b.f.Bounds()
		b.f.Measures = append(b.f.Measures,
			frame.Measure{Name: "cap length", From: at(a.X, a.Y, top), To: at(c.X, a.Y, top)},
			frame.Measure{Name: "cap width", From: at(a.X, a.Y, top), To: at(a.X, c.Y, top)})
	}
	if b.bed.PostInGround > 0 {
		b.f.Measures = append(b.f.Measures, frame.Measure{Name: "posts in the ground", Field: "post_in_ground",
			From: at(t, t, -b.bed.PostInGround), To: at(t, t, 0)})
	}
}
