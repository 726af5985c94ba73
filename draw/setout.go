package draw

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/setout"
)

// SetOut draws a bed's setting out from above: the wall, its trench, the pegs with
// their running measures from one end of the base line, the diagonals or strings
// that check it.
func SetOut(f *frame.Frame, p measure.Precision, s Sheet) string {
	sheet := setout.Of(f, p)
	d := &setOut{f: f, p: p, sheet: s}
	lo, hi := f.Outside[0], f.Outside[1]
	edge := s.Font * 6.6
	d.scale = min((s.W-2*edge)/float64(hi.U-lo.U), (s.H-2*edge)/float64(hi.V-lo.V))
	d.origin = pt{
		(s.W-float64(hi.U-lo.U)*d.scale)/2 - float64(lo.U)*d.scale,
		(s.H+float64(hi.V-lo.V)*d.scale)/2 + float64(lo.V)*d.scale,
	}
	rows := d.alongRows(sheet.Pegs)
	below := slices.Max(rows)
	d.origin.y -= s.Font * 1.3 * float64(below) // room for them
	d.open(s.W, s.H, "Setting out "+f.Name, s.Own)
	t := sheet.Trench
	d.walls()
	for _, b := range f.Bases {
		if len(b.Trench) > 0 {
			d.poly("d-hidden", d.outline(b.Trench))
		}
	}
	for i, a := range f.Arcs {
		if t > 0 && i == 0 && len(f.Bases[0].Trench) == 0 { // others stand on the soil
			d.poly("d-hidden", d.arc(a, a.Outside+t))
			d.poly("d-hidden", d.arc(a, a.Inside-t))
		}
	}
	for _, b := range d.feet(t) {
		d.poly("d-hidden", d.rect(frame.Spot{U: b[0].U - t, V: b[0].V - t}, frame.Spot{U: b[1].U + t, V: b[1].V + t}))
	}
	base := d.at(lo).y
	if len(f.Arcs) > 0 {
		base += s.Font * 1.4
	}
	d.line("d-ground", pt{d.at(lo).x - s.Font*2, base}, pt{d.at(hi).x + s.Font*2, base})
	d.text(
		"d-text d-name",
		pt{(d.at(lo).x + d.at(hi).x) / 2, base + s.Font*(3.3+1.15*float64(below))},
		s.Font,
		0,
		"base line: the tape stays in place",
	)
	d.checks(sheet)
	for _, q := range sheet.Strings {
		d.string(sheet, q)
	}
	for i, q := range sheet.Pegs {
		if slices.ContainsFunc(sheet.Pegs[:i], func(o setout.Peg) bool { return o.Along == q.Along }) {
			rows[i] = -1 // it is written already
		}
		// Where strings are written the list has how far out it is.
		strung := slices.ContainsFunc(sheet.Strings, func(s setout.String) bool { return s.Peg == q.Name })
		d.peg(q, base, rows[i], q.Out > 0 && !strung)
	}
	d.barOn(s, d.scale*float64(measure.Millimetre), p.System)
	return d.close()
}

type setOut struct {
	page
	f      *frame.Frame
	p      measure.Precision
	sheet  Sheet
	scale  float64
	origin pt
}

func (d *setOut) at(s frame.Spot) pt {
	return pt{d.origin.x + float64(s.U)*d.scale, d.origin.y - float64(s.V)*d.scale}
}

// feet are what straight trenches are dug round: every wall of terraces, else the bed.
func (d *setOut) feet(t measure.Length) (list [][2]frame.Spot) {
	if len(d.f.Arcs) > 0 || d.f.Baseline || t == 0 {
		return nil
	}
	if len(d.f.Levels) == 0 {
		return [][2]frame.Spot{d.f.Outside}
	}
	var walls []string
	for _, u := range d.f.Units {
		if u.Course != 1+d.f.Steps || u.Kind == frame.CapUnit {
			continue
		}
		wall, _, _ := strings.Cut(u.Role, ",")
		lo, hi := u.Body.Bounds()
		i := slices.Index(walls, wall)
		if i < 0 {
			walls, list = append(walls, wall), append(list, [2]frame.Spot{{U: lo.X, V: lo.Y}, {U: hi.X, V: hi.Y}})
			continue
		}
		b := &list[i]
		b[0] = frame.Spot{U: min(b[0].U, lo.X), V: min(b[0].V, lo.Y)}
		b[1] = frame.Spot{U: max(b[1].U, hi.X), V: max(b[1].V, hi.Y)}
	}
	return list
}

func (d *setOut) rect(a, b frame.Spot) []pt {
	return []pt{d.at(a), d.at(frame.Spot{U: b.U, V: a.V}), d.at(b), d.at(frame.Spot{U: a.U, V: b.V})}
}

// walls draws what stands on the lines: the lowest units, a cast wall, or the outside
// with what is inside left out.
func (d *setOut) walls() {
	if d.f.Screwed() {
		d.poly("d-timber-top", d.outline(d.f.Around()))
		for _, c := range d.f.Cavities {
			d.poly("d-halo", d.outline(c.Outline))
		}
	}
	for _, p := range d.f.Pours {
		d.begin("cast")
		for _, s := range p.Solids() {
			d.poly("d-stone-top d-seamless", d.outline(s.Outline))
		}
		d.end()
	}
	for _, u := range d.f.Units {
		if u.Course == 1+d.f.Steps && u.Kind != frame.CapUnit {
			d.poly("d-stone-top", d.outline(u.Body.Outline))
		}
	}
}

func (d *setOut) outline(spots []frame.Spot) (pts []pt) {
	for _, s := range spots {
		pts = append(pts, d.at(s))
	}
	return pts
}

// pegAt is where a peg stands on the drawing.
func (d *setOut) pegAt(q setout.Peg) pt {
	lo := d.f.Outside[0]
	return d.at(frame.Spot{U: lo.U + q.Along, V: lo.V + q.Out})
}

// arcFrom is where an arc of so many degrees begins, anticlockwise from the right.
var arcFrom = map[int]float64{360: -90, 180: -180, 90: -180}

// arc is the outline of part of a disc, with its middle where it is not whole.
func (d *setOut) arc(a frame.Arc, r measure.Length) []pt {
	from := arcFrom[a.Degrees]
	var pts []pt
	if a.Degrees < 360 {
		pts = append(pts, d.at(a.Middle))
	}
	for k := 0; k <= 72; k++ {
		s, c := math.Sincos((from + float64(a.Degrees)*float64(k)/72) * math.Pi / 180)
		pts = append(
			pts,
			d.at(
				frame.Spot{U: a.Middle.U + measure.Length(float64(r)*c), V: a.Middle.V + measure.Length(float64(r)*s)},
			),
		)
	}
	return pts
}

// checks draws the diagonals with their lengths.
func (d *setOut) checks(s setout.Sheet) {
	at := map[string]pt{}
	for _, q := range s.Pegs {
		at[q.Name] = d.pegAt(q)
	}
	for i, c := range s.Checks {
		a, b := at[c.From], at[c.To]
		if a.x == b.x || a.y == b.y {
			continue
		}
		d.line("d-dim", a, b)
		t := 0.3 + 0.1*float64(i%2)
		d.label(pt{a.x + (b.x-a.x)*t, a.y + (b.y-a.y)*t}, d.p.Feet(c.Length))
	}
}

func (d *setOut) label(c pt, words string) {
	size := d.sheet.Font
	w := textWidth(words, size) + 8
	d.page.rect("d-halo", c.x-w/2, c.y-size*0.8, w, size*1.5)
	d.text("d-text", pt{c.x, c.y + size*0.32}, size, 0, words)
}

// string draws a string from its peg, each at an angle of its own.
func (d *setOut) string(s setout.Sheet, q setout.String) {
	for _, peg := range s.Pegs {
		if peg.Name != q.Peg {
			continue
		}
		n := 0
		for k, other := range s.Strings {
			if other == q {
				n = k
			}
		}
		a := d.f.Arcs[0] // spread over it, so that their lengths stand apart
		sin, cos := math.Sincos(
			(arcFrom[a.Degrees] + float64(a.Degrees)*(float64(n)+0.5)/float64(len(s.Strings))) * math.Pi / 180,
		)
		from := d.pegAt(peg)
		to := pt{from.x + float64(q.Length)*d.scale*cos, from.y - float64(q.Length)*d.scale*sin}
		d.line("d-dim", from, to)
		d.label(pt{from.x + (to.x-from.x)*0.62, from.y + (to.y-from.y)*0.62}, d.p.Feet(q.Length))
	}
}

// alongRows puts the running measures below the base line in rows, so that none is
// written over another.
func (d *setOut) alongRows(pegs []setout.Peg) []int {
	rows := make([]int, len(pegs))
	for i, q := range pegs {
		for k := 0; k < i; k++ {
			room := (textWidth(d.p.Feet(q.Along), d.sheet.Font)+textWidth(d.p.Feet(pegs[k].Along), d.sheet.Font))/2 + 4
			if q.Along != pegs[k].Along && math.Abs(d.pegAt(q).x-d.pegAt(pegs[k]).x) < room {
				rows[i] = max(rows[i], rows[k]+1)
			}
		}
	}
	return rows
}

// peg draws a peg with its name, and its running measures.
func (d *setOut) peg(q setout.Peg, base float64, row int, out bool) {
	c, size := d.pegAt(q), d.sheet.Font
	d.add(`<circle class="d-act" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(size*0.85))
	d.text("d-text d-act-text", pt{c.x, c.y + size*0.36}, size*1.05, 0, q.Name)
	d.line("d-tick", pt{c.x, base - 5}, pt{c.x, base + 5})
	if row >= 0 {
		d.text("d-text", pt{c.x, base + size*(1.9+1.15*float64(row))}, size, 0, d.p.Feet(q.Along))
	}
	if out {
		side := -1.0
		if c.x > d.sheet.W/2 {
			side = 1
		}
		words := fmt.Sprintf("%s out", d.p.Feet(q.Out))
		half := textWidth(words, size)/2 + 4
		d.label(pt{min(max(c.x+side*(half+size*1.1), half), d.sheet.W-half), c.y - size*1.9}, words)
	}
}
