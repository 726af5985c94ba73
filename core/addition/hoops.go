package addition

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// hoops are pipes bent across the bed, held in straps inside the long sides,
// to carry net or fleece.
var hoops = design.Extra{Name: "hoops", Fields: []design.Field{
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

func buildHoops(s *site) {
	p := s.cat.Precision(s.cat.Habits)
	rise := s.bed.OptionLength("hoop_rise")
	arcs := map[measure.Length][][]frame.Point{} // by the pipe of each
	n := 0
	for _, o := range s.f.Openings {
		round := outline(o)
		from, long := o.Lo.U, o.Hi.U-o.Lo.U
		if o.Round != nil { // at its very ends it may be no wider than a point
			from, long = from+hoopIn, long-2*hoopIn
		}
		apart := s.hoopsApart(rise)
		gaps := max(1, (long+apart-1)/apart)
		for k := range gaps + 1 {
			at := from + long*k/gaps
			spans := [][2]measure.Length{{o.Lo.V, o.Hi.V}}
			if o.Round != nil {
				spans = chords(round, at, false)
			}
			for _, span := range spans {
				wide := span[1] - span[0]
				if wide < leastHoop {
					continue
				}
				each := hoopPipe(wide, rise)
				arcs[each] = append(arcs[each], bow(frame.Point{X: at, Y: (span[0] + span[1]) / 2, Z: o.Rim}, wide/2, rise))
				n++
			}
		}
	}
	var fits []string
	var cut []string
	for i, each := range slices.Sorted(maps.Keys(arcs)) {
		id := s.id("hoops")
		if i > 0 {
			id = s.id("hoops.%d", i+1)
		}
		fits, cut = append(fits, id), append(cut, p.Feet(each))
		s.f.Fittings = append(s.f.Fittings, frame.Fitting{ID: id, Bed: s.bed.ID, Kind: "hoop", Place: "across the bed",
			Count: len(arcs[each]), Each: each, Lines: arcs[each],
			Why: fmt.Sprintf("one at each end and every %s at most: %d, half an ellipse each and %s down inside at both ends",
				p.Feet(s.hoopsApart(rise)), len(arcs[each]), p.Short(hoopFoot))})
	}
	foot := frame.Fitting{ID: s.id("clips"), Bed: s.bed.ID, Kind: "clip", Place: "inside the long sides", Count: 2 * n,
		Screws: 4, Into: s.boards(), Why: "a pair of straps for each end of a hoop, two screws in each"}
	how := "Screw the straps to the sides, cut the pipe to %s, and spring it in from one side to the other"
	if !s.straps() {
		foot = frame.Fitting{ID: s.id("clips"), Bed: s.bed.ID, Kind: "pin",
			Place: "in the soil, along the inside of the walls",
			Feet:  true,
			Count: 2 * n,
			Why:   "one for each end of a hoop, driven three quarters in: there is no board thick enough to strap it to"}
		how = "Drive the pins inside the walls until a hand's length stands out, cut the pipe to %s, slip one end over its" +
			" pin and spring the other over its own"
	}
	s.f.Fittings = append(s.f.Fittings, foot)
	s.f.Acts = append(s.f.Acts, frame.Act{Verb: frame.FitOut, Of: "hoops", Title: "Put in the hoops",
		Where: foot.Place, Fits: append(fits, foot.ID), Soil: frame.OnSoil, Bent: true,
		Note: fmt.Sprintf(how+": it pulls outwards, so mind your face.", strings.Join(cut, ", "))})
}

// straps reports whether there are boards that straps are screwed to.
func (s *site) straps() bool { return s.boards() >= shortest(s.cat) }

// hoopsApart is how far one hoop is from the next: 4 ft on straps (common practice), and over
// pins in the soil as near as makes them hold the wind on the net between, to whole half feet.
func (s *site) hoopsApart(rise measure.Length) measure.Length {
	usual, step := s.cat.Told(4*measure.Foot, 1200*measure.Millimetre), s.cat.Told(6*measure.Inch, 150*measure.Millimetre)
	if s.straps() {
		return usual
	}
	for apart := usual; apart > 2*step; apart -= step {
		if strength.HoopFoot(apart, rise) <= strength.HoopPin.Most()/strength.BriefFactor {
			return apart
		}
	}
	return 2 * step
}

// shortest is the shortest screw there is: through a strap it goes as deep into a board, and
// stays inside it.
func shortest(cat *catalog.Catalog) measure.Length {
	least := measure.MaxLength
	for _, f := range cat.Fixings {
		if f.Kind == catalog.Screw {
			least = min(least, f.Length)
		}
	}
	return least
}

// hoopIn is how far inside a rounded or pointed end the last hoop stands, and leastHoop the
// narrowest that is worth bending: a foot, 300 mm (common practice).
const (
	hoopIn    = 150 * measure.Millimetre
	leastHoop = 300 * measure.Millimetre
)
