package plan_test

import (
	"context"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// What a map says of a size is what the plan of the bed in that size says; each mark has less waste than all beside it.
func TestSizeMap(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	p := boarded(t, nil)
	m, err := p.SizeMap(context.Background(), "b1")
	if err != nil || m.Stopped || len(m.Cells) != 57*25 {
		t.Fatalf("%v, %d cells", err, len(m.Cells))
	}
	looked := 0
	for i := 0; i < len(m.Cells); i += 97 {
		c := m.Cells[i]
		d, err := design.Apply(p.Design, p.Shop.Catalog, plan.SizeEdits(p.Design.Beds[0], c)...)
		if err != nil {
			if c.Built {
				t.Errorf("%v by %v is refused: %v", c.Length, c.Width, err)
			}
			continue
		}
		then, err := plan.Make(d, p.Shop)
		if err != nil || then.Bill.Total > c.Total || then.Area() == 0 {
			t.Errorf("%v by %v costs %v on the map, and %v, %v", c.Length, c.Width, c.Total, then.Bill.Total, err)
		}
		looked++
	}
	best := m.Best(5, 54*measure.Inch)
	if looked < 8 || len(best) != 5 {
		t.Errorf("%d were looked at, %d are best", looked, len(best))
	}
	for i, c := range best {
		if c.Waste() < 0 || c.Waste() > 0.3 || c.Width > 54*measure.Inch || i > 0 && c.PerArea < best[i-1].PerArea {
			t.Errorf("%v by %v wastes %.0f %%", c.Length, c.Width, 100*c.Waste())
		}
	}
}

// A wall of blocks is built in sizes of its own: the map has those, and no others.
func TestSizeMapOfBlocks(t *testing.T) {
	p := boarded(t, nil, design.Edit{Bed: "b1", Field: "system", Value: "block-wall"})
	m, err := p.SizeMap(context.Background(), "b1")
	built := 0
	for _, c := range m.Cells {
		if c.Built {
			built++
		}
	}
	if err != nil || built < len(m.Cells)/2 || built < 20 {
		t.Errorf("%d of %d sizes are built: %v", built, len(m.Cells), err)
	}
}

func BenchmarkSizeMap(b *testing.B) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		b.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		b.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := p.SizeMap(context.Background(), "b1"); err != nil {
			b.Fatal(err)
		}
	}
}
