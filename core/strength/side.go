// Package strength says whether boards hold the soil behind them. Wet soil
// pushes a wall outwards, hardest at the bottom; the lowest board carries the
// most and bends sideways, flatwise, between the posts it is screwed to. Wood
// under a lasting load keeps giving, the more so when wet, so the bow after
// two summers is about twice the first day's.
//
//	      posts                  push of the soil
//	  |     |     |                 |\
//	==O=====O=====O==  board        | \
//	  '- span -'                    |__\ deepest, hardest
//
// [Walk] follows every load of a bed on from there: from board to post, from slat to ledger
// to leg, from cap and trellis, through each joint to the ground, and says of every link
// what comes there, what may be counted on, and what is expected to break it.
//
// This is a check for garden beds that hold soil in a box. A wall that holds
// ground back is work for a licensed engineer, and local codes come first.
package strength

import (
	"math"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// AtRest is the sideways push of moist, well-drained garden soil that cannot
// move, as if it were a liquid of this weight: 60 lb/ft³ or 9425 N/m³ (IBC
// Table 1610.1, at-rest pressure for sands and gravels, from memory). It is
// above 0.5 x 90 lb/ft³ for a loose garden mix, so on the safe side.
const AtRest = 60 * poundsPerCubicFoot

// Giving is the push of wet garden soil on what gives: a third of 110 lb/ft³ (Rankine's
// active pressure at an angle of friction of 30°). Soil is at its full push only against
// what does not move; a thousandth of the height is enough to lessen it, and boards
// bend, and screws slip, by far more.
const Giving = 110.0 / 3 * poundsPerCubicFoot

// poundsPerCubicFoot in N/m³ (NIST SP 811: 1 lbf/ft³ = 157.0875 N/m³).
const poundsPerCubicFoot = 157.087_5

// VisibleBow is the span divided by the lasting bow that is tolerated: 180
// (IBC Table 1604.3 for farm buildings, from memory).
const VisibleBow = 180

// Side is the lowest board of a wall: what pushes on it and what it leans on.
type Side struct {
	Thickness measure.Length
	Width     measure.Length // of one course
	Soil      measure.Length // depth behind the wall
	Span      measure.Length // between centres of supports, the longest
	Spans     int            // how many in a row the board runs over, at least 1
	Species   catalog.Species
	Fluid     float64 // push of the soil as a liquid, N/m³; see AtRest
}

// Bearing is the answer for a [Side] or any other [Member].
type Bearing struct {
	Load      float64          // N/m on the member
	Moment    float64          // N·m
	Stress    measure.Pressure // in bending
	Allowed   measure.Pressure
	FirstBow  measure.Length // on the day it is filled
	Bow       measure.Length // lasting
	Limit     measure.Length // of the lasting bow
	StressPct int            // stress in per cent of what is allowed, rounded up
}

// Holds reports whether the board neither bows visibly nor is overstressed.
func (b Bearing) Holds() bool { return b.Bow <= b.Limit && b.Stress <= b.Allowed }

// Bears reports whether it holds up, though it may bow so that one sees it: by twice as
// much.
func (b Bearing) Bears() bool { return b.Bow <= 2*b.Limit && b.Stress <= b.Allowed }

// beam coefficients for uniform load: deflection wL⁴/(d·EI), moment wL²/m
// (AWC Design Aid No. 6; AISC Manual Tables 3-22c and 3-23).
func beam(spans int) (d, m float64) {
	switch spans {
	case 1:
		return 384.0 / 5, 8
	case 2:
		return 184.6, 8
	}
	return 1 / 0.006884, 10
}

// Check works a side out. Span, Width and Thickness must be positive.
func Check(s Side) Bearing {
	deep := s.Soil.Metres()
	shallow := max(0, deep-s.Width.Metres())
	return Bend(Member{Across: s.Width, Deep: s.Thickness, Span: s.Span, Spans: s.Spans, Species: s.Species,
		Load: s.Fluid * (deep*deep - shallow*shallow) / 2})
}

// metres rounds to a nanometre and caps at MaxLength, so that a hopeless span
// stays a number.
func metres(m float64) measure.Length {
	if m > measure.MaxLength.Metres() {
		return measure.MaxLength
	}
	return measure.Length(math.Round(m * float64(measure.Metre)))
}

// MidSupports returns the fewest supports to set between the ends of a side of
// the given length (between the centres of its end supports) so that it holds,
// at most 20; s.Span and s.Spans are ignored.
func MidSupports(s Side, length measure.Length) int {
	for n := 0; n < 20; n++ {
		s.Spans = n + 1
		s.Span = length / measure.Length(n+1)
		if Check(s).Holds() {
			return n
		}
	}
	return 20
}
