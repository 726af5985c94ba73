package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// floored is a box on legs, with a floor of slats across the width. The slats
// lie on ledgers along the walls and, in a wide bed, on beams between the end
// ledgers.
//
//	inside the corners    outside the sides    part of the wall
//	 ________________      #______________#     #______________#
//	|#              #|     |              |     |              |
//	|                |     |              |     |              |
type floored struct {
	*box
	leg, rail catalog.Profile // rail: ledgers and beams, on edge
	legsAt    string          // legsInside, legsOutside or legsInWall
	casters   measure.Length  // height of what the legs stand on
	ledgerY   [2]string       // along the long sides: front, back
	ledgerX   [2]string       // along the ends: left, right
	beams     []string
	field     string // the decision that adds beams, if there is one
	slat      catalog.Profile
}

// Where legs stand to the walls.
const (
	legsInside  = "inside"
	legsOutside = "outside"
	legsInWall  = "wall"
)

func (f *floored) build(beams int) {
	f.legs()
	f.ledgers()
	f.carry(beams)
	f.railActs()
	f.blocks()
	f.slats()
}

// intrude is how far a leg stands into the room between the walls.
func (f *floored) intrude() measure.Length {
	switch f.legsAt {
	case legsOutside:
		return 0
	case legsInWall:
		return max(0, f.leg.Width-f.board.Thickness)
	}
	return f.leg.Width
}

func (f *floored) legs() {
	t, q := f.board.Thickness, f.leg.Width
	var legs []string
	places := f.corners(q)
	for i := range places {
		c := &places[i]
		switch f.legsAt {
		case legsOutside: // against the long sides' faces, at their ends
			c.x, c.y = edge(c.x > f.outLength/2, 0, f.outLength-q), edge(c.y > f.outWidth/2, -q, f.outWidth)
		case legsInWall:
			c.x, c.y = edge(c.x > f.outLength/2, 0, f.outLength-q), edge(c.y > f.outWidth/2, 0, f.outWidth-q)
		}
		p := f.part(f.leg, frame.Leg, c.name+" leg")
		p.ID, p.Grain, p.Hidden = f.id("leg.%d", len(legs)+1), frame.Z, f.legsAt == legsInside
		p.Body = upright(c.x, c.y, q, f.casters, f.rim)
		p.Length = f.rim - f.casters
		f.f.Parts = append(f.f.Parts, p)
		legs = append(legs, p.ID)
		for _, side := range c.sides {
			switch {
			case f.legsAt == legsInWall:
				f.pocket(side, p)
			case f.legsAt == legsInside || f.sides[side].grain == frame.X:
				from := len(f.f.Joints)
				f.fixTo(side, p, frame.FaceToPost)
				for k := from; k < len(f.f.Joints) && f.legsAt == legsOutside; k++ {
					f.f.Joints[k].At.X = f.clearOfEnd(f.f.Joints[k].At.X)
				}
			}
		}
	}
	if f.legsAt == legsOutside {
		f.butts(frame.FaceToEnd)
		legs = append(legs, f.midLegs()...)
	}
	for i, r := range f.sides {
		far := f.outLength
		if r.grain == frame.Y {
			far = f.outWidth
		}
		at := t + q/2
		switch {
		case f.legsAt == legsInWall:
			at = q / 2
		case f.legsAt == legsOutside && r.grain == frame.X:
			at = q / 2
		case f.legsAt == legsOutside:
			at = t / 2
		}
		f.f.Walls = append(
			f.f.Walls,
			frame.Wall{
				ID:       f.id("wall.%s", f.sides[i].key),
				Bed:      f.bed.ID,
				Name:     r.name,
				End:      r.grain == frame.Y,
				Boards:   r.boards,
				Soil:     f.bed.Soil,
				Supports: []measure.Length{at, far - at},
			},
		)
	}
	long := slices.Concat(f.sides[front].boards, f.sides[back].boards)
	short := slices.Concat(f.sides[left].boards, f.sides[right].boards)
	note := "The legs stand out below the boards: those are the feet. Lay the rim edges against a straight board, so" +
		" that they end level."
	if f.legsAt == legsInWall {
		note = "Drill the pocket holes in the boards' inner faces only, or they show outside. " + note
	}
	if f.legsAt == legsOutside { // they cover the screws of the corners
		f.f.Acts = append(
			f.f.Acts,
			frame.Act{
				Verb:  frame.JoinUp,
				Of:    "ends",
				Title: "Join the sides with the ends",
				Where: "on a flat surface, the rim below",
				Parts: slices.Concat(long, short),
				Over:  true,
			},
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    "legs",
				Title: "Screw the legs on",
				Where: "outside the long sides, feet in the air",
				Parts: legs,
				Over:  true,
				Note:  "From inside, through the boards. Turn it over with two people and stand it on its feet.",
			},
		)
		return
	}
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "sides",
			Title: "Make up the two long sides",
			Where: "on a flat surface",
			Parts: slices.Concat(long, legs),
			Loose: true,
			Note:  note,
		},
		frame.Act{
			Verb:  frame.JoinUp,
			Of:    "ends",
			Title: "Join the sides with the ends",
			Where: "standing on the feet",
			Parts: short,
			Again: slices.Concat(long, legs),
		},
	)
}

// clearOfEnd is where across a leg outside the walls its screws are reached from inside, past the end board that meets
// the side there: over the middle of what of the leg that leaves.
func (f *floored) clearOfEnd(x measure.Length) measure.Length {
	t, q := f.board.Thickness, f.leg.Width
	switch {
	case x < q:
		return (t + q) / 2
	case x > f.outLength-q:
		return f.outLength - (t+q)/2
	}
	return x
}

func edge(far bool, near, at measure.Length) measure.Length {
	if far {
		return at
	}
	return near
}

// upright is a square piece on end, its near corner at x, y.
func upright(x, y, q, z0, z1 measure.Length) frame.Prism {
	return frame.Prism{
		Axis:    frame.Z,
		From:    z0,
		To:      z1,
		Outline: rectangle(frame.Spot{U: x, V: y}, frame.Spot{U: x + q, V: y + q}),
	}
}

// pocket joins the ends of a side's boards to a leg they butt against.
func (f *floored) pocket(side int, leg frame.Part) {
	for _, id := range f.sides[side].boards {
		board, _ := f.f.Part(id)
		at, run, ok := contact(board.Body, leg.Body)
		if !ok {
			continue
		}
		f.f.Joints = append(
			f.f.Joints,
			frame.Joint{ID: id + "+" + leg.ID, Kind: frame.PocketEnd, Parts: [2]string{id, leg.ID},
				Through: f.board.Thickness, Into: f.board.Thickness, Run: run, At: at,
				Load: "the push of the soil on the board"},
		)
	}
}

// ledger places one along a wall between the legs, level with the boards' lower
// edge, and screws the lowest board to it.
func (f *floored) ledger(side int, name string) string {
	t, g, thick := f.board.Thickness, f.intrude(), f.rail.Thickness
	r := f.sides[side]
	clear := max(g, thick) // of the other ledgers, where no leg keeps them apart
	lo := frame.Spot{U: t + g, V: t}
	hi := frame.Spot{U: f.outLength - t - g, V: t + thick}
	switch side {
	case back:
		lo.V, hi.V = f.outWidth-t-thick, f.outWidth-t
	case left:
		lo, hi = frame.Spot{U: t, V: t + clear}, frame.Spot{U: t + thick, V: f.outWidth - t - clear}
	case right:
		lo, hi = frame.Spot{
			U: f.outLength - t - thick,
			V: t + clear,
		}, frame.Spot{
			U: f.outLength - t,
			V: f.outWidth - t - clear,
		}
	}
	p := f.part(f.rail, frame.Ledger, "ledger, "+name)
	p.ID, p.Grain, p.Hidden = f.id("ledger.%s", r.key), r.grain, true
	p.Body = standing(lo, hi, f.lift, f.lift+f.rail.Width, r.grain)
	p.Length = p.Body.To - p.Body.From
	f.f.Parts = append(f.f.Parts, p)
	pair, through, into := [2]string{r.boards[0], p.ID}, t, thick
	if thick < t { // from inside: the screw goes through the thinner piece
		pair, through, into = [2]string{p.ID, r.boards[0]}, thick, t
	}
	board, _ := f.f.Part(r.boards[0])
	at, _, _ := contact(board.Body, p.Body)
	f.f.Joints = append(f.f.Joints, frame.Joint{ID: r.boards[0] + "+" + p.ID, Kind: frame.WallLedger, Parts: pair,
		Through: through, Into: into, Run: p.Length, At: at, Load: "half the floor and the wet soil on it"})
	return p.ID
}

func (f *floored) ledgers() {
	f.ledgerY = [2]string{f.ledger(front, "front side"), f.ledger(back, "back side")}
	f.ledgerX = [2]string{f.ledger(left, "left end"), f.ledger(right, "right end")}
}

// ledgerNote goes with every act that fixes what carries the soil.
const ledgerNote = "They carry all the soil: a screw about every 6 in (150 mm), through the thinner piece into the" +
	" thicker."

// railActs fixes ledgers and beams: with beams, the end ledgers and the beams
// are made up first, because their screws come from behind.
func (f *floored) railActs() {
	ledgers := []string{f.ledgerY[0], f.ledgerY[1], f.ledgerX[0], f.ledgerX[1]}
	if len(f.beams) > 0 {
		first, which := f.ledgerX, "end"
		ledgers = ledgers[:2]
		if f.across() {
			first, which, ledgers = f.ledgerY, "side", []string{f.ledgerX[0], f.ledgerX[1]}
		}
		f.f.Acts = append(
			f.f.Acts,
			frame.Act{
				Verb:  frame.MakeUp,
				Of:    which + " ledgers",
				Title: "Make up the " + which + " ledgers and the beams",
				Where: "on a flat surface, then into the box",
				Parts: append([]string{first[0], first[1]}, f.beams...),
				AsOne: true,
				Note: "The beams' screws come from behind the " + which + " ledgers, so this frame is made before" +
					" it goes in. " + ledgerNote,
			},
		)
	}
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "ledgers",
			Title: "Fix the ledgers",
			Where: "inside, level with the boards' lower edges",
			Parts: ledgers,
			Note:  ledgerNote,
		},
	)
}

// across reports whether beams run from side to side, and slats lengthwise.
func (f *floored) across() bool { return f.bed.Options["beams_run"] == "across" }

// carry sets beams evenly between the end ledgers, or those along the sides, level with
// them.
func (f *floored) carry(n int) {
	if f.across() {
		f.carryAcross(n)
		return
	}
	t, thick := f.board.Thickness, f.rail.Thickness
	y0, y1 := t+thick/2, f.outWidth-t-thick/2
	for k := 1; k <= n; k++ {
		y := y0 + (y1-y0)*measure.Length(k)/measure.Length(n+1) - thick/2
		p := f.part(f.rail, frame.Beam, fmt.Sprintf("floor beam %d", k))
		p.ID, p.Grain, p.Hidden = f.id("beam.%d", k), frame.X, true
		p.Body = standing(
			frame.Spot{U: t + thick, V: y},
			frame.Spot{U: f.outLength - t - thick, V: y + thick},
			f.lift,
			f.lift+f.rail.Width,
			frame.X,
		)
		p.Length = p.Body.To - p.Body.From
		f.f.Parts = append(f.f.Parts, p)
		f.beams = append(f.beams, p.ID)
		for i, x := range []measure.Length{t + thick, f.outLength - t - thick} {
			f.f.Joints = append(
				f.f.Joints,
				frame.Joint{ID: f.ledgerX[i] + "+" + p.ID, Kind: frame.FaceToEnd, Parts: [2]string{f.ledgerX[i], p.ID},
					Through: thick, Into: p.Length, Run: f.rail.Width, EndGrain: true, At: frame.Point{X: x,
						Y: y + thick/2, Z: f.lift + f.rail.Width/2},
					Load: "its share of the floor and the wet soil on it"},
			)
		}
	}
}

// carryAcross sets beams evenly between the ledgers along the sides.
func (f *floored) carryAcross(n int) {
	t, thick := f.board.Thickness, f.rail.Thickness
	x0, x1 := t+thick/2, f.outLength-t-thick/2
	for k := 1; k <= n; k++ {
		x := x0 + (x1-x0)*measure.Length(k)/measure.Length(n+1) - thick/2
		p := f.part(f.rail, frame.Beam, fmt.Sprintf("floor beam %d", k))
		p.ID, p.Grain, p.Hidden = f.id("beam.%d", k), frame.Y, true
		p.Body = standing(
			frame.Spot{U: x, V: t + thick},
			frame.Spot{U: x + thick, V: f.outWidth - t - thick},
			f.lift,
			f.lift+f.rail.Width,
			frame.Y,
		)
		p.Length = p.Body.To - p.Body.From
		f.f.Parts = append(f.f.Parts, p)
		f.beams = append(f.beams, p.ID)
		for i, y := range []measure.Length{t + thick, f.outWidth - t - thick} {
			f.f.Joints = append(
				f.f.Joints,
				frame.Joint{ID: f.ledgerY[i] + "+" + p.ID, Kind: frame.FaceToEnd, Parts: [2]string{f.ledgerY[i], p.ID},
					Through: thick, Into: p.Length, Run: f.rail.Width, EndGrain: true, At: frame.Point{X: x + thick/2,
						Y: y, Z: f.lift + f.rail.Width/2},
					Load: "its share of the floor and the wet soil on it"},
			)
		}
	}
}

// slats lays the floor across the width: one at each end, ripped to fit between
// the legs, and whole boards between.
func (f *floored) slats() {
	t, g := f.board.Thickness, f.intrude()
	z := f.lift + f.rail.Width
	d := decking{box: f.box, slat: f.slat, rail: f.rail, z: z, gap: f.bed.OptionLength("gap")}
	d.turned = f.across()
	near, far := f.ledgerY, f.ledgerX // what slats lie on, and those beside legs
	wide, long := f.outLength, f.outWidth
	span, beam := f.inWidth, f.inLength
	if d.turned {
		near, far, wide, long, span, beam = far, near, long, wide, beam, span
	}
	on := append(append([]string{}, near[:]...), f.beams...)
	beside := min(g, f.slat.Width)
	if g > 0 {
		d.lay(t, beside, t+g, long-t-g, append([]string{far[0]}, f.beams...)...)
	}
	d.bay(t+g, wide-t-g, t, long-t, on...)
	if g > 0 {
		d.lay(wide-t-beside, beside, t+g, long-t-g, append([]string{far[1]}, f.beams...)...)
	}
	f.f.Floors = append(
		f.f.Floors,
		frame.Floor{ID: f.id("floor"), Bed: f.bed.ID, Slats: d.ids, Soil: f.bed.Soil, Beams: f.beams,
			Span: (span - f.rail.Thickness) / measure.Length(
				len(f.beams)+1,
			), Spans: len(f.beams) + 1, BeamSpan: beam - f.rail.Thickness,
			Rail: f.ledgerY[0], Field: f.field, Most: beamRoom(f.bed, f.rail, f.intrude())},
	)
	note := "Start with the two at the ends, then space the others by eye with a nail for a gauge. The fabric goes" +
		" over them before the soil does."
	if isSheet(f.slat) {
		note = "Drill a drain hole of 1/2 in (12 mm) about every 6 in (150 mm) both ways, and seal the cut edges:" +
			" they drink water. Keep clear of the beams. The fabric goes over the holes before the soil goes in."
	}
	f.floorCloth()
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "floor",
			Title: "Lay the floor",
			Where: "down onto the ledgers",
			Parts: d.ids,
			Note:  note,
		},
	)
}

// clothUp is how far the cloth on a floor is turned up the walls (common practice: a hand).
const clothUp = 75 * measure.Millimetre

// floorCloth lays cloth on a floor, so that soil stays on it and water goes through.
func (b *box) floorCloth() {
	b.f.Sheets = append(
		b.f.Sheets,
		frame.Sheet{
			ID:       b.id("floor-cloth"),
			Bed:      b.bed.ID,
			Material: "fabric",
			Place:    "on the floor, turned a hand up the walls",
			Length:   b.inLength,
			Width:    b.inWidth,
			TurnUp:   clothUp,
			Inside:   true,
		},
	)
}

// isSheet reports whether a floor is of sheets, not of boards.
func isSheet(p catalog.Profile) bool { return p.Kind == catalog.Panel }

// decking lays slats across the width, side by side with gaps for the water; turned, it
// lays them lengthwise, and x and y change places.
type decking struct {
	*box
	turned     bool
	slat, rail catalog.Profile
	z, gap     measure.Length // the slats' undersides; least between two
	key        string         // of one floor among several
	ids        []string
}

// lay puts one slat down at x, from y0 to y1, on what carries it.
func (d *decking) lay(x, wide, y0, y1 measure.Length, on ...string) {
	name, kind, joint := "floor slat", frame.Slat, frame.SlatLedger
	if isSheet(d.slat) {
		name, kind, joint = "floor sheet", frame.FloorSheet, frame.SheetDown
	}
	p := d.part(d.slat, kind, fmt.Sprintf("%s %d", name, len(d.ids)+1))
	p.ID, p.Grain, p.Hidden, p.Width, p.Length = d.id("%sslat.%d", d.key, len(d.ids)+1), frame.Y, true, wide, y1-y0
	lo, hi := frame.Spot{U: x, V: y0}, frame.Spot{U: x + wide, V: y1}
	if d.turned {
		p.Grain = frame.X
		lo, hi = frame.Spot{U: y0, V: x}, frame.Spot{U: y1, V: x + wide}
	}
	p.Body = standing(lo, hi, d.z, d.z+d.slat.Thickness, p.Grain)
	d.f.Parts = append(d.f.Parts, p)
	d.ids = append(d.ids, p.ID)
	for _, rail := range on {
		under, _ := d.f.Part(rail)
		at, run, ok := contact(p.Body, under.Body) // a beam may end below a slat
		if !ok {
			continue
		}
		d.f.Joints = append(d.f.Joints, frame.Joint{ID: p.ID + "+" + rail, Kind: joint, Parts: [2]string{p.ID, rail},
			Through: d.slat.Thickness, Into: d.rail.Width, Run: min(wide, run), At: at,
			Load: "the wet soil above it"})
	}
}

// bay fills the floor between x0 and x1.
func (d *decking) bay(x0, x1, y0, y1 measure.Length, on ...string) {
	if x1-x0 < 20*measure.Millimetre+2*d.gap {
		return
	}
	for _, k := range spread(x1-x0, d.slat.Width, d.gap) {
		d.lay(x0+k.at, k.wide, y0, y1, on...)
	}
}
