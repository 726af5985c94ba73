package design

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// System is a way to build a bed: what it is called, which of the common
// decisions it has, which are its own, what it starts from and what it cannot
// build. A system is one file with its builder, which registers it here.
type System struct {
	Name  string                // as files write it: "boarded"
	Title string                // as people say it
	About string                // the reason to choose it
	Of    string                // what it is built of, where that is not timber: "masonry"; offered after timber
	Uses  []string              // keys of the common decisions that matter to it, besides those of every bed
	Own   []Field               // its own decisions, kept in Bed.Options
	Lacks []string              // of the decisions every bed has, those it does without
	Adds  []string              // names of the extras that can be added to it
	Makes []string              // those of them that its own builder makes, to suit its walls
	Names map[string]string     // what common decisions are called here, where that differs
	Kinds []catalog.ProfileKind // of profile its walls are made of; nil: boards
	// For is what it is the plain answer to; see SystemFor.
	For []string
	// WayIn says that it is reached from inside as well as from round it.
	WayIn bool
	// AnyWay says that it may be deeper than it is long: which way its sides run is drawn.
	AnyWay bool
	// RippedCap says that its cap is ripped to the width its overhangs make;
	// others take the cap board as wide as it is.
	RippedCap bool
	// Start sets sensible defaults on a bed that changes to this system; sizes,
	// timber and place stay as they were asked, where the system can build them.
	Start func(*catalog.Catalog, *Bed)
	// Follow sets what follows from other decisions, after every change; changed
	// says which decisions it was of.
	Follow func(b *Bed, cat *catalog.Catalog, changed func(field string) bool)
	// Ruled names the decision that a size follows from at present, "" where it is free:
	// a ring's size follows from its number of units, where there is one.
	Ruled func(b Bed, field string) string
	// Apart is how far the sizes of a length decision lie from one another that can
	// be built, where not every one can; 0 where it can.
	Apart func(b Bed, cat *catalog.Catalog, field string) measure.Length
	// Planted is the surface that its sizes enclose, in nm²; nil: length by width, or the circle
	// of one without a width. A bed that is given the area of another tries other proportions too.
	Planted func(Bed) float64
	// Ways lists what a bed could be of so many of its units; nil where nobody asks.
	Ways func(b Bed, cat *catalog.Catalog, units int) []Way
	// Check refuses what cannot be built. It is called on beds whose numbers are
	// within their ranges.
	Check func(Bed, *catalog.Catalog, Refuse)

	Examples []Example // built-in designs of it

	decisions []Field // all of them, put together once
}

// Extra is something that can be added to beds of several systems: a trellis, a
// liner, a bench. Like a system it is one file with its builder. While it is
// not there a bed holds none of its decisions; once it is, all of them.
type Extra struct {
	Name   string
	Fields []Field // the first says whether it is there, and starts from "none"
	Check  func(Bed, *catalog.Catalog, Refuse)
}

// NotThere is what an extra's first decision says while it is not there.
const NotThere = "none"

var extras []Extra

// RegisterExtra adds an extra, before the systems that offer it.
func RegisterExtra(e Extra) {
	for i := range e.Fields {
		e.Fields[i].extra, e.Fields[i].turns = e.Name, i == 0
	}
	extras = append(extras, e)
}

func extraNamed(name string) Extra {
	i := slices.IndexFunc(extras, func(e Extra) bool { return e.Name == name })
	if i < 0 {
		panic("design: no extra is called " + name)
	}
	return extras[i]
}

// Has reports whether an extra has been added.
func (b Bed) Has(extra string) bool {
	_, there := b.Options[extra]
	return there
}

// add puts an extra there with its other decisions at their defaults, or takes
// it away with all of them.
func (b *Bed) add(e Extra, value string, cat *catalog.Catalog) {
	if value == NotThere {
		for _, f := range e.Fields {
			delete(b.Options, f.Key)
		}
		return
	}
	for _, f := range e.Fields[1:] {
		if _, there := b.Options[f.Key]; !there {
			b.option(f.Key, f.start(cat))
		}
	}
	b.option(e.Name, value)
}

// Refuse takes the field that is wrong and a sentence on what would work.
type Refuse func(field, format string, args ...any)

// registered systems, in the order they are offered. Builders register while
// the program starts; after that the list is only read.
var registered []System

// Register adds a system. It is for builders, while the program starts; a name
// that is taken is a fault of the program.
func Register(s System) {
	if _, ok := SystemNamed(s.Name); ok {
		panic("design: two systems are called " + s.Name)
	}
	for _, f := range fields {
		if slices.Contains(everyBed, f.Key) && !slices.Contains(s.Lacks, f.Key) || slices.Contains(s.Uses, f.Key) {
			if name := s.Names[f.Key]; name != "" {
				f.Label = name
			}
			s.decisions = append(s.decisions, f)
		}
	}
	s.decisions = append(s.decisions, s.Own...)
	for _, name := range s.Adds {
		s.decisions = append(s.decisions, extraNamed(name).Fields...)
	}
	registered = append(registered, s)
	slices.SortStableFunc(registered, func(a, b System) int { return strings.Compare(a.Of, b.Of) })
}

// Systems lists the registered systems.
func Systems() []System { return registered }

// SystemNamed finds a system.
func SystemNamed(name string) (System, bool) {
	i := slices.IndexFunc(registered, func(s System) bool { return s.Name == name })
	if i < 0 {
		return System{}, false
	}
	return registered[i], true
}

// What a system may be the plain answer to.
const (
	AnyHeight    = "any height on the ground"
	OnPaving     = "paving"         // nothing is driven into it
	AtWorkHeight = "working height" // standing, or with knees below it
	OfShortOnes  = "short boards"   // sides longer than any board, joined end to end
)

// SystemFor is the first system that is the plain answer to something.
func SystemFor(what string) (System, bool) {
	i := slices.IndexFunc(registered, func(s System) bool { return slices.Contains(s.For, what) })
	if i < 0 {
		return System{}, false
	}
	return registered[i], true
}

// everyBed are the common decisions that every system has.
var everyBed = []string{"access", "reach", "name", "count", "system", "length",
	"width", "soil", "freeboard", "board", "species",
	"cap", "cap_profile", "cap_in", "cap_out", "soil_by", "filling", "boost", "mulch", "mulch_deep", "water",
	"drip_apart", "finish", "tended", "grows", "on", "found"}

// systemChoices offers the registered systems.
func systemChoices(*catalog.Catalog, *Bed) []Choice {
	var list []Choice
	for _, s := range registered {
		list = append(list, Choice{s.Name, s.Title, s.About})
	}
	return list
}

// tried turns a bed over to a system from what it was before others were tried: so none of
// them leaves a trace, and going back to the first brings back all that was decided.
func (b *Bed) tried(name string, cat *catalog.Catalog) error {
	first := b.Before
	if first == nil {
		was := b.Copied()
		first = &was
	}
	next := first.Copied()
	next.ID, next.Name, next.Count, next.Places = b.ID, b.Name, b.Count, b.Places
	next.Kept, next.KeptWhy = b.Kept, b.KeptWhy
	if name != first.System {
		if err := next.become(name, cat); err != nil {
			return err
		}
		next.asLarge(*first, cat)
		next.Before = first
	}
	*b = next
	return nil
}

// asLarge gives a bed the planting area and the depth of another, as nearly as its system can
// build them; a round one is a circle of that area. It is never made smaller than the system
// starts.
func (b *Bed) asLarge(as Bed, cat *catalog.Catalog) {
	s, _ := SystemNamed(b.System)
	want := float64(as.Length) * float64(as.Width)
	if from, ok := SystemNamed(as.System); ok {
		want = from.planted(as)
		switch {
		case slices.Contains(from.Lacks, "width"): // of a circle
			as.Length, as.Width = SizeFor(measure.Over(as.Length, as.Length)/1000*785, as.Access, cat)
		case from.Planted != nil:
			as.Length, as.Width = SizeFor(measure.Area(want*1e-18*float64(measure.SquareMetre)), as.Access, cat)
		}
	}
	round := slices.Contains(s.Lacks, "width")
	area := s.planted
	best, found := b.Copied(), false
	try := func(length, width, soil measure.Length, follow bool) {
		c := b.Copied()
		if c.Length, c.Soil = length, soil; !round {
			c.Width = width
		}
		if follow && s.Follow != nil { // in whole units, where it is built of them
			s.Follow(&c, cat, func(field string) bool { return field == "unit" })
		}
		fits := (c.Length >= c.Width || round || s.AnyWay) && c.oneBoard(s, cat)
		s.Check(c, cat, func(string, string, ...any) { fits = false })
		off := math.Abs(area(c) - want)
		if fits && (off < math.Abs(area(best)-want)-1 || !found && off <= math.Abs(area(best)-want)) {
			best, found = c, true
		}
	}
	step := measure.Inch
	if cat.System == measure.Metric {
		step = 25 * measure.Millimetre
	}
	across := measure.Length(2*math.Sqrt(want/math.Pi)) / step * step
	for _, soil := range []measure.Length{as.Soil, b.Soil} {
		for part := measure.Length(20); part >= 4 && !found; part-- { // twentieths
			if round {
				try(across*part/20, 0, soil, true)
			} else {
				try(as.Length*part/20/step*step, as.Width, soil, true) // shorter, or smaller both ways
				try(as.Length*part/20/step*step, as.Width*part/20/step*step, soil, true)
			}
		}
		if found {
			break
		}
	}
	if s.Planted != nil { // of arms: longer or shorter ones, and then step by step
		for part := measure.Length(8); part <= 40; part += 2 {
			for _, share := range []measure.Length{2, 3, 4, 1} {
				l := as.Length * part / 20 / step * step
				try(l, l*share/4/step*step, as.Soil, true)
			}
		}
		for i, l := measure.Length(-6), best.Length; i <= 6; i++ {
			try(l+i*step, best.Width, best.Soil, true)
		}
	}
	if s.Apart != nil && !found { // the longer size in whole units may have come out the shorter
		for i := measure.Length(1); i <= 4 && !found; i++ {
			try(b.Length+i*s.Apart(*b, cat, "length"), b.Width, b.Soil, false)
		}
	}
	if s.Apart != nil && found { // whole units more or fewer may come nearer
		at := best.Copied()
		long, wide := s.Apart(at, cat, "length"), s.Apart(at, cat, "width")
		for i := measure.Length(-2); i <= 2; i++ {
			for k := measure.Length(-2); k <= 2; k++ {
				if (i == 0 || long > 0) && (k == 0 || wide > 0 && !round) {
					try(at.Length+i*long, at.Width+k*wide, at.Soil, false)
				}
			}
		}
	}
	*b = best
}

// planted is the surface that a bed's sizes enclose, in nm².
func (s System) planted(b Bed) float64 {
	switch {
	case s.Planted != nil:
		return s.Planted(b)
	case slices.Contains(s.Lacks, "width"):
		return math.Pi / 4 * float64(b.Length) * float64(b.Length)
	}
	return float64(b.Length) * float64(b.Width)
}

// NewOf is a project of one bed that is built in a way, as large as that starts.
func NewOf(cat *catalog.Catalog, name, system string) (Design, error) {
	d := New(cat, name)
	if system == "" || system == d.Beds[0].System {
		return d, nil
	}
	return d, d.Beds[0].become(system, cat)
}

// nearly is the share of a planting area that a bed has to have to do for it.
const nearly = 0.93

// OfArea gives a project's first bed a planting area and a depth, as nearly as its system can:
// where one would be too long for the boards there are, or too wide to reach into, as several
// alike. Where no number of beds comes near they are as many as make up the area.
func (d *Design) OfArea(area measure.Area, soil measure.Length, cat *catalog.Catalog) {
	first := d.Beds[0]
	s, _ := SystemNamed(first.System)
	reached := slices.Contains(s.Lacks, "width") && !s.WayIn
	of := s.planted
	want := area.SquareMetres() * 1e18
	for n := 1; n <= 100; n++ {
		length, width := SizeFor(area/measure.Area(n), first.Access, cat)
		b := first.Copied()
		b.asLarge(Bed{Length: length, Width: width, Soil: soil}, cat)
		if reached && b.Length > cat.Reach["both"] {
			continue // the middle is out of arm's reach
		}
		if each := want / float64(n); of(b) < nearly*each {
			continue
		}
		b.Count = n
		d.Beds[0] = b
		return
	}
	if each := of(first); each > 0 {
		d.Beds[0].Count = max(1, min(100, int(want/each+0.5)))
	}
}

// beyond is how much longer than the bed inside its longest board may be.
const beyond = 6 * measure.Inch

// oneBoard reports whether the shop has a board as long as a side, where sides are of one.
func (b Bed) oneBoard(s System, cat *catalog.Catalog) bool {
	if s.Of != "" {
		return true // of blocks, or of boards between them
	}
	longest := measure.Length(0)
	for _, o := range cat.OffersOf(b.Board, b.Species) {
		longest = max(longest, o.Length)
	}
	return b.Length+beyond <= longest
}

// become turns a bed over to a system: its own decisions start from their
// defaults, the common ones and the extras it offers stay.
func (b *Bed) become(name string, cat *catalog.Catalog) error {
	s, ok := SystemNamed(name)
	if !ok {
		return fmt.Errorf("there is no building system %q; there is %s", name, strings.Join(systemNames(), ", "))
	}
	before := b.Options
	b.System, b.Options = name, nil
	b.complete(cat)
	for _, name := range s.Adds {
		if _, there := before[name]; !there {
			continue
		}
		for _, f := range extraNamed(name).Fields {
			b.option(f.Key, before[f.Key])
		}
	}
	if slices.Contains(s.Lacks, "cap") {
		b.Cap = NoCap
	}
	if !slices.Contains(s.Uses, "corners") {
		b.Corners = SidesCover
	}
	if p, err := cat.Profile(b.Board); err != nil || !s.takes(p) || !cat.Sold(b.Board, b.Species) {
		b.takeBoard(s, cat)
	}
	if s.Start != nil {
		s.Start(cat, b)
	}
	if s.Follow != nil {
		s.Follow(b, cat, func(string) bool { return false })
	}
	b.fitLayers(cat)
	return nil
}

// takes reports whether a system's walls are made of such a profile.
func (s System) takes(p catalog.Profile) bool {
	return s.Kinds == nil && p.Kind == catalog.Board || slices.Contains(s.Kinds, p.Kind)
}

// ThinBoard is what slats and strips are made of: the thinnest board that lasts.
func ThinBoard(cat *catalog.Catalog, species string) (catalog.Profile, error) {
	var best catalog.Profile
	for _, p := range cat.Profiles {
		if p.Kind == catalog.Board && p.Thickness >= cat.Thinnest && cat.Sold(p.ID, SpeciesFor(cat, p.ID, species)) &&
			(best.ID == "" || p.Thickness < best.Thickness) {
			best = p
		}
	}
	if best.ID == "" {
		return best, fmt.Errorf("slats: %w", catalog.ErrNotSold)
	}
	return best, nil
}

// takeBoard gives a bed the first profile its system can be built of, in its
// own timber where that is sold so, otherwise in the timber that lasts longest.
func (b *Bed) takeBoard(s System, cat *catalog.Catalog) {
	for _, own := range []bool{true, false} {
		for _, p := range cat.Profiles {
			if !s.takes(p) || own && !cat.Sold(p.ID, b.Species) {
				continue
			}
			b.Board, b.Species = p.ID, SpeciesFor(cat, p.ID, b.Species)
			return
		}
	}
}

func systemNames() []string {
	var names []string
	for _, s := range registered {
		names = append(names, s.Name)
	}
	return names
}

func (b *Bed) option(key, value string) {
	if b.Options == nil {
		b.Options = map[string]string{}
	}
	b.Options[key] = value
}

// FieldsOf lists a bed's decisions in the order of work: the common ones its
// system has, then its own. The list is not to be changed.
func FieldsOf(b Bed) []Field {
	s, _ := SystemNamed(b.System)
	return s.decisions
}

// IsField reports whether a decision of any bed is called that.
func IsField(key string) bool {
	is := func(f Field) bool { return f.Key == key }
	return slices.ContainsFunc(fields, is) ||
		slices.ContainsFunc(registered, func(s System) bool { return slices.ContainsFunc(s.Own, is) }) ||
		slices.ContainsFunc(extras, func(e Extra) bool { return slices.ContainsFunc(e.Fields, is) })
}

// FieldOf finds one of a bed's decisions.
func FieldOf(b Bed, key string) (Field, bool) {
	for _, f := range FieldsOf(b) {
		if f.Key == key {
			return f, true
		}
	}
	return Field{}, false
}
