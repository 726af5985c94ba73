package plan

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/cost"
	"chamfer/core/measure"
)

// fewest is the fewest trips, by trying every way to put things on them.
func fewest(each []measure.Mass, most measure.Mass) int {
	best := len(each)
	var put func(i int, trips []measure.Mass)
	put = func(i int, trips []measure.Mass) {
		if len(trips) >= best {
			return
		}
		if i == len(each) {
			best = len(trips)
			return
		}
		for k := range trips {
			if trips[k]+each[i] <= most {
				trips[k] += each[i]
				put(i+1, trips)
				trips[k] -= each[i]
			}
		}
		put(i+1, append(trips, each[i]))
	}
	put(0, nil)
	return best
}

// Trips against trying every way to load, 200 small cases: as few, each within what the car carries, everything on one
// of them and once.
func TestTrips(t *testing.T) {
	r := rand.New(rand.NewPCG(24, 7))
	for n := range 200 {
		out := Home{Most: measure.Mass(100 + r.IntN(300))}
		var goods []Goods
		var each []measure.Mass
		for range 1 + r.IntN(4) {
			g := Goods{Name: "x", N: 1 + r.IntN(3), Each: measure.Mass(5+r.IntN(int(out.Most)-5)) - measure.Mass(r.IntN(10))/10}
			goods = append(goods, g)
			for range g.N {
				each = append(each, g.Each)
			}
		}
		if err := out.load(goods); err != nil {
			t.Fatal(err)
		}
		want := fewest(each, out.Most)
		if len(out.Trips) != want || !out.Proved || out.Least != want {
			t.Errorf("%d: %d trips, proved %v, at least %d; by trying all %d: %v of %v", n, len(out.Trips), out.Proved,
				out.Least, want, each, out.Most)
		}
		got := 0
		for _, trip := range out.Trips {
			if MassOf(trip) > out.Most {
				t.Errorf("%d: a trip of %v, and the car carries %v", n, MassOf(trip), out.Most)
			}
			for _, g := range trip {
				got += g.N
			}
		}
		if got != len(each) {
			t.Errorf("%d: %d things come home of %d", n, got, len(each))
		}
	}
}

// Trips by weight and by room against trying every way, 200 small cases: never fewer than there can be, as few where
// that is claimed, and the bound below them.
func TestTripsWithRoom(t *testing.T) {
	r := rand.New(rand.NewPCG(24, 8))
	proved, byRoom := 0, 0
	for n := range 200 {
		out := Home{Most: measure.Mass(100 + r.IntN(300)), Room: measure.Volume(200+r.IntN(800)) * measure.Litre}
		var goods []Goods
		var each []Goods
		for range 1 + r.IntN(4) {
			g := Goods{Name: "x", N: 1 + r.IntN(3), Each: measure.Mass(5 + r.IntN(int(out.Most)-5)),
				Room: measure.Volume(5+r.IntN(int(out.Room/measure.Litre)-5)) * measure.Litre}
			goods = append(goods, g)
			for range g.N {
				each = append(each, g)
			}
		}
		if err := out.load(goods); err != nil {
			t.Fatal(err)
		}
		want := len(each)
		var put func(i int, trips []Goods)
		put = func(i int, trips []Goods) {
			if len(trips) >= want {
				return
			}
			if i == len(each) {
				want = len(trips)
				return
			}
			for k := range trips {
				if was := trips[k]; was.Each+each[i].Each <= out.Most && was.Room+each[i].Room <= out.Room {
					trips[k].Each, trips[k].Room = was.Each+each[i].Each, was.Room+each[i].Room
					put(i+1, trips)
					trips[k] = was
				}
			}
			put(i+1, append(trips, each[i]))
		}
		put(0, nil)
		if len(out.Trips) < want || out.Least > want || out.Proved && len(out.Trips) != want || !out.Proved &&
			out.Least == len(out.Trips) {
			t.Errorf("%d: %d trips, proved %v, at least %d; by trying all %d", n, len(out.Trips), out.Proved, out.Least, want)
		}
		if out.Proved {
			proved++
		}
		if out.Least > out.roomLeast(nil)+1 && len(out.Trips) > 1 {
			byRoom++
		}
		got := 0
		for _, trip := range out.Trips {
			if MassOf(trip) > out.Most*(1+1e-9) || roomOf(trip) > out.Room {
				t.Errorf("%d: a trip of %v and %v, and the car takes %v and %v", n, MassOf(trip), roomOf(trip), out.Most, out.Room)
			}
			for _, g := range trip {
				got += g.N
			}
		}
		if got != len(each) {
			t.Errorf("%d: %d things come home of %d", n, got, len(each))
		}
	}
	if proved < 190 || byRoom < 20 {
		t.Errorf("%d of 200 proved, %d of more than one trip", proved, byRoom)
	}
}

// By hand: an 8 ft cedar 2x6 of 1 1/2 by 5 1/2 in is 8 · 1.5 · 5.5 / 144 = 0.458 cu ft.
func TestHomeward(t *testing.T) {
	shop, err := ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	sku := ""
	for _, o := range shop.Catalog.Offers {
		if o.Profile == "2x6" && o.Species == "cedar" && o.Length == 8*measure.Foot {
			sku = o.SKU
		}
	}
	g, lorry, known := (&Plan{Shop: shop}).weigh(lineOf(sku))
	s, err := shop.Catalog.SpeciesOf("cedar")
	if err != nil {
		t.Fatal(err)
	}
	want := 8 * 1.5 * 5.5 / 144 * 0.0283168 * s.Density
	if lorry || !known || g.Long != 8*measure.Foot || float64(g.Each) < 0.999*want || float64(g.Each) > 1.001*want {
		t.Errorf("it weighs %v, by hand %v; %v long, known %v", g.Each, want, g.Long, known)
	}
}

func lineOf(sku string) cost.Line {
	return cost.Line{Group: cost.Timber, SKU: sku, Item: sku, Quantity: 1}
}
