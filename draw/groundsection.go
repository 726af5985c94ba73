package draw

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/terrain"
)

// String writes a line so that an address can hold it: right, out, right, out, in millimetres.
func (l Line) String() string { return fmt.Sprintf("%.0f,%.0f,%.0f,%.0f", l[0], l[1], l[2], l[3]) }

// cutLine draws where the section is looked at, with an end to drag at both.
func (d *groundDrawing) cutLine() {
	a, b := d.spot(d.along[0]/1000, d.along[1]/1000), d.spot(d.along[2]/1000, d.along[3]/1000)
	d.line("d-cut", a, b)
	for i, c := range []pt{a, b} {
		name := string(rune('P' + i))
		d.add(`<g class="d-cut-end" tabindex="0" role="button" aria-label="end %s of the section; arrows move it"`+
			` data-end="%d" data-per="%.4f" data-cut="%s"><circle class="d-peg-hit" cx="%s" cy="%s" r="22"/>`+
			`<circle class="d-peg-dot" cx="%s" cy="%s" r="9"/>`, name, i, 1/d.scale, d.along, n(c.x), n(c.y), n(c.x), n(c.y))
		d.text("d-text d-cut-name", pt{c.x, c.y + 4}, 12, 0, name)
		d.end()
	}
}

// made is a stretch of the section where a bed stands.
type made struct {
	from, to float64 // along it, m
	f        ground.Formation
}

// section draws the ground along the line, seen from its right: how it is, and how it is made
// below each bed, with the bed's walls above.
func (d *groundDrawing) section(lo, hi pt) {
	s := d.plan.Surface
	ax, ay, bx, by := d.along[0]/1000, d.along[1]/1000, d.along[2]/1000, d.along[3]/1000
	long := math.Hypot(bx-ax, by-ay)
	if long < 0.05 {
		return
	}
	place := func(t float64) (float64, float64) { return ax + (bx-ax)*t/long, ay + (by-ay)*t/long }
	at := d.crossings(place, long)
	var beds []made
	for _, x := range d.plan.Formations {
		for _, o := range x.Outlines {
			ts := overSides(o, ax, ay, bx, by, long)
			for i := 0; i+1 < len(ts); i += 2 {
				beds = append(beds, made{ts[i], ts[i+1], x})
				at = append(at, ts[i], ts[i+1])
			}
		}
	}
	slices.Sort(at)
	at = slices.Compact(at)
	low, high := math.Inf(1), math.Inf(-1)
	see := func(z float64) { low, high = min(low, z), max(high, z) }
	z := func(t float64) float64 {
		x, y := place(t)
		h, _ := s.At(x, y)
		return h
	}
	for _, t := range at {
		see(z(t))
	}
	for _, m := range beds {
		see(m.f.At() + d.frame(m.f.Bed).Rim.Metres())
		see(m.f.At())
	}
	see(low - 0.16)
	wide, tall := (hi.x-lo.x)/long, (hi.y-lo.y)/max(high-low, 0.05)
	over := 1.0 // heights are drawn so many times
	for _, k := range []float64{1, 2, 3, 5, 10} {
		if wide*k <= tall {
			over = k
		}
	}
	if wide > tall {
		wide = tall
	}
	tall = wide * over
	left := (lo.x + hi.x - long*wide) / 2
	put := func(t, z float64) pt { return pt{left + t*wide, hi.y - (z-low)*tall} }

	d.begin("d-section")
	earth := []pt{put(0, low)}
	var line []pt
	for _, t := range at {
		earth, line = append(earth, put(t, z(t))), append(line, put(t, z(t)))
	}
	d.poly("d-earth-cut", append(earth, put(long, low)))
	for _, m := range beds {
		d.madeGround(m, at, z, place, put)
	}
	d.turf(line, beds, put)
	d.add(`<path class="d-ground" d="%s"/>`, strings.TrimSuffix(path(line), "Z"))
	size := d.sheet.Font * 0.86
	for i, t := range []float64{0, long} {
		q := put(t, z(t))
		d.text("d-text", pt{q.x + float64(2*i-1)*size*0.9, q.y + size*0.3}, size, 0, string(rune('P'+i)))
	}
	words := fmt.Sprintf("section P to Q, %s", d.precision.Feet(measure.Length(long*float64(measure.Metre))))
	if over > 1 {
		words += fmt.Sprintf("; heights %.0f times", over)
	}
	d.text("d-text d-name", pt{(lo.x + hi.x) / 2, d.sheet.H - size*0.4}, size, 0, words)
	d.end()
}

// turf draws blades of grass along the ground where no bed stands.
func (d *groundDrawing) turf(line []pt, beds []made, put func(t, z float64) pt) {
	var b strings.Builder
	for i := 1; i < len(line); i++ {
		p, q := line[i-1], line[i]
		for x := math.Ceil(p.x/5) * 5; x < q.x; x += 5 {
			if slices.ContainsFunc(beds, func(m made) bool { return x > put(m.from, 0).x-1 && x < put(m.to, 0).x+1 }) {
				continue
			}
			k := int(x) / 5
			y := p.y + (q.y-p.y)*(x-p.x)/(q.x-p.x)
			fmt.Fprintf(&b, "M%s %sl%s %s", n(x), n(y), n(float64(k%3-1)*1.6), n(-4-float64(k*7%4)))
		}
	}
	if b.Len() > 0 {
		d.add(`<path class="d-blade" d="%s"/>`, b.String())
	}
}

// madeGround draws one bed's stretch: what is dug, what is filled, the ground as it is made, and
// its walls.
func (d *groundDrawing) madeGround(m made, at []float64, z func(float64) float64,
	place func(float64) (float64, float64), put func(t, z float64) pt) {
	to := func(t float64) float64 { x, y := place(t); return m.f.To.At(x, y) }
	f := d.frame(m.f.Bed)
	rim := f.Rim.Metres()
	wall := min(0.05, (m.to-m.from)/4)
	block := func(class string, from, to2, low, high float64) {
		d.poly(class, []pt{put(from, to(from)+low), put(to2, to(to2)+low), put(to2, to(to2)+high), put(from, to(from)+high)})
	}
	soil := rim * 0.9
	if len(f.Cavities) > 0 {
		soil = f.Cavities[0].Top.Metres()
	}
	block("d-soil", m.from+wall, m.to-wall, 0, min(soil, rim))
	class := "d-timber-face"
	if f.Lasts() {
		class = "d-stone-face"
	}
	block(class, m.from, m.from+wall, 0, rim)
	block(class, m.to-wall, m.to, 0, rim)
	var ts []float64
	for _, t := range at {
		if t >= m.from && t <= m.to {
			ts = append(ts, t)
		}
	}
	for i := 1; i < len(ts); i++ {
		a, b := ts[i-1], ts[i]
		u, v := z(a)-to(a), z(b)-to(b)
		parts := [][2]float64{{a, b}}
		if u > 0 && v < 0 || u < 0 && v > 0 {
			mid := a + (b-a)*u/(u-v)
			parts = [][2]float64{{a, mid}, {mid, b}}
		}
		for _, p := range parts {
			mid := (p[0] + p[1]) / 2
			quad := []pt{put(p[0], z(p[0])), put(p[1], z(p[1])), put(p[1], to(p[1])), put(p[0], to(p[0]))}
			if z(mid) > to(mid) {
				d.hatch("d-dig", quad, true)
			} else {
				d.hatch("d-heap", quad, false)
			}
		}
	}
	d.line("d-made", put(m.from, to(m.from)), put(m.to, to(m.to)))
	c := put((m.from+m.to)/2, to((m.from+m.to)/2)+rim)
	size := d.sheet.Font * 0.8
	d.text("d-text", pt{c.x, c.y - size*0.5}, size, 0, m.f.Name)
	told := d.told(m.f)
	a, b := put(m.from, 0), put(m.to, 0)
	if slices.ContainsFunc(told, func(w string) bool { return textWidth(w, size) > 1.6*(b.x-a.x) }) {
		for i, w := range told {
			verb, _, _ := strings.Cut(w, " ")
			_, deep, _ := strings.Cut(w, ", to ")
			told[i] = verb + " " + deep
		}
	}
	for i, words := range told {
		low := put((m.from+m.to)/2, min(to(m.from), to(m.to)))
		d.text("d-text", pt{low.x, low.y + size*(1.3+1.2*float64(i))}, size, 0, words)
	}
}

// crossings are where the line goes over an edge of the surface, its ends among them.
func (d *groundDrawing) crossings(place func(float64) (float64, float64), long float64) []float64 {
	list := []float64{0, long}
	ax, ay := place(0)
	bx, by := place(long)
	s := d.plan.Surface
	for _, t := range s.Triangles {
		list = append(list, overSides([]terrain.Spot{s.Spots[t[0]], s.Spots[t[1]], s.Spots[t[2]]}, ax, ay, bx, by, long)...)
	}
	return list
}

// overSides is how far along a line it goes over the sides of an outline, in order.
func overSides(o []terrain.Spot, ax, ay, bx, by, long float64) []float64 {
	var list []float64
	side := func(q terrain.Spot) float64 { return (bx-ax)*(q.Y-ay) - (by-ay)*(q.X-ax) }
	for i, p := range o {
		q := o[(i+1)%len(o)]
		u, v := side(p), side(q)
		if (u < 0) == (v < 0) {
			continue
		}
		x, y := p.X+(q.X-p.X)*u/(u-v), p.Y+(q.Y-p.Y)*u/(u-v)
		list = append(list, min(max(((x-ax)*(bx-ax)+(y-ay)*(by-ay))/long, 0), long))
	}
	slices.Sort(list)
	return list
}
