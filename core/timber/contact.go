package timber

import (
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// meet finds the face two boxes share: its middle and its sides. ok is false where they
// do not touch in more than a line.
func meet(a, b frame.Prism) (at frame.Point, sides []measure.Length, ok bool) {
	alo, ahi := a.Bounds()
	blo, bhi := b.Bounds()
	touching := false
	var mid [3]measure.Length
	for _, axis := range []frame.Axis{frame.X, frame.Y, frame.Z} {
		lo, hi := max(alo.Along(axis), blo.Along(axis)), min(ahi.Along(axis), bhi.Along(axis))
		switch {
		case lo > hi || lo == hi && touching:
			return at, nil, false
		case lo == hi:
			touching = true
		default:
			sides = append(sides, hi-lo)
		}
		mid[axis] = (lo + hi) / 2
	}
	return frame.Point{X: mid[0], Y: mid[1], Z: mid[2]}, sides, touching
}

// contact is the middle of the face two boxes share, and the longer of its sides.
func contact(a, b frame.Prism) (at frame.Point, run measure.Length, ok bool) {
	at, sides, ok := meet(a, b)
	for _, s := range sides {
		run = max(run, s)
	}
	return at, run, ok
}

// A driver behind a screw's head takes so much room along the screw, and the holder of its bit so much across (common
// practice).
const driverLong, driverWide = 200 * measure.Millimetre, 18 * measure.Millimetre

// reached reports whether screws driven from inside through a long side, at x and between two heights, have room for a
// driver behind their heads.
func (b *box) reached(side int, x, low, high measure.Length) bool {
	from, to := b.board.Thickness, b.board.Thickness+driverLong
	if side == back {
		from, to = b.outWidth-to, b.outWidth-from
	}
	room := frame.Box(frame.Point{X: x - driverWide/2, Y: from, Z: low}, frame.Point{X: x + driverWide/2, Y: to, Z: high})
	for i := range b.f.Parts {
		if frame.Overlap(room, b.f.Parts[i].Body) {
			return false
		}
	}
	return true
}

// reachedOn is the height at which the screws of a board of a long side are reached from inside at x: its middle, or
// where a floor is in the way there, three quarters up.
func (b *box) reachedOn(side int, board frame.Part, x measure.Length) (z measure.Length, ok bool) {
	lo, hi := board.Body.Bounds()
	for _, z := range []measure.Length{(lo.Z + hi.Z) / 2, (lo.Z + 3*hi.Z) / 4} {
		if b.reached(side, x, z-driverWide/2, z+driverWide/2) {
			return z, true
		}
	}
	return 0, false
}

// reachedAtTop is reached on the top board, where the least is in the way.
func (b *box) reachedAtTop(side int, x measure.Length) bool {
	board, _ := b.f.Part(b.sides[side].boards[len(b.sides[side].boards)-1])
	_, ok := b.reachedOn(side, board, x)
	return ok
}

// fixTo fixes every board of a side that lies against an upright to it, or from
// behind, through the upright, to the board.
func (b *box) fixTo(side int, upright frame.Part, kind frame.JointKind) {
	b.fixRun(b.sides[side], upright, kind)
}

// fixRun does so with every board of a run.
func (b *box) fixRun(r run, upright frame.Part, kind frame.JointKind) {
	lo, hi := upright.Body.Bounds()
	q := hi.X - lo.X
	for _, id := range r.boards {
		board, _ := b.f.Part(id)
		at, _, ok := contact(board.Body, upright.Body)
		if !ok {
			continue
		}
		low, high := board.Body.Bounds()
		run := min(high.Z, hi.Z) - max(low.Z, lo.Z) // a post may stop below the rim
		j := frame.Joint{
			ID:      id + "+" + upright.ID,
			Kind:    kind,
			Parts:   [2]string{id, upright.ID},
			Through: b.board.Thickness,
			Into:    q,
			Run:     run,
			Past:    max(0, high.Z-hi.Z),
			At:      at,
			Load:    "the push of the soil on the board",
		}
		if kind == frame.BehindPost {
			j.Parts, j.Through, j.Into, j.Past = [2]string{upright.ID, id}, q, b.board.Thickness, max(0, hi.Z-high.Z)
		}
		b.f.Joints = append(b.f.Joints, j)
	}
}
