package addition

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// fence is posts round a bed with net between them and a gate in front, against deer and what
// hops. It keeps a path of its own inside, and stands in the ground, not on the bed.
//
//	o---------o---------o
//	|    _________      |
//	|   |  bed    |     |
//	|   |_________|     |
//	o-----o  gate o-----o
var fence = design.Extra{Name: "fence", Fields: []design.Field{
	{
		Key:     "fence",
		Does:    []design.Deed{{For: design.StandsTall, Value: design.NotThere, Words: "no fence"}},
		Label:   "Fence round it",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: design.NotThere,
		Help:    "Deer look for a place to land: what they cannot see into they do not jump into.",
		Offers:  orNone("", design.Choice{Value: "net", Label: "posts and net", Note: "against deer, rabbits and hens"}),
	},
	{
		Key:     "fence_high",
		Does:    []design.Deed{{For: design.SetsTall}},
		Label:   "Fence above the ground",
		Stage:   design.AtFrame,
		Kind:    design.LengthField,
		Default: "7 ft",
		Metric:  "2100 mm",
		Help:    "7 to 8 ft (2.1 to 2.4 m) keeps deer out, 3 ft (900 mm) rabbits and hens (common practice).",
	},
	{
		Key:     "fence_off",
		Label:   "Path between bed and fence",
		Stage:   design.AtFrame,
		Kind:    design.LengthField,
		Default: "30 in",
		Metric:  "750 mm",
		Help:    "Room to kneel and turn; deer do not reach over it.",
	},
	{
		Key:     "skirt",
		Label:   "Mesh turned out at its foot",
		Stage:   design.AtFrame,
		Kind:    design.LengthField,
		Default: "0 in",
		Metric:  "0 mm",
		Help: "What digs begins at the fence: 6 to 12 in (150 to 300 mm) lying outwards stops rabbits and" +
			" badgers (common practice). 0 is none.",
	},
	{Key: "gate", Label: "Gate", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "person",
		Offers: []design.Choice{
			{Value: "person", Label: "for a person", Note: "3 ft (900 mm)"},
			{Value: "barrow", Label: "for a barrow", Note: "4 ft (1200 mm)"},
			{Value: "lifted", Label: "none: the net is lifted off", Note: "cheapest; a nuisance every day"},
		}},
}, Check: checkFence}

// postsApart is as far as net hangs without sagging: 8 ft, 2.4 m (common practice).
const postsApart = 2400 * measure.Millimetre

func gateWide(b design.Bed, cat *catalog.Catalog) measure.Length {
	switch b.Options["gate"] {
	case "person":
		return cat.Told(36*measure.Inch, 900*measure.Millimetre)
	case "barrow":
		return cat.Told(48*measure.Inch, 1200*measure.Millimetre)
	}
	return 0
}

func checkFence(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	net, err := cat.Fitting("net")
	if err != nil {
		refuse("fence", "%v", err)
		return
	}
	if h := b.OptionLength("fence_high"); h < 600*measure.Millimetre || h > net.Height {
		refuse("fence_high", "%s is no height for it: net is sold %s high, and from %s to that works", p.Feet(h),
			p.Feet(net.Height), p.AtLeast(600*measure.Millimetre))
	}
	off := b.OptionLength("fence_off")
	if off < 300*measure.Millimetre || off > 3*measure.Metre {
		refuse("fence_off", "from %s to %s works: nearer nobody gets round the bed", p.AtLeast(300*measure.Millimetre),
			p.AtMost(3*measure.Metre))
	}
	if wide := gateWide(b, cat); b.Length+2*off < wide+600*measure.Millimetre {
		refuse("gate", "a gate of %s does not fit into a front of %s: a narrower one works, or more path", p.Feet(wide),
			p.Feet(b.Length+2*off))
	}
	if out := b.OptionLength("skirt"); out != 0 && out < 100*measure.Millimetre || out > 600*measure.Millimetre {
		refuse("skirt", "0 is none; from %s to %s works: wider is in the way of the mower", p.AtLeast(100*measure.Millimetre),
			p.AtMost(600*measure.Millimetre))
	}
	checkPosts(b, cat, "fence", "fence_high", refuse)
}

// buildFence sets posts at the corners, at the gate and between, hangs net on them, and makes
// up the gate.
func buildFence(s *site) {
	post, err := postOf(s.cat)
	stick, err2 := Stick(s.cat)
	if err != nil || err2 != nil {
		return // Check has refused it
	}
	q, head, off := post.Width, s.bed.OptionLength("fence_high"), s.bed.OptionLength("fence_off")
	lo, hi := s.reach()
	lo = frame.Spot{U: lo.U - off - q, V: lo.V - off - q}
	hi = frame.Spot{U: hi.U + off, V: hi.V + off} // of the far posts' near faces
	wide := gateWide(s.bed, s.cat)
	left, right := (lo.U+hi.U+q)/2-wide/2-q, (lo.U+hi.U+q)/2+wide/2
	if wide == 0 {
		left, right = lo.U, hi.U
	}
	apart := measure.Length(0)
	var at []frame.Spot
	row := func(a, b frame.Spot) { // from a, without the post at b
		long := measure.Hypot(b.U-a.U, b.V-a.V)
		n := max(1, (long+postsApart-1)/postsApart)
		apart = max(apart, long/n)
		for k := range n {
			at = append(at, frame.Spot{U: a.U + (b.U-a.U)*k/n, V: a.V + (b.V-a.V)*k/n})
		}
	}
	if wide > 0 {
		row(frame.Spot{U: right, V: lo.V}, frame.Spot{U: hi.U, V: lo.V})
	} else {
		row(lo, frame.Spot{U: hi.U, V: lo.V})
	}
	row(frame.Spot{U: hi.U, V: lo.V}, hi)
	row(hi, frame.Spot{U: lo.U, V: hi.V})
	row(frame.Spot{U: lo.U, V: hi.V}, lo)
	if wide > 0 {
		row(lo, frame.Spot{U: left, V: lo.V})
		at = append(at, frame.Spot{U: left, V: lo.V})
	}
	push := strength.Gusts * strength.NetSolid * apart.Metres() * head.Metres()
	deep := s.rooted(post, push, head/2, head)
	var set []string
	for k, c := range at {
		p := s.put(post, frame.FencePost, fmt.Sprintf("fence post %d", k+1), fmt.Sprintf("fence.%d", k+1),
			upright(c.U, c.V, q, -deep, head), frame.Z, "fence", "fence_high", "fence_off")
		p.Ends = [2]frame.End{frame.Square, frame.Square}
		set = append(set, p.ID)
	}
	run := 2*(hi.U-lo.U+hi.V-lo.V) - wide
	line := []frame.Point{}
	for _, c := range []frame.Spot{{U: right, V: lo.V}, {U: hi.U + q, V: lo.V}, {U: hi.U + q, V: hi.V + q},
		{U: lo.U, V: hi.V + q},
		lo, {U: left + q, V: lo.V}} {
		line = append(line, frame.Point{X: c.U, Y: c.V, Z: head})
	}
	foot := make([]frame.Point, len(line))
	for i, c := range line {
		foot[i] = frame.Point{X: c.X, Y: c.Y}
	}
	p := s.cat.Precision(s.cat.Habits)
	uprights := len(at)
	if wide > 0 {
		uprights += 2 // the gate's stiles
	}
	staples := uprights * int((head+staplesApart-1)/staplesApart)
	s.f.Fittings = append(s.f.Fittings,
		frame.Fitting{ID: s.id("net"), Bed: s.bed.ID, Kind: "net", Place: "round the outside of the posts", Count: 1,
			Each: run + wide, Lines: [][]frame.Point{line, foot},
			Why: fmt.Sprintf("%s round the posts, and %s on the gate", p.Feet(run), p.Feet(wide))},
		frame.Fitting{ID: s.id("net-staples"), Bed: s.bed.ID, Kind: "fence-staple",
			Place: "the net on its posts and the gate",
			Count: staples,
			Why:   fmt.Sprintf("one every 6 in (150 mm) up each of %s", measure.Count(uprights, "upright"))})
	s.skirt(run + wide)
	s.f.Tall, s.f.TallBy = "fence", "fence"
	s.f.Acts = append(s.f.Acts,
		frame.Act{Verb: frame.SetPost, Of: "fence posts", Title: "Set the fence posts", Where: "round the bed and its path",
			Parts: set, Soil: frame.AnyTime,
			Note: fmt.Sprintf("Corners first, a string between them, then the rest to the string. Holes %s deep:"+
				" what is dug out goes back a hand at a time and is rammed. Find out what runs in the ground before you dig.",
				p.Feet(deep))},
		frame.Act{Verb: frame.FitOut, Of: "net", Title: "Hang the net", Where: "outside the posts",
			After: []string{"set post fence posts"},
			Fits:  []string{s.id("net"), s.id("net-staples")}, Note: "From a corner round to the gate, tight by hand, a staple" +
				" every hand. Lay the last hand's width outwards on the ground and weigh it down: what digs begins at the fence." +
				" Hang strips of cloth in it for the first weeks, so that birds and deer see it."})
	if wide > 0 {
		s.gate(stick, set[len(set)-1], left+q, right, lo.V, q, head)
	}
}

// reach is the rectangle that all of the bed stands on, what stands beside its walls with it.
func (s *site) reach() (lo, hi frame.Spot) {
	lo, hi = s.f.Outside[0], s.f.Outside[1]
	if len(s.f.Parts)+len(s.f.Units) == 0 {
		return lo, hi
	}
	a, b := s.f.Bounds()
	return frame.Spot{U: min(lo.U, a.X), V: min(lo.V, a.Y)}, frame.Spot{U: max(hi.U, b.X), V: max(hi.V, b.Y)}
}

// staplesApart is how close net is stapled to a post.
const staplesApart = 150 * measure.Millimetre

// hingeLeaf is how thick a hinge's leaf is: an eighth of an inch, 3 mm (common practice).
const hingeLeaf = 3 * measure.Millimetre

// gate is a leaf of stiles and rails lapped over one another with a wire from its upper hinge to
// the foot of its other side, which keeps it from sagging.
func (s *site) gate(stick catalog.Profile, hung string, from, to, y, q, head measure.Length) {
	gap, t := 10*measure.Millimetre, stick.Thickness
	a, b := from, to-gap // the hinges let it stand close to its post
	foot := 50 * measure.Millimetre
	var parts []string
	add := func(role, id string, lo, hi frame.Point, grain frame.Axis) frame.Part {
		p := s.put(stick, frame.GatePart, role, id, frame.Box(lo, hi), grain, "fence", "gate", "fence_high")
		parts = append(parts, p.ID)
		return p
	}
	front := y + q/2 - t // rails before stiles, both within the posts' depth
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	var stiles []frame.Part
	for k, x := range []measure.Length{a, b - stick.Width} {
		stiles = append(stiles, add(fmt.Sprintf("gate stile %d", k+1), fmt.Sprintf("gate.stile.%d", k+1),
			at(x, front+t, foot), at(x+stick.Width, front+2*t, head), frame.Z))
	}
	for k, z := range []measure.Length{foot, (foot + head - stick.Width) / 2, head - stick.Width} {
		rail := add(fmt.Sprintf("gate rail %d", k+1), fmt.Sprintf("gate.rail.%d", k+1), at(a, front, z),
			at(b, front+t, z+stick.Width), frame.X)
		for _, stile := range stiles {
			lo, hi := stile.Body.Bounds()
			s.f.Joints = append(s.f.Joints, frame.Joint{ID: rail.ID + "+" + stile.ID, Kind: frame.FaceToFace,
				Parts: [2]string{rail.ID, stile.ID}, Through: t, Into: t, Run: stick.Width,
				At: at((lo.X+hi.X)/2, front+t, z+stick.Width/2)})
		}
	}
	s.f.Joints = append(s.f.Joints, frame.Joint{ID: stiles[0].ID + "+" + hung, Kind: frame.PlateOn,
		Parts: [2]string{stiles[0].ID, hung}, Through: hingeLeaf, Into: q, Run: head - foot, Said: 6,
		At: at(a, y+q/2, (foot+head)/2), Load: "the gate"})
	brace := measure.Hypot(b-a, head-foot)
	p := s.cat.Precision(s.cat.Habits)
	s.f.Fittings = append(s.f.Fittings,
		frame.Fitting{ID: s.id("gate-brace"), Bed: s.bed.ID, Kind: "wire",
			Place: "across the gate, doubled and twisted tight",
			Count: 1, Each: 2 * brace, Why: "twice " + p.Feet(brace) + " from corner to corner",
			Lines: [][]frame.Point{{at(a, front, head), at(b, front, foot)}}},
		frame.Fitting{ID: s.id("gate-hinges"), Bed: s.bed.ID, Kind: "hinge", Place: "gate to its post", Count: 2, Screws: 3,
			Into: t, Why: "two, a hand from its top and its foot; three screws in either leaf"},
		frame.Fitting{ID: s.id("gate-latch"), Bed: s.bed.ID, Kind: "latch", Place: "gate to its other post", Count: 1,
			Screws: 4,
			Into:   t, Why: "one, at elbow height"})
	s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.FitOut, Of: "gate", Title: "Make up and hang the gate",
		Where: "flat on the ground first, then between its posts", Parts: parts,
		Fits: []string{s.id("gate-brace"), s.id("gate-hinges"), s.id("gate-latch")},
		Note: "Rails over stiles, square by its diagonals. The wire goes from the upper hinge down to the far foot: twisted" +
			" with a stick it lifts that corner. Net on, a board's thickness under it while the hinges are screwed on."})
}

// skirtUp is how far the mesh of a skirt goes up the net, skirtPegs how far apart it is pegged down: a hand and a
// foot (common practice).
const skirtUp, skirtPegs = 150 * measure.Millimetre, 300 * measure.Millimetre

// skirt lays mesh outwards on the ground at the foot of a fence so long, wired to its net and pegged down at its
// outer edge.
func (s *site) skirt(run measure.Length) {
	out := s.bed.OptionLength("skirt")
	if out == 0 {
		return
	}
	n := int((run + skirtPegs - 1) / skirtPegs)
	s.f.Fittings = append(s.f.Fittings,
		frame.Fitting{ID: s.id("skirt-pegs"), Bed: s.bed.ID, Kind: "peg", Place: "the outer edge of the skirt", Count: n,
			Why: "one every foot (300 mm) along its outer edge"},
		frame.Fitting{ID: s.id("skirt-wire"), Bed: s.bed.ID, Kind: "wire", Place: "the skirt to the net", Count: 1,
			Each: run * 3 / 2, Why: "half as much again as the fence is long, wound through every hand"})
	s.f.Sheets = append(s.f.Sheets, frame.Sheet{ID: s.id("skirt"), Bed: s.bed.ID, Material: "mesh", Outside: true,
		After: "fit out net",
		Place: "outwards on the ground round the fence, and a hand up the net", Along: true, Length: run,
		Width: out + skirtUp, Up: skirtUp, Fits: []string{s.id("skirt-pegs"), s.id("skirt-wire")}})
}
