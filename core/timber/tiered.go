package timber

import (
	"fmt"
	"slices"
	"strconv"

	"chamfer/core/addition"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// tieredBox is two or three frames of boards: the lowest on the ground, the next
// across its back, tied to it by straps cut from offcuts. Each tier's clear
// opening is what its caps leave.
//
//	 ________________
//	|  upper tier    |     from above
//	|________________|
//	|  lower tier    |
//	|________________|
//
//	       ____________
//	      |            |   from the end
//	 _____|____________|
//	|   lower  |  tier |
//	|__________________|
var tieredBox = System{
	System: design.System{
		Name: "tiered", Title: "Tiered box",
		About: "two or three heights in one box: deep roots behind, salads in front",
		Examples: []design.Example{{About: "two heights in one box, tied by straps from offcuts, with caps",
			Then: mitredCap}},
		Uses: []string{"grass", "under"},
		Own: []design.Field{
			{Key: "tiers", Label: "Tiers", Stage: design.AtBed, Kind: design.ChoiceField, Default: "2",
				Help: "The tall one goes on the pole side, north in the northern hemisphere, so that it shades the" +
					" path and not the bed.",
				Offers: []design.Choice{{Value: "2", Label: "two"}, {Value: "3", Label: "three"}}},
			{
				Key:     "upper_width",
				Label:   "Planting width of an upper tier",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "16 in",
				Metric:  "400 mm",
				Help:    "Clear, between its caps. The planting width above is the lowest tier's, in front of the next.",
			},
			{
				Key:     "upper_soil",
				Label:   "Soil in an upper tier",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "9 in",
				Metric:  "225 mm",
				Help:    "Above the rim of the tier below; roots go on down into it.",
			},
			{
				Key:     "ties",
				Label:   "Cross ties in a tier",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    6,
				Help:    "auto sets as many as the long sides need.",
			},
		},
		Adds:  []string{"liner", "mesh", "grid", "trellis", "face", "glue", "fence"},
		Makes: makes,
		Start: startTiered,
		Check: checkTiered,
	},
	Build: buildTiered,
}

func startTiered(cat *catalog.Catalog, b *design.Bed) {
	takeThinBoard(cat, b)
	b.Length, b.Width, b.Soil = min(
		b.Length,
		48*measure.Inch,
	), min(
		b.Width,
		16*measure.Inch,
	), min(
		b.Soil,
		9*measure.Inch,
	)
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Length, b.Width, b.Soil = min(b.Length, 1200*mm), min(b.Width, 400*mm), min(b.Soil, 225*mm)
	}
	board, err := cat.Profile(b.Board)
	if rail, e := cat.Profile(b.CapProfile); err == nil &&
		e == nil { // in the middle of thin walls: who sits on it does not pry it off
		b.CapIn = (rail.Width - board.Thickness) / 2
		b.CapOut = rail.Width - board.Thickness - b.CapIn
	}
}

func tierCount(b design.Bed) int {
	n, _ := strconv.Atoi(b.Options["tiers"])
	return max(2, n)
}

func checkTiered(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	within(
		refuse,
		p,
		"tiered box",
		limit{"length", b.Length, 3 * measure.Metre, "two boxes side by side are longer"},
		limit{"width", b.Width, 1300 * measure.Millimetre, "nobody reaches further"},
		limit{"upper_width", b.OptionLength("upper_width"), 1300 * measure.Millimetre, "nobody reaches further"},
		limit{
			"upper_soil",
			b.OptionLength("upper_soil"),
			600 * measure.Millimetre,
			"the walls of a deeper one lean out",
		},
		limit{"soil", b.Soil, 600 * measure.Millimetre, "the walls of a deeper one lean out"},
	)
	stake, err := addition.Stick(cat)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	for i, field := range []string{"upper_width", "width"} {
		l := []measure.Length{b.OptionLength("upper_width"), b.Width}[i]
		if least := 2*stake.Width + betweenPosts; l < least {
			refuse(field, "a tier %s wide holds no corner posts; from %s works", p.Feet(l), p.AtLeast(least))
		}
	}
	if least := 50 * measure.Millimetre; b.OptionLength("upper_soil") < least {
		refuse(
			"upper_soil",
			"%s of soil is no tier; from %s works",
			p.Feet(b.OptionLength("upper_soil")),
			p.AtLeast(least),
		)
	}
	if n, ok := b.OptionCount("ties"); ok {
		if room := int(b.Length / (300 * measure.Millimetre)); n > room {
			refuse("ties", "%d ties leave no room to plant between; up to %d do", n, room)
		}
	}
}

// tierNames by tier, lowest first, for two and for three.
var tierNames = map[int][]string{2: {"lower", "upper"}, 3: {"lower", "middle", "upper"}}

// tierWidths are the outer widths, lowest tier first: each holds its own clear
// strip in front, the overhang of the next tier's cap, and all of the next.
func tierWidths(b design.Bed, board catalog.Profile) []measure.Length {
	in, out := measure.Length(0), measure.Length(0)
	if b.Cap != design.NoCap {
		in, out = b.CapIn, b.CapOut
	}
	n := tierCount(b)
	widths := make([]measure.Length, n)
	upper := b.OptionLength("upper_width")
	widths[n-1] = upper + 2*in + 2*board.Thickness
	for k := n - 2; k >= 0; k-- {
		clear := upper
		if k == 0 {
			clear = b.Width
		}
		widths[k] = board.Thickness + in + clear + out + widths[k+1]
	}
	return widths
}

func buildTiered(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("board: %w", err)
	}
	stake, err := addition.Stick(cat)
	if err != nil {
		return frame.Frame{}, err
	}
	widths := tierWidths(bed, board)
	names := tierNames[len(widths)]
	in := measure.Length(0)
	if bed.Cap != design.NoCap {
		in = bed.CapIn
	}
	var base *box
	var onto frame.Point // where the next tier's near corner stands
	var wholes []tierOf
	for k, w := range widths {
		own := bed
		own.Corners = design.SidesCover
		own.Width = w - 2*board.Thickness - 2*in
		if k > 0 {
			own.Soil = bed.OptionLength("upper_soil")
		}
		b, err := newTier(own, cat, 0, 0, names[k]+"-", names[k]+" ")
		if err != nil {
			return frame.Frame{}, err
		}
		t := &level{box: b, post: stake, onto: onto}
		t.deep = own.Soil
		if k+1 < len(widths) { // this tier's walls, those between, and the top one's soil
			t.next = widths[k+1]
			upper := bed.OptionLength("upper_soil")
			walls := board.Width * measure.Length(coursesFor(upper+bed.Freeboard, board))
			t.deep = b.rim + walls*measure.Length(len(widths)-k-2) + upper
		}
		if err := t.build(k == 0); err != nil {
			return frame.Frame{}, err
		}
		b.f.Move(onto)
		wholes = append(wholes, tierOf{t, onto})
		onto = frame.Point{Y: onto.Y + w - t.next, Z: onto.Z + b.rim}
		if base == nil {
			base = b
			continue
		}
		base.take(b.f)
		wholes[k].brace(base, wholes[:k])
		wholes[k-1].strap(base, wholes[k])
	}
	base.f.Name, base.f.Rim = bed.Name, onto.Z
	base.tieredMeasures(wholes)
	for k := range wholes {
		base.f.Acts = append(base.f.Acts, wholes[k].capActs()...)
	}
	base.under()
	base.bed = bed
	base.key, base.tier = "", ""
	base.f.Tall = "upper tier"
	base.addExtras()
	return base.f, nil
}

// take adds a tier that has been moved into its place.
func (b *box) take(f frame.Frame) {
	b.f.Parts = append(b.f.Parts, f.Parts...)
	b.f.Joints = append(b.f.Joints, f.Joints...)
	b.f.Walls = append(b.f.Walls, f.Walls...)
	b.f.Cavities = append(b.f.Cavities, f.Cavities...)
	b.f.Openings = append(b.f.Openings, f.Openings...)
	b.f.Acts = append(b.f.Acts, f.Acts...)
}

// level is one frame of a tiered box.
type level struct {
	*box
	post catalog.Profile
	next measure.Length // outer width of the tier that stands on its back; 0 on the top one
	onto frame.Point
	deep measure.Length // soil above its foot, where it is deepest
	caps []string
}

// tierOf is a level with where it stands.
type tierOf struct {
	*level
	at frame.Point
}

// build raises a tier where it would stand by itself: walls, corner posts, ties,
// cap and the soil's room.
func (t *level) build(ground bool) error {
	q := t.post.Width
	var posts []string
	for i, c := range t.corners(q) {
		foot := measure.Length(0)
		if i < 2 { // the front ones run down to the ground, inside the tiers below
			foot = -t.onto.Z
		}
		p := t.part(t.post, frame.CornerPost, t.tier+c.name+" corner post")
		p.ID, p.Grain, p.Hidden, p.Length = t.id("post.%s", c.key), frame.Z, true, t.rim-foot
		p.Body = upright(c.x, c.y, q, foot, t.rim)
		p.Fields = []string{"board", "soil"}
		t.f.Parts = append(t.f.Parts, p)
		posts = append(posts, p.ID)
		for _, s := range c.sides {
			t.fixTo(s, p, frame.FaceToPost)
		}
	}
	n, fixed := t.bed.OptionCount("ties")
	if !fixed {
		n = t.tiesNeeded(t.deep)
	}
	ties, supports, err := t.ties(n)
	if err != nil {
		return err
	}
	for i, r := range t.sides {
		w := frame.Wall{
			ID:       t.id("wall.%s", r.key),
			Bed:      t.bed.ID,
			Name:     t.tier + r.name,
			End:      r.grain == frame.Y,
			Boards:   r.boards,
			Soil:     t.deep,
			Supports: []measure.Length{t.board.Thickness + q/2, t.outWidth - t.board.Thickness - q/2},
		}
		if i == front {
			w.Soil = t.bed.Soil
		}
		if i == front || i == back {
			w.Supports, w.Field, w.Support = supports, "ties", frame.CrossTie
		}
		t.f.Walls = append(t.f.Walls, w)
	}
	t.openCap()
	t.room()
	where := "where the bed will stand"
	if !ground {
		where = "beside it, its front posts down inside the tier below, then across the back of the tier below, with" +
			" two people"
	}
	t.f.Acts = append(
		t.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    t.tier + "ends",
			Title: "Make up the ends of the " + t.tier + "tier",
			Where: "on a flat surface",
			Parts: slices.Concat(t.sides[left].boards, t.sides[right].boards, posts),
			Loose: true,
			Note:  "Keep the board ends flush with the outer faces of the posts: the long sides will cover them.",
		},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    t.tier + "sides",
			Title: "Join the ends of the " + t.tier + "tier with its long sides",
			Where: where,
			Parts: slices.Concat(t.sides[front].boards, t.sides[back].boards),
			Again: slices.Concat(t.sides[left].boards, t.sides[right].boards, posts),
		},
	)
	if len(ties) > 0 {
		t.f.Acts = append(
			t.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    t.tier + "cross ties",
				Title: "Fix the cross ties of the " + t.tier + "tier",
				Where: "between the long sides",
				Parts: ties,
			},
		)
	}
	return nil
}

// openCap lays the cap: all round the top tier, and on the others the front and
// the ends as far as the next tier's face.
func (t *level) openCap() {
	if t.next == 0 {
		t.capRails()
		t.caps = t.rails
		return
	}
	if t.bed.Cap == design.NoCap {
		return
	}
	wide, o := t.bed.CapIn+t.board.Thickness+t.bed.CapOut, t.bed.CapOut
	lo, hi := frame.Spot{U: -o, V: -o}, frame.Spot{U: t.outLength + o, V: t.outWidth - t.next}
	in := measure.Length(0)
	if t.bed.Cap == design.Mitred {
		in = wide
	}
	for _, r := range []struct {
		side    int
		outline []frame.Spot
	}{
		{front, []frame.Spot{lo, {U: hi.U, V: lo.V}, {U: hi.U - in, V: lo.V + wide}, {U: lo.U + in, V: lo.V + wide}}},
		{left, []frame.Spot{{U: lo.U, V: lo.V + wide - in}, {U: lo.U + wide, V: lo.V + wide}, {U: lo.U + wide, V: hi.V},
			{U: lo.U, V: hi.V}}},
		{right, []frame.Spot{{U: hi.U - wide, V: lo.V + wide}, {U: hi.U, V: lo.V + wide - in}, {U: hi.U, V: hi.V},
			{U: hi.U - wide, V: hi.V}}},
	} {
		p := t.rail(r.side, r.outline)
		if in > 0 {
			p.Ends[0] = frame.Mitred
			if r.side == front {
				p.Ends[1] = frame.Mitred
			}
		}
		t.f.Parts = append(t.f.Parts, p)
		t.caps = append(t.caps, p.ID)
		t.screwCap(p, r.side)
	}
}

// room is the soil's: in front of the next tier up to the depth asked for, and
// under it as high as this tier's walls.
func (t *level) room() {
	th := t.board.Thickness
	back := t.outWidth - th
	front := back
	if t.next > 0 {
		front = t.outWidth - t.next
	}
	c := frame.Cavity{ID: t.id("soil"), Bed: t.bed.ID, Top: t.bed.Soil, Rim: t.rim,
		Outline: rectangle(frame.Spot{U: th, V: th}, frame.Spot{U: th + t.inLength, V: front})}
	t.f.Cavities = append(t.f.Cavities, t.displaced(c))
	over := measure.Length(0) // of the cap that hangs over the far edge
	if t.bed.Cap != design.NoCap {
		over = t.bed.CapOut
		if t.next == 0 {
			over = t.bed.CapIn
		}
	}
	t.f.Openings = []frame.Opening{{Name: t.tier + "tier", Lo: frame.Spot{U: th + t.overhang, V: th + t.overhang},
		Hi: frame.Spot{U: th + t.inLength - t.overhang, V: front - over}}}
	t.f.Outside = [2]frame.Spot{{}, {U: t.outLength, V: t.outWidth}}
	if t.next > 0 {
		under := frame.Cavity{ID: t.id("soil-under"), Bed: t.bed.ID, Top: t.rim, Rim: t.rim,
			Outline: rectangle(frame.Spot{U: th, V: front}, frame.Spot{U: th + t.inLength, V: back}),
			Free:    []int{0}} // it lies at a slope towards the soil in front
		t.f.Cavities = append(t.f.Cavities, t.displaced(under))
	}
}

// brace fixes the ends of the tiers below to this one's front posts, which run
// down inside them: they halve the ends' spans.
func (t tierOf) brace(b *box, below []tierOf) {
	for _, key := range []string{"front-left", "front-right"} {
		post, _ := b.f.Part(t.id("post.%s", key))
		lo, hi := post.Body.Bounds()
		for _, l := range below {
			for _, side := range []int{left, right} {
				met := false
				for _, id := range l.sides[side].boards {
					board, _ := b.f.Part(id)
					if at, _, ok := contact(board.Body, post.Body); ok {
						met = true
						b.f.Joints = append(
							b.f.Joints,
							frame.Joint{ID: id + "+" + post.ID, Kind: frame.FaceToPost, Parts: [2]string{id, post.ID},
								Through: t.board.Thickness, Into: t.post.Width, Run: t.board.Width, At: at,
								Load: "the push of the soil on the board"},
						)
					}
				}
				for i := range b.f.Walls {
					if w := &b.f.Walls[i]; met && w.ID == l.id("wall.%s", l.sides[side].key) {
						w.Supports = append(slices.Clip(w.Supports), (lo.Y+hi.Y)/2-l.at.Y)
						slices.Sort(w.Supports)
					}
				}
			}
		}
	}
}

// strap ties the tier above to this one, inside the back wall and inside both
// ends, each strap half on either.
func (t tierOf) strap(b *box, up tierOf) {
	th, wide := t.board.Thickness, min(t.board.Width, 6*measure.Inch, t.inLength/4)
	reach := min(t.board.Width, t.rim, up.rim)
	z := up.at.Z
	q := t.post.Width
	var ids []string
	add := func(name string, lo, hi frame.Spot, near, far string) {
		p := t.part(t.board, frame.Strap, up.tier+"tier's strap, "+name)
		p.ID, p.Grain, p.Hidden, p.Length = fmt.Sprintf(
			"%s.%sstrap.%d",
			t.bed.ID,
			up.key,
			len(ids)+1,
		), frame.Z, true, 2*reach
		p.Width = max(hi.U-lo.U, hi.V-lo.V)
		p.Body = frame.Prism{Axis: frame.Z, From: z - reach, To: z + reach, Outline: rectangle(lo, hi)}
		b.f.Parts = append(b.f.Parts, p)
		ids = append(ids, p.ID)
		for _, wall := range []string{near, far} {
			for _, w := range b.f.Walls {
				if w.ID != wall {
					continue
				}
				for _, id := range w.Boards {
					board, _ := b.f.Part(id)
					if at, _, ok := contact(p.Body, board.Body); ok {
						b.f.Joints = append(
							b.f.Joints,
							frame.Joint{ID: p.ID + "+" + id, Kind: frame.FaceToFace, Parts: [2]string{p.ID, id},
								Through: th, Into: th, Run: p.Width, At: at,
								Load: "keeps the upper tier where it stands"},
						)
					}
				}
			}
		}
	}
	back := t.at.Y + t.outWidth - th
	strips := max(2, (t.inLength+1200*measure.Millimetre-1)/(1200*measure.Millimetre)+1)
	for k := measure.Length(1); k <= strips; k++ {
		mid, ok := b.slot(th+t.inLength*k/(strips+1), wide)
		if !ok {
			continue // the straps at the ends hold a box this short
		}
		x := mid - wide/2
		add(
			fmt.Sprintf("back %d", k),
			frame.Spot{U: x, V: back - th},
			frame.Spot{U: x + wide, V: back},
			t.id("wall.back"),
			up.id("wall.back"),
		)
	}
	// At the ends between the upper tier's front post and the next post behind.
	near, far := up.at.Y+th+q, up.at.Y+up.outWidth-th-q
	if up.next > 0 {
		far = up.at.Y + up.outWidth - up.next + th
	}
	if across := min(wide, far-near-2*measure.Millimetre); across >= 20*measure.Millimetre {
		y := (near + far - across) / 2
		add(
			"left end",
			frame.Spot{U: th, V: y},
			frame.Spot{U: 2 * th, V: y + across},
			t.id("wall.left"),
			up.id("wall.left"),
		)
		add(
			"right end",
			frame.Spot{U: t.outLength - 2*th, V: y},
			frame.Spot{U: t.outLength - th, V: y + across},
			t.id("wall.right"),
			up.id("wall.right"),
		)
	}
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    up.tier + "straps",
			Title: "Tie the " + up.tier + "tier to the one below",
			Where: "from inside",
			Parts: ids,
			Note: "Straps are cut from offcuts. Line up the outer faces at the back and at both ends before the" +
				" first screw.",
		},
	)
	for i := range b.f.Cavities {
		b.f.Cavities[i] = b.displaced(b.bare(b.f.Cavities[i]))
	}
}

// capActs fix a tier's cap.
func (t tierOf) capActs() []frame.Act {
	if len(t.caps) == 0 {
		return nil
	}
	note := "Screw it down into the middle of the wall's edge; an end board without a pilot hole splits."
	return []frame.Act{
		{
			Verb:  frame.FixCap,
			Of:    t.tier + "cap",
			Title: "Fix the cap of the " + t.tier + "tier",
			Where: "on its rim, once both tiers are square",
			Parts: t.caps,
			Note:  note,
		},
	}
}

// tieredMeasures are the sizes that are decided, and what they come to.
func (b *box) tieredMeasures(tiers []tierOf) {
	th := b.board.Thickness
	low, top := tiers[0], tiers[len(tiers)-1]
	o, u := b.f.Openings[0], b.f.Openings[len(tiers)-1]
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	rim := b.f.Rim
	b.f.Measures = []frame.Measure{
		{
			Name:    "planting length",
			Field:   "length",
			From:    at(o.Lo.U, o.Lo.V, rim),
			To:      at(o.Hi.U, o.Lo.V, rim),
			Primary: true,
		},
		{
			Name:    "planting width",
			Field:   "width",
			From:    at(o.Lo.U, o.Lo.V, rim),
			To:      at(o.Lo.U, o.Hi.V, rim),
			Primary: true,
		},
		{
			Name:  "planting width of the upper tier",
			Field: "upper_width",
			From:  at(u.Lo.U, u.Lo.V, rim),
			To:    at(u.Lo.U, u.Hi.V, rim),
		},
		{Name: "outside length", From: at(0, 0, 0), To: at(b.outLength, 0, 0)},
		{Name: "outside width", From: at(0, 0, 0), To: at(0, low.outWidth, 0)},
		{Name: "soil depth", Field: "soil", From: at(th, th, 0), To: at(th, th, low.bed.Soil), Primary: true},
		{
			Name:  "soil in the upper tier",
			Field: "upper_soil",
			From:  at(th, th, top.at.Z),
			To:    at(th, th, top.at.Z+top.bed.Soil),
		},
		{Name: "wall height", From: at(0, 0, 0), To: at(0, 0, low.rim)},
		{Name: "height of the top rim", From: at(0, 0, 0), To: at(0, 0, rim)},
	}
	b.f.Outside = [2]frame.Spot{{}, {U: b.outLength, V: low.outWidth}}
}
