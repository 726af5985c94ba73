package strength

import (
	"fmt"
	"math"
	"testing"

	"chamfer/core/measure"
)

func ExamplePole() {
	// A 4x4 a foot in the ground, 30 in of soil pushing at a third of its height.
	post := Pole{Height: 10 * measure.Inch, Wide: 3*measure.Inch + measure.Inch/2, Deep: measure.Foot}
	fmt.Printf("%.0f lb\n", post.Most()/4.448_222)
	// Output: 26 lb
}

// Against the worked examples of REFERENCE G8.1, which solve Broms's formulas by hand: how
// deep a post of 3 1/2 in and a collar of 10 in stand so that the ground gives at one, two
// and three times 240 lb at 8 in (0.667 ft); a tenth of a metre wide, 0.90 m deep, in 18
// kN/m³, whose hold goes by the weight and is scaled to it here.
func TestPole(t *testing.T) {
	feet := func(f float64) measure.Length { return measure.Length(f * float64(measure.Foot)) }
	const pound = 4.448_222
	for _, c := range []struct {
		wide, deep, times float64
	}{{3.5, 2.512, 1}, {3.5, 3.450, 2}, {3.5, 4.166, 3}, {10, 2.140, 2}, {10, 2.568, 3}} {
		p := Pole{Height: feet(0.667), Wide: measure.Length(c.wide * float64(measure.Inch)), Deep: feet(c.deep)}
		if got := p.Most() / pound / 240; math.Abs(got-c.times) > 0.002*c.times {
			t.Errorf("%v in wide, %v ft deep: %.4f times 240 lb, want %v", c.wide, c.deep, got, c.times)
		}
	}
	p := Pole{Height: 200 * measure.Millimetre, Wide: 100 * measure.Millimetre, Deep: 900 * measure.Millimetre}
	scale := 18_000 / firmWeight
	if got := p.Most() * scale; math.Abs(got-1789) > 1.5 {
		t.Errorf("Hu is %.0f N, want 1789", got)
	}
	for push, want := range map[float64][2]float64{1789: {0.470, 919}, 596: {0.271, 227}} {
		m, f := p.Moment(push / scale)
		if math.Abs(f.Metres()-want[0]) > 0.0015 || math.Abs(m*scale-want[1]) > 1.5 {
			t.Errorf(
				"at %.0f N bending is %.0f N·m %.3f m down, want %.0f and %.3f",
				push,
				m*scale,
				f.Metres(),
				want[1],
				want[0],
			)
		}
	}
	// What it is good for is a third of that, or what the pole bears.
	if got := p.Holds(1e9); math.Abs(got-p.Most()/3) > 1e-9 {
		t.Errorf("good for %.1f N of %.1f", got, p.Most())
	}
	if got := p.Holds(50); got <= 0 || got >= p.Most()/3 {
		t.Errorf("a weak pole is good for %.1f N", got)
	} else if m, _ := p.Moment(got); math.Abs(m-50) > 0.01 {
		t.Errorf("a weak pole is bent by %.3f N·m, and 50 are allowed", m)
	}
	if (Pole{Wide: measure.Inch}).Most() != 0 {
		t.Error("a post that stands on the ground holds")
	}
	// Statics: with the reaction 3 Kp gamma z D to the depth f and none below, the
	// bending there is what the formula says (integrated in a thousand slices).
	push := p.Most() / 2
	m, f := p.Moment(push)
	sum, dz := push*(p.Height.Metres()+f.Metres()), f.Metres()/1000
	for i := range 1000 {
		z := (float64(i) + 0.5) * dz
		sum -= 3 * firmPassive * firmWeight * z * p.Wide.Metres() * dz * (f.Metres() - z)
	}
	if math.Abs(sum-m) > 0.001*m {
		t.Errorf("bending by slices is %.3f N·m, by the formula %.3f", sum, m)
	}
}
