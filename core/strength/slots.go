package strength

import (
	"math"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// blockAt is the lowest of the blocks in whose slot a board's end stands.
func (w *walk) blockAt(i int, at measure.Length) string {
	n := &w.nodes[i]
	u, v := at, (n.lo.Y+n.hi.Y)/2
	if n.Grain == frame.Y {
		u, v = (n.lo.X+n.hi.X)/2, at
	}
	for _, x := range w.Frame.Units {
		if lo, hi := x.Body.Bounds(); x.Course == 1 && u >= lo.X && u <= hi.X && v >= lo.Y && v <= hi.Y {
			return x.ID
		}
	}
	return "block"
}

// blocks checks the stacks of blocks that boards' ends lean on: they stand by their weight,
// against what comes from both ways. A pin down their middle keeps them in line, and is
// not counted on.
func (w *walk) blocks() {
	pushed := map[string][2]float64{}
	for _, l := range w.links {
		if l.Way == InSlot {
			by := pushed[l.To]
			way := 0
			if l.Path == OnEnd {
				way = 1
			}
			by[way] += l.Load
			pushed[l.To] = by
		}
	}
	for _, x := range w.Frame.Units {
		by, ok := pushed[x.ID]
		if !ok {
			continue
		}
		lo, _ := x.Body.Bounds()
		kg := 0.0
		for _, o := range w.Frame.Units { // all that stand on it
			if a, _ := o.Body.Bounds(); a.X == lo.X && a.Y == lo.Y {
				if unit, err := w.Catalog.Unit(o.SKU); err == nil {
					kg += unit.Mass
				}
			}
		}
		most := Weight(kg) * OnGravel
		w.add(
			Link{
				From:   x.ID,
				To:     w.standsOn(),
				Path:   OnSide,
				Way:    ByWeight,
				Load:   math.Hypot(by[0], by[1]),
				Holds:  most / Safe,
				Breaks: most,
			},
		)
	}
}

// slots are the ends of boards that stand in the slots of blocks.
func (w *walk) slots(r *wallRun, c *course) {
	for _, i := range c.boards {
		n := &w.nodes[i]
		for _, at := range []measure.Length{n.lo.Along(r.axis), n.hi.Along(r.axis)} {
			crush := crushing(n.wood) * inSlot.Metres() * (n.hi.Z - n.lo.Z).Metres()
			c.props = append(
				c.props,
				prop{
					at:    at.Metres(),
					from:  i,
					to:    w.blockAt(i, at),
					pole:  -1,
					post:  -1,
					way:   InSlot,
					holds: crush,
					over:  crushes,
				},
			)
		}
	}
}

// inSlot is how much of a board's end leans against its slot: 20 mm (common practice).
const inSlot = 20 * measure.Millimetre
