package draw

import (
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// heads draws the heads of all screws and bolts that are seen from here, each where it goes: as far from the edge and
// from one another as its joint says. Those of pockets and of metal that has its own holes are inside, and pieces that
// are turned or tilted have theirs in the drawings of the joints.
func (d *drawing) heads() {
	details := d.plan.Fixings.OfJoints(d.f, d.plan.Shop.Catalog)
	lowered := map[string]bool{} // posts at which one wall's screws have gone in at their usual height
	d.begin("heads")
	for _, j := range d.f.Joints {
		x, ok := details[j.ID]
		a, okA := d.f.Part(j.Parts[0])
		b, okB := d.f.Part(j.Parts[1])
		if !ok || !okA || !okB || a.Turn != 0 || b.Turn != 0 || a.Tilt != 0 || b.Tilt != 0 || j.Turn != 0 ||
			!d.wanted(a.ID) {
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
		for _, at := range headsOf(j, x, a, b, offset) {
			if vec(at.out).dot(d.cam.toward) > 0.3 && d.outermost(at, a) {
				d.head(d.place(at.at), x)
			}
		}
	}
	d.end()
}

// outermost reports whether a head is on a face that nothing stands before: the outside of a wall, or what lies on top
// and in no soil.
func (d *drawing) outermost(h headAt, p frame.Part) bool {
	if p.Hidden {
		return false
	}
	const near = 40 * measure.Millimetre // a leg or a strip stands so far before a wall at most
	lo, hi := d.f.Bounds()
	for axis, to := range h.out {
		a := frame.Axis(axis)
		switch {
		case to == 0:
		case a == frame.Z:
			return !slices.ContainsFunc(d.f.Cavities, func(c frame.Cavity) bool {
				return h.at.Z <= c.Top && frame.Inside(c.Outline, frame.Spot{U: h.at.X, V: h.at.Y})
			})
		case to < 0:
			return h.at.Along(a) <= lo.Along(a)+near
		default:
			return h.at.Along(a) >= hi.Along(a)-near
		}
	}
	return false
}

// headAt is where a head is, and which way it looks.
type headAt struct {
	at  frame.Point
	out [3]float64
}

// headsOf are the places of a joint's heads on the outer face of the piece that is fastened.
func headsOf(j frame.Joint, x fixing.Detail, a, b frame.Part, offset measure.Length) (list []headAt) {
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
			list = append(list, headAt{frame.Point{X: at[0], Y: at[1], Z: at[2]}, out})
		}
		return list
	}
	return nil
}

// head is one, seen from straight before it: a bolt's has six sides.
func (d *drawing) head(at pt, x fixing.Detail) {
	r := min(max(x.Fixing.Diameter.Metres()*1000*d.scale, 2.2), d.sheet.Font*0.5) // a head is twice its screw across
	if x.Fixing.Kind == catalog.Lag {
		r *= 1.3
		h := r * 0.87
		d.poly("d-screw", []pt{{at.x - r, at.y}, {at.x - r/2, at.y - h}, {at.x + r/2, at.y - h}, {at.x + r, at.y},
			{at.x + r/2, at.y + h}, {at.x - r/2, at.y + h}})
		return
	}
	d.add(`<circle class="d-screw" cx="%s" cy="%s" r="%s"/>`, n(at.x), n(at.y), n(r))
}
