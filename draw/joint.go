package draw

import (
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Joint draws how a joint is made, twice: on the left the piece that is fastened from
// its face, with where the screws go; on the right cut through one of them, with its
// holes, its thread and the wood behind its tip. Both are to scale, each to its own.
func Joint(d fixing.Detail, p measure.Precision, s Sheet) string {
	j := &joint{d: d, p: p, size: s.Font}
	j.open(s.W, s.H, string(d.Kind)+", how it is made", s.Own)
	half := s.W * 0.5
	j.face(pt{0, 0}, pt{half, s.H})
	j.through(pt{half, 0}, pt{s.W, s.H})
	return j.close()
}

type joint struct {
	page
	d    fixing.Detail
	p    measure.Precision
	size float64
}

// along reports whether the screws are spread along a piece, not across its end.
func (j *joint) along() bool { return j.d.End == 0 && j.d.Run > 12*measure.Inch }

// face draws the fastened piece from its face within a box.
func (j *joint) face(lo, hi pt) {
	d, size := j.d, j.size
	left, right, top, bottom := lo.x+size*5.4, hi.x-size*1.2, lo.y+size*2.4, hi.y-size*1.2
	if j.along() {
		n := min(d.Face, 3)
		shown := d.Edge + d.Apart*measure.Length(n-1) + d.Apart/2
		scale := (right - left) / float64(shown)
		mid := (top + bottom) / 2
		high := min(size*2.4, (bottom-top)/2)
		j.poly(
			"d-timber-face",
			[]pt{{left, mid - high}, {right, mid - high}, {right - 5, mid}, {right, mid + high}, {left, mid + high}},
		)
		for k := range n {
			j.head(pt{left + float64(d.Edge+d.Apart*measure.Length(k))*scale, mid})
		}
		first := left + float64(d.Edge)*scale
		j.span(pt{left, mid - high - size*0.7}, pt{first, mid - high - size*0.7}, j.p.Short(d.Edge))
		if n > 1 {
			j.span(
				pt{first, mid + high + size*1.5},
				pt{first + float64(d.Apart)*scale, mid + high + size*1.5},
				j.p.Short(d.Apart),
			)
		}
		return
	}
	wide := max(d.End*3, d.Run*3/4)
	scale := min((right-left)/float64(wide), (bottom-top)/float64(d.Run))
	high := float64(d.Run) * scale
	r := min(right, left+float64(wide)*scale)
	j.poly("d-timber-face", []pt{{left, top}, {r, top}, {r - 5, top + high/2}, {r, top + high}, {left, top + high}})
	x := left + float64(d.End)*scale
	if d.End == 0 {
		x = (left + r) / 2
	}
	y := func(k int) float64 { return top + float64(d.Edge+d.Apart*measure.Length(k))*scale }
	for k := range d.Face {
		j.head(pt{x, y(k)})
		if d.Offset > 0 {
			j.add(
				`<circle class="d-hidden" cx="%s" cy="%s" r="4"/>`,
				n(x+float64(d.End)*scale*0.55),
				n(y(k)+float64(d.Offset)*scale),
			)
		}
	}
	if d.End > 0 {
		j.span(pt{left, top - size*0.7}, pt{x, top - size*0.7}, j.p.Short(d.End))
	}
	j.rise(left-size*0.8, top, y(0), j.p.Short(d.Edge))
	if d.Face > 1 {
		j.rise(left-size*0.8, y(0), y(1), j.p.Short(d.Apart))
	}
}

// through draws the joint cut through a screw.
func (j *joint) through(lo, hi pt) {
	d, size := j.d, j.size
	left, right := lo.x+size*1.6, hi.x-size*1.2
	top, bottom := lo.y+size*2.6, hi.y-size*2.6
	into := min(d.Into, d.Fixing.Length-d.Through+max(d.Fixing.Length/3, measure.Inch/2))
	scale := min((right-left)/float64(d.Through+into), 4e-6)
	at := func(l measure.Length) float64 { return left + float64(l)*scale }
	face, far := at(d.Through), at(d.Through+into)
	mid := (top + bottom) / 2
	first := "d-timber-face"
	if d.Kind == frame.Bracket || d.Kind == frame.Splice { // of metal
		first = "d-screw"
	}
	j.poly(first, []pt{{left, top}, {face, top}, {face, bottom}, {left, bottom}})
	back := []pt{{face, top}, {far, top}, {far, bottom}, {face, bottom}}
	if into < d.Into { // it goes on
		back = []pt{{face, top}, {far, top}, {far - 6, mid}, {far, bottom}, {face, bottom}}
	}
	class := "d-timber-side"
	if d.EndGrain {
		class = "d-timber-end"
	}
	j.poly(class, back)
	thick := max(3, float64(d.Fixing.Diameter)*scale/2)
	if d.Clear > 0 {
		c := max(thick+1.5, float64(d.Clear)*scale/2)
		j.page.rect("d-halo", left, mid-c, face-left, 2*c)
	}
	tip := at(d.Fixing.Length)
	j.poly(
		"d-screw",
		[]pt{
			{left, mid - thick*2},
			{left + thick*1.5, mid - thick},
			{tip - thick*2, mid - thick},
			{tip, mid},
			{tip - thick*2, mid + thick},
			{left + thick*1.5, mid + thick},
			{left, mid + thick*2},
		},
	)
	for x := max(face, tip-float64(d.Thread)*scale); x < tip-thick*2; x += 5 {
		j.line("d-thread", pt{x, mid - thick - 1.5}, pt{x + 2, mid + thick + 1.5})
	}
	if d.Washer {
		j.page.rect("d-screw", left-3, mid-thick*3, 3, thick*6)
	}
	j.span(pt{left, top - size*0.7}, pt{face, top - size*0.7}, j.p.Short(d.Through))
	j.span(
		pt{max(face, tip-float64(d.Thread)*scale), bottom + size*1.7},
		pt{tip, bottom + size*1.7},
		"thread "+j.p.Short(d.Thread),
	)
}

func (j *joint) head(c pt) {
	j.add(`<circle class="d-screw" cx="%s" cy="%s" r="4.5"/>`, n(c.x), n(c.y))
	j.line("d-thread", pt{c.x - 2.4, c.y}, pt{c.x + 2.4, c.y})
	j.line("d-thread", pt{c.x, c.y - 2.4}, pt{c.x, c.y + 2.4})
}

// span is a level dimension with its words above.
func (j *joint) span(a, b pt, words string) {
	j.line("d-dim", a, b)
	for _, q := range []pt{a, b} {
		j.line("d-tick", pt{q.x - 3, q.y + 3}, pt{q.x + 3, q.y - 3})
	}
	j.text("d-text", pt{(a.x + b.x) / 2, a.y - j.size*0.4}, j.size, 0, words)
}

// rise is an upright one with its words to the left.
func (j *joint) rise(x, from, to float64, words string) {
	j.line("d-dim", pt{x, from}, pt{x, to})
	for _, y := range []float64{from, to} {
		j.line("d-tick", pt{x - 3, y + 3}, pt{x + 3, y - 3})
	}
	j.text("d-text", pt{x - textWidth(words, j.size)/2 - 4, (from+to)/2 + j.size*0.34}, j.size, 0, words)
}
