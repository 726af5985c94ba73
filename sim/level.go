package sim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
)

// Level is a digital level on a tripod, looking at a staff on an invented garden.
type Level struct {
	Right, Out, Up float64                          // where it stands on the plot, and how high its eye is, m
	Ground         func(right, out float64) float64 // m
	Noise          float64                          // of one reading, mm
	Tilt           float64                          // its line of sight rises so many mm to the metre
	Rand           *rand.Rand

	staff [2]float64
	held  bool
}

// outOfReach is how far its compensator levels it, mm to the metre.
const outOfReach = 4.0

// Answer does what it is told: ID, MEAS, and STAFF, by which the stand-in is told where the staff
// is held.
func (l *Level) Answer(words []string) (string, bool) {
	if len(words) == 0 {
		return "E 3", true
	}
	switch words[0] {
	case "ID":
		return "ID LEVEL STAND-IN 1", true
	case "STAFF":
		if len(words) != 3 {
			return "E 3", true
		}
		x, err1 := strconv.ParseFloat(words[1], 64)
		y, err2 := strconv.ParseFloat(words[2], 64)
		if err1 != nil || err2 != nil || math.IsNaN(x+y) {
			return "E 3", true
		}
		l.staff, l.held = [2]float64{x / 1000, y / 1000}, true
		return "OK", true
	case "MEAS":
		if math.Abs(l.Tilt) > outOfReach {
			return "E 2", true
		}
		if !l.held {
			return "E 1", true
		}
		far := math.Hypot(l.staff[0]-l.Right, l.staff[1]-l.Out)
		up := (l.Up-l.Ground(l.staff[0], l.staff[1]))*1000 + l.Tilt*far
		if l.Rand != nil {
			up += l.Rand.NormFloat64() * l.Noise
		}
		if up < 0 || up > 5000 || far > 110 {
			return "E 1", true
		}
		return fmt.Sprintf("M %.1f %.0f", up, far*1000), true
	}
	return "E 3", true
}

// Garden is an invented piece of ground that falls towards the lane, with a hollow.
func Garden(right, out float64) float64 {
	return 0.045*out + 0.02*right - 0.12*math.Exp(-((right-4)*(right-4)+(out-3)*(out-3))/3)
}
