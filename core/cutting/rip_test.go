package cutting

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Two cleats ripped from one 2x4, by hand: 3 1/2 in wide, strips of 1 1/2 in
// and a rip of 1/8: (3 1/2 + 1/8) / (1 5/8) = 2 strips. Nine of 45 in: each strip
// of 96 in gives two (90 1/8), so a board gives four and nine take three boards;
// counted as lengths that are each ripped, five of 45 in, two to a board, take
// three as well. With one full-width piece of 45 in more, four boards in all
// would be wanted if ripping were counted by boards: crosscut first, the third
// board gives one blank and that piece.
func TestRipByHand(t *testing.T) {
	board := Stock{ID: "8", Profile: "2x4", Length: 96 * in, Width: in * 7 / 2, Price: 500, Quantity: Unlimited}
	r := Request{
		Kerf:   in / 8,
		Stock:  []Stock{board},
		Pieces: []Piece{{ID: "cleat", Profile: "2x4", Length: 45 * in, Width: in * 3 / 2, Quantity: 9}},
	}
	a, err := Solve(r)
	if err != nil || check(r, a) != nil || a.Cost != 1500 || !a.Proved {
		t.Errorf("%v, %v: %+v", err, check(r, a), a)
	}
	r.Pieces = append(r.Pieces, Piece{ID: "side", Profile: "2x4", Length: 45 * in, Quantity: 1})
	a, err = Solve(r)
	if err != nil || check(r, a) != nil || a.Cost != 1500 || !a.Proved {
		t.Errorf("with a whole piece: %v, %v: %+v", err, check(r, a), a)
	}
	// Strips of different lengths side by side: 60 + 30 in one, 50 + 40 in the
	// other. As blanks they would take two boards.
	r.Pieces = nil
	for i, l := range []measure.Length{60, 30, 50, 40} {
		r.Pieces = append(
			r.Pieces,
			Piece{ID: fmt.Sprint(i), Profile: "2x4", Length: l * in, Width: in * 3 / 2, Quantity: 1},
		)
	}
	a, err = Solve(r)
	if err != nil || check(r, a) != nil || a.Cost != 500 || len(a.Boards) != 1 || len(a.Boards[0].Strips) != 2 {
		t.Errorf("strips: %v, %v: %+v", err, check(r, a), a)
	}
}

// A knot from 40 to 44 in parts a board of 96 into 40 and 52 in: a piece of 50
// and one of 38 come out, not two of 45.
func TestDefectByHand(t *testing.T) {
	flawed := Stock{
		ID:       "flawed",
		Profile:  "p",
		Length:   96 * in,
		Price:    0,
		Quantity: 1,
		Defects:  []Span{{40 * in, 44 * in}},
	}
	whole := Stock{ID: "whole", Profile: "p", Length: 96 * in, Price: 700, Quantity: Unlimited}
	for _, c := range []struct {
		lengths []measure.Length
		cost    money.Amount
	}{{[]measure.Length{50, 38}, 0}, {[]measure.Length{45, 45}, 700}, {[]measure.Length{40, 52}, 0},
		{[]measure.Length{20, 19, 26, 25}, 0}} {
		r := Request{Kerf: in / 8, Stock: []Stock{flawed, whole}}
		for i, l := range c.lengths {
			r.Pieces = append(r.Pieces, Piece{ID: fmt.Sprint(i), Profile: "p", Length: l * in, Quantity: 1})
		}
		a, err := Solve(r)
		if err != nil || check(r, a) != nil || a.Cost != c.cost || !a.Proved {
			t.Errorf("%v: %v, %v: %+v", c.lengths, err, check(r, a), a)
		}
	}
}

// cheapestRuns tries every assignment of pieces to the runs of boards; each
// board's runs are what defects leave of it.
func cheapestRuns(r Request) money.Amount {
	var lengths []measure.Length
	for _, p := range r.Pieces {
		for range p.Quantity {
			lengths = append(lengths, p.Length)
		}
	}
	best := money.Amount(-1)
	var free []measure.Length // usable + kerf of every run bought
	used := make([]int, len(r.Stock))
	var try func(i int, cost money.Amount)
	try = func(i int, cost money.Amount) {
		if best >= 0 && cost >= best {
			return
		}
		if i == len(lengths) {
			best = cost
			return
		}
		size := lengths[i] + r.Kerf
		for k := range free {
			if free[k] >= size {
				free[k] -= size
				try(i+1, cost)
				free[k] += size
			}
		}
		for s, st := range r.Stock {
			if st.Quantity != Unlimited && used[s] >= st.Quantity {
				continue
			}
			had := len(free)
			at := st.TrimStart
			for _, d := range append(st.Defects[:len(st.Defects):len(st.Defects)], Span{st.Length - st.TrimEnd, 0}) {
				if d.From > at {
					free = append(free, d.From-at+r.Kerf)
				}
				at = max(at, d.To)
			}
			used[s]++
			for k := had; k < len(free); k++ {
				if free[k] >= size {
					free[k] -= size
					try(i+1, cost+st.Price)
					free[k] += size
				}
			}
			used[s]--
			free = free[:had]
		}
	}
	try(0, 0)
	return best
}

// Boards with defects against brute force.
func TestDefectsAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(51, 51))
	for i := range 600 {
		q := random(r, 1+r.IntN(6))
		for s := range q.Stock {
			at := q.Stock[s].TrimStart
			for range r.IntN(3) {
				from := at + measure.Length(r.IntN(40))*in
				to := from + measure.Length(1+r.IntN(10))*in
				if to >= q.Stock[s].Length-q.Stock[s].TrimEnd {
					break
				}
				q.Stock[s].Defects = append(q.Stock[s].Defects, Span{from, to})
				at = to
			}
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		if want := cheapestRuns(q); len(a.Unmet) == 0 && (a.Cost != want || !a.Proved) ||
			len(a.Unmet) > 0 && want >= 0 {
			t.Fatalf("%d: %v (bound %v, %d left out), least is %v\n%+v", i, a.Cost, a.LowerBound, len(a.Unmet), want, q)
		}
	}
}

// Ripped pieces of several widths among whole ones: every answer holds, the bound
// is honest, and no plan is dearer than ripping every length on its own.
func TestRipsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 61))
	proved := 0
	for i := range 300 {
		q := Request{Kerf: in / 8}
		for k := range 1 + r.IntN(3) {
			q.Stock = append(
				q.Stock,
				Stock{
					ID:       fmt.Sprint("s", k),
					Profile:  "p",
					Length:   measure.Length(72+24*r.IntN(5)) * in,
					Width:    in * 11 / 2,
					Price:    money.Amount(600 + r.IntN(900)),
					Quantity: Unlimited,
				},
			)
		}
		widths := []measure.Length{0, in * 5 / 2, in * 3 / 2, in * 5 / 4}
		apart := q
		for k := range 1 + r.IntN(5) {
			p := Piece{
				ID:       fmt.Sprint("p", k),
				Profile:  "p",
				Length:   measure.Length(10+r.IntN(60)) * in,
				Quantity: 1 + r.IntN(6),
				Width:    widths[r.IntN(len(widths))],
			}
			q.Pieces = append(q.Pieces, p)
			p.Quantity = (p.Quantity + perWidth(in*11/2, p.Width, q.Kerf) - 1) / perWidth(in*11/2, p.Width, q.Kerf)
			p.Width = 0
			apart.Pieces = append(apart.Pieces, p)
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		if a.Proved {
			proved++
		}
		if b, _ := Solve(apart); a.Cost > b.Cost {
			t.Fatalf("%d: %v, ripping each length on its own costs %v\n%+v", i, a.Cost, b.Cost, q)
		}
	}
	if proved < 285 {
		t.Errorf("%d of 300 proved", proved)
	}
}

// ripper tries every way to cut pieces from boards in three stages, one piece after another:
// into a strip that is there, a new strip beside others in a blank, a new blank of a board,
// a new board.
type ripper struct {
	r      Request
	pieces []Piece
	boards []ripBoard
	used   map[string]int
	best   money.Amount
}

type ripBoard struct {
	stock  Stock
	blanks [][]ripStrip
}

type ripStrip struct{ width, length measure.Length } // lengths with a kerf each

// fits holds a board to what the saw can do.
func (r *ripper) fits(b ripBoard) bool {
	along := measure.Length(0)
	for _, blank := range b.blanks {
		across, longest := measure.Length(0), measure.Length(0)
		for _, s := range blank {
			across += s.width + r.r.RipKerf
			longest = max(longest, s.length)
		}
		if len(blank) > 1 && across > b.stock.Width+r.r.RipKerf {
			return false
		}
		along += longest
	}
	return along <= b.stock.Usable()+r.r.Kerf
}

func (r *ripper) place(i int, cost money.Amount) {
	if r.best >= 0 && cost >= r.best {
		return
	}
	if i == len(r.pieces) {
		r.best = cost
		return
	}
	p := r.pieces[i]
	width := p.Width
	if width == 0 {
		width = r.r.Stock[0].Width
	}
	size := p.Length + r.r.Kerf
	try := func(b int, blanks [][]ripStrip) {
		was := r.boards[b].blanks
		r.boards[b].blanks = blanks
		if r.fits(r.boards[b]) {
			r.place(i+1, cost)
		}
		r.boards[b].blanks = was
	}
	for b := range len(r.boards) {
		blanks := r.boards[b].blanks
		for k, blank := range blanks {
			changed := func(strips []ripStrip) {
				all := slices.Clone(blanks)
				all[k] = strips
				try(b, all)
			}
			for s := range blank {
				if blank[s].width == width {
					strips := slices.Clone(blank)
					strips[s].length += size
					changed(strips)
				}
			}
			changed(append(slices.Clone(blank), ripStrip{width, size}))
		}
		try(b, append(slices.Clone(blanks), []ripStrip{{width, size}}))
	}
	for _, s := range r.r.Stock {
		if s.Quantity != Unlimited && r.used[s.ID] >= s.Quantity || size > s.Usable()+r.r.Kerf {
			continue
		}
		r.used[s.ID]++
		r.boards = append(r.boards, ripBoard{s, [][]ripStrip{{{width, size}}}})
		r.place(i+1, cost+s.Price)
		r.boards = r.boards[:len(r.boards)-1]
		r.used[s.ID]--
	}
}

// Jobs with rips against every way to crosscut, rip and crosscut again, which has ripping
// first in it: the least is found and said to be, always.
func TestRipsAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 71))
	for i := range 300 {
		q := Request{Kerf: in / 8, RipKerf: in / 8}
		for k := range 1 + r.IntN(3) {
			s := Stock{
				ID:       fmt.Sprint("s", k),
				Profile:  "p",
				Length:   measure.Length(48+12*r.IntN(5)) * in,
				Width:    in * 11 / 2,
				Price:    money.Amount(100 + r.IntN(900)),
				Quantity: Unlimited,
			}
			if k > 0 && r.IntN(3) == 0 {
				s.Price, s.Quantity = 0, 1
			}
			q.Stock = append(q.Stock, s)
		}
		widths := []measure.Length{0, in * 7 / 2, in * 5 / 2, in * 3 / 2, in * 5 / 4}
		left := 7
		for k := 0; left > 0; k++ {
			n := min(left, 1+r.IntN(3))
			left -= n
			q.Pieces = append(
				q.Pieces,
				Piece{
					ID:       fmt.Sprint("p", k),
					Profile:  "p",
					Length:   measure.Length(10+r.IntN(34)) * in,
					Quantity: n,
					Width:    widths[r.IntN(len(widths))],
				},
			)
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		all := &ripper{r: q, used: map[string]int{}, best: a.Cost + 1}
		for _, p := range q.Pieces {
			for range p.Quantity {
				all.pieces = append(all.pieces, p)
			}
		}
		all.place(0, 0)
		if a.Cost != all.best || !a.Proved {
			t.Errorf("%d: %v, bound %v, every way finds %v\n%+v", i, a.Cost, a.LowerBound, all.best, q)
		}
	}
}
