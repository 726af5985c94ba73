package cutting

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// A car takes 10 ft. Four pieces of 45 in: a 16 ft board at 10.00, parted in the
// middle with 1/8 in lost, gives two to each part (90 1/8 of 95 15/16); two 8 ft
// boards come to 13.00. With a fee of 4.00 they are cheaper, with one cut free
// they are not. Eight pieces: one 16 ft board cut for nothing and two of 8 ft are
// 23.00; two of 16 ft, one cut paid, would be 24.00, and four of 8 ft 26.00.
func TestShopCutsByHand(t *testing.T) {
	stock := []Stock{
		{ID: "8", Profile: "p", Length: 96 * in, Price: 650, Quantity: Unlimited},
		{ID: "16", Profile: "p", Length: 192 * in, Price: 1000, Quantity: Unlimited},
	}
	for _, c := range []struct {
		pieces, free int
		fee          money.Amount
		cost         money.Amount
		cuts         int
	}{{4, 0, 0, 1000, 1}, {4, 0, 400, 1300, 0}, {4, 1, 400, 1000, 1}, {8, 1, 400, 2300, 1}, {8, 0, 400, 2600, 0}} {
		r := Request{
			Kerf:   in / 8,
			Stock:  stock,
			Pieces: []Piece{{ID: "q", Profile: "p", Length: 45 * in, Quantity: c.pieces}},
			Shop:   &ShopSaw{Carry: 120 * in, Fee: c.fee, Free: c.free, Loss: in / 8},
		}
		a, err := Solve(r)
		if err != nil || check(r, a) != nil || a.Cost != c.cost || a.ShopCuts != c.cuts || !a.Proved {
			t.Errorf("%+v: %v, %v: %+v", c, err, check(r, a), a)
		}
	}
	// Where whole numbers of a piece come out: 115 and 60 in from 16 ft want the
	// board parted at 115 in (or 60), not in the middle.
	r := Request{Kerf: in / 8, Stock: stock[1:], Shop: &ShopSaw{Carry: 120 * in, Loss: in / 2},
		Pieces: []Piece{
			{ID: "a", Profile: "p", Length: 115 * in, Quantity: 1},
			{ID: "b", Profile: "p", Length: 60 * in, Quantity: 1},
		}}
	if a, err := Solve(r); err != nil || check(r, a) != nil || a.Cost != 1000 {
		t.Errorf("%v, %v: %+v", err, check(r, a), a)
	}
	r.Pieces[0].Length = 121 * in // longer than the car
	if a, err := Solve(r); err != nil || len(a.Unmet) != 1 || a.Unmet[0].Piece != "a" || check(r, a) != nil {
		t.Errorf("%v: %+v", err, a)
	}
}

// Random jobs with a shop that cuts: every answer holds and is no dearer than
// without the boards that are too long.
func TestShopCutsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 71))
	for i := range 200 {
		q := random(r, 1+r.IntN(12))
		q.Shop = &ShopSaw{
			Carry: measure.Length(100+r.IntN(60)) * in,
			Fee:   money.Amount(r.IntN(3) * 150),
			Free:  r.IntN(4),
			Loss:  in / 4,
		}
		short := q
		short.Shop, short.Stock = nil, nil
		for _, s := range q.Stock {
			if s.Length <= q.Shop.Carry || s.Quantity != Unlimited {
				short.Stock = append(short.Stock, s)
			}
		}
		a, err := Solve(q)
		if err == nil {
			err = check(q, a)
		}
		if err != nil {
			t.Fatalf("%d: %v\n%+v\n%+v", i, err, q, a)
		}
		if b, err := Solve(short); err == nil && len(b.Unmet) == 0 && (len(a.Unmet) > 0 || a.Cost > b.Cost) {
			t.Fatalf(
				"%d: %v with %v left out, without the long boards %v\n%s",
				i,
				a.Cost,
				a.Unmet,
				b.Cost,
				fmt.Sprintf("%+v", q),
			)
		}
	}
}
