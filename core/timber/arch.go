package timber

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// arch is a wire panel sprung from this bed to the next one over the path.
var arch = Extra{
	Extra: design.Extra{Name: "arch", Fields: []design.Field{
		{
			Key: "arch",
			Does: []design.Deed{
				{For: design.StandsTall, Value: design.NotThere, Words: "no arch"},
				{For: design.SpansPath, Value: design.NotThere, Words: "no arch"}},
			Label:   "Arch to the bed beside it",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help: "A wire panel sprung over the path, tied inside both beds' walls. The bed that has it buys it." +
				" Its cut ends are sharp: gloves, and caps or a file on the points.",
			Offers: orNone(
				"",
				design.Choice{
					Value: "panel",
					Label: "a wire panel over the path",
					Note:  "climbers hang inside it, picked standing",
				},
			),
		},
		{
			Key:     "arch_path",
			Does:    []design.Deed{{For: design.SetsSpan}},
			Label:   "Path under the arch",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "4 ft",
			Metric:  "1200 mm",
		}},
		Check: checkArch,
	},
	Build: func(b *box) {
		p := b.cat.Precision(b.cat.Habits)
		panel, err := b.cat.Fitting("panel")
		if err != nil {
			return // Check has refused it
		}
		path := b.bed.OptionLength("arch_path")
		high := archHead(path, panel.Each)
		b.f.Fittings = append(
			b.f.Fittings,
			frame.Fitting{
				ID:    b.id("arch"),
				Bed:   b.bed.ID,
				Kind:  "panel",
				Place: "over the path to the next bed",
				Count: 1,
				Each:  panel.Each,
				Why: fmt.Sprintf(
					"half a circle over %s and two straight legs: %s high inside",
					p.Feet(path),
					p.Feet(high),
				),
			},
		)
		b.f.Acts = append(
			b.f.Acts,
			frame.Act{
				Verb:  frame.FitOut,
				Of:    "arch",
				Title: "Spring the arch",
				Where: "from this bed to the next",
				Fits:  []string{b.id("arch")},
				Soil:  frame.OnSoil,
				Bent:  true,
				Note: fmt.Sprintf(
					"With two people, one at each end: it springs back hard. Set its ends inside the walls on the"+
						" soil; the middle then stands about %s above the ground.",
					p.Feet(high),
				),
			},
		)
	},
}

// archHead is how high a panel stands over a path: half a circle over it, and
// what is left of the panel in two straight legs.
func archHead(path, panel measure.Length) measure.Length {
	legs := (float64(panel) - math.Pi*float64(path)/2) / 2
	return measure.Length(math.Round(legs)) + path/2
}

func checkArch(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	panel, err := cat.Fitting("panel")
	if err != nil {
		refuse("arch", "%v", err)
		return
	}
	path := b.OptionLength("arch_path")
	least, most := 500*measure.Millimetre, measure.Length(float64(panel.Each)/math.Pi)
	if path < least || path > most {
		refuse(
			"arch_path",
			"a panel of %s makes no arch over %s: from %s to %s works",
			p.Feet(panel.Each),
			p.Feet(path),
			p.AtLeast(least),
			p.AtMost(most),
		)
	}
}
