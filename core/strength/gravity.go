package strength

import (
	"math"

	"chamfer/core/measure"
)

// OnGravel is the friction of a wall on gravel or compacted stone: 0.35 (IBC Table
// 1806.2, GW and GP, from memory).
const OnGravel = 0.35

// Gravity is a wall that holds soil by its weight alone, for each metre of it. It
// is for beds, up to the local height limit; what holds up ground, or has a slope
// or a drive above it, is for a licensed engineer.
type Gravity struct {
	Base     measure.Length // thickness
	Height   measure.Length // of wall and soil
	Density  float64        // of the wall, kg/m³
	Fluid    float64        // push of the soil as a liquid, N/m³; see Behind
	Friction float64
	// Above is what presses on the soil behind, N/m², and Active the share of it that
	// pushes sideways; see [Active]. People on a path are about 2.4 kN/m², 50 lb/ft²
	// (common practice); what a drive carries is an engineer's question.
	Above, Active float64
}

// Standing is how a gravity wall stands: how often over it bears being tipped and
// pushed along, and how hard it presses on the ground under its toe, N/m².
type Standing struct{ Tipping, Sliding, Toe float64 }

// Safe is how often over is asked for: 1.5 (IBC 1807.2.3, from memory).
const Safe = 1.5

// Holds reports whether it neither tips nor slides.
func (s Standing) Holds() bool { return s.Tipping >= Safe && s.Sliding >= Safe }

// Check works a wall out: weight times half its thickness against the thrust times
// a third of its height; weight times friction against the thrust.
func (g Gravity) Check() Standing {
	b, h := g.Base.Metres(), g.Height.Metres()
	weight := g.Density * gravity * b * h
	soil, above := g.Fluid*h*h/2, g.Active*g.Above*h
	thrust, turning := soil+above, soil*h/3+above*h/2
	if thrust <= 0 {
		return Standing{math.Inf(1), math.Inf(1), weight / b}
	}
	s := Standing{Tipping: weight * b / 2 / turning, Sliding: weight * g.Friction / thrust}
	// The weight comes down so far from the toe; beyond the middle third the heel lifts.
	switch toe := (weight*b/2 - turning) / weight; {
	case toe <= 0:
		s.Toe = math.Inf(1)
	case toe < b/3:
		s.Toe = 2 * weight / (3 * toe)
	default:
		s.Toe = weight / b * (1 + 6*(b/2-toe)/b)
	}
	return s
}
