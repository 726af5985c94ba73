package masonry

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A natural cubic spline through (0, 0), (1, 1), (2, 0) by hand: with equal chords its second
// derivative is -3 in the middle and none at its ends, so that half way along the first chord
// it stands 1/2 + 3/6 (1/2 - 1/8) = 11/16 out (de Boor, A Practical Guide to Splines, the
// textbook system; from memory). On a circle every length out is as much shorter as the radius.
func TestBentLine(t *testing.T) {
	m := measure.Metre
	l, err := newLine([]design.Point{{U: 0, V: 0}, {U: m, V: m}, {U: 2 * m, V: 0}}, true)
	if err != nil {
		t.Fatal(err)
	}
	best := vec{}
	for _, p := range l.at {
		if math.Abs(p.u-float64(m)/2) < math.Abs(best.u-float64(m)/2) {
			best = p
		}
	}
	if math.Abs(best.v/float64(m)-(best.u/float64(m)*1.5-math.Pow(best.u/float64(m), 3)/2)) > 1e-9 {
		t.Errorf("at %.4f out %.4f", best.u/float64(m), best.v/float64(m)) // x 3/2 - x^3/2: 11/16 at 1/2
	}
	// Part of a circle of 4 m, bulging away from whoever stands before it: 1 m further out it
	// is 5/4 as long, with a curve of as many points.
	var arc []design.Point
	for k := 0.; k <= 20; k++ {
		s, c := math.Sincos((130 - 4*k) * math.Pi / 180)
		arc = append(arc, design.Point{U: measure.Length(4e9 * (c + 1)), V: measure.Length(4e9 * s)})
	}
	if l, err = newLine(arc, true); err != nil {
		t.Fatal(err)
	}
	mid := len(l.at) / 2 // its ends, where nothing bends a strip, are straighter
	far := l.out(float64(m))
	if got := far[mid+3].minus(far[mid-3]).long() / l.at[mid+3].minus(l.at[mid-3]).long(); math.Abs(got-1.25) > 2e-3 {
		t.Errorf("a metre further out it is %.4f times as long, want 1.25", got)
	}
	if got := float64(l.length(0)) / (4e9 * 80 * math.Pi / 180); math.Abs(got-1) > 1e-3 {
		t.Errorf("it is %.5f of its arc", got)
	}
}

// One straight wall of 10 ft up a slope, by hand: 8 in thick, 10 in above the level below and 1
// in more, 4 in in the ground: 15 in high; a bed of 30 in and a path of 24 in behind it, so 62
// in from wall to wall over which the ground rises 10 in. Under the bed it is dug to 10 in less
// 10 in of soil: from 10*8/62 to 10*38/62 in of ground go, in the mean 10*23/62 over 120 x 30
// in. Under the path, from 38 to 62 in out, 10 in less 10*50/62 in the mean are filled.
func TestStraightWallsUpASlope(t *testing.T) {
	f := mustMake(t, "us", "along", "line=0 in out 0 in; 120 in out 0 in", "lines=1", "width=30 in", "soil=10 in",
		"freeboard=1 in", "thick=8 in", "rises=10 in", "path=24 in")
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got/want-1) > 1e-4 {
			t.Errorf("%s %.4f, want %.4f", what, got, want)
		}
	}
	near("cast", f.Pours[0].Volume.CubicFeet(), 120*8*15/1728.)
	near("soil", f.Cavities[0].Net().CubicFeet(), 120*30*10/1728.)
	near("cut", f.Levels[0].Cut.CubicFeet(), 120*30*(10*23/62.)/1728)
	near("fill", f.Levels[0].Fill.CubicFeet(), 120*24*(10-10*50/62.)/1728)
	near("ground", f.Footprint().SquareFeet(), 120*62/144.)
	// Both faces are 240 in of strip, of 10 ft that lap 4 in; stakes every 600 mm outside both.
	near("form", f.Pours[0].FormLength.Inches(), 240)
	if c := f.Pours[0]; c.Strips != 3 || c.Stakes != 2*int(math.Ceil(120*25.4/600)) {
		t.Errorf("%d strips, %d stakes", c.Strips, c.Stakes)
	}
	// Two of them: the second stands 10 in higher, 62 in further out, and takes the same form.
	two := mustMake(t, "us", "along", "line=0 in out 0 in; 120 in out 0 in", "lines=2", "width=30 in", "soil=10 in",
		"freeboard=1 in", "thick=8 in", "rises=10 in", "path=24 in")
	if a, b := two.Pours[0], two.Pours[1]; b.To-a.To != 10*measure.Inch || b.Outside[0].V != 62*measure.Inch ||
		two.Fittings[0].Count != 3 || two.Bases[0].Line != 240*measure.Inch || two.Deepest != 15*measure.Inch {
		t.Errorf("second wall to %v, %v out; %d strips", b.To, b.Outside[0].V, two.Fittings[0].Count)
	}
	// On the level with walls all round, 8 in of corner at either end: 136 by 46 in outside.
	round := mustMake(t, "us", "along", "line=0 in out 0 in; 120 in out 0 in", "lines=1", "walls=round", "width=30 in",
		"soil=10 in", "freeboard=1 in", "thick=8 in")
	near("all round", round.Pours[0].Volume.CubicFeet(), (136*46-120*30)*15/1728.)
	if far := round.Outside[1]; far != (frame.Spot{U: 136 * measure.Inch, V: 46 * measure.Inch}) {
		t.Errorf("outside %v", far)
	}
}

// Over random lines, straight and bent: walls fill what lies between their faces, nothing shares
// room with anything else, a bed is as large as its middle is long times its width, and what is
// cut and filled is what so many random columns of ground find.
func TestAlongRandomLines(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	built := 0
	for k := range 40 {
		region := []string{"us", "metric"}[k%2]
		edits := []string{"drawn=" + []string{"bent", "straight"}[k/2%2], "walls=" + []string{"slope", "round"}[k/4%2],
			fmt.Sprintf("lines=%d", 1+r.IntN(3)), fmt.Sprintf("width=%d mm", 400+r.IntN(500)), "soil=200 mm", "thick=200 mm",
			fmt.Sprintf("path=%d mm", r.IntN(600))}
		var points []string
		for i := range 3 + r.IntN(4) {
			points = append(points, fmt.Sprintf("%d mm out %d mm", 1500*i+r.IntN(300), r.IntN(300)))
		}
		f, bed, err := made(region, "along", append(edits, "line="+strings.Join(points, "; "))...)
		if err != nil {
			if !strings.Contains(err.Error(), "works") && !strings.Contains(err.Error(), "narrower") {
				t.Errorf("%v says not what works", err)
			}
			continue
		}
		built++
		var solids []frame.Prism
		for _, c := range f.Pours {
			sum := measure.Volume(0)
			for _, s := range c.Solids() {
				sum += s.Volume()
			}
			if sum != c.Volume {
				t.Errorf("%v is not %v", sum, c.Volume)
			}
			solids = append(solids, c.Solids()...)
		}
		for i, c := range f.Cavities {
			solids = append(solids, frame.Prism{Axis: frame.Z, From: c.Bottom, To: c.Top, Outline: c.Outline})
			by, is := f.Openings[i].Surface.Value(), frame.OutlineArea(c.Outline).SquareMetres()
			if math.Abs(by/is-1) > 1e-6 {
				t.Errorf("reckoned as %.6f m2, and is %.6f", by, is)
			}
		}
		for i, a := range solids {
			for _, b := range solids[i+1:] {
				if convex(a.Outline) && convex(b.Outline) && frame.Overlap(a, b) {
					t.Fatalf("%v: %v and %v share room", edits, a, b)
				}
			}
		}
		l, _ := newLine(bed.Points(lineKey), bed.Options[drawnKey] == "bent")
		w := bedsAlong(bed, l)
		for i := range f.Levels {
			cut, fill := columns(w, i, r)
			got, was := f.Levels[i].Cut.CubicMetres(), f.Levels[i].Fill.CubicMetres()
			if math.Abs(got-cut) > 0.06*(cut+fill) || math.Abs(was-fill) > 0.06*(cut+fill) {
				t.Errorf("%v: level %d cut %.4f fill %.4f, columns find %.4f and %.4f", edits, i+1, got, was, cut, fill)
			}
		}
	}
	if built < 14 {
		t.Errorf("only %d of them can be built", built)
	}
}

func convex(o []frame.Spot) bool { return len(o) == 4 }

// columns looks at random places behind wall i: how far out each lies is where between two
// offsets of the line it does, found by halving.
func columns(w lined, i int, r *rand.Rand) (cut, fill float64) {
	start, pitch := float64(w.pitch()*measure.Length(i)), float64(w.pitch())
	from, to := w.bed(i)
	area := frame.OutlineArea(w.strip(from, start+pitch)).SquareMetres()
	lo, hi := spread(w.strip(from, start+pitch))
	within := func(p frame.Spot, d float64) bool { return inside(p, w.strip(from, d)) }
	n := 0
	for n < 3000 {
		p := frame.Spot{U: lo.U + measure.Length(r.Float64()*float64(hi.U-lo.U)),
			V: lo.V + measure.Length(r.Float64()*float64(hi.V-lo.V))}
		if !within(p, start+pitch) {
			continue
		}
		n++
		a, b := from, start+pitch
		for range 12 {
			if m := (a + b) / 2; within(p, m) {
				b = m
			} else {
				a = m
			}
		}
		level := float64(w.rises) * float64(i+1)
		if a < to {
			level -= float64(w.soil)
		}
		h := (float64(w.rises)*(float64(i)+(a-start)/pitch) - level) / 1e9
		if h > 0 {
			cut += h
		} else {
			fill -= h
		}
	}
	return cut * area / float64(n), fill * area / float64(n)
}

// inside reports whether a place lies in an outline, by how often a ray from it crosses that.
func inside(p frame.Spot, o []frame.Spot) bool {
	in := false
	for i, a := range o {
		b := o[(i+1)%len(o)]
		if (a.V > p.V) != (b.V > p.V) &&
			float64(p.U) < float64(a.U)+float64(b.U-a.U)*float64(p.V-a.V)/float64(b.V-a.V) {
			in = !in
		}
	}
	return in
}

// What no line can be says why, and what would work.
func TestAlongRefuses(t *testing.T) {
	for edit, words := range map[string]string{
		"line=0 out 0":                                    "at least two points",
		"line=0 out 0; 100":                               "is no point",
		"line=100 in out 0; 0 out 50 in":                  "to the right of the first",
		"line=0 out 60 in; 60 in out 0; 120 in out 60 in": "bends too tightly",
		"rises=9 ft":                                      "licensed engineer",
		"on=slab":                                         "all round each bed",
		"rises=1 in":                                      "is level",
		"lines=0":                                         "1 to 6 works",
		"path=20 ft":                                      "up to",
		"thick=2 in":                                      "cracks or wastes",
		"mixes_a_day=0":                                   "1 to 60",
		"line=0 out 0; 240 in out 0; 1 in out 9 in; 260 in out 20 in": "turns by",
	} {
		if _, _, err := made("us", "along", edit); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edit, err)
		}
	}
}
