package cutting

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

const in = measure.Inch

// cheapest tries every assignment of pieces to boards; -1 where none works.
func cheapest(r Request) money.Amount {
	var lengths []measure.Length
	for _, p := range r.Pieces {
		for range p.Quantity {
			lengths = append(lengths, p.Length)
		}
	}
	best := money.Amount(-1)
	type open struct {
		stock int
		left  measure.Length // usable + kerf, less length + kerf of each piece
	}
	var boards []open
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
		for k := range boards {
			if boards[k].left >= size {
				boards[k].left -= size
				try(i+1, cost)
				boards[k].left += size
			}
		}
		for s, st := range r.Stock {
			if room := st.Usable() + r.Kerf; room >= size && (st.Quantity == Unlimited || used[s] < st.Quantity) {
				used[s]++
				boards = append(boards, open{s, room - size})
				try(i+1, cost+st.Price)
				boards = boards[:len(boards)-1]
				used[s]--
			}
		}
	}
	try(0, 0)
	return best
}

func random(r *rand.Rand, pieces int) Request {
	q := Request{Kerf: measure.Length(r.IntN(4)) * in / 16}
	for i := range 1 + r.IntN(4) {
		s := Stock{
			ID:       fmt.Sprint("s", i),
			Profile:  "p",
			Length:   measure.Length(60+r.IntN(140)) * in,
			Price:    money.Amount(300 + r.IntN(2000)),
			Quantity: Unlimited,
		}
		if r.IntN(3) == 0 {
			s.Quantity, s.Price = r.IntN(3), money.Amount(r.IntN(400))
		}
		if r.IntN(4) == 0 {
			s.TrimStart, s.TrimEnd = in, measure.Length(r.IntN(5))*in
		}
		q.Stock = append(q.Stock, s)
	}
	for i := 0; pieces > 0; i++ {
		n := 1 + r.IntN(min(pieces, 4))
		pieces -= n
		q.Pieces = append(
			q.Pieces,
			Piece{
				ID:       fmt.Sprint("p", i),
				Profile:  "p",
				Length:   measure.Length(10*16+r.IntN(100*16)) * in / 16,
				Quantity: n,
			},
		)
	}
	return q
}

// Small requests against brute force, every answer against the checker.
func TestAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for i := range 2000 {
		q := random(r, 1+r.IntN(8))
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		want := cheapest(q)
		if len(a.Unmet) > 0 {
			if want >= 0 {
				t.Fatalf("%d: pieces left out, but all can be had for %v\n%+v", i, want, q)
			}
			continue
		}
		if a.Cost != want || !a.Proved {
			t.Fatalf("%d: %v (proved %v), least is %v\n%+v", i, a.Cost, a.Proved, want, q)
		}
	}
}

// Large requests: the answer holds and the bound is honest, also when the
// effort runs out at once.
func TestLargeRequestsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for i := range 150 {
		q := random(r, 20+r.IntN(60))
		q.Effort = 20_000
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v", i, err)
		}
		if b, _ := Solve(q); !reflect.DeepEqual(a, b) {
			t.Fatalf("%d: two answers to one request", i)
		}
		q.Effort = 1
		hasty, err := Solve(q)
		if err == nil {
			err = check(q, hasty)
		}
		if err != nil || a.Proved && len(hasty.Unmet) == 0 && (hasty.LowerBound > a.Cost || hasty.Cost < a.Cost) {
			t.Fatalf("%d: hasty %v..%v, proved least %v, %v", i, hasty.LowerBound, hasty.Cost, a.Cost, err)
		}
	}
}

// Published instances. Kerf is none; money is in whole units.
func TestPublishedInstances(t *testing.T) {
	kind := func(length, n int) Piece {
		return Piece{ID: fmt.Sprint(length), Profile: "p", Length: measure.Length(length) * in, Quantity: n}
	}
	raw := func(length int, price money.Amount) Stock {
		return Stock{
			ID:       fmt.Sprint(length),
			Profile:  "p",
			Length:   measure.Length(length) * in,
			Price:    price,
			Quantity: Unlimited,
		}
	}
	for _, c := range []struct {
		name   string
		stock  []Stock
		pieces []Piece
		want   money.Amount
	}{
		// Gilmore and Gomory 1961, Operations Research 9:849: 170.
		{"Gilmore-Gomory", []Stock{raw(5, 6), raw(6, 7), raw(9, 10)}, []Piece{kind(2, 20), kind(3, 10), kind(4, 20)},
			170},
		// Winston, Operations Research, column generation: 17 ft boards; 19.
		{"Woodco", []Stock{raw(17, 1)}, []Piece{kind(3, 25), kind(5, 20), kind(9, 15)}, 19},
		// A non-round-up instance (Kartak, Ripatti and others): LP 259/132,
		// optimum 3.
		{"non-IRUP", []Stock{raw(132, 1)}, []Piece{kind(44, 2), kind(33, 3), kind(12, 6)}, 3},
		// Chvatal, Linear Programming (1983), chapter 13: LP 452.25, optimum 453.
		{"Chvatal", []Stock{raw(100, 1)}, []Piece{kind(45, 97), kind(36, 610), kind(31, 395), kind(14, 211)}, 453},
		// Fourer, Gay, Kernighan, AMPL (2nd edition), chapter 15: LP 46.25, 47.
		{"AMPL rolls", []Stock{raw(110, 1)}, []Piece{kind(20, 48), kind(45, 35), kind(50, 24), kind(55, 10), kind(75,
			8)}, 47},
		// The 5600 mm paper rolls of the usual encyclopaedia example, in centimetres: 73.
		{"paper", []Stock{raw(560, 1)}, []Piece{kind(138, 22), kind(152, 25), kind(156, 12), kind(171, 14), kind(182,
			18), kind(188, 18),
			kind(193, 20), kind(200, 10), kind(205, 12), kind(210, 14), kind(214, 16), kind(215, 18), kind(220, 20)},
			73},
		// Taha, Operations Research, trim loss: LP 262.5, 263.
		{"Pacific Paper", []Stock{raw(20, 1)}, []Piece{kind(5, 150), kind(7, 200), kind(9, 300)}, 263},
		// Graham's anomaly, as usually quoted: 33 items of 3668 in all, 7 of 524.
		{"Graham", []Stock{raw(524, 1)}, []Piece{kind(442, 1), kind(252, 7), kind(127, 5), kind(106, 4), kind(85, 1),
			kind(84, 1), kind(46, 1),
			kind(37, 2), kind(12, 3), kind(10, 6), kind(9, 2)}, 7},
		// Johnson and others 1974, SIAM Journal on Computing 3: first fit takes 11.
		{"11/9", []Stock{raw(1000, 1)}, []Piece{kind(510, 6), kind(270, 6), kind(260, 6), kind(230, 12)}, 9},
		// Martello and Toth 1990, chapter 8: L1 is 3, the optimum 4.
		{"Martello-Toth", []Stock{raw(100, 1)}, []Piece{kind(70, 1), kind(60, 1), kind(50, 1), kind(33, 3), kind(11, 1),
			kind(7, 1), kind(3, 1)}, 4},
	} {
		a, err := Solve(Request{Stock: c.stock, Pieces: c.pieces})
		if err != nil || a.Cost != c.want || !a.Proved {
			t.Errorf("%s: %d (proved %v, bound %d), %v; want %d", c.name, a.Cost, a.Proved, a.LowerBound, err, c.want)
		}
	}
}

// The example in docs/format.md, worked by hand: 93 1/2 in pieces come one to
// an 8 ft board (two would need 187 1/8), the 53 in leftover is too short, 4 x
// 11.40 = 45.60, and 96 - 93 1/2 - 1/8 = 2 3/8 in are left.
func TestWorkedExample(t *testing.T) {
	r := Request{Kerf: in / 8, Stock: []Stock{
		{ID: "c26-8", Profile: "2x6", Length: 96 * in, Price: 1140, Quantity: Unlimited, TrimStart: 0, TrimEnd: 0},
		{ID: "c26-12", Profile: "2x6", Length: 144 * in, Price: 1690, Quantity: Unlimited, TrimStart: 0, TrimEnd: 0},
		{ID: "shed-1", Profile: "2x6", Length: 53 * in, Price: 0, Quantity: 1, TrimStart: in, TrimEnd: 0},
	}, Pieces: []Piece{{ID: "side", Profile: "2x6", Length: 93*in + in/2, Quantity: 4}}}
	a, err := Solve(r)
	if err != nil || a.Cost != 4560 || !a.Proved || len(a.Boards) != 1 || a.Boards[0].Count != 4 ||
		a.Boards[0].Offcut != 2*in+in*3/8 {
		t.Errorf("%+v, %v", a, err)
	}
	// Kerf decides: 4 x 23.906 in come out of 96 in, a hair more does not
	// (96 - 3/8 = 95 5/8, a quarter is 23 29/32).
	for _, c := range []struct {
		length measure.Length
		boards money.Amount
	}{{23*in + in*29/32, 1}, {23*in + in*29/32 + 1, 2}} {
		a, err := Solve(
			Request{
				Kerf: in / 8,
				Stock: []Stock{
					{ID: "b", Profile: "p", Length: 96 * in, Price: 1, Quantity: Unlimited, TrimStart: 0, TrimEnd: 0},
				},
				Pieces: []Piece{{ID: "q", Profile: "p", Length: c.length, Quantity: 4}},
			},
		)
		if err != nil || a.Cost != c.boards {
			t.Errorf("4 of %v: %d boards, %v", c.length, a.Cost, err)
		}
	}
}

// At one price, one long leftover is better than two short ones.
func TestLeftoversCount(t *testing.T) {
	a, err := Solve(
		Request{
			Stock: []Stock{
				{ID: "b", Profile: "p", Length: 100 * in, Price: 500, Quantity: Unlimited, TrimStart: 0, TrimEnd: 0},
			},
			Pieces: []Piece{
				{ID: "long", Profile: "p", Length: 60 * in, Quantity: 1},
				{ID: "mid", Profile: "p", Length: 50 * in, Quantity: 1},
				{ID: "short", Profile: "p", Length: 30 * in, Quantity: 1},
			},
		},
	)
	if err != nil || a.Cost != 1000 {
		t.Fatalf("%+v, %v", a, err)
	}
	longest := measure.Length(0)
	for _, b := range a.Boards {
		longest = max(longest, b.Offcut)
	}
	if longest != 50*in { // 60+30 | 50 leaves 10 and 50; 60 | 50+30 leaves 40 and 20
		t.Errorf("the longest leftover is %v", longest)
	}
}

func TestUnmetAndBadRequests(t *testing.T) {
	good := func() Request {
		return Request{
			Stock: []Stock{
				{ID: "b", Profile: "p", Length: 50 * in, Price: 100, Quantity: 1, TrimStart: 0, TrimEnd: 0},
			},
			Pieces: []Piece{{ID: "q", Profile: "p", Length: 40 * in, Quantity: 1}},
		}
	}
	r := good()
	r.Pieces = append(
		r.Pieces,
		Piece{ID: "long", Profile: "p", Length: 60 * in, Quantity: 2},
		Piece{ID: "r", Profile: "p", Length: 45 * in, Quantity: 1},
		Piece{ID: "other", Profile: "x", Length: in, Quantity: 1},
	)
	a, err := Solve(r)
	if err != nil || check(r, a) != nil || len(a.Boards) != 1 || len(a.Unmet) != 3 || a.Proved {
		t.Errorf("%+v, %v, %v", a, err, check(r, a))
	}
	for field, spoil := range map[string]func(*Request){
		"kerf":               func(r *Request) { r.Kerf = -1 },
		"pieces":             func(r *Request) { r.Pieces = nil },
		"pieces[0].length":   func(r *Request) { r.Pieces[0].Length = 0 },
		"pieces[0].quantity": func(r *Request) { r.Pieces[0].Quantity = 1_000_000 },
		"stock[0].length":    func(r *Request) { r.Stock[0].Length = 0 },
		"stock[0].price":     func(r *Request) { r.Stock[0].Price = -5 },
		"stock[0].quantity":  func(r *Request) { r.Stock[0].Quantity = -7 },
		"stock[0].trim":      func(r *Request) { r.Stock[0].TrimEnd = 60 * in },
	} {
		r := good()
		spoil(&r)
		if _, err := Solve(r); err == nil || !strings.HasPrefix(err.Error(), field+": ") {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// What is remembered is what would be solved, whatever the pieces are called.
func TestMemo(t *testing.T) {
	in := measure.Inch
	ask := func(a, b string) Request {
		return Request{
			Kerf: in / 8,
			Stock: []Stock{
				{ID: "8", Profile: "p", Length: 96 * in, Price: 500, Quantity: Unlimited},
				{ID: "10", Profile: "p", Length: 120 * in, Price: 690, Quantity: 1},
			},
			Pieces: []Piece{
				{ID: a, Profile: "p", Length: 50 * in, Quantity: 3},
				{ID: b, Profile: "p", Length: 30 * in, Quantity: 4},
				{ID: "long", Profile: "p", Length: 200 * in, Quantity: 1},
			},
		}
	}
	var m Memo
	for _, names := range [][2]string{{"A", "B"}, {"A", "B"}, {"7", "0"}, {"B", "A"}} {
		r := ask(names[0], names[1])
		want, err := Solve(r)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := m.Solve(r); err != nil || !reflect.DeepEqual(got, want) {
			t.Errorf("%v: remembered %+v, solved %+v, %v", names, got, want, err)
		}
	}
	changed := ask("A", "B")
	changed.Pieces[0].Length += in / 64
	if got, _ := m.Solve(changed); len(m.answers) != 2 || got.Boards[0].Cuts[0].Length != changed.Pieces[0].Length {
		t.Errorf("%d answers remembered; %+v", len(m.answers), got.Boards[0])
	}
	if _, err := m.Solve(Request{Kerf: -1}); err == nil {
		t.Error("a bad request is answered")
	}
}
