package draw

import (
	"chamfer/core/frame"
	"chamfer/core/measure"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// laid draws one block or brick: its faces in the shades of masonry, a cut one
// hatched where the cut shows, its kind and its course for those who ask.
func (d *drawing) laid(b *body) {
	u := b.unit
	extra := ""
	if d.sheet.New != nil && !has(d.sheet.New, u.ID) {
		extra = " d-faint"
	}
	if u.ID == d.sheet.Held {
		extra += " d-lit"
	}
	words := string(u.Kind)
	if unit, err := d.plan.Shop.Catalog.Unit(u.SKU); err == nil {
		words = unit.Name + ", " + string(u.Kind)
	}
	if u.Cut > 0 {
		words = strings.TrimSuffix(words, ", cut") + ", cut to " + d.precision.Short(u.Cut)
	}
	if u.Angle != 0 {
		words += fmt.Sprintf(" at %s° from square", strconv.FormatFloat(math.Round(10*u.Angle)/10, 'f', -1, 64))
	}
	if b.more && d.sheet.Pick == "" {
		d.add(`<g class="part%s">`, extra)
	} else if d.sheet.Pick == "" {
		d.add(`<g class="part unit%s" data-part="%s">`, extra, esc(u.ID))
	} else {
		n := 0
		for i := range d.f.Units {
			if d.f.Units[i].Course == u.Course {
				n++
			}
		}
		heard := d.once(fmt.Sprint("course ", u.Course), fmt.Sprintf("Course %d: %s", u.Course, measure.Count(n, "block")))
		d.add(`<a class="part unit%s" data-part="%s" href="%s" tabindex="-1"%s>`, extra, esc(u.ID),
			esc(fmt.Sprintf(d.sheet.Pick, u.ID)), heard)
	}
	d.add(`<title>%s: %s</title>`, esc(u.Role), esc(words))
	for _, f := range b.visible(d.cam) {
		tone := d.stone(f)
		if u.Cut > 0 || u.Kind == frame.HalfUnit {
			tone += " d-stone-cut"
		}
		if u.Pieces != nil {
			tone += " d-seamless"
		}
		d.poly(tone, d.corners(f))
	}
	d.endPart()
}

// poured draws a stretch of a cast wall, without the lines between stretches.
func (d *drawing) poured(b *body) {
	d.begin("cast")
	for _, f := range b.visible(d.cam) {
		d.poly(d.stone(f)+" d-seamless", d.corners(f))
	}
	d.end()
}

// stone is the shade of a face of masonry: tops are lightest, faces to the right
// darkest.
func (d *drawing) stone(f face) string {
	switch {
	case d.elevation():
	case f.normal[2] > 0.6:
		return "d-stone-top"
	case f.normal[0] > 0.6 || f.normal[1] > 0.6:
		return "d-stone-side"
	}
	return "d-stone-face"
}
