package strength

import (
	"math"

	"chamfer/core/measure"
)

// Active is the share of its weight with which level soil pushes a smooth wall that can
// give a little (Rankine: tan²(45° - phi/2)); phi is its angle of friction in degrees.
func Active(phi float64) float64 { return math.Pow(math.Tan((45-phi/2)*math.Pi/180), 2) }

// Resting is that share where the wall cannot give (Jaky 1944: 1 - sin phi).
func Resting(phi float64) float64 { return 1 - math.Sin(phi*math.Pi/180) }

// Passive is what soil bears before it is pushed up (Rankine: tan²(45° + phi/2)).
func Passive(phi float64) float64 { return 1 / Active(phi) }

// Stake is a stake or post that nothing but the ground holds: Force pushes on it at a
// Height above the ground, Wide is its face.
type Stake struct {
	Force  float64 // N
	Height measure.Length
	Wide   measure.Length // of a square one its diagonal
	Ground float64        // what the ground bears sideways, N/m³ for each metre of depth; see Bears
}

// Bears is what sandy ground bears sideways: 150 lb/ft² for each foot of depth (IBC
// Table 1806.2, from memory). It is doubled for posts that may give half an inch only
// under loads that do not last (1806.3.4), and soil's push does.
const Bears = 150 * poundsPerCubicFoot

// Depth is how far a stake has to stand in the ground (IBC 1807.3.2.1 eq. 18-1: d = 0.5 A
// (1 + root(1 + 4.36 h/A)), A = 2.34 P/(S1 b), S1 at a third of d). The answer is found
// by halving, to a millimetre, and is at most 5 m.
func (s Stake) Depth() measure.Length {
	h, b := s.Height.Metres(), s.Wide.Metres()
	enough := func(d float64) bool {
		a := 2.34 * s.Force / (s.Ground * d / 3 * b)
		return d >= 0.5*a*(1+math.Sqrt(1+4.36*h/a))
	}
	lo, hi := 0.0, 5.0
	for hi-lo > 0.0005 {
		if mid := (lo + hi) / 2; enough(mid) {
			hi = mid
		} else {
			lo = mid
		}
	}
	return metres(hi)
}
