package timber

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// angledBed is a bed of arms that meet at right angles, of boards screwed to posts: an arm
// along the back and one forward from it (an L), two (a U), or one from its middle (a T).
//
//	======================     ======================     ======================
//	|#                  #|     |#                  #|     |#                  #|
//	|   =================|     |   ============   # |     =======        =======
//	|   |#                     |   |#        #|   # |          #|      |#
//	|#  |                      |#  |          |  #  |           |      |
//	=====                      =====          =======           ========
//
// Every board covers the end of the next one at an outer corner and stops at the inner face
// there at an inner one, where the next begins beyond it. A post stands inside each outer
// corner; at an inner corner the one place where a post touches both walls is outside, and
// both are pressed on it.
var angledBed = System{
	System: stacked(design.System{
		Name: "angled", Title: "Angled bed", About: "an L, a U or a T: round a corner, or arms to reach in from",
		Examples: []design.Example{{About: "an L of two arms at a right angle, boards on posts, with a mitred cap",
			Sized: sizedAngled, Then: mitredCap}},
		Uses: []string{"grass", "under", "post", "post_below_rim", "post_in_ground", "mid_posts", "mid_in_ground"},
		Names: map[string]string{"length": "Planting length, all over", "width": "Planting width, all over",
			"mid_posts": "Mid posts, the longest side"},
		Own: []design.Field{
			{Key: shapeKey, Label: "Shape", Stage: design.AtBed, Kind: design.ChoiceField, Default: shapeL,
				Help: "As you stand before it: one arm lies along the back, the others come forward from it.",
				Offers: []design.Choice{
					{Value: shapeL, Label: "L", Note: "round a corner of the garden"},
					{Value: shapeU, Label: "U", Note: "you stand in the middle and reach all of it"},
					{Value: shapeT, Label: "T", Note: "one arm forward from the middle"}}},
			{Key: armKey, Label: "Arms, inside", Stage: design.AtBed, Kind: design.LengthField, Default: "24 in",
				Metric: "600 mm", Help: "How wide every arm is to plant in. From both sides an arm reaches half of it."},
		},
		Start:   startAngled,
		Planted: plantedAngled,
		Adds:    []string{"liner", "mesh", "grid", "trellis", "hoops", "fence"},
		Makes:   []string{"mesh"},
		Check:   checkAngled,
	}, onTheGround),
	Build: buildAngled,
}

const (
	shapeKey = "shape"
	armKey   = "arm"

	shapeL = "l"
	shapeU = "u"
	shapeT = "t"
)

// leastArm is how far an arm has to reach past another to be one, and leastCourt how wide
// the way into a U is: one stands and kneels there. (Common practice: 300 and 450 mm, 12 and
// 18 in.)
const (
	leastArm   = 12 * measure.Inch
	leastCourt = 18 * measure.Inch
)

func sizedAngled(c *catalog.Catalog, b *design.Bed) {
	b.Length, b.Width = c.Told(8*measure.Foot, 2400*measure.Millimetre), c.Told(6*measure.Foot, 1800*measure.Millimetre)
}

// plantedAngled is what the arms enclose: the one along the back, and those forward from it.
func plantedAngled(b design.Bed) float64 {
	arm := float64(b.OptionLength(armKey))
	return arm * (float64(b.Length) + (float64(b.Width)-arm)*float64(len(forward(b))))
}

// startAngled makes a bed large enough for two arms, in narrower ones where it is small: three
// squares as wide as an arm make the smallest L.
func startAngled(cat *catalog.Catalog, b *design.Bed) {
	step := cat.Told(measure.Inch, 25*measure.Millimetre)
	arm := measure.Length(math.Sqrt(float64(b.Length)*float64(b.Width)/3)) / step * step
	arm = max(min(arm, b.OptionLength(armKey)), cat.Told(12*measure.Inch, 300*measure.Millimetre))
	b.Options[armKey] = arm.String()
	least := arm + cat.Told(2*measure.Foot, 600*measure.Millimetre)
	b.Length, b.Width = max(b.Length, least), max(b.Width, least)
}

// forward are the arms that come forward from the one along the back, by where each begins,
// from the left.
func forward(b design.Bed) []measure.Length {
	arm := b.OptionLength(armKey)
	switch b.Options[shapeKey] {
	case shapeU:
		return []measure.Length{0, b.Length - arm}
	case shapeT:
		return []measure.Length{(b.Length - arm) / 2}
	}
	return []measure.Length{0}
}

func checkAngled(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	arm := b.OptionLength(armKey)
	board, _ := cat.Profile(b.Board)
	post, _ := cat.Profile(b.Post)
	overhang := measure.Length(0)
	if b.Cap != design.NoCap {
		overhang = b.CapIn
	}
	if most := board.Width / 2; b.PostBelowRim > most {
		refuse("post_below_rim", "%s would leave the top board with nothing to be screwed to; up to %s works",
			p.Feet(b.PostBelowRim), p.AtMost(most))
	}
	if least := 2*post.Width + betweenPosts - 2*overhang; arm < max(least, 100*measure.Millimetre) {
		refuse(armKey, "two %s posts do not fit across an arm of %s; from %s works", post.Name, p.Feet(arm),
			p.AtLeast(max(least, 100*measure.Millimetre)))
		return
	}
	past := max(leastArm, 2*overhang+2*board.Thickness+post.Width+betweenPosts)
	if least := arm + past; b.Width < least {
		refuse("width", "arms %s wide are arms from %s on; or narrower ones", p.Feet(arm), p.AtLeast(least))
	}
	least := arm + past
	switch b.Options[shapeKey] {
	case shapeU:
		least = 2*arm + max(leastCourt, past+post.Width+betweenPosts)
	case shapeT:
		least = arm + 2*past
	}
	if b.Length < least {
		refuse("length", "arms %s wide leave no room between or beside them; from %s works, or narrower arms",
			p.Feet(arm), p.AtLeast(least))
		return
	}
	if n, ok := b.MidCount(); ok {
		long := max(b.Length, b.Width) + 2*overhang
		if room := max(0, int((long-2*post.Width)/(post.Width+betweenPosts))); n > room {
			refuse("mid_posts", "%d posts do not fit along %s; up to %d do", n, p.Feet(long), room)
		}
	}
}

// side of an outline: from one corner to the next, with the soil on its left.
type side struct {
	run
	from, to frame.Spot // on the wall's inner face
	out      frame.Spot // one step outwards
	inner    [2]bool    // whether it begins, and ends, at an inner corner
}

// angled is the arms' walls, laid out from the clear outline outwards.
type angled struct {
	*box
	post  catalog.Profile
	clear []frame.Spot // the outline to plant in
	sides []side
}

func buildAngled(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	post, err := cat.Profile(bed.Post)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("post: %w", err)
	}
	c, err := carcassOf(bed, cat, 0, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	b := &angled{box: boxOf(c, bed, cat), post: post}
	b.layOut()
	b.stack()
	b.posts()
	b.cover()
	b.room()
	b.sizes()
	b.addExtras()
	b.saidEach()
	return b.f, nil
}

// layOut finds the outline and its sides, in order round the bed, anticlockwise from the
// front left.
func (b *angled) layOut() {
	l, w, arm := b.bed.Length, b.bed.Width, b.bed.OptionLength(armKey)
	back := w - arm // where the arm along the back begins
	type named struct {
		at        frame.Spot
		key, name string // of the side that begins here
	}
	var at []named
	arms := forward(b.bed)
	switch b.bed.Options[shapeKey] {
	case shapeU:
		x := arms[1]
		at = []named{
			{frame.Spot{}, "left-end", "end of the left arm"},
			{frame.Spot{U: arm}, "left-inner", "inner side of the left arm"},
			{frame.Spot{U: arm, V: back}, "back-inner", "inner side of the back arm"},
			{frame.Spot{U: x, V: back}, "right-inner", "inner side of the right arm"},
			{frame.Spot{U: x}, "right-end", "end of the right arm"},
			{frame.Spot{U: l}, "right", "right side"}, {frame.Spot{U: l, V: w}, "back", "back side"},
			{frame.Spot{V: w}, "left", "left side"}}
	case shapeT:
		x := arms[0]
		at = []named{
			{frame.Spot{V: back}, "front-left", "front of the back arm, left"},
			{frame.Spot{U: x, V: back}, "stem-left", "left side of the front arm"},
			{frame.Spot{U: x}, "stem-end", "end of the front arm"},
			{frame.Spot{U: x + arm}, "stem-right", "right side of the front arm"},
			{frame.Spot{U: x + arm, V: back}, "front-right", "front of the back arm, right"},
			{frame.Spot{U: l, V: back}, "right", "right end of the back arm"},
			{frame.Spot{U: l, V: w}, "back", "back side"}, {frame.Spot{V: w}, "left", "left end of the back arm"}}
	default:
		at = []named{
			{frame.Spot{}, "left-end", "end of the left arm"},
			{frame.Spot{U: arm}, "left-inner", "inner side of the left arm"},
			{frame.Spot{U: arm, V: back}, "back-inner", "inner side of the back arm"},
			{frame.Spot{U: l, V: back}, "right", "end of the back arm"},
			{frame.Spot{U: l, V: w}, "back", "back side"}, {frame.Spot{V: w}, "left", "left side"}}
	}
	in := b.overhang + b.board.Thickness
	for _, a := range at {
		b.clear = append(b.clear, frame.Spot{U: a.at.U + in, V: a.at.V + in})
	}
	wall := grown(b.clear, b.overhang)
	for i, a := range at {
		s := side{run: run{key: a.key, name: a.name, kind: frame.SideBoard, grain: frame.X}, from: wall[i],
			to: wall[(i+1)%len(wall)]}
		if s.from.U == s.to.U {
			s.grain, s.kind = frame.Y, frame.EndBoard
		}
		s.out = outwards(s.from, s.to)
		s.inner = [2]bool{turnsIn(wall, i), turnsIn(wall, (i+1)%len(wall))}
		b.sides = append(b.sides, s)
	}
}

// outwards is the step across a side away from the soil on its left.
func outwards(from, to frame.Spot) frame.Spot {
	unit := func(l measure.Length) measure.Length {
		switch {
		case l > 0:
			return 1
		case l < 0:
			return -1
		}
		return 0
	}
	return frame.Spot{U: unit(to.V - from.V), V: -unit(to.U - from.U)}
}

// turnsIn reports whether an outline turns to the right at a corner.
func turnsIn(o []frame.Spot, i int) bool {
	a, c := o[(i+len(o)-1)%len(o)], o[(i+1)%len(o)]
	before, after := outwards(a, o[i]), outwards(o[i], c)
	return before.U*after.V-before.V*after.U < 0
}

// grown is an outline of right angles, moved outwards all round.
func grown(o []frame.Spot, d measure.Length) []frame.Spot {
	out := make([]frame.Spot, len(o))
	for i, s := range o {
		a, c := outwards(o[(i+len(o)-1)%len(o)], s), outwards(s, o[(i+1)%len(o)])
		out[i] = frame.Spot{U: s.U + d*(a.U+c.U), V: s.V + d*(a.V+c.V)}
	}
	return out
}

// strip is what lies along a side outside a line, so wide: it runs on over the next one's end
// at an outer corner, and begins beyond the one before at an inner one.
func (s side) strip(from, to frame.Spot, wide measure.Length) (lo, hi frame.Spot) {
	along := frame.Spot{U: -s.out.V, V: s.out.U} // from its beginning to its end
	if s.inner[0] {
		from = frame.Spot{U: from.U + wide*along.U, V: from.V + wide*along.V}
	}
	if !s.inner[1] {
		to = frame.Spot{U: to.U + wide*along.U, V: to.V + wide*along.V}
	}
	far := frame.Spot{U: to.U + wide*s.out.U, V: to.V + wide*s.out.V}
	return frame.Spot{U: min(from.U, far.U), V: min(from.V, far.V)}, frame.Spot{U: max(from.U, far.U),
		V: max(from.V, far.V)}
}

// stack lays the boards of every side, course by course.
func (b *angled) stack() {
	for i := range b.sides {
		s := &b.sides[i]
		s.lo, s.hi = s.strip(s.from, s.to, b.board.Thickness)
		for course := range b.rows {
			b.course(&s.run, course+1, nil)
		}
	}
	for i := range b.f.Parts {
		p := &b.f.Parts[i]
		p.Fields = []string{"length", armKey, "board", "species"}
		if p.Grain == frame.Y {
			p.Fields[0] = "width"
		}
	}
}

// posts stands a post at every corner and along every side, and screws the boards to it.
func (b *angled) posts() {
	q, t := b.post.Width, b.board.Thickness
	top := b.rim - b.bed.PostBelowRim
	longest := measure.Length(0)
	for _, s := range b.sides {
		longest = max(longest, s.long())
	}
	supports := make([][]measure.Length, len(b.sides))
	var corners, mids []string
	for i, s := range b.sides { // the corner where it begins
		before := b.sides[(i+len(b.sides)-1)%len(b.sides)]
		step := measure.Length(-1) // inwards of both
		start, where, kind := measure.Length(0), "corner post", "post"
		if s.inner[0] {
			step, start, where, kind = 1, t, "post outside the inner corner", "inner"
		}
		out := frame.Spot{U: s.out.U + before.out.U, V: s.out.V + before.out.V}
		near := frame.Spot{U: s.from.U + step*start*out.U, V: s.from.V + step*start*out.V}
		far := frame.Spot{U: s.from.U + step*(start+q)*out.U, V: s.from.V + step*(start+q)*out.V}
		x, y := min(near.U, far.U), min(near.V, far.V)
		id := b.stand(fmt.Sprintf("%s.%d", kind, len(corners)+1), frame.CornerPost,
			fmt.Sprintf("%s, %s and %s", where, before.name, s.name), x, y, -b.bed.PostInGround, top)
		corners = append(corners, id.ID)
		for _, k := range []int{(i + len(b.sides) - 1) % len(b.sides), i} {
			b.fixRun(b.sides[k].run, id, frame.FaceToPost)
			supports[k] = append(supports[k], alongOf(b.sides[k].grain, x, y)+q/2)
		}
	}
	for i, s := range b.sides {
		slices.Sort(supports[i])
		first, last := supports[i][0], supports[i][1]
		n := b.mids(s, last-first, longest)
		for k := 1; k <= n; k++ {
			at := first + (last-first)*measure.Length(k)/measure.Length(n+1)
			x, y := at-q/2, at-q/2
			if s.grain == frame.X {
				y = min(s.from.V, s.from.V-q*s.out.V)
			} else {
				x = min(s.from.U, s.from.U-q*s.out.U)
			}
			id := b.stand(fmt.Sprintf("mid.%s.%d", s.key, k), frame.MidPost, fmt.Sprintf("mid post %d, %s", k, s.name),
				x, y, -b.bed.MidInGround, top)
			mids = append(mids, id.ID)
			b.fixRun(s.run, id, frame.FaceToPost)
			supports[i] = append(supports[i], at)
		}
		slices.Sort(supports[i])
		b.f.Walls = append(b.f.Walls, frame.Wall{ID: b.id("wall.%s", s.key), Bed: b.bed.ID, Name: s.name,
			End: s.grain == frame.Y, Boards: s.boards, Supports: supports[i], Soil: b.bed.Soil, Field: "mid_posts",
			Support: frame.MidPost, Ground: "mid_in_ground"})
	}
	b.acts(corners, mids)
}

// long is how long a side is along the wall's inner face.
func (s side) long() measure.Length {
	return max(s.from.U-s.to.U, s.to.U-s.from.U) + max(s.from.V-s.to.V, s.to.V-s.from.V)
}

func alongOf(grain frame.Axis, x, y measure.Length) measure.Length {
	if grain == frame.X {
		return x
	}
	return y
}

// mids is how many posts stand between a side's corners: as many as keep its boards straight,
// or no further apart than those that were asked for along the longest side.
func (b *angled) mids(s side, between, longest measure.Length) int {
	room := max(0, int((between-b.post.Width)/(b.post.Width+betweenPosts)))
	if n, ok := b.bed.MidCount(); ok {
		if n == 0 {
			return 0
		}
		apart := longest / measure.Length(n+1)
		return min(room, int((s.long()-1)/apart))
	}
	return min(room, strength.MidSupports(strength.Side{Thickness: b.board.Thickness, Width: b.wide(1),
		Soil: b.bed.Soil, Species: b.species, Fluid: strength.Giving}, between))
}

// stand sets a post.
func (b *angled) stand(key string, kind frame.PartKind, role string, x, y, z0, z1 measure.Length) frame.Part {
	p := b.put(b.post, kind, role, key, upright(x, y, b.post.Width, z0, z1), frame.Z)
	b.f.Parts[len(b.f.Parts)-1].Hidden = true
	return p
}

// acts puts it together where it stands: nobody lifts a bed with arms.
func (b *angled) acts(corners, mids []string) {
	var boards []string
	for _, s := range b.sides {
		boards = append(boards, s.boards...)
	}
	b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.JoinUp, Of: "sides", Title: "Screw the sides to the corner posts",
		Where: "where the bed will stand, arm by arm", Parts: slices.Concat(corners, boards),
		Note: "Begin at an inner corner: its post stands outside, in the angle, and both walls press on it. Bottom" +
			" boards first, one screw in each post; the rest once all corners are square."})
	if len(mids) > 0 {
		b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.SetPost, Of: "mid posts", Title: "Set the mid posts",
			Where: "inside the sides", Parts: mids,
			Note: "It is the ground that holds a mid post. Tamp the soil back round it in layers, then screw the boards" +
				" to it from outside."})
	}
}

// cover lays the cap along every side: mitred at all corners, or each over the end of the
// next, as the boards are.
func (b *angled) cover() {
	if b.bed.Cap == design.NoCap {
		return
	}
	wide := b.bed.CapIn + b.board.Thickness + b.bed.CapOut
	outer := grown(b.clear, wide)
	n := len(b.clear)
	for i, s := range b.sides {
		p := b.part(b.cap, frame.CapBoard, "cap, "+s.name)
		p.ID, p.Grain, p.Width = b.id("cap.%s", s.key), s.grain, wide
		j := (i + 1) % n
		outline := []frame.Spot{outer[i], outer[j], b.clear[j], b.clear[i]}
		if b.bed.Cap == design.Mitred {
			p.Ends, p.Skewed = [2]frame.End{frame.Mitred, frame.Mitred}, s.inner[0] != s.inner[1]
		} else {
			lo, hi := s.strip(b.clear[i], b.clear[j], wide)
			outline = rectangle(lo, hi)
		}
		p.Body = frame.Prism{Axis: frame.Z, From: b.rim, To: b.rim + b.cap.Thickness, Outline: outline}
		lo, hi := p.Body.Bounds()
		p.Length = hi.Along(s.grain) - lo.Along(s.grain)
		b.f.Parts = append(b.f.Parts, p)
		b.rails = append(b.rails, p.ID)
		top := s.boards[len(s.boards)-1]
		b.f.Joints = append(b.f.Joints, frame.Joint{ID: p.ID + "+" + top, Kind: frame.CapToWall,
			Parts: [2]string{p.ID, top}, Through: b.cap.Thickness, Into: b.wide(len(b.rows)), Run: p.Length,
			At:   frame.Point{X: (s.lo.U + s.hi.U) / 2, Y: (s.lo.V + s.hi.V) / 2, Z: b.rim},
			Load: "someone sitting on it, and keeping the walls in line"})
	}
	b.capAct()
	if b.bed.Cap == design.Mitred {
		b.f.Acts[len(b.f.Acts)-1].Note += " At an inner corner the long point is on the soil's side: mark each rail" +
			" in place."
	}
}

// room is the soil, the way it is planted and what lies below.
func (b *angled) room() {
	wall := grown(b.clear, b.overhang)
	wide := b.bed.OptionLength(armKey) + 2*b.overhang
	for i, block := range b.blocks(b.overhang) {
		a := arm{name: b.armName(i), lo: block[0], hi: block[2], open: wide}
		if i == 0 {
			a.open *= measure.Length(len(forward(b.bed)))
		}
		b.arms = append(b.arms, a)
	}
	c := frame.Cavity{ID: b.id("soil"), Bed: b.bed.ID, Top: b.bed.Soil, Rim: b.rim, Outline: wall,
		Pieces: b.blocks(b.overhang)}
	b.f.Cavities = append(b.f.Cavities, b.displaced(c))
	in := b.overhang + b.board.Thickness
	b.f.Openings = append(b.f.Openings, frame.Opening{Lo: frame.Spot{U: in, V: in},
		Hi: frame.Spot{U: in + b.bed.Length, V: in + b.bed.Width}, Rim: b.rim, Round: b.clear})
	b.f.Outside = [2]frame.Spot{{}, {U: b.outLength, V: b.outWidth}}
	b.f.Outline = grown(b.clear, in)
	b.reached()
	if b.bed.Under == "none" {
		return
	}
	lap := measure.Length(0)
	for i, block := range b.blocks(in) {
		b.f.Sheets = append(b.f.Sheets, frame.Sheet{ID: b.id("under.%d", i+1), Bed: b.bed.ID, Material: b.bed.Under,
			Place: "under " + b.armName(i), Length: block[2].U - block[0].U, Width: block[2].V - block[0].V + lap})
		lap = armLap // of those that come forward
	}
}

// armLap is how far the sheet under one arm goes in under the other's: 150 mm, 6 in, as strips
// lap (common practice).
const armLap = 6 * measure.Inch

// blocks are the arms from above, moved outwards: the one along the back, then those that
// come forward from it.
func (b *angled) blocks(d measure.Length) [][]frame.Spot {
	in, arm := b.overhang+b.board.Thickness, b.bed.OptionLength(armKey)
	l, w := b.bed.Length, b.bed.Width
	list := [][]frame.Spot{rectangle(frame.Spot{U: in - d, V: in + w - arm - d}, frame.Spot{U: in + l + d, V: in + w + d})}
	for _, x := range forward(b.bed) {
		list = append(list, rectangle(frame.Spot{U: in + x - d, V: in - d},
			frame.Spot{U: in + x + arm + d, V: in + w - arm - d}))
	}
	return list
}

func (b *angled) armName(i int) string {
	switch {
	case i == 0:
		return "the back arm"
	case b.bed.Options[shapeKey] == shapeT:
		return "the front arm"
	case i == 1:
		return "the left arm"
	}
	return "the right arm"
}

// reached says how far the furthest plant is. From both sides it is where arms meet: the
// middle of the largest circle that touches the outer walls and the inner corners, 0.586 of
// an arm where two meet and 0.625 where three do. From within the angle alone it is the outer
// corner, or the back wall where three meet: the diagonal of an arm, or of half of one.
// (Geometry; [frame.Frame.Deepest].)
func (b *angled) reached() {
	three := b.bed.Options[shapeKey] == shapeT
	per := math.Sqrt2
	switch {
	case three && b.bed.Access.FromOne():
		per = math.Sqrt(5) / 2
	case three:
		per = 0.625
	case !b.bed.Access.FromOne():
		per = math.Sqrt2 / (1 + math.Sqrt2)
	}
	b.f.Deepest = measure.Length(float64(b.bed.OptionLength(armKey)) * per)
	b.f.DeepestBy, b.f.DeepestPer = armKey, 1/per
}

// sizes are the dimensions worth reading.
func (b *angled) sizes() {
	arm := b.bed.OptionLength(armKey)
	b.measures()
	for i := range b.f.Measures {
		if m := &b.f.Measures[i]; m.Field == "length" { // along the back, where it is as long
			m.From.Y, m.To.Y = m.From.Y+b.bed.Width, m.To.Y+b.bed.Width
		}
	}
	at := b.clear[0]
	if b.bed.Options[shapeKey] == shapeT {
		at = b.clear[2]
	}
	b.f.Measures = append(b.f.Measures, frame.Measure{Name: "arm", Field: armKey, Primary: true,
		From: frame.Point{X: at.U, Y: at.V, Z: b.rim}, To: frame.Point{X: at.U + arm, Y: at.V, Z: b.rim}})
	if b.bed.PostInGround > 0 {
		t := b.board.Thickness
		x, y := b.clear[0].U-b.overhang, b.clear[0].V-b.overhang
		b.f.Measures = append(b.f.Measures, frame.Measure{Name: "posts in the ground", Field: "post_in_ground",
			From: frame.Point{X: max(x, t), Y: y, Z: -b.bed.PostInGround}, To: frame.Point{X: max(x, t), Y: y}})
	}
}
