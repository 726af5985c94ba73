package plan_test

import (
	"slices"
	"testing"

	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/laying"
	"chamfer/core/plan"
	"chamfer/long"
)

// balanced holds a plan to its balance: what is bought and owned is used, spare or left; no
// more is left than the last pack holds; every line of the bill is in it, and everything
// that a step uses.
func balanced(t *testing.T, name string, p *plan.Plan) {
	t.Helper()
	known := map[string]bool{}
	for _, b := range p.Balance() {
		known[b.Item] = true
		if b.Bought+b.Owned != b.Used+b.Spare+b.Left {
			t.Errorf("%s: %+v", name, b)
		}
		if b.Used == 0 || b.Spare < 0 || b.Left < -b.Pack/1_000_000-1000 || b.Left > b.Pack {
			t.Errorf(
				"%s: %s: %d bought, %d owned, %d used, %d spare, %d left of packs of %d",
				name,
				b.Item,
				b.Bought,
				b.Owned,
				b.Used,
				b.Spare,
				b.Left,
				b.Pack,
			)
		}
	}
	for _, l := range p.Bill.Lines {
		id := l.SKU
		if l.Group == cost.Fixings { // by its box
			for _, n := range p.Fixings.Needs {
				for _, k := range n.Packs {
					if k.Pack.SKU == id {
						id = n.Fixing.ID
					}
				}
			}
		}
		if !known[id] && l.Unit != "cut" && l.Unit != "load" {
			t.Errorf("%s: %s is bought and used by nothing", name, l.Item)
		}
	}
	kinds := []string{"base", "stone", "sand", "cement", "mortar"}
	for _, s := range p.Steps {
		for _, u := range s.Uses {
			loose := slices.ContainsFunc(p.Laying.Heaps, func(h laying.Heap) bool { return string(h.Loose.Kind) == u.Item })
			if !known[u.Item] && !(slices.Contains(kinds, u.Item) && loose) {
				t.Errorf("%s: %q uses %s, which nobody bought", name, s.Title, u.Item)
			}
		}
	}
}

// The balance of all examples and of random designs of all systems with all extras.
func TestBalance(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range design.Examples() {
			d, err := design.ExampleNamed(e.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			balanced(t, region+" "+e.Name, p)
		}
	}
	r := newDealer(15)
	for k := range long.Of(500) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		d = furnished(r.Rand, d, shop)
		p, err := plan.Make(d, shop)
		if err != nil {
			continue
		}
		balanced(t, d.Beds[0].System, p)
	}
}
