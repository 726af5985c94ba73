package plan_test

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// By hand: a bed of 96 x 48 in clear in two courses of 2x8, 99 x 51 in over its walls and 14 1/2 in high. The
// front and the back show 2 x 99 x 14.5 in², the ends between them 2 x 48 x 14.5, and all of it 441 in² of
// top edge; at the four corners the sides' end grain shows, 4 x 1.5 x 14.5. Oil: 7 m² a litre first and 12
// after, end grain three times, a tenth wasted: 3.035 m² and 0.056 m² take 0.79 l, one quart.
func TestFinishByHand(t *testing.T) {
	p := mustPlan(t, "us", set("finish", "linseed"))
	b := p.Finish.Beds[0]
	faces, ends := 2*99*14.5+2*48*14.5+441, 4*1.5*14.5
	if math.Abs(b.Faces.SquareFeet()*144-faces) > 0.5 || math.Abs(b.Ends.SquareFeet()*144-ends) > 0.1 {
		t.Errorf("%.1f in² of faces, not %.1f; %.1f of ends, not %.1f", b.Faces.SquareFeet()*144, faces,
			b.Ends.SquareFeet()*144, ends)
	}
	c := p.Finish.Cans[0]
	if want := (faces + 3*ends) * 0.00064516 * (1/7.0 + 1/12.0) * 1.1; math.Abs(c.Volume.Litres()-want) > 0.001 {
		t.Errorf("%.4f l, not %.4f", c.Volume.Litres(), want)
	}
	if len(c.Tins) != 1 || c.Tins[0].ID != "linseed-qt" || c.Tins[0].Count != 1 {
		t.Errorf("%+v", c.Tins)
	}
	rags := false
	for _, s := range p.Steps {
		if strings.HasPrefix(s.ID, "finish") {
			for _, x := range s.Cautions {
				rags = rags || strings.Contains(x.Why, "fire")
			}
		}
	}
	if !rags {
		t.Error("nobody is told of oily rags")
	}
}

// Every system, brushed: what is bought is enough and used by a step, no more than a tin is left, and the total
// is told with it; what is of stone takes nothing.
func TestFinishEverySystem(t *testing.T) {
	if testing.Short() {
		t.Skip("dozens of designs")
	}
	brushed := 0
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range design.Systems() {
			for _, of := range []string{"tung", "stain"} {
				d := design.New(shop.Catalog, "x")
				d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "system", Value: s.Name})
				if err != nil {
					t.Fatal(err)
				}
				if _, ok := design.FieldOf(d.Beds[0], "finish"); !ok {
					continue
				}
				if d, err = design.Apply(d, shop.Catalog, set("finish", of), set("count", "3")); err != nil {
					t.Fatal(err)
				}
				p, err := plan.Make(d, shop)
				if err != nil {
					t.Fatal(err)
				}
				if f := p.Figure("total"); f.Value != float64(p.Bill.Total) {
					t.Errorf("%s, %s: the total is told as %s", region, s.Name, f.Text)
				}
				for _, c := range p.Finish.Cans {
					brushed++
					var held measure.Volume
					for _, x := range c.Tins {
						held += x.Tin * measure.Volume(x.Count)
					}
					if held < c.Volume {
						t.Errorf("%s, %s: tins hold %v of %v", region, s.Name, held, c.Volume)
					}
				}
				for _, b := range p.Balance() {
					if strings.HasPrefix(b.Item, of+"-") && (b.Left < 0 || b.Left >= b.Pack || b.Used == 0) {
						t.Errorf("%s, %s: %+v", region, s.Name, b)
					}
				}
			}
		}
	}
	if brushed < 40 {
		t.Errorf("only %d were brushed", brushed)
	}
}
