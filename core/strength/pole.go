package strength

import (
	"math"

	"chamfer/core/measure"
)

// Pole is a short post or stake that stands in firm ground and is pushed sideways above
// it by what presses on a wall for years. It turns in the ground before it breaks, or
// breaks in the ground before that gives:
//
//	  push ->|  e above the ground
//	---------|---------
//	         |->  greatest bending, f down
//	         |
//	       <-|  tip
//
// Only native soil counts as firm: what was dug and filled back holds far less.
type Pole struct {
	Height measure.Length // of the push above firm ground
	Wide   measure.Length // its face
	Deep   measure.Length // in firm ground
}

// Firm ground is taken as sand, moist and drained: 110 lb/ft³ at an angle of friction of
// 30° (REFERENCE G8.1). A clay that is stiff holds more, one that is soaked less.
const (
	firmWeight  = 110 * poundsPerCubicFoot // N/m³
	firmPassive = 3.0                      // Rankine, tan²(45° + 30°/2)
)

// LastingFactor is by how much less than its most the ground is counted on under a load
// that stays: 3 (textbook, 2 to 3; REFERENCE G8.1). The doubling of IBC 1806.3.4 is for
// short loads and is not taken.
const LastingFactor = 3

// BriefFactor is the same under wind: half of it, as IBC 1806.3.4 lets what short loads bear on
// be doubled.
const BriefFactor = LastingFactor / 2.0

// Most is the push in N at which the ground gives, at the least (Broms 1964, J. Soil Mech.
// Found. Div. ASCE 90 SM3, short rigid pole with a free head in sand: Hu = 0.5 gamma D L³
// Kp/(e + L)).
func (p Pole) Most() float64 {
	l := p.Deep.Metres()
	if l <= 0 {
		return 0
	}
	return 0.5 * firmWeight * p.Wide.Metres() * l * l * l * firmPassive / (p.Height.Metres() + l)
}

// Moment is the greatest bending in N·m under a push in N, and how far below the ground
// it is (Broms 1964: H (e + 2f/3), f = root(H/(1.5 gamma D Kp))).
func (p Pole) Moment(push float64) (moment float64, below measure.Length) {
	if push <= 0 || p.Wide <= 0 {
		return 0, 0
	}
	f := math.Sqrt(push / (1.5 * firmWeight * p.Wide.Metres() * firmPassive))
	return push * (p.Height.Metres() + 2*f/3), metres(f)
}

// Holds is the push in N it is good for, for years: a part of what the ground bears, or
// less where the pole itself would be bent too far. bends is the bending in N·m that is
// allowed in it.
func (p Pole) Holds(bends float64) float64 {
	lo, hi := 0.0, p.Most()/LastingFactor
	if m, _ := p.Moment(hi); m <= bends {
		return hi
	}
	for range 50 { // by halving: bending grows with the push
		mid := (lo + hi) / 2
		if m, _ := p.Moment(mid); m <= bends {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo
}

// StoodFor is the depth of soil with which closed boxes on stakes and posts have stood for years,
// whatever the ground is reckoned to hold: 14 in, 350 mm (common practice).
const StoodFor = 14 * measure.Inch
