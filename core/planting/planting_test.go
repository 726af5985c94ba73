package planting

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

const mm = measure.Millimetre

// The table that ships holds at least 70 crops, each with a source, and its two sets of sizes agree to a few
// millimetres (a tenth where they are small).
func TestCrops(t *testing.T) {
	us, metric := Crops(measure.Imperial), Crops(measure.Metric)
	if len(us) < 70 || len(us) != len(metric) {
		t.Fatalf("%d and %d crops", len(us), len(metric))
	}
	for i, c := range us {
		m := metric[i]
		if c.ID != m.ID || c.Source == "" || c.Days.Min > c.Days.Max || c.Indoor != nil && c.Out == nil {
			t.Errorf("%+v", c)
		}
		for _, p := range [][2]measure.Length{{c.Each, m.Each}, {c.InRow, m.InRow}, {c.Deep, m.Deep}, {c.High, m.High}} {
			if d := math.Abs(float64(p[0] - p[1])); d > max(3*float64(mm), 0.1*float64(p[0])) {
				t.Errorf("%s: %v in inches, %v in millimetres", c.ID, p[0], p[1])
			}
		}
	}
	if c, ok := TableOf(measure.Imperial, nil).Named("tomato_indet"); !ok || c.Each != 18*measure.Inch ||
		c.Out.From != 1 ||
		c.FromSowing {
		t.Errorf("%+v", c)
	}
}

// Every pair names crops or families there are, and says why and from where; folklore counts for nothing unasked.
func TestPairs(t *testing.T) {
	is := map[string]bool{"*": true}
	for _, c := range Crops(measure.Metric) {
		is[c.ID], is[c.Family] = true, true
	}
	for _, p := range Pairs {
		for _, id := range append(p.A[:len(p.A):len(p.A)], p.B...) {
			if !is[id] || p.Why == "" || p.Source == "" || (p.Source == "folklore") != (p.Grade == 0) {
				t.Errorf("%+v", p)
			}
		}
	}
	borage, _ := TableOf(measure.Metric, nil).Named("borage")
	berry, _ := TableOf(measure.Metric, nil).Named("strawberry_june")
	if len(Known(borage, berry, false)) != 0 || len(Known(borage, berry, true)) != 1 {
		t.Error("folklore counts")
	}
}

// Assignments with known optima: of documentation of public libraries, of textbooks (Taha; Winston) and of Machol and
// Wien 1976, from memory; each is proved by its duals.
func TestAssign(t *testing.T) {
	const F = Forbidden
	for n, c := range []struct {
		c    [][]int
		want int
	}{
		{[][]int{{400, 150, 400}, {400, 450, 600}, {300, 225, 300}}, 850},
		{[][]int{{10, 10, 8}, {9, 8, 1}, {9, 7, 4}}, 18},
		{[][]int{{400, 150, 400, 1}, {400, 450, 600, 2}, {300, 225, 300, 3}}, 452},
		{[][]int{{10, 10, 8, 11}, {9, 8, 1, 1}, {9, 7, 4, 10}}, 15},
		{[][]int{{4, 1, 3}, {2, 0, 5}, {3, 2, 2}}, 5}, {[][]int{{15, 10, 9}, {9, 15, 10}, {10, 12, 8}}, 27},
		{[][]int{{1, 4, 6, 3}, {9, 7, 10, 9}, {4, 5, 11, 7}, {8, 7, 8, 5}}, 21},
		{[][]int{{14, 5, 8, 7}, {2, 12, 6, 5}, {7, 8, 3, 9}, {2, 4, 6, 10}}, 15},
		{[][]int{{5, 9, 1}, {10, 3, 2}, {8, 7, 4}}, 12},
		{[][]int{{-7, -53, -183, -439, -863}, {-497, -383, -563, -79, -973}, {-287, -63, -343, -169, -583},
			{-627, -343, -773, -959, -943}, {-767, -473, -103, -699, -303}}, -3315},
		{[][]int{{11, 5, 13, 2, 3, 18}, {4, 12, 19, 2, 17, 7}, {2, 3, 14, 14, 3, 8}, {3, 18, 14, 2, 19, 4},
			{8, 19, 2, 19, 19, 13}, {2, 8, 2, 18, 5, 10}}, 16},
		{[][]int{{63, 28, 79, 25, 83, 49, 81, 97}, {33, 23, 84, 83, 91, 34, 57, 22}, {80, 18, 82, 17, 89, 36, 73, 97},
			{78, 64, 50, 69, 84, 68, 56, 48}, {41, 33, 99, 41, 20, 83, 48, 77}}, 135},
		{[][]int{{5, F, 8, 7}, {F, 4, 6, F}, {3, F, F, 9}, {6, 5, F, 4}}, 19}, {[][]int{{1, 2}, {2, 100}}, 4},
	} {
		x, u, v, ok := Assign(c.c)
		got, dual := 0, 0
		for i, row := range c.c {
			if !ok {
				t.Fatalf("%d: none", n)
			}
			got += row[x[i]]
			dual += u[i]
			for j, cost := range row {
				if cost < F && cost < u[i]+v[j] || j == x[i] && cost != u[i]+v[j] {
					t.Errorf("%d: %d, %d breaks its proof", n, i, j)
				}
			}
		}
		for j := range v {
			if dual += v[j]; v[j] > 0 {
				t.Errorf("%d: v%d is %d", n, j, v[j])
			}
		}
		if got != c.want || dual != got {
			t.Errorf("%d: %d, dual %d, want %d", n, got, dual, c.want)
		}
	}
	for _, n := range []int{3, 5, 10, 100} {
		c := make([][]int, n)
		for i := range c {
			for j := range n {
				c[i] = append(c[i], (i+1)*(j+1))
			}
		}
		x, _, _, _ := Assign(c)
		sum := 0
		for i, j := range x {
			sum += c[i][j]
		}
		if sum != n*(n+1)*(n+2)/6 {
			t.Errorf("Machol and Wien %d: %d", n, sum)
		}
	}
	if _, _, _, ok := Assign([][]int{{F, 1, 2}, {F, 3, 4}, {F, 5, 6}}); ok {
		t.Error("three rows share two columns")
	}
}

// A layout is never beaten by trying every placing, neighbours and shade and all, in 200 small cases; where its
// search is cut off, its bound holds, and nothing that is kept is moved.
func TestLayOutAgainstTrying(t *testing.T) {
	if testing.Short() {
		t.Skip("every placing of 200 beds")
	}
	r := rand.New(rand.NewPCG(11, 3))
	crops := Crops(measure.Metric)
	for n := range 200 {
		cols, rows := 2+r.IntN(2), 2+r.IntN(2)
		s := Surface{Hi: frame.Spot{U: measure.Length(cols) * 310 * mm, V: measure.Length(rows) * 310 * mm},
			Columns: cols, Rows: rows}
		a := Ask{Surfaces: []Surface{s}, Folklore: n%5 == 0, Lost: func(high measure.Length, from Spot, _, _ int,
			to Spot) float64 {
			if from.Row >= to.Row {
				return 0
			}
			return float64(high/mm) / 1000 / float64(to.Row-from.Row+abs(to.Column-from.Column))
		}}
		for i := range cols * rows {
			spot := Spot{Column: i % cols, Row: i / cols, Deep: measure.Length(150+r.IntN(300)) * mm, Hours: 3 + r.Float64()*6,
				Off: r.IntN(3), Trellis: i/cols == rows-1 && n%2 == 0}
			if r.IntN(6) == 0 {
				spot.Past = map[string]int{"Solanaceae": 1 + r.IntN(4), "Fabaceae": 2}
			}
			if i == 1 && n%3 == 0 {
				spot.Kept = &crops[r.IntN(len(crops))]
			}
			a.Spots = append(a.Spots, spot)
		}
		for range 1 + r.IntN(4) {
			c := crops[r.IntN(len(crops))]
			if c.Each <= 620*mm && !containsCrop(a.Wants, c.ID) {
				a.Wants = append(a.Wants, Wanted{c, 1})
			}
		}
		got := LayOut(a)
		best, some := tried(a)
		if !got.Proved || some && len(got.Left) == 0 && got.Cost != best || some && len(got.Left) > 0 {
			t.Errorf("%d: %d (proved %v, left %d), trying all gives %d (%v)", n, got.Cost, got.Proved, len(got.Left), best, some)
		}
		for _, p := range got.Placed {
			for k := range p.Wide * p.Deep {
				if i := (p.Row+k/p.Wide)*cols + p.Column + k%p.Wide; a.Spots[i].Kept != nil {
					t.Errorf("%d: what is kept was moved", n)
				}
			}
			if len(p.Why) == 0 {
				t.Errorf("%d: %s says not why it is there", n, p.Crop.ID)
			}
		}
		a.Steps = 3
		if cut := LayOut(a); cut.Bound > got.Cost && len(cut.Left) == len(got.Left) {
			t.Errorf("%d: cut off, the bound is %d and the best %d", n, cut.Bound, got.Cost)
		}
	}
}

func containsCrop(list []Wanted, id string) bool {
	for _, w := range list {
		if w.Crop.ID == id {
			return true
		}
	}
	return false
}

// tried is the least that any placing of all items costs, by trying every one.
func tried(a Ask) (best int, some bool) {
	l := &layer{Ask: a, index: map[[3]int]int{}}
	for i, s := range a.Spots {
		l.index[[3]int{s.Surface, s.Column, s.Row}] = i
	}
	l.taken = make([]bool, len(a.Spots))
	l.cut()
	trellis := false
	for _, s := range a.Spots {
		trellis = trellis || s.Trellis
	}
	at := make([]int, len(l.items))
	var place func(k int)
	place = func(k int) {
		if k == len(l.items) {
			cost := 0
			for i, it := range l.items {
				cells, _ := l.cells(it, at[i])
				cost += l.onCells(it, cells, trellis)
				for c, s := range a.Spots {
					if s.Kept != nil {
						cost += l.pairCost(it, at[i], item{crop: *s.Kept, w: 1, d: 1}, c)
					}
				}
				for o := range i {
					if it.crop.ID != l.items[o].crop.ID {
						cost += l.pairCost(it, at[i], l.items[o], at[o])
					}
				}
			}
			if !some || cost < best {
				best, some = cost, true
			}
			return
		}
		for c := range a.Spots {
			if _, ok := l.cells(l.items[k], c); ok && l.put(k, c, true) {
				at[k] = c
				place(k + 1)
				l.put(k, c, false)
			}
		}
	}
	place(0)
	return best, some
}

// A fault in a table is told by its line and column.
func TestReadCropsFaults(t *testing.T) {
	good := strings.SplitN(string(table), "\n", 3)
	for _, c := range []struct{ text, want string }{
		{"", "no line that names"},
		{good[0] + "\n" + strings.Replace(good[1], "Tomato, indeterminate", "", 1), "line 2, column id"},
		{good[0] + "\n" + strings.Replace(good[1], ",455,", ",wide,", 1), "line 2, column in_row_min_mm"},
		{good[0] + "\n" + good[1] + "\n" + good[1], "line 3, column id: is there twice"},
		{"id,name\na,b", "there is no such column"},
	} {
		if _, err := ReadCrops(strings.NewReader(c.text), measure.Metric); err == nil ||
			!strings.Contains(err.Error(), c.want) {
			t.Errorf("%v, want %s", err, c.want)
		}
	}
}

func rect(w, h float64) Soil {
	return Soil{Hi: frame.Spot{U: measure.Length(w * float64(mm)), V: measure.Length(h * float64(mm))}}
}

// Counts on the square and the staggered lattice, worked by hand: floor(W/s) by floor(H/s); rows of a and b plants
// (REFERENCE, planting geometry). The better of the two, along or across, is taken; turned lattices may hold more.
func TestPackByHand(t *testing.T) {
	in := 25.4
	for _, c := range []struct {
		w, h, s      float64
		square, hexa int // half the spacing off the sides
	}{
		{96 * in, 48 * in, 12 * in, 32, 32}, {96 * in, 48 * in, 6 * in, 128, 140}, {96 * in, 48 * in, 4 * in, 288, 311},
		{96 * in, 48 * in, 3 * in, 512, 567}, {96 * in, 48 * in, 18 * in, 10, 12}, {48 * in, 48 * in, 12 * in, 16, 14},
		{48 * in, 48 * in, 6 * in, 64, 68}, {93 * in, 45 * in, 6 * in, 105, 120}, {93 * in, 45 * in, 12 * in, 21, 28},
		{2400, 1200, 300, 32, 32}, {2400, 1200, 150, 128, 140}, {1000, 1000, 100, 100, 105},
	} {
		each := measure.Length(math.Round(c.s * float64(mm)))
		got := Pack(rect(c.w, c.h), each, each/2)
		if want := max(c.square, c.hexa); len(got.Spots) < want || len(got.Spots) > want && got.Turned%90 == 0 {
			t.Errorf("%.0f by %.0f at %.0f: %d %s turned %d, want %d", c.w, c.h, c.s, len(got.Spots), got.Lattice,
				got.Turned, want)
		}
	}
}

// apart checks that plants are each off one another, the sides and what stands there.
func apart(t *testing.T, s Soil, spots []frame.Spot, each, edge measure.Length) {
	t.Helper()
	for i, a := range spots {
		if a.U < s.Lo.U+edge || a.U > s.Hi.U-edge || a.V < s.Lo.V+edge || a.V > s.Hi.V-edge {
			t.Fatalf("%v is nearer than %v to the side of %v to %v", a, edge, s.Lo, s.Hi)
		}
		if s.Outline != nil && !frame.Inside(s.Outline, a) {
			t.Fatalf("%v is outside", a)
		}
		for _, b := range spots[:i] {
			if math.Hypot(float64(a.U-b.U), float64(a.V-b.V)) < float64(each)-10 {
				t.Fatalf("%v and %v are nearer than %v", a, b, each)
			}
		}
	}
}

// No offset of either lattice, turned by any whole degree, holds more than what was found, over 50 rectangles: 4,000
// of them are tried at random for each. Where there are many plants only along and across are claimed.
func TestPackAgainstTrying(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of lattices")
	}
	r := rand.New(rand.NewPCG(5, 5))
	for n := range 50 {
		s := 60 + r.Float64()*300
		w, h := s*(1+r.Float64()*7), s*(1+r.Float64()*5)
		each := measure.Length(s * float64(mm))
		soil := rect(w, h)
		got := Pack(soil, each, each/2)
		apart(t, soil, got.Spots, each, each/2)
		best, at := 0, ""
		for range 4000 {
			turn := []int{0, 90, r.IntN(90)}[r.IntN(3)]
			if strings.Contains(got.Tried, "along and across") && turn%90 != 0 {
				continue
			}
			hexa := r.IntN(2) == 0
			if k := counted(w-s, h-s, s, float64(turn), r.Float64(), r.Float64(), hexa); k > best {
				best, at = k, got.Tried
			}
		}
		if best > len(got.Spots) {
			t.Errorf("%d: %.0f by %.0f at %.0f: %d found, %d tried (%s)", n, w, h, s, len(got.Spots), best, at)
		}
	}
}

// counted is how many points of a lattice lie in a rectangle, by going over all of them.
func counted(w, h, s, turn, f, g float64, hexa bool) (n int) {
	ux, uy, vx, vy := s, 0.0, 0.0, s
	if hexa {
		vx, vy = s/2, s*math.Sqrt(3)/2
	}
	sin, cos := math.Sincos(turn * math.Pi / 180)
	for i := -22; i <= 22; i++ {
		for j := -22; j <= 22; j++ {
			x, y := (float64(i)+f)*ux+(float64(j)+g)*vx, (float64(i)+f)*uy+(float64(j)+g)*vy
			x, y = x*cos-y*sin, x*sin+y*cos
			if x >= 0 && x <= w && y >= 0 && y <= h {
				n++
			}
		}
	}
	return n
}

// Round soil, soil with a hole, and rows: plants keep their distances, and one to a pot is one.
func TestPackElsewhere(t *testing.T) {
	var ring []frame.Spot
	for k := range 60 {
		sin, cos := math.Sincos(float64(k) * math.Pi / 30)
		ring = append(ring, frame.Spot{U: measure.Length((600 + 600*cos) * float64(mm)),
			V: measure.Length((600 + 600*sin) * float64(mm))})
	}
	soil := Soil{Hi: frame.Spot{U: 1200 * mm, V: 1200 * mm}, Outline: ring}
	got := Pack(soil, 200*mm, 100*mm)
	apart(t, soil, got.Spots, 200*mm, 100*mm)
	// Round the middle of three plants they stand at 0.577, 1.155, 1.528, 2.082 and 2.309 spacings: 3 + 3 + 6 + 6 + 6
	// within 2.5; round a plant only 1 + 6 + 6 + 6.
	if n := len(got.Spots); n != 24 {
		t.Errorf("%d plants 200 apart in a circle of 1200, want 24", n)
	}
	hole := []frame.Spot{{U: 500 * mm, V: 500 * mm}, {U: 700 * mm, V: 500 * mm}, {U: 700 * mm, V: 700 * mm},
		{U: 500 * mm, V: 700 * mm}}
	soil = rect(1200, 1200)
	soil.Holes = [][]frame.Spot{hole}
	for _, q := range Pack(soil, 150*mm, 75*mm).Spots {
		if q.U > 480*mm && q.U < 720*mm && q.V > 480*mm && q.V < 720*mm {
			t.Errorf("%v stands in the post", q)
		}
	}
	if laid := Rows(rect(2400, 1200), 100*mm, 300*mm, 50*mm, false); len(laid.Spots) != 24*4 {
		t.Errorf("%d in rows, want 4 rows of 24", len(laid.Spots))
	}
	if laid := Rows(rect(2400, 1200), 100*mm, 300*mm, 50*mm, true); len(laid.Spots) != 12*8 {
		t.Errorf("%d in rows across, want 8 rows of 12", len(laid.Spots))
	}
	pot := Soil{Hi: frame.Spot{U: 250 * mm, V: 250 * mm}, Pot: true, Outline: ring}
	if laid := Pack(pot, 455*mm, 455*mm/2); len(laid.Spots) != 1 || laid.Spots[0].U != 125*mm {
		t.Errorf("a pot takes %v", laid.Spots)
	}
}
