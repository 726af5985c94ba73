package draw

import (
	"fmt"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// Heaps draws the plot with the heaps that are delivered where they fit beside the beds.
func Heaps(p *plan.Plan, s Sheet) string {
	d := &plotDrawing{plan: p, sheet: s, precision: p.Shop.Precision(), l: &p.Site}
	d.sheet.Plain = true
	w, h := d.l.Plot.Width.Millimetres(), d.l.Plot.Depth.Millimetres()
	d.scale = min((d.sheet.W-12)/w, (d.sheet.H-12)/h)
	d.zero = pt{(d.sheet.W - w*d.scale) / 2, (d.sheet.H + h*d.scale) / 2}
	d.open(d.sheet.W, d.sheet.H, "where the heaps lie", d.sheet.Own)
	d.poly("d-lawn", d.corners(frame.Spot{}, frame.Spot{U: d.l.Plot.Width, V: d.l.Plot.Depth}))
	for i := range d.l.Stands {
		d.stand(i)
	}
	for _, x := range p.Heaps() {
		if !x.Lies {
			continue
		}
		c, r := d.at(x.At), float64(x.Heap.Across/2)/float64(measure.Millimetre)*d.scale
		d.add(`<g><title>%s</title><circle class="d-food" cx="%s" cy="%s" r="%s"/><circle class="d-heap-top" cx="%s" cy="%s"`+
			` r="%s"/>`, esc(x.Heap.Name), n(c.x), n(c.y), n(r), n(c.x-r*0.12), n(c.y-r*0.15), n(r*0.45))
		size := d.sheet.Font * 0.8
		words := fmt.Sprintf("%s, %s across", x.Heap.Name, d.precision.Feet(x.Heap.Across))
		half := textWidth(words, size) / 2
		d.label(pt{min(max(c.x, half+4), d.sheet.W-half-4), min(c.y+r+size, d.sheet.H-size)}, size, words)
		d.end()
	}
	return d.close()
}
