package timber

import (
	"fmt"

	"chamfer/core/addition"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// footedPlanter is a small planter that stands clear of the ground on feet: legs
// inside the corners, boards round them, and a floor of slats with gaps that let
// water out, carried by ledgers along the sides.
//
//	|  |_______________|  |
//	|  |     soil      |  |
//	|  |===============|  |   slats
//	|  |##           ##|  |   ledgers, level with the boards' lower edge
//	|__|               |__|   feet
var footedPlanter = System{
	System: stacked(design.System{
		Name: "footed", Title: "Small planter on feet", About: "has a floor, drains, can be moved when it is empty",
		Examples: []design.Example{{About: "a small planter with a slatted floor that stands clear on feet"}},
		Uses:     []string{"corners"},
		Own: []design.Field{
			{
				Key:     "feet",
				Label:   "Feet below the boards",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "1 in",
				Metric:  "25 mm",
				Help:    "So that it stands clear and drains: about 1 in (25 mm) (common practice).",
			},
			{
				Key:     "gap",
				Does:    []design.Deed{{For: design.DrainsFloor}},
				Label:   "Gap between floor slats",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "1/4 in",
				Metric:  "6 mm",
				Help:    "At least this; what is left over is shared out. Lay fabric over the gaps.",
			},
			{Key: "straps", Label: "Straps under the floor", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "two",
				Offers: []design.Choice{
					{Value: "two", Label: "two, from scrap", Note: "tie the slats together, so that none tips or cups"},
					{Value: "none", Label: "none"}}},
			castersField,
		},
		Adds:  andFinishes(addsToFloored),
		Makes: makes,
		Start: startFooted,
		Check: checkFooted,
	}, footedFloor),
	Build: buildFooted,
}

// Limits of a small planter: a floor of slats from side to side, without a beam
// under it, and a weight two people can still tip.
const (
	footedLongest = 1300 * measure.Millimetre
	footedWidest  = 500 * measure.Millimetre
	footedDeepest = 400 * measure.Millimetre
	widestGap     = 20 * measure.Millimetre // between slats
)

func startFooted(cat *catalog.Catalog, b *design.Bed) {
	mm := measure.Millimetre
	b.Length, b.Width, b.Soil = 30*measure.Inch, 14*measure.Inch, 15*measure.Inch/2
	board := "picket"
	if cat.System == measure.Metric {
		b.Length, b.Width, b.Soil = 900*mm, 350*mm, 200*mm
		board = "150x25"
	}
	if p, err := cat.Profile(board); err == nil && cat.Sold(board, b.Species) {
		takeWalls(p, cat, b)
	}
}

func checkFooted(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	within(refuse, p, "small planter",
		limit{"length", b.Length, footedLongest, "a bed on the ground may be longer"},
		limit{"width", b.Width, footedWidest, "a bed on the ground may be wider"},
		limit{"soil", b.Soil, footedDeepest, "a bed on the ground may be deeper"},
		limit{"feet", b.OptionLength("feet"), 300 * measure.Millimetre, "taller feet wobble"},
		limit{"gap", b.OptionLength("gap"), widestGap, "soil falls through wider ones"})
	if b.OptionLength("feet") <= 0 {
		refuse(
			"feet",
			"without feet the floor stands in the wet and rots; from %s works",
			p.AtLeast(5*measure.Millimetre),
		)
	}
	leg, err := addition.Stick(cat)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	if least := 2*leg.Width + betweenPosts; b.Width < least {
		refuse("width", "two legs do not fit; from %s works", p.AtLeast(least))
	}
}

// footedFloor is how far above the walls' lower edge the soil lies: on slats of the walls'
// boards, on rails of the legs' stuff.
func footedFloor(bed design.Bed, cat *catalog.Catalog) measure.Length {
	leg, err := addition.Stick(cat)
	board, err2 := cat.Profile(bed.Board)
	if err != nil || err2 != nil {
		return 0
	}
	return leg.Width + board.Thickness
}

func buildFooted(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	leg, err := addition.Stick(cat)
	if err != nil {
		return frame.Frame{}, err
	}
	casters := castersUnder(bed, cat)
	b, err := newBox(bed, cat, bed.OptionLength("feet")+casters, footedFloor(bed, cat))
	if err != nil {
		return frame.Frame{}, err
	}
	f := &floored{box: b, leg: leg, rail: leg, slat: b.board, legsAt: legsInside, casters: casters}
	f.build(0)
	f.carriedByLegs()
	if bed.Options["straps"] == "two" {
		f.straps()
	}
	if err := f.onCasters(); err != nil {
		return frame.Frame{}, err
	}
	out := b.finish()
	out.Measures = append(
		out.Measures,
		frame.Measure{Name: "feet", Field: "feet", From: frame.Point{Z: casters}, To: frame.Point{Z: b.lift}},
	)
	return out, nil
}

// straps tie the slats together from below: two strips of board, half a board
// wide, between the end ledgers.
func (f *floored) straps() {
	t, thick := f.board.Thickness, f.rail.Thickness
	wide := min(f.board.Width/2, (f.inWidth-2*thick)/4)
	var ids []string
	for k := measure.Length(1); k <= 2; k++ {
		p := f.part(f.board, frame.Strap, fmt.Sprintf("strap %d under the floor", k))
		p.ID, p.Grain, p.Hidden, p.Width = f.id("strap.%d", k), frame.X, true, wide
		y := f.outWidth*k/3 - wide/2
		z := f.lift + f.rail.Width
		p.Body = standing(
			frame.Spot{U: t + thick, V: y},
			frame.Spot{U: f.outLength - t - thick, V: y + wide},
			z-t,
			z,
			frame.X,
		)
		p.Length = p.Body.To - p.Body.From
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
		for _, slat := range f.f.Parts {
			if slat.Kind != frame.Slat {
				continue
			}
			if at, _, ok := contact(p.Body, slat.Body); ok {
				f.f.Joints = append(
					f.f.Joints,
					frame.Joint{ID: p.ID + "+" + slat.ID, Kind: frame.FaceToFace, Parts: [2]string{p.ID, slat.ID},
						Through: t, Into: t, Run: wide, At: at, Load: "keeps the slats in one plane"},
				)
			}
		}
	}
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "floor straps",
			Title: "Tie the floor from below",
			Where: "upside down, before any soil is in it",
			Parts: ids,
			Over:  true,
		},
	)
}
