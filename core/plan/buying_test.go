package plan_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/long"
)

// stall is a length at a shop, for the brute force below.
type stall struct {
	shop  int64
	long  measure.Length
	price money.Amount
	left  int
}

// errand is everything that has to be bought, in little: pieces of several kinds with what shops have for them, and
// other things, each at one shop.
type errand struct {
	book   cost.Book
	rate   int
	kerf   measure.Length
	kinds  [][]measure.Length
	stalls [][]stall
	other  [][]stall // of each other thing, all of it
	rest   money.Amount
	any    bool // the first that is found will do
}

// cheaper is the least that all can be bought for below a limit, by trying every way to lay the pieces and every shop
// for the rest; the limit where there is none.
func (e errand) cheaper(limit money.Amount) money.Amount {
	at := map[int64]money.Amount{}
	with := func(sum money.Amount) money.Amount { return sum + sum.Rate(e.rate) }
	rates := make([]float64, len(e.kinds)) // cents to the nanometre, at the least
	after := make([]float64, len(e.kinds)+1)
	for _, list := range e.other {
		least := math.Inf(1)
		for _, s := range list {
			least = min(least, float64(s.price))
		}
		after[len(e.kinds)] += least
	}
	for k := len(e.kinds) - 1; k >= 0; k-- {
		rates[k] = math.Inf(1)
		for _, s := range e.stalls[k] {
			rates[k] = min(rates[k], float64(s.price)/float64(s.long))
		}
		for _, l := range e.kinds[k] {
			after[k] += rates[k] * float64(l)
		}
		after[k] += after[k+1]
	}
	var others func(n int, paid money.Amount)
	others = func(n int, paid money.Amount) {
		if with(paid) >= limit {
			return
		}
		if n < len(e.other) {
			for _, s := range e.other[n] {
				at[s.shop] += s.price
				others(n+1, paid+s.price)
				at[s.shop] -= s.price
			}
			return
		}
		total := with(paid)
		for _, s := range e.book.Shops {
			if sum := at[s.ID]; sum > 0 {
				if sum < s.Least {
					return
				}
				if s.Free == 0 || sum < s.Free {
					total += s.Fee
				}
			}
		}
		if limit = min(limit, total); e.any && total == limit {
			limit = 0
		}
	}
	var kind func(k int, paid money.Amount)
	kind = func(k int, paid money.Amount) {
		if k == len(e.kinds) {
			others(0, paid)
			return
		}
		pieces, stalls := e.kinds[k], e.stalls[k]
		left := make([]int, len(stalls))
		for i, s := range stalls {
			if left[i] = s.left; s.left < 0 {
				left[i] = len(pieces)
			}
		}
		var open []measure.Length // what is left of boards that are begun, without the next kerf
		var lay func(n, from int, paid money.Amount)
		lay = func(n, from int, paid money.Amount) {
			room := 0.0 // what is still to be laid and has no room on what is open is bought, at the least
			for _, l := range pieces[n:] {
				room += float64(l)
			}
			for _, l := range open {
				room -= float64(l)
			}
			least := float64(paid) + max(0, room)*rates[k] + after[k+1]
			if with(money.Amount(math.Min(least, 1e12))) > limit || with(paid) >= limit {
				return
			}
			if n == len(pieces) {
				kind(k+1, paid)
				return
			}
			if n > 0 && pieces[n] != pieces[n-1] {
				from = 0
			}
			tried := map[measure.Length]bool{}
			for i, room := range open {
				if room >= pieces[n]+e.kerf && !tried[room] {
					tried[room] = true
					open[i] -= pieces[n] + e.kerf
					lay(n+1, from, paid)
					open[i] = room
				}
			}
			for i := from; i < len(stalls); i++ {
				if s := stalls[i]; left[i] > 0 && s.long >= pieces[n] {
					left[i]--
					open = append(open, s.long-pieces[n])
					at[s.shop] += s.price
					lay(n+1, i, paid+s.price)
					at[s.shop] -= s.price
					open = open[:len(open)-1]
					left[i]++
				}
			}
		}
		lay(0, 0, paid)
	}
	kind(0, e.rest)
	return limit
}

// randomBook invents shops that ask prices for the lengths of some timbers and for some other things, with few of some.
func randomBook(r *rand.Rand, p *plan.Plan, shops int) cost.Book {
	var b cost.Book
	for i := range shops {
		s := cost.Shop{ID: int64(i + 1), Name: fmt.Sprintf("Shop %c", 'A'+i), Fee: money.Amount(r.IntN(1500))}
		switch r.IntN(4) {
		case 0:
			s.Free = money.Amount(3000 + r.IntN(9000))
		case 1:
			s.Least = money.Amount(r.IntN(4000))
		}
		b.Shops = append(b.Shops, s)
	}
	quote := func(sku string, about money.Amount, few int) {
		for _, s := range b.Shops {
			if r.IntN(5) == 0 {
				continue
			}
			q := cost.Quote{Shop: s.ID, SKU: sku, Price: about * money.Amount(70+r.IntN(60)) / 100, Left: catalog.Plenty,
				Seen: "2027-04-03", Taxed: r.IntN(3) == 0}
			if r.IntN(3) == 0 {
				q.Left = r.IntN(few)
			}
			b.Quotes = append(b.Quotes, q)
		}
	}
	for _, c := range p.Cuts {
		for _, o := range p.Shop.Catalog.OffersOf(c.Profile.ID, c.Species.ID) {
			quote(o.SKU, o.Price, 4)
		}
	}
	for _, l := range p.Bill.Lines {
		if l.Group == cost.Sheets {
			quote(l.SKU, l.Price, 2*l.Quantity)
		}
	}
	if r.IntN(2) == 0 {
		for _, w := range p.Fill.Needs[0].Ways {
			if quote(w.Fill.ID, w.Fill.Price, 2*w.Packs); w.Fill.Delivery > 0 {
				quote(w.Fill.ID+catalog.Delivery, w.Fill.Delivery/8, 40)
			}
		}
	}
	return b
}

// Where everything is bought for the least, against trying every way to lay the pieces on the boards that are there and
// every shop for the rest: nothing costs less than what is proved, nor less than the bound; and where no shop has an
// order
// that is its least, nor brings for nothing, everything is proved.
func TestWhere(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	shop := plan.Shop{Catalog: cat, Habits: cat.Habits}
	shop.Habits.TaxBasisPoints = 725
	ended := map[string]int{}
	for n := range long.Of(200) {
		r := rand.New(rand.NewPCG(uint64(n), 24))
		d := design.New(cat, "Two shops")
		bed := &d.Beds[0]
		bed.Length = measure.Length(24+r.IntN(40)) * measure.Inch
		bed.Width = min(bed.Length, measure.Length(18+r.IntN(20))*measure.Inch)
		bed.Soil = 5 * measure.Inch
		bed.Board = []string{"2x6", "2x8"}[r.IntN(2)]
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(n, err)
		}
		book := randomBook(r, p, 2+n%2)
		got, err := p.Where(context.Background(), book)
		if err != nil {
			t.Fatal(n, err)
		}
		e := errandOf(p, book)
		plain := !slices.ContainsFunc(book.Shops, func(s cost.Shop) bool { return s.Free+s.Least > 0 })
		if len(got.Best.Shops) == 0 {
			ended["none"]++
			e.any = true
			if plain && e.cheaper(math.MaxInt64/20_000) == 0 {
				t.Errorf("%d: nothing was found, and it can be bought", n)
			}
			continue
		}
		best := e.cheaper(got.Best.Total)
		if best < got.Best.Total && (got.Proved || plain) {
			t.Errorf("%d: %s at %s, by hand %s", n, got.Best.Total, got.Best.Words(), best)
		}
		if got.Bound > best || got.Proved != (got.Bound == got.Best.Total) || plain && !got.Proved {
			t.Errorf("%d: the bound %s, proved %v, and by hand %s", n, got.Bound, got.Proved, best)
		}
		if got.Proved {
			ended["proved"]++
		}
		ended[fmt.Sprint(len(got.Best.Shops))]++
		// What is told can be taken: the project bought like this costs just that.
		next, err := design.Apply(d, cat, got.Best.Edits...)
		if err != nil {
			t.Fatal(n, err)
		}
		then, err := plan.Make(next, shop)
		if err != nil {
			t.Fatal(n, err)
		}
		if then.Bill.Total != got.Best.Bill {
			t.Errorf("%d: taken it costs %s, told were %s", n, then.Bill.Total, got.Best.Bill)
		}
		for _, l := range then.Bill.Lines {
			if l.Left != catalog.Plenty && l.At != "" && l.Quantity > l.Left {
				t.Errorf("%d: %d of %s at %s, which has %d", n, l.Quantity, l.SKU, l.At, l.Left)
			}
		}
	}
	t.Log(ended)
	if ended["1"] == 0 || ended["2"] == 0 || ended["proved"] == 0 || long.Whole() && ended["none"] == 0 {
		t.Errorf("these cases show too little: %v", ended)
	}
}

// errandOf is what a plan has to have bought, of a book.
func errandOf(p *plan.Plan, book cost.Book) errand {
	e := errand{book: book, rate: p.Shop.Habits.TaxBasisPoints}
	for _, c := range p.Cuts {
		e.kerf = c.Request.Kerf
		var pieces []measure.Length
		for _, q := range c.Request.Pieces {
			for range q.Quantity {
				pieces = append(pieces, q.Length)
			}
		}
		slices.SortFunc(pieces, func(a, b measure.Length) int { return int(min(1, max(-1, b-a))) })
		var stalls []stall
		for _, s := range c.Request.Stock {
			for _, q := range book.Quotes {
				if q.SKU == s.ID {
					stalls = append(stalls, stall{q.Shop, s.Length, q.Net(e.rate), q.Left})
				}
			}
		}
		e.kinds, e.stalls = append(e.kinds, pieces), append(e.stalls, stalls)
	}
	for _, l := range p.Bill.Lines {
		if l.Group == cost.Timber || l.Group == cost.Soil && strings.HasSuffix(l.SKU, catalog.Delivery) {
			continue
		}
		var from []stall
		if l.Group == cost.Soil { // by the bag or loose, of a shop that brings it
			quoted := false
			for _, w := range p.Fill.Needs[0].Ways {
				for _, q := range book.Quotes {
					if q.SKU != w.Fill.ID {
						continue
					}
					brought := w.Fill.Delivery
					for _, d := range book.Quotes {
						if d.SKU == w.Fill.ID+catalog.Delivery && d.Shop == q.Shop && d.Left != 0 {
							brought = d.Net(e.rate)
						}
					}
					if quoted = true; q.Left < 0 || q.Left >= w.Packs {
						from = append(from, stall{shop: q.Shop, price: q.Net(e.rate).Times(w.Packs) + brought.Times(w.Loads)})
					}
				}
			}
			if quoted {
				e.other = append(e.other, from)
			} else {
				e.rest += p.Fill.Needs[0].Way().Cost()
			}
			continue
		}
		quoted := false
		for _, q := range book.Quotes {
			if q.SKU == l.SKU {
				if quoted = true; q.Left < 0 || q.Left >= l.Quantity {
					from = append(from, stall{shop: q.Shop, price: q.Net(e.rate).Times(l.Quantity)})
				}
			}
		}
		if quoted {
			e.other = append(e.other, from)
		} else {
			e.rest += l.Amount
		}
	}
	return e
}
