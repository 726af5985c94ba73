package draw

import (
	"cmp"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// bodies gathers what is drawn. Where soil is seen from above, it hides what is
// below its surface between the walls, down to their lower edges; parts standing
// in it are drawn above it and, on legs, below the walls.
func (d *drawing) bodies() []*body {
	var list []*body
	whole := d.elevation() || d.sheet.Parts != nil || d.apart || d.view == Loads // of loads all that carries them
	if !whole {
		for _, c := range d.f.Cavities {
			switch {
			case c.Pot:
				list = append(
					list,
					newBody(nil, frame.Prism{Axis: frame.Z, From: c.Bottom, To: c.Rim, Outline: c.Outline}, d.cam),
				)
				list[len(list)-1].pot = true
			case d.goesOn(c):
				list = append(list, d.slopes(c)...)
			default:
				outlines := c.Pieces
				if outlines == nil {
					outlines = [][]frame.Spot{c.Outline}
				}
				for _, o := range outlines {
					b := newBody(
						nil,
						frame.Prism{Axis: frame.Z, From: c.Top - measure.Millimetre, To: c.Top, Outline: o},
						d.cam,
					)
					b.more = c.Pieces != nil
					list = append(list, b)
				}
			}
		}
	}
	for i := range d.f.Parts {
		part := &d.f.Parts[i]
		if !d.wanted(part.ID) {
			continue
		}
		if d.elevation() && part.Hidden && d.sheet.Parts == nil { // drawn dashed, over the boards, but for what they leave
			if low, ok := part.Body.Slice(0, d.foot()); ok {
				list = append(list, newBody(part, low, d.cam))
			}
			continue
		}
		if whole {
			for k, solid := range part.Solids() {
				b := newBody(part, solid.Move(frame.Point{Z: d.lifts[part.ID]}), d.cam)
				b.more = k > 0
				list = append(list, b)
			}
			continue
		}
		for k, solid := range d.inSight(part) {
			b := newBody(part, solid, d.cam)
			b.more = k > 0
			list = append(list, b)
		}
	}
	if !whole {
		list = append(list, d.backs()...)
	}
	return append(append(list, d.units()...), d.pours()...)
}

// backs are what a bed stands against, where nothing built holds its soil: a fence or a wall, a board thick and
// somewhat higher than the rim.
func (d *drawing) backs() (list []*body) {
	if !d.f.Backed {
		return nil
	}
	const thick, over = 25 * measure.Millimetre, 300 * measure.Millimetre
	for _, c := range d.f.Cavities {
		for _, i := range c.Free {
			a, b := c.Outline[i], c.Outline[(i+1)%len(c.Outline)]
			if a.U != b.U && a.V != b.V {
				continue // round a corner it is not seen
			}
			lo, hi := frame.Spot{U: min(a.U, b.U), V: min(a.V, b.V)}, frame.Spot{U: max(a.U, b.U), V: max(a.V, b.V)}
			beyond := d.f.Outside // it goes on behind the ends of the walls
			if a.V == b.V {
				lo.U, hi.U = min(lo.U, beyond[0].U), max(hi.U, beyond[1].U)
				if hi.V = lo.V + thick; b.U > a.U {
					lo.V, hi.V = lo.V-thick, lo.V
				}
			} else {
				lo.V, hi.V = min(lo.V, beyond[0].V), max(hi.V, beyond[1].V)
				if hi.U = lo.U + thick; b.V < a.V {
					lo.U, hi.U = lo.U-thick, lo.U
				}
			}
			back := newBody(nil, frame.Prism{Axis: frame.Z, From: 0, To: c.Rim + over,
				Outline: []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}}, d.cam)
			back.back = true
			list = append(list, back)
		}
	}
	return list
}

// slopes are the sides of a room for soil, under another, on which nothing stands: the soil there falls away to that in
// front, and is seen above it.
func (d *drawing) slopes(c frame.Cavity) (list []*body) {
	from := c.Top
	for _, o := range d.f.Cavities {
		if o.Bottom <= c.Bottom && o.Top < from && !o.Pot {
			from = o.Top
		}
	}
	if from == c.Top {
		return nil
	}
	for _, i := range c.Free {
		a, b := c.Outline[i], c.Outline[(i+1)%len(c.Outline)]
		in := frame.Spot{}
		if t := measure.Millimetre; a.V == b.V {
			in.V = t
			if b.U < a.U {
				in.V = -t
			}
		} else {
			in.U = t
			if b.V > a.V {
				in.U = -t
			}
		}
		plus := func(s frame.Spot) frame.Spot { return frame.Spot{U: s.U + in.U, V: s.V + in.V} }
		list = append(list, newBody(nil, frame.Prism{Axis: frame.Z, From: from, To: c.Top,
			Outline: []frame.Spot{a, b, plus(b), plus(a)}}, d.cam))
	}
	return list
}

// units are the blocks and bricks that are in sight: all of them, but for what is
// in the ground where the bed is seen from above.
func (d *drawing) units() []*body {
	var list []*body
	for i := range d.f.Units {
		u := &d.f.Units[i]
		if !d.wanted(u.ID) {
			continue
		}
		for k, solid := range u.Solids() {
			if lo, hi := solid.Bounds(); lo.Z < 0 && !d.elevation() && !d.apart {
				if hi.Z <= 0 {
					continue
				}
				solid.From = 0
			}
			b := newBody(nil, solid.Move(frame.Point{Z: d.lifts[u.ID]}), d.cam)
			b.unit, b.more = u, k > 0
			list = append(list, b)
		}
	}
	return list
}

// pours are the cast walls, stretch by stretch, above the ground where the bed is
// seen from above.
func (d *drawing) pours() []*body {
	var list []*body
	for _, p := range d.f.Pours {
		if !d.wanted(p.ID) {
			continue
		}
		for _, solid := range p.Solids() {
			if !d.elevation() && !d.apart {
				solid.From += p.Ground - p.From // its foot is in the ground
			}
			b := newBody(nil, solid, d.cam)
			b.cast = true
			list = append(list, b)
		}
	}
	return list
}

// inSight is what of a part is neither in the soil nor between the walls under
// it nor in the ground, the highest piece first.
func (d *drawing) inSight(part *frame.Part) []frame.Prism {
	if part.Course > 0 || part.Kind == frame.CapBoard {
		return part.Solids()
	}
	lo, hi := part.Body.Bounds()
	stretches := [][2]measure.Length{{min(lo.Z, 0), hi.Z}}
	hidden := false
	inWall := part.Kind == frame.Leg && !part.Hidden // its outer faces are seen beside the boards
	for _, c := range d.f.Cavities {
		if c.Pot {
			continue
		}
		foot := c.Bottom
		if !d.standsOn(c) {
			foot = min(foot, d.foot())
		}
		if _, ok := c.Takes(part.Body, foot, c.Top); !ok {
			continue
		}
		hidden = true
		var left [][2]measure.Length
		for _, s := range stretches {
			if s[1] > c.Top {
				left = append(left, [2]measure.Length{max(s[0], c.Top), s[1]})
			}
			if s[0] < foot {
				left = append(left, [2]measure.Length{s[0], min(s[1], foot)})
			}
			if low, high := max(s[0], foot), min(s[1], c.Top-measure.Millimetre); inWall && low < high {
				left = append(left, [2]measure.Length{low, high})
			}
		}
		stretches = left
	}
	if !hidden && lo.Z >= 0 {
		return []frame.Prism{part.Body}
	}
	slices.SortFunc(stretches, func(a, b [2]measure.Length) int { return cmp.Compare(b[1], a[1]) })
	var list []frame.Prism
	for _, s := range stretches {
		if p, ok := part.Body.Slice(max(s[0], 0), s[1]); ok {
			list = append(list, p)
		}
	}
	return list
}

// foot is the walls' lower edge.
func (d *drawing) foot() measure.Length {
	low := measure.MaxLength
	for _, p := range d.f.Parts {
		if p.Course > 0 || p.Kind == frame.Apron {
			lo, _ := p.Body.Bounds()
			low = min(low, lo.Z)
		}
	}
	return low
}

// standsOn reports whether another room for soil ends where a cavity begins.
func (d *drawing) standsOn(c frame.Cavity) bool {
	return slices.ContainsFunc(d.f.Cavities, func(o frame.Cavity) bool { return o.Top == c.Bottom && !o.Pot })
}

// goesOn reports whether another room for soil goes on above a cavity's soil.
func (d *drawing) goesOn(c frame.Cavity) bool {
	for _, o := range d.f.Cavities {
		if o.Bottom == c.Top && o.Outline[0].U < c.Outline[2].U && o.Outline[2].U > c.Outline[0].U &&
			o.Outline[0].V < c.Outline[2].V &&
			o.Outline[2].V > c.Outline[0].V {
			return true
		}
	}
	return false
}
