package draw

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// Fill draws a bed cut through from front to back, with what it is filled with in layers: each with
// its depth, its volume and its weight, and a grip at its top.
func Fill(p *plan.Plan, bed string, s Sheet) string {
	b, err := p.Design.Bed(bed)
	if err != nil {
		return ""
	}
	d := &fillDrawing{section: section{p: p.Shop.Precision(), sheet: s}, plan: p, bed: *b}
	for i := range p.Frames {
		if p.Frames[i].Bed == bed {
			d.f = &p.Frames[i]
		}
	}
	for _, l := range p.Fill.Laid {
		if l.Bed == bed {
			d.laid = append(d.laid, l)
		}
	}
	d.draw()
	d.barOn(s, d.scale*float64(measure.Millimetre), p.Shop.Precision().System)
	return d.close()
}

type fillDrawing struct {
	section
	plan *plan.Plan
	bed  design.Bed
	laid []fill.Laid
}

func (d *fillDrawing) draw() {
	f := d.f
	d.at = d.between()
	beyond := 220 * measure.Millimetre
	d.lo, d.hi = f.Outside[0].V-beyond, f.Outside[1].V+beyond
	high, low := f.Rim, -160*measure.Millimetre
	for _, c := range f.Cavities {
		high, low = max(high, c.Top), min(low, c.Top-c.Depth()-100*measure.Millimetre)
	}
	d.low = low
	size := d.sheet.Font
	right, left, above, below := size*15, size*3.4, size*3, size*1.6
	words := float64(0) // rows below, where there is no room beside
	if d.thin() {
		right, left = size*0.6, size*3
		words = size * (1.5*float64(len(d.laid)) + 0.6)
	}
	w, h := d.sheet.W-left-right, d.sheet.H-above-below-words
	d.scale = min(w/float64(d.hi-d.lo), h/float64(high-low))
	d.zero = pt{left + (w-float64(d.hi-d.lo)*d.scale)/2 - float64(d.lo)*d.scale,
		above + (h-float64(high-low)*d.scale)/2 + float64(high)*d.scale}
	d.open(d.sheet.W, d.sheet.H, "Section through "+f.Name+" with its layers", d.sheet.Own)
	if !f.OnFeet {
		d.poly("d-earth-cut", []pt{d.place(d.lo, 0), d.place(d.hi, 0), d.place(d.hi, low), d.place(d.lo, low)})
	}
	var widest *cavityCut
	for _, c := range f.Cavities {
		for _, in := range crossed(c.Outline, d.at) {
			k := &cavityCut{c, in[0], in[1], fill.Heights(c, d.bed, d.plan.Shop.Catalog)}
			d.cavity(k)
			if widest == nil || in[1]-in[0] > widest.to-widest.from {
				widest = k
			}
		}
	}
	d.sheets()
	d.solids()
	if !f.OnFeet {
		d.blades()
	} else {
		d.line("d-ground", d.place(d.lo, 0), d.place(d.hi, 0))
	}
	if widest != nil {
		d.plants(widest)
		d.grips(widest)
		d.told(widest, size)
		d.depth(widest, size)
	}
}

// between is where along the front the bed is cut: near the middle, through as few posts as can be.
func (d *fillDrawing) between() measure.Length {
	mid := (d.f.Outside[0].U+d.f.Outside[1].U)/2 + beside
	best, least := mid, len(d.f.Parts)+1
	for k := range measure.Length(8) {
		at, n := mid+k*60*measure.Millimetre, 0
		for _, p := range d.f.Parts {
			if lo, hi := p.Body.Bounds(); p.Grain == frame.Z && lo.X < at && hi.X > at {
				n++
			}
		}
		if n < least && at < d.f.Outside[1].U-beside {
			best, least = at, n
		}
	}
	return best
}

// sheets draws what lies under the bed, on its floor and against its walls: mesh, cloth, card and
// membrane, each where it is laid, the upper strip over the lower.
func (d *fillDrawing) sheets() {
	class := map[string]string{"mesh": "d-mesh", "membrane": "d-membrane"}
	under := 0.0
	for _, s := range d.f.Sheets {
		line := class[s.Material]
		if line == "" {
			line = "d-cloth"
		}
		if !s.Inside {
			a, b := d.place(d.f.Outside[0].V, 0), d.place(d.f.Outside[1].V, 0)
			under += 3
			d.line(line, pt{a.x, a.y + under}, pt{b.x, b.y + under})
			continue
		}
		for _, c := range d.f.Cavities {
			for _, in := range crossed(c.Outline, d.at) {
				if c.Pot {
					continue
				}
				low, high := c.Bottom, min(c.Bottom+s.TurnUp, c.Top)
				if s.Lines {
					high = min(max(c.Rim, c.Top), c.Bottom+s.Width) - 25*measure.Millimetre
				}
				d.against(line, in, low, high, s.Lines)
			}
		}
	}
}

// against draws a sheet up both walls of a cavity, and over its floor where it does not only line them.
func (d *fillDrawing) against(class string, in [2]measure.Length, low, high measure.Length, lines bool) {
	const off = 2.5
	a, b := d.place(in[0], low), d.place(in[1], low)
	top := d.place(in[0], high).y
	if lines {
		mid := (a.y + top) / 2 // strips lap in the middle: the upper hangs over the lower
		for _, side := range []struct{ x, way float64 }{{a.x, 1}, {b.x, -1}} {
			d.line(class, pt{side.x + side.way*off, a.y}, pt{side.x + side.way*off, mid - 5})
			d.line(class, pt{side.x + side.way*2*off, mid + 5}, pt{side.x + side.way*2*off, top})
		}
		return
	}
	d.add(`<path class="%s" d="M%s %sV%sH%sV%s"/>`, class, n(a.x+off), n(top), n(a.y-off), n(b.x-off), n(top))
}

// cavityCut is a cavity where the section cuts it, with the tops of its layers.
type cavityCut struct {
	frame.Cavity
	from, to measure.Length
	tops     []measure.Length
}

// cavity draws the layers in one cavity.
func (d *fillDrawing) cavity(c *cavityCut) {
	low := c.Top - c.Depth()
	if len(c.Wedges) == 0 {
		low = c.Bottom
	}
	for i, l := range d.laid {
		top := c.tops[min(i, len(c.tops)-1)]
		if c.Pot {
			if !l.Top {
				continue
			}
			low, top = c.Bottom, c.Top
		}
		if top <= low {
			continue
		}
		pts := []pt{d.place(c.from, low), d.place(c.to, low), d.place(c.to, top), d.place(c.from, top)}
		d.material(l, pts)
		low = top
	}
	for _, m := range d.plan.Fill.Mulches {
		if m.Bed == d.bed.ID && !c.Pot {
			top := c.Top + m.Depth
			d.material(m, []pt{d.place(c.from, c.Top), d.place(c.to, c.Top), d.place(c.to, top), d.place(c.from, top)})
		}
	}
}

// material draws a layer in the hue and grain of what most of it is.
func (d *fillDrawing) material(l fill.Laid, pts []pt) {
	most := l.Parts[0]
	for _, s := range l.Parts {
		if s.Parts > most.Parts {
			most = s
		}
	}
	m, err := d.plan.Shop.Catalog.Material(most.Material)
	if err != nil {
		return
	}
	class := map[string]string{catalog.Rough: "d-rough", catalog.Food: "d-food", catalog.Light: "d-light",
		catalog.Soil: "d-soil"}[m.Kind]
	switch most.Material {
	case "sand":
		class = "d-sand"
	case "straw", "boxes":
		class = "d-straw"
	}
	d.poly(class, pts)
	lo, hi := bounds(pts)
	switch most.Material {
	case "branches":
		d.logs(lo, hi)
	case "straw", "leaves":
		d.strokes("d-straw-stroke", lo, hi, 15, 7, 9)
	case "boxes":
		d.boxes(lo, hi)
	case "chips":
		d.strokes("d-chip", lo, hi, 12, 8, 4)
	case "sand":
		d.strokes("d-grit", lo, hi, 9, 7, 0.6)
	default:
		if m.Kind == catalog.Soil {
			d.flecks(pts)
		} else {
			d.strokes("d-crumb", lo, hi, 13, 9, 1.6)
		}
	}
}

// strokes strews short strokes over a box, the same way every time.
func (d *fillDrawing) strokes(class string, lo, hi pt, across, down, long float64) {
	var b strings.Builder
	seed := uint32(5)
	for y := lo.y + down*0.6; y < hi.y-2; y += down {
		for x := lo.x + 4; x < hi.x-long-3; x += across {
			seed = seed*1664525 + 1013904223
			a := float64(seed>>27) / 31 * math.Pi
			p := pt{x + float64(seed>>20&7), y + float64(seed>>12&3)}
			q := pt{min(max(p.x+math.Cos(a)*long, lo.x+1), hi.x-1), min(max(p.y+math.Sin(a)*long*0.5, lo.y+1), hi.y-1)}
			fmt.Fprintf(&b, "M%s %sL%s %s", n(p.x), n(p.y), n(q.x), n(q.y))
		}
	}
	if b.Len() > 0 {
		d.add(`<path class="%s" d="%s"/>`, class, b.String())
	}
}

// logs draws the ends of branches, thick and thin, packed with soil.
func (d *fillDrawing) logs(lo, hi pt) {
	seed := uint32(3)
	for y := lo.y; y < hi.y-5; {
		row := 0.0
		for x := lo.x + 2; x < hi.x-6; {
			seed = seed*1664525 + 1013904223
			r := min(4+float64(seed>>27)/3.2, (hi.y-lo.y)/2-1, (hi.x-x)/2-1)
			if r < 2 {
				break
			}
			c := pt{x + r, min(y+r+float64(seed>>20&3), hi.y-r-1)}
			d.add(`<circle class="d-log" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(r))
			if r > 5 {
				d.add(`<circle class="d-log-ring" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(r*0.5))
			}
			x += 2*r + 2
			row = max(row, 2*r)
		}
		y += max(row, 6) + 2
	}
}

// boxes draws flattened cardboard, sheet on sheet.
func (d *fillDrawing) boxes(lo, hi pt) {
	var b strings.Builder
	for y := lo.y + 5; y < hi.y-1; y += 7 {
		fmt.Fprintf(&b, "M%s %s", n(lo.x+2), n(y))
		for x := lo.x + 2; x+6 < hi.x; x += 6 {
			b.WriteString("q1.5 -3 3 0t3 0")
		}
	}
	d.add(`<path class="d-straw-stroke" d="%s"/>`, b.String())
}

// blades draws the ground beside the bed, with grass on it.
func (d *fillDrawing) blades() {
	for _, s := range [][2]measure.Length{{d.lo, d.f.Outside[0].V}, {d.f.Outside[1].V, d.hi}} {
		a, b := d.place(s[0], 0), d.place(s[1], 0)
		d.line("d-ground", a, b)
		var path strings.Builder
		k := 0
		for x := a.x + 2; x < b.x; x += 5 {
			k++
			fmt.Fprintf(&path, "M%s %sl%s %s", n(x), n(a.y), n(float64(k%3-1)*1.6), n(-4-float64(k*7%4)))
		}
		d.add(`<path class="d-blade" d="%s"/>`, path.String())
	}
}

// plants draws seedlings on the surface, with their roots as deep as the soil over the filler lets
// them.
func (d *fillDrawing) plants(c *cavityCut) {
	a, b := d.place(c.from, c.Top), d.place(c.to, c.Top)
	good := c.Top - c.Bottom
	for i, l := range d.laid {
		if l.Rough {
			good = c.Top - c.tops[i]
		}
	}
	deep := min(float64(good)*d.scale, 70) * 0.86
	count := max(1, int((b.x-a.x)/70))
	for k := range count {
		x := a.x + (b.x-a.x)*(float64(k)+0.5)/float64(count)
		d.add(`<path class="d-leaf" d="M%s %sc-2 -8 -10 -10 -13 -8c2 5 8 8 13 8c1 -10 7 -14 13 -13c-1 7 -7 12 -13 13z"/>`,
			n(x), n(a.y))
		d.add(`<path class="d-root" d="M%s %sv%sm0 %sc-3 %s -9 %s -12 %sm12 %sc3 %s 8 %s 12 %s"/>`, n(x), n(a.y), n(deep),
			n(-deep*0.75), n(deep*0.2), n(deep*0.25), n(deep*0.5), n(-deep*0.4), n(deep*0.2), n(deep*0.2), n(deep*0.45))
	}
}

// grips draws where layers are taken hold of.
func (d *fillDrawing) grips(c *cavityCut) {
	if c.Pot {
		return
	}
	for i, l := range d.laid {
		if l.Top {
			continue
		}
		a, b := d.place(c.from, c.tops[i]), d.place(c.to, c.tops[i])
		mid := (a.x + b.x) / 2
		d.add(`<g class="d-layer" tabindex="0" role="slider" aria-label="top of the %s" aria-valuetext="%s deep"`+
			` aria-valuenow="%.0f" data-layer="layer:%d" data-per="%.4f"><rect class="d-layer-hit" x="%s" y="%s" width="%s"`+
			` height="44"/>`, esc(l.Words), esc(d.p.Short(l.Depth)), l.Depth.Millimetres(), i,
			1/d.scale/float64(measure.Millimetre), n(a.x), n(a.y-22), n(b.x-a.x))
		d.line("d-grip d-layer-line", a, b)
		d.add(`<path class="d-grip" d="M%s %sh22M%s %sh22"/>`, n(mid-11), n(a.y-4), n(mid-11), n(a.y+4))
		d.end()
	}
}

// told writes what each layer is beside it, or below where the paper is narrow.
func (d *fillDrawing) told(c *cavityCut, size float64) {
	sys := d.p.System
	last := -1e9
	edge := d.sheet.W - size*14.4
	for k := range d.laid {
		i := len(d.laid) - 1 - k // from the top
		l := d.laid[i]
		low := c.Top - c.Depth()
		if i > 0 {
			low = c.tops[i-1]
		}
		at := d.place(c.to, (low+c.tops[i])/2)
		head := fmt.Sprintf("%s, %s", l.Words, d.p.Short(l.Depth))
		more := fmt.Sprintf("%s, %s wet", sys.Volume(l.Volume), sys.Mass(d.plan.Fill.MassOf(l, d.plan.Shop.Catalog)))
		if d.thin() {
			y := d.sheet.H - size*(1.5*float64(len(d.laid)-k)-0.6)
			words := head + ": " + more
			if textWidth(words, size*0.9) > d.sheet.W-8 {
				words = head
			}
			d.text("d-text", pt{d.sheet.W / 2, y}, size*0.9, 0, words)
			continue
		}
		y := max(at.y, last+size*2.9)
		last = y
		d.line("d-ext", pt{at.x - 6, at.y}, pt{edge - 20, at.y})
		d.line("d-ext", pt{edge - 20, at.y}, pt{edge - 4, y})
		for r, line := range []string{head, more} {
			class := "d-text d-start"
			if r == 1 {
				class = "d-text d-start d-name"
			}
			d.text(class, pt{edge, y + size*(0.1+1.15*float64(r))}, size*0.95, 0, line)
		}
	}
}

// depth draws how deep all of it is, at the left.
func (d *fillDrawing) depth(c *cavityCut, size float64) {
	x := d.place(d.f.Outside[0].V, 0).x - size*1.6
	a, b := d.place(d.f.Outside[0].V, c.Top), d.place(d.f.Outside[0].V, c.Top-c.Depth())
	a.x, b.x = x, x
	d.line("d-dim", a, b)
	for _, q := range []pt{a, b} {
		d.add(`<path class="d-tick" d="M%s %sl9 -9"/>`, n(q.x-4.5), n(q.y+4.5))
	}
	words := d.p.Feet(c.Depth())
	d.text("d-text", pt{x - size*0.5, (a.y + b.y) / 2}, size, -90, words)
}
