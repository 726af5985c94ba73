// Package masonry turns a gardener's decisions about a bed of blocks or bricks
// into a frame of units, one file a building system. Like a mason it starts at a
// corner, lays whole units with their joints, and turns round the corners the
// other way in the course above, so that no joint stands on another:
//
//	course 2   |__|______|______|______|        course 1   |______|______|______|__|
//	           |  |                                                             |  |
//
// Every unit is placed in space; nothing after it asks which builder it was.
package masonry

import (
	"fmt"
	"slices"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// System is a building system of blocks, bricks or cast walls.
type System = builder.System

// systems in the order they are offered. A new one is its own file and a word
// here.
var systems = []System{blockWall, fenceLine, hollowBlock, slotted, ring, keyhole, terraces, poured, along, plinth}

func init() { builder.Register(systems...) }

// What can be added to walls of blocks: hoops and strings that hold in the soil, and what stands
// on posts of its own; against a fence nothing stands behind.
var (
	adds        = []string{"mesh", "grid", "trellis", "hoops", "fence"}
	addsFencing = []string{"mesh", "grid", "hoops"}
	addsRound   = []string{"mesh", "grid", "hoops", "fence"}
)

// lacks are the common decisions that are about boards.
var lacks = []string{"board", "species", "cap", "cap_profile", "cap_in", "cap_out", "found"}

// Decisions that beds of units have in common.
const (
	unitKey  = "unit"
	capKey   = "unit_cap"
	buryKey  = "bury"
	drainKey = "drain"
	baseKey  = "base"
)

// ownFields are those decisions, with the caps that suit; kinds are the units that do.
func ownFields(caps []design.Choice, kinds ...catalog.UnitKind) []design.Field {
	return []design.Field{
		{Key: unitKey, Label: "Unit", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "", Offer: unitsOf(kinds...)},
		{Key: capKey, Label: "Cap", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "none",
			Offer: func(*catalog.Catalog, design.Bed) []design.Choice { return caps }},
		{
			Key:     buryKey,
			Idle:    onFirm,
			Label:   "First course below the ground",
			Stage:   design.AtGround,
			Kind:    design.LengthField,
			Default: "2 in",
			Metric:  "50 mm",
			Help: "About 1 in (25 mm) for every 8 in (200 mm) of wall, so that its foot cannot slide (common" +
				" practice).",
		},
		{Key: baseKey, Label: "It stands on", Stage: design.AtGround, Kind: design.ChoiceField, Idle: onFirm, Default: "full",
			Offers: []design.Choice{
				{Value: "full", Label: "compacted base and a screed", Note: "stays level for years"},
				{
					Value: "levelled",
					Label: "levelled ground and a little sand",
					Note:  "cheaper; may have to be relaid",
				},
			}},
	}
}

// The caps that a wall can have: a keyhole's rim none, straight walls no mitres.
var (
	noCaps       = []design.Choice{{Value: "none", Label: "none", Note: "cheaper"}}
	straightCaps = append(slices.Clone(noCaps), design.Choice{Value: "butted", Label: "butted end to end"})
	cornerCaps   = append(slices.Clone(noCaps),
		design.Choice{Value: "butted", Label: "butted at the corners", Note: "square cuts only"},
		design.Choice{Value: "mitred", Label: "mitred at the corners", Note: "neater; four pairs of slanting cuts"})
)

// unitsOf offers the units of some kinds.
func unitsOf(kinds ...catalog.UnitKind) func(*catalog.Catalog, design.Bed) []design.Choice {
	return func(cat *catalog.Catalog, b design.Bed) []design.Choice {
		var list []design.Choice
		for _, u := range cat.UnitsOf(kinds...) {
			note := "laid dry"
			if u.Joint > 0 && b.Options[laidKey] != "dry" {
				note = "with joints of " + cat.Precision(cat.Habits).Short(u.Joint)
			}
			list = append(list, design.Choice{Value: u.ID, Label: u.Name, Note: note})
		}
		return list
	}
}

// laid is what all beds of units are built with.
type laid struct {
	bed     design.Bed
	usual   usual
	unit    catalog.Unit
	half    catalog.Unit   // ID "" where it has to be cut
	cap     catalog.Unit   // ID "" where there is none
	courses int            // with those that steps add below
	steps   int            // courses that the base goes down, where the ground falls away
	fall    measure.Length // of the ground along the front
	bury    measure.Length
	top     measure.Length // of the last course, above the ground
	upper   [][]string     // units of each ring on the soil of the one below
	level   map[string]int // of a slope, by unit: from 1
	f       frame.Frame
}

func newLaid(bed design.Bed, cat *catalog.Catalog) (*laid, error) {
	w := &laid{bed: bed, usual: usually(cat), bury: buried(bed), level: map[string]int{}}
	var err error
	if w.unit, err = unitOf(bed, cat); err != nil {
		return nil, err
	}
	if w.unit.Half != "" {
		if w.half, err = cat.Unit(w.unit.Half); err != nil {
			return nil, err
		}
	}
	if bed.Options[capKey] != "none" {
		w.cap = capFor(cat, w.unit)
	}
	w.courses = coursesFor(bed, w.unit)
	w.top = w.unit.Course()*measure.Length(w.courses) - w.unit.Joint - w.bury // nothing is bedded on the last
	w.f = frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: w.top}
	if w.fall = bed.OptionLength(fallKey); w.fall > 0 {
		w.steps = w.deeper(w.fall)
		w.courses += w.steps
		w.f.Fall, w.f.Steps = w.fall, w.steps
	}
	return w, nil
}

// unitOf is a bed's unit as it is laid: dry, it has no joint, and halves are cut to fit.
func unitOf(b design.Bed, cat *catalog.Catalog) (catalog.Unit, error) {
	u, err := cat.Unit(b.Options[unitKey])
	if b.Options[laidKey] == "dry" {
		u.Joint, u.Half = 0, ""
	}
	return u, err
}

// onFirm says that nothing is dug where a wall stands on what is firm already.
func onFirm(b design.Bed) string {
	if b.On.Firm() {
		return "it stands on what is firm: nothing is dug there"
	}
	return ""
}

// buried is how deep the first course stands in the ground: not at all where that is paving or a deck.
func buried(b design.Bed) measure.Length {
	if b.On.Firm() {
		return 0
	}
	return b.OptionLength(buryKey)
}

// coursesFor is how many courses reach the soil and what is kept below the rim.
func coursesFor(bed design.Bed, u catalog.Unit) int {
	return coursesUp(bed.Soil+buried(bed), bed.Freeboard, u)
}

// coursesUp is how many courses reach so high and stand so much above that. On the last no
// joint is laid, and what that takes may be of what stands above.
func coursesUp(tall, above measure.Length, u catalog.Unit) int {
	n := max(1, int((tall+above+u.Course()-1)/u.Course()))
	if u.Course()*measure.Length(n)-u.Joint < tall {
		n++
	}
	return n
}

// capFor is the cap that is sold for a unit: the one least deeper than it, or the
// deepest there is.
func capFor(cat *catalog.Catalog, u catalog.Unit) catalog.Unit {
	var best catalog.Unit
	for _, c := range cat.UnitsOf(catalog.CapUnit) {
		if best.ID == "" || c.Depth >= u.Depth && (best.Depth < u.Depth || c.Depth < best.Depth) ||
			best.Depth < u.Depth && c.Depth > best.Depth {
			best = c
		}
	}
	return best
}

func (w *laid) id(format string, args ...any) string {
	return w.bed.ID + "." + fmt.Sprintf(format, args...)
}

// course is where a course's units begin and end, up.
func (w *laid) course(n int) (from, to measure.Length) {
	from = w.unit.Course()*measure.Length(n-1-w.steps) - w.bury
	return from, from + w.unit.Height
}

// lay adds a unit with an outline from above.
func (w *laid) lay(
	sku string,
	kind frame.UnitKind,
	role string,
	course int,
	outline []frame.Spot,
	cut measure.Length,
	angle float64,
) {
	from, to := w.course(course)
	fields := []string{unitKey, "length", "width"}
	if kind == frame.CapUnit {
		from, to = w.top, w.top+w.cap.Height
		fields = []string{capKey}
	}
	w.f.Units = append(
		w.f.Units,
		frame.Unit{
			ID:     w.id("unit.%d", len(w.f.Units)+1),
			Bed:    w.bed.ID,
			SKU:    sku,
			Kind:   kind,
			Role:   role,
			Course: course,
			Cut:    cut,
			Angle:  angle,
			Dry:    w.bed.Options[laidKey] == "dry",
			Body:   frame.Prism{Axis: frame.Z, From: from, To: to, Outline: outline},
			Fields: fields,
		},
	)
}

// usual is what is usual in a country's measure (common practice).
type usual struct {
	beside  measure.Length // of the trench, on either side of the unit; 100 to 200 mm in all
	stone   measure.Length // compacted in it
	screed  measure.Length
	drained measure.Length // stone behind a wall; twice that for taller ones
	stacked measure.Length // how high units stand joint over joint, glued or mortared
}

var (
	inches      = usual{3 * measure.Inch, 4 * measure.Inch, measure.Inch, 6 * measure.Inch, 12 * measure.Inch}
	millimetres = usual{
		75 * measure.Millimetre,
		100 * measure.Millimetre,
		25 * measure.Millimetre,
		150 * measure.Millimetre,
		300 * measure.Millimetre,
	}
)

// usually is what is usual where a catalogue is of.
func usually(cat *catalog.Catalog) usual {
	if cat.System == measure.Imperial {
		return inches
	}
	return millimetres
}

// base is what the wall stands on; seat is the area under its units, trench that of
// the trench.
func (w *laid) base(line measure.Length, seat, trench measure.Area) {
	b := frame.Base{
		Bed:    w.bed.ID,
		Line:   line,
		Thick:  w.unit.Depth,
		Wide:   w.unit.Depth + 2*w.usual.beside,
		Area:   trench,
		Seat:   seat,
		Stone:  w.usual.stone,
		Screed: w.usual.screed,
		Buried: w.bury,
	}
	switch {
	case w.bed.On.Firm(): // that is its base
		b.Stone, b.Screed = 0, 0
	case w.bed.Options[baseKey] == "levelled":
		b.Stone, b.Sand = 0, true
	}
	w.f.Bases = append(w.f.Bases, b)
}

// tieEvery is how far apart ends hold a wall that is bonded into them: 8 ft or 2.4 m
// (common practice).
const tieEvery = 2440 * measure.Millimetre

// stack says how the wall holds its soil.
func (w *laid) stack(soil measure.Length, tied bool) {
	s := frame.Stack{
		Bed:     w.bed.ID,
		Thick:   w.unit.Depth,
		Soil:    soil,
		Density: density(w.unit),
		Tied:    tied,
		Bond:    frame.Dry,
	}
	for _, u := range w.f.Units {
		if u.Course == 1+w.steps && u.Kind != frame.CapUnit {
			if w.unit.Joint > 0 && !u.Dry {
				s.Bond = frame.Mortared
			}
			s.Units = append(s.Units, u.ID)
		}
	}
	w.f.Stacks = append(w.f.Stacks, s)
}

// under covers the ground inside, where something is laid there.
func (w *laid) under(length, width measure.Length) {
	if w.bed.Under != "none" {
		w.f.Sheets = append(
			w.f.Sheets,
			frame.Sheet{
				ID:       w.id("under"),
				Bed:      w.bed.ID,
				Material: w.bed.Under,
				Place:    "inside the walls",
				Length:   length,
				Width:    width,
			},
		)
	}
}

// acts are the order of laying.
func (w *laid) acts(first, corner string) {
	var low, above, caps []string
	for _, u := range w.f.Units {
		onSoil := slices.ContainsFunc(w.upper, func(ids []string) bool { return slices.Contains(ids, u.ID) })
		switch {
		case onSoil:
		case u.Kind == frame.CapUnit:
			caps = append(caps, u.ID)
		case u.Course <= 1+w.steps:
			low = append(low, u.ID)
		default:
			above = append(above, u.ID)
		}
	}
	add := func(a frame.Act) {
		if len(a.Parts) > 0 {
			w.f.Acts = append(w.f.Acts, a)
		}
	}
	along := "stretch a line from end to end"
	if len(w.f.Arcs) > 0 {
		along = "check it with the string from the middle"
	}
	const careful = "level each unit along and across and to its neighbour. Every course above repeats what is wrong here."
	brushed := "Brush each course clean, begin where the one below ended its lap, and " + along + "."
	if len(w.f.Levels) > 1 {
		w.levelActs(first, slices.Concat(low, above), careful, brushed)
	} else {
		add(frame.Act{Verb: frame.Lay, Of: "first course", Title: "Lay the first course", Where: first, Parts: low,
			Note: "Take your time over this one: " + careful})
		add(frame.Act{Verb: frame.Lay, Of: "courses above", Title: "Lay the courses above", Where: corner, Parts: above,
			Note: brushed})
		if len(w.f.Drains) > 0 {
			last := w.f.Acts[len(w.f.Acts)-1].Named()
			w.f.Acts = append(w.f.Acts, w.stoneAct("drains", "behind the walls", last, w.f.Drains))
		}
	}
	add(
		frame.Act{
			Verb:  frame.FixCap,
			Of:    "caps",
			Title: "Glue the caps on",
			Where: "on the last course, dry and swept",
			Parts: caps,
			Note:  "Lay them all out dry first, cuts last. Two beads of masonry adhesive, a hand from either edge.",
		},
	)
	for k, ids := range w.upper {
		add(frame.Act{Verb: frame.Lay, Of: fmt.Sprintf("ring %d", k+2), Title: fmt.Sprintf("Lay ring %d", k+2),
			Where: "on the soil of the one below, wetted, trodden and struck off level", Parts: ids,
			Note: "Let that soil settle before the first course; it may have to be levelled again after the first winter."})
	}
}

// levelActs are walls that are laid one after the other up a slope, each with what drains it: the next stands on
// ground that is made once the level below is filled.
func (w *laid) levelActs(where string, ids []string, careful, brushed string) {
	for i := range w.f.Levels {
		wall := frame.Act{Verb: frame.Lay, Of: fmt.Sprintf("wall %d", i+1), Title: fmt.Sprintf("Lay wall %d", i+1),
			Where: where, Level: i + 1,
			Note: "Take your time over its first course: " + careful + " " + brushed}
		for _, id := range ids {
			if w.level[id] == i+1 {
				wall.Parts = append(wall.Parts, id)
			}
		}
		w.f.Acts = append(w.f.Acts, wall)
		if len(w.f.Drains) == len(w.f.Levels) {
			stone := w.stoneAct(fmt.Sprintf("drains %d", i+1), fmt.Sprintf("behind wall %d", i+1), wall.Named(),
				w.f.Drains[i:i+1])
			stone.Level = i + 1
			w.f.Acts = append(w.f.Acts, stone)
		}
	}
}

// stoneAct lays stone behind walls, once the cloth that holds the soil off it hangs there.
func (w *laid) stoneAct(of, where, wall string, drains []frame.Drain) frame.Act {
	a := frame.Act{Verb: frame.Lay, Of: of, Title: "Lay the drainage stone", Where: where + ", hand by hand with the soil",
		After: []string{wall}, Tools: []string{"shovel"},
		Note: "Hold the cloth off the wall and fill stone behind it as the soil comes up on its other side; last turn the" +
			" cloth over the stone, before soil covers it."}
	for i := range w.f.Sheets {
		if slices.ContainsFunc(drains, func(d frame.Drain) bool { return d.Cloth == w.f.Sheets[i].ID }) {
			w.f.Sheets[i].After = wall
			a.After = append(a.After, w.f.Sheets[i].ID)
		}
	}
	return a
}

// drainField is whether there is stone behind the walls; it starts from what suits.
func drainField(starts string) design.Field {
	return design.Field{
		Key:     drainKey,
		Label:   "Behind the walls",
		Stage:   design.AtFill,
		Kind:    design.ChoiceField,
		Default: starts,
		Help: "Water that cannot get out pushes harder than soil. Stone is laid behind each course as it goes up," +
			" with cloth between it and the soil.",
		Offers: []design.Choice{
			{Value: "none", Label: "soil, right up to them", Note: "for a bed that stands free: joints let water out"},
			{
				Value: "stone",
				Label: "a hand of drainage stone and cloth",
				Note:  "where a wall holds ground up, or joints are mortared",
			},
		},
	}
}

// drain lays stone behind a stretch of wall, up to the top of a cavity, in whose soil's
// place it is.
func (w *laid) drain(cavity int, line measure.Length, closed bool) {
	if w.bed.Options[drainKey] != "stone" {
		return
	}
	c := &w.f.Cavities[cavity]
	v := measure.Over(line, w.usual.drained).By(c.Top - c.Bottom)
	c.Displaced = append(c.Displaced, frame.Displaced{Part: w.id("drain.%d", cavity+1), Volume: v})
	w.f.Drains = append(w.f.Drains, frame.Drain{Bed: w.bed.ID, Volume: v, Wide: w.usual.drained,
		Cloth: w.id("cloth.%d", cavity+1)})
	w.f.Sheets = append(
		w.f.Sheets,
		frame.Sheet{
			ID:       w.id("cloth.%d", cavity+1),
			Bed:      w.bed.ID,
			Material: catalog.DrainCloth,
			Place:    "between the stone and the soil, turned over the stone at the top",
			Length:   line,
			Width:    c.Top - c.Bottom + 2*turned,
			Inside:   true,
			Along:    true,
			Closed:   closed,
		},
	)
}

// bears refuses a wall that soil would push over. Whether it slides depends on
// what it is bedded in and what ties it, which the review looks at.
func bears(b design.Bed, cat *catalog.Catalog, u catalog.Unit, refuse design.Refuse) {
	if holds(b, b.Soil, u) {
		return
	}
	p := cat.Precision(cat.Habits)
	most := b.Soil
	for most > 0 && !holds(b, most, u) {
		most -= p.Step
	}
	refuse(
		"soil",
		"%s of soil would push a dry wall of %s units over: up to %s works, or a deeper unit; over the local height"+
			" limit it is work for a licensed engineer",
		p.Feet(b.Soil),
		p.Short(u.Depth),
		p.AtMost(most),
	)
}

// holds reports whether a bed's wall is not tipped by its soil.
func holds(b design.Bed, soil measure.Length, u catalog.Unit) bool {
	return gravity(b, soil, u).Check().Tipping >= strength.Safe
}

// stands reports whether a wall that holds ground up neither tips nor slides (IBC
// 1807.2.3 asks 1.5 of both), also where a slope of one in two goes on above it, which
// pushes about two thirds more (Coulomb at 34 degrees for a slope of 26.6: 0.47 against
// 0.28, from memory).
func stands(b design.Bed, tall measure.Length, u catalog.Unit) bool {
	g := gravity(b, tall, u)
	if b.Options[aboveKey] == "slope" {
		g.Fluid *= 5.0 / 3
	}
	return g.Check().Holds()
}

// gravity is a wall of a unit with soil behind it to its height: soaked, unless stone
// behind it lets the water out.
func gravity(b design.Bed, tall measure.Length, u catalog.Unit) strength.Gravity {
	return strength.Gravity{
		Base:     u.Depth,
		Height:   tall,
		Density:  density(u),
		Fluid:    strength.Behind(b.Options[drainKey] == "stone"),
		Friction: strength.OnGravel,
	}
}

// cores is the share of a hollow block that is open, and what it is filled with:
// soil or stone of 1500 kg/m³ (common practice: about half a block is open).
const (
	cores     = 0.5
	coreFills = 1500
)

// density is what a wall of a unit weighs, kg/m³: hollow blocks with their cores
// filled.
func density(u catalog.Unit) float64 {
	v := measure.Over((u.Length+u.Back)/2, u.Depth).By(u.Height).CubicMetres()
	d := u.Mass / v
	if u.Kind == catalog.HollowUnit {
		d += cores * coreFills
	}
	return d
}
