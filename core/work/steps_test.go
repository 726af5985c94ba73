package work_test

import (
	"slices"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/work"
)

// Steps of every example: each has a name of its own that stays when a price changes, says
// what to do, and tells a caution once; every act of a frame has its step; what is brought
// comes first, and soil comes after the walls stand.
func TestSteps(t *testing.T) {
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
			seen := map[string]int{}
			for i, s := range p.Steps {
				if at, ok := seen[s.ID]; ok {
					t.Errorf("%s %s: steps %d and %d are both %s", region, e.Name, at+1, i+1, s.ID)
				}
				seen[s.ID] = i
				if s.Title == "" || len(s.Do) == 0 || slices.Contains(s.Do, "") {
					t.Errorf("%s %s: step %d says nothing to do: %+v", region, e.Name, i+1, s)
				}
				for k, c := range s.Cautions {
					if c.Text == "" || c.Why == "" || slices.Contains(s.Cautions[:k], c) {
						t.Errorf("%s %s: %s warns badly: %+v", region, e.Name, s.ID, c)
					}
				}
			}
			if first := p.Steps[0].ID; first != "buy" && first != "blocks" {
				t.Errorf("%s %s begins with %s", region, e.Name, first)
			}
			for _, f := range p.Frames {
				for _, a := range f.Acts {
					told := slices.ContainsFunc(p.Steps, func(s work.Step) bool {
						return s.Title == a.Title || a.Verb == frame.Fill && slices.Contains(s.Do, a.Note)
					})
					if !told {
						t.Errorf("%s %s: %q has no step", region, e.Name, a.Title)
					}
				}
			}
			then, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			again := func(p *plan.Plan) string {
				var ids []string
				for _, s := range p.Steps {
					ids = append(ids, s.ID)
				}
				return strings.Join(ids, " ")
			}
			d.Prices = map[string]money.Amount{"2x8/cedar/10 ft": 1}
			dearer, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			if again(then) != again(p) || again(dearer) != again(p) {
				t.Errorf("%s %s: its steps are called otherwise the second time", region, e.Name)
			}
		}
	}
}
