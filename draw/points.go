package draw

import (
	"fmt"

	"chamfer/core/frame"
)

// points lays pegs over a line or an outline that is drawn point by point: each is dragged, or
// nudged with the arrow keys, and between two of them stands a smaller one that becomes one
// more. Their typed twin is the decision's own field.
func (d *drawing) points() {
	if d.sheet.Edit == "" || d.view != Above || len(d.f.Handles) == 0 {
		return
	}
	top := d.f.Rim
	at := func(s frame.Spot) pt { return d.place(frame.Point{X: s.U, Y: s.V, Z: top}) }
	d.add(`<path class="d-drawn" d="M0 0"/>`)
	for _, half := range []bool{true, false} { // whole ones lie over those between
		for _, h := range d.f.Handles {
			if h.Half != half {
				continue
			}
			c := at(h.At)
			key, words, size := fmt.Sprintf("point:%s:%d", h.Field, h.Nth), fmt.Sprintf("Point %d", h.Nth+1), 8.0
			if half {
				key, words, size = key+"+", fmt.Sprintf("One more point, behind point %d", h.Nth+1), 5.5
			}
			d.add(
				`<g class="d-peg%s" tabindex="0" role="button" data-point="%s" data-bed="%s" data-per="%.4f" `+
					`data-x="%s" data-y="%s" aria-label="%s: drag it, or press the arrow keys">`+
					`<circle class="d-peg-hit" cx="%s" cy="%s" r="20"/><circle class="d-peg-dot" cx="%s" cy="%s" r="%s"/></g>`,
				map[bool]string{true: " d-peg-half"}[half], esc(key), esc(d.f.Bed), 1/d.scale, n(c.x), n(c.y), esc(words),
				n(c.x), n(c.y), n(c.x), n(c.y), n(size),
			)
		}
	}
}
