package draw

import (
	"cmp"
	"fmt"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/water"
)

// Water draws the plot with the pipes from the tap to every bed and the lines in them, drop by drop.
func Water(p *plan.Plan, s Sheet) string {
	d := &waterDrawing{plotDrawing{plan: p, sheet: s, precision: p.Shop.Precision(), l: &p.Site}}
	d.draw()
	d.barOn(s, d.scale, d.precision.System)
	return d.close()
}

type waterDrawing struct{ plotDrawing }

func (d *waterDrawing) draw() {
	w, h := d.l.Plot.Width.Millimetres(), d.l.Plot.Depth.Millimetres()
	edge, top := d.sheet.Font*2.4, d.sheet.Font*0.9
	d.scale = min((d.sheet.W-2.6*edge)/w, (d.sheet.H-edge-top)/h)
	d.zero = pt{(d.sheet.W - w*d.scale) / 2, top + h*d.scale + (d.sheet.H-edge-top-h*d.scale)/2}
	d.open(d.sheet.W, d.sheet.H, "where the water goes, from above", d.sheet.Own)
	d.poly("d-lawn", d.corners(frame.Spot{}, frame.Spot{U: d.l.Plot.Width, V: d.l.Plot.Depth}))
	for _, e := range d.l.Plot.Fences {
		d.fence(e)
	}
	d.north()
	for i := range d.l.Stands {
		d.bed(i)
	}
	for _, s := range d.plan.Water.Pipes {
		d.line("d-pipe-halo", d.at(s[0]), d.at(s[1]))
		d.line("d-pipe", d.at(s[0]), d.at(s[1]))
	}
	for _, b := range d.plan.Water.Beds {
		d.lines(b)
	}
	d.size()
	d.tap()
}

// bed draws what a bed is built of and its soil, and below what it takes.
func (d *waterDrawing) bed(i int) {
	s := d.l.Stands[i]
	f := d.frame(s.Bed)
	put := s.On(f)
	class := "d-timber-top"
	if f.Lasts() {
		class = "d-stone-top"
	}
	d.add(`<a class="stand-on" href="%s"><title>%s</title>`, esc(fmt.Sprintf(cmp.Or(d.sheet.Pick, "#%s"), s.Bed)),
		esc(s.Name))
	d.poly(class, d.put(put, f.Around()))
	for _, o := range f.Openings {
		if o.Round != nil {
			d.poly("d-soil", d.put(put, o.Round))
			continue
		}
		d.poly("d-soil", d.put(put, []frame.Spot{o.Lo, {U: o.Hi.U, V: o.Lo.V}, o.Hi, {U: o.Lo.U, V: o.Hi.V}}))
	}
	if s.Bed == d.sheet.Held {
		d.poly("d-stood d-stood-held", d.put(put, f.Around()))
	}
	d.add(`</a>`)
	for _, b := range d.plan.Water.Beds {
		if b.Stand != i {
			continue
		}
		words := fmt.Sprintf("%s: %s a week", s.Name, water.Litres(b.Week, d.precision.System))
		if b.By == "drip" {
			words = fmt.Sprintf("%s: %d emitters", s.Name, b.Emitters)
			if len(d.plan.Water.Zones) > 1 {
				words += fmt.Sprintf(", group %d", b.Zone+1)
			}
		}
		lo, hi := bounds(d.corners(s.Lo, s.Hi))
		size := d.sheet.Font * 0.84
		for _, text := range []string{words, s.Name} {
			if w := textWidth(text, size); w < hi.x-lo.x+size*4 || text == s.Name {
				c := pt{(lo.x + hi.x) / 2, hi.y + size*0.9}
				c.x = min(max(c.x, w/2+4), d.sheet.W-w/2-4)
				d.label(c, size, text)
				break
			}
		}
	}
}

// lines draws a bed's head and its lines, with a drop at every emitter.
func (d *waterDrawing) lines(b water.Bed) {
	if len(b.Lines) == 0 {
		return
	}
	s := d.l.Stands[b.Stand]
	put := s.On(d.frame(b.Bed))
	at := func(q frame.Spot) pt { return d.at(put(q)) }
	d.line("d-pipe", at(b.Header[0]), at(b.Header[1]))
	for _, l := range b.Lines {
		d.line("d-drip", at(frame.Spot{U: b.Header[0].U, V: l.From.V}), at(l.To))
		step := l.Length() // the last emitter is at its end
		for k := range l.Emitters {
			u := l.To.U - d.plan.Water.Kit.Spacing*measure.Length(l.Emitters-1-k)
			if l.Emitters == 1 {
				u = l.From.U + step/2
			}
			c := at(frame.Spot{U: u, V: l.From.V})
			if near := d.plan.Water.Kit.Spacing.Millimetres() * d.scale; near < 14 { // too small for a drop
				d.add(`<circle class="d-drop" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(max(1, near*0.16)))
				continue
			}
			d.add(`<path class="d-drop" d="M%s %sc2.4 3.4 3.4 4.6 3.4 6.2a3.4 3.4 0 0 1 -6.8 0c0 -1.6 1 -2.8 3.4 -6.2z"/>`,
				n(c.x), n(c.y-2))
		}
	}
}

// tap draws where the water comes from, to be dragged.
func (d *waterDrawing) tap() {
	c := d.at(d.plan.Water.Tap)
	d.add(`<g class="d-tap" tabindex="0" role="button" aria-label="the tap; arrows move it" data-per="%.4f">`+
		`<circle class="d-peg-hit" cx="%s" cy="%s" r="22"/><circle class="d-tap-ring" cx="%s" cy="%s" r="11"/>`+
		`<path class="d-tap-mark" d="M%s %sh8v4h-3v5h-4v-5h-1z"/>`, 1/d.scale, n(c.x), n(c.y), n(c.x), n(c.y), n(c.x-4),
		n(c.y-4))
	d.end()
	d.label(pt{c.x, c.y - d.sheet.Font*1.3}, d.sheet.Font*0.84, "tap")
}
