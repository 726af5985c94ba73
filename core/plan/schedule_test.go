package plan_test

import (
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A project of six beds, its steps with all else and its calendar.
func BenchmarkCalendarOfSixBeds(b *testing.B) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		b.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		b.Fatal(err)
	}
	for range 5 {
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "copy-bed"}); err != nil {
			b.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		b.Fatal(err)
	}
	b.Log(len(p.Frames), len(p.Steps))
	for b.Loop() {
		if _, err := p.Schedule(nil); err != nil {
			b.Fatal(err)
		}
	}
}
