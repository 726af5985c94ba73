package plan_test

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/plan"
)

// A region is written as a file, all its tables, and read back as what it was but for its name; every way to build it
// had is built of it. Changed, it sells what the file says and nothing that it leaves out.
func TestRegionOfOnesOwn(t *testing.T) {
	for _, like := range []string{"us", "metric"} {
		raw, err := catalog.WriteRegion(like, "lane-"+like, "The lane, "+like)
		if err != nil {
			t.Fatal(err)
		}
		c, err := catalog.ReadRegion(raw)
		if err != nil {
			t.Fatal(like, err)
		}
		was, err := catalog.ForRegion(like)
		if err != nil {
			t.Fatal(err)
		}
		back := *c
		back.ID, back.Name = was.ID, was.Name
		if !reflect.DeepEqual(&back, was) {
			t.Errorf("%s is read back otherwise", like)
		}
	}
	own := `{"format": "chamfer-region/1", "like": "us",
		"region": {"id": "reach", "name": "Fennick Reach", "currency": {"code": "XTS", "symbol": "¤"},
			"habits": {"tax_basis_points": 600}},
		"tables": {
			"profiles": [{"id": "3x8", "name": "3x8", "kind": "board", "thickness": "2 1/2 in", "width": "7 1/4 in",
				"source": "the mill at the brook"}],
			"timber_prices": [{"profile": "3x8", "species": "cedar", "length": "10 ft", "price": "31.00", "source": "the mill"},
				{"profile": "2x8", "species": "cedar", "length": "8 ft", "price": "9.00", "source": "the mill"}],
			"fills": [{"of": "mix", "id": "mix-bag", "name": "Lane soil, 2 cu ft bag", "kind": "bag", "pack": "2 ft3",
				"price": "8.00", "delivery": "0", "wet_density": "1500", "source": "the yard"}],
			"fixings": [{"id": "deck-10-4", "name": "#10 × 4 in deck screw", "kind": "screw", "gauge": "#10",
				"diameter": "0.19 in", "root": "0.152 in", "length": "4 in", "pack": "75", "price": "9.90", "source": "the yard"}],
			"sheets": [{"id": "cardboard", "name": "Feed sacks, cut open", "roll_width": "3 ft", "roll_length": "30 ft",
				"lap": "6 in", "price": "4.00", "source": "the farm"}]},
		"without": {"species": ["redwood"], "finishes": ["linseed-qt"]}}`
	c, err := catalog.ReadRegion([]byte(own))
	if err != nil {
		t.Fatal(err)
	}
	if err := plan.CheckRegion(c); err != nil {
		t.Fatal(err)
	}
	few := strings.Replace(own, `"finishes": ["linseed-qt"]`, `"units": ["cmu8"]`, 1)
	if c, err := catalog.ReadRegion([]byte(few)); err != nil || plan.CheckRegion(c) == nil ||
		!strings.Contains(plan.CheckRegion(c).Error(), "does not build hollow-block:") {
		t.Errorf("without its hollow block: %v", err)
	}
	shop := plan.Shop{Catalog: c, Habits: c.Habits}
	d, err := design.Apply(design.New(c, "Own"), c, design.Edit{Bed: "b1", Field: "board", Value: "3x8"})
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	bill := ""
	for _, l := range p.Bill.Lines {
		bill += l.SKU + " " + l.Item + " " + l.Price.String() + "; "
	}
	for _, want := range []string{"3x8/cedar/10 ft", "31.00", "Feed sacks, cut open 4.00"} {
		if !strings.Contains(bill, want) {
			t.Errorf("the bill has no %q: %s", want, bill)
		}
	}
	if p.Bill.TaxRate != 600 || !strings.HasPrefix(shop.Currency().Format(100), "¤") {
		t.Error("tax and money are not the region's own")
	}
	if us, err := catalog.ForRegion("us"); err != nil || us.Sold("3x8", "cedar") || !us.Sold("2x6", "redwood") ||
		c.Sold("2x6", "redwood") {
		t.Error("what is its own is the other region's too, or the other way about")
	}
	for what, want := range map[string]string{
		`"format": "chamfer-region/1"`:   `"format": "x"` + "\x00format:",
		`"like": "us"`:                   `"like": "moon"` + "\x00like:",
		`"id": "reach"`:                  `"id": "us"` + "\x00region.id:",
		`"width": "7 1/4 in"`:            `"width": "wide"` + "\x00tables.profiles, row 1, width:",
		`"kind": "board"`:                `"kind": "cheese"` + "\x00profile 3x8:",
		`"price": "31.00"`:               `"price": "-1"` + "\x00tables.timber_prices, row 1, price:",
		`"source": "the farm"`:           `"source": ""` + "\x00tables.sheets, row 1, source:",
		`"profile": "3x8"`:               `"profile": "9x9"` + "\x00timber price 9x9/cedar/10 ft:",
		`"tables": {`:                    `"tables": {"cheese": [], ` + "\x00tables:",
		`"species": ["redwood"]`:         `"species": ["larch"]` + "\x00without.species:",
		`"lap": "6 in"`:                  `"lapp": "6 in"` + "\x00tables.sheets, row 1: \"lapp\" is none",
		`"code": "XTS"`:                  `"code": "X"` + "\x00region.currency:",
		`"tax_basis_points": 600`:        `"tax_basis_points": -600` + "\x00region.habits:",
		`"pack": "2 ft3"`:                `"pack": "2 buckets"` + "\x00tables.fills, row 1, pack:",
		`"id": "mix-bag", "name": "Lane`: `"id": "cardboard", "name": "Lane` + "\x00cardboard:",
		`"region": {"id": "reach"`:       `"region": {"colour": 3, "id": "reach"` + "\x00region:",
		`"finishes": ["linseed-qt"]`:     `"units": ["cmu8h"]` + "\x00unit cmu8:",
	} {
		to, fault, _ := strings.Cut(want, "\x00")
		if _, err := catalog.ReadRegion([]byte(strings.Replace(own, what, to, 1))); err == nil ||
			!strings.Contains(err.Error(),
				fault) {
			t.Errorf("%s: %v, not %q", to, err, fault)
		}
	}
	if !json.Valid([]byte(own)) {
		t.Error("the example is no JSON")
	}
}
