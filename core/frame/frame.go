// Package frame is the vocabulary between the people who build and the people
// who count. A builder (boarded frame, block wall, ring) turns a gardener's
// decisions into the things named here, each placed in space; everything after
// that - cutting, fixings, strength, soil, drawing, bill, steps - reads these
// things and never asks which builder made them.
//
//	       z                   Part    a piece of timber
//	       |   y               Joint   where two of them are fixed together
//	  _____|__/________        Wall    boards that hold soil back between supports
//	 /     | /        /|       Cavity  the room the soil fills
//	/______|/________/ |       Sheet   cloth or card
//	|______O_________|/--- x   Unit, Pour   masonry
//
// O is the outer front left corner of the walls at ground level.
package frame

import (
	"slices"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/why"
)

// Sheet is cloth, card, mesh or membrane over a rectangle.
type Sheet struct {
	ID, Bed  string
	Material string // catalogue ID
	Place    string // where it lies, for reading: "under the bed"
	Length   measure.Length
	Width    measure.Length
	TurnUp   measure.Length // at every edge
	Inside   bool           // put in once the walls stand; others lie on the ground before
	Lines    bool           // it lies between the walls and the soil
	Along    bool           // its strips run along its length only, one over the other: it stands against a wall
	Closed   bool           // it runs round and meets itself, so that its ends lap too
	Stapled  measure.Length // of its edges
	Outside  bool           // laid outside the walls, once all stands
	Up       measure.Length // of its width, what of an outside one goes up the fence
	Fits     []string       // fittings that hold it
	After    string         // the act it is put in after, as acts are named; "" for all that builds the walls
	Holes    Holes          // made in it for the water
	Cavity   string         // that it lies in, by ID; "" for all of them
}

// Holes let water out of a sheet that holds it: so many of a size in rows so far apart at most, on a floor
// that is packed up by a tilt on one side. The zero value is none.
type Holes struct {
	Count, Rows         int // in all, and from front to back
	Across, Apart, Tilt measure.Length
	Near                measure.Length // of the outer ones to the walls
}

// Fitting is something bought ready and fixed on: a caster, a splice plate, a
// hoop's pipe.
type Fitting struct {
	ID, Bed string
	Kind    string // of the catalogue's fittings: "caster"
	Place   string // where it goes, for reading
	Count   int
	Each    measure.Length // of one, where it is sold by length; 0 by the piece
	Milli   int            // thousandths of a piece it takes, where it is poured or spread; Count is 0 then
	Screws  int            // that hold one on, through its plate
	Into    measure.Length // what those go into
	Why     string         // how Count or Each came about
	Feet    bool           // hoops stand on them
	Lines   [][]Point      // how it runs above the soil, where it is thin and long: a string, a wire, a pipe
}

// JointKind is the way two things are fixed together.
type JointKind string

// The kinds of joint. What screws they take is the business of fixing.
const (
	FaceToPost  JointKind = "board face to post"
	FaceToEnd   JointKind = "board face to end grain"
	BoltToEnd   JointKind = "bolt through a face into end grain"
	CarryToPost JointKind = "what carries a floor, face to post"
	TieToCleat  JointKind = "a tie's side to its cleat"
	TieToWall   JointKind = "board face to a tie's end"
	WallLedger  JointKind = "ledger and wall board, face to face"
	SlatLedger  JointKind = "slat down onto a ledger"
	SheetDown   JointKind = "floor sheet down onto a ledger"
	CapToWall   JointKind = "cap to wall edge"
	FaceToFace  JointKind = "strap or cleat and board, face to face"
	BehindPost  JointKind = "from behind, through the post into the sleeper"
	PocketEnd   JointKind = "pocket hole in a board's end"
	Splice      JointKind = "splice plates over two ends"
	PlateOn     JointKind = "fitting to timber" // a caster, a strap: screwed through its plate
	Stacked     JointKind = "sleeper down onto a sleeper"
	Bracket     JointKind = "angle brackets inside a corner"
)

// Joint is a place where two parts are fixed together: the first is fastened,
// the second receives the point of the screw.
type Joint struct {
	ID       string
	Kind     JointKind
	Parts    [2]string
	Through  measure.Length // thickness of the fastened part, along the screw
	Into     measure.Length // depth of the receiving part, along the screw
	Run      measure.Length // length over which fixings are spread
	Past     measure.Length // that the fastened piece goes on past the other, beyond that run, at its upper edge
	EndGrain bool           // the screw enters end grain
	Close    int            // its fixings stand so many times as close as usual; 0 is once
	Turn     float64        // degrees that two walls turn at it, where that is not a right angle; 0 else
	Said     int            // so many fixings, for somebody said so; 0 is as many as usual
	At       Point          // middle of the touching faces
	Load     string         // what it carries, for reading
}

// Wall is a straight run of boards, one above the other, that holds soil back
// and leans on supports.
type Wall struct {
	ID, Bed  string
	Name     string
	End      bool             // an end, not a long side
	Turn     float64          // degrees its run is turned from x, anticlockwise; 0 along x, or along y for an end
	Boards   []string         // part IDs, ground course first
	Supports []measure.Length // centres along the wall, in order
	Soil     measure.Length   // depth of soil behind it
	Field    string           // the decision that adds supports; "" where there is none
	Support  PartKind         // what such a support is: "mid post"
	Ground   string           // the decision how deep supports are set; "" where they are not
}

// Floor is slats that carry the soil from ledger to ledger, over beams where
// there are any. The beams run between what stands at the floor's ends.
type Floor struct {
	ID, Bed  string
	Slats    []string       // part IDs
	Span     measure.Length // of a slat between centres of what it lies on
	Spans    int
	Beams    []string
	BeamSpan measure.Length
	Rail     string // a part of the beams' profile: the ledgers' where there is no beam
	Soil     measure.Length
	Field    string   // the decision that adds beams; "" where there is none
	Called   PartKind // what they are: beams, spanners; "" is beams
	Most     int      // beams there is room for
	// LedgerSpan is the side ledgers' between what holds them, over LedgerSpans
	// in a row; 0 where they are held all along. LedgerField adds to what holds them.
	LedgerSpan  measure.Length
	LedgerSpans int
	LedgerField string
}

// Carriers is what lies under its slats between what stands at its ends.
func (f Floor) Carriers() PartKind {
	if f.Called == "" {
		return Beam
	}
	return f.Called
}

// Measure is a dimension worth reading on a drawing. Field names the decision
// it edits, or is empty where it follows from others.
type Measure struct {
	Name     string
	Field    string
	From, To Point
	Primary  bool // drawn nearest the figure and largest
}

// Length returns the distance along the axis the measure runs on.
func (m Measure) Length() measure.Length {
	_, l := m.Run()
	return l
}

// Run returns the axis a measure runs along and its length.
func (m Measure) Run() (Axis, measure.Length) {
	for _, a := range []Axis{X, Y, Z} {
		if d := m.To.Along(a) - m.From.Along(a); d != 0 {
			return a, d
		}
	}
	return X, 0
}

// Act is one act of assembly, in the order they can be carried out.
//
// Its key is the bed, what is done, and to what: it stays the same under edits that do
// not touch it.
type Act struct {
	Verb  Verb
	Of    string   // what it is done to: "ends", "cap"; no two acts of a bed have verb and this alike
	Title string   // in words: "Make up the two ends"
	Where string   // "on a flat surface", "where the bed will stand"
	Parts []string // that are added in this act
	Loose bool     // they are only joined to one another, and put in place by a later act
	Again []string // parts of a loose act that are put in place in this one
	Fits  []string // fittings that are put on, by ID
	Note  string   // what to watch, with the reason
	// After are acts of the bed that come before it, by verb and what they are done to, and sheets, by ID, where no joint
	// tells.
	After []string
	Level int      // of a slope that is built level by level: which, from 1; 0 where that is no matter
	Soils bool     // it takes soil that has been brought, beside what is filled in
	Tools []string // it takes besides those that its joints and its blocks do
	Soil  Soil     // how it stands to the filling; "" as its verb does: walls before it, caps and extras any time
	Bent  bool     // it is sprung in: there is no straight way to its place
	Over  bool     // the bed is upside down for it
	AsOne bool     // its parts are joined to one another first, and put in as one
}

// Soil is when an act is done, as seen from the filling of the bed.
type Soil string

// An act before the soil goes in; once that has settled; or any time.
const (
	BeforeSoil Soil = "before the soil"
	OnSoil     Soil = "once the soil has settled"
	AnyTime    Soil = "any time"
)

// Filled is when an act is done, as seen from the filling.
func (a Act) Filled() Soil {
	switch {
	case a.Soil != "":
		return a.Soil
	case a.Verb == FitOut || a.Verb == FixCap:
		return AnyTime
	}
	return BeforeSoil
}

// Named is what an act is called among those of its bed: "make up ends".
func (a Act) Named() string { return string(a.Verb) + " " + a.Of }

// Key is what an act of a bed is called wherever it is referred to: "b1.make-up.ends".
func (a Act) Key(bed string) string {
	return bed + "." + strings.ReplaceAll(string(a.Verb)+"."+strings.TrimSpace(a.Of), " ", "-")
}

// Verb is what is done in an act.
type Verb string

// The verbs of assembly.
const (
	MakeUp  Verb = "make up"  // a sub-assembly, away from the site
	JoinUp  Verb = "join up"  // sub-assemblies into the frame, in place
	SetPost Verb = "set post" // a post into its hole
	Drive   Verb = "drive"    // stakes into the ground
	FixCap  Verb = "fix cap"
	Lay     Verb = "lay"     // units, course by course
	FitOut  Verb = "fit out" // what is not timber, and what is put on last
	Fill    Verb = "fill"    // how its soil goes in, where that is more than tipping it: told with the filling
)

// Handle is where a drawn line or outline is taken hold of: at one of its points, or part of
// the way from that to the next, for one more.
type Handle struct {
	Field string // the decision that holds the points
	Nth   int
	Half  bool
	At    Spot
}

// Opening is a clear surface to plant in, from above.
type Opening struct {
	Name    string // where there are several: "upper tier"
	Lo, Hi  Spot
	Rim     measure.Length // top of the walls round it
	Round   []Spot         // its outline where it is no rectangle
	Surface *why.Term      // how its surface is reckoned, where the outline does not tell
}

// Frame is one bed, built. Times is how many are built alike: whoever counts
// multiplies by it, whoever draws or describes shows one.
type Frame struct {
	Bed      string
	Name     string
	Times    int
	Parts    []Part
	Units    []Unit
	Pours    []Pour
	Sheets   []Sheet
	Joints   []Joint
	Walls    []Wall
	Floors   []Floor
	Cavities []Cavity
	Measures []Measure
	Acts     []Act
	Fittings []Fitting
	Openings []Opening
	Found    []Found
	Pieced   []Pieced
	Bases    []Base
	Beads    []Bead
	Arcs     []Arc
	Radii    []Radius
	Marks    []Mark
	Levels   []Level
	Cores    []Core
	Drains   []Drain
	Stacks   []Stack
	Grade    [2]measure.Length // heights of sloping ground along the front and the back
	Fall     measure.Length    // of the ground along the front, from left to right
	Steps    int               // courses that its base goes down with it, in steps
	Outside  [2]Spot           // outside of the walls, from above
	Outline  []Spot            // the same, anticlockwise from the front left, where it is no rectangle
	Taken    []Spot            // the ground it takes, where that is neither its outline nor within its walls
	Baseline bool              // it is set out by its marks, out from a line along its front: it has no corners
	Handles  []Handle          // of what is drawn point by point
	Rim      measure.Length
	Wet      float64 // kg/m³ of what it is filled with, wet; 0 where nobody says
	// Deepest is how far plants are from where one can stand, where that does not follow
	// from the bed's width; the decision DeepestBy is so many times as much of it.
	Deepest    measure.Length
	DeepestBy  string
	DeepestPer float64
	Tall       string // what stands tall along its back, for reading; "" for nothing
	TallBy     string // the decision that takes it away; "" for none
	OnFeet     bool   // stands on feet or legs: the ground below is left as it is
	Backed     bool   // it stands against something: nobody gets to it from behind
}

// Pieced is one course of a side that may be joined from shorter lengths, with
// where it is joined and may not be, from its left or front end.
type Pieced struct {
	Side             string
	Course           int
	Profile, Species string
	Length           measure.Length
	Clear            [][2]measure.Length // posts, with what joints keep off them
	Least            measure.Length      // the shortest piece
	Apart            measure.Length      // from the joints of the course below
	Joints           []measure.Length
	Parts            []string // IDs, in order
	Field            string   // the decision that says where
}

// GroundAt is how high the ground lies so far along the front: 0 at the left, lower where
// it falls away.
func (f *Frame) GroundAt(u measure.Length) measure.Length {
	if f.Fall == 0 {
		return 0
	}
	return -measure.Length(float64(f.Fall) * float64(u) / float64(f.Outside[1].U))
}

// Screwed reports whether its walls are pieces fixed to one another, which are squared as one
// and can be lifted so; what is laid or cast stays where it is, whatever stands beside it.
func (f *Frame) Screwed() bool { return len(f.Joints) > 0 && len(f.Units)+len(f.Pours) == 0 }

// Lasts reports whether some of it is stone, which no wet rots.
func (f *Frame) Lasts() bool { return len(f.Units)+len(f.Pours) > 0 }

// Lined is what lies between the walls and the soil, "" where nothing does.
func (f *Frame) Lined() string {
	for _, s := range f.Sheets {
		if s.Lines {
			return s.Material
		}
	}
	return ""
}

// Courses is how many boards high the walls are.
func (f *Frame) Courses() int {
	n := 0
	for _, p := range f.Parts {
		n = max(n, p.Course)
	}
	for _, u := range f.Units {
		if u.Kind != CapUnit {
			n = max(n, u.Course)
		}
	}
	return n
}

// Part returns a part by its ID.
func (f *Frame) Part(id string) (Part, bool) {
	i := slices.IndexFunc(f.Parts, func(p Part) bool { return p.ID == id })
	if i < 0 {
		return Part{}, false
	}
	return f.Parts[i], true
}

// Solid returns what a part or a unit fills, by its ID.
func (f *Frame) Solid(id string) (Prism, bool) {
	if p, ok := f.Part(id); ok {
		return p.Body, true
	}
	i := slices.IndexFunc(f.Units, func(u Unit) bool { return u.ID == id })
	if i < 0 {
		return Prism{}, false
	}
	return f.Units[i].Body, true
}

// Pieces are those of some IDs that are pieces: boards and blocks, not what is cast.
func (f *Frame) Pieces(ids []string) (list []string) {
	for _, id := range ids {
		if _, ok := f.Solid(id); ok {
			list = append(list, id)
		}
	}
	return list
}

// PlantingArea is the clear openings' surface.
func (f *Frame) PlantingArea() measure.Area {
	var area measure.Area
	for _, o := range f.Openings {
		if o.Round != nil {
			area += OutlineArea(o.Round)
			continue
		}
		area += measure.Over(o.Hi.U-o.Lo.U, o.Hi.V-o.Lo.V)
	}
	return area
}

// Move shifts all of a frame that stands in space: a tier onto the one below.
func (f *Frame) Move(d Point) {
	spot := func(s Spot) Spot { return Spot{s.U + d.X, s.V + d.Y} }
	for i := range f.Parts {
		f.Parts[i].Body = f.Parts[i].Body.Move(d)
		for k := range f.Parts[i].Notches {
			n := &f.Parts[i].Notches[k]
			n.Lo, n.Hi = n.Lo.Plus(d), n.Hi.Plus(d)
		}
	}
	for i := range f.Units {
		f.Units[i].Body = f.Units[i].Body.Move(d)
		for k := range f.Units[i].Pieces {
			f.Units[i].Pieces[k] = f.Units[i].Pieces[k].Move(d)
		}
	}
	for i := range f.Joints {
		f.Joints[i].At = f.Joints[i].At.Plus(d)
	}
	for i := range f.Cavities {
		c := &f.Cavities[i]
		for k := range c.Outline {
			c.Outline[k] = spot(c.Outline[k])
		}
		for _, piece := range c.Pieces {
			for k := range piece {
				piece[k] = spot(piece[k])
			}
		}
		for k := range c.Wedges {
			c.Wedges[k] = c.Wedges[k].Move(d)
		}
		c.Bottom, c.Top, c.Rim = c.Bottom+d.Z, c.Top+d.Z, c.Rim+d.Z
	}
	for i := range f.Measures {
		m := &f.Measures[i]
		m.From, m.To = m.From.Plus(d), m.To.Plus(d)
	}
	for i := range f.Openings {
		o := &f.Openings[i]
		o.Lo, o.Hi, o.Rim = spot(o.Lo), spot(o.Hi), o.Rim+d.Z
	}
	for i := range f.Fittings {
		for _, line := range f.Fittings[i].Lines {
			for k := range line {
				line[k] = line[k].Plus(d)
			}
		}
	}
	for _, b := range f.Bases {
		for k := range b.Trench {
			b.Trench[k] = spot(b.Trench[k])
		}
	}
	for i := range f.Arcs {
		f.Arcs[i].Middle = spot(f.Arcs[i].Middle)
	}
	for i := range f.Marks {
		f.Marks[i].At = spot(f.Marks[i].At)
	}
	for i := range f.Handles {
		f.Handles[i].At = spot(f.Handles[i].At)
	}
	for i := range f.Taken {
		f.Taken[i] = spot(f.Taken[i])
	}
	f.Outside = [2]Spot{spot(f.Outside[0]), spot(f.Outside[1])}
	for i := range f.Outline {
		f.Outline[i] = spot(f.Outline[i])
	}
	f.Rim += d.Z
}

// Bounds returns the box around all parts and units of a frame.
func (f *Frame) Bounds() (lo, hi Point) {
	first := true
	add := func(p Prism) {
		a, b := p.Bounds()
		if first {
			lo, hi, first = a, b, false
			return
		}
		lo = Point{min(lo.X, a.X), min(lo.Y, a.Y), min(lo.Z, a.Z)}
		hi = Point{max(hi.X, b.X), max(hi.Y, b.Y), max(hi.Z, b.Z)}
	}
	for _, p := range f.Parts {
		add(p.Body)
	}
	for _, u := range f.Units {
		add(u.Body)
	}
	return lo, hi
}

// Over is how long and wide a bed is over its walls.
func (f *Frame) Over() (long, wide measure.Length) {
	return f.Outside[1].U - f.Outside[0].U, f.Outside[1].V - f.Outside[0].V
}
