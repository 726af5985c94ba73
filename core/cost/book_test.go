package cost_test

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/money"
)

// book is a book of both kinds of shops with a price of nearly everything.
func book(cat *catalog.Catalog) cost.Book {
	r := rand.New(rand.NewPCG(24, 1))
	b := cost.Book{Shops: []cost.Shop{{ID: 1, Name: "Lowfield Yard", Fee: 650}, {ID: 2, Name: "Hill Stores"},
		{ID: 3, Name: "Brook \"Lane\" Supply", Brings: true}}}
	for _, w := range cat.Wares() {
		for _, s := range b.Shops {
			if r.IntN(3) > 0 {
				b.Quotes = append(b.Quotes, cost.Quote{Shop: s.ID, SKU: w.SKU, Price: money.Amount(r.IntN(90_000)),
					Taxed: r.IntN(2) == 0, Left: r.IntN(40) - 1, Seen: fmt.Sprintf("2027-0%d-1%d", 1+r.IntN(9), r.IntN(10))})
			}
		}
	}
	return b
}

// A price list is read back as it was written, in both regions, with what spreadsheets do to it; and each fault is
// named by its line and column, with nothing taken.
func TestPriceList(t *testing.T) {
	for _, cat := range catalog.Regions() {
		b := book(cat)
		var out strings.Builder
		if err := b.WritePrices(&out, cat); err != nil {
			t.Fatal(err)
		}
		for _, text := range []string{out.String(), "\ufeff" + out.String(), strings.ReplaceAll(out.String(), "\n", "\r\n")} {
			list, err := cost.ReadPrices(strings.NewReader(text), cat, "2030-01-01")
			if err != nil {
				t.Fatal(err)
			}
			var back []cost.Quote
			for _, p := range list {
				s, ok := b.Named(p.At)
				if !ok {
					t.Fatalf("%q is no shop of the book", p.At)
				}
				p.Shop = s.ID
				back = append(back, p.Quote)
			}
			if !reflect.DeepEqual(back, b.Quotes) {
				t.Error(cat.ID, "the list is read back otherwise")
			}
		}
	}
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	const head = "shop,item,price,tax,left,seen\n"
	for text, want := range map[string]string{
		"":                                           "line 1: a price list begins",
		"shop,item\n":                                "line 1: the column price is missing",
		"shop,item,price,colour\n":                   `line 1, column 4: "colour" is no column`,
		"shop,item,price,price\n":                    `line 1, column 4: "price" is there twice`,
		head + "A,cmu8,2.48,,,\nB,cmu8":              "line 3",
		head + "A,cmu8,2.48,,,\nB,cmu8,dear,,,":      "line 3, column 8 (price): ",
		head + "A,cmu8,-2,,,":                        "line 2, column 8 (price): ",
		head + "A,cmu9,2.48,,,":                      `line 2, column 3 (item): nothing is sold here as "cmu9"`,
		head + "A;B,cmu8,2.48,,,":                    "line 2, column 1 (shop): a name without commas",
		head + ",cmu8,2.48,,,":                       "line 2, column 1 (shop): a shop has a name",
		head + "A,cmu8,2.48,maybe,,":                 `line 2, column 13 (tax): "maybe" is neither`,
		head + "A,cmu8,2.48,with,many,":              `line 2, column 18 (left): "many" is no number`,
		head + "A,cmu8,2.48,,,soon":                  `line 2, column 15 (seen): "soon" is no day`,
		head + "A,cmu8,2.48,,,\nA,cmu8,2.50,,,":      "line 3, column 3 (item): cmu8 at A is there twice",
		head + "A,\"2x6/cedar/8 ft@hill\",2.48,,,":   "line 2, column 3 (item): nothing is sold here",
		head + "A,\"cmu8,2.48,,,":                    "line 2",
		head + strings.Repeat("A,cmu8,2.48,,,", 9e4): "a price list of more than",
	} {
		list, err := cost.ReadPrices(strings.NewReader(text), cat, "2030-01-01")
		if err == nil || !strings.Contains(err.Error(), want) || list != nil {
			t.Errorf("%.60q: %v, not %q", text, err, want)
		}
	}
	list, err := cost.ReadPrices(strings.NewReader("price,item,shop\n2.48,cmu8,A\n"), cat, "2030-01-01")
	if err != nil || len(list) != 1 || list[0].Seen != "2030-01-01" || list[0].Left != catalog.Plenty || list[0].Taxed {
		t.Error("columns in another order:", list, err)
	}
}

// By hand: 10.72 with 7.25 % tax in it is 9.995… before, 10.00 to the cent; 11.90 with 19 % is just 10.00.
func TestNet(t *testing.T) {
	for _, c := range []struct {
		price money.Amount
		rate  int
		want  money.Amount
	}{{1072, 725, 1000}, {1190, 1900, 1000}, {1, 2000, 1}, {0, 725, 0}, {999, 0, 999}} {
		if got := (cost.Quote{Price: c.price, Taxed: true}).Net(c.rate); got != c.want {
			t.Errorf("%s with %d in it: %s, by hand %s", c.price, c.rate, got, c.want)
		}
		if got := (cost.Quote{Price: c.price}).Net(c.rate); got != c.price {
			t.Errorf("%s without: %s", c.price, got)
		}
	}
}

// What shops ask: the cheapest first, none that has none left; what stands in for a thing with a price and has none is
// sold nowhere, and a kind that no chosen shop has any of is told as such.
func TestSales(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	b := cost.Book{Shops: []cost.Shop{{ID: 1, Name: "A"}, {ID: 2, Name: "B", Brings: true}}, Quotes: []cost.Quote{
		{Shop: 1, SKU: "2x6/cedar/8 ft", Price: 1200, Left: 3}, {Shop: 2, SKU: "2x6/cedar/8 ft", Price: 1100, Left: -1},
		{Shop: 1, SKU: "2x6/cedar/12 ft", Price: 1500, Left: 0}, {Shop: 2, SKU: "cmu8", Price: 200, Left: -1}}}
	all := func(cost.Shop) bool { return true }
	sales, none := b.Sales(cat, 0, all)
	if got := catalog.WriteSales(sales["2x6/cedar/8 ft"]); got != "11.00 brought by B; 12.00 at A, 3 left" {
		t.Error(got)
	}
	if list, told := sales["2x6/cedar/12 ft"]; !told || len(list) != 0 || len(none) != 0 {
		t.Error("a length that there is none of:", list, told, none)
	}
	if list, told := sales["2x6/cedar/10 ft"]; !told || len(list) != 0 {
		t.Error("a length that no shop has a price of:", list, told)
	}
	if _, told := sales["2x8/cedar/8 ft"]; told {
		t.Error("another profile is told of")
	}
	sales, none = b.Sales(cat, 0, func(s cost.Shop) bool { return s.ID == 1 })
	if !none["cmu8"] || len(none) != 1 || len(sales["2x6/cedar/8 ft"]) != 1 {
		t.Error("A alone:", none, sales["2x6/cedar/8 ft"])
	}
	with := cat.Selling(map[string][]catalog.Sale{"2x6/cedar/8 ft": {{Price: 1100, At: "B", Left: 2}, {Price: 1200,
		At:   "A",
		Left: -1}}, "2x6/cedar/10 ft": nil}, map[string]string{})
	var labels []string
	for _, o := range with.OffersOf("2x6", "cedar") {
		if o.Length < 11*12*254e5 {
			labels = append(labels, fmt.Sprintf("%s %s %s %d %v", o.SKU, o.Label, o.Price, o.Left, o.Limited))
		}
	}
	want := []string{"2x6/cedar/8 ft@b 8 ft from B 11.00 2 true", "2x6/cedar/8 ft@a 8 ft from A 12.00 -1 false"}
	if !reflect.DeepEqual(labels, want) {
		t.Errorf("%q, not %q", labels, want)
	}
	if with.Selling(nil, nil) != cat {
		t.Error("without shops it is not the region's own")
	}
}
