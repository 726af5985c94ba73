package draw

import (
	"fmt"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// fittings draws what runs thin and long above the soil: strings, wires, pipes.
func (d *drawing) fittings() {
	if d.sheet.Parts != nil || d.apart {
		return
	}
	for _, x := range d.f.Fittings {
		if len(x.Lines) == 0 {
			continue
		}
		d.add(`<g class="d-line d-line-%s"><title>%s</title>`, esc(x.Kind), esc(x.Place))
		for _, line := range x.Lines {
			var b strings.Builder
			for i, q := range line {
				at := d.place(q)
				fmt.Fprintf(&b, "%c%s %s", "ML"[min(i, 1)], n(at.x), n(at.y))
			}
			d.add(`<path d="%s"/>`, b.String())
		}
		d.end()
	}
}

// ground draws the ground line of an elevation, with the earth hatched.
func (d *drawing) ground() {
	if len(d.f.Levels) > 0 && d.view == End { // it slopes
		d.line(
			"d-ground d-slope",
			d.place(frame.Point{Y: d.f.Outside[0].V, Z: d.f.Grade[0]}),
			d.place(frame.Point{Y: d.f.Outside[1].V, Z: d.f.Grade[1]}),
		)
		return
	}
	if d.f.Fall > 0 && d.view == Front {
		a, b := d.place(frame.Point{X: d.f.Outside[0].U}), d.place(frame.Point{X: d.f.Outside[1].U, Z: -d.f.Fall})
		d.line("d-ground", pt{a.x - 24, a.y}, a)
		d.line("d-ground d-slope", a, b)
		d.line("d-ground", b, pt{b.x + 24, b.y})
		return
	}
	y := d.at(vec{}).y
	x0, x1 := d.box[0].x-16, d.box[1].x+16
	d.line("d-ground", pt{x0, y}, pt{x1, y})
	var b strings.Builder
	for x := x0 + 6; x < x1; x += 11 {
		fmt.Fprintf(&b, "M%s %sl-6 7", n(x), n(y))
	}
	d.add(`<path class="d-earth" d="%s"/>`, b.String())
}

// behind draws what boards or soil hide, dashed: posts behind the walls, ties in
// the soil, and in an elevation the surface of the soil.
func (d *drawing) behind() {
	if d.sheet.Parts != nil || d.apart {
		return
	}
	drawn := map[string]bool{}
	for _, b := range d.order {
		if b.part != nil {
			drawn[b.part.ID] = true
		}
	}
	for i := range d.f.Parts {
		p := &d.f.Parts[i]
		if drawn[p.ID] && !(d.elevation() && p.Hidden) {
			continue
		}
		if drawn[p.ID] { // its foot is in sight
			d.begin("unseen")
		} else {
			d.group(p, "")
		}
		var pts []pt
		unseen := p.Body
		if above, ok := unseen.Slice(d.foot(), measure.MaxLength); ok && d.elevation() { // below that nothing hides it
			unseen = above
		}
		for _, c := range unseen.Corners() {
			pts = append(pts, d.place(c))
		}
		class := "d-hidden"
		if !d.elevation() && p.Kind != frame.Tie {
			class = "d-buried" // seen when it is looked for
		}
		d.poly(class, hull(pts))
		if drawn[p.ID] {
			d.end()
		} else {
			d.endPart()
		}
	}
	if !d.elevation() {
		return
	}
	for _, c := range d.f.Cavities {
		var pts []pt
		for _, s := range c.Outline {
			pts = append(pts, d.place(frame.Point{X: s.U, Y: s.V, Z: c.Top}))
		}
		lo, hi := bounds(pts)
		if c.Pot {
			foot := c.Bottom
			for _, p := range d.f.Parts { // the rail before it hides that
				if _, top := p.Body.Bounds(); p.Course > 0 && top.Z < c.Top {
					foot = max(foot, top.Z)
				}
			}
			low := d.place(frame.Point{Z: foot}).y
			d.poly("d-pot", []pt{{lo.x, lo.y}, {hi.x, lo.y}, {hi.x, low}, {lo.x, low}})
			continue
		}
		if !d.goesOn(c) {
			d.line("d-level", lo, pt{hi.x, lo.y})
		}
	}
}
