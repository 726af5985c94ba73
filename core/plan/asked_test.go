package plan

import (
	"reflect"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/long"
)

// Sizes that are remembered, from the plan itself or from those before it, are what they are when worked out anew: of
// every
// example, after its length, its soil and its length again were changed, and after the workshop's habits were.
func TestSizesAreRemembered(t *testing.T) {
	if testing.Short() {
		t.Skip("one goroutine asks")
	}
	n := 0
	for k, c := range catalog.Regions() {
		for i, e := range design.Examples() {
			if !long.Whole() && (i+k)%4 != 0 {
				continue
			}
			d, err := design.ExampleNamed(e.Name, c)
			if err != nil {
				t.Fatal(err)
			}
			shop := Shop{Catalog: c, Habits: c.Habits, Cut: &cutting.Memo{}, Sizes: &Sizes{}}
			bed := d.Beds[0].ID
			for _, edit := range [][2]string{{}, {"length", "+"}, {"soil", "+"}, {"length", "+"}, {"habits", ""}} {
				if f, ok := design.FieldOf(d.Beds[0], edit[0]); ok && f.Kind == design.LengthField {
					to := f.LengthOf(d.Beds[0]) + 2*shop.Step()
					if next, err := design.Apply(d, c, design.Edit{Bed: bed, Field: edit[0], Value: to.String()}); err == nil {
						d = next
					}
				}
				if edit[0] == "habits" {
					shop.Habits.Kerf *= 2
				}
				p, err := Make(d, shop)
				if err != nil {
					t.Fatal(err)
				}
				anew := *p
				anew.answered, anew.Shop.Sizes = nil, nil
				for _, field := range []string{"length", "width"} {
					want := Nearby(t.Context(), &anew, bed, field, shop.Step(), 6)
					for range 2 {
						if got := Nearby(t.Context(), p, bed, field, shop.Step(), 6); !reflect.DeepEqual(got, want) {
							t.Fatalf("%s in %s after %v: the %ss beside it are\n%v, and anew\n%v", e.Name, c.ID, edit, field, got, want)
						}
					}
					n += len(want)
				}
				if asks := [][]design.Edit{{{Bed: bed, Field: "soil", Value: "9 in"}}, {{Bed: bed, Field: "length",
					Value: "x"}}}; !reflect.DeepEqual(
					reasons(WhatIfs(t.Context(), p, asks)), reasons(WhatIfs(t.Context(), &anew, asks))) ||
					!reflect.DeepEqual(reasons(WhatIfs(t.Context(), p, asks)), reasons(WhatIfs(t.Context(), &anew, asks))) {
					t.Errorf("%s in %s: what-ifs that were asked before are answered in another way", e.Name, c.ID)
				}
			}
		}
	}
	t.Logf("%d sizes", n)
	if n < 100 {
		t.Errorf("only %d sizes were compared", n)
	}
}

// reasons are outcomes as they can be compared.
func reasons(list []Outcome) (out []any) {
	for _, o := range list {
		why := ""
		if o.Err != nil {
			why = o.Err.Error()
		}
		out = append(out, o.Changes, why, o.Same, o.Unasked)
	}
	return out
}
