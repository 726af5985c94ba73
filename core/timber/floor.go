package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// floored is a box on legs inside its corners, with a floor of slats across the
// width. The slats lie on ledgers along the walls and, in a wide bed, on beams
// between the end ledgers.
type floored struct {
	*box
	leg, rail catalog.Profile // rail: ledgers and beams, on edge
	ledgerY   [2]string       // along the long sides: front, back
	ledgerX   [2]string       // along the ends: left, right
	beams     []string
	field     string // the decision that adds beams, if there is one
}

func (f *floored) build(beams int) {
	f.legs()
	f.ledgers()
	f.carry(beams)
	f.railActs()
	f.slats()
}

func (f *floored) legs() {
	t, q := f.board.Thickness, f.leg.Width
	x0, x1, y0, y1 := t, f.outLength-t-q, t, f.outWidth-t-q
	var legs []string
	for _, c := range f.corners(q) {
		p := f.part(f.leg, "leg", c.name+" leg")
		p.ID, p.Grain, p.Hidden = f.id("leg.%d", len(legs)+1), frame.Z, true
		p.Body = frame.Prism{Axis: frame.Z, From: 0, To: f.rim, Outline: []frame.Spot{
			{U: c.x, V: c.y}, {U: c.x + q, V: c.y}, {U: c.x + q, V: c.y + q}, {U: c.x, V: c.y + q}}}
		p.Length = f.rim
		f.f.Parts = append(f.f.Parts, p)
		legs = append(legs, p.ID)
		for _, side := range c.sides {
			f.screwTo(side, p.ID, q, c.x, c.y)
		}
	}
	for i, r := range f.sides {
		supports := []measure.Length{x0 + q/2, x1 + q/2}
		if r.grain == frame.Y {
			supports = []measure.Length{y0 + q/2, y1 + q/2}
		}
		f.f.Walls = append(f.f.Walls, frame.Wall{ID: f.id("wall.%s", f.sides[i].key), Bed: f.bed.ID, Name: r.name, End: r.grain == frame.Y, Boards: r.boards, Soil: f.bed.Soil, Supports: supports})
	}
	long := append(append([]string{}, f.sides[front].boards...), f.sides[back].boards...)
	short := append(append([]string{}, f.sides[left].boards...), f.sides[right].boards...)
	f.f.Acts = append(f.f.Acts,
		frame.Act{Verb: frame.MakeUp, Title: "Make up the two long sides", Where: "on a flat surface", Parts: append(long, legs...),
			Note: "The legs stand out below the boards: those are the feet. Lay the rim edges against a straight board, so that they end level."},
		frame.Act{Verb: frame.JoinUp, Title: "Join the sides with the ends", Where: "standing on the feet", Parts: short})
}

// ledger places one along a wall between the legs, level with the boards' lower
// edge, and screws the lowest board to it.
func (f *floored) ledger(side int, name string) string {
	t, q, thick := f.board.Thickness, f.leg.Width, f.rail.Thickness
	r := f.sides[side]
	lo := frame.Spot{U: t + q, V: t}
	hi := frame.Spot{U: f.outLength - t - q, V: t + thick}
	switch side {
	case back:
		lo.V, hi.V = f.outWidth-t-thick, f.outWidth-t
	case left:
		lo, hi = frame.Spot{U: t, V: t + q}, frame.Spot{U: t + thick, V: f.outWidth - t - q}
	case right:
		lo, hi = frame.Spot{U: f.outLength - t - thick, V: t + q}, frame.Spot{U: f.outLength - t, V: f.outWidth - t - q}
	}
	p := f.part(f.rail, "ledger", "ledger, "+name)
	p.ID, p.Grain, p.Hidden = f.id("ledger.%s", r.key), r.grain, true
	p.Body = standing(lo, hi, f.lift, f.lift+f.rail.Width, r.grain)
	p.Length = p.Body.To - p.Body.From
	f.f.Parts = append(f.f.Parts, p)
	pair, through, into := [2]string{r.boards[0], p.ID}, t, thick
	if thick < t { // from inside: the screw goes through the thinner piece
		pair, through, into = [2]string{p.ID, r.boards[0]}, thick, t
	}
	f.f.Joints = append(f.f.Joints, frame.Joint{ID: r.boards[0] + "+" + p.ID, Kind: frame.WallLedger, Parts: pair,
		Through: through, Into: into, Run: p.Length, At: frame.Point{X: (lo.U + hi.U) / 2, Y: (lo.V + hi.V) / 2, Z: f.lift + f.rail.Width/2}, Load: "half the floor and the wet soil on it"})
	return p.ID
}

func (f *floored) ledgers() {
	f.ledgerY = [2]string{f.ledger(front, "front side"), f.ledger(back, "back side")}
	f.ledgerX = [2]string{f.ledger(left, "left end"), f.ledger(right, "right end")}
}

// railActs fixes ledgers and beams: with beams, the end ledgers and the beams
// are made up first, because their screws come from behind.
func (f *floored) railActs() {
	note := "They carry all the soil: a screw about every 6 in (150 mm), through the thinner piece into the thicker."
	ledgers := []string{f.ledgerY[0], f.ledgerY[1], f.ledgerX[0], f.ledgerX[1]}
	if len(f.beams) > 0 {
		f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Title: "Make up the end ledgers and the beams", Where: "on a flat surface, then into the box",
			Parts: append([]string{f.ledgerX[0], f.ledgerX[1]}, f.beams...),
			Note:  "The beams' screws come from behind the end ledgers, so this frame is made before it goes in. " + note})
		ledgers = ledgers[:2]
	}
	f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Title: "Fix the ledgers", Where: "inside, level with the boards' lower edges", Parts: ledgers, Note: note})
}

// carry sets beams evenly between the end ledgers, level with them.
func (f *floored) carry(n int) {
	t, thick := f.board.Thickness, f.rail.Thickness
	y0, y1 := t+thick/2, f.outWidth-t-thick/2
	for k := 1; k <= n; k++ {
		y := y0 + (y1-y0)*measure.Length(k)/measure.Length(n+1) - thick/2
		p := f.part(f.rail, "beam", fmt.Sprintf("floor beam %d", k))
		p.ID, p.Grain, p.Hidden = f.id("beam.%d", k), frame.X, true
		p.Body = standing(frame.Spot{U: t + thick, V: y}, frame.Spot{U: f.outLength - t - thick, V: y + thick}, f.lift, f.lift+f.rail.Width, frame.X)
		p.Length = p.Body.To - p.Body.From
		f.f.Parts = append(f.f.Parts, p)
		f.beams = append(f.beams, p.ID)
		for i, x := range []measure.Length{t + thick, f.outLength - t - thick} {
			f.f.Joints = append(f.f.Joints, frame.Joint{ID: f.ledgerX[i] + "+" + p.ID, Kind: frame.FaceToEnd, Parts: [2]string{f.ledgerX[i], p.ID},
				Through: thick, Into: p.Length, Run: f.rail.Width, EndGrain: true, At: frame.Point{X: x, Y: y + thick/2, Z: f.lift + f.rail.Width/2},
				Load: "its share of the floor and the wet soil on it"})
		}
	}
}

// slats lays the floor across the width: one at each end, ripped to fit between
// the legs, and whole boards between, with what is left shared out as gaps. Where
// the gaps would be twice what was asked, one more is ripped from a board.
func (f *floored) slats() {
	t, q, w := f.board.Thickness, f.leg.Width, f.board.Width
	gap := f.bed.OptionLength("gap")
	z := f.lift + f.rail.Width
	var ids []string
	lay := func(x, wide, y0, y1 measure.Length, on ...string) {
		p := f.part(f.board, "slat", fmt.Sprintf("floor slat %d", len(ids)+1))
		p.ID, p.Grain, p.Hidden, p.Width, p.Length = f.id("slat.%d", len(ids)+1), frame.Y, true, wide, y1-y0
		p.Body = frame.Prism{Axis: frame.Y, From: y0, To: y1, Outline: []frame.Spot{{U: x, V: z}, {U: x + wide, V: z}, {U: x + wide, V: z + t}, {U: x, V: z + t}}}
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
		for _, ledger := range on {
			f.f.Joints = append(f.f.Joints, frame.Joint{ID: p.ID + "+" + ledger, Kind: frame.SlatLedger, Parts: [2]string{p.ID, ledger},
				Through: t, Into: f.rail.Width, Run: wide, At: frame.Point{X: x + wide/2, Y: y0, Z: z}, Load: "the wet soil above it"})
		}
	}
	inner := f.inLength - 2*q
	n := (inner - gap) / (w + gap)
	rest := inner - n*w // for n+1 gaps, or one more slat and n+2
	last := rest - (n+2)*gap
	if least := 20 * measure.Millimetre; rest/(n+1) < 2*gap || last < least {
		last = 0
	}
	gaps := n + 1
	if last > 0 {
		gaps, rest = n+2, rest-last
	}
	between := t + q // the ends of the slats between the legs
	lay(t, min(q, w), between, f.outWidth-between, f.ledgerX[0])
	on := append(append([]string{}, f.ledgerY[:]...), f.beams...)
	x := t + q
	for k := range n {
		at := x + rest*(k+1)/gaps + w*k
		lay(at, w, t, f.outWidth-t, on...)
	}
	if last > 0 {
		lay(x+rest*(n+1)/gaps+w*n, last, t, f.outWidth-t, on...)
	}
	lay(f.outLength-t-q, min(q, w), between, f.outWidth-between, f.ledgerX[1])
	f.f.Floors = append(f.f.Floors, frame.Floor{ID: f.id("floor"), Bed: f.bed.ID, Slats: ids, Soil: f.bed.Soil, Beams: f.beams,
		Span: (f.inWidth - f.rail.Thickness) / measure.Length(len(f.beams)+1), Spans: len(f.beams) + 1, BeamSpan: f.inLength - f.rail.Thickness, Rail: f.ledgerY[0], Field: f.field, Most: beamRoom(f.bed, f.rail)})
	f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Title: "Lay the floor", Where: "down onto the ledgers", Parts: ids,
		Note: "Start with the two at the ends, then space the others by eye with a nail for a gauge. Lay a piece of fabric over them before the soil goes in."})
}
