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

// Bearing is the answer for a [Side].
type Bearing struct {
	Load      float64          // N/m on the lowest board
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
	t, w := s.Thickness.Metres(), s.Width.Metres()
	deep := s.Soil.Metres()
	shallow := max(0, deep-w)
	load := s.Fluid * (deep*deep - shallow*shallow) / 2
	span := s.Span.Metres()
	d, m := beam(s.Spans)
	inertia := w * t * t * t / 12
	section := w * t * t / 6

	b := Bearing{Load: load, Moment: load * span * span / m}
	e, creep, factor, allowed := values(s)
	first := load * math.Pow(span, 4) / (d * e * inertia)
	b.Stress = measure.Pressure(b.Moment * factor / section)
	b.Allowed = measure.Pressure(allowed)
	b.FirstBow = metres(first)
	b.Bow = metres(first * creep)
	b.Limit = s.Span / VisibleBow
	b.StressPct = int(math.Ceil(float64(b.Stress) / float64(b.Allowed) * 100))
	return b
}

// metres rounds to a nanometre and caps at MaxLength, so that a hopeless span
// stays a number.
func metres(m float64) measure.Length {
	if m > measure.MaxLength.Metres() {
		return measure.MaxLength
	}
	return measure.Length(math.Round(m * float64(measure.Metre)))
}

// values returns the stiffness in Pa, the creep factor, the factor on the load
// and the bending strength in Pa that may be used.
//
// NDS 2018: E' = E CM, F'b = Fb CD CM CF Cfu with CD 0.9 for lasting soil load,
// CM 0.9 on E and 0.85 on Fb when wet (1.0 where Fb CF <= 1150 psi), creep
// factor 2.0 for wet service (3.5.2). EN 1995-1-1: kmod 0.50 (permanent,
// service class 3), gamma_M 1.3, kh = min((150/h)^0.2, 1.3), kdef 2.0, load
// factor 1.35 (EN 1990). All from memory.
func values(s Side) (e, creep, factor, allowed float64) {
	row := s.Species.BendingFor(s.Width)
	if s.Species.Method == "ec5" {
		depth := s.Thickness.Millimetres() // bent flatwise
		kh := 1.0
		if depth < 150 {
			kh = min(math.Pow(150/depth, 0.2), 1.3)
		}
		return s.Species.E * 1e9, 1 + 2.0, 1.35, 0.50 * kh * row.Strength / 1.3 * 1e6
	}
	wet := 0.85
	if row.Strength*row.SizeFactor <= 1150 {
		wet = 1.0
	}
	psi := float64(measure.PSI)
	return s.Species.E * 0.9 * psi, 2.0, 1, row.Strength * 0.9 * wet * row.SizeFactor * row.FlatFactor * psi
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
