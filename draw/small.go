package draw

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Small draws a bed in little, to be compared with others: from above, and its courses from
// the front below that. Beds that are compared share their scale: all is the largest of their
// sizes.
func Small(f *frame.Frame, all measure.Length, s Sheet) string {
	d := &setOut{f: f, sheet: s}
	lo, hi := f.Outside[0], f.Outside[1]
	d.scale = min(s.W, s.H) * 0.94 / math.Max(1, float64(all))
	below := float64(f.Rim) * d.scale // the front's height
	d.origin = pt{(s.W-float64(hi.U-lo.U)*d.scale)/2 - float64(lo.U)*d.scale, s.H*0.97 + float64(lo.V)*d.scale}
	d.open(s.W, s.H+below+10, f.Name+" in little", s.Own)
	for _, o := range f.Openings {
		if o.Round != nil {
			d.poly("d-soil", d.outline(o.Round))
		} else {
			d.poly("d-soil", d.rect(o.Lo, o.Hi))
		}
	}
	d.walls()
	foot := s.H + below + 6
	type face struct {
		class string
		of    frame.Prism
	}
	var faces []face
	for _, u := range f.Units {
		faces = append(faces, face{"d-stone-face", u.Body})
	}
	for _, p := range f.Parts {
		if p.Course > 0 {
			faces = append(faces, face{"d-timber-face", p.Body})
		}
	}
	slices.SortStableFunc(faces, func(x, y face) int { // what is further away first
		a, _ := x.of.Bounds()
		b, _ := y.of.Bounds()
		return cmp.Compare(b.Y, a.Y)
	})
	for _, x := range faces {
		a, c := x.of.Bounds()
		if c.Z <= 0 || (a.Y+c.Y)/2 > (lo.V+hi.V)/2 {
			continue // below the ground, or behind
		}
		d.page.rect(x.class, d.at(frame.Spot{U: a.X}).x, foot-float64(c.Z)*d.scale, float64(c.X-a.X)*d.scale,
			float64(c.Z-max(0, a.Z))*d.scale)
	}
	d.line("d-ground", pt{d.at(lo).x - 4, foot}, pt{d.at(hi).x + 4, foot})
	return d.close()
}
