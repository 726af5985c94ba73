package masonry

import (
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// fenceLine is one to three walls against a fence or wall that stands. A
// moisture-proof sheet keeps the soil off it. That is right only where the ground
// behind is not held up: then what stands there carries nothing but its own weight,
// and the soil of the bed is kept from it by being low and drained.
//
//	=================  fence
//	|___ sheet ______|
//	|                |
//	|__|__|__|__|__|_|
var fenceLine = System{
	System: design.System{
		Name: "fence-line", Title: "Bed along a fence", About: "walls in front, what stands behind makes the rest",
		Of: "masonry",
		Examples: []design.Example{{About: "three walls of blocks along a fence, with a sheet that keeps the" +
			" soil off it"}},
		Uses:  []string{"grass", "under"},
		Lacks: lacks,
		Adds:  addsFencing,
		Own: append(
			ownFields(cornerCaps, catalog.WallUnit, catalog.HollowUnit, catalog.Brick, catalog.EdgingUnit),
			design.Field{Key: shapeKey, Label: "Walls", Stage: design.AtBed, Kind: design.ChoiceField, Default: "u",
				Offers: []design.Choice{
					{Value: "u", Label: "front and both ends", Note: "along a fence"},
					{Value: "l", Label: "front and left end", Note: "in a corner of two fences"},
					{Value: "straight", Label: "front only", Note: "between two things that stand"},
				}},
			design.Field{
				Key:     heldKey,
				Label:   "The ground behind it stands",
				Stage:   design.AtSite,
				Kind:    design.ChoiceField,
				Default: "level",
				Help: "A fence is no retaining wall. Where ground is held up, a wall of its own has to do it, and" +
					" over the local height limit that is work for a licensed engineer.",
				Offers: []design.Choice{
					{Value: "level", Label: "as high as here", Note: "nothing is held up"},
					{Value: "higher", Label: "higher than here", Note: "what stands there holds it up"},
				},
			},
			design.Field{
				Key:     barrierKey,
				Label:   "Sheet against it",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: "membrane",
				Offers: []design.Choice{
					{
						Value: "membrane",
						Label: "moisture-proof sheet",
						Note:  "keeps soil off the fence, which would rot or stain",
					},
					{Value: "none", Label: "none", Note: "only against stone or concrete"},
				},
			},
			fitField,
			drainField("none"),
		),
		Start: func(cat *catalog.Catalog, b *design.Bed) {
			startWall(cat, b)
			b.Access = b.Access.ToOne()
		},
		Follow: followWall,
		Apart:  apartWall,
		Check: func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
			if b.Options[heldKey] == "higher" {
				refuse(
					heldKey,
					"what holds ground up must not carry a bed as well: a bed with walls all round, clear of it,"+
						" works; the wall itself is for a licensed engineer",
				)
				return
			}
			checkWall(b, cat, refuse)
		},
	},
	Build: buildFenceLine,
}

const (
	heldKey    = "held"
	barrierKey = "barrier"
)

// turned is how far the sheet runs along the ends and up past the soil (common
// practice: 100 mm, 4 in).
const turned = 100 * measure.Millimetre

func buildFenceLine(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	f, err := buildWall(bed, cat)
	f.Backed = true
	if err != nil || bed.Options[barrierKey] == "none" {
		return f, err
	}
	back := bed.Length // of what is covered
	switch bed.Options[shapeKey] {
	case "l":
		back += bed.Width
	case "straight":
		back += 2 * bed.Width
	}
	f.Sheets = append(
		f.Sheets,
		frame.Sheet{
			ID:       bed.ID + ".barrier",
			Bed:      bed.ID,
			Material: bed.Options[barrierKey],
			Place: "against what stands behind, from the ground to above the soil, fixed along its upper edge" +
				" with battens or tape, never into a neighbour's fence",
			Length: back + 2*turned,
			Width:  bed.Soil + turned,
			Inside: true,
			Along:  true,
		},
	)
	return f, nil
}
