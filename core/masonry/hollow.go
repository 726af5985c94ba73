package masonry

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// hollowBlock is a rectangle of hollow blocks laid dry, whose open cores are filled,
// or planted in the top course, with pins through the courses into the ground.
//
//	|[ ][ ]|[ ][ ]|[ ][ ]|   two cores a block, in line from course to course
var hollowBlock = System{
	System: design.System{
		Name: "hollow-block", Title: "Hollow blocks, planted", About: "standard blocks, laid dry; the cores take herbs",
		Of:       "masonry",
		Examples: []design.Example{{About: "standard hollow blocks, dry, pinned, with herbs in the cores"}},
		Uses:     []string{"grass", "under"},
		Lacks:    lacks,
		Adds:     adds,
		Own: append(
			ownFields(cornerCaps, catalog.HollowUnit),
			design.Field{
				Key:     shapeKey,
				Label:   "Walls",
				Stage:   design.AtBed,
				Kind:    design.ChoiceField,
				Default: "closed",
				Offers:  []design.Choice{{Value: "closed", Label: "all round", Note: "stands by itself"}},
			},
			design.Field{Key: laidKey, Label: "Laid", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "mortar",
				Help: "Dry, blocks touch and the wall is as long as they are; in mortar every joint takes its width.",
				Offers: []design.Choice{
					{Value: "dry", Label: "dry", Note: "block on block, taken down again"},
					{Value: "mortar", Label: "in mortar", Note: "stands stiffer; for good"},
				}},
			design.Field{
				Key:     coresKey,
				Label:   "Cores of the top course",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: "planted",
				Offers: []design.Choice{
					{Value: "planted", Label: "planted", Note: "small pockets that dry out soon"},
					{Value: "filled", Label: "filled with stone", Note: "heavier, nothing to water"},
				},
			},
			design.Field{
				Key:     pinKey,
				Label:   "Pins through the cores",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "4 ft",
				Metric:  "1200 mm",
				Help: "How far apart, about 4 ft (1.2 m): rebar driven into the ground keeps the courses in line" +
					" (common practice). Cap their ends.",
			},
		),
		Start:  startHollow,
		Follow: followWall,
		Apart:  apartWall,
		Check: func(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
			if every := b.OptionLength(pinKey); every < 300*measure.Millimetre || every > 3*measure.Metre {
				p := cat.Precision(cat.Habits)
				refuse(
					pinKey,
					"pins every %s are too close or hold nothing: from %s to %s works",
					p.Feet(every),
					p.AtLeast(300*measure.Millimetre),
					p.AtMost(3*measure.Metre),
				)
			}
			checkWall(b, cat, refuse)
		},
	},
	Build: buildHollow,
}

const (
	coresKey = "cores"
	pinKey   = "pins"
	laidKey  = "laid"
)

func startHollow(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.HollowUnit)[0]
	b.Options[unitKey], b.Options[laidKey] = u.ID, "dry"
	u.Joint = 0
	b.Soil = min(b.Soil, cat.Told(measure.Foot, 300*measure.Millimetre))
	snap(b, u)
}

// pockets is the room in one block's cores, as a share of its outside (common
// practice: about half).
func pockets(u catalog.Unit) measure.Volume {
	return measure.Over(u.Length, u.Depth).By(u.Height) / 2
}

func buildHollow(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	f, err := buildWall(bed, cat)
	if err != nil {
		return f, err
	}
	u, err := unitOf(bed, cat)
	if err != nil {
		return f, err
	}
	planted := bed.Options[coresKey] == "planted" && bed.Options[capKey] == "none"
	top, stone := 0, measure.Volume(0)
	for _, x := range f.Units {
		if x.Kind == frame.CapUnit {
			continue
		}
		if x.Course == f.Courses() {
			if top++; planted {
				continue
			}
		}
		share := pockets(u)
		if x.Cut > 0 {
			share = share / measure.Volume(u.Length/measure.Millimetre) * measure.Volume(x.Cut/measure.Millimetre)
		}
		stone += share
	}
	if stone > 0 {
		f.Cores = append(f.Cores, frame.Core{Bed: bed.ID, Volume: stone})
	}
	note := "Stone in all of them: it drains, and its weight holds the wall."
	title := "Fill the cores"
	if planted {
		f.Cavities[0].HeapedAs = "in the blocks' pockets"
		f.Cavities[0].Heaped += pockets(u) * measure.Volume(top)
		title = "Fill the cores and plant them"
		note = fmt.Sprintf(
			"Stone in the courses below so that they drain, soil in the %d pockets of the last. They dry out first:"+
				" thyme, strawberries, nasturtiums.",
			2*top,
		)
	}
	pinned := frame.Act{
		Verb:  frame.FitOut,
		Of:    "pins",
		Title: "Drive the pins",
		Where: "through the cores, at every corner and between",
		Fits:  []string{bed.ID + ".pins"},
		Soil:  frame.BeforeSoil,
		Tools: []string{"club hammer", "caps for the pins' ends"},
		Note: "Before the cores are filled: each goes down through all courses and as deep into the ground again as" +
			" it can. Put a cap on every end that stands out.",
	}
	f.Acts = append(
		f.Acts,
		pinned,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "cores",
			Title: title,
			Where: "course by course, the top one last",
			Note:  note,
			Soil:  frame.BeforeSoil,
			After: []string{pinned.Named()},
			Soils: planted,
			Tools: []string{"shovel", "bucket"},
		},
	)
	line := f.Bases[0].Line
	pins := int((line + bed.OptionLength(pinKey) - 1) / bed.OptionLength(pinKey))
	f.Fittings = append(
		f.Fittings,
		frame.Fitting{
			ID:    bed.ID + ".pins",
			Bed:   bed.ID,
			Kind:  "pin",
			Place: "through the cores into the ground, one at every corner and between",
			Count: max(4, pins),
			Why:   fmt.Sprintf("%d round the wall; put a cap on every end that stands out", max(4, pins)),
		},
	)
	return f, nil
}
