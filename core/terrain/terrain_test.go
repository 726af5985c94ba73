package terrain

import (
	"fmt"
	"math"
	"math/rand"
	"os"
	"testing"

	"chamfer/core/measure"
)

func mm(v int64) *measure.Length {
	l := measure.Length(v) * measure.Millimetre
	return &l
}

func up(v int64) *measure.Level { return (*measure.Level)(mm(v)) }

// A levelled loop of three set-ups, worked by hand in both ways of booking: own example,
// arithmetic only; the ways of booking, the checks and how a misclosure is shared are those of
// survey textbooks.
func TestBook(t *testing.T) {
	s, err := Reduce([]Reading{
		{Peg: "A", Height: up(10000), Back: mm(1425)},
		{Peg: "NW", Between: mm(1310)}, {Peg: "NE", Between: mm(1685)},
		{Peg: "1", Fore: mm(1940), Back: mm(862)},
		{Peg: "SE", Between: mm(1205)}, {Peg: "SW", Between: mm(974)},
		{Peg: "2", Fore: mm(1118), Back: mm(1733)},
		{Peg: "tap", Between: mm(1402)}, {Peg: "A", Fore: mm(965)},
	})
	if err != nil {
		t.Fatal(err)
	}
	read := []int64{10000, 10115, 9740, 9485, 9142, 9373, 9229, 9560, 9997}
	taken := []int64{10000, 10116, 9741, 9486, 9144, 9375, 9231, 9563, 10000}
	step := []int64{0, 115, -375, -255, -343, 231, -144, 331, 437}
	var sum, sights measure.Length
	for i, l := range s.Lines {
		if l.Read != *mm(read[i]) || l.Height != *mm(taken[i]) || l.Step != *mm(step[i]) {
			t.Errorf("%s: read %v, step %v, taken %v", l.Peg, l.Read, l.Step, l.Height)
		}
		if i > 0 {
			sum += l.Read
		}
		for _, x := range []*measure.Length{l.Between, l.Fore} {
			if x != nil {
				sights += *x
			}
		}
	}
	run := s.Runs[0]
	if run.Back != *mm(4020) || run.Fore != *mm(4023) || run.Rise != *mm(1114) || run.Fall != *mm(1117) {
		t.Errorf("sums: %+v", run)
	}
	if d := run.Back - run.Fore; d != run.Rise-run.Fall || d != run.To-run.From || d != run.Misclosure {
		t.Errorf("the checks do not agree: %+v", run)
	}
	if run.SetUps != 3 || !run.Closed || !run.Shared || math.Abs(run.Allowed.Millimetres()-8.66) > 0.005 {
		t.Errorf("run: %+v", run)
	}
	// the check of the intermediates by the height of the instrument
	if hi := 3**mm(11425) + 3**mm(10347) + 2**mm(10962) - sights; hi != sum || sum != *mm(76641) {
		t.Errorf("sum of heights %v, by the instrument %v", sum, hi)
	}
}

// A rod in inches, a plank and a tube; and what cannot be booked is refused by its line.
func TestReadings(t *testing.T) {
	in := func(sixteenths int64) *measure.Length {
		l := measure.Length(sixteenths) * measure.Sixteenth
		return &l
	}
	at := func(x, y int64) (a, b *measure.Length) { return mm(x), mm(y) }
	x, y := at(0, 0)
	s, err := Reduce([]Reading{
		{Peg: "BM", Back: in(48*16 + 2)},
		{Peg: "NW", Between: in(46*16 + 14), Right: x, Out: y}, {Peg: "NE", Between: in(47*16 + 8)},
		{Peg: "SE", Between: in(49*16 + 4)}, {Peg: "SW", Between: in(50 * 16)},
		{Peg: "shed", From: "SW", There: in(16), Here: in(40)}, // a plank, 1 in over one peg, 2 1/2 over the other
	})
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []int64{0, 20, 10, -18, -30, -54} {
		if s.Lines[i].Height != *in(want) {
			t.Errorf("%s: %v, not %v", s.Lines[i].Peg, s.Lines[i].Height, *in(want))
		}
	}
	if s.Runs[0].Closed || len(s.Pegs) != 1 || s.Pegs[0].Height != *in(20) {
		t.Errorf("%+v", s)
	}
	// out by 12 mm over one set-up of which 5 are allowed: told, and not shared out
	s, _ = Reduce([]Reading{{Peg: "A", Back: mm(1000)}, {Peg: "B", Between: mm(900)}, {Peg: "A", Fore: mm(988)}})
	if r := s.Runs[0]; !r.Closed || r.Shared || r.Misclosure != *mm(12) || s.Lines[1].Height != *mm(100) {
		t.Errorf("%+v", s)
	}
	for i, bad := range [][]Reading{
		{{Peg: "A", Between: mm(1)}},
		{{Peg: "A", Back: mm(1)}, {Peg: "B", Back: mm(1)}},
		{{Peg: "A", Back: mm(1)}, {Peg: "B", Between: mm(1), Fore: mm(1)}},
		{{Peg: "A", From: "B", There: mm(1), Here: mm(1)}},
		{{Peg: "A", Height: up(1)}, {Peg: "B", From: "A", There: mm(1)}},
		{{Peg: "A"}},
		{{Peg: "A", Height: up(1)}, {Peg: "A", Height: up(2), Back: mm(4)}},
	} {
		if _, err := Reduce(bad); err == nil {
			t.Errorf("book %d was taken", i)
		} else if f, ok := err.(*Fault); !ok || f.Line != len(bad) {
			t.Errorf("book %d: %v", i, err)
		}
	}
}

// grid is a ground of squares, each split on one diagonal or the other.
func grid(heights [][]float64, side float64, other bool) *Surface {
	s := &Surface{}
	w := len(heights[0])
	for r, row := range heights {
		for c, z := range row {
			s.Spots, s.Names = append(s.Spots, Spot{float64(c) * side, float64(r) * side, z}), append(s.Names, "p")
		}
	}
	for r := range len(heights) - 1 {
		for c := range w - 1 {
			a, b, d, e := r*w+c, r*w+c+1, (r+1)*w+c, (r+1)*w+c+1
			if other {
				s.Triangles = append(s.Triangles, [3]int{a, b, d}, [3]int{b, e, d})
			} else {
				s.Triangles = append(s.Triangles, [3]int{a, b, e}, [3]int{a, e, d})
			}
		}
	}
	s.Lo.Z, s.Hi.Z = 0.1, 0.61
	return s
}

// The grid of squares of a textbook kind, 2 m apart: own example, arithmetic only, by the
// formulas for grids of squares and triangles and by least squares in survey textbooks.
func TestGrid(t *testing.T) {
	heights := [][]float64{{0.42, 0.35, 0.20, 0.10}, {0.50, 0.41, 0.28, 0.16}, {0.61, 0.50, 0.37, 0.22}}
	all := []Spot{{X: 0, Y: 0}, {X: 6, Y: 0}, {X: 6, Y: 4}, {X: 0, Y: 4}}
	near := func(what string, got, want, by float64) {
		t.Helper()
		if math.Abs(got-want) > by {
			t.Errorf("%s: %.7f, not %.7f", what, got, want)
		}
	}
	one, two := grid(heights, 2, false), grid(heights, 2, true)
	a, b := one.Move(all, Level(0)), two.Move(all, Level(0))
	near("one diagonal", a.Cut, 8.246667, 1e-6)
	near("the other", b.Cut, 8.293333, 1e-6)
	near("the grid is their mean", (a.Cut+b.Cut)/2, 8.270, 1e-9)
	near("balanced", one.Balanced([][]Spot{all}, 1), 0.343611, 1e-6)
	near("cut there", one.Move(all, Level(one.Balanced([][]Spot{all}, 1))).Cut, 1.163892, 1e-6)
	near("balanced, the other", two.Balanced([][]Spot{all}, 1), 0.345556, 1e-6)
	near("fill there", two.Move(all, Level(two.Balanced([][]Spot{all}, 1))).Fill, 1.164234, 1e-6)
	for _, c := range []struct{ keeps, level, cut, fill float64 }{
		{0.9, 0.338491, 1.228830, 1.105947}, {0.8, 0.332748, 1.303515, 1.042812}} {
		z := one.Balanced([][]Spot{all}, c.keeps)
		m := one.Move(all, Level(z))
		near("with shrink", z, c.level, 1e-6)
		near("its cut", m.Cut, c.cut, 1e-6)
		near("its fill", m.Fill, c.fill, 1e-6)
	}
	m := one.Move(all, Level(0.34))
	near("0.34 cut", m.Cut, 1.209529, 1e-6)
	near("0.34 fill", m.Fill, 1.122862, 1e-6)
	m = two.Move(all, Level(0.34))
	near("0.34 cut, other", m.Cut, 1.233615, 1e-6)
	near("0.34 fill, other", m.Fill, 1.100281, 1e-6)

	p := Fit(one.Spots)
	near("plane", p.Z, 0.4425833, 1e-7)
	near("to the right", p.Right, -0.0593333, 1e-7)
	near("away", p.Away, 0.0393750, 1e-7)
	share, toward := p.Fall()
	near("fall", share, 0.07121, 1e-5)
	near("its angle", math.Atan(share)*180/math.Pi, 4.073, 5e-4)
	near("toward the right and the front", toward, 90+math.Atan2(0.0393750, 0.0593333)*180/math.Pi, 1e-4)
	p = Fit([]Spot{{0, 0, 1.0}, {4, 0, 1.2}, {4, 2, 1.5}, {0, 2, 1.1}, {2, 1, 1.25}})
	near("five points", p.Z, 0.960, 1e-12)
	near("five points, right", p.Right, 0.075, 1e-12)
	near("five points, away", p.Away, 0.100, 1e-12)

	for _, c := range []struct {
		h         [3]float64
		cut, fill float64
	}{
		{[3]float64{0.42, 0.35, 0.41}, 0.786667, 0}, {[3]float64{0.3, -0.1, -0.2}, 0.090, 0.090},
		{[3]float64{0.3, 0.1, -0.2}, 0.168889, 0.035556}} {
		tri := &Surface{Spots: []Spot{{0, 0, c.h[0]}, {2, 0, c.h[1]}, {0, 2, c.h[2]}}, Names: []string{"a", "b", "c"},
			Triangles: [][3]int{{0, 1, 2}}}
		m := tri.Move([]Spot{{X: 0, Y: 0}, {X: 2, Y: 0}, {X: 2, Y: 2}, {X: 0, Y: 2}}, Level(0))
		near("one triangle, cut", m.Cut, c.cut, 1e-6)
		near("one triangle, fill", m.Fill, c.fill, 1e-6)
	}
}

// A trench 6 m long, 0.6 m wide at its bottom, its sides 1 to 1, 0.4 m deep at one end and 0.8 at the other, holds
// 4.400 m³ by the prismoid; by the mean of its ends it would be 4.560 (own example; formulas of survey textbooks).
func TestTrench(t *testing.T) {
	spots := []Spot{{0, 0, 0}, {0, 3, 0}, {6, 0, 0}, {6, 3, 0}}
	for _, x := range []float64{0, 6} {
		d := 0.4 + x/15
		spots = append(spots, Spot{x, 1.2 - d, 0}, Spot{x, 1.2, -d}, Spot{x, 1.8, -d}, Spot{x, 1.8 + d, 0})
	}
	s := &Surface{Spots: spots, Names: make([]string, len(spots)), Lo: Spot{Z: -0.8}}
	for _, q := range [][4]int{{0, 2, 8, 4}, {4, 8, 9, 5}, {5, 9, 10, 6}, {6, 10, 11, 7}, {7, 11, 3, 1}} {
		s.Triangles = append(s.Triangles, [3]int{q[0], q[1], q[2]}, [3]int{q[0], q[2], q[3]})
	}
	m := s.Move([]Spot{{X: 0, Y: 0}, {X: 6, Y: 0}, {X: 6, Y: 3}, {X: 0, Y: 3}}, Level(0))
	if math.Abs(m.Fill-4.4) > 1e-9 || m.Cut > 1e-9 {
		t.Errorf("the trench holds %.6f m³", m.Fill)
	}
	outline := []Spot{{X: 0, Y: 0}, {X: 6, Y: 0}, {X: 6, Y: 3}, {X: 0, Y: 3}}
	areas, apart := s.Sections(outline, Level(0), false, 2)
	if got := EndAreas(areas, apart); math.Abs(got-4.56) > 1e-6 || math.Abs(areas[0]-0.4) > 1e-6 {
		t.Errorf("by its two ends %v the trench holds %.6f m³", areas, got)
	}
	areas, apart = s.Sections(outline, Level(0), false, 3)
	if got, ok := Prismoids(areas, apart); !ok || math.Abs(got-4.4) > 1e-6 || math.Abs(areas[1]-0.72) > 1e-6 {
		t.Errorf("by three sections %v it holds %.6f m³", areas, got)
	}
	// Sections of 1.20, 1.90, 2.40, 1.50 and 0.95 m² every 3 m: 20.625 by their ends, 20.550 by Simpson's rule (own
	// example, arithmetic only).
	list := []float64{1.20, 1.90, 2.40, 1.50, 0.95}
	if got := EndAreas(list, 3); math.Abs(got-20.625) > 1e-9 {
		t.Errorf("the ends of five sections give %.6f m³", got)
	}
	if got, _ := Prismoids(list, 3); math.Abs(got-20.55) > 1e-9 {
		t.Errorf("Simpson's rule gives %.6f m³", got)
	}
	if _, ok := Prismoids(list[:4], 3); ok {
		t.Error("four sections make no prismoids")
	}
}

func random(rng *rand.Rand, n int) *Surface {
	var pegs []Peg
	for i := range n {
		step := measure.Length(1 + rng.Intn(500)) // many in lines and on circles
		pegs = append(pegs, Peg{fmt.Sprint(i), measure.Length(rng.Intn(int(9000/step))) * step * measure.Millimetre,
			measure.Length(rng.Intn(int(6000/step))) * step * measure.Millimetre,
			measure.Length(rng.Intn(900)-450) * measure.Millimetre})
	}
	seen := map[[2]measure.Length]bool{}
	var apart []Peg
	for _, p := range pegs {
		if !seen[[2]measure.Length{p.X, p.Y}] {
			seen[[2]measure.Length{p.X, p.Y}] = true
			apart = append(apart, p)
		}
	}
	return Over(apart, Spot{}, Spot{X: 9, Y: 6})
}

// Random grounds: the triangles cover the plot once, none has a spot inside its circle, prisms
// are as many columns of a random sample say, a plane's level is found, and every contour is at
// its height, closed or from edge to edge.
func TestSurface(t *testing.T) {
	rng := rand.New(rand.NewSource(5))
	rounds, columns := 40, 20_000
	if os.Getenv("CHAMFER_LONG") != "" {
		rounds, columns = 400, 1_000_000
	}
	outline := []Spot{{X: 1, Y: 1}, {X: 7.5, Y: 0.6}, {X: 7.2, Y: 3}, {X: 4, Y: 3.1}, {X: 4.3, Y: 5.2}, {X: 1.2, Y: 5}}
	for round := range rounds {
		s := random(rng, 1+rng.Intn(60))
		area := 0.0
		for i := range s.Triangles {
			a, b, c := s.corners(i)
			d := cross(a, b, c)
			if area += d / 2; d <= 0 {
				t.Fatalf("round %d: triangle %d is turned over", round, i)
			}
			for k, q := range s.Spots {
				if incircle(a, b, c, q) > 1e-7 {
					t.Fatalf("round %d: spot %d lies inside the circle of triangle %d", round, k, i)
				}
			}
		}
		if math.Abs(area-54) > 1e-6 {
			t.Fatalf("round %d: the triangles cover %.6f of 54 m²", round, area)
		}
		to := Plane{rng.Float64()*0.4 - 0.2, rng.Float64()*0.04 - 0.02, rng.Float64()*0.04 - 0.02}
		m := s.Move(outline, to)
		for _, cut := range []bool{true, false} { // sections close together say the same
			areas, apart := s.Sections(outline, to, cut, 801)
			got, want := EndAreas(areas, apart), m.Fill
			if cut {
				want = m.Cut
			}
			if math.Abs(got-want) > 0.01 {
				t.Fatalf("round %d: %.4f m³ by sections, %.4f by prisms", round, got, want)
			}
		}
		if round%10 == 0 {
			var cut, fill, in float64
			for range columns {
				x, y := rng.Float64()*9, rng.Float64()*6
				if !holds(outline, x, y) {
					continue
				}
				z, _ := s.At(x, y)
				in++
				cut, fill = cut+max(0, z-to.At(x, y)), fill+max(0, to.At(x, y)-z)
			}
			each := 54 / float64(columns)
			by := 3 * 54 * 0.5 / math.Sqrt(float64(columns)) * 0.5
			if math.Abs(m.Cut-cut*each) > by || math.Abs(m.Fill-fill*each) > by || math.Abs(m.Area-in*each) > 2*by {
				t.Errorf("round %d: %.3f cut and %.3f filled, by columns %.3f and %.3f", round, m.Cut, m.Fill, cut*each,
					fill*each)
			}
		}
		z := s.Balanced([][]Spot{outline}, 0.9)
		if b := s.Move(outline, Level(z)); math.Abs(b.Cut*0.9-b.Fill) > 1e-6*(1+b.Fill) {
			t.Errorf("round %d: at the balanced level %.4f is cut and %.4f filled", round, b.Cut, b.Fill)
		}
		for _, c := range s.Contours(0.05) {
			for k, q := range c.Line {
				if h, _ := s.At(q.X, q.Y); math.Abs(h-c.Height) > 1e-6 {
					t.Fatalf("round %d: a contour of %.2f lies at %.4f", round, c.Height, h)
				}
				if k > 0 { // higher ground lies to its left
					p := c.Line[k-1]
					l := math.Hypot(q.X-p.X, q.Y-p.Y)
					x, y := (p.X+q.X)/2-(q.Y-p.Y)/l*1e-5, (p.Y+q.Y)/2+(q.X-p.X)/l*1e-5
					if h, _ := s.At(x, y); l > 1e-3 && x > 0 && y > 0 && x < 9 && y < 6 && h < c.Height-1e-7 {
						t.Fatalf("round %d: a contour of %.2f has %.7f to its left", round, c.Height, h)
					}
				}
				edge := q.X < 1e-6 || q.Y < 1e-6 || q.X > 9-1e-6 || q.Y > 6-1e-6
				if end := k == 0 || k == len(c.Line)-1; end && !c.Closed && !edge {
					t.Fatalf("round %d: a contour of %.2f ends inside, at %.3f, %.3f", round, c.Height, q.X, q.Y)
				}
			}
		}
	}
	// pegs on a plane: the ground is that plane to its corners, and level ground is its mean
	var pegs []Peg
	for i := range 9 {
		x, y := measure.Length(1+rng.Intn(7000)), measure.Length(1+rng.Intn(5000))
		pegs = append(pegs, Peg{fmt.Sprint(i), x * measure.Millimetre, y * measure.Millimetre,
			(100*measure.Millimetre + x*50*measure.Micrometre - y*20*measure.Micrometre)})
	}
	s := Over(pegs, Spot{}, Spot{X: 9, Y: 6})
	bed := []Spot{{X: 2, Y: 2}, {X: 6, Y: 2}, {X: 6, Y: 4}, {X: 2, Y: 4}}
	if got := s.Balanced([][]Spot{bed}, 1); math.Abs(got-(0.1+4*0.05-3*0.02)) > 1e-9 {
		t.Errorf("a plane's level is %.9f", got)
	}
	if b := s.Best(bed); math.Abs(b.Right-0.05) > 1e-9 || math.Abs(b.Away+0.02) > 1e-9 || s.RMS > 1e-9 {
		t.Errorf("%+v, off by %v", b, s.RMS)
	}
	if m := s.Move(bed, s.Best(bed)); m.Cut > 1e-9 || m.Fill > 1e-9 {
		t.Errorf("a plane that is followed is not moved: %+v", m)
	}
}

func incircle(a, b, c, d Spot) float64 {
	ax, ay, bx, by, cx, cy := a.X-d.X, a.Y-d.Y, b.X-d.X, b.Y-d.Y, c.X-d.X, c.Y-d.Y
	return (ax*ax+ay*ay)*(bx*cy-cx*by) - (bx*bx+by*by)*(ax*cy-cx*ay) + (cx*cx+cy*cy)*(ax*by-bx*ay)
}

// holds reports whether a place lies inside an outline, by how often a ray crosses it.
func holds(outline []Spot, x, y float64) bool {
	in := false
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if (a.Y > y) != (b.Y > y) && x < a.X+(y-a.Y)/(b.Y-a.Y)*(b.X-a.X) {
			in = !in
		}
	}
	return in
}

// BenchmarkContours is a plot of 400 readings, from pegs to contours.
func BenchmarkContours(b *testing.B) {
	rng := rand.New(rand.NewSource(1))
	var pegs []Peg
	for i := range 400 {
		x, y := float64(i%20)*0.45, float64(i/20)*0.3
		pegs = append(pegs, Peg{fmt.Sprint(i), measure.Length(x * float64(measure.Metre)),
			measure.Length(y * float64(measure.Metre)),
			measure.Length((math.Sin(x)*0.2 + y*0.05 + rng.Float64()*0.01) * float64(measure.Metre))})
	}
	for b.Loop() {
		if s := Over(pegs, Spot{}, Spot{X: 9, Y: 6}); len(s.Contours(0.05)) == 0 {
			b.Fatal("there are none")
		}
	}
}
