package plan

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"math/bits"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Visit is one way to buy everything: at which shops, and what that comes to.
type Visit struct {
	Shops []cost.Shop // that something is bought at
	Bill  money.Amount
	Going money.Amount // there and back, or for being brought
	Total money.Amount
	Least money.Amount // no way to cut and buy at these shops costs less
	Lacks []string     // what none of them has; then the sums are of the rest
	Short []string     // shops that sell nothing for so little
	Lines []cost.Line
	Edits []design.Edit // that buy like this
}

// Able reports whether everything can be had like this.
func (v Visit) Able() bool { return len(v.Lacks)+len(v.Short) == 0 }

// At is what is bought at a shop, before tax.
func (v Visit) At(shop string) (sum money.Amount) {
	for _, l := range v.Lines {
		if l.At == shop {
			sum += l.Amount
		}
	}
	return sum
}

// Buying is where everything on a bill is bought for the least.
type Buying struct {
	Best      Visit   // the first of Ways; without shops where there is none
	Ways      []Visit // that were worked out, able ones first, then the cheapest
	Alone     []Visit // everything at one shop, in the book's order
	Tried     int     // sets of shops that were worked out
	Passed    int     // those whose going there alone costs too much
	Bound     money.Amount
	Proved    bool     // nothing is cheaper than Best
	Elsewhere []string // on the bill and in no shop's prices: at the catalogue's, bought anywhere
}

// Where reckons at which of the shops of a price book everything is bought for the least, with the cutting: lengths of
// all shops that are gone to share one plan. Every set of shops is looked at, or passed over since going there makes it
// dearer than one that was found even at the lowest prices of all. Of boards each shop has only so many where it said
// so; anything else is bought at one shop that has enough of it. More than is needed is not bought to reach what a shop
// sells at least.
func (p *Plan) Where(ctx context.Context, book cost.Book) (Buying, error) {
	out := Buying{}
	shops := book.Shops[:min(len(book.Shops), cost.MostShops)]
	if len(shops) == 0 || len(book.Quotes) == 0 {
		return out, &design.Refusal{Field: "shops",
			Reason: "there is no shop with a price yet: write down what yours ask, on the page of shops"}
	}
	all, err := p.visit(ctx, book, shops)
	if err != nil {
		return out, err
	}
	floor := money.Amount(math.MaxInt64) // what everything costs at least, going left out
	if len(all.Lacks) == 0 {
		floor = all.Least
		for _, s := range shops {
			if s.Free == 0 {
				floor -= s.Fee
			}
		}
	}
	priced := map[string]bool{}
	of := map[string]string{}
	for _, w := range p.Shop.Catalog.Wares() {
		of[w.SKU] = w.Of
	}
	for _, q := range book.Quotes {
		priced[of[q.SKU]] = true
	}
	for _, l := range all.Lines {
		if l.At == "" && !l.Owned && !priced[of[catalog.Base(l.SKU)]] && !slices.Contains(out.Elsewhere, l.Item) {
			out.Elsewhere = append(out.Elsewhere, l.Item)
		}
	}
	order := make([]uint, 0, 1<<len(shops)-1)
	for set := range uint(1) << len(shops) {
		if set > 0 {
			order = append(order, set)
		}
	}
	slices.SortStableFunc(order, func(a, b uint) int { return cmp.Compare(bits.OnesCount(a), bits.OnesCount(b)) })
	best, bound := money.Amount(math.MaxInt64), money.Amount(math.MaxInt64)
	for _, set := range order {
		var chosen []cost.Shop
		going := money.Amount(0)
		for i, s := range shops {
			if set&(1<<i) != 0 {
				chosen = append(chosen, s)
				if s.Free == 0 {
					going += s.Fee
				}
			}
		}
		if len(chosen) > 1 && (floor == math.MaxInt64 || floor+going >= best) {
			out.Passed++
			continue
		}
		v := all
		if len(chosen) < len(shops) {
			if v, err = p.visit(ctx, book, chosen); err != nil {
				return out, err
			}
		}
		out.Tried++
		if len(chosen) == 1 {
			out.Alone = append(out.Alone, v)
		}
		if len(v.Lacks) == 0 {
			bound = min(bound, v.Least)
		}
		if v.Able() {
			best = min(best, v.Total)
		}
		same := func(o Visit) bool { return slices.Equal(o.Shops, v.Shops) && o.Total == v.Total }
		if !slices.ContainsFunc(out.Ways, same) {
			out.Ways = append(out.Ways, v)
		}
	}
	slices.SortStableFunc(out.Ways, func(a, b Visit) int {
		if a.Able() != b.Able() {
			return map[bool]int{true: -1, false: 1}[a.Able()]
		}
		return cmp.Or(cmp.Compare(a.Total, b.Total), cmp.Compare(len(a.Shops), len(b.Shops)))
	})
	if len(out.Ways) > 0 && out.Ways[0].Able() {
		out.Best = out.Ways[0]
		out.Bound = min(bound, out.Best.Total)
		out.Proved = out.Bound == out.Best.Total
	}
	return out, nil
}

// visit works out what everything comes to at some shops.
func (p *Plan) visit(ctx context.Context, book cost.Book, chosen []cost.Shop) (Visit, error) {
	region, err := catalog.ForRegion(p.Design.Region)
	if err != nil {
		return Visit{}, err
	}
	rate := p.Shop.Habits.TaxBasisPoints
	sales, none := book.Sales(region, rate, func(s cost.Shop) bool { return slices.Contains(chosen, s) })
	of := map[string]string{}
	for _, w := range region.Wares() {
		of[w.SKU] = w.Of
	}
	p.deliver(sales, region)
	for {
		v := Visit{}
		for _, sku := range slices.Sorted(maps.Keys(p.Design.Sold)) {
			if _, told := sales[sku]; !told {
				v.Edits = append(v.Edits, design.Edit{Field: "sold:" + sku})
			}
		}
		for _, sku := range slices.Sorted(maps.Keys(sales)) {
			v.Edits = append(v.Edits, design.Edit{Field: "sold:" + sku, Value: catalog.WriteSales(sales[sku])})
			if _, own := p.Design.Prices[sku]; own {
				v.Edits = append(v.Edits, design.Edit{Field: "price:" + sku})
			}
		}
		next, err := design.Apply(p.Design, region, v.Edits...)
		if err != nil {
			return v, err
		}
		shop := p.Shop.asked()
		shop.Catalog, shop.effort = region, whereEffort
		then, err := reckon(ctx, next, shop, p)
		if err != nil {
			return v, err
		}
		short := false
		for _, l := range then.Bill.Lines {
			if l.At == "" || l.Group == cost.Timber || l.Left == catalog.Plenty || l.Quantity <= l.Left {
				continue
			}
			// It has too few of it: another shop, or another pack.
			at := func(s catalog.Sale) bool { return s.At == l.At }
			sales[l.SKU], short = slices.DeleteFunc(slices.Clone(sales[l.SKU]), at), true
			likes := func(sku string) bool { return of[sku] == of[l.SKU] && len(sales[sku]) > 0 }
			if !slices.ContainsFunc(slices.Collect(maps.Keys(sales)), likes) {
				none[of[l.SKU]] = true
				maps.DeleteFunc(sales, func(sku string, _ []catalog.Sale) bool { return of[sku] == of[l.SKU] })
			}
		}
		if short {
			continue
		}
		v.sum(then, chosen, none, of)
		return v, nil
	}
}

// deliver leaves of what comes loose, in so much as this project needs, the shop where it costs least with its
// delivery.
func (p *Plan) deliver(sales map[string][]catalog.Sale, region *catalog.Catalog) {
	for _, n := range p.Fill.Needs {
		for _, w := range n.Ways {
			id := w.Fill.ID
			i := slices.IndexFunc(region.Fills, func(f catalog.Fill) bool { return f.ID == id })
			if list := sales[id]; i < 0 || len(list) < 2 || region.Fills[i].Delivery == 0 {
				continue
			}
			with := func(s catalog.Sale) money.Amount {
				brought := region.Fills[i].Delivery
				for _, d := range sales[id+catalog.Delivery] {
					if d.At == s.At {
						brought = d.Price
					}
				}
				return s.Price.Times(w.Packs) + brought.Times(w.Loads)
			}
			enough := slices.DeleteFunc(slices.Clone(sales[id]), func(s catalog.Sale) bool {
				return s.Left != catalog.Plenty && s.Left < w.Packs
			})
			if len(enough) == 0 {
				continue
			}
			best := slices.MinFunc(enough, func(a, b catalog.Sale) int { return cmp.Compare(with(a), with(b)) })
			sales[id] = []catalog.Sale{best}
		}
	}
}

// whereEffort is the search for the cheapest boards of one set of shops.
const whereEffort = 12_000_000

// sum adds up what a plan's things come to at the shops chosen.
func (v *Visit) sum(then *Plan, chosen []cost.Shop, none map[string]bool, of map[string]string) {
	v.Lines, v.Bill = then.Bill.Lines, then.Bill.Total
	v.Lacks = slices.Clone(then.Bill.Without)
	for _, l := range v.Lines {
		base := catalog.Base(l.SKU)
		if l.Owned || l.Own || l.At != "" {
			continue
		}
		_, told := then.Design.Sold[base]
		if (none[of[base]] || told) && !slices.Contains(v.Lacks, l.Item) {
			v.Lacks = append(v.Lacks, l.Item)
		}
	}
	for _, s := range chosen {
		sum := v.At(s.Name)
		if sum == 0 {
			continue
		}
		v.Shops = append(v.Shops, s)
		if s.Free == 0 || sum < s.Free {
			v.Going += s.Fee
		}
		if sum < s.Least {
			v.Short = append(v.Short, fmt.Sprintf("%s sells nothing for less than %s, and this is %s", s.Name,
				then.Shop.Currency().Format(s.Least), then.Shop.Currency().Format(sum)))
		}
	}
	over := money.Amount(0) // what the boards may be above their least
	for _, c := range then.Cuts {
		over += c.Answer.Cost - c.Answer.LowerBound
	}
	before := then.Bill.Subtotal - over
	v.Least = before + before.Rate(then.Bill.TaxRate)
	for _, s := range chosen { // whoever goes to all of them pays that, but where enough may be brought for nothing
		if s.Free == 0 {
			v.Least += s.Fee
		}
	}
	v.Total = v.Bill + v.Going
}

// OneShop is what everything costs at the cheapest shop that has all of it, and what the best way saves of that; false
// where none has.
func (b Buying) OneShop() (total, saves money.Amount, ok bool) {
	for _, v := range b.Alone {
		if v.Able() && (!ok || v.Total < total) {
			total, ok = v.Total, true
		}
	}
	return total, total - b.Best.Total, ok
}

// More is what a way costs above the best.
func (b Buying) More(v Visit) money.Amount { return v.Total - b.Best.Total }

// Claim says what was shown.
func (b Buying) Claim(cur money.Currency) string {
	if len(b.Best.Shops) == 0 {
		return "No set of these shops has everything."
	}
	words := measure.Count(b.Tried, "set") + " of shops worked out"
	if b.Passed > 0 {
		words += fmt.Sprintf(", %d passed over since going there alone makes them dearer", b.Passed)
	}
	if b.Proved {
		words += ". No way to buy and cut at these shops costs less"
	} else {
		words += ". No way costs less than " + cur.Format(b.Bound) + "; this one may be up to " +
			cur.Format(b.Best.Total-b.Bound) + " above that"
	}
	return words + ". Boards of all shops share one plan of cuts; anything else is bought at one shop that has enough of" +
		" it, in the packs that are cheapest there, and nothing beyond what is needed to reach a shop's least order."
}

// Words are what the shops of a visit are called, together.
func (v Visit) Words() string {
	var names []string
	for _, s := range v.Shops {
		names = append(names, s.Name)
	}
	if n := len(names); n > 2 {
		names = append([]string{strings.Join(names[:n-1], ", ")}, names[n-1])
	}
	return strings.Join(names, " and ")
}
