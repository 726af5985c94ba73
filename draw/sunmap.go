package draw

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/sun"
)

// Sunlit draws the plot with its hours of sun as hatching, closer where there are fewer, and the shadows of one moment
// over it. M is the map, at where the sun stands then; things are what throws shadows.
func Sunlit(p *plan.Plan, m sun.Map, l plan.Light, at sun.Position, things []sun.Thing, s Sheet) string {
	d := &plotDrawing{plan: p, sheet: s, precision: p.Shop.Precision(), l: &p.Site}
	w, h := d.l.Plot.Width.Millimetres(), d.l.Plot.Depth.Millimetres()
	edge := d.sheet.Font * 2
	d.scale = min((d.sheet.W-2*edge)/w, (d.sheet.H-2*edge)/h)
	high := h*d.scale + 2*edge
	d.zero = pt{(d.sheet.W - w*d.scale) / 2, high - edge}
	d.open(d.sheet.W, high, "hours of sun on the plot, and the shadows", d.sheet.Own)
	d.add(`<defs><clipPath id="plot-%.0f"><rect x="%s" y="%s" width="%s" height="%s"/></clipPath></defs>`, s.W,
		n(d.zero.x), n(d.zero.y-h*d.scale), n(w*d.scale), n(h*d.scale))
	d.poly("d-lawn", d.corners(frame.Spot{}, frame.Spot{U: d.l.Plot.Width, V: d.l.Plot.Depth}))
	if at.Altitude > 0 {
		d.shadows(at, l.North, things, 0, fmt.Sprintf("plot-%.0f", s.W))
	}
	for i := range d.l.Stands {
		d.outline(i)
	}
	d.hatched(m)
	for _, e := range d.l.Plot.Fences {
		d.fence(e)
	}
	d.standing(l)
	if at.Altitude > 0 {
		for i := range d.l.Stands {
			d.onSoil(i, at, l.North, things)
		}
	}
	d.sunAt(at, l.North)
	d.northAt(l.North)
	return d.close()
}

func metresOf(m float64) measure.Length { return measure.Length(m * float64(measure.Metre)) }

// outline draws where a bed stands, its soil and its name.
func (d *plotDrawing) outline(i int) {
	s := d.l.Stands[i]
	f := d.frame(s.Bed)
	put := s.On(f)
	wall := "d-timber-top"
	if len(f.Units) > 0 {
		wall = "d-stone-top"
	}
	d.poly(wall, d.put(put, f.Around()))
	for _, o := range f.Openings {
		if o.Round != nil {
			d.poly("d-soil", d.put(put, o.Round))
			continue
		}
		d.poly("d-soil", d.put(put, box(o.Lo, o.Hi)))
	}
}

// hatched draws the cells of a map, cells of one class in a row together; full sun is left bare.
func (d *plotDrawing) hatched(m sun.Map) {
	spacing := [3]float64{4, 7, 12}
	paths := [3]string{}
	for j := range m.Rows {
		for i := 0; i < m.Columns; {
			class := sun.Class(m.Hours[j*m.Columns+i])
			k := i
			for k < m.Columns && sun.Class(m.Hours[j*m.Columns+k]) == class {
				k++
			}
			if class < 3 {
				a := d.at(frame.Spot{U: metresOf(float64(i) * m.Wide), V: metresOf(float64(j+1) * m.Deep)})
				b := d.at(frame.Spot{U: metresOf(float64(k) * m.Wide), V: metresOf(float64(j) * m.Deep)})
				paths[class] += hatch(a, b, spacing[class])
			}
			i = k
		}
	}
	for class, path := range paths {
		if path != "" {
			d.add(`<path class="d-shade-%d" d="%s"/>`, class, path)
		}
	}
}

// hatch is a box of slanted lines that go on from box to box: each lies where x + y is a multiple of their distance.
func hatch(a, b pt, apart float64) (path string) {
	for c := math.Ceil((a.x+a.y)/apart) * apart; c < b.x+b.y; c += apart {
		x0 := max(a.x, c-b.y)
		x1 := min(b.x, c-a.y)
		if x1 > x0+0.3 {
			path += fmt.Sprintf("M%s %sL%s %s", n(x0), n(c-x0), n(x1), n(c-x1))
		}
	}
	return path
}

// standing draws what stands round the plot and is on the sheet.
func (d *plotDrawing) standing(l plan.Light) {
	for _, t := range l.Sky.Tall {
		x, y := measure.Length(t.X), measure.Length(t.Y)
		if t.Round() {
			c := d.at(frame.Spot{U: x, V: y})
			r := t.Wide.Millimetres() / 2 * d.scale
			d.add(`<circle class="d-crown" cx="%s" cy="%s" r="%s"/><circle class="d-crown" cx="%s" cy="%s" r="%s"/>`, n(c.x),
				n(c.y), n(r), n(c.x), n(c.y), n(max(2, r*0.1)))
			continue
		}
		d.poly("d-building", d.corners(frame.Spot{U: x, V: y}, frame.Spot{U: x + t.Wide, V: y + t.Deep}))
	}
}

// onSoil draws the shadows on a bed's soil, over those on the ground below it.
func (d *plotDrawing) onSoil(i int, at sun.Position, north float64, things []sun.Thing) {
	s := d.l.Stands[i]
	f := d.frame(s.Bed)
	k := slices.IndexFunc(d.plan.Growing, func(g plan.Growing) bool { return g.Bed == s.Bed })
	if k < 0 {
		return
	}
	put := s.On(f)
	for n, o := range d.plan.Growing[k].Surfaces {
		outline := o.Round
		if outline == nil {
			outline = box(o.Lo, o.Hi)
		}
		pts := d.put(put, outline)
		id := fmt.Sprintf("soil-%d-%d-%.0f", i, n, d.sheet.W)
		d.add(`<defs><clipPath id="%s"><path d="%s"/></clipPath></defs>`, id, path(pts))
		d.shadows(at, north, things, o.Top.Millimetres()/1000, id)
	}
}

// shadows draws where the sun does not reach a height above the ground at one moment, within a clip.
func (d *plotDrawing) shadows(at sun.Position, north float64, things []sun.Thing, height float64, clip string) {
	r := sun.Towards(at, north)
	d.add(`<g class="d-shadow" clip-path="url(#%s)">`, clip)
	for _, t := range things {
		if t.Top <= height+0.01 {
			continue
		}
		var pts []pt
		for _, z := range []float64{max(t.Bottom-height, 0), t.Top - height} {
			dx, dy := -r.DX*z/r.Rise, -r.DY*z/r.Rise
			if t.Radius > 0 {
				for k := range 24 {
					sin, cos := math.Sincos(2 * math.Pi * float64(k) / 24)
					pts = append(pts, pt{t.X0 + t.Radius*cos + dx, t.Y0 + t.Radius*sin + dy})
				}
				continue
			}
			pts = append(pts, pt{t.X0 + dx, t.Y0 + dy}, pt{t.X1 + dx, t.Y0 + dy}, pt{t.X1 + dx, t.Y1 + dy},
				pt{t.X0 + dx, t.Y1 + dy})
		}
		for i, q := range pts {
			pts[i] = d.at(frame.Spot{U: metresOf(q.x), V: metresOf(q.y)})
		}
		d.add(`<path d="%s"/>`, path(hull(pts)))
	}
	d.end()
}

// sunAt draws the sun on the rim of the sheet, where it stands.
func (d *plotDrawing) sunAt(at sun.Position, north float64) {
	if at.Altitude <= 0 {
		return
	}
	r := sun.Towards(at, north)
	w, h := d.l.Plot.Width.Millimetres()*d.scale, d.l.Plot.Depth.Millimetres()*d.scale
	c := pt{d.zero.x + w/2, d.zero.y - h/2}
	reach := min((w/2+d.sheet.Font*1.4)/max(math.Abs(r.DX), 1e-6), (h/2+d.sheet.Font*1.4)/max(math.Abs(r.DY), 1e-6))
	q := pt{c.x + r.DX*reach, c.y - r.DY*reach}
	d.add(`<circle class="d-sun" cx="%s" cy="%s" r="%s"/>`, n(q.x), n(q.y), n(d.sheet.Font*0.62))
	for k := range 8 {
		sin, cos := math.Sincos(math.Pi * float64(k) / 4)
		d.add(`<path class="d-sun" d="M%s %sL%s %s"/>`, n(q.x+cos*d.sheet.Font*0.8), n(q.y+sin*d.sheet.Font*0.8),
			n(q.x+cos*d.sheet.Font*1.05), n(q.y+sin*d.sheet.Font*1.05))
	}
}

// northAt draws a small arrow to true north in the corner.
func (d *plotDrawing) northAt(north float64) {
	sin, cos := math.Sincos(north * math.Pi / 180)
	r := d.sheet.Font * 1.1
	c := pt{d.sheet.W - r - 6, r + d.sheet.Font}
	tip, tail := pt{c.x + sin*r, c.y - cos*r}, pt{c.x - sin*r*0.6, c.y + cos*r*0.6}
	d.line("d-dim", tail, tip)
	d.text("d-text d-name", pt{tip.x, tip.y - 3}, d.sheet.Font*0.8, 0, "N")
}
