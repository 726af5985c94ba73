package draw

import (
	"fmt"
	"math"

	"chamfer/core/frame"
)

// side of the figure a dimension stands on.
type side int

const (
	topSide side = iota
	bottomSide
	leftSide
	rightSide
)

// shown lists the measures a straight view can show (their direction lies in
// the paper), with the side and the row each goes to: what is decided goes
// above and to the left, what follows from it below and to the right.
func (d *drawing) shown() []placed {
	var list []placed
	rows := map[side]int{}
	for _, m := range d.f.Measures {
		axis, _ := m.Run()
		var s side
		dir := [3]vec{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}[axis]
		switch {
		case math.Abs(dir.dot(d.cam.right)) > 0.9:
			s = bottomSide
			if m.Primary {
				s = topSide
			}
		case math.Abs(dir.dot(d.cam.up)) > 0.9:
			s = rightSide
			if m.Primary || m.Field != "" {
				s = leftSide
			}
		default:
			continue
		}
		rows[s]++
		list = append(list, placed{m, s, rows[s]})
	}
	return list
}

type placed struct {
	frame.Measure
	side side
	row  int
}

func (d *drawing) rows() [4]int {
	var rows [4]int
	for _, m := range d.shown() {
		rows[m.side] = max(rows[m.side], m.row)
	}
	return rows
}

// dimensions draws every measure the view can show, outside the figure.
func (d *drawing) dimensions() {
	if d.view == Solid {
		d.solidDimensions()
		return
	}
	rows := d.rows()
	for _, m := range d.shown() {
		d.inner = m.row < rows[m.side]
		a, b := d.place(m.From), d.place(m.To)
		off := d.row()*float64(m.row) - d.sheet.Font*0.4
		switch m.side {
		case topSide:
			y := d.box[0].y - off
			d.dimension(m.Measure, pt{min(a.x, b.x), y}, pt{max(a.x, b.x), y}, a, b)
		case bottomSide:
			y := d.box[1].y + off + d.sheet.Font*0.6
			d.dimension(m.Measure, pt{min(a.x, b.x), y}, pt{max(a.x, b.x), y}, a, b)
		case leftSide:
			x := d.box[0].x - off
			d.dimension(m.Measure, pt{x, max(a.y, b.y)}, pt{x, min(a.y, b.y)}, a, b)
		default:
			x := d.box[1].x + off + d.sheet.Font*0.6
			d.dimension(m.Measure, pt{x, max(a.y, b.y)}, pt{x, min(a.y, b.y)}, a, b)
		}
	}
}

// handles lays a strip over the far wall of each size that is decided and lies
// in the paper: dragging it changes the size. Every strip has its typed twin,
// the dimension.
func (d *drawing) handles() {
	if d.sheet.Edit == "" || d.view == Solid {
		return
	}
	const thick = 22.0
	for _, m := range d.shown() {
		if m.Field == "" || !m.Primary {
			continue
		}
		axis, along := m.Run()
		lo, hi := d.box[0], d.box[1]
		x, y, w, h := hi.x-thick/2, lo.y, thick, hi.y-lo.y
		dx, dy := 1/d.scale, 0.0 // millimetres to a pixel
		class := "d-drag-x"
		switch to := d.place(m.To); {
		case axis == frame.X && to.x < hi.x-4*thick: // a wall nearer than the far one
			h *= 0.3
			x, y = to.x-thick/2, min(max(lo.y, to.y-h), hi.y-h)
		case axis == frame.X && d.f.Outline != nil && d.view == Above: // where that wall is, and no further
			h *= 0.25
			y = min(max(lo.y, to.y), hi.y-h)
		}
		if axis != frame.X && math.Abs([3]vec{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}[axis].dot(d.cam.up)) > 0.9 {
			top := min(d.place(m.From).y, d.place(m.To).y)
			if axis == frame.Y {
				top = lo.y
			}
			x, y, w, h = lo.x, top-thick/2, hi.x-lo.x, thick
			dx, dy = 0, -1/d.scale
			class = "d-drag-y"
		}
		c := pt{x + w/2, y + h/2}
		grip := "M%s %sv18M%s %sv18" // two short strokes where it is taken
		a, b := pt{c.x - 2.5, c.y - 9}, pt{c.x + 2.5, c.y - 9}
		if dx == 0 {
			grip = "M%s %sh18M%s %sh18"
			a, b = pt{c.x - 9, c.y - 2.5}, pt{c.x - 9, c.y + 2.5}
		}
		d.add(`<path class="d-grip" d="`+grip+`"/>`, n(a.x), n(a.y), n(b.x), n(b.y))
		d.add(
			`<rect class="d-drag %s" data-drag="%s" data-bed="%s" data-dx="%s" data-dy="%s" x="%s" y="%s" width="%s" `+
				`height="%s"><title>Drag to change it: %s, now %s</title></rect>`,
			class,
			esc(m.Field),
			esc(d.f.Bed),
			fmt.Sprintf("%.4f", dx),
			fmt.Sprintf("%.4f", dy),
			n(x),
			n(y),
			n(w),
			n(h),
			esc(m.Name),
			esc(d.precision.Feet(along)),
		)
	}
}

// solidDimensions sets the decided measures along the edges nearest the viewer.
func (d *drawing) solidDimensions() {
	lo, hi := d.f.Bounds()
	gap := d.row() / d.scale
	drawn := map[frame.Axis]bool{}
	const narrow = 500 // pixels: there two numbers do not stand on one line
	for _, m := range d.f.Measures {
		axis, _ := m.Run()
		if !m.Primary || drawn[axis] && d.sheet.W < narrow {
			continue
		}
		drawn[axis] = true
		from, to := space(m.From), space(m.To)
		a, b := from, to
		// The edges nearest the viewer, however the bed is turned.
		nearX, outX := hi.X.Millimetres(), gap
		if d.cam.toward[0] < 0 {
			nearX, outX = lo.X.Millimetres(), -gap
		}
		nearY, outY := lo.Y.Millimetres(), -gap
		if d.cam.toward[1] > 0 {
			nearY, outY = hi.Y.Millimetres(), gap
		}
		switch axis {
		case frame.X:
			a[1], b[1], a[2], b[2] = nearY+outY*1.6, nearY+outY*1.6, 0, 0
			from[1], to[1], from[2], to[2] = nearY, nearY, 0, 0
		case frame.Y:
			a[0], b[0], a[2], b[2] = nearX+outX*1.3, nearX+outX*1.3, 0, 0
			from[0], to[0], from[2], to[2] = nearX, nearX, 0, 0
		default:
			// The corner that stands furthest left on the paper.
			corner := vec{lo.X.Millimetres(), lo.Y.Millimetres(), 0}
			for _, x := range []float64{lo.X.Millimetres(), hi.X.Millimetres()} {
				for _, y := range []float64{lo.Y.Millimetres(), hi.Y.Millimetres()} {
					if q := (vec{x, y, 0}); d.cam.flat(q).x < d.cam.flat(corner).x {
						corner = q
					}
				}
			}
			away := gap * 0.9
			out := vec{d.cam.right[0] * away, d.cam.right[1] * away, 0}
			a[0], b[0], a[1], b[1] = corner[0]-out[0], corner[0]-out[0], corner[1]-out[1], corner[1]-out[1]
			from[0], to[0], from[1], to[1] = corner[0], corner[0], corner[1], corner[1]
		}
		pa, pb := d.at(a), d.at(b)
		if pa.x > pb.x {
			pa, pb = pb, pa
			from, to = to, from
		}
		d.dimension(m, pa, pb, d.at(from), d.at(to))
	}
}

// dimension draws one: extension lines from the figure, the line with a slanted
// tick at each end, and the number on it. A measure that edits a decision is a
// link.
func (d *drawing) dimension(m frame.Measure, a, b, fromA, fromB pt) {
	value := d.precision.Feet(m.Length())
	size := d.sheet.Font
	edit := m.Field != "" && d.sheet.Edit != ""
	if edit {
		d.add(
			`<a class="d-edit" href="%s" data-field="%s" data-bed="%s" data-value="%s" aria-label="%s, %s: change it">`,
			esc(fmt.Sprintf(d.sheet.Edit, m.Field)),
			esc(m.Field),
			esc(d.f.Bed),
			esc(value),
			esc(m.Name),
			esc(value),
		)
	} else {
		d.add(`<g data-measure="%s">`, esc(m.Name))
	}
	// Extension lines run from the nearer end of the measured edge.
	if math.Hypot(fromA.x-a.x, fromA.y-a.y) > math.Hypot(fromB.x-a.x, fromB.y-a.y) {
		fromA, fromB = fromB, fromA
	}
	d.ext(fromA, a)
	d.ext(fromB, b)
	long := math.Hypot(b.x-a.x, b.y-a.y)
	w := textWidth(value, size)
	angle := math.Atan2(b.y-a.y, b.x-a.x) * 180 / math.Pi
	mid := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
	// A text wider than its line stands beside it, upright, unless another
	// dimension stands there: then it runs past its ticks.
	beside := long < w+22 && !d.inner
	if beside {
		angle = 0
		if math.Abs(b.x-a.x) < 1 { // upright line: to its outside
			shift := w/2 + 7
			if mid.x < d.sheet.W/2 {
				shift = -shift
			}
			mid.x = min(max(mid.x+shift, w/2+2), d.sheet.W-w/2-2)
		} else if d.view == Solid { // sloped line: below its lower end
			low := a
			if b.y > a.y {
				low = b
			}
			mid = pt{min(low.x+w*0.4, d.sheet.W-w/2-2), low.y + size*0.95}
		} else {
			mid.y -= size * 0.9
		}
	}
	rad := angle * math.Pi / 180
	if edit {
		hw, hh := max(w+14, 44)/2, max(size*1.5, 28)/2
		if m.Primary && size > 14 {
			hh = 22
		}
		d.add(`<rect class="d-hit" x="%s" y="%s" width="%s" height="%s" rx="3" transform="rotate(%s %s %s)"/>`,
			n(mid.x-hw), n(mid.y-hh), n(2*hw), n(2*hh), n(angle), n(mid.x), n(mid.y))
	}
	d.line("d-dim", a, b)
	for _, q := range []pt{a, b} {
		d.add(`<path class="d-tick" d="M%s %sl9 -9"/>`, n(q.x-4.5), n(q.y+4.5))
	}
	hw := w/2 + 4
	if !beside {
		d.add(`<rect class="d-halo" x="%s" y="%s" width="%s" height="%s" transform="rotate(%s %s %s)"/>`,
			n(mid.x-hw), n(mid.y-size*0.55), n(2*hw), n(size*1.1), n(angle), n(mid.x), n(mid.y))
	}
	base := pt{mid.x - math.Sin(rad)*size*0.33, mid.y + math.Cos(rad)*size*0.33}
	d.text("d-text", base, size, angle, value)
	if edit {
		d.add(`</a>`)
	} else {
		d.add(`</g>`)
	}
}

func (d *drawing) ext(from, to pt) {
	long := math.Hypot(to.x-from.x, to.y-from.y)
	if long < 6 {
		return
	}
	dx, dy := (to.x-from.x)/long, (to.y-from.y)/long
	d.line("d-ext", pt{from.x + dx*4, from.y + dy*4}, pt{to.x + dx*5, to.y + dy*5})
}
