package draw

import (
	"fmt"
	"math"

	"chamfer/core/review"
)

// letters writes each part's shop letter where it is seen, once for each place.
func (d *drawing) letters() {
	if d.view == Solid && d.sheet.Parts == nil {
		return
	}
	r := d.sheet.Font * 0.72
	middle := pt{(d.box[0].x + d.box[1].x) / 2, (d.box[0].y + d.box[1].y) / 2}
	lettered := map[string]bool{}
	for i, b := range d.order {
		if b.part == nil || lettered[b.part.ID] || d.sheet.New != nil && !has(d.sheet.New, b.part.ID) {
			continue
		}
		for _, f := range b.visible(d.cam) {
			pts := d.corners(f)
			lo, hi := bounds(pts)
			c := pt{(lo.x + hi.x) / 2, (lo.y + hi.y) / 2}
			if hi.x-lo.x > hi.y-lo.y { // off the middle, where posts and dimensions are
				c.x = lo.x + (hi.x-lo.x)*0.36
			}
			if d.covered(i, c) || min(hi.x-lo.x, hi.y-lo.y) < 2 {
				continue
			}
			at := c
			narrow := 2.2 * r
			if d.elevation() { // boards lie close: a letter may stand a little over its neighbours
				narrow = 1.1 * r
			}
			if min(hi.x-lo.x, hi.y-lo.y) < narrow { // too narrow: set it beside, onto the soil or off the figure
				by := r + 8
				if d.elevation() {
					by = -(min(hi.x-lo.x, hi.y-lo.y)/2 + r + 2)
					if hi.x-lo.x > hi.y-lo.y { // clear of the number on the dimension above
						at.x = lo.x + (hi.x-lo.x)*0.12
						if math.Abs(at.x-middle.x) < 0.25*(d.box[1].x-d.box[0].x) {
							at.x = hi.x - (hi.x-lo.x)*0.12
						}
					}
				}
				if hi.x-lo.x > hi.y-lo.y {
					at.y += math.Copysign(1, middle.y-c.y) * by
				} else {
					at.x += math.Copysign(1, middle.x-c.x) * by
				}
			}
			if near(d.taken, at, 2.1*r) {
				continue
			}
			d.taken = append(d.taken, at)
			if at != c {
				d.line("d-ext", c, at)
			}
			d.add(`<circle class="d-disc" cx="%s" cy="%s" r="%s"/>`, n(at.x), n(at.y), n(r))
			d.text("d-text d-letter", pt{at.x, at.y + r*0.345*inDisc(b.part.Letter)}, r*inDisc(b.part.Letter), 0, b.part.Letter)
			lettered[b.part.ID] = true
			break
		}
	}
}

// inDisc is how large a letter stands in a disc of radius 1: what carries a bed's
// number, or two letters, is set smaller.
func inDisc(letter string) float64 { return []float64{1.45, 1.45, 1.2, 0.92}[min(len(letter), 3)] }

func near(taken []pt, q pt, r float64) bool {
	for _, t := range taken {
		if math.Hypot(t.x-q.x, t.y-q.y) < r {
			return true
		}
	}
	return false
}

// covered reports whether a later body is drawn over q.
func (d *drawing) covered(i int, q pt) bool {
	for _, b := range d.order[i+1:] {
		for _, f := range b.visible(d.cam) {
			if inside(q, d.corners(f)) {
				return true
			}
		}
	}
	return false
}

// widest finds the middle, on paper, of the part that shows the most of itself
// in this view.
func (d *drawing) widest(ids []string) (pt, bool) {
	var at pt
	most := -1.0
	for _, id := range ids {
		p, ok := d.f.Part(id)
		if !ok {
			continue
		}
		var pts []pt
		for _, c := range p.Body.Corners() {
			pts = append(pts, d.place(c))
		}
		lo, hi := bounds(pts)
		if size := (hi.x - lo.x) * (hi.y - lo.y); size > most {
			most, at = size, pt{(lo.x + hi.x) / 2, (lo.y + hi.y) / 2}
		}
	}
	at.x = min(max(at.x, d.box[0].x+12), d.box[1].x-12)
	return at, most >= 0
}

// doubts puts a mark where a finding is.
func (d *drawing) doubts() {
	k := 0
	for _, f := range d.plan.Findings {
		if f.Bed != d.f.Bed || f.Kept || len(f.Parts) == 0 {
			continue
		}
		k++
		c, ok := d.widest(f.Parts)
		if !ok {
			continue
		}
		for near(d.taken, c, d.sheet.Font*1.6) {
			c.x += d.sheet.Font * 1.8
		}
		d.taken = append(d.taken, c)
		s := d.sheet.Font * 0.75
		d.add(`<g data-finding="%s" data-doubt="%d"><title>%s</title>`, esc(f.Code), k, esc(f.Text))
		switch f.Severity {
		case review.Note:
			d.add(`<circle class="d-doubt d-known" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(s*0.9))
		case review.Stop:
			d.poly("d-doubt d-stop", []pt{{c.x - s, c.y - s}, {c.x + s, c.y - s}, {c.x + s, c.y + s}, {c.x - s, c.y + s}})
		default:
			d.poly("d-doubt", []pt{{c.x, c.y - s}, {c.x + s, c.y}, {c.x, c.y + s}, {c.x - s, c.y}})
		}
		d.text("d-text d-doubt-text", pt{c.x, c.y + s*0.42}, s*1.25, 0, fmt.Sprint(k))
		d.end()
	}
}
