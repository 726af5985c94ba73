package timber

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// leggedPlanter is a planter at working height: boards and legs, a floor of
// slats on ledgers, and beams where the slats would sag; or a floor that slopes
// to where the roots go deepest.
//
//	__________________      __________________
//	|  |   soil    |  |     |      soil      |
//	|  |===========|  |     |==            ==|
//	|__|#    #    #|__|     |__====____====__|
//	|  |           |  |     |  |   ====   |  |
//	|  |           |  |     |  |          |  |
var leggedPlanter = System{
	System: stacked(design.System{
		Name: "legged", Title: "Planter on legs", About: "at working height, for standing or sitting",
		Examples: []design.Example{{About: "a planter at working height, on legs, with a floor on ledgers and a beam"}},
		For:      []string{design.AtWorkHeight},
		Uses:     []string{"corners", "post"},
		Own: slices.Concat([]design.Field{
			{
				Key:     "height",
				Does:    []design.Deed{{For: design.SetsRim}},
				Label:   "Rim above the ground",
				Stage:   design.AtBed,
				Kind:    design.LengthField,
				Default: "34 in",
				Metric:  "860 mm",
				Help: "Standing, about 34 to 38 in (860 to 960 mm), a little below the elbow; seated, 24 to 30 in" +
					" (610 to 760 mm) (common practice).",
				Offer: workers,
			},
			{Key: "legs", Label: "Legs stand", Stage: design.AtFrame, Kind: design.ChoiceField, Default: legsInside,
				Does: []design.Deed{{For: design.FreesLegs, Value: legsOutside, Words: "legs outside the walls"}},
				Offers: []design.Choice{
					{Value: legsInside, Label: "inside the corners", Note: "screwed from outside, no end grain"},
					{Value: legsOutside, Label: "outside the long sides", Note: "the room inside is free; they show"},
					{
						Value: legsInWall,
						Label: "in the wall, boards between them",
						Note:  "pocket screws from inside, nothing shows",
					}}},
			{Key: "floor", Label: "Floor", Stage: design.AtFrame, Kind: design.ChoiceField, Default: floorLevel,
				Offers: []design.Choice{
					{Value: floorLevel, Label: "level", Note: "the same depth everywhere"},
					{
						Value: floorSloped,
						Label: "sloping to the front",
						Note:  "saves soil; shallow roots behind, deep ones in front",
					},
					{Value: floorV, Label: "V, deepest in the middle", Note: "saves soil; one deep row"}}},
			{
				Key:     "floor_of",
				Label:   "A level floor is of",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: floorBoards,
				Idle:    onlyLevel,
				Offer:   floorsOffered,
			},
			{
				Key:     "floor_rise",
				Label:   "A sloping floor rises",
				Stage:   design.AtFrame,
				Kind:    design.LengthField,
				Default: "4 in",
				Metric:  "100 mm",
				Idle: func(b design.Bed) string {
					if b.Options["floor"] == floorLevel {
						return "the floor is level"
					}
					return ""
				},
				Help: "From the lowest line to the highest. The soil depth is that at the lowest.",
			},
			{
				Key:     "beams",
				Label:   "Beams under the floor",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: design.Auto,
				Most:    8,
				Idle:    onlyLevel,
				Help:    "auto sets as many as keep the slats from sagging.",
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
			{Key: "apron", Label: "Apron below the walls", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "no",
				Does: []design.Deed{{For: design.BracesLegs, Value: "yes", Words: "an apron below the walls"}},
				Offers: []design.Choice{
					{Value: "no", Label: "none"},
					{
						Value: "yes",
						Label: "one more board all round",
						Note:  "stiffens the legs, hides the floor from someone sitting",
					}}},
		}, holdFields, []design.Field{castersField}),
		Adds:  addsToFloored,
		Makes: makes,
		Start: startLegged,
		Check: checkLegged,
	}, leggedFloor),
	Build: buildLegged,
}

// onlyLevel says that what is decided is about a level floor's beams and slats.
func onlyLevel(b design.Bed) string {
	if b.Options["floor"] != floorLevel {
		return "the slats of a floor that slopes reach from one ledger to the other, with nothing under them"
	}
	return ""
}

// Floors of a planter on legs.
const (
	floorLevel  = "level"
	floorSloped = "sloped"
	floorV      = "v"

	floorBoards = "boards"
	floorSheet  = "sheet"
)

// The largest planter on four legs: past it, it wants more of them.
const (
	leggedLongest = 2500 * measure.Millimetre
	leggedWidest  = 1250 * measure.Millimetre
	leggedDeepest = 450 * measure.Millimetre
)

// startLegged takes a common size, and the thinnest board of the timber that
// holds its soil from leg to leg.
func startLegged(cat *catalog.Catalog, b *design.Bed) {
	b.Length, b.Width, b.Soil = min(
		b.Length,
		48*measure.Inch,
	), min(
		b.Width,
		24*measure.Inch,
	), min(
		b.Soil,
		9*measure.Inch,
	)
	if cat.System == measure.Metric {
		mm := measure.Millimetre
		b.Length, b.Width, b.Soil = min(b.Length, 1200*mm), min(b.Width, 600*mm), min(b.Soil, 225*mm)
	}
	takeThinBoard(cat, b)
	species, err := cat.SpeciesOf(b.Species)
	if err != nil {
		return // Check says so
	}
	best := catalog.Profile{}
	for _, p := range cat.Profiles {
		side := strength.Side{
			Thickness: p.Thickness,
			Width:     p.Width,
			Soil:      b.Soil,
			Span:      b.Length,
			Spans:     1,
			Species:   species,
			Fluid:     strength.Giving,
		}
		if p.Kind == catalog.Board && p.Width >= 5*measure.Inch && cat.Sold(p.ID, b.Species) &&
			strength.Check(side).Holds() &&
			(best.ID == "" || p.Thickness < best.Thickness) {
			best = p
		}
	}
	if best.ID != "" {
		takeWalls(best, cat, b)
	}
}

// railFor is the profile of ledgers and beams: the narrowest board sold of the
// usual thickness, on edge.
func railFor(cat *catalog.Catalog, species string) (catalog.Profile, error) {
	var best catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Board && p.Thickness >= 36*measure.Millimetre &&
			cat.Sold(p.ID, design.SpeciesFor(cat, p.ID, species)) &&
			(best.ID == "" || p.Width < best.Width) {
			best = p
		}
	}
	if best.ID == "" {
		return best, fmt.Errorf("ledgers: %w", catalog.ErrNotSold)
	}
	return best, nil
}

// floorsOffered are the walls' boards, the sheet, and every other board that is sold, pickets
// too: whether they bear the soil is looked at like any floor.
func floorsOffered(cat *catalog.Catalog, b design.Bed) []design.Choice {
	list := []design.Choice{
		{Value: floorBoards, Label: "slats", Note: "the walls' boards; water runs off between them"},
		{Value: floorSheet, Label: "plywood sheet", Note: "few cuts, stiff; needs drain holes and sealed edges"}}
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Board && p.ID != b.Board &&
			len(cat.OffersOf(p.ID, design.SpeciesFor(cat, p.ID, b.Species))) > 0 {
			list = append(list, design.Choice{Value: p.ID, Label: "slats of " + p.Name, Note: "really " + p.Actual})
		}
	}
	return list
}

// slatFor is what a level floor is of: the walls' boards, other boards, or the sheet that is
// sold.
func slatFor(b design.Bed, cat *catalog.Catalog, board catalog.Profile) catalog.Profile {
	of := b.Options["floor_of"]
	for _, p := range cat.Profiles {
		if b.Options["floor"] == floorLevel && (of == floorSheet && isSheet(p) || of == p.ID) {
			return p
		}
	}
	return board
}

// leggedSize is what the walls take: how high their lower edge stands, and how
// far above it the soil is deepest.
func leggedSize(
	b design.Bed, cat *catalog.Catalog, board, rail, slat catalog.Profile,
) (lift, floor measure.Length) {
	floor = rail.Width + slat.Thickness
	if b.Options["floor"] != floorLevel {
		floor = newIncline(b, board, rail).low()
	}
	walls := high(rowsFor(b, cat, board, floor))
	return b.OptionLength("height") - walls, floor
}

// leggedFloor is how far above the walls' lower edge the soil lies.
func leggedFloor(bed design.Bed, cat *catalog.Catalog) measure.Length {
	board, err := cat.Profile(bed.Board)
	rail, err2 := railFor(cat, bed.Species)
	if err != nil || err2 != nil {
		return 0
	}
	_, floor := leggedSize(bed, cat, board, rail, slatFor(bed, cat, board))
	return floor
}

// workers are the rims that suit whoever works at them (common practice).
func workers(cat *catalog.Catalog, _ design.Bed) []design.Choice {
	if cat.System == measure.Metric {
		return []design.Choice{
			{Value: "900 mm", Label: "standing"},
			{Value: "1000 mm", Label: "tall, standing"},
			{Value: "700 mm", Label: "seated"},
			{Value: "610 mm", Label: "a child"},
		}
	}
	return []design.Choice{
		{Value: "36 in", Label: "standing"},
		{Value: "40 in", Label: "tall, standing"},
		{Value: "28 in", Label: "seated"},
		{Value: "24 in", Label: "a child"},
	}
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
	if b.Options["floor"] != floorLevel {
		if b.Options["legs"] != legsOutside {
			refuse(
				"floor",
				"a sloping floor runs into the corners, where these legs stand: legs outside the long sides leave"+
					" them free",
			)
		}
		if rise, most := b.OptionLength("floor_rise"), b.Soil-75*measure.Millimetre; rise > most ||
			rise < 20*measure.Millimetre {
			refuse(
				"floor_rise",
				"a rise of %s leaves no depth at the edge or no slope: from %s to %s works",
				p.Feet(rise),
				p.AtLeast(20*measure.Millimetre),
				p.AtMost(max(most, 20*measure.Millimetre)),
			)
			return
		}
	}
	under := 50*measure.Millimetre + castersUnder(b, cat)
	if b.Options["apron"] == "yes" {
		under += board.Width
	}
	if lift, _ := leggedSize(b, cat, board, rail, slatFor(b, cat, board)); lift < under {
		refuse("height", "at %s the floor would be on the ground: with this soil and these boards from %s works",
			p.Feet(b.OptionLength("height")), p.Feet(b.OptionLength("height")-lift+under))
	}
	intrude := leg.Width
	if b.Options["legs"] == legsInWall {
		intrude = max(0, leg.Width-board.Thickness)
	}
	lift, _ := leggedSize(b, cat, board, rail, slatFor(b, cat, board))
	checkHold(b, lift-castersUnder(b, cat), intrude, rail.Thickness, p, refuse)
	if least := 2*leg.Width + betweenPosts; b.Width < least {
		refuse("width", "two %s legs do not fit; from %s works", leg.Name, p.AtLeast(least))
	}
	if b.Options["legs"] == legsInWall && leg.Width < board.Thickness {
		refuse("legs", "a %s leg is thinner than these boards; a thicker post works", leg.Name)
	}
	if n, ok := b.OptionCount("beams"); ok {
		if room := beamRoom(b, rail, intrude); n > room {
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
	slat := slatFor(bed, cat, board)
	lift, floor := leggedSize(bed, cat, board, rail, slat)
	between := measure.Length(0)
	if bed.Options["legs"] == legsInWall {
		between = leg.Width
	}
	b, err := newBoxBetween(bed, cat, lift, floor, between)
	if err != nil {
		return frame.Frame{}, err
	}
	f := &floored{
		box:     b,
		leg:     leg,
		rail:    rail,
		slat:    slat,
		field:   "beams",
		legsAt:  bed.Options["legs"],
		casters: castersUnder(bed, cat),
	}
	if bed.Options["floor"] == floorLevel {
		f.build(f.beamsNeeded())
	} else {
		f.legs()
		f.incline()
	}
	if bed.Options["apron"] == "yes" {
		f.apron()
	}
	f.carriedByLegs()
	if err := f.bracketed(); err != nil {
		return frame.Frame{}, err
	}
	if err := f.onCasters(); err != nil {
		return frame.Frame{}, err
	}
	out := b.finish()
	if f.legsAt == legsOutside {
		out.Outside[0].V, out.Outside[1].V = -leg.Width, b.outWidth+leg.Width
	}
	out.Measures = append(
		out.Measures,
		frame.Measure{Name: "rim above the ground", Field: "height", From: frame.Point{}, To: frame.Point{Z: b.rim}},
	)
	return out, nil
}

// apron adds a board below each wall, fixed to the legs as the walls are.
func (f *floored) apron() {
	z := f.lift - f.board.Width
	var ids []string
	for _, r := range f.sides {
		p := f.part(f.board, frame.Apron, "apron, "+r.name)
		p.ID, p.Grain = f.id("apron.%s", r.key), r.grain
		p.Body = standing(r.lo, r.hi, z, f.lift, r.grain)
		p.Length = p.Body.To - p.Body.From
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
	}
	kind, into := frame.FaceToPost, f.leg.Width
	if f.legsAt == legsInWall {
		kind, into = frame.PocketEnd, f.board.Thickness
	}
	fix := func(kind frame.JointKind, a, b frame.Part, into measure.Length) {
		if at, _, ok := contact(a.Body, b.Body); ok {
			if f.legsAt == legsOutside && b.Kind == frame.Leg {
				at.X = f.clearOfEnd(at.X)
			}
			f.f.Joints = append(
				f.f.Joints,
				frame.Joint{
					ID:       a.ID + "+" + b.ID,
					Kind:     kind,
					Parts:    [2]string{a.ID, b.ID},
					EndGrain: kind == frame.FaceToEnd,
					Through:  f.board.Thickness,
					Into:     into,
					Run:      f.board.Width,
					At:       at,
					Load:     "keeps the legs from racking",
				},
			)
		}
	}
	for i, id := range ids {
		p, _ := f.f.Part(id)
		for _, leg := range f.f.Parts {
			if leg.Kind == frame.Leg && (f.legsAt != legsOutside || f.sides[i].grain == frame.X) {
				fix(kind, p, leg, into)
			}
		}
		if f.legsAt == legsOutside &&
			f.sides[i].grain == frame.Y { // no leg stands there: long ones and ends hold each other
			for _, j := range []int{front, back} {
				long, _ := f.f.Part(ids[j])
				if r, l := f.sides[i], f.sides[j]; r.lo.V <= l.lo.V && r.hi.V >= l.hi.V { // the end covers the side
					fix(frame.FaceToEnd, p, long, long.Length)
				} else {
					fix(frame.FaceToEnd, long, p, p.Length)
				}
			}
		}
	}
	act := frame.Act{Verb: frame.MakeUp, Of: "apron", Title: "Fix the apron", Where: "below the walls, all round",
		Parts: ids}
	if f.legsAt == legsOutside { // which would cover its corners
		f.f.Acts = append(f.f.Acts, frame.Act{Verb: frame.MakeUp, Of: "apron ring", Title: "Make up the apron",
			Where: "on a flat surface", Parts: ids, Loose: true})
		act.Parts, act.Again, act.Note = nil, ids, "From inside, through the apron into the legs."
	}
	f.f.Acts = append(f.f.Acts, act)
}

// beamsNeeded is the number asked for, or the fewest with which neither slats nor beams
// sag; where no number does, as many as keep the slats from it.
func (f *floored) beamsNeeded() int {
	if n, ok := f.bed.OptionCount("beams"); ok {
		return n
	}
	whole, long, most := f.inWidth-f.rail.Thickness, f.inLength-f.rail.Thickness, beamRoom(f.bed, f.rail, f.intrude())
	if f.across() {
		whole, long = long, whole
	}
	species := f.species
	if isSheet(f.slat) {
		species, _ = f.cat.SpeciesOf(design.SpeciesFor(f.cat, f.slat.ID, f.bed.Species))
	}
	slats := most
	for n := range most + 1 {
		if !strength.Bend(strength.Member{Across: f.slat.Width, Deep: f.slat.Thickness,
			Span: whole / measure.Length(n+1), Spans: n + 1,
			Species: species, Load: strength.WetSoil(f.bed.Soil, f.slat.Width, f.bed.WetDensity(f.cat))}).
			Holds() {
			continue
		}
		slats = min(slats, n)
		beam := strength.Member{Across: f.rail.Thickness, Deep: f.rail.Width, Span: long, Spans: 1, Species: f.species,
			Load: strength.WetSoil(f.bed.Soil, whole/measure.Length(n+1), f.bed.WetDensity(f.cat))}
		if n == 0 || strength.Bend(beam).Holds() {
			return n
		}
	}
	return slats
}

// beamRoom is how many beams fit under a floor: gaps between them twice as wide
// as they are, so that water gets past, clear of legs that stand so far inside the walls, and
// no more than 8.
func beamRoom(b design.Bed, rail catalog.Profile, intrude measure.Length) int {
	room := b.Width
	if b.Options["beams_run"] == "across" {
		room = b.Length
	}
	n := min(8, int(room/(3*rail.Thickness)))
	if intrude > 0 {
		n = min(n, int((room-rail.Thickness)/intrude)-1)
	}
	return max(0, n)
}
