package masonry

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	_ "chamfer/core/timber" // beds start as boarded frames
)

// Ring by hand and by REFERENCE section 9 (direct trigonometry): rectangular units of
// 12 x 8 in need 36 in of radius for n = pi / atan(12 / 72) = 19.02: 19 of them, at
// 35.84 in with joints closed. Tapered ones of 12 and 9 1/2 in over 7 1/2 in close by
// their sides: 19 of them too, since 2 atan(1.25 / 7.5) = 18.92 degrees.
func TestRingByHand(t *testing.T) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	rect := catalog.Unit{Length: 16 * in, Back: 16 * in, Depth: 8 * in, Height: 8 * in}
	for n, want := range map[int]float64{14: 35.050, 15: 37.637} { // REFERENCE: 16 x 8 in
		if got := apothem(rect, n, 0).Inches(); math.Abs(got-want) > 0.001 {
			t.Errorf("%d of 16 in: %.3f, want %.3f", n, got, want)
		}
	}
	uk := catalog.Unit{Length: 215 * measure.Millimetre, Back: 215 * measure.Millimetre, Depth: in * 4}
	if got := apothem(uk, 17, 10*measure.Millimetre).Millimetres(); math.Abs(got-601.82) > 0.01 {
		t.Errorf("17 stretchers: %.2f, want 601.82", got)
	}
	u, _ := c.Unit("ring12")
	f, b, err := made("us", "ring", "ring_units=19")
	if err != nil {
		t.Fatal(err)
	}
	if want := 2 * apothem(u, 19, 0); b.Length != want || kinds(f)[frame.StandardUnit] != 19*f.Courses() {
		t.Errorf("across %v, want %v; %v", b.Length, want, kinds(f))
	}
	// The other way about: that size asked for comes to 19 again.
	g, _, err := made("us", "ring", "length="+b.Length.String())
	if err != nil || kinds(g)[frame.StandardUnit] != 19*g.Courses() {
		t.Errorf("%v %v", err, kinds(g))
	}
	// Its soil is a circle's: pi r^2 by the depth.
	r := b.Length.Metres() / 2
	if got, want := f.Cavities[0].Net().CubicMetres(), math.Pi*r*r*b.Soil.Metres(); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("soil %.6f, want %.6f", got, want)
	}
}

// Caps round a ring meet at 180 degrees by their number: against the angle between the
// side of one and its middle line, by vectors.
func TestRingCapsMeet(t *testing.T) {
	f := mustMake(t, "us", "ring", "unit_cap=mitred", "length=60 in")
	n := kinds(f)[frame.CapUnit]
	for _, u := range f.Units {
		if u.Kind != frame.CapUnit {
			continue
		}
		o := u.Body.Outline // inner, outer, outer, inner
		side := [2]float64{float64(o[1].U - o[0].U), float64(o[1].V - o[0].V)}
		other := [2]float64{float64(o[2].U - o[3].U), float64(o[2].V - o[3].V)}
		cos := (side[0]*other[0] + side[1]*other[1]) / math.Hypot(side[0], side[1]) / math.Hypot(other[0], other[1])
		if half := math.Acos(cos) / 2 * 180 / math.Pi; math.Abs(half-180/float64(n)) > 1e-3 ||
			math.Abs(half-u.Angle) > 1e-3 {
			t.Fatalf("%d caps: %.4f degrees, cut at %.4f", n, half, u.Angle)
		}
	}
}

// Keyholes against REFERENCE section 9, pi R^2 - pi r^2 - [A(R) - A(r)] with A(R) = h
// sqrt(R^2 - h^2) + R^2 asin(h / R): R 1, r 0.3, way 0.5 m is 2.494225 m2. What the
// slope adds, against adding up rings by hand: a full ring of R 1.2, r 0.45 that rises
// 0.2 m.
func TestKeyholeAgainstIntegration(t *testing.T) {
	m := measure.Metre
	h := hole{r: round{inner: m, middle: frame.Spot{U: 2 * m, V: 2 * m}}, basket: 3 * m / 10, way: m / 4}
	if got := frame.OutlineArea(h.outline(float64(m / 4))).SquareMetres(); math.Abs(got/2.494225-1) > 5e-4 {
		t.Errorf("%.6f m2, want 2.494225", got)
	}
	h = hole{r: round{inner: 12 * m / 10}, basket: 45 * m / 100}
	const n = 100_000
	sum := 0.0
	for k := range n {
		r := 0.45 + (1.2-0.45)*(float64(k)+0.5)/n
		sum += 2 * math.Pi * r * 0.2 * (1.2 - r) / (1.2 - 0.45) * (1.2 - 0.45) / n
	}
	r, b := 1.2, 0.45
	whole := measure.Area(math.Pi * (r*r - b*b) * 1e12)
	if got := h.heap(2*m/10, whole).CubicMetres(); math.Abs(got/sum-1) > 1e-4 {
		t.Errorf("the slope adds %.5f m3, want %.5f", got, sum)
	}
	for _, edits := range [][]string{nil, {"length=84 in"}, {"length=110 in"}, {"unit=edging", "soil=6 in"},
		{"length=96 in", "way_in=20 in", "basket=40 in"}} {
		for _, region := range []string{"us", "metric"} {
			f, b, err := made(region, "keyhole", edits...)
			if err != nil {
				t.Errorf("%s %v: %v", region, edits, err)
				continue
			}
			for i, x := range f.Units {
				for _, y := range f.Units[i+1:] {
					if frame.Overlap(x.Body, y.Body) {
						t.Fatalf("%v: %s (%s) and %s (%s) share room", edits, x.ID, x.Role, y.ID, y.Role)
					}
				}
				// The way in is free.
				lo, hi := x.Body.Bounds()
				mid := (f.Outside[0].U + f.Outside[1].U) / 2
				if half := b.OptionLength(wayKey) / 2; hi.Y < mid && lo.X < mid+half-in/64 && hi.X > mid-half+in/64 {
					t.Fatalf("%v: %s (%s) from %v to %v stands in the way in", edits, x.ID, x.Role, lo.X-mid, hi.X-mid)
				}
			}
			// The trench goes as far beside every unit of the first course, leaves the way
			// in undug between its walls, and is as large as its length and width make it,
			// within what corners and the walls' ends add.
			base := f.Bases[0]
			for _, u := range f.Units {
				for _, c := range u.Body.Outline {
					if u.Course == 1 && edge(base.Trench, c) < (base.Wide-base.Thick)/2-in {
						t.Fatalf("%v: the trench is %v from %s (%s)", edits, edge(base.Trench, c), u.ID, u.Role)
					}
				}
			}
			mid := (f.Outside[0].U + f.Outside[1].U) / 2
			if e := edge(base.Trench, frame.Spot{U: mid, V: f.Outside[0].V + base.Thick}); e >= 0 {
				t.Errorf("%v: the way in is dug, %v from the edge", edits, e)
			}
			if by := base.Area.SquareMetres() / measure.Over(base.Line, base.Wide).SquareMetres(); by < 0.93 ||
				by > 1.07 {
				t.Errorf("%v: a trench of %v, %v times its length and width", edits, base.Area, by)
			}
			if f.Cavities[0].Heaped <= 0 || f.Fittings[0].Count < 6 || len(f.Sheets) < 2 {
				t.Errorf("%v: %+v", edits, f.Fittings)
			}
		}
	}
}

// edge is how far a spot is inside an outline, below zero where it is outside.
func edge(outline []frame.Spot, s frame.Spot) measure.Length {
	inside, least := false, math.Inf(1)
	for i, b := range outline {
		a := outline[(i+len(outline)-1)%len(outline)]
		au, av, bu, bv := float64(a.U-s.U), float64(a.V-s.V), float64(b.U-s.U), float64(b.V-s.V)
		if (av > 0) != (bv > 0) && au-av*(bu-au)/(bv-av) > 0 {
			inside = !inside
		}
		du, dv := bu-au, bv-av
		k := 0.0
		if d := du*du + dv*dv; d > 0 {
			k = min(1, max(0, -(au*du+av*dv)/d))
		}
		least = min(least, math.Hypot(au+k*du, av+k*dv))
	}
	if !inside {
		least = -least
	}
	return measure.Length(least)
}

// Three rings on one another: nothing shares room, each stands on the soil below and
// leaves the ledge, planting is the whole of the lowest disc less the units that stand
// on it, and soil what the discs hold less what is buried.
func TestTiersOfRings(t *testing.T) {
	f, _, err := made(
		"us",
		"ring",
		"length=96 in",
		"tiers=3",
		"ledge=10 in",
		"tier_courses=2",
		"soil=10 in",
		"bury=2 in",
		"freeboard=1 in",
	)
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Arcs) != 3 || len(f.Cavities) != 3 || len(f.Openings) != 3 {
		t.Fatalf("%d rings", len(f.Arcs))
	}
	if err := sound(frame.Frame{Units: f.Units}); err != nil {
		t.Error(err)
	}
	u := 7.5
	area := math.Pi * math.Pow(f.Arcs[0].Inside.Inches(), 2)
	soil := area * 10
	for k, a := range f.Arcs[1:] {
		if gap := f.Arcs[k].Inside - a.Outside; gap < 10*in {
			t.Errorf("a ledge of %v", gap)
		}
		ri, ro := a.Inside.Inches(), a.Inside.Inches()+u
		area -= math.Pi * (ro*ro - ri*ri)
		soil += math.Pi*ri*ri*(8-2-1) - math.Pi*(ro*ro-ri*ri)*2 // two courses less what is buried and kept below the rim
	}
	if got := f.PlantingArea().SquareFeet() * 144; math.Abs(got/area-1) > 1e-3 {
		t.Errorf("planting %.1f sq in, want %.1f", got, area)
	}
	net := 0.0
	for _, c := range f.Cavities {
		net += c.Net().CubicFeet() * 1728
	}
	if math.Abs(net/soil-1) > 1e-3 {
		t.Errorf("soil %.0f cu in, want %.0f", net, soil)
	}
	if _, _, err := made("us", "ring", "length=48 in", "tiers=3"); err == nil ||
		!strings.Contains(err.Error(), "do not fit") {
		t.Errorf("%v", err)
	}
}

func TestRingsOfAnySize(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 1))
	built := 0
	for range 120 {
		c := catalog.Regions()[r.IntN(2)]
		units := c.UnitsOf(catalog.RingUnit, catalog.WallUnit, catalog.EdgingUnit, catalog.Brick)
		u := units[r.IntN(len(units))]
		f, b, err := made(
			c.ID,
			"ring",
			"unit="+u.ID,
			"arc="+[]string{"full", "half", "quarter"}[r.IntN(3)],
			"length="+(measure.Length(24+r.IntN(60))*in).String(),
			"soil="+(measure.Length(4+r.IntN(6))*in).String(),
			"bury=1 in",
			"unit_cap="+[]string{"none", "mitred"}[r.IntN(2)],
		)
		if err != nil {
			refusals := design.Refusals(err)
			if len(refusals) == 0 {
				t.Fatal(err)
			}
			continue
		}
		built++
		if err := sound(f); err != nil {
			t.Fatalf("%s of %s, %v across: %v", b.Options[arcKey], u.ID, b.Length, err)
		}
		// Direct trigonometry: every unit stands with its inner face's middle at the
		// radius asked for.
		outline := f.Cavities[0].Outline
		middle := outline[0]
		if b.Options[arcKey] == "full" {
			middle = frame.Spot{
				U: (outline[0].U + outline[len(outline)/2].U) / 2,
				V: (outline[0].V + outline[len(outline)/2].V) / 2,
			}
		}
		for _, x := range f.Units {
			if x.Kind != frame.StandardUnit {
				continue
			}
			o := x.Body.Outline
			du, dv := float64(o[0].U+o[3].U)/2-float64(middle.U), float64(o[0].V+o[3].V)/2-float64(middle.V)
			if got := math.Hypot(du, dv); math.Abs(got-float64(radiusOf(b))) > 10 {
				t.Fatalf("inner face %.0f nm from the middle, want %d", got, radiusOf(b))
			}
		}
	}
	if built < 40 {
		t.Errorf("only %d could be built", built)
	}
}

func BenchmarkRing(b *testing.B) {
	for b.Loop() {
		mustMake(b, "us", "ring", "ring_units=40", "unit_cap=mitred")
	}
}
