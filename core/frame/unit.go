package frame

import (
	"chamfer/core/measure"
)

// Unit is one masonry unit.
type Unit struct {
	ID     string
	Bed    string
	SKU    string // catalogue ID
	Kind   UnitKind
	Role   string // where it is, for reading: "front, course 2"
	Course int    // from 1 on the base; caps lie on the last
	Body   Prism
	Pieces []Prism        // that make up Body, where that has hollows: none of them has
	Cut    measure.Length // length after cutting; 0 for a whole unit
	Angle  float64        // of the cut, degrees from square
	Lugs   bool           // come off below, since it lies across units and not along them
	Dry    bool           // laid without the mortar it is sold for
	Fields []string       // the decisions that shape it
}

// Solids are what a unit fills, in pieces without a hollow.
func (u Unit) Solids() []Prism {
	if u.Pieces != nil {
		return u.Pieces
	}
	return []Prism{u.Body}
}

// Base is what a masonry wall stands on: a trench with compacted stone and a
// thin screed under the first course, corners counted once.
type Base struct {
	Bed    string
	Line   measure.Length // along the middle of the wall
	Thick  measure.Length // of the wall
	Wide   measure.Length // of the trench
	Area   measure.Area   // of the trench, from above
	Seat   measure.Area   // under the units: the screed's
	Stone  measure.Length // compacted, thick
	Screed measure.Length // thick
	Sand   bool           // the screed is of sand alone
	Buried measure.Length // of the first course, below the ground
	Trench []Spot         // from above, where it does not just follow the outside or an arc
}

// Arc is a wall round a middle: from there its inner and outer faces are so far,
// all round or over a part of it.
type Arc struct {
	Bed, Name       string
	Middle          Spot
	Inside, Outside measure.Length
	Degrees         int // 360, 180 or 90
}

// Radius is something else that is set out from a middle with a string.
type Radius struct {
	Bed    string
	Middle Spot
	Reach  measure.Length
	What   string
}

// Stack is a wall of units or a cast one that holds soil by its weight.
type Stack struct {
	Bed     string
	Units   []string // of its first course
	Thick   measure.Length
	Soil    measure.Length // behind it
	Density float64        // kg/m³, with what its cores are filled with
	Tied    bool           // held by what it closes into: a ring, or ends close by
	Bond    Bond
}

// Bond is what makes a wall one piece.
type Bond string

// The bonds.
const (
	Dry      Bond = "dry"
	Glued    Bond = "glued"
	Mortared Bond = "mortared"
	Cast     Bond = "cast"
)

// Tension is what its joints bear when it bends, Pa: mortar 12 lb/in² (TMS 402 Table
// 8.2.4.2, hollow units, type N, the least), cast 150 over 1.6 (ACI 318 14.5.2 at 2500
// lb/in²); what is laid dry nothing, and glue, which nobody publishes a value of, is counted on
// for nothing either; from memory.
func (b Bond) Tension() float64 {
	const psi = 6894.757
	switch b {
	case Mortared:
		return 12 * psi
	case Cast:
		return 150 / 1.6 * psi
	}
	return 0
}

// Drain is stone behind a wall, course by course, with cloth between it and the soil.
type Drain struct {
	Bed    string
	Volume measure.Volume
	Wide   measure.Length // from the wall into the bed
	Cloth  string         // that keeps soil out of it, by its sheet's ID
}

// Core is the stone that fills hollow units.
type Core struct {
	Bed    string
	Volume measure.Volume
}

// Level is a terrace: how high it lies above the lowest ground, the wall in front of
// it, and the ground that is cut away and filled for it.
type Level struct {
	Bed, Name string
	Height    measure.Length
	Wall      measure.Length
	Cut, Fill measure.Volume
}

// Mark is a further place to peg when a bed is set out.
type Mark struct {
	At   Spot
	What string
}

// Bead is glue laid along a wall.
type Bead struct {
	Bed    string
	Place  string
	Length measure.Length
}

// Pour is a wall cast between two strips.
type Pour struct {
	ID, Bed    string
	Volume     measure.Volume
	Density    float64        // kg/m³ when it has set
	FormLength measure.Length // both faces
	FormHeight measure.Length
	Strips     int
	Stakes     int
	Rubble     int            // thousandths of the volume
	Batch      int            // bags that are mixed at a time
	Daily      int            // so many times a day
	Sand       int            // parts of it to one of cement, mixed by the barrow; 0 for mix from the bag
	Outside    []Spot         // from above
	Inside     []Spot         // as many corners
	Open       bool           // it ends, and does not come round to where it began
	From, To   measure.Length // its foot, at the left, and its top
	Ground     measure.Length // the height of the ground before it
	Fall       measure.Length // of its foot along Length, from 0 on
	Length     measure.Length
}

// Solids are the stretches that a pour is made of, none of them with a hollow.
func (p Pour) Solids() []Prism {
	var list []Prism
	n := len(p.Outside)
	for i := range n {
		j := (i + 1) % n
		o := []Spot{p.Outside[i], p.Outside[j], p.Inside[j], p.Inside[i]}
		if OutlineArea(o) <= 0 || p.Open && j == 0 {
			continue
		}
		from := p.From
		if p.Fall > 0 {
			mid := (o[0].U + o[1].U + o[2].U + o[3].U) / 4
			from -= measure.Length(float64(p.Fall) * float64(mid) / float64(p.Length))
		}
		list = append(list, Prism{Axis: Z, From: from, To: p.To, Outline: o})
	}
	return list
}
