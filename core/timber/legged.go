package timber

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// leggedPlanter is a planter at working height: boards round legs that stand
// inside the corners, a floor of slats on ledgers, and beams where the slats
// would sag.
//
//	__________________
//	|  |   soil    |  |
//	|  |===========|  |   slats
//	|__|#    #    #|__|   ledgers and a beam
//	|  |           |  |
//	|  |           |  |   legs
var leggedPlanter = System{
	System: design.System{
		Name: "legged", Title: "Planter on legs", About: "at working height, for standing or sitting",
		Uses: []string{"corners", "post"},
		Own: []design.Field{
			{Key: "height", Label: "Rim above the ground", Stage: "bed", Kind: design.LengthField, Default: "34 in",
				Help: "Standing, about 34 to 38 in (860 to 960 mm), a little below the elbow; seated, 24 to 30 in (610 to 760 mm) (common practice)."},
			{Key: "beams", Label: "Beams under the floor", Stage: "frame", Kind: design.NumberField, Default: design.Auto, Most: 8,
				Help: "auto sets as many as keep the slats from sagging."},
			{Key: "gap", Label: "Gap between floor slats", Stage: "frame", Kind: design.LengthField, Default: "1/4 in",
				Help: "At least this; what is left over is shared out. Lay fabric over the gaps."},
		},
		Start: startLegged,
		Check: checkLegged,
	},
	Build: buildLegged,
}

// The largest planter on four legs: past it, it wants more of them.
const (
	leggedLongest = 2500 * measure.Millimetre
	leggedWidest  = 1250 * measure.Millimetre
	leggedDeepest = 450 * measure.Millimetre
)

func startLegged(cat *catalog.Catalog, b *design.Bed) {
	takeThinBoard(cat, b)
	b.Length, b.Width, b.Soil = min(b.Length, 48*measure.Inch), min(b.Width, 24*measure.Inch), min(b.Soil, 9*measure.Inch)
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Options["height"], b.Options["gap"] = "860 mm", "6 mm"
		b.Length, b.Width, b.Soil = min(b.Length, 1200*mm), min(b.Width, 600*mm), min(b.Soil, 225*mm)
	}
}

// railFor is the profile of ledgers and beams: the narrowest board sold of the
// usual thickness, on edge.
func railFor(cat *catalog.Catalog, species string) (catalog.Profile, error) {
	var best catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind == "board" && p.Thickness >= 38*measure.Millimetre && cat.Sold(p.ID, design.SpeciesFor(cat, p.ID, species)) && (best.ID == "" || p.Width < best.Width) {
			best = p
		}
	}
	if best.ID == "" {
		return best, fmt.Errorf("ledgers: %w", catalog.ErrNotSold)
	}
	return best, nil
}

// leggedSize is what the walls take: their courses and how high their lower
// edge stands.
func leggedSize(b design.Bed, board, rail catalog.Profile) (lift, floor measure.Length) {
	floor = rail.Width + board.Thickness
	walls := board.Width * measure.Length(coursesFor(floor+b.Soil+b.Freeboard, board))
	return b.OptionLength("height") - walls, floor
}

func checkLegged(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	board, _ := cat.Profile(b.Board)
	leg, _ := cat.Profile(b.Post)
	rail, err := railFor(cat, b.Species)
	if err != nil {
		refuse("system", "%v", err)
		return
	}
	within(refuse, p, "planter on legs",
		limit{"length", b.Length, leggedLongest, "two planters side by side are longer"},
		limit{"width", b.Width, leggedWidest, "nobody reaches further"},
		limit{"soil", b.Soil, leggedDeepest, "deeper soil is for a bed on the ground"},
		limit{"gap", b.OptionLength("gap"), widestGap, "soil falls through wider ones"},
		limit{"height", b.OptionLength("height"), 1200 * measure.Millimetre, "higher is out of reach"})
	if lift, _ := leggedSize(b, board, rail); lift < 50*measure.Millimetre {
		refuse("height", "at %s the floor would be on the ground: with this soil and these boards from %s works",
			p.Feet(b.OptionLength("height")), p.Feet(b.OptionLength("height")-lift+50*measure.Millimetre))
	}
	if least := 2*leg.Width + betweenPosts; b.Width < least {
		refuse("width", "two %s legs do not fit; from %s works", leg.Name, p.Feet(least))
	}
	if n, ok := b.OptionCount("beams"); ok {
		if room := beamRoom(b, rail); n > room {
			refuse("beams", "%d beams do not fit under %s; up to %d do", n, p.Feet(b.Width), room)
		}
	}
}

func buildLegged(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	leg, err := cat.Profile(bed.Post)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("leg: %w", err)
	}
	board, err := cat.Profile(bed.Board)
	if err != nil {
		return frame.Frame{}, fmt.Errorf("board: %w", err)
	}
	rail, err := railFor(cat, bed.Species)
	if err != nil {
		return frame.Frame{}, err
	}
	lift, floor := leggedSize(bed, board, rail)
	b, err := newBox(bed, cat, lift, floor)
	if err != nil {
		return frame.Frame{}, err
	}
	f := &floored{box: b, leg: leg, rail: rail, field: "beams"}
	f.build(f.beamsNeeded())
	out := b.finish()
	out.Measures = append(out.Measures, frame.Measure{Name: "rim above the ground", Field: "height", From: frame.Point{}, To: frame.Point{Z: b.rim}})
	return out, nil
}

// beamsNeeded is the number asked for, or the fewest that keep the slats from
// sagging.
func (f *floored) beamsNeeded() int {
	if n, ok := f.bed.OptionCount("beams"); ok {
		return n
	}
	whole, most := f.inWidth-f.rail.Thickness, beamRoom(f.bed, f.rail)
	for n := range most {
		if strength.Bend(strength.Member{Across: f.board.Width, Deep: f.board.Thickness, Span: whole / measure.Length(n+1), Spans: n + 1,
			Species: f.species, Load: strength.WetSoil(f.bed.Soil, f.board.Width, f.cat.WetDensity())}).Holds() {
			return n
		}
	}
	return most
}

// beamRoom is how many beams fit under a floor: gaps between them twice as wide
// as they are, so that water gets past, and no more than 8.
func beamRoom(b design.Bed, rail catalog.Profile) int {
	return min(8, int(b.Width/(3*rail.Thickness)))
}
