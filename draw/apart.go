package draw

import (
	"fmt"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// floatingAct is one act of assembly whose parts still float, where its number
// goes.
type floatingAct struct {
	number int
	parts  []string
}

// float lifts the parts of every act from the done-th on above what stands, one
// act above the other, so that they come down in the order they are built in.
// Parts that were made up loose come down with the act that puts them in place.
func (d *drawing) float(done int) {
	d.lifts, d.floating = map[string]measure.Length{}, nil
	top := measure.Length(0)
	gap := measure.Length(0)
	for _, p := range d.f.Parts {
		lo, hi := p.Body.Bounds()
		top, gap = max(top, hi.Z), max(gap, (hi.Z-lo.Z)/3)
	}
	for _, u := range d.f.Units {
		_, hi := u.Body.Bounds()
		top = max(top, hi.Z)
	}
	gap = max(gap/2, d.f.Rim/5)
	if lo, hi := d.f.Bounds(); gap < (hi.Y-lo.Y)/6 { // wide beds: the tilt brings far parts up
		gap = (hi.Y - lo.Y) / 6
	}
	number := 0
	top = d.standing(done)
	for i := range d.f.Acts {
		parts := d.placedBy(i)
		if len(parts) == 0 {
			continue
		}
		number++
		if i < done {
			continue
		}
		lo, hi := measure.MaxLength, -measure.MaxLength
		for _, id := range parts {
			p, _ := d.f.Solid(id)
			a, b := p.Bounds()
			lo, hi = min(lo, a.Z), max(hi, b.Z)
		}
		for _, id := range parts {
			d.lifts[id] = top + gap - lo
		}
		top += gap + hi - lo
		d.floating = append(d.floating, floatingAct{number, parts})
	}
}

// placedBy lists the parts an act puts in place. What is made up and then joined by others to the rest is shown where
// it was made up; where nothing else joins it, where it is joined.
func (d *drawing) placedBy(i int) []string {
	a := d.f.Acts[i]
	if a.Loose {
		if !slices.ContainsFunc(d.f.Acts[i+1:], func(o frame.Act) bool {
			return len(o.Parts) > 0 && len(a.Parts) > 0 && slices.Contains(o.Again, a.Parts[0])
		}) {
			return nil
		}
		return a.Parts
	}
	if len(a.Parts) > 0 {
		return d.f.Pieces(a.Parts) // what is cast stays where it is
	}
	return a.Again
}

// standing is the height of what the first acts have built.
func (d *drawing) standing(done int) measure.Length {
	top := measure.Length(0)
	for i := range min(done, len(d.f.Acts)) {
		for _, id := range d.placedBy(i) {
			p, _ := d.f.Solid(id)
			_, hi := p.Bounds()
			top = max(top, hi.Z)
		}
	}
	return top
}

// actNumbers writes the number of every act that still floats down the left
// margin, with a line to its parts. The acts come down one above the other, so
// their numbers keep that order, apart from one another and on the sheet.
func (d *drawing) actNumbers() {
	r := d.sheet.Font * 0.9
	if n := float64(len(d.floating)); n > 0 {
		r = min(r, d.sheet.H/(2.3*n))
	}
	step := 2.3 * r
	lefts, heights := make([]pt, len(d.floating)), make([]float64, len(d.floating))
	below := d.sheet.H - r - 1 + step
	for i, a := range d.floating {
		lefts[i] = d.leftOf(a.parts)
		heights[i] = min(lefts[i].y, below-step)
		below = heights[i]
	}
	above := r + 1 - step
	for i := len(heights) - 1; i >= 0; i-- {
		heights[i] = max(heights[i], above+step)
		above = heights[i]
	}
	for i, a := range d.floating {
		c := pt{max(r+2, d.box[0].x-2.4*r), heights[i]}
		d.line("d-ext", pt{c.x + r + 2, c.y}, lefts[i])
		d.add(`<circle class="d-act" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(r))
		d.text("d-text d-act-text", pt{c.x, c.y + r*0.42}, r*1.25, 0, fmt.Sprint(a.number))
	}
}

// leftOf finds the leftmost edge of parts on paper, at its middle height.
func (d *drawing) leftOf(parts []string) pt {
	left := pt{d.sheet.W, d.sheet.H}
	for _, b := range d.order {
		if !slices.Contains(parts, b.id()) {
			continue
		}
		if x := b.lo.x*d.scale + d.shift.x; x < left.x {
			left = pt{x, (b.lo.y+b.hi.y)/2*d.scale + d.shift.y}
		}
	}
	return left
}
