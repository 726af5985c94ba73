package timber

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// hoops are pipes bent across the bed, held in straps inside the long sides,
// to carry net or fleece.
var hoops = Extra{
	Extra: design.Extra{Name: "hoops", Fields: []design.Field{
		{
			Key:     "hoops",
			Does:    []design.Deed{{For: design.StandsTall, Value: design.NotThere, Words: "no hoops"}},
			Label:   "Hoops for net or fleece",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.NotThere,
			Help:    "A hoop at each end and about every 4 ft (1.2 m) between (common practice).",
			Offers:  orNone("", design.Choice{Value: "pipe", Label: "bent pipe", Note: "off again in a minute"}),
		},
		{
			Key:     "hoop_rise",
			Does:    []design.Deed{{For: design.SetsTall}},
			Label:   "Hoops above the rim",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "24 in",
			Metric:  "600 mm",
		}},
		Check: checkHoops,
	},
	Build: buildHoops,
}

// hoopFoot is how far a hoop's end reaches down inside the wall.
const hoopFoot = 150 * measure.Millimetre

// hoopPipe is the pipe of one hoop: half an ellipse over the width, by
// Ramanujan's first formula for its circumference, and a foot at each end.
func hoopPipe(width, rise measure.Length) measure.Length {
	a, b := float64(width)/2, float64(rise)
	half := math.Pi * (3*(a+b) - math.Sqrt((3*a+b)*(a+3*b))) / 2
	return measure.Length(math.Round(half)) + 2*hoopFoot
}

// bow is half an ellipse across the bed over a middle, as points.
func bow(middle frame.Point, half, rise measure.Length) []frame.Point {
	const steps = 24
	var line []frame.Point
	for i := range steps + 1 {
		sin, cos := math.Sincos(math.Pi * float64(i) / steps)
		line = append(
			line,
			middle.Plus(
				frame.Point{
					Y: -measure.Length(math.Round(float64(half) * cos)),
					Z: measure.Length(math.Round(float64(rise) * sin)),
				},
			),
		)
	}
	return line
}

func checkHoops(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	rise := b.OptionLength("hoop_rise")
	if rise < 100*measure.Millimetre || rise > 2*measure.Metre {
		refuse(
			"hoop_rise",
			"%s is no height for a hoop: from %s to %s works",
			p.Feet(rise),
			p.AtLeast(100*measure.Millimetre),
			p.AtMost(2*measure.Metre),
		)
		return
	}
	pipe, err := cat.Fitting("hoop")
	if err != nil {
		refuse("hoops", "%v", err)
		return
	}
	if need := hoopPipe(b.Width, rise); need > pipe.Each {
		refuse(
			"hoop_rise",
			"a hoop %s high over this bed takes %s of pipe, and it comes in %s: a lower hoop works",
			p.Feet(rise),
			p.Feet(need),
			p.Feet(pipe.Each),
		)
	}
}

func buildHoops(b *box) {
	rise := b.bed.OptionLength("hoop_rise")
	each := hoopPipe(b.bed.Width, rise)
	var lines [][]frame.Point
	for _, o := range b.f.Openings {
		long := o.Hi.U - o.Lo.U
		gaps := max(1, (long+4*measure.Foot-1)/(4*measure.Foot))
		for k := range gaps + 1 {
			lines = append(
				lines,
				bow(frame.Point{X: o.Lo.U + long*k/gaps, Y: (o.Lo.V + o.Hi.V) / 2, Z: o.Rim}, (o.Hi.V-o.Lo.V)/2, rise),
			)
		}
	}
	n := len(lines)
	b.f.Fittings = append(
		b.f.Fittings,
		frame.Fitting{ID: b.id("hoops"), Bed: b.bed.ID, Kind: "hoop", Place: "across the bed", Count: n, Each: each,
			Why: fmt.Sprintf(
				"one at each end and every 4 ft: %d, half an ellipse each and %s down inside at both ends",
				n,
				b.cat.Precision(b.cat.Habits).Short(hoopFoot),
			), Lines: lines},
		frame.Fitting{
			ID:     b.id("clips"),
			Bed:    b.bed.ID,
			Kind:   "clip",
			Place:  "inside the long sides",
			Count:  2 * n,
			Screws: 4,
			Into:   b.board.Thickness,
			Why:    "a pair of straps for each end of a hoop, two screws in each",
		},
	)
	b.f.Acts = append(
		b.f.Acts,
		frame.Act{
			Verb:  frame.FitOut,
			Of:    "hoops",
			Title: "Put in the hoops",
			Where: "inside the long sides",
			Fits:  []string{b.id("hoops"), b.id("clips")},
			Note: fmt.Sprintf(
				"Screw the straps to the sides, cut the pipe to %s, and spring it in from one side to the other: it"+
					" pulls outwards, so mind your face.",
				b.cat.Precision(b.cat.Habits).Feet(each),
			),
		},
	)
}

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
