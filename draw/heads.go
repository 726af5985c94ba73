package draw

import (
	"chamfer/core/catalog"
	"chamfer/core/fixing"
)

// heads draws the heads of all screws and bolts that are seen from here.
func (d *drawing) heads() {
	d.begin("heads")
	for _, h := range d.plan.Fixings.Heads(d.f, d.plan.Shop.Catalog) {
		if d.wanted(h.Part) && h.Seen && vec(h.Out).dot(d.cam.toward) > 0.3 {
			d.head(d.place(h.At), h.Detail)
		}
	}
	d.end()
}

// head is one, seen from straight before it: a bolt's has six sides.
func (d *drawing) head(at pt, x fixing.Detail) {
	r := min(max(x.Fixing.Diameter.Metres()*1000*d.scale, 2.2), d.sheet.Font*0.5) // a head is twice its screw across
	if x.Fixing.Kind == catalog.Lag {
		r *= 1.3
		h := r * 0.87
		d.poly("d-screw", []pt{{at.x - r, at.y}, {at.x - r/2, at.y - h}, {at.x + r/2, at.y - h}, {at.x + r, at.y},
			{at.x + r/2, at.y + h}, {at.x - r/2, at.y + h}})
		return
	}
	d.add(`<circle class="d-screw" cx="%s" cy="%s" r="%s"/>`, n(at.x), n(at.y), n(r))
}
