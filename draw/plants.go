package draw

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/planting"
)

// Plants draws a bed from above with what grows in it, every plant full grown where it stands, over the grid of
// strings.
// Pick is the link that takes a patch in hand, "%s" its number; Edit the link of an empty cell, "%s" its surface,
// column and row; Held the patch in hand.
func Plants(p *plan.Plan, bed string, s Sheet) string {
	i := slices.IndexFunc(p.Growing, func(g plan.Growing) bool { return g.Bed == bed })
	if i < 0 {
		return ""
	}
	d := &plantsDrawing{plan: p, f: &p.Frames[i], g: p.Growing[i], sheet: s, pr: p.Shop.Precision()}
	d.draw()
	return d.close()
}

type plantsDrawing struct {
	page
	plan  *plan.Plan
	f     *frame.Frame
	g     plan.Growing
	sheet Sheet
	pr    measure.Precision
	scale float64
	zero  pt
	hours map[planting.Cell]float64
}

func (d *plantsDrawing) at(s frame.Spot) pt {
	return pt{d.zero.x + s.U.Millimetres()*d.scale, d.zero.y - s.V.Millimetres()*d.scale}
}

func (d *plantsDrawing) all(outline []frame.Spot) []pt {
	pts := make([]pt, len(outline))
	for i, s := range outline {
		pts[i] = d.at(s)
	}
	return pts
}

func box(lo, hi frame.Spot) []frame.Spot {
	return []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}
}

func (d *plantsDrawing) draw() {
	lo, hi := d.f.Outside[0], d.f.Outside[1]
	w, h := (hi.U - lo.U).Millimetres(), (hi.V - lo.V).Millimetres()
	edge := d.sheet.Font * 2.2
	d.scale = min((d.sheet.W-2*edge)/w, (d.sheet.H-2*edge)/h)
	high := h*d.scale + 2*edge
	d.zero = pt{(d.sheet.W-w*d.scale)/2 - lo.U.Millimetres()*d.scale, high - edge + lo.V.Millimetres()*d.scale}
	count := 0
	for _, x := range d.g.Patches {
		count += x.Plants()
	}
	d.open(d.sheet.W, high, "the bed from above with "+measure.Count(count, "plant"), d.sheet.Own)
	wall := "d-timber-top"
	if len(d.f.Units) > 0 {
		wall = "d-stone-top"
	}
	d.poly(wall, d.all(d.f.Around()))
	d.hours = d.plan.CellHours(d.g.Bed)
	for k, s := range d.g.Surfaces {
		d.surface(k, s)
	}
	order := slices.Clone(d.g.Patches)
	slices.SortStableFunc(order, func(a, b planting.Patch) int { return int(a.Crop.High - b.Crop.High) })
	for _, x := range order {
		d.patch(x)
	}
	d.size()
}

// surface draws soil with its strings; cells that nothing grows in can be pressed.
func (d *plantsDrawing) surface(k int, s planting.Surface) {
	switch {
	case s.Pots != nil:
		d.poly("d-floor", d.all(box(s.Lo, s.Hi)))
		for _, p := range s.Pots {
			d.poly("d-soil", d.all(p.Outline))
		}
	case s.Round != nil:
		d.poly("d-soil", d.all(s.Round))
	default:
		d.poly("d-soil", d.all(box(s.Lo, s.Hi)))
	}
	for _, hole := range s.Holes {
		d.poly("d-timber-end", d.all(hole))
	}
	for row := range s.Rows {
		for column := range s.Columns {
			lo, hi := s.Cell(column, row)
			mid := frame.Spot{U: (lo.U + hi.U) / 2, V: (lo.V + hi.V) / 2}
			if s.Round != nil && !frame.Inside(s.Round, mid) {
				continue
			}
			free := !slices.ContainsFunc(d.g.Patches, func(x planting.Patch) bool {
				return x.Surface == k && mid.U > x.Lo.U && mid.U < x.Hi.U && mid.V > x.Lo.V && mid.V < x.Hi.V
			})
			key := fmt.Sprintf("%d.%d.%d", k, column, row)
			if free {
				d.sunOf(lo, hi, d.hours[planting.Cell{Surface: k, Column: column, Row: row}])
			}
			if !free || d.sheet.Edit == "" {
				d.poly("d-string", d.all(box(lo, hi)))
				continue
			}
			held := ""
			if key == d.sheet.Held {
				held = " d-cell-held"
			}
			d.add(`<a class="cell%s" href="%s" data-soft aria-label="%s"><title>%s</title>`, held,
				esc(fmt.Sprintf(d.sheet.Edit, key)),
				esc(fmt.Sprintf("empty cell, column %d, row %d", column+1, row+1)), esc("plant something here"))
			d.poly("d-string", d.all(box(lo, hi)))
			d.add(`</a>`)
		}
	}
}

// sunOf writes a free cell's hours of sun where they have room.
func (d *plantsDrawing) sunOf(lo, hi frame.Spot, hours float64) {
	text := fmt.Sprintf("%.0f h", hours)
	a, b := d.at(lo), d.at(hi)
	size := min(d.sheet.Font*0.78, (a.y-b.y)*0.4)
	if size >= 8 && textWidth(text, size) < b.x-a.x-4 {
		d.text("d-text d-on-soil", pt{(a.x + b.x) / 2, (a.y+b.y)/2 + size*0.34}, size, 0, text)
	}
}

// patch draws one crop: the soil it takes, its plants full grown, and its name.
func (d *plantsDrawing) patch(x planting.Patch) {
	if x.Surface >= len(d.g.Surfaces) || x.Lo.U >= x.Hi.U || x.Lo.V >= x.Hi.V {
		return
	}
	a, b := d.at(frame.Spot{U: x.Lo.U, V: x.Hi.V}), d.at(frame.Spot{U: x.Hi.U, V: x.Lo.V})
	words := fmt.Sprintf("%s, %d", x.Crop.Name, x.Plants())
	held := ""
	if d.sheet.Held == fmt.Sprint(x.N) {
		held = " d-patch-held"
	}
	s := d.g.Surfaces[x.Surface]
	data := fmt.Sprintf(`data-patch="%d" data-per="%.4f" data-wide="%.1f" data-deep="%.1f"`, x.N, 1/d.scale,
		(s.Hi.U-s.Lo.U).Millimetres()/float64(s.Columns), (s.Hi.V-s.Lo.V).Millimetres()/float64(s.Rows))
	if d.sheet.Pick == "" {
		d.add(`<g class="patch%s" %s><title>%s</title>`, held, data, esc(words))
	} else {
		d.add(`<a class="patch%s" %s href="%s" data-soft aria-label="%s"><title>%s</title>`, held, data,
			esc(fmt.Sprintf(d.sheet.Pick, fmt.Sprint(x.N))), esc(d.short(x)+": "+words), esc(words))
	}
	d.add(`<rect class="d-patch" x="%s" y="%s" width="%s" height="%s" rx="4"/>`, n(a.x+1), n(a.y+1), n(b.x-a.x-2),
		n(b.y-a.y-2))
	r := min(x.Crop.Spread, x.Crop.Each*5/4).Millimetres() / 2 * d.scale
	if r > 1 {
		id := fmt.Sprintf("plant-%s-%d-%.0f", d.g.Bed, x.N, d.sheet.W)
		d.add(`<defs><g id="%s">%s</g></defs>`, esc(id), Strokes(x.Crop, r))
		for _, s := range x.Laid.Spots {
			at := d.at(s)
			d.add(`<use href="#%s" x="%s" y="%s"/>`, esc(id), n(at.x), n(at.y))
		}
	}
	d.name(x, a, b)
	if x.Kept {
		d.add(`<circle class="d-pin" cx="%s" cy="%s" r="3.4"/>`, n(b.x-8), n(a.y+8))
	}
	if d.sheet.Pick == "" {
		d.end()
	} else {
		d.add(`</a>`)
	}
}

// short is the first of a crop's names and how many there are.
func (d *plantsDrawing) short(x planting.Patch) string {
	first, _, _ := strings.Cut(x.Crop.Name, ",")
	return fmt.Sprintf("%s %d", first, x.Plants())
}

// name writes what a patch is where it has room: its whole name and number, its first word, or its number alone.
func (d *plantsDrawing) name(x planting.Patch, a, b pt) {
	size := d.sheet.Font * 0.82
	first, _, _ := strings.Cut(x.Crop.Name, ",")
	for _, text := range []string{d.short(x), first, fmt.Sprint(x.Plants())} {
		if w := textWidth(text, size); w < b.x-a.x-8 {
			c := pt{(a.x + b.x) / 2, (a.y + b.y) / 2}
			d.add(`<rect class="d-plate" x="%s" y="%s" width="%s" height="%s"/>`, n(c.x-w/2-4), n(c.y-size*0.68),
				n(w+8), n(size*1.36))
			d.text("d-text d-name", pt{c.x, c.y + size*0.34}, size, 0, text)
			return
		}
	}
}

func (d *plantsDrawing) size() {
	for _, o := range d.f.Openings {
		a, b := d.at(o.Lo), d.at(frame.Spot{U: o.Hi.U, V: o.Lo.V})
		if o.Lo.V != d.f.Openings[0].Lo.V || o.Lo.U != d.f.Openings[0].Lo.U {
			continue
		}
		y := d.at(d.f.Outside[0]).y + d.sheet.Font*0.9
		d.add(`<path class="d-dim" d="M%s %sH%sM%s %sv8M%s %sv8"/>`, n(a.x), n(y), n(b.x), n(a.x), n(y-4), n(b.x), n(y-4))
		d.text("d-text d-name", pt{(a.x + b.x) / 2, y + d.sheet.Font*0.95}, d.sheet.Font*0.85, 0, d.pr.Feet(o.Hi.U-o.Lo.U))
	}
}

// Strokes draws one plant of a crop from above in few strokes, r from its middle to its edge: our own hand, by how its
// leaves grow.
func Strokes(c planting.Crop, r float64) string {
	p := &page{}
	ray := func(class string, count int, from, to, sway, off float64) {
		path := ""
		for k := range count {
			t := 2*math.Pi*float64(k)/float64(count) + off
			x0, y0 := from*r*math.Cos(t), from*r*math.Sin(t)
			x1, y1 := to*r*math.Cos(t+sway), to*r*math.Sin(t+sway)
			cx, cy := (from+to)/2*r*math.Cos(t+sway*1.5), (from+to)/2*r*math.Sin(t+sway*1.5)
			path += fmt.Sprintf("M%s %sQ%s %s %s %s", n(x0), n(y0), n(cx), n(cy), n(x1), n(y1))
		}
		p.add(`<path class="%s" d="%s"/>`, class, path)
	}
	leaf := func(class string, count int, to, wide, off float64) {
		path := ""
		for k := range count {
			t := 2*math.Pi*float64(k)/float64(count) + off
			tip := [2]float64{to * r * math.Cos(t), to * r * math.Sin(t)}
			l := [2]float64{to * 0.55 * r * math.Cos(t-wide), to * 0.55 * r * math.Sin(t-wide)}
			m := [2]float64{to * 0.55 * r * math.Cos(t+wide), to * 0.55 * r * math.Sin(t+wide)}
			path += fmt.Sprintf("M0 0Q%s %s %s %sQ%s %s 0 0Z", n(l[0]), n(l[1]), n(tip[0]), n(tip[1]), n(m[0]), n(m[1]))
		}
		p.add(`<path class="%s" d="%s"/>`, class, path)
	}
	dots := func(class string, count int, at, size, off float64) {
		for k := range count {
			t := 2*math.Pi*float64(k)/float64(count) + off
			p.add(`<circle class="%s" cx="%s" cy="%s" r="%s"/>`, class, n(at*r*math.Cos(t)), n(at*r*math.Sin(t)),
				n(max(0.8, size*r)))
		}
	}
	switch {
	case c.Kind == "flower":
		leaf("d-leaf", 5, 1, 0.5, 0.3)
		dots("d-petal", 6, 0.34, 0.17, 0)
		dots("d-seed", 1, 0, 0.14, 0)
	case c.Kind == "fruit":
		leaf("d-leaf", 5, 1, 0.55, 0.1)
		dots("d-berry", 4, 0.5, 0.11, 0.6)
	case c.Family == "Amaryllidaceae":
		ray("d-blade", 7, 0.05, 1, 0.35, 0)
	case c.Family == "Poaceae":
		leaf("d-leaf", 4, 1, 0.22, 0.5)
		ray("d-blade", 4, 0, 0.8, -0.3, 1.1)
	case c.Family == "Apiaceae":
		ray("d-blade", 6, 0, 1, 0.15, 0)
		ray("d-blade", 12, 0.45, 0.85, 0.3, 0.15)
	case c.Family == "Cucurbitaceae":
		leaf("d-leaf", 5, 1, 0.7, 0.2)
		ray("d-vein", 5, 0, 0.8, 0, 0.2)
	case c.Family == "Fabaceae":
		leaf("d-leaf", 3, 1, 0.75, 0.5)
		ray("d-vein", 3, 0, 0.85, 0, 0.5)
	case c.Family == "Solanaceae":
		leaf("d-leaf", 6, 1, 0.4, 0)
		dots("d-berry", 3, 0.42, 0.12, 0.5)
	case c.Kind == "herb":
		leaf("d-leaf", 8, 1, 0.26, 0)
		leaf("d-leaf", 4, 0.55, 0.35, 0.4)
	case c.Family == "Brassicaceae":
		leaf("d-leaf", 7, 1, 0.5, 0)
		leaf("d-leaf d-heart", 5, 0.6, 0.6, 0.4)
		ray("d-vein", 7, 0.2, 0.8, 0, 0)
	default: // a rosette
		leaf("d-leaf", 6, 1, 0.6, 0)
		leaf("d-leaf d-heart", 5, 0.62, 0.7, 0.5)
	}
	return p.b.String()
}
