package strength

import (
	"math"

	"chamfer/core/catalog"
)

// Link is one place that a load passes on its way to the ground: a joint, a bearing, or a
// member between two of them.
//
//	soil -> slat -> ledger -> screws -> board -> screws -> leg -> ground
//
// Load, Holds and Breaks are in N and of one kind: what comes there, what may be counted
// on, and what is expected to break it on average. Of a member they are what lies on it.
type Link struct {
	Bed      string
	From, To string // IDs of parts, joints' fellows, cavities; or "ground", "deck", "wind"
	Path     Path
	Way      Way
	Load     float64
	Holds    float64
	Breaks   float64
	Joint    string  // its ID, where it is one
	Screws   int     // of the joint
	EndGrain bool    // they stand in end grain
	Gives    bool    // the ground does not hold the posts there, and boards carry the rest past them
	Bow      float64 // lasting, m, of a member
	Span     float64 // m, of a member
}

// Path is where a load comes from.
type Path string

// The paths.
const (
	OnFloor Path = "wet soil"
	OnSide  Path = "push on the sides"
	OnEnd   Path = "push on the ends"
	Seated  Path = "a person"
	Wind    Path = "wind"
)

// Way is how a link carries, and by it how it fails.
type Way string

// The ways.
const (
	Bending   Way = "bending"
	Shearing  Way = "shear along the grain"
	Crushing  Way = "bearing across the grain"
	Upright   Way = "standing on end"
	Across    Way = "fixings across their length"
	Pulled    Way = "fixings along their length"
	InGround  Way = "firm ground"
	OnGround  Way = "the ground under it"
	OnSoil    Way = "the soil it lies on"
	ByWeight  Way = "weight and friction"
	Tipping   Way = "weight against tipping"
	Rolling   Way = "casters"
	Strapped  Way = "straps and ties"
	Rooted    Way = "bending at its foot"
	InSlot    Way = "its end in a slot"
	Stretched Way = "pulled along the grain"
)

// Rule says in words what a way counts on, what is expected to break it, and who says so.
type Rule struct{ Words, Source string }

// Rules of all ways.
//
// How much stronger than what is counted on: bending and shear of NDS are a twentieth
// weakest over 2.1, 1.6 of that for ten years' load (ASTM D245, D2555), so that the average,
// the twentieth weakest over 0.59, breaks at 2.2; of EN 1995-1-1 1.35 on the load and 1.3
// on the strength over 0.59, 3.0. A screw's thread lets go at 15 700 G² D on average and
// 2850 G² D is counted on (Wood Handbook FPL-GTR-282 eq. 8-10, NDS 12.2-2): 5.5, over 1.6
// for ten years 3.4. All from memory.
var Rules = map[Way]Rule{
	Bending: {
		"It bends as a beam over what carries it; pieces that are screwed together along their length share by their" +
			" stiffness.",
		"NDS 2018 3.3 or EN 1995-1-1 6.1.6; three-moment equation",
	},
	Shearing: {"Its ends want to split along the grain: one and a half times the greatest shear over its section.",
		"NDS 2018 3.4.2 or EN 1995-1-1 6.1.7"},
	Crushing: {"It presses into the grain of what it lies on.", "NDS 2018 3.10.2 or EN 1995-1-1 6.1.5"},
	Upright: {
		"It stands on end and may not buckle.",
		"NDS 2018 3.7.1, with no more than what crushes it across the grain",
	},
	Across: {
		"A fixing bears across its length until it bends or the wood gives; in end grain two thirds of that. Those" +
			" that share a load give before they break, so each takes by what it holds.",
		"NDS 2018 Table 12.3.1A, single shear, with 0.9 (permanent) and 0.7 (wet), from memory; Wood Handbook ch. 8",
	},
	Pulled: {
		"Thread holds by its length, its diameter and the wood's density; less in wet wood, and for good, and in" +
			" end grain.",
		"NDS 2018 12.2 with 0.9 (permanent) and 0.7 (wet); end grain 0.75 of it, though the standard counts on no" +
			" wood screw there; Wood Handbook ch. 8; from memory",
	},
	InGround: {"A pole turns in the ground when it is pushed; a third of what makes firm ground give is counted on.",
		"Broms 1964 for short rigid poles in sand, 110 lb/ft³ at 30°"},
	OnGround: {
		"It presses on the ground; soil that is not soft bears 1500 lb/ft² (72 kN/m²).",
		"IBC Table 1806.2 (from memory)",
	},
	OnSoil: {"It lies on the bed's soil.", "common practice"},
	ByWeight: {
		"Its weight times friction stands against the push, one and a half times.",
		"IBC 1807.2.3 and Table 1806.2 (from memory)",
	},
	Tipping: {
		"Its weight, times half of what it stands on, stands against what tips it, one and a half times.",
		"IBC 1807.2.3 (from memory)",
	},
	Rolling: {
		"A stiff box stands on one caster less than it has: on any slab one of them is off the ground.",
		"common practice",
	},
	Strapped: {
		"What holds its feet is pulled sideways.",
		"a strap 25 kg: common practice; wire ties of 14 gauge 75 lb each at 15 ksi",
	},
	Rooted: {
		"A wall in one piece bends at its foot; its weight presses the joints shut, mortar holds 12 lb/in² (83 kPa)" +
			" of what is left, a cast wall 94 (650 kPa).",
		"TMS 402 Table 8.2.4.2, type N; ACI 318 14.5.2 over 1.6 (from memory)",
	},
	Stretched: {"It is pulled along its grain.", "NDS 2018 3.8 or EN 1995-1-1 6.1.2"},
	InSlot:    {"The board's end leans against the side of its slot.", "NDS 2018 3.10.2 or EN 1995-1-1 6.1.5"},
}

// How many times what is counted on is expected to break it, on average.
const (
	bendsNDS   = 2.2
	bendsEC5   = 3.0
	pullsOut   = 15700.0 / 2850 / tenYears
	crushes    = 2.0 // it does not break: it sinks in by 2 or 3 mm
	groundOver = LastingFactor
)

// weakest is what the weakest of twenty holds to the average, where they vary by a quarter
// as wood and its joints do (ASTM D2915; 1 - 1.645 x 0.25).
const weakest = 0.59

// Broken is how many times what may be counted on is expected to break a piece of a wood that
// bends, on average, and from when on the weakest of twenty.
func Broken(s catalog.Species) (average, weak float64) {
	average = breaksBending(s)
	return average, max(1, weakest*average)
}

// LetGo is the same of screws.
func LetGo() (average, weak float64) { return pullsOut, weakest * pullsOut }

// Ratio is what comes there to what may be counted on.
func (l Link) Ratio() float64 {
	switch {
	case l.Load <= 0:
		return 0
	case l.Holds <= 0:
		return math.Inf(1)
	}
	return l.Load / l.Holds
}

// Much is the ratio from which the weakest of twenty is expected to break; at least 1.
func (l Link) Much() float64 {
	if l.Holds <= 0 {
		return 1
	}
	return max(1, weakest*l.Breaks/l.Holds)
}
