package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/cutting"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Goods are so many of one thing that is brought home.
type Goods struct {
	SKU, Name string
	N         int
	Each      measure.Mass
	Room      measure.Volume // of each, 0 where it is not known
	Long      measure.Length // 0 where it does not matter
	At        string         // the shop, where one was chosen
}

// Home is how what is bought comes home: in how many trips of a car that carries so much, what goes on each, and what a
// car does not take.
type Home struct {
	Most      measure.Mass   // that the car carries besides who drives
	Room      measure.Volume // that it has for what is bought; 0 where nobody said
	Trips     [][]Goods
	Mass      measure.Mass // of all that goes by car
	Least     int          // no way to load takes fewer trips
	Proved    bool         // that many are planned
	Long      []Goods      // longer than the car takes: they are delivered, or cut at the shop
	Heavy     []Goods      // one by itself is more than it carries
	Lorry     []string     // what comes loose, on a lorry
	Light     int          // lines that weigh next to nothing: screws, cloth, tins
	Cost      money.Amount // of the trips
	Delivered money.Amount // of one delivery of all of it instead; 0 where nobody said
	Brought   []string     // shops that bring what is bought there
}

// Homeward reckons how what is bought comes home. Boards weigh what their timber does as it is sold, blocks and bags
// what the catalogue says; loads are packed by weight, of each shop by itself where shops were
// chosen, and by the room that things take one by one, where it was said how much the car has; length is looked at
// piece by
// piece.
func (p *Plan) Homeward() (Home, error) {
	h := p.Shop.Habits
	out := Home{Most: h.CarMass(), Room: measure.CubicMetres(h.CarLitres / 1000), Delivered: h.Delivery}
	var goods []Goods
	shops := []string{} // in the order of the bill
	for _, l := range p.Bill.Lines {
		if l.Owned || l.Quantity < 1 || strings.HasSuffix(l.SKU, catalog.Delivery) {
			continue
		}
		g, lorry, known := p.weigh(l)
		g.At = l.At
		switch {
		case l.Brought:
			if !slices.Contains(out.Brought, l.At) {
				out.Brought = append(out.Brought, l.At)
			}
		case lorry:
			if !slices.Contains(out.Lorry, l.Item) {
				out.Lorry = append(out.Lorry, l.Item)
			}
		case !known:
			out.Light++
		case g.Long > h.Carry:
			out.Long = append(out.Long, g)
		case g.Each > out.Most || out.Room > 0 && g.Room > out.Room:
			out.Heavy = append(out.Heavy, g)
		default:
			goods = append(goods, g)
			out.Mass += g.Each * measure.Mass(g.N)
			if !slices.Contains(shops, g.At) {
				shops = append(shops, g.At)
			}
		}
	}
	out.Proved = true
	for _, shop := range shops { // whoever goes to one shop loads what is bought there
		here := slices.DeleteFunc(slices.Clone(goods), func(g Goods) bool { return g.At != shop })
		if err := out.load(here); err != nil {
			return out, err
		}
	}
	out.Cost = h.Trip.Times(len(out.Trips))
	return out, nil
}

// grain is the length that stands for a gram where loads are packed as boards are cut.
const grain = measure.Millimetre / 100

// byLorry is a pack that nobody lifts into a car: a ton of sand, a pallet.
const byLorry measure.Mass = 100

// asSold is what a bag of soil weighs in the shop, damp, of what it does when it is soaked (common practice).
const asSold = 0.7

// tripPrice is what a trip stands for there: the fewest are sought, and the bound is of whole ones.
const tripPrice = 100

// load packs goods by weight into the fewest trips: a trip is a board as long as the car carries, a thing a piece as
// long as it weighs.
func (out *Home) load(goods []Goods) error {
	long := func(m measure.Mass, up bool) measure.Length {
		const hair = 1e-3 // of a gram, of floating point
		g := math.Floor(float64(m)*1000 + hair)
		if up {
			g = math.Ceil(float64(m)*1000 - hair)
		}
		return max(1, measure.Length(g)) * grain
	}
	r := cutting.Request{Stock: []cutting.Stock{{ID: "trip", Length: long(out.Most, false), Price: tripPrice,
		Quantity: cutting.Unlimited}}, Aims: []cutting.Aim{}}
	for i, g := range goods {
		r.Pieces = append(r.Pieces, cutting.Piece{ID: fmt.Sprint(i), Length: long(g.Each, true), Quantity: g.N})
	}
	a, err := cutting.Solve(r)
	if err != nil {
		return fmt.Errorf("loads: %w", err)
	}
	least, proved := int((a.LowerBound+tripPrice-1)/tripPrice), a.Proved
	trips := out.byMass(goods, a)
	if !out.roomy(trips) {
		least = max(least, out.roomLeast(goods))
		trips, proved = out.packed(goods, &least)
	}
	out.Least += least
	out.Proved = proved && (out.Proved || len(out.Trips) == 0)
	out.Trips = append(out.Trips, trips...)
	return nil
}

// byMass are the loads of an answer.
func (out *Home) byMass(goods []Goods, a cutting.Answer) (trips [][]Goods) {
	for _, b := range a.Boards {
		var trip []Goods
		for i, g := range goods {
			g.N = 0
			for _, c := range b.Cuts {
				if c.Piece == fmt.Sprint(i) {
					g.N++
				}
			}
			if g.N > 0 {
				trip = append(trip, g)
			}
		}
		for range b.Count {
			trips = append(trips, trip)
		}
	}
	return trips
}

// roomOf is the room that what of one trip takes.
func roomOf(trip []Goods) (v measure.Volume) {
	for _, g := range trip {
		v += g.Room * measure.Volume(g.N)
	}
	return v
}

// roomy reports whether every trip has room.
func (out *Home) roomy(trips [][]Goods) bool {
	return out.Room == 0 || !slices.ContainsFunc(trips, func(trip []Goods) bool { return roomOf(trip) > out.Room })
}

// roomLeast is how many trips goods take at the least by their room alone.
func (out *Home) roomLeast(goods []Goods) int {
	return int((roomOf(goods) + out.Room - 1) / out.Room)
}

// loadEffort is how many ways to load are tried before it is left at the best that was found.
const loadEffort = 400_000

// packed packs goods by weight and by room: everything is put on the first trip that takes it, the largest first, and
// then every way is tried that might take fewer trips, as far as there are no more than loadEffort. Least is how few it
// can be; where every way was tried, it is how few it is.
func (out *Home) packed(goods []Goods, least *int) (trips [][]Goods, proved bool) {
	type load struct {
		mass measure.Mass
		room measure.Volume
		of   []int
	}
	var each []int // of goods
	for i, g := range goods {
		for range g.N {
			each = append(each, i)
		}
	}
	share := func(i int) float64 {
		return max(float64(goods[i].Each/out.Most), float64(goods[i].Room)/float64(out.Room))
	}
	slices.SortStableFunc(each, func(a, b int) int { return cmp.Compare(share(b), share(a)) })
	fits := func(l load, g Goods) bool {
		const hair = 1e-9 // of floating point
		return l.mass+g.Each <= out.Most*(1+hair) && l.room+g.Room <= out.Room
	}
	put := func(list []load, k, i int) {
		l := &list[k]
		l.mass, l.room, l.of = l.mass+goods[i].Each, l.room+goods[i].Room, append(l.of, i)
	}
	var best []load
	for _, i := range each {
		k := slices.IndexFunc(best, func(l load) bool { return fits(l, goods[i]) })
		if k < 0 {
			k, best = len(best), append(best, load{})
		}
		put(best, k, i)
	}
	tries := 0
	var try func(n, from int, list []load)
	try = func(n, from int, list []load) {
		if tries++; len(list) >= len(best) || tries > loadEffort || len(best) == *least {
			return
		}
		if n == len(each) {
			best = make([]load, len(list))
			for k, l := range list {
				best[k] = load{l.mass, l.room, slices.Clone(l.of)}
			}
			return
		}
		i := each[n]
		if n > 0 && each[n-1] != i {
			from = 0 // alike things are put on no earlier trip than the one before them
		}
		for k := from; k < len(list); k++ {
			if same := slices.ContainsFunc(list[:k], func(l load) bool {
				return l.mass == list[k].mass && l.room == list[k].room
			}); same || !fits(list[k], goods[i]) {
				continue
			}
			was := list[k]
			put(list, k, i)
			try(n+1, k, list)
			list[k] = load{was.mass, was.room, list[k].of[:len(was.of)]}
		}
		next := append(list, load{})
		put(next, len(list), i)
		try(n+1, len(list), next)
	}
	try(0, 0, nil)
	if tries <= loadEffort || len(best) == *least {
		*least, proved = len(best), true
	}
	for _, l := range best {
		var trip []Goods
		for i, g := range goods {
			g.N = 0
			for _, k := range l.of {
				if k == i {
					g.N++
				}
			}
			if g.N > 0 {
				trip = append(trip, g)
			}
		}
		trips = append(trips, trip)
	}
	return trips, proved
}

// weigh is what a line of the bill weighs, each; lorry where it comes loose, and known where anything is known of it.
func (p *Plan) weigh(l cost.Line) (g Goods, lorry, known bool) {
	cat := p.Shop.Catalog
	g = Goods{SKU: l.SKU, Name: l.Item, N: l.Quantity}
	switch l.Group {
	case cost.Timber:
		i := slices.IndexFunc(cat.Offers, func(o catalog.Offer) bool { return o.SKU == l.SKU })
		if i < 0 {
			return g, false, false
		}
		o := cat.Offers[i]
		x, err := cat.Profile(o.Profile)
		s, err2 := cat.SpeciesOf(o.Species)
		if err != nil || err2 != nil {
			return g, false, false
		}
		g.Long = o.Length
		g.Room = measure.Over(o.Length, x.Width).By(x.Thickness)
		g.Each = measure.Mass(o.Length.Metres() * x.Width.Metres() * x.Thickness.Metres() * s.Density)
		return g, false, g.Each > 0
	case cost.Masonry:
		if u, err := cat.Unit(l.SKU); err == nil && u.Mass > 0 {
			g.Each, g.Room = measure.Mass(u.Mass), measure.Over(u.Length, u.Depth).By(u.Height)
			return g, false, true
		}
		for _, x := range cat.Loose { // sand, cement, base by the bag or by the yard
			if x.ID == l.SKU {
				g.Each, g.Room = measure.Mass(x.Mass), x.Volume
				return g, g.Each > byLorry, g.Each > 0
			}
		}
	case cost.Soil:
		for _, f := range cat.Fills {
			if f.ID == l.SKU || l.SKU == f.ID+catalog.Delivery {
				if f.Kind != catalog.Bag {
					return g, true, true
				}
				g.Room = f.Pack
				g.Each = measure.Mass(f.Pack.CubicMetres() * f.WetDensity * asSold)
				return g, false, true
			}
		}
		return g, true, true
	}
	return g, false, false
}

// MassOf is what of one trip weighs.
func MassOf(trip []Goods) (m measure.Mass) {
	for _, g := range trip {
		m += g.Each * measure.Mass(g.N)
	}
	return m
}
