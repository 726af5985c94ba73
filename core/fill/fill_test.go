package fill

import (
	"math"
	"slices"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

const in = measure.Inch

func cavity(l, w, d measure.Length) []frame.Frame {
	return []frame.Frame{
		{
			Times: 1,
			Cavities: []frame.Cavity{
				{Top: d, Outline: []frame.Spot{{U: 0, V: 0}, {U: l, V: 0}, {U: l, V: w}, {U: 0, V: w}}},
			},
		},
	}
}

func work(frames []frame.Frame, cat *catalog.Catalog, h catalog.Habits, by string, have map[string]int,
	price func(string, money.Amount) money.Amount) Plan {
	beds := []design.Bed{{Soil: frames[0].Cavities[0].Top}}
	return Work(Input{Frames: frames, Beds: beds, Catalog: cat, Habits: h, By: by, Have: have, Price: price})
}

// mix is what is sold as soil for beds.
func mix(p Plan) Need {
	n, _ := p.Need(catalog.Mixed)
	return n
}

func listed(_ string, a money.Amount) money.Amount { return a }

// A 4 x 8 ft bed of 2x12, inside 93 x 45 in, filled 11 1/4 in: 27.25 ft3 =
// 1.009 yd3 = 0.772 m3 (93 x 45 x 11.25 / 1728). Bags of 1.5 ft3 are 18 to a
// cubic yard (NIST HB 44: 27 ft3); a carried barrow 4.5 ft3, 6 to a yard
// (common practice).
func TestVolumeWorkedByHand(t *testing.T) {
	us, _ := catalog.ForRegion("us")
	p := work(cavity(93*in, 45*in, in*45/4), us, catalog.Habits{}, "cheaper", nil, listed)
	if got := p.Net.CubicFeet(); math.Abs(got-93*45*11.25/1728) > 1e-6 {
		t.Errorf("%.4f ft3", got)
	}
	if got := p.Net.CubicMetres(); math.Abs(got-0.772) > 0.0005 {
		t.Errorf("%.4f m3", got)
	}
	if mix(p).Ways[0].Packs != 19 || mix(p).Ways[1].Packs != 3 ||
		p.Barrows != 7 { // 27.25/1.5 = 18.2; 1.009 yd3 in halves; 27.25/4.5 = 6.06
		t.Errorf("%d bags, %d half yards, %d barrows", mix(p).Ways[0].Packs, mix(p).Ways[1].Packs, p.Barrows)
	}
	yard := work(cavity(36*in, 36*in, 36*in), us, catalog.Habits{}, "bag", nil, listed)
	if mix(yard).Ways[0].Packs != 18 || yard.Barrows != 6 || mix(yard).Way().Fill.Kind != catalog.Bag {
		t.Errorf("a cubic yard: %d bags, %d barrows", mix(yard).Ways[0].Packs, yard.Barrows)
	}
	// Five bags that are there leave 13 to buy, or 19 1/2 cu ft of loose soil: two halves.
	five := work(
		cavity(36*in, 36*in, 36*in),
		us,
		catalog.Habits{},
		"bag",
		map[string]int{mix(yard).Ways[0].Fill.ID: 5},
		listed,
	)
	if mix(five).Ways[0].Packs != 13 || mix(five).Ways[1].Packs != 2 || five.Order != yard.Order {
		t.Errorf("beside five: %d bags, %d half yards", mix(five).Ways[0].Packs, mix(five).Ways[1].Packs)
	}
	// 100 lb/ft3 of moist topsoil: 2725 lb.
	if got := p.WetMass.Pounds(); math.Abs(got-2725) > 5 {
		t.Errorf("%.0f lb", got)
	}
}

// 15 % for settling; a small bed is cheaper in bags, a large one loose; a price
// of one's own turns it round.
func TestWaysAndSettling(t *testing.T) {
	m, _ := catalog.ForRegion("metric")
	mm := measure.Millimetre
	small := work(cavity(1000*mm, 500*mm, 200*mm), m, catalog.Habits{SettlingPerMille: 150}, "cheaper", nil, listed)
	if small.Order != 115*measure.Litre || mix(small).Way().Fill.Kind != catalog.Bag {
		t.Errorf("order %v l by the %s", small.Order.Litres(), mix(small).Way().Fill.Kind)
	}
	if large := work(cavity(3000*mm, 1200*mm, 400*mm), m, catalog.Habits{SettlingPerMille: 150}, "cheaper", nil,
		listed); mix(large).Way().Fill.Kind != catalog.InBulk {
		t.Errorf("1.6 m3 comes by the %s", mix(large).Way().Fill.Kind)
	}
	dear := work(
		cavity(1000*mm, 500*mm, 200*mm),
		m,
		catalog.Habits{},
		"cheaper",
		nil,
		func(sku string, a money.Amount) money.Amount {
			if slices.ContainsFunc(m.Fills, func(f catalog.Fill) bool { return f.ID == sku && f.Kind == catalog.Bag }) {
				return 10_000
			}
			return a
		},
	)
	if mix(dear).Way().Fill.Kind != catalog.InBulk {
		t.Error("bags at 100 each are still bought")
	}
}

// Heaps as cones, V = π D³ tan φ / 24: 1 m³ at 35° is 2.218 m across and 0.777 high; at 45° 1.969 m; a base of 8 ft
// at 35° holds 46.93 cu ft (own examples, by the geometry of a cone).
func TestHeaps(t *testing.T) {
	for _, c := range []struct {
		v                    measure.Volume
		repose, across, high float64
	}{{measure.CubicMetre, 35, 2.218, 0.777}, {measure.CubicMetre, 45, 1.969, 0.985},
		{measure.CubicMetre, 25, 2.540, 0.592},
		{3 * measure.CubicMetre, 40, 3.012, 1.264}, {measure.CubicMetres(46.93 * 0.028316846592), 35, 2.4384, 0.8537}} {
		d, h := Cone(c.v, c.repose)
		if math.Abs(d.Metres()-c.across) > 0.0006 || math.Abs(h.Metres()-c.high) > 0.0006 {
			t.Errorf("%v at %.0f°: %.4f m across, %.4f high", c.v, c.repose, d.Metres(), h.Metres())
		}
	}
}

// What is more than a lorry brings comes in as few loads as hold it, each paid for, each a heap of its own; together
// they are what is bought (by hand: 30 ft by 12 ft of 30 in are 900 cu ft, with 15 % more 38.33 cu yd: 38.5 in four).
func TestLoads(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	f := frame.Frame{Bed: "b1", Times: 1, Cavities: []frame.Cavity{{Outline: []frame.Spot{{}, {U: 30 * measure.Foot},
		{U: 30 * measure.Foot, V: 12 * measure.Foot}, {V: 12 * measure.Foot}}, Top: 30 * measure.Inch}}}
	bed := design.New(cat, "x").Beds[0]
	bed.Soil = 30 * measure.Inch
	price := func(_ string, listed money.Amount) money.Amount { return listed }
	p := Work(Input{Frames: []frame.Frame{f}, Beds: []design.Bed{bed}, Catalog: cat, Habits: cat.Habits, By: "loose",
		Price: price})
	n, _ := p.Need(catalog.Mixed)
	w := n.Way()
	if w.Packs != 77 || w.Loads != 4 || w.Delivery != w.Fill.Delivery.Times(4) {
		t.Errorf("%d half yards in %d loads for %v", w.Packs, w.Loads, w.Delivery)
	}
	var all measure.Volume
	for _, h := range p.Heaps() {
		all += h.Volume
		if h.Volume > w.Fill.Most {
			t.Errorf("a heap of %v", h.Volume)
		}
	}
	if len(p.Heaps()) != 4 || all != w.Bought {
		t.Errorf("%d heaps of %v, %v is bought", len(p.Heaps()), all, w.Bought)
	}
}
