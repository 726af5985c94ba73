package cutting

import (
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// ShopSaw is a shop that parts boards which do not fit the car.
//
//	|======= part =======|loss|==== part ====|     both no longer than the car takes
//	                     ^ at
type ShopSaw struct {
	Carry measure.Length // the longest that fits
	Fee   money.Amount   // of a cut
	Free  int            // cuts that cost nothing
	// Loss is what a cut takes, with what the shop's saw may be out by.
	Loss measure.Length
}

// mostParts is how many places to part a board are tried.
const mostParts = 30

// shopped adds the fee of its cut to every board that is too long to carry, but
// for so many as are cut for nothing, and leaves out those that one cut would not
// do for.
func (r *Request) shopped() {
	var list []Stock
	for _, s := range r.Stock {
		if s.carried() && s.Length > r.Shop.Carry {
			s.parted = true
			if s.Length > 2*r.Shop.Carry+r.Shop.Loss {
				continue
			}
			if r.Shop.Free > 0 && r.Shop.Fee > 0 {
				free := s
				free.Quantity, free.Shelf = min(r.Shop.Free, MaxQuantity), true
				if s.Quantity != Unlimited { // those that are cut for nothing are taken first
					free.Quantity = min(free.Quantity, s.Quantity)
					s.Quantity -= free.Quantity
				}
				list = append(list, free)
			}
			s.Price += r.Shop.Fee
		}
		list = append(list, s)
	}
	r.Stock = list
}

// partings lays out the ways a board that is too long can be parted: in the
// middle, as far along as the car allows from either end, and where whole numbers
// of a piece come out of a part without waste.
func (g *group) partings(s int, stock Stock) []way {
	carry, loss := g.shop.Carry, g.shop.Loss
	lo, hi := stock.Length-carry-loss, carry
	at := []measure.Length{(stock.Length - loss) / 2, lo, hi}
	for _, k := range g.kinds {
		step := measure.Length(k.size)
		for n := max(1, (lo+step-1)/step); n*step-g.kerf <= hi && len(at) < mostParts; n++ {
			at = append(at, stock.TrimStart+n*step-g.kerf, stock.Length-stock.TrimEnd-loss-(n*step-g.kerf))
		}
	}
	slices.Sort(at)
	var ways []way
	for _, p := range slices.Compact(at) {
		if p < lo || p > hi || p <= 0 || p+loss >= stock.Length {
			continue
		}
		parted := stock
		parted.Defects = nil
		done := false
		for _, d := range stock.Defects {
			if !done && d.From >= p {
				parted.Defects = append(parted.Defects, Span{p, p + loss})
				done = true
			}
			parted.Defects = append(parted.Defects, d)
		}
		if !done {
			parted.Defects = append(parted.Defects, Span{p, p + loss})
		}
		if w := g.way(s, parted, []int{0}); len(w.runs) > 0 {
			w.part = p
			ways = append(ways, w)
		}
	}
	return ways
}

// withShop solves a request whose shop parts boards. Every length that is parted
// has all the free cuts to itself while it is solved, which no plan can beat; what
// is paid is reckoned from the plan.
func withShop(r Request) (Answer, error) {
	stock := map[string]Stock{}
	for _, s := range r.Stock {
		stock[s.ID] = s
	}
	r.shopped()
	a, err := solve(r)
	if err != nil {
		return a, err
	}
	a.Cost = 0
	for i := range a.Boards {
		b := &a.Boards[i]
		b.Stock = stock[b.Stock.ID]
		a.Cost += b.Stock.Price * money.Amount(b.Count)
		if b.Part > 0 {
			a.ShopCuts += b.Count
		}
	}
	a.Cost += r.Shop.Fee * money.Amount(max(0, a.ShopCuts-r.Shop.Free))
	a.Proved = a.Proved && a.Cost == a.LowerBound
	return a, nil
}
