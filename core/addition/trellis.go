package addition

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// Trellis is uprights along the back with a rail across their heads and wires between: screwed
// to a back wall of boards by whoever builds that, else posts of their own in the ground.
var Trellis = design.Extra{Name: "trellis", Fields: []design.Field{
	{
		Key:     "trellis",
		Does:    []design.Deed{{For: design.StandsTall, Value: design.NotThere, Words: "no trellis"}},
		Label:   "Trellis along the back",
		Stage:   design.AtFrame,
		Kind:    design.ChoiceField,
		Default: design.NotThere,
		Help:    "On the pole side, north in the northern hemisphere, where its shade falls outside the bed.",
		Offers: orNone(
			"",
			design.Choice{Value: "wire", Label: "uprights and wires", Note: "for beans, peas, cucumbers"},
		),
	},
	{
		Key:     "trellis_height",
		Does:    []design.Deed{{For: design.SetsTall}},
		Label:   "Trellis above the ground",
		Stage:   design.AtFrame,
		Kind:    design.LengthField,
		Default: "6 ft",
		Metric:  "1800 mm",
		Help:    "As high as an arm picks, about 6 ft (1.8 m) (common practice).",
	}},
	Check: checkTrellis,
}

// Uprights stand no further apart than this, wires likewise (common practice:
// about 1.2 m or 4 ft, and 300 mm or 1 ft).
const (
	UprightsApart = 4 * measure.Foot
	WiresApart    = measure.Foot
)

func checkTrellis(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	least, most := b.Soil+b.Freeboard+300*measure.Millimetre+b.OptionLength("height"), 2500*measure.Millimetre
	if h := b.OptionLength("trellis_height"); h < least || h > most {
		refuse(
			"trellis_height",
			"a trellis %s above the ground is out of range: from %s to %s works",
			p.Feet(h),
			p.AtLeast(least),
			p.AtMost(most),
		)
	}
	if b.Cap != design.NoCap && b.CapOut > 0 {
		refuse(
			"trellis",
			"the cap stands out %s behind, where the uprights go: an overhang outwards of 0 works",
			p.Short(b.CapOut),
		)
	}
	if s, _ := design.SystemNamed(b.System); slices.Contains(s.Makes, "trellis") {
		if _, err := Stick(cat); err != nil {
			refuse("trellis", "%v", err)
		}
		return
	}
	checkPosts(b, cat, "trellis", "trellis_height", refuse)
}

// buildTrellis stands posts behind the bed, as deep in the ground as the wind on what grows
// between them asks.
func buildTrellis(s *site) {
	post, err := postOf(s.cat)
	rail, err2 := Stick(s.cat)
	if err != nil || err2 != nil {
		return // Check has refused it
	}
	q, head := post.Width, s.bed.OptionLength("trellis_height")
	_, back := s.reach()
	y := back.V + 10*measure.Millimetre // clear of the wall and its cap
	first, last := s.f.Outside[0].U, s.f.Outside[1].U-q
	n := max(1, (last-first+UprightsApart-1)/UprightsApart)
	leaf := head - s.f.Rim
	push := strength.Gusts * strength.InLeaf * (last - first).Metres() / float64(n) * leaf.Metres()
	deep := s.rooted(post, push, s.f.Rim+leaf/2, head)
	var set, up []string
	for k := range n + 1 {
		x := first + (last-first)*k/n
		p := s.put(post, frame.TrellisPart, fmt.Sprintf("trellis post %d", k+1), fmt.Sprintf("trellis.%d", k+1),
			upright(x, y, q, -deep, head), frame.Z, "trellis", "trellis_height")
		set = append(set, p.ID)
	}
	top := s.put(rail, frame.TrellisPart, "trellis head rail", "trellis.head",
		frame.Box(frame.Point{X: first, Y: y, Z: head},
			frame.Point{X: last + q, Y: y + rail.Width, Z: head + rail.Thickness}), frame.X, "trellis", "trellis_height")
	up = append(up, top.ID)
	for k, id := range set {
		x := first + (last-first)*measure.Length(k)/n
		s.f.Joints = append(s.f.Joints, frame.Joint{ID: top.ID + "+" + id, Kind: frame.FaceToEnd,
			Parts:    [2]string{top.ID, id},
			EndGrain: true, Through: rail.Thickness, Into: head + deep, Run: min(q, rail.Width),
			At: frame.Point{X: x + q/2, Y: y + rail.Width/2, Z: head}, Load: "the plants, and the wind in them"})
	}
	wires := int(leaf / WiresApart)
	var lines [][]frame.Point
	for k := range wires {
		z := s.f.Rim + WiresApart*measure.Length(k) + WiresApart/2
		lines = append(lines, []frame.Point{{X: first, Y: y + q, Z: z}, {X: last + q, Y: y + q, Z: z}})
	}
	s.f.Fittings = append(s.f.Fittings, frame.Fitting{ID: s.id("wire"), Bed: s.bed.ID, Kind: "wire", Place: "the trellis",
		Count: 1, Each: (last + q - first) * measure.Length(wires), Lines: lines,
		Why: measure.Count(wires, "wire") + ", one about every foot"})
	s.f.Tall, s.f.TallBy = "trellis", "trellis"
	p := s.cat.Precision(s.cat.Habits)
	s.f.Acts = append(s.f.Acts,
		frame.Act{Verb: frame.SetPost, Of: "trellis posts", Title: "Set the trellis posts", Where: "behind the bed",
			Parts: set,
			Note: fmt.Sprintf("Holes %s deep and twice as wide as the posts. Plumb both ways, then firm the earth back a hand"+
				" at a time: what is loose round them holds nothing.", p.Feet(deep))},
		frame.Act{Verb: frame.FitOut, Of: "trellis", Title: "Put up the trellis", Where: "on its posts", Parts: up,
			Fits: []string{s.id("wire")}, Note: "The rail first, then the wires from the bottom up. A trellis in leaf catches" +
				" the wind: stay it to something firm where it blows."})
}
