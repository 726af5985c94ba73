package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/long"
)

// What closes comes after what is inside it, and what lies on soil after the soil, over random designs and the systems
// that have it: cloth under the cap, a grid on settled soil, mesh round a basket before it is filled, a frame squared
// once there is one. No step is told twice.
func TestStepsInOrder(t *testing.T) {
	r := newDealer(31)
	seen := map[string]int{}
	for k := range long.Of(600) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		for _, e := range []design.Edit{{Bed: "b1", Field: "liner", Value: "fabric"},
			{Bed: "b1", Field: "cap", Value: "mitred"}, {Bed: "b1", Field: "grid", Value: "string"}} {
			if next, err := design.Apply(d, shop.Catalog, e); err == nil {
				d = next
			}
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		inOrder(t, d.Beds[0].System, p.Steps, seen)
	}
	for _, name := range []string{"keyhole", "sleeper", "tiered", "boarded", "staked"} {
		shop, err := plan.ShopFor("us")
		if err != nil {
			t.Fatal(err)
		}
		d, err := design.ExampleNamed(name, shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		inOrder(t, name, p.Steps, seen)
	}
	for _, what := range []string{"cloth, cap", "settled, grid", "mesh, layers", "joined, squared", "squared, driven"} {
		if seen[what] == 0 {
			t.Errorf("nothing was seen of %q: %v", what, seen)
		}
	}
}

func inOrder(t *testing.T, system string, steps []work.Step, seen map[string]int) {
	t.Helper()
	at := map[string]int{}
	for i, s := range steps {
		if _, twice := at[s.ID]; twice {
			t.Errorf("%s: %s is told twice", system, s.ID)
		}
		at[s.ID] = i
	}
	for a, first := range at {
		for b, then := range at {
			of := func(id string) string { bed, _, _ := strings.Cut(id, "."); return bed }
			same := of(a) == of(b)
			for what, is := range map[string]bool{
				"cloth, cap":      same && strings.Contains(a, ".liner") && strings.Contains(b, ".fix-cap."),
				"settled, grid":   a == "settle" && strings.HasSuffix(b, ".fit-out.grid"),
				"filled, settled": a == "fill" && b == "settle",
				"mesh, layers":    same && strings.HasSuffix(a, ".basket.line") && strings.HasSuffix(b, ".lay.layers"),
				"basket, mesh":    same && strings.HasSuffix(a, ".fit-out.basket") && strings.HasSuffix(b, ".basket.line"),
				"joined, squared": same && strings.Contains(a, ".join-up.") && strings.HasSuffix(b, ".square"),
				"squared, driven": same && strings.HasSuffix(a, ".square") && strings.Contains(b, ".drive."),
			} {
				if !is {
					continue
				}
				if seen[what]++; first > then {
					t.Errorf("%s: %s comes after %s", system, a, b)
				}
			}
		}
	}
}
