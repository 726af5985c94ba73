package plan

import (
	"context"
	"testing"

	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/demo"
)

// A price beside a choice is found by a short search that starts from the plan
// that is shown. Here every one of a large garden's is held against a plan made
// from nothing with a shown plan's effort: never less than the least, mostly the same and
// never more than a hundredth of the bill away.
func TestAskedPricesAgreeWithWholePlans(t *testing.T) {
	designs, err := demo.Designs()
	if err != nil {
		t.Fatal(err)
	}
	asked, same := 0, 0
	for _, d := range designs {
		shop, err := ShopFor(d.Region)
		if err != nil {
			t.Fatal(err)
		}
		shop.Cut = &cutting.Memo{}
		now, err := Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for _, bed := range d.Beds {
			for _, field := range []string{"length", "width", "height"} {
				f, ok := design.FieldOf(bed, field)
				if !ok {
					continue
				}
				for _, by := range []measure.Length{-6, -3, -1, 2, 4, 9} {
					to := (f.LengthOf(bed) + by*shop.Step()).String()
					then, err := design.Apply(d, shop.Catalog, design.Edit{Bed: bed.ID, Field: field, Value: to})
					if err != nil {
						continue
					}
					quick, err := reckon(context.Background(), then, shop.asked(), now)
					if err != nil {
						continue
					}
					whole, err := reckon(context.Background(), then, shop, nil)
					if err != nil {
						t.Fatal(err)
					}
					asked++
					if quick.Bill.Total == whole.Bill.Total {
						same++
						continue
					}
					if off := quick.Bill.Total - whole.Bill.Total; 100*off > whole.Bill.Total ||
						100*off < -whole.Bill.Total {
						t.Errorf(
							"%s, %s of %s to %s: asked %v, whole %v",
							d.Name,
							field,
							bed.ID,
							to,
							quick.Bill.Total,
							whole.Bill.Total,
						)
					}
					for i, c := range quick.Cuts {
						w := whole.Cuts[i].Answer
						if w.Proved && c.Answer.Cost < w.Cost {
							t.Errorf("%s: %v is less than the least, %v", c.Profile.ID, c.Answer.Cost, w.Cost)
						}
					}
				}
			}
		}
	}
	if asked < 50 || 5*same < 4*asked {
		t.Errorf("%d of %d prices agree", same, asked)
	}
	t.Logf("%d of %d prices agree", same, asked)
}
