package plan_test

import (
	"strconv"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/record"
)

// What a job leaves, over the examples of all systems: of every screw and block what was bought and not used, to the
// piece; counted from the shed in the next job, nothing of it is bought that is there.
func TestShares(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range design.Examples() {
			d, err := design.ExampleNamed(x.Name, shop.Catalog)
			if err != nil {
				continue
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(x.Name, err)
			}
			stuff := map[string]int{}
			for _, s := range p.Shares(nil) {
				stuff[s.Item] = s.Left
			}
			for _, n := range p.Fixings.Needs {
				bought := 0
				for _, k := range n.Packs {
					bought += k.N * k.Pack.Count
				}
				if stuff[n.Fixing.ID] != bought-n.Count {
					t.Errorf("%s %s: %d of %s are left of %d bought, %d used", region, x.Name, stuff[n.Fixing.ID], n.Fixing.ID,
						bought, n.Count)
				}
			}
			for _, c := range p.Laying.Units {
				if stuff[c.Unit.ID] != c.Buy-(c.Laid-c.Part+c.Cut) {
					t.Errorf("%s %s: %d of %s are left of %d", region, x.Name, stuff[c.Unit.ID], c.Unit.ID, c.Buy)
				}
			}
			// The same again, with what is left.
			var have []design.Edit
			for _, s := range p.FromShed(stuff) {
				if s.Wanted > s.There || s.Have != 0 {
					t.Errorf("%s %s: of %s %d are wanted and %d there", region, x.Name, s.Item, s.Wanted, s.There)
				}
				have = append(have, design.Edit{Field: "have:" + s.Item, Value: strconv.Itoa(s.Wanted)})
			}
			if len(have) == 0 {
				continue
			}
			again, err := design.Apply(d, shop.Catalog, have...)
			if err != nil {
				t.Fatal(x.Name, have, err)
			}
			q, err := plan.Make(again, shop)
			if err != nil {
				t.Fatal(x.Name, err)
			}
			if q.Bill.Total > p.Bill.Total {
				t.Errorf("%s %s: with what is there it costs %v, without %v", region, x.Name, q.Bill.Total, p.Bill.Total)
			}
			for _, s := range q.Shares(nil) {
				if s.Owned > stuff[s.Item] {
					t.Errorf("%s %s: %d of %s are used, and %d were there", region, x.Name, s.Owned, s.Item, stuff[s.Item])
				}
			}
		}
	}
}

// By hand: what was written down counts, and worth is by the cheapest pack and the cheapest foot.
func TestWorth(t *testing.T) {
	p := boarded(t, nil)
	n := p.Fixings.Needs[0]
	bought := int64(0)
	for _, k := range n.Packs {
		bought += int64(k.N * k.Pack.Count)
	}
	left := int64(3)
	for _, s := range p.Shares([]record.Good{{Item: n.Fixing.ID, Left: &left, Need: int64(n.Count), Had: bought}}) {
		if s.Item == n.Fixing.ID && s.Left != 3 {
			t.Errorf("three screws were left, and %d are told", s.Left)
		}
	}
	// #8 × 1 1/4 in: 50 for 2.49, 100 for 4.49, 350 for 12.49, so 100 of them are 3.57 at the least.
	if got := p.Shop.Worth("deck-8-1-1_4", 100); got != 357 {
		t.Errorf("a hundred screws are worth %v, by hand 3.57", got)
	}
	if got := p.Shop.Worth("cmu8", 4); got != 4*248 {
		t.Errorf("four blocks are worth %v", got)
	}
	// 1x6 cedar is 5.78 for 6 ft, 7.38 for 8 ft (0.9225 a foot, the least of the four), 9.38 for 10, 11.58 for 12.
	board := catalog.Leftover{Profile: "1x6", Species: "cedar", Length: 4 * measure.Foot, Quantity: 2}
	if got := p.Shop.WorthOf(board); got != 738 {
		t.Errorf("two boards of 4 ft are worth %v, by hand 7.38", got)
	}
	if got := p.Shop.Worth("nothing", 4); got != 0 {
		t.Errorf("nothing is worth %v", got)
	}
}
