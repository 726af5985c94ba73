package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// footedPlanter is a small planter that stands clear of the ground on feet: legs
// inside the corners, boards round them, and a floor of slats with gaps that let
// water out, carried by ledgers along the sides.
//
//	|  |_______________|  |
//	|  |     soil      |  |
//	|  |===============|  |   slats
//	|  |##           ##|  |   ledgers, level with the boards' lower edge
//	|__|               |__|   feet
var footedPlanter = System{
	System: design.System{
		Name: "footed", Title: "Small planter on feet", About: "has a floor, drains, can be moved when it is empty",
		Uses: []string{"corners"},
		Own: []design.Field{
			{Key: "feet", Label: "Feet below the boards", Stage: "frame", Kind: design.LengthField, Default: "1 in",
				Help: "So that it stands clear and drains: about 1 in (25 mm) (common practice)."},
			{Key: "gap", Label: "Gap between floor slats", Stage: "frame", Kind: design.LengthField, Default: "1/4 in",
				Help: "At least this; what is left over is shared out. Lay fabric over the gaps."},
		},
		Start: startFooted,
		Check: checkFooted,
	},
	Build: buildFooted,
}

// Limits of a small planter: a floor of slats from side to side, without a beam
// under it, and a weight two people can still tip.
const (
	footedLongest = 1300 * measure.Millimetre
	footedWidest  = 500 * measure.Millimetre
	footedDeepest = 400 * measure.Millimetre
)

func startFooted(cat *catalog.Catalog, b *design.Bed) {
	mm := measure.Millimetre
	b.Length, b.Width, b.Soil = 36*measure.Inch, 14*measure.Inch, 15*measure.Inch/2
	board := "picket"
	if cat.System == measure.Metric {
		b.Length, b.Width, b.Soil = 900*mm, 350*mm, 200*mm
		b.Options["feet"], b.Options["gap"] = "25 mm", "6 mm"
		board = "150x25"
	}
	if p, err := cat.Profile(board); err == nil && cat.Sold(board, b.Species) {
		b.Board = board
		if capBoard, err := cat.Profile(b.CapProfile); err == nil {
			b.CapIn = capBoard.Width - p.Thickness - b.CapOut
		}
	}
}

func checkFooted(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	for _, l := range []struct {
		field   string
		is      measure.Length
		most    measure.Length
		instead string
	}{
		{"length", b.Length, footedLongest, "a bed on the ground may be longer"},
		{"width", b.Width, footedWidest, "a bed on the ground may be wider"},
		{"soil", b.Soil, footedDeepest, "a bed on the ground may be deeper"},
		{"feet", b.OptionLength("feet"), 300 * measure.Millimetre, "taller feet wobble"},
		{"gap", b.OptionLength("gap"), 20 * measure.Millimetre, "soil falls through wider ones"},
	} {
		if l.is > l.most {
			refuse(l.field, "%s is too much for a small planter: up to %s works; %s", p.Feet(l.is), p.Feet(l.most), l.instead)
		}
	}
	if b.OptionLength("feet") <= 0 {
		refuse("feet", "without feet the floor stands in the wet and rots; from %s works", p.Feet(5*measure.Millimetre))
	}
	leg, err := stakeProfile(cat)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	if least := 2*leg.Width + betweenPosts; b.Width < least {
		refuse("width", "two legs do not fit; from %s works", p.Feet(least))
	}
}

func buildFooted(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	leg, err := stakeProfile(cat)
	if err != nil {
		return frame.Frame{}, err
	}
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("board: %w", err)
	}
	b, err := newBox(bed, cat, bed.OptionLength("feet"), leg.Width+board.Thickness)
	if err != nil {
		return frame.Frame{}, err
	}
	f := &footed{box: b, leg: leg}
	f.legs()
	f.ledgers()
	f.slats()
	out := b.finish()
	out.Measures = append(out.Measures, frame.Measure{Name: "feet", Field: "feet", From: frame.Point{}, To: frame.Point{Z: b.lift}})
	return out, nil
}

// footed is a box on legs with a floor. Legs and ledgers are of one profile.
type footed struct {
	*box
	leg     catalog.Profile
	ledgerY [2]string // along the long sides: front, back
	ledgerX [2]string // along the ends: left, right
}

func (f *footed) legs() {
	t, q := f.board.Thickness, f.leg.Width
	x0, x1, y0, y1 := t, f.outLength-t-q, t, f.outWidth-t-q
	var legs []string
	for _, c := range []struct {
		name  string
		x, y  measure.Length
		sides [2]int
	}{
		{"front left", x0, y0, [2]int{front, left}}, {"front right", x1, y0, [2]int{front, right}},
		{"back right", x1, y1, [2]int{back, right}}, {"back left", x0, y1, [2]int{back, left}},
	} {
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
func (f *footed) ledger(side int, name string) string {
	t, q := f.board.Thickness, f.leg.Width
	r := f.sides[side]
	lo := frame.Spot{U: t + q, V: t}
	hi := frame.Spot{U: f.outLength - t - q, V: t + q}
	switch side {
	case back:
		lo.V, hi.V = f.outWidth-t-q, f.outWidth-t
	case left:
		lo, hi = frame.Spot{U: t, V: t + q}, frame.Spot{U: t + q, V: f.outWidth - t - q}
	case right:
		lo, hi = frame.Spot{U: f.outLength - t - q, V: t + q}, frame.Spot{U: f.outLength - t, V: f.outWidth - t - q}
	}
	p := f.part(f.leg, "ledger", "ledger, "+name)
	p.ID, p.Grain, p.Hidden = f.id("ledger.%s", r.key), r.grain, true
	p.Body = standing(lo, hi, f.lift, f.lift+q, r.grain)
	p.Length = p.Body.To - p.Body.From
	f.f.Parts = append(f.f.Parts, p)
	f.f.Joints = append(f.f.Joints, frame.Joint{ID: r.boards[0] + "+" + p.ID, Kind: frame.WallLedger, Parts: [2]string{r.boards[0], p.ID},
		Through: t, Into: q, Run: p.Length, At: frame.Point{X: (lo.U + hi.U) / 2, Y: (lo.V + hi.V) / 2, Z: f.lift + q/2}, Load: "half the floor and the wet soil on it"})
	return p.ID
}

func (f *footed) ledgers() {
	f.ledgerY = [2]string{f.ledger(front, "front side"), f.ledger(back, "back side")}
	f.ledgerX = [2]string{f.ledger(left, "left end"), f.ledger(right, "right end")}
	f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Title: "Fix the ledgers", Where: "inside, level with the boards' lower edges",
		Parts: []string{f.ledgerY[0], f.ledgerY[1], f.ledgerX[0], f.ledgerX[1]},
		Note:  "They carry all the soil: a screw about every 6 in (150 mm), from outside."})
}

// slats lays the floor across the width: one at each end, ripped to fit between
// the legs, and whole boards between, with what is left shared out as gaps. Where
// the gaps would be twice what was asked, one more is ripped from a board.
func (f *footed) slats() {
	t, q, w := f.board.Thickness, f.leg.Width, f.board.Width
	gap := f.bed.OptionLength("gap")
	z := f.lift + q
	var ids []string
	lay := func(x, wide, y0, y1 measure.Length, on [2]string) {
		p := f.part(f.board, "slat", fmt.Sprintf("floor slat %d", len(ids)+1))
		p.ID, p.Grain, p.Hidden, p.Width, p.Length = f.id("slat.%d", len(ids)+1), frame.Y, true, wide, y1-y0
		p.Body = frame.Prism{Axis: frame.Y, From: y0, To: y1, Outline: []frame.Spot{{U: x, V: z}, {U: x + wide, V: z}, {U: x + wide, V: z + t}, {U: x, V: z + t}}}
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
		for _, ledger := range on {
			if ledger == "" {
				continue
			}
			f.f.Joints = append(f.f.Joints, frame.Joint{ID: p.ID + "+" + ledger, Kind: frame.SlatLedger, Parts: [2]string{p.ID, ledger},
				Through: t, Into: q, Run: wide, At: frame.Point{X: x + wide/2, Y: y0, Z: z}, Load: "the wet soil above it"})
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
	lay(t, min(q, w), between, f.outWidth-between, [2]string{f.ledgerX[0]})
	x := t + q
	for k := range n {
		at := x + rest*(k+1)/gaps + w*k
		lay(at, w, t, f.outWidth-t, f.ledgerY)
	}
	if last > 0 {
		lay(x+rest*(n+1)/gaps+w*n, last, t, f.outWidth-t, f.ledgerY)
	}
	lay(f.outLength-t-q, min(q, w), between, f.outWidth-between, [2]string{f.ledgerX[1]})
	f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Title: "Lay the floor", Where: "down onto the ledgers", Parts: ids,
		Note: "Start with the two at the ends, then space the others by eye with a nail for a gauge. Lay a piece of fabric over them before the soil goes in."})
}
