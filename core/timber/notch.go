package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// capNotch cuts the cap out round a fence post, so that a bed can stand close
// up to the fence.
var capNotch = Extra{
	Extra: design.Extra{Name: "notch", Fields: []design.Field{
		{
			Key:     "notch",
			Label:   "Cap notched for a fence post",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "A cap that stands out over a fence post is cut round it. Measure the post, and give it a" +
				" little room.",
			Offers: orNone("",
				design.Choice{Value: "back-left", Label: "at the back left corner"},
				design.Choice{Value: "back-right", Label: "at the back right corner"},
				design.Choice{Value: "back", Label: "in the back"}),
		},
		{
			Key:     "notch_wide",
			Label:   "Notch, along the fence",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "3-3/4 in",
			Metric:  "95 mm",
		},
		{
			Key:     "notch_deep",
			Label:   "Notch, away from it",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "1 in",
			Metric:  "25 mm",
			Help:    "No more than the cap stands out of the wall, or the wall is in the way.",
		},
		{
			Key:     "notch_at",
			Label:   "Notch in the back, its middle from the cap's left end",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "24 in",
			Metric:  "600 mm",
		}},
		Check: checkNotch,
	},
	Build: buildNotch,
}

// postRoom is what the notch takes out of the cap's outline, seen from above.
func postRoom(lo, hi frame.Spot, bed design.Bed) (a, b frame.Spot) {
	wide, deep := bed.OptionLength("notch_wide"), bed.OptionLength("notch_deep")
	from := bed.OptionLength("notch_at") - wide/2
	switch bed.Options["notch"] {
	case "back-left":
		from = 0
	case "back-right":
		from = hi.U - lo.U - wide
	}
	return frame.Spot{U: lo.U + from, V: hi.V - deep}, frame.Spot{U: lo.U + from + wide, V: hi.V}
}

func checkNotch(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	if b.Cap == design.NoCap {
		refuse("notch", "there is no cap to notch: choose a cap first, with an overhang outwards")
		return
	}
	wide, deep, at := b.OptionLength("notch_wide"), b.OptionLength("notch_deep"), b.OptionLength("notch_at")
	least := 5 * measure.Millimetre
	if wide < least || wide > b.Length/2 {
		refuse(
			"notch_wide",
			"a notch %s wide is none for a post here: from %s to %s works",
			p.Short(wide),
			p.AtLeast(least),
			p.AtMost(b.Length/2),
		)
		return
	}
	corner := b.Options["notch"] != "back"
	if deep < least || deep > b.CapOut && !(corner && wide <= b.CapOut) {
		refuse(
			"notch_deep",
			"the cap stands out %s behind, and a notch %s deep reaches the wall: up to %s works, or a wider overhang"+
				" outwards",
			p.Short(b.CapOut),
			p.Short(deep),
			p.AtMost(b.CapOut),
		)
		return
	}
	if deep > b.Width/2 {
		refuse(
			"notch_deep",
			"a notch %s deep goes half through the bed: up to %s works",
			p.Short(deep),
			p.AtMost(b.Width/2),
		)
		return
	}
	// The notch stays this far off the mitres, or the short grain breaks out.
	edge := b.CapOut + b.CapIn + 2*wide
	if long := b.Length + 2*b.CapIn + 2*b.CapOut; !corner && (at < edge || at > long-edge) {
		refuse(
			"notch_at",
			"%s from the end is too near a corner: from %s to %s works, or choose the corner itself",
			p.Feet(at),
			p.AtLeast(edge),
			p.AtMost(long-edge),
		)
	}
}

func buildNotch(b *box) {
	o := b.bed.CapOut
	lo, hi := postRoom(frame.Spot{U: -o, V: -o}, frame.Spot{U: b.outLength + o, V: b.outWidth + o}, b.bed)
	top := b.rim + b.cap.Thickness
	var ids []string
	for i := range b.f.Parts {
		p := &b.f.Parts[i]
		a, c := p.Body.Bounds()
		if p.Kind != frame.CapBoard || a.X >= hi.U || c.X <= lo.U || a.Y >= hi.V || c.Y <= lo.V {
			continue
		}
		p.Notches = append(
			p.Notches,
			frame.Notch{
				Lo:  frame.Point{X: lo.U, Y: lo.V, Z: a.Z},
				Hi:  frame.Point{X: hi.U, Y: hi.V, Z: top},
				For: "the fence post",
			},
		)
		p.Fields = append(p.Fields, "notch", "notch_wide", "notch_deep", "notch_at")
		ids = append(ids, p.ID)
	}
	pr := b.cat.Precision(b.cat.Habits)
	for i := range b.f.Acts {
		if a := &b.f.Acts[i]; a.Verb == frame.FixCap && len(ids) > 0 {
			a.Note += fmt.Sprintf(
				" Cut the notch for the fence post, %s by %s, before the rail is screwed down: two saw cuts in from"+
					" the edge and a chisel across, or a jigsaw. Hold the rail up to the post first.",
				pr.Short(b.bed.OptionLength("notch_wide")),
				pr.Short(b.bed.OptionLength("notch_deep")),
			)
		}
	}
}
