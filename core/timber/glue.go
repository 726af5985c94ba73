package timber

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// glue is spread on what is screwed, or it is not: gardeners differ. It keeps joints from
// working loose in thin boards; it lets nothing be taken apart again.
var glue = Extra{
	Extra: design.Extra{Name: "glue", Fields: []design.Field{
		{
			Key:     "glue",
			Label:   "Glue as well as screws",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "Waterproof wood glue on every two faces that are screwed together, slats of floors left out:" +
				" they have to move.",
			Offers: orNone(
				"comes apart again, and screws hold it",
				design.Choice{
					Value: "pva",
					Label: "waterproof wood glue",
					Note:  "joints of thin boards stay tight; for good",
				},
			),
		}}},
	Build: func(b *box) {
		var area measure.Area
		for _, j := range b.f.Joints {
			one, okOne := b.f.Part(j.Parts[0])
			two, okTwo := b.f.Part(j.Parts[1])
			if okOne && okTwo && j.Kind != frame.SlatLedger && j.Kind != frame.SheetDown && j.Kind != frame.Splice &&
				j.Kind != frame.Bracket {
				if _, sides, ok := meet(one.Body, two.Body); ok {
					area += measure.Over(sides[0], sides[1])
				}
			}
		}
		if area == 0 {
			return
		}
		b.f.Fittings = append(
			b.f.Fittings,
			frame.Fitting{
				ID:    b.id("glue"),
				Bed:   b.bed.ID,
				Kind:  "glue",
				Place: "between the faces of joints",
				Milli: int((area*1000 + glued - 1) / glued),
				Why: fmt.Sprintf(
					"%s of faces that touch; a bottle does about 25 sq ft (2.3 m²)",
					b.cat.System.Area(area),
				),
			},
		)
		b.f.Acts[0].Fits = append(b.f.Acts[0].Fits, b.id("glue"))
		b.f.Acts[0].Note += " Spread glue on both faces before they are screwed, and wipe off what comes out: oil" +
			" does not take on it."
	},
}

// glued is what a bottle of half a litre (a pint) does, a thin coat on one face: 2.3 m², 25
// ft² (common practice: about 250 ft² a gallon, some lost).
var glued = measure.Over(2300*measure.Millimetre, measure.Metre)
