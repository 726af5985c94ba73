package cutting

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Panels by hand, from sheets of 96 x 48 in with a saw of 1/8 in. Four floors of
// 47 7/8 x 23 7/8: two strips of 23 7/8 (47 7/8 with the rip), two to a strip
// (95 7/8): one sheet. Three of 60 x 30 with grain take a sheet each, one strip of
// 30 holding one; two that may be turned still do not share one, for 60 + 30 and
// 30 + 30 do, but one of 60 x 30 and one of 48 x 34 turned (34 off the length, 48
// its whole width) do: 60 + 1/8 + 34 is 94 1/8.
func TestSheetsByHand(t *testing.T) {
	sheet := Stock{ID: "ply", Profile: "ply", Length: 96 * in, Width: 48 * in, Price: 4000, Quantity: Unlimited}
	panel := func(id string, l, w measure.Length, n int, turn bool) Piece {
		return Piece{ID: id, Profile: "ply", Length: l, Width: w, Quantity: n, Turn: turn}
	}
	for _, c := range []struct {
		name   string
		pieces []Piece
		sheets money.Amount
		turned int
		proved bool
	}{
		{"four floors", []Piece{panel("a", 48*in-in/8, 24*in-in/8, 4, false)}, 1, 0, true},
		{"three with grain", []Piece{panel("a", 60*in, 30*in, 3, false)}, 3, 0, false},
		{"one turned", []Piece{panel("a", 60*in, 30*in, 1, false), panel("b", 48*in, 34*in, 1, true)}, 1, 1, true},
		{"not to be turned", []Piece{panel("a", 60*in, 30*in, 1, false), panel("b", 48*in, 34*in, 1, false)}, 2, 0,
			false},
		{"only turned", []Piece{panel("a", 40*in, 90*in, 1, true)}, 1, 1, true},
	} {
		r := Request{Kerf: in / 8, Stock: []Stock{sheet}, Pieces: c.pieces}
		a, err := Solve(r)
		if err == nil {
			err = check(r, a)
		}
		turned := 0
		for _, b := range a.Boards {
			for _, cut := range b.Cuts {
				if cut.Turned {
					turned += b.Count
				}
			}
		}
		if err != nil || a.Cost != c.sheets*4000 || turned != c.turned || c.proved && !a.Proved {
			t.Errorf("%s: %v, %v, %d turned, proved %v", c.name, err, a.Cost, turned, a.Proved)
		}
	}
	r := Request{
		Kerf:   in / 8,
		Stock:  []Stock{sheet},
		Pieces: []Piece{panel("wide", 60*in, 50*in, 1, false), panel("a", 60*in, 30*in, 1, false)},
	}
	if a, err := Solve(r); err != nil || check(r, a) != nil || len(a.Unmet) != 1 || a.Unmet[0].Piece != "wide" ||
		a.Cost != 4000 {
		t.Errorf("too wide: %+v, %v", a, err)
	}
}

// Random panels from sheets of several sizes: every answer holds, its bound is no
// higher than its price or than what the panels were cut from, and turning never
// costs more.
func TestSheetsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(83, 83))
	met := 0
	for i := range 30 {
		q := Request{Kerf: in / 8, Effort: 60_000_000, Stock: []Stock{
			{ID: "full", Profile: "p", Length: 96 * in, Width: 48 * in, Price: 4200, Quantity: Unlimited},
			{ID: "half", Profile: "p", Length: 48 * in, Width: 48 * in, Price: 2400, Quantity: Unlimited},
			{ID: "strip", Profile: "p", Length: 96 * in, Width: 12 * in, Price: 1500, Quantity: 2},
		}}
		// Cut from whole sheets with nothing left: strips, and panels along them.
		sheets := 1 + r.IntN(3)
		n := 0
		for range sheets {
			for wide := 48 * in; wide > 0; {
				w := min(wide, measure.Length(6+r.IntN(20))*in)
				for long := 96 * in; long > 0; {
					l := min(long, measure.Length(10+r.IntN(50))*in)
					q.Pieces = append(
						q.Pieces,
						Piece{ID: fmt.Sprint(n), Profile: "p", Length: l, Width: w, Quantity: 1},
					)
					n++
					long -= l + in/8
				}
				wide -= w + in/8
			}
		}
		straight, err := Solve(q)
		if err == nil {
			err = check(q, straight)
		}
		for k := range q.Pieces {
			q.Pieces[k].Turn = q.Pieces[k].Width > 0
		}
		a, err2 := Solve(q)
		if err2 == nil {
			err2 = check(q, a)
		}
		if err != nil || err2 != nil {
			t.Fatalf("%d: %v, %v\n%+v", i, err, err2, q)
		}
		planted := money.Amount(sheets) * 4200
		if a.LowerBound > planted || straight.LowerBound > planted {
			t.Fatalf(
				"%d: bounds %v and %v, but the panels came out of %v",
				i,
				straight.LowerBound,
				a.LowerBound,
				planted,
			)
		}
		if straight.Cost <= planted {
			met++
		}
		if max(straight.Cost, a.Cost) > planted+4200 {
			t.Errorf("%d: %v and, turned, %v; the panels came out of %v", i, straight.Cost, a.Cost, planted)
		}
	}
	if met < 12 {
		t.Errorf("%d of 30 no dearer than what the panels were cut from", met)
	}
}

// guillotine reports whether panels, as length and width with a saw cut each, come
// out of a rectangle by cuts from edge to edge: every set, every first cut.
func guillotine(panels [][2]measure.Length, l, w measure.Length) bool {
	if len(panels) == 1 {
		a, b := panels[0][0], panels[0][1]
		return a <= l && b <= w || b <= l && a <= w
	}
	for across := range 2 {
		for set := 1; set < 1<<len(panels)-1; set += 2 { // with the first panel in it
			var in, out [][2]measure.Length
			at := map[measure.Length]bool{0: true}
			for k, p := range panels {
				if set>>k&1 == 0 {
					out = append(out, p)
					continue
				}
				in = append(in, p)
				for x := range at {
					at[x+p[0]], at[x+p[1]] = true, true
				}
			}
			for x := range at {
				first, rest := [2]measure.Length{x, w}, [2]measure.Length{l - x, w}
				if across == 1 {
					first, rest = [2]measure.Length{l, x}, [2]measure.Length{l, w - x}
				}
				if x > 0 && guillotine(in, first[0], first[1]) && guillotine(out, rest[0], rest[1]) {
					return true
				}
			}
		}
	}
	return false
}

// Up to four panels that may turn against every way to cut them from edge to edge
// out of a sheet or a half: never cheaper than that, its bound never above it, and
// nearly always the same, for strips are not all that can be sawn.
func TestSheetsAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(89, 89))
	same := 0
	const n = 200
	for i := range n {
		full := Stock{ID: "full", Profile: "p", Length: 96 * in, Width: 48 * in, Price: 4200, Quantity: Unlimited}
		half := Stock{ID: "half", Profile: "p", Length: 48 * in, Width: 48 * in, Price: 2400, Quantity: Unlimited}
		q := Request{Kerf: in / 8, Stock: []Stock{full, half}}
		var panels [][2]measure.Length
		for k := range 2 + r.IntN(3) {
			p := Piece{
				ID:       fmt.Sprint(k),
				Profile:  "p",
				Length:   measure.Length(12+r.IntN(60)) * in,
				Width:    measure.Length(8+r.IntN(30)) * in,
				Quantity: 1,
				Turn:     true,
			}
			q.Pieces = append(q.Pieces, p)
			panels = append(panels, [2]measure.Length{p.Length + q.Kerf, p.Width + q.Kerf})
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		// The least price over all ways to share the panels out.
		least := make([]money.Amount, 1<<len(panels))
		for set := 1; set < len(least); set++ {
			least[set] = 1 << 40
			for sub := set; sub > 0; sub = (sub - 1) & set {
				var some [][2]measure.Length
				for k, p := range panels {
					if sub>>k&1 == 1 {
						some = append(some, p)
					}
				}
				for _, s := range q.Stock {
					if cost := least[set^sub] + s.Price; cost < least[set] &&
						guillotine(some, s.Length+q.Kerf, s.Width+q.Kerf) {
						least[set] = cost
					}
				}
			}
		}
		want := least[len(least)-1]
		if a.Cost < want || a.LowerBound > want {
			t.Fatalf("%d: %v, bound %v; the least is %v\n%+v", i, a.Cost, a.LowerBound, want, q)
		}
		if a.Cost == want {
			same++
		}
	}
	if same < n*9/10 {
		t.Errorf("%d of %d as cheap as can be", same, n)
	}
}
