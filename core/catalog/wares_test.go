package catalog

import (
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Everything that is sold has a number of its own, which the catalogue knows, and a price.
func TestWares(t *testing.T) {
	for _, c := range Regions() {
		seen := map[string]bool{}
		for _, w := range c.Wares() {
			if seen[w.SKU] || !c.Sells(w.SKU) || w.Name == "" || w.Unit == "" || w.Of == "" || w.Price <= 0 {
				t.Errorf("%s: %+v, there before %v", c.ID, w, seen[w.SKU])
			}
			seen[w.SKU] = true
		}
		for _, o := range c.Offers {
			if !seen[o.SKU] {
				t.Error(c.ID, o.SKU, "is no ware")
			}
		}
	}
}

// Prices by measure, by hand. A 2x6 of 8 ft is 8 board feet (2 in by 6 in by 8 ft over 12, by what it is called: common
// practice) and 3 2/3 sq ft of face (5 1/2 in by 8 ft); 1.5 cu ft is an 18th of a cubic yard; 200 by 50 mm by 2.4 m are
// 0.024 m³.
func TestRates(t *testing.T) {
	for _, x := range []struct {
		region, sku string
		price       money.Amount
		want        string
	}{
		{"us", "2x6/cedar/8 ft", 1466, "1.83 foot, 1.83 board foot, 4.00 square foot"},
		{"us", "mix-bag", 900, "6.00 cubic foot, 162.00 cubic yard"},
		{"us", "linseed-gal", 4400, "44.00 gallon"},
		{"metric", "200x50/larch/2.4 m", 2400, "10.00 metre, 50.00 m², 1000.00 m³"},
		{"metric", "mix-bag", 750, "150.00 m³, 0.15 litre"},
		{"metric", "linseed-5", 5000, "10.00 litre"},
	} {
		c, err := ForRegion(x.region)
		if err != nil {
			t.Fatal(err)
		}
		w, ok := c.Ware(x.sku)
		var got []string
		for _, r := range w.Rates(x.price, c.System) {
			got = append(got, r.Price.String()+" "+r.Of)
		}
		if text := strings.Join(got, ", "); !ok || text != x.want {
			t.Errorf("%s at %s: %s, by hand %s", x.sku, x.price, text, x.want)
		}
	}
	c := Regions()[0]
	for _, f := range c.Fixings {
		for _, k := range f.Packs {
			w, _ := c.Ware(k.SKU)
			if r := w.Rates(money.Amount(5*k.Count), measure.Imperial); len(r) != 1 || r[0].Price != 5 {
				t.Errorf("a box of %d at five cents each: %v", k.Count, r)
			}
		}
	}
}

// What shops ask is read back as it is written, whatever the shops are called; what cannot be read is refused.
func TestSaleTexts(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 4))
	names := []string{"A", "At the yard", "brought by air", "Yard 12 left", "O'Hill & Sons", "É"}
	for range 500 {
		var list []Sale
		for _, i := range r.Perm(len(names))[:1+r.IntN(4)] {
			list = append(list, Sale{money.Amount(r.IntN(1e6)), names[i], r.IntN(50) - 1, r.IntN(2) == 0})
		}
		got, err := ReadSales(WriteSales(list))
		if err != nil || len(got) != len(list) {
			t.Fatalf("%q: %v", WriteSales(list), err)
		}
		for i, s := range got {
			if i > 0 && s.Price < got[i-1].Price {
				t.Errorf("%q: the cheapest is not first", WriteSales(got))
			}
			found := false
			for _, o := range list {
				found = found || o == s
			}
			if !found {
				t.Errorf("%+v is not of %q", s, WriteSales(list))
			}
		}
	}
	for _, text := range []string{"", "10", "10 at ", "at A", "dear at A", "-3 at A", "10 at A; 11 at A",
		"10 at A, -2 left",
		"10 at A, 1000000 left", ";", "10 by A"} {
		if got, err := ReadSales(text); err == nil {
			t.Errorf("%q is read as %v", text, got)
		}
	}
}
