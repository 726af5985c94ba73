package draw

import (
	"strings"

	"chamfer/core/plan"
)

// Finish draws a bed as a solid, its timber as dark as what is brushed on it makes it.
func Finish(p *plan.Plan, bed string, s Sheet) string {
	drawing := Bed(p, bed, Solid, s)
	b, err := p.Design.Bed(bed)
	if err != nil {
		return drawing
	}
	kind := ""
	for _, f := range p.Shop.Catalog.FinishesOf(b.Finish) {
		kind = f.Kind
	}
	if kind == "" {
		return drawing
	}
	return strings.Replace(drawing, "<svg ", `<svg class="d-brushed d-brushed-`+esc(kind)+`" `, 1)
}
