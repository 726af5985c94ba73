package draw

import (
	"fmt"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Section draws a bed of blocks or a cast wall cut through from front to back in the
// middle: the wall course by course, the screed and the stone below it, the ground,
// what drains it and the soil. Of one that stands on the level it shows the wall in
// front and a stretch of soil; of terraces, all. It is "" where nothing is laid.
func Section(f *frame.Frame, p measure.Precision, s Sheet) string {
	if len(f.Bases) == 0 {
		return ""
	}
	d := &section{f: f, p: p, sheet: s, base: f.Bases[0], at: (f.Outside[0].U+f.Outside[1].U)/2 + beside}
	d.level = f.GroundAt(d.at)
	walls := d.walls()
	if len(walls) == 0 {
		return ""
	}
	d.frame(walls)
	d.open(s.W, s.H, "Section through "+f.Name, s.Own)
	d.earth(walls)
	d.soil(walls)
	for _, w := range walls {
		d.bed(w)
	}
	d.solids()
	d.ground(walls)
	d.names(walls)
	d.barOn(s, d.scale*float64(measure.Millimetre), p.System)
	return d.close()
}

// beside is how far from the middle it is cut: there a joint may be.
const beside = 40 * measure.Millimetre

// pastWall is how far the section goes beyond its wall on either side.
const (
	pastWall = 600 * measure.Millimetre
	before   = 300 * measure.Millimetre
)

type section struct {
	page
	f      *frame.Frame
	p      measure.Precision
	sheet  Sheet
	base   frame.Base
	at     measure.Length // along the front
	scale  float64
	zero   pt             // of V and height 0
	lo, hi measure.Length // shown, front to back
	low    measure.Length // of what is shown
	level  measure.Length // of the ground here, where it falls along the front
	back   bool           // seen from behind: what stands in front has a gap here
}

// stretch is from front to back where a wall or soil is cut.
type stretch struct{ from, to, foot measure.Length }

// crossed are the stretches of an outline along the cut.
func crossed(outline []frame.Spot, at measure.Length) [][2]measure.Length {
	var hits []measure.Length
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if (a.U <= at) == (b.U <= at) {
			continue
		}
		t := float64(at-a.U) / float64(b.U-a.U)
		hits = append(hits, a.V+measure.Length(t*float64(b.V-a.V)))
	}
	slices.Sort(hits)
	var list [][2]measure.Length
	for i := 1; i < len(hits); i += 2 {
		list = append(list, [2]measure.Length{hits[i-1], hits[i]})
	}
	return list
}

// walls are the feet that stand on the base, front first, neighbours as one.
func (d *section) walls() []stretch {
	var list []stretch
	add := func(outline []frame.Spot, foot measure.Length) {
		for _, c := range crossed(outline, d.at) {
			list = append(list, stretch{c[0], c[1], foot})
		}
	}
	lowest := 1
	for ; lowest < 1+d.f.Steps; lowest++ { // where the base goes down in steps
		if slices.ContainsFunc(d.f.Units, func(u frame.Unit) bool {
			return u.Course == lowest && u.Kind != frame.CapUnit && len(crossed(u.Body.Outline, d.at)) > 0
		}) {
			break
		}
	}
	for _, u := range d.f.Units {
		if u.Course == lowest && u.Kind != frame.CapUnit {
			for _, s := range u.Solids() {
				add(s.Outline, s.From)
			}
		}
	}
	for _, c := range d.f.Pours {
		for _, s := range c.Solids() {
			add(s.Outline, s.From)
		}
	}
	slices.SortFunc(list, func(a, b stretch) int { return int(a.from - b.from) })
	var joined []stretch
	for _, s := range list {
		if n := len(joined); n > 0 && s.from-joined[n-1].to < 25*measure.Millimetre && s.foot == joined[n-1].foot {
			joined[n-1].to = max(joined[n-1].to, s.to)
			continue
		}
		joined = append(joined, s)
	}
	return joined
}

// frame chooses what is shown, and how large.
func (d *section) frame(walls []stretch) {
	first, last := walls[0], walls[len(walls)-1]
	d.lo, d.hi = first.from-before, min(first.to+pastWall, d.f.Outside[1].V+before)
	switch {
	case len(d.f.Levels) > 0:
		d.hi = d.f.Outside[1].V + before
	case first.from > d.f.Outside[0].V+2*(first.to-first.from): // the way in is in front
		d.back = true
		d.lo, d.hi = last.from-pastWall, last.to+before
	}
	low := first.foot - d.base.Screed - d.base.Stone
	high := d.f.Rim
	for _, u := range d.f.Units {
		_, top := u.Body.Bounds()
		high = max(high, top.Z)
	}
	for _, c := range d.f.Cavities {
		high = max(high, c.Top)
	}
	d.low = low - 40*measure.Millimetre
	low = d.low
	size := d.sheet.Font
	left, right, above, below := size*8.5, size*1.5, size*1.2, size*1.8
	if d.thin() {
		left = size * 1.5
	}
	w, h := d.sheet.W-left-right, d.sheet.H-above-below
	d.scale = min(w/float64(d.hi-d.lo), h/float64(high-low))
	d.zero = pt{
		left + (w-float64(d.hi-d.lo)*d.scale)/2 - float64(d.lo)*d.scale,
		above + (h-float64(high-low)*d.scale)/2 + float64(high)*d.scale,
	}
	if d.back {
		d.zero.x = left + (w-float64(d.hi-d.lo)*d.scale)/2 + float64(d.hi)*d.scale
	}
}

// thin reports whether the sheet has no room for words beside the drawing.
func (d *section) thin() bool { return d.sheet.W < 500 }

func (d *section) place(v, z measure.Length) pt {
	x := float64(v) * d.scale
	if d.back {
		x = -x
	}
	return pt{d.zero.x + x, d.zero.y - float64(z)*d.scale}
}

// box draws what is cut, as far as it is shown.
func (d *section) box(class string, from, to, low, high measure.Length) []pt {
	from, to = max(from, d.lo), min(to, d.hi)
	if from >= to || low >= high {
		return nil
	}
	pts := []pt{d.place(from, low), d.place(to, low), d.place(to, high), d.place(from, high)}
	d.poly(class, pts)
	return pts
}

// pebbles strews a box with stones, the same way every time.
func (d *section) pebbles(pts []pt) {
	if pts == nil {
		return
	}
	lo, hi := bounds(pts)
	seed := uint32(11)
	for y := lo.y + 5; y < hi.y-3; y += 8 {
		for x := lo.x + 5; x < hi.x-4; x += 10 {
			seed = seed*1664525 + 1013904223
			d.add(
				`<ellipse class="d-pebble" cx="%s" cy="%s" rx="%s" ry="2.2"/>`,
				n(x+float64(seed>>29)/4),
				n(y+float64(seed>>26&7)/5),
				n(2.4+float64(seed>>23&7)/5),
			)
		}
	}
}

// earth draws the ground as it will be: up to each wall's foot and under the soil.
func (d *section) earth(walls []stretch) {
	if len(d.f.Levels) == 0 {
		d.box("d-under", d.lo, d.hi, d.low, d.level)
		return
	}
	d.box("d-under", d.lo, walls[0].from, d.low, d.f.Grade[0])
	for _, w := range walls {
		d.box("d-under", w.from, w.to, d.low, w.foot)
	}
	for _, c := range d.f.Cavities {
		for _, in := range crossed(c.Outline, d.at) {
			d.box("d-under", in[0], in[1], d.low, c.Bottom)
		}
	}
}

// soil draws the soil with what drains it beside the walls.
func (d *section) soil(walls []stretch) {
	for _, c := range d.f.Cavities {
		if d.f.Fall > 0 {
			c.Bottom = d.level
		}
		for _, in := range crossed(c.Outline, d.at) {
			if pts := d.box("d-soil", in[0], in[1], c.Bottom, c.Top); pts != nil {
				d.flecks(pts)
			}
			for _, w := range walls {
				if len(d.f.Drains) == 0 {
					break
				}
				wide := d.f.Drains[0].Wide
				near := func(a, b measure.Length) bool { return max(a-b, b-a) < measure.Millimetre }
				if near(w.to, in[0]) {
					d.pebbles(d.box("d-base", in[0], in[0]+wide, c.Bottom, c.Top))
					d.line("d-cloth", d.place(in[0]+wide, c.Bottom), d.place(in[0]+wide, c.Top))
				}
				if near(w.from, in[1]) && len(d.f.Levels) == 0 {
					d.pebbles(d.box("d-base", in[1]-wide, in[1], c.Bottom, c.Top))
					d.line("d-cloth", d.place(in[1]-wide, c.Bottom), d.place(in[1]-wide, c.Top))
				}
			}
		}
	}
}

// bed draws the base under one wall.
func (d *section) bed(w stretch) {
	b := d.base
	beside := (b.Wide - b.Thick) / 2
	d.pebbles(d.box("d-base", w.from-beside, w.to+beside, w.foot-b.Screed-b.Stone, w.foot-b.Screed))
	d.box("d-screed", w.from, w.to, w.foot-b.Screed, w.foot)
}

// solids draws units, casts and boards that are cut.
func (d *section) solids() {
	for _, u := range d.f.Units {
		for _, s := range u.Solids() {
			for _, c := range crossed(s.Outline, d.at) {
				d.box("d-stone-face", c[0], c[1], s.From, s.To)
			}
		}
	}
	for _, c := range d.f.Pours {
		for _, s := range c.Solids() {
			for _, x := range crossed(s.Outline, d.at) {
				d.box("d-stone-face", x[0], x[1], s.From, s.To)
			}
		}
	}
	for _, p := range d.f.Parts {
		if lo, hi := p.Body.Bounds(); lo.X < d.at && hi.X > d.at {
			d.box("d-timber-end", lo.Y, hi.Y, lo.Z, hi.Z)
		}
	}
}

// ground draws its surface up to the walls, as it is before anything is dug where
// it slopes.
func (d *section) ground(walls []stretch) {
	if len(d.f.Levels) > 0 {
		from := d.place(d.f.Outside[0].V, d.f.Grade[0])
		for i, w := range walls[min(1, len(walls)):] { // every wall begins where the ground is its own foot's
			if l := d.f.Levels; i+1 < len(l) && d.f.Baseline {
				to := d.place(w.from, l[i+1].Height-l[i+1].Wall)
				if i == 0 {
					from = d.place(walls[0].from, d.f.Grade[0])
				}
				d.line("d-ground d-slope", from, to)
				from = to
			}
		}
		d.line("d-ground d-slope", from, d.place(d.f.Outside[1].V, d.f.Grade[1]))
		d.line("d-ground", d.place(d.lo, d.f.Grade[0]), d.place(walls[0].from, d.f.Grade[0]))
		return
	}
	from, to := d.lo, walls[0].from
	if d.back {
		from, to = walls[len(walls)-1].to, d.hi
	}
	a, b := d.place(from, d.level), d.place(to, d.level)
	d.line("d-ground", a, b)
	for x := min(a.x, b.x) + 6; x < max(a.x, b.x); x += 11 {
		d.line("d-earth", pt{x, a.y}, pt{x - 6, a.y + 7})
	}
}

// names writes what is what, with its measure, beside the front of the wall.
func (d *section) names(walls []stretch) {
	size := d.sheet.Font
	w := walls[0]
	if d.back {
		w = walls[len(walls)-1]
	}
	face := w.from
	if d.back {
		face = w.to
	}
	b := d.base
	buried := b.Buried
	if d.f.Fall > 0 {
		buried = d.level - w.foot
	}
	rows := []struct {
		z     measure.Length
		words string
	}{
		{w.foot + (d.f.Rim-w.foot)/2, fmt.Sprintf("wall %s thick", d.p.Short(w.to-w.from))},
		{w.foot, fmt.Sprintf("buried %s", d.p.Short(buried))},
		{w.foot - b.Screed/2, fmt.Sprintf("screed %s", d.p.Short(b.Screed))},
		{w.foot - b.Screed - b.Stone/2, fmt.Sprintf("stone %s", d.p.Short(b.Stone))},
	}
	if len(d.f.Levels) > 0 {
		rows[0] = struct {
			z     measure.Length
			words string
		}{w.foot + b.Buried + d.f.Levels[0].Wall/2, fmt.Sprintf("each wall %s", d.p.Feet(d.f.Levels[0].Wall))}
	}
	if b.Screed == 0 {
		rows = slices.Delete(rows, 2, 3)
	}
	if b.Stone == 0 {
		rows = rows[:len(rows)-1]
	}
	if !d.thin() {
		last := -1e9
		edge := d.sheet.Font * 8.2
		for _, r := range rows {
			q := d.place(face, r.z)
			y := max(q.y, last+size*1.25)
			last = y
			words := textWidth(r.words, size)
			d.line("d-ext", pt{edge + 4, y}, pt{q.x - 14, y})
			d.line("d-ext", pt{q.x - 14, y}, q)
			d.text("d-text", pt{max(edge-words/2, words/2+2), y + size*0.34}, size, 0, r.words)
		}
	}
	for _, c := range d.f.Cavities {
		if d.f.Fall > 0 {
			c.Bottom = d.level
		}
		for _, in := range crossed(c.Outline, d.at) {
			from, to := max(in[0], d.lo), min(in[1], d.hi)
			if from >= to {
				continue
			}
			m := d.place((from+to)/2+(to-from)/8, (c.Bottom+c.Top)/2)
			words := "soil " + d.p.Short(c.Top-c.Bottom)
			wide := textWidth(words, size) + 8
			if wide > float64(to-from)*d.scale || size*1.5 > float64(c.Top-c.Bottom)*d.scale {
				continue
			}
			d.page.rect("d-halo", m.x-wide/2, m.y-size*0.8, wide, size*1.5)
			d.text("d-text", pt{m.x, m.y + size*0.34}, size, 0, words)
		}
	}
}
