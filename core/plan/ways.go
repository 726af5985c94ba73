package plan

import (
	"chamfer/core/builder"
	"chamfer/core/design"
	"chamfer/core/frame"
)

// Way is a way to build a bed of the units that are there, with the bed as it would stand.
type Way struct {
	design.Way
	Frame frame.Frame
}

// OfOwned are the ways to build a bed of the units that are there: of which unit, how many
// there are, and the ways, the lowest first; those that cannot be have no frame, and say why.
func (p *Plan) OfOwned(bed string) (unit string, have int, list []Way) {
	unit, have, ways := p.Design.Ways(bed, p.Shop.Catalog)
	for _, w := range ways {
		if w.Not != "" {
			list = append(list, Way{Way: w})
			continue
		}
		d, err := design.Apply(p.Design, p.Shop.Catalog, w.Edits...)
		if err != nil {
			continue
		}
		b, err := d.Bed(bed)
		if err != nil {
			continue
		}
		if f, err := builder.Build(*b, p.Shop.Catalog); err == nil {
			list = append(list, Way{w, f})
		}
	}
	return unit, have, list
}
