// Package water reckons what beds need in a week, lays drip lines in them, and follows the water from
// the tap: how much comes out, what is lost along the way, how many beds run at once, and for how long.
package water

import "math"

// Physics (SI). Friction: Darcy and Weisbach with f = 64/Re below 2000 and Blasius' 0.32 Re^-0.25
// above, as Keller & Bliesner, Sprinkle and Trickle Irrigation (from memory), have it for smooth pipe.
const (
	gravity   = 9.80665
	viscosity = 1.004e-6 // of water at 20 °C, m²/s
	density   = 998.2
)

// loss is what a pipe of an inside diameter loses over a length, in metres of water; flow in l/h,
// the rest in metres.
func loss(flow, length, inside float64) float64 {
	q := flow / 3.6e6
	if q <= 0 {
		return 0
	}
	v := q / (math.Pi / 4 * inside * inside)
	re := v * inside / viscosity
	f := 64 / re
	if re >= 2000 {
		f = 0.32 * math.Pow(re, -0.25)
	}
	return f * length / inside * v * v / (2 * gravity)
}

// Lateral is what a drip line loses from its inlet to its end, in metres of water: emitters of so many
// l/h one after the other, the first a spacing from the inlet, added up stretch by stretch.
func Lateral(emitters int, each, spacing, inside float64) float64 {
	var sum float64
	for k := emitters; k >= 1; k-- {
		sum += loss(float64(k)*each, spacing, inside)
	}
	return sum
}

// Longest is how long a drip line may be that loses no more than so many metres of water, in metres.
func Longest(most, each, spacing, inside float64) float64 {
	n := 0
	for sum := 0.0; n < 100_000; n++ {
		if sum += loss(float64(n+1)*each, spacing, inside); sum > most {
			break
		}
	}
	return float64(n) * spacing
}

// Kilopascals are so many metres of water as a pressure.
func Kilopascals(head float64) float64 { return head * density * gravity / 1000 }
