package plan_test

import (
	"context"
	"maps"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/long"
)

// A project bought at shops, over random designs of every system: every line that has a shop is at its price and of no
// more than it has; the bill is the sum of the shops and of what is bought anywhere; everything is in one cart, is used
// as before, and comes home from where it was bought. Then the book moves: that is told of every line it touches, and
// taking it leaves nothing to tell.
func TestBoughtAtShops(t *testing.T) {
	able, cases := 0, long.Of(120)
	for n := range cases {
		r := rand.New(rand.NewPCG(uint64(n), 1124))
		region := []string{"us", "metric"}[n%2]
		cat, err := catalog.ForRegion(region)
		if err != nil {
			t.Fatal(err)
		}
		systems := design.Systems()
		d := design.New(cat, "Shops")
		if d, err = design.Apply(d, cat, design.Edit{Field: "system", Value: systems[n/2%len(systems)].Name}); err != nil {
			t.Fatal(n, err)
		}
		shop := plan.Shop{Catalog: cat, Habits: cat.Habits}
		shop.Habits.TaxBasisPoints, shop.Habits.Trip = 725, 300
		shop.Habits.ShopCuts = n%3 == 0
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(n, err)
		}
		book := cost.Book{Shops: []cost.Shop{{ID: 1, Name: "Near", Fee: 300}, {ID: 2, Name: "Far", Fee: 900, Brings: true}}}
		for _, w := range cat.Wares() {
			for id := int64(1); id < 3; id++ {
				if k := r.IntN(4); k > 0 {
					left := catalog.Plenty
					if k == 1 {
						left = r.IntN(12)
					}
					book.Quotes = append(book.Quotes, cost.Quote{Shop: id, SKU: w.SKU, Seen: "2027-04-03", Left: left,
						Price: 1 + w.Price*money.Amount(80+r.IntN(40))/100})
				}
			}
		}
		out, err := p.Where(context.Background(), book)
		if err != nil {
			t.Fatal(n, err)
		}
		if len(out.Best.Shops) == 0 {
			continue
		}
		able++
		next, err := design.Apply(d, cat, out.Best.Edits...)
		if err != nil {
			t.Fatal(n, err)
		}
		q, err := plan.Make(next, shop)
		if err != nil {
			t.Fatal(n, err)
		}
		if q.Bill.Total > out.Best.Bill {
			t.Errorf("%d: it costs %s, and %s was told", n, q.Bill.Total, out.Best.Bill)
		}
		if list := q.Moved(book); len(list) > 0 {
			t.Errorf("%d: nothing has moved, and it tells %v", n, list)
		}
		boughtAtShops(t, n, q, book)
		back, err := design.Apply(next, cat, design.Edit{Field: "sold:"})
		if err != nil {
			t.Fatal(n, err)
		}
		if was, err := plan.Make(back, shop); err != nil || was.Bill.Total != p.Bill.Total {
			t.Errorf("%d: back at the catalogue's prices it costs %v, and cost %s (%v)", n, was.Bill.Total, p.Bill.Total, err)
		}
		for i := range book.Quotes {
			if r.IntN(6) == 0 {
				book.Quotes[i].Price += money.Amount(1 + r.IntN(300))
			}
		}
		told := q.Moved(book)
		for _, l := range q.Bill.Lines {
			for _, x := range book.Quotes {
				if s, ok := q.Shop.Catalog.SaleOf(l.SKU); ok && !l.Owned && x.SKU == catalog.Base(l.SKU) &&
					book.Shops[x.Shop-1].Name == l.At && x.Price != s.Price &&
					!slices.ContainsFunc(told, func(m plan.Move) bool { return m.SKU == l.SKU && m.Now == x.Price }) {
					t.Errorf("%d: %s at %s moved from %s to %s, and nothing is told", n, l.SKU, l.At, s.Price, x.Price)
				}
			}
		}
		v, known, err := q.Renewed(context.Background(), book)
		if err != nil || !known {
			t.Fatal(n, known, err)
		}
		if next, err = design.Apply(next, cat, v.Edits...); err != nil {
			t.Fatal(n, err)
		}
		if q, err = plan.Make(next, shop); err != nil {
			t.Fatal(n, err)
		}
		if list := q.Moved(book); len(list) > 0 {
			t.Errorf("%d: with the prices of today it tells %v", n, list)
		}
		boughtAtShops(t, n, q, book)
	}
	if 2*able < cases {
		t.Errorf("only %d of %d could be bought at these shops", able, cases)
	}
}

// boughtAtShops follows what is bought to its shop, its cart, its step and home.
func boughtAtShops(t *testing.T, n int, q *plan.Plan, book cost.Book) {
	t.Helper()
	sum, carted, had := money.Amount(0), map[string]int{}, map[string]int{}
	for _, l := range q.Bill.Lines {
		if sum += l.Amount; l.Owned {
			continue
		}
		had[l.SKU] += l.Quantity
		if l.At == "" {
			continue
		}
		at, _ := book.Named(l.At)
		i := slices.IndexFunc(book.Quotes, func(x cost.Quote) bool {
			return x.Shop == at.ID && x.SKU == catalog.Base(l.SKU)
		})
		if strings.HasSuffix(l.SKU, catalog.Delivery) && i < 0 {
			continue // at the catalogue's price, of who sells it
		}
		if i < 0 || book.Quotes[i].Net(0) != l.Price || l.Brought != at.Brings {
			t.Errorf("%d: %+v is at no such price", n, l)
		} else if left := book.Quotes[i].Left; left != catalog.Plenty && l.Quantity > left {
			t.Errorf("%d: %d of %s at %s, which has %d", n, l.Quantity, l.SKU, l.At, left)
		}
	}
	if sum != q.Bill.Subtotal {
		t.Errorf("%d: the lines come to %s, the bill says %s", n, sum, q.Bill.Subtotal)
	}
	for _, a := range q.Bill.Aisles() {
		for _, l := range a.Lines {
			if carted[l.SKU] += l.Quantity; l.At != "" && a.Shop != l.At {
				t.Errorf("%d: %s is in the aisles of %s, and bought at %s", n, l.SKU, a.Shop, l.At)
			}
		}
	}
	if !maps.Equal(carted, had) {
		t.Errorf("%d: in the aisles is %v, on the bill %v", n, carted, had)
	}
	for _, b := range q.Balance() {
		if b.Left < 0 {
			t.Errorf("%d: %d too few of %s", n, -b.Left, b.Item)
		}
	}
	home, err := q.Homeward()
	if err != nil {
		t.Fatal(n, err)
	}
	for _, trip := range home.Trips {
		for _, g := range trip {
			if g.At != trip[0].At {
				t.Errorf("%d: one trip to %q and %q", n, g.At, trip[0].At)
			}
		}
	}
	for _, l := range q.Bill.Lines {
		if l.Brought && slices.ContainsFunc(slices.Concat(home.Trips...), func(g plan.Goods) bool { return g.SKU == l.SKU }) {
			t.Errorf("%d: %s is brought, and goes by car", n, l.SKU)
		}
	}
}

// Boards of a shop that have been to the saw stay on the bill, whatever becomes of the shop; and of few boards the saw
// takes its share.
func TestSawnFromShops(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(cat, "Saw")
	sold := func(sku, text string) {
		t.Helper()
		if d, err = design.Apply(d, cat, design.Edit{Field: "sold:" + sku, Value: text}); err != nil {
			t.Fatal(err)
		}
	}
	const few = "2x8/cedar/8 ft"
	for _, o := range cat.OffersOf("2x8", "cedar") {
		if o.SKU != few {
			sold(o.SKU, "nowhere")
		}
	}
	sold(few, "10.00 at Near, 2 left; 12.00 at Far, 9 left")
	shop := plan.Shop{Catalog: cat, Habits: cat.Habits}
	made := func() *plan.Plan {
		t.Helper()
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	count := func(p *plan.Plan) map[string]int {
		got := map[string]int{}
		for _, l := range p.Bill.Lines {
			if l.Group == cost.Timber && strings.HasPrefix(l.SKU, "2x8") {
				got[l.SKU] += l.Quantity
			}
		}
		return got
	}
	p := made()
	all := count(p)
	if all[few+"@near"] != 2 || all[few+"@far"] < 2 {
		t.Fatal("of two shops:", all)
	}
	for i, c := range p.Cuts {
		for k, b := range c.Answer.Boards {
			if c.Profile.ID == "2x8" && b.Stock.ID != "" {
				e, err := p.AtSaw(i, k, len(b.Cuts), 1, plan.Cut)
				if err != nil {
					t.Fatal(err)
				}
				if d, err = design.Apply(d, cat, e); err != nil {
					t.Fatal(err)
				}
			}
		}
	}
	if got := count(made()); !maps.Equal(got, all) {
		t.Errorf("with one of each at the saw: %v, before %v", got, all)
	}
	sold(few, "10.00 at Near")
	got := count(made())
	if n := got[few] + got[few+"@near"] + got[few+"@far"]; n != all[few+"@near"]+all[few+"@far"] || got[few+"@far"] == 0 ||
		got[few+"@near"] == 0 {
		t.Errorf("where that shop is gone to no more: %v, before %v", got, all)
	}
}
