package strength

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

// drained is the sideways push of drained granular soil as if it were a liquid: 30 lb/ft³
// (IBC Table 1610.1, active pressure, GW to SP, from memory), as the examples have it.
const drained = 30 * poundsPerCubicFoot

// Gravity walls by hand, overturning FSo = 3 gw B^2 / (EFP H^2) and sliding FSs =
// 2 mu gw B / (EFP H), with EFP = Ka gs: solid masonry of 135 pcf, EFP 30 pcf, mu
// 0.35 (IBC Tables 1610.1 and 1806.2), and 22 kN/m3 against soil of 18, phi 30, mu 0.5.
func TestGravityWalls(t *testing.T) {
	in, mm := measure.Inch, measure.Millimetre
	pcf := 16.018463
	for _, w := range []struct {
		base, height     measure.Length
		density, fluid   float64
		friction         float64
		tipping, sliding float64
	}{
		{in * 61 / 8, 24 * in, 135 * pcf, drained, OnGravel, 1.363, 1.001},
		{in * 61 / 8, 16 * in, 135 * pcf, drained, OnGravel, 3.07, 1.50},
		{in * 93 / 8, 24 * in, 135 * pcf, drained, OnGravel, 3.167, 1.526},
		{200 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 1.222, 1.222},
		{250 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 1.910, 1.528},
		{300 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 2.750, 1.833},
	} {
		got := Gravity{Base: w.base, Height: w.height, Density: w.density, Fluid: w.fluid, Friction: w.friction}.Check()
		if math.Abs(got.Tipping/w.tipping-1) > 0.003 || math.Abs(got.Sliding/w.sliding-1) > 0.003 {
			t.Errorf(
				"%v thick, %v high: %.3f and %.3f, want %v and %v",
				w.base,
				w.height,
				got.Tipping,
				got.Sliding,
				w.tipping,
				w.sliding,
			)
		}
		if got.Holds() != (w.tipping >= Safe && w.sliding >= Safe) {
			t.Errorf("%v thick, %v high holds: %v", w.base, w.height, got.Holds())
		}
	}
}

// What a wall presses on its ground, by hand: 22 kN/m3 on soil of 18 at 30 degrees, 0.6 m
// high; 250 mm thick the weight comes down 65.5 mm off the middle, outside the middle
// third, and presses 36.9 kPa at the toe; 300 mm thick 54.5 mm and 27.7 kPa. Sand bears
// 2000 lb/ft2, 96 kPa (IBC Table 1806.2). Level ground with 50 lb/ft2 on it pushes a third
// of that, 16.7 lb/ft2, over all the height: on a wall of 2 ft 33.3 lb a foot at half its
// height, besides 60 lb of soil at a third.
func TestGravityToeAndSurcharge(t *testing.T) {
	mm := measure.Millimetre
	for base, want := range map[measure.Length]float64{250 * mm: 36.9e3, 300 * mm: 27.7e3} {
		got := Gravity{
			Base:     base,
			Height:   600 * mm,
			Density:  22000 / gravity,
			Fluid:    18000.0 / 3,
			Friction: 0.5,
		}.Check()
		close(t, "toe", got.Toe, want, 0.003)
	}
	pcf, psf := 16.018463, 47.88026
	plain := Gravity{Base: 12 * in, Height: 24 * in, Density: 135 * pcf, Fluid: drained, Friction: OnGravel}
	laden := plain
	laden.Above, laden.Active = 50*psf, Active(30)
	weight := 135.0 * 2 // lb a foot
	close(t, "tipping", laden.Check().Tipping, weight/2/(60*2.0/3+33.333*1), 0.002)
	close(t, "sliding", laden.Check().Sliding, weight*0.35/(60+33.333), 0.002)
	if laden.Check().Toe <= plain.Check().Toe {
		t.Error("a load above does not press harder on the toe")
	}
}

// Years of wood (common practice): pickets of 5/8 in last less than half of what 1 1/2 in
// boards do; sleepers a third longer; half the wood lasts half as long. EN 350 classes in
// ground (50 mm stakes, from memory): class 2 15 to 25 years, 3 to 4 5 to 15, 4 to 5 less
// than 10; what is listed of a timber is not above its class.
func TestYearsOfWood(t *testing.T) {
	for _, c := range []struct {
		w     Wood
		least int
		most  int
	}{
		{Wood{Least: 10, Most: 20, Thick: in * 3 / 2}, 10, 20},
		{Wood{Least: 10, Most: 20, Thick: in * 5 / 8}, 4, 8},
		{Wood{Least: 10, Most: 20, Thick: in * 3 / 4}, 5, 10},
		{Wood{Least: 15, Most: 30, Thick: 100 * measure.Millimetre}, 19, 39},
		{Wood{Least: 10, Most: 20, Thick: in * 3 / 2, Lined: "membrane"}, 12, 25},
		{Wood{Least: 3, Most: 5, Thick: in * 5 / 8}, 1, 2},
		{Wood{Least: 10, Most: 20, Thick: in * 3 / 2, OffGround: true}, 12, 25},
	} {
		if l, m := c.w.Years(); l != c.least || m != c.most {
			t.Errorf("%+v: %d to %d years, want %d to %d", c.w, l, m, c.least, c.most)
		}
	}
	for _, c := range []struct {
		region, id string
		most       int // years of its class
	}{{"us", "cedar", 25}, {"us", "pine", 10}, {"metric", "oak", 25}, {"metric", "larch", 15}, {"metric", "spruce",
		10}} {
		if s := species(t, c.region, c.id); s.LifeMax > c.most || s.LifeMin < 1 {
			t.Errorf("%s: %d to %d years, its class has up to %d", s.Name, s.LifeMin, s.LifeMax, c.most)
		}
	}
}
