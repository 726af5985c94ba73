package plan

import (
	"maps"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/record"
)

// Share is what a job leaves of a thing, and what it took of what was there: pieces of screws and blocks, whole packs
// of
// anything else that is counted.
type Share struct {
	Item, Name string
	Owned      int // of what was there already, used
	Left       int // of what was bought
}

// Shares are what goes into the shed of screws, blocks and packs when a job is put away, as far as it is counted: by
// what was written down as left, and else by what was planned. Shares of an opened roll or bag are not counted.
func (p *Plan) Shares(goods []record.Good) (list []Share) {
	for _, r := range p.Record(goods) {
		if !p.Shop.Catalog.Counted(r.Item) {
			continue
		}
		used := r.Balanced.Used
		if r.Known {
			used = r.Really
		}
		each := int64(1)
		if r.Unit != "pieces" {
			each = max(1, r.Pack)
		}
		took := min(r.Owned, used)
		s := Share{Item: r.Item, Name: r.Name, Owned: int(took / each), Left: int(max(0, r.Bought-(used-took)) / each)}
		if s.Owned+s.Left > 0 {
			list = append(list, s)
		}
	}
	return list
}

// Worth is what a shop would ask for a thing that is there, so many of it: by its cheapest pack, and boards by their
// length. Nothing is known of what no shop sells.
func (s Shop) Worth(item string, n int) money.Amount {
	best, count := money.Amount(0), 0
	for _, w := range s.Catalog.Wares() {
		if of := w.SKU == item || w.Of == "fixing/"+item; of {
			holds := max(1, w.Count)
			if w.SKU == item {
				holds = 1 // it is counted as it is sold
			}
			if count == 0 || w.Price*money.Amount(count) < best*money.Amount(holds) {
				best, count = w.Price, holds
			}
		}
	}
	if count == 0 {
		return 0
	}
	return (best.Times(n)).Per(float64(count))
}

// WorthOf is what a shop would ask for a board of the shed: by the cheapest length of it, foot by foot.
func (s Shop) WorthOf(l catalog.Leftover) money.Amount {
	var best catalog.Offer
	for _, o := range s.Catalog.OffersOf(l.Profile, l.Species) {
		if best.Length == 0 || int64(o.Price)*int64(best.Length/measure.Millimetre) < int64(best.Price)*int64(
			o.Length/measure.Millimetre) {
			best = o
		}
	}
	if best.Length == 0 {
		return 0
	}
	return best.Price.Times(l.Quantity).Per(float64(best.Length) / float64(l.Length))
}

// Shelved is something in the shed that a project can use.
type Shelved struct {
	Item, Name string
	There      int // in the shed
	Wanted     int // that the project could use
	Have       int // that it counts on already
}

// FromShed lists what is in a shed beside boards that this project uses, by number.
func (p *Plan) FromShed(stuff map[string]int) (list []Shelved) {
	balance := p.Balance()
	for _, item := range slices.Sorted(maps.Keys(stuff)) {
		i := slices.IndexFunc(balance, func(b Balanced) bool { return b.Item == item })
		if i < 0 || stuff[item] < 1 || !p.Shop.Catalog.Counted(item) {
			continue
		}
		b := balance[i]
		each := int64(1)
		if b.Unit != "pieces" {
			each = max(1, b.Pack)
		}
		wanted := int((b.Used + b.Spare + each - 1) / each)
		list = append(list, Shelved{item, b.Name, stuff[item], min(wanted, stuff[item]), p.Design.Have[item]})
	}
	return list
}
