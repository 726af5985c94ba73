package frame

import "chamfer/core/measure"

// Footprint is the ground a frame stands on, its soil with it: of round walls what lies
// within their outer faces, of cast ones what lies within theirs, of others what lies within
// the outside of the walls.
func (f *Frame) Footprint() measure.Area {
	switch {
	case f.Taken != nil:
		return OutlineArea(f.Taken)
	case len(f.Pours) > 0 && !f.Pours[0].Open:
		var area measure.Area
		for _, p := range f.Pours {
			area += OutlineArea(p.Outside)
		}
		return area
	case len(f.Arcs) > 0 && len(f.Cavities) > 0: // the lowest ring's units and what is inside
		area := OutlineArea(f.Cavities[0].Outline)
		for _, u := range f.Units {
			if u.Kind != CapUnit && u.Course == 1 {
				area += OutlineArea(u.Body.Outline)
			}
		}
		return area
	}
	return OutlineArea(f.Around())
}

// Around is the outside of the walls from above, anticlockwise from the front left: of round
// ones the rectangle about them.
func (f *Frame) Around() []Spot {
	if f.Outline != nil {
		return f.Outline
	}
	lo, hi := f.Outside[0], f.Outside[1]
	return []Spot{lo, {hi.U, lo.V}, hi, {lo.U, hi.V}}
}
