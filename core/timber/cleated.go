package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// cleatedBox is four panels of fence boards, each held together by cleats
// inside, then joined into a box: batches of equal beds, made flat on a bench.
//
//	=====================
//	|#[]     []      []#|    [] cleats of the long panels
//	|#                 #|    #  cleats of the ends
//	|#[]     []      []#|
//	=====================
var cleatedBox = System{
	System: stacked(design.System{
		Name: "cleated", Title: "Cleated panels", About: "fence boards on cleats, made flat, in batches",
		Examples: []design.Example{{About: "panels of fence boards on ripped cleats, with a ripped rim border"}},
		Uses:     []string{"grass", "under"},
		Own: []design.Field{
			{
				Key:     "cleats",
				Label:   "Cleats between the ends, each long side",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    12,
				Help:    "auto sets one at mid length, or as many as the boards need if ties hold them.",
			},
			{Key: "ears", Label: "Dog ears", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "trimmed",
				Help: "Pickets come with the corners of one end cut off.",
				Offers: []design.Choice{
					{Value: "trimmed", Label: "trimmed off", Note: "clean corners, a little less length"},
					{Value: "kept", Label: "left showing", Note: "the whole picket is used"}}},
			{Key: "ties", Label: "Cross ties", Stage: design.AtFrame, Kind: design.NumberField, Default: design.Auto, Most: 6,
				Help: "A cleat stiffens a panel but holds nothing back: auto sets as many ties as the sides need."},
		},
		Adds:      []string{"liner", "mesh", "grid", "trellis", "hoops", "arch", "bench", "face", "glue", "fence"},
		Makes:     makes,
		RippedCap: true,
		Start:     startCleated,
		Check:     checkCleated,
	}, onTheGround),
	Build: buildCleated,
}

// The rim border stands out evenly on both sides by about 1/2 in (12 mm)
// (common practice).
func startCleated(cat *catalog.Catalog, b *design.Bed) {
	takeThinBoard(cat, b)
	if cat.Sold("picket", b.Species) {
		b.Board = "picket"
	}
	b.Cap, b.CapProfile = design.Butted, b.Board
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Length, b.Width, b.Soil = min(b.Length, 1800*mm), min(b.Width, 600*mm), min(b.Soil, 250*mm)
		b.CapIn, b.CapOut = 12*mm, 12*mm
		return
	}
	b.Length, b.Width, b.Soil = min(
		b.Length,
		66*measure.Inch,
	), min(
		b.Width,
		24*measure.Inch,
	), min(
		b.Soil,
		10*measure.Inch,
	)
	b.CapIn, b.CapOut = measure.Inch/2, measure.Inch/2
}

func checkCleated(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	if most := 30 * measure.Millimetre; board.Thickness > most {
		refuse(
			"board",
			"cleats are for thin boards; %s needs none and makes a plain box or a boarded frame",
			board.Name,
		)
	}
	c, err := cleatOf(cat, b.Species)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	if least := 2*(c.thick+c.wide) + betweenPosts; b.Width < least {
		refuse("width", "the cleats in the corners leave no room; from %s works", p.AtLeast(least))
	}
	if n, ok := b.OptionCount("cleats"); ok {
		if room := int(b.Length/(c.wide+betweenPosts)) - 2; n > room {
			refuse("cleats", "%d cleats do not fit along %s; up to %d do", n, p.Feet(b.Length), max(0, room))
		}
	}
	if n, ok := b.OptionCount("ties"); ok {
		if room := int(b.Length / (300 * measure.Millimetre)); n > room {
			refuse("ties", "%d ties leave no room to plant between; up to %d do", n, room)
		}
	}
}

// cleat is what cleats are ripped to: half of the narrowest thick board.
type cleat struct {
	profile     catalog.Profile
	thick, wide measure.Length
}

func cleatOf(cat *catalog.Catalog, species string) (cleat, error) {
	p, err := railFor(cat, species)
	if err != nil {
		return cleat{}, err
	}
	return cleat{p, p.Thickness, (p.Width - cat.Habits.Kerf) / 2}, nil
}

func buildCleated(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	c, err := cleatOf(cat, bed.Species)
	if err != nil {
		return frame.Frame{}, err
	}
	bed.Corners = design.SidesCover
	x, err := newBox(bed, cat, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	b := &cleated{box: x, cleat: c}
	ties, supports := b.panels()
	b.tiedWalls(supports, b.board.Thickness+c.thick/2)
	var all []string
	for i, r := range b.sides {
		panel := slices.Concat(r.boards, b.on[i])
		all = append(all, panel...)
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    r.name,
				Title: "Make up the panel of the " + r.name,
				Where: "flat on the bench, face up",
				Parts: panel,
				Loose: true,
				Note: "Push the boards tight together, square the panel by its diagonals, and screw the boards down" +
					" onto the cleats; a bead of outdoor glue as well makes it stiffer.",
			},
		)
	}
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "panels",
			Title: "Join the panels",
			Where: "where the bed will stand",
			Again: all,
			Note:  "Screw through the end boards into the edges of the long panels' cleats.",
		},
	)
	if len(ties) > 0 {
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    "cross ties",
				Title: "Fix the cross ties",
				Where: "between the long sides, before the soil goes in",
				Parts: ties,
			},
		)
	}
	return b.finish(), nil
}

// cleated is a box of panels.
type cleated struct {
	*box
	cleat cleat
	on    [4][]string // cleats by side
}

// panels cleats every side and joins them, and sets the ties.
func (b *cleated) panels() (ties []string, supports []measure.Length) {
	t, c := b.board.Thickness, b.cleat
	if b.bed.Options["ears"] == "kept" {
		for i := range b.f.Parts {
			b.f.Parts[i].Eared = true
		}
	}
	for i := range b.sides {
		if b.sides[i].grain == frame.X {
			y := t
			if i == back {
				y = b.outWidth - t - c.thick
			}
			at := []measure.Length{t, b.outLength - t - c.wide}
			for k, n := 1, b.mids(); k <= n; k++ {
				at = append(at, t+(b.inLength-c.wide)*measure.Length(k)/measure.Length(n+1))
			}
			for k, x := range at {
				b.put(i, k, frame.Spot{U: x, V: y}, frame.Spot{U: x + c.wide, V: y + c.thick})
			}
			continue
		}
		x := t
		if i == right {
			x = b.outLength - t - c.thick
		}
		// The long panels' cleats stand in the corners; these beside them.
		for k, y := range []measure.Length{t + c.thick, b.outWidth - t - c.thick - c.wide} {
			b.put(i, k, frame.Spot{U: x, V: y}, frame.Spot{U: x + c.thick, V: y + c.wide})
		}
	}
	// Corners: the ends' boards into the edges of the long panels' cleats.
	for _, side := range []int{left, right} {
		for _, long := range []int{front, back} {
			for _, id := range b.on[long] {
				p, _ := b.f.Part(id)
				for _, end := range b.sides[side].boards {
					board, _ := b.f.Part(end)
					if at, _, ok := contact(board.Body, p.Body); ok {
						b.f.Joints = append(
							b.f.Joints,
							frame.Joint{ID: end + "+" + id, Kind: frame.FaceToPost, Parts: [2]string{end, id},
								Through: t, Into: c.wide, Run: board.Width, At: at,
								Load: "the push of the soil on the corner"},
						)
					}
				}
			}
		}
	}
	n, fixed := b.bed.OptionCount("ties")
	if !fixed {
		n = b.tiesNeeded(b.bed.Soil)
	}
	supports = []measure.Length{t / 2}
	for k := 1; k <= n; k++ {
		x, ok := b.slot(b.outLength*measure.Length(k)/measure.Length(n+1), c.profile.Thickness)
		if !ok {
			continue
		}
		supports = append(supports, x)
		ties = append(ties, b.tie(c.profile, k, x)...)
	}
	return ties, append(supports, b.outLength-t/2)
}

// mids is how many cleats a long panel has between its ends.
func (b *cleated) mids() int {
	if n, ok := b.bed.OptionCount("cleats"); ok {
		return n
	}
	n := 1
	for b.inLength/measure.Length(n+1) > 4*measure.Foot && n < 12 {
		n++
	}
	return n
}

// put stands a cleat inside a panel and screws it to every board.
func (b *cleated) put(side, k int, lo, hi frame.Spot) {
	p := b.part(b.cleat.profile, frame.Cleat, fmt.Sprintf("cleat %d, %s", k+1, b.sides[side].name))
	p.ID, p.Grain, p.Hidden, p.Length, p.Width = b.id(
		"cleat.%s.%d",
		b.sides[side].key,
		k+1,
	), frame.Z, true, b.rim, b.cleat.wide
	p.Body = frame.Prism{Axis: frame.Z, From: 0, To: b.rim, Outline: rectangle(lo, hi)}
	b.f.Parts = append(b.f.Parts, p)
	b.on[side] = append(b.on[side], p.ID)
	for _, id := range b.sides[side].boards {
		board, _ := b.f.Part(id)
		at, _, _ := contact(board.Body, p.Body)
		b.f.Joints = append(
			b.f.Joints,
			frame.Joint{ID: p.ID + "+" + id, Kind: frame.FaceToFace, Parts: [2]string{id, p.ID},
				Through: b.board.Thickness, Into: b.cleat.thick, Run: board.Width, At: at,
				Load: "holds the panel's boards together"},
		)
	}
}
