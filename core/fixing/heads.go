package fixing

import (
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Head is where the head of a screw or bolt lies, and which way it looks.
type Head struct {
	Part   string // that is fastened
	At     frame.Point
	Out    [3]float64
	Seen   bool // nothing stands before its face: it is outside on a wall, or on top and in no soil
	Detail Detail
}

// Heads are where those of a bed's joints go: as far from the edge and from one another as each joint says. Those of
// pockets and of metal that has its own holes are inside, and pieces that are turned or tilted have theirs in the
// drawings of the joints.
func (p Plan) Heads(f *frame.Frame, cat *catalog.Catalog) (list []Head) {
	details := p.OfJoints(f, cat)
	lowered := map[string]bool{} // posts at which one wall's screws have gone in at their usual height
	for _, j := range f.Joints {
		x, ok := details[j.ID]
		a, okA := f.Part(j.Parts[0])
		b, okB := f.Part(j.Parts[1])
		if !ok || !okA || !okB || a.Turn != 0 || b.Turn != 0 || a.Tilt != 0 || b.Tilt != 0 || j.Turn != 0 {
			continue
		}
		switch j.Kind {
		case frame.PocketEnd, frame.Bracket, frame.Splice, frame.PlateOn:
			continue
		}
		offset := measure.Length(0)
		if x.Offset > 0 {
			if key := b.ID + string(rune('0'+int(a.Grain))); lowered[b.ID] && !lowered[key] {
				offset = x.Offset
			} else {
				lowered[key] = true
			}
			lowered[b.ID] = true
		}
		for _, h := range headsOf(x, a, b, offset) {
			h.Part, h.Detail, h.Seen = a.ID, x, outermost(f, h, a)
			list = append(list, h)
		}
	}
	return list
}

// outermost reports whether a head is on a face that nothing stands before: the outside of a wall, or what lies on top
// and in no soil.
func outermost(f *frame.Frame, h Head, p frame.Part) bool {
	if p.Hidden {
		return false
	}
	const near = 40 * measure.Millimetre // a leg or a strip stands so far before a wall at most
	lo, hi := f.Bounds()
	for axis, to := range h.Out {
		a := frame.Axis(axis)
		switch {
		case to == 0:
		case a == frame.Z:
			return !slices.ContainsFunc(f.Cavities, func(c frame.Cavity) bool {
				return h.At.Z <= c.Top && frame.Inside(c.Outline, frame.Spot{U: h.At.X, V: h.At.Y})
			})
		case to < 0:
			return h.At.Along(a) <= lo.Along(a)+near
		default:
			return h.At.Along(a) >= hi.Along(a)-near
		}
	}
	return false
}

// headsOf are the places of a joint's heads on the outer face of the piece that is fastened.
func headsOf(x Detail, a, b frame.Part, offset measure.Length) (list []Head) {
	la, ha := a.Body.Bounds()
	lb, hb := b.Body.Bounds()
	const near = measure.Millimetre
	for axis := frame.X; axis <= frame.Z; axis++ {
		var out [3]float64
		face := measure.Length(0)
		switch before, behind := lb.Along(axis)-ha.Along(axis), la.Along(axis)-hb.Along(axis); {
		case before >= -near && before <= near:
			out[axis], face = -1, la.Along(axis)
		case behind >= -near && behind <= near:
			out[axis], face = 1, ha.Along(axis)
		default:
			continue
		}
		run, size := axis, measure.Length(-1)
		var lo, hi [3]measure.Length
		for _, o := range []frame.Axis{frame.X, frame.Y, frame.Z} {
			if o == axis {
				continue
			}
			lo[o], hi[o] = max(la.Along(o), lb.Along(o)), min(ha.Along(o), hb.Along(o))
			if hi[o]-lo[o] > size {
				run, size = o, hi[o]-lo[o]
			}
		}
		if size <= 0 {
			return nil
		}
		for k := range x.Face {
			var at [3]measure.Length
			for _, o := range []frame.Axis{frame.X, frame.Y, frame.Z} {
				at[o] = (lo[o] + hi[o]) / 2
			}
			at[axis] = face
			at[run] = hi[run] - x.Edge - x.Apart*measure.Length(k) - offset // measured from the upper edge
			if at[run] < lo[run] {
				break
			}
			list = append(list, Head{At: frame.Point{X: at[0], Y: at[1], Z: at[2]}, Out: out})
		}
		return list
	}
	return nil
}
