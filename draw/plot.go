package draw

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/core/site"
)

// Plot draws the ground from above with every bed where it stands, the paths
// between them, fences and north. Held is the bed in hand; Pick, where it is not
// empty, the link that takes a bed in hand.
func Plot(p *plan.Plan, s Sheet) string {
	d := &plotDrawing{plan: p, sheet: s, precision: p.Shop.Precision(), l: &p.Site}
	d.draw()
	d.barOn(s, d.scale, d.precision.System)
	return d.close()
}

type plotDrawing struct {
	page
	plan      *plan.Plan
	sheet     Sheet
	precision measure.Precision
	l         *site.Layout
	scale     float64 // pixels to a millimetre
	zero      pt      // the plot's left front corner
}

func (d *plotDrawing) at(s frame.Spot) pt {
	return pt{d.zero.x + s.U.Millimetres()*d.scale, d.zero.y - s.V.Millimetres()*d.scale}
}

func (d *plotDrawing) draw() {
	w, h := d.l.Plot.Width.Millimetres(), d.l.Plot.Depth.Millimetres()
	edge := d.sheet.Font * 2.4
	side := d.sheet.Font * 3.4 // north stands at the right
	if d.sheet.Plain {
		edge, side = 6, 6
	}
	d.scale = min((d.sheet.W-edge-side)/w, (d.sheet.H-2*edge)/h)
	d.zero = pt{(d.sheet.W-side-edge-w*d.scale)/2 + edge, (d.sheet.H+h*d.scale)/2 - edge*0.08}
	d.open(d.sheet.W, d.sheet.H, "the plot from above", d.sheet.Own)
	d.poly("d-plot", d.corners(frame.Spot{}, frame.Spot{U: d.l.Plot.Width, V: d.l.Plot.Depth}))
	for _, e := range d.l.Plot.Fences {
		d.fence(e)
	}
	for i := range d.l.Stands {
		d.stand(i)
	}
	if d.sheet.Plain {
		return
	}
	for _, g := range d.l.Gaps {
		d.gap(g)
	}
	d.size()
	d.north()
}

func (d *plotDrawing) corners(lo, hi frame.Spot) []pt {
	return []pt{d.at(lo), d.at(frame.Spot{U: hi.U, V: lo.V}), d.at(hi), d.at(frame.Spot{U: lo.U, V: hi.V})}
}

// stand draws one bed: all that reaches out of it dashed, its walls, and the
// surfaces that are planted.
func (d *plotDrawing) stand(i int) {
	s := d.l.Stands[i]
	f := d.frame(s.Bed)
	extra := ""
	if s.Bed == d.sheet.Held {
		extra = " d-lit"
	}
	data := fmt.Sprintf(`data-stand="%s:%d" data-per="%.4f"`, esc(s.Bed), s.N, 1/d.scale)
	if d.sheet.Pick == "" {
		d.add(`<g class="stand%s" %s>`, extra, data)
	} else {
		d.add(`<a class="stand%s" %s href="%s">`, extra, data, esc(fmt.Sprintf(d.sheet.Pick, s.Bed)))
	}
	d.add(
		`<title>%s, %s by %s, %s from the left and %s from the front</title>`,
		esc(s.Name),
		esc(d.precision.Feet(s.Hi.U-s.Lo.U)),
		esc(d.precision.Feet(s.Hi.V-s.Lo.V)),
		esc(d.precision.Feet(s.Lo.U)),
		esc(d.precision.Feet(s.Lo.V)),
	)
	put := s.On(f)
	rect := func(a, b frame.Spot) []pt {
		return []pt{
			d.at(put(a)),
			d.at(put(frame.Spot{U: b.U, V: a.V})),
			d.at(put(b)),
			d.at(put(frame.Spot{U: a.U, V: b.V})),
		}
	}
	d.poly("d-reach", d.corners(s.Lo, s.Hi))
	wall := "d-timber-top"
	if len(f.Units) > 0 {
		wall = "d-stone-top"
	}
	round := slices.ContainsFunc(f.Openings, func(o frame.Opening) bool { return o.Round != nil })
	if len(f.Units) == 0 || !round {
		d.poly(wall, d.put(put, f.Around()))
	}
	for _, u := range f.Units { // round ones unit by unit
		if round && u.Course == 1 {
			d.poly(wall, d.put(put, u.Body.Outline))
		}
	}
	for _, o := range f.Openings {
		if o.Round != nil {
			d.poly("d-soil", d.put(put, o.Round))
			continue
		}
		d.poly("d-soil", rect(o.Lo, o.Hi))
	}
	if s.Bed == d.sheet.Held && s.N == 0 && !d.sheet.Plain {
		d.people(f, put)
	}
	box := d.corners(s.Lo, s.Hi)
	a, b := bounds(box)
	name := s.Name
	if f.Times > 1 {
		name = fmt.Sprintf("%s, %d", s.Name, s.N+1)
	}
	size := min(d.sheet.Font, 0.5*min(b.y-a.y, b.x-a.x))
	turn, room := 0.0, b.x-a.x
	if b.y-a.y > b.x-a.x {
		turn, room = -90, b.y-a.y
	}
	names := [][]string{{name}, broken(name), {fmt.Sprint(i + 1)}}
	if d.sheet.Plain {
		names = nil
	}
	for _, text := range names {
		w := 0.0
		for _, line := range text {
			w = max(w, textWidth(line, size))
		}
		if w >= room-6 || size <= 7 || float64(len(text))*size*1.3 > min(b.y-a.y, b.x-a.x) {
			continue
		}
		c := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
		h := size * (0.2 + 1.24*float64(len(text)))
		d.add(`<rect class="d-plate" x="%s" y="%s" width="%s" height="%s" transform="rotate(%s %s %s)"/>`,
			n(c.x-w/2-5), n(c.y-h/2), n(w+10), n(h), n(turn), n(c.x), n(c.y))
		for k, line := range text {
			by := size * (0.33 + 1.24*(float64(k)-float64(len(text)-1)/2))
			at := pt{c.x, c.y + by}
			if turn != 0 {
				at = pt{c.x + by, c.y}
			}
			d.text("d-text", at, size, turn, line)
		}
		break
	}
	if d.sheet.Pick == "" {
		d.end()
	} else {
		d.add(`</a>`)
	}
}

// broken parts a name at the space nearest its middle.
func broken(name string) []string {
	best := -1
	for i, r := range name {
		if r == ' ' && (best < 0 || abs(2*i-len(name)) < abs(2*best-len(name))) {
			best = i
		}
	}
	if best < 0 {
		return []string{name}
	}
	return []string{name[:best], name[best+1:]}
}

func abs(n int) int { return max(n, -n) }

func (d *plotDrawing) frame(bed string) *frame.Frame {
	for i := range d.plan.Frames {
		if d.plan.Frames[i].Bed == bed {
			return &d.plan.Frames[i]
		}
	}
	return &d.plan.Frames[0]
}

// gap writes the width of a path where there is room to write it.
func (d *plotDrawing) gap(g site.Gap) {
	if g.Wide <= 0 {
		return
	}
	a, b := d.at(frame.Spot{U: g.Lo.U, V: g.Lo.V}), d.at(frame.Spot{U: g.Hi.U, V: g.Hi.V})
	lo, hi := pt{min(a.x, b.x), min(a.y, b.y)}, pt{max(a.x, b.x), max(a.y, b.y)}
	text := d.precision.Feet(g.Wide)
	size := d.sheet.Font * 0.82
	w := textWidth(text, size)
	class := "d-dim"
	if g.Wide < d.l.Passage {
		class = "d-tight"
	}
	mid := pt{(lo.x + hi.x) / 2, (lo.y + hi.y) / 2}
	if g.Along == frame.X {
		d.line(class, pt{lo.x, mid.y}, pt{hi.x, mid.y})
		if hi.x-lo.x > w+6 && hi.y-lo.y > size*1.2 {
			d.label(pt{mid.x, mid.y}, size, text)
		} else if hi.x-lo.x > size*1.3 && hi.y-lo.y > w+6 {
			d.add(`<rect class="d-halo" x="%s" y="%s" width="%s" height="%s"/>`, n(mid.x-size*0.6), n(mid.y-w/2-2),
				n(size*1.2), n(w+4))
			d.text("d-text", pt{mid.x + size*0.33, mid.y}, size, -90, text)
		}
		return
	}
	d.line(class, pt{mid.x, lo.y}, pt{mid.x, hi.y})
	if hi.y-lo.y > size*1.3 && hi.x-lo.x > w+6 {
		d.label(mid, size, text)
	}
}

func (d *plotDrawing) label(c pt, size float64, text string) {
	w := textWidth(text, size)
	d.add(
		`<rect class="d-halo" x="%s" y="%s" width="%s" height="%s"/>`,
		n(c.x-w/2-3),
		n(c.y-size*0.6),
		n(w+6),
		n(size*1.2),
	)
	d.text("d-text", pt{c.x, c.y + size*0.33}, size, 0, text)
}

// fence draws an edge of the plot as a fence: two rails and posts.
func (d *plotDrawing) fence(edge string) {
	w, h := d.l.Plot.Width, d.l.Plot.Depth
	ends := map[string][2]frame.Spot{"front": {{}, {U: w}}, "right": {{U: w}, {U: w, V: h}}, "back": {{V: h}, {U: w,
		V: h}}, "left": {{}, {V: h}}}[edge]
	a, b := d.at(ends[0]), d.at(ends[1])
	d.line("d-fence", a, b)
	long := math.Hypot(b.x-a.x, b.y-a.y)
	posts := max(1, math.Round(long/46))
	for k := 0.0; k <= posts; k++ {
		c := pt{a.x + (b.x-a.x)*k/posts, a.y + (b.y-a.y)*k/posts}
		d.add(`<rect class="d-fence-post" x="%s" y="%s" width="7" height="7"/>`, n(c.x-3.5), n(c.y-3.5))
	}
}

// size writes the plot's own along its front and its left edge.
func (d *plotDrawing) size() {
	size := d.sheet.Font
	for _, m := range []struct {
		name, key string
		a, b      pt
		l         measure.Length
		turn      float64
	}{
		{"plot width", "width", d.at(frame.Spot{}), d.at(frame.Spot{U: d.l.Plot.Width}), d.l.Plot.Width, 0},
		{"plot depth", "depth", d.at(frame.Spot{}), d.at(frame.Spot{V: d.l.Plot.Depth}), d.l.Plot.Depth, -90},
	} {
		off := pt{0, size * 1.1}
		if m.turn != 0 {
			off = pt{-size * 1.1, 0}
		}
		a, b := pt{m.a.x + off.x, m.a.y + off.y}, pt{m.b.x + off.x, m.b.y + off.y}
		d.add(`<g data-measure="%s">`, m.name)
		d.line("d-dim", a, b)
		for _, q := range []pt{a, b} {
			d.add(`<path class="d-tick" d="M%s %sl9 -9"/>`, n(q.x-4.5), n(q.y+4.5))
		}
		text := d.precision.Feet(m.l)
		w := textWidth(text, size)
		c := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
		d.add(
			`<rect class="d-halo" x="%s" y="%s" width="%s" height="%s" transform="rotate(%s %s %s)"/>`,
			n(c.x-w/2-4),
			n(c.y-size*0.55),
			n(w+8),
			n(size*1.1),
			n(m.turn),
			n(c.x),
			n(c.y),
		)
		if m.turn == 0 {
			c.y += size * 0.33
		} else {
			c.x += size * 0.33
		}
		d.text("d-text", c, size, m.turn, text)
		d.end()
	}
}

// north draws where it is, at the right of the plot.
func (d *plotDrawing) north() {
	r := d.sheet.Font * 1.15
	c := pt{d.sheet.W - r - 4, r + 10}
	d.add(
		`<g transform="rotate(%d %s %s)"><title>north</title><path class="d-north" d="M%s %sl%s %sh%sz"/><path `+
			`class="d-dim" d="M%s %sv%s"/></g>`,
		d.l.Plot.North,
		n(c.x),
		n(c.y),
		n(c.x),
		n(c.y-r),
		n(r*0.42),
		n(r),
		n(-r*0.84),
		n(c.x),
		n(c.y),
		n(r),
	)
	d.text("d-text", pt{c.x, c.y + r + d.sheet.Font}, d.sheet.Font, 0, "N")
}

// put draws an outline from above where a stand puts it.
func (d *plotDrawing) put(put func(frame.Spot) frame.Spot, outline []frame.Spot) []pt {
	pts := make([]pt, len(outline))
	for i, s := range outline {
		pts[i] = d.at(put(s))
	}
	return pts
}

// people stands whoever tends the bed in hand at its long sides, each with the arc as far as an arm reaches.
func (d *plotDrawing) people(f *frame.Frame, put func(frame.Spot) frame.Spot) {
	bed, err := d.plan.Design.Bed(f.Bed)
	if err != nil {
		return
	}
	reach, _ := review.Reach(*bed, bed.Access.ToOne(), d.plan.Shop.Habits, d.plan.Shop.Catalog)
	lo, hi := f.Outside[0], f.Outside[1]
	const off, arms = 230 * measure.Millimetre, 900 * measure.Millimetre
	for side := range int(bed.Access.Sides()) {
		rim, way := lo.V, measure.Length(1)
		if side == 1 {
			rim, way = hi.V, -1
		}
		u := lo.U + (hi.U-lo.U)/4
		far := min(reach, hi.V-lo.V)
		a, b := d.at(put(frame.Spot{U: u - arms/2, V: rim})), d.at(put(frame.Spot{U: u + arms/2, V: rim}))
		tip := d.at(put(frame.Spot{U: u, V: rim + way*far}))
		body := d.at(put(frame.Spot{U: u, V: rim - way*off}))
		over := pt{2*tip.x - (a.x+b.x)/2, 2*tip.y - (a.y+b.y)/2} // the curve's own point: it passes through the tip
		d.add(`<g class="d-person"><title>%s</title>`, esc("as far as an arm reaches: "+d.precision.Feet(reach)))
		d.add(`<path d="M%s %sQ%s %s %s %s"/>`, n(a.x), n(a.y), n(over.x), n(over.y), n(b.x), n(b.y))
		r := (115 * measure.Millimetre).Millimetres() * d.scale
		tilt := math.Atan2(b.y-a.y, b.x-a.x) * 180 / math.Pi
		d.add(`<ellipse cx="%s" cy="%s" rx="%s" ry="%s" transform="rotate(%s %s %s)"/><circle cx="%s" cy="%s" r="%s"/></g>`,
			n(body.x), n(body.y), n(r*2), n(r*1.1), n(tilt), n(body.x), n(body.y), n(body.x), n(body.y), n(r*0.8))
	}
}
