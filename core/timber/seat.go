package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A seat along a wall of sleepers is sleepers too, laid flat side by side on stacks of blocks
// sawn from the same; it stands by its weight, and nothing goes into the wall.
//
//	 ___________________
//	|___________________|   seat, two sleepers deep
//	   |__|       |__|
//	   |__|       |__|      blocks
const (
	stacksApart = 1200 * measure.Millimetre // most between two stacks: 4 ft (common practice)
	seatGap     = 6 * measure.Millimetre    // between sleepers of the seat, for water
	leastSeats  = 2
)

// ofSleepers reports whether a box's walls are sleepers.
func ofSleepers(b *box) bool { return b.board.Kind == catalog.Sleeper }

// seatOf is how many blocks are stacked under a seat of sleepers so thick, and how many
// sleepers it is deep: as near as whole ones come.
func seatOf(b design.Bed, thick, wide measure.Length) (layers, rows measure.Length) {
	seat, deep := b.OptionLength("bench_height"), b.OptionLength("bench_depth")
	layers = max(1, (seat+thick/2)/thick-1)
	rows = max(leastSeats, (deep+seatGap+(wide+seatGap)/2)/(wide+seatGap))
	return layers, rows
}

func (b *box) sleeperSeat() {
	t, w, l := b.board.Thickness, b.board.Width, b.outLength
	layers, rows := seatOf(b.bed, t, w)
	deep := rows*(w+seatGap) - seatGap
	var ids []string
	var tops []frame.Part
	add := func(role, id string, body frame.Prism, grain frame.Axis) frame.Part {
		p := b.put(b.board, frame.BenchPart, role, id, body, grain)
		ids = append(ids, p.ID)
		return p
	}
	fix := func(upper, lower frame.Part) {
		at, _, ok := contact(upper.Body, lower.Body)
		if !ok {
			return
		}
		b.f.Joints = append(b.f.Joints, frame.Joint{ID: upper.ID + "+" + lower.ID, Kind: frame.Stacked,
			Parts: [2]string{upper.ID, lower.ID}, Through: t, Into: t, Run: w, At: at, Load: "whoever sits on it"})
	}
	inset := min(w, (l-w)/4)
	bays := max(1, (l-2*inset-w+stacksApart-1)/stacksApart)
	for k := measure.Length(0); k <= bays; k++ {
		x := inset + (l-2*inset-w)*k/bays
		var below frame.Part
		for n := measure.Length(0); n < layers; n++ {
			body := frame.Prism{Axis: frame.Z, From: n * t, To: (n + 1) * t,
				Outline: rectangle(frame.Spot{U: x, V: -deep}, frame.Spot{U: x + w})}
			p := add(fmt.Sprintf("bench block, stack %d, layer %d", k+1, n+1),
				fmt.Sprintf("bench.block.%d.%d", k+1, n+1), body, frame.Y)
			if n > 0 {
				fix(p, below)
			}
			below = p
		}
		tops = append(tops, below)
	}
	for k := measure.Length(0); k < rows; k++ {
		y := -deep + k*(w+seatGap)
		p := add(fmt.Sprintf("bench sleeper %d", k+1), fmt.Sprintf("bench.seat.%d", k+1),
			frame.Prism{Axis: frame.Z, From: layers * t, To: (layers + 1) * t,
				Outline: rectangle(frame.Spot{V: y}, frame.Spot{U: l, V: y + w})}, frame.X)
		for _, block := range tops {
			fix(p, block)
		}
	}
	p := b.cat.Precision(b.cat.Habits)
	b.f.Acts = append(b.f.Acts, frame.Act{Verb: frame.FitOut, Of: "bench", Title: "Build the seat",
		Where: "against the front", Parts: ids,
		Note: fmt.Sprintf("Level the lowest blocks, two people to a sleeper, and screw each layer down before the next."+
			" Whole sleepers make the seat %s high and %s deep; round every edge that somebody's legs hang over.",
			p.Feet((layers+1)*t), p.Feet(deep))})
}
