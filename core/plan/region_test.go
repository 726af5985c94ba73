package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// A project can be moved to another region and back: sizes that were typed stay what they are
// to the nanometre, all that it is built of is sold there, and it can be planned. What cannot
// be moved is refused with the reason. Over random designs of every system.
func TestMovedToAnotherRegion(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := newDealer(5)
	moved, refused := map[string]int{}, map[string]string{}
	for k := range 150 {
		regions := [2]string{"us", "metric"}
		from, to := regions[k/7%2], regions[1-k/7%2]
		shop, err := plan.ShopFor(from)
		if err != nil {
			t.Fatal(err)
		}
		there, err := plan.ShopFor(to)
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		system := d.Beds[0].System
		next, err := design.Apply(d, shop.Catalog, design.Edit{Field: "region", Value: to})
		if err != nil {
			if len(design.Refusals(err)) == 0 {
				t.Errorf("%s: %v", system, err)
			}
			refused[system] = err.Error()
			continue
		}
		p, err := plan.Make(next, there)
		if err != nil {
			t.Errorf("%s to %s: %v\n%+v", system, to, err, next.Beds[0])
			continue
		}
		moved[system]++
		for _, l := range p.Bill.Lines {
			if l.Amount < 0 {
				t.Errorf("%s: %s costs %v", system, l.Item, l.Amount)
			}
		}
		for _, part := range p.Frames[0].Parts {
			if !there.Catalog.Sold(part.Profile, part.Species) {
				t.Errorf("%s to %s: %s of %s in %s is not sold", system, to, part.ID, part.Profile, part.Species)
			}
		}
		a, b := d.Beds[0], next.Beds[0]
		if len(p.Frames[0].Units) == 0 && len(a.Outside) == 0 && a.Options["boards_high"] == design.Auto &&
			(a.Length != b.Length || a.Width != b.Width || a.Soil != b.Soil) {
			t.Errorf("%s to %s: %v x %v x %v became %v x %v x %v", system, to, a.Length, a.Width, a.Soil, b.Length, b.Width,
				b.Soil)
		}
	}
	for _, s := range design.Systems() {
		if moved[s.Name] == 0 {
			t.Errorf("no %s was moved: %s", s.Name, refused[s.Name])
		}
	}
}

// By hand: a boarded frame of 2x8 cedar, 38.1 by 184.15 mm, 8 by 4 ft. Of what is sold in
// millimetres its thickness is nearest to 47 or 38, its sizes are 2438.4 and 1219.2 mm, and what
// the other shop asked for is gone.
func TestMovedByHand(t *testing.T) {
	us, _ := catalog.ForRegion("us")
	d, err := design.Apply(design.New(us, "x"), us, set("length", "8 ft"), set("width", "4 ft"),
		design.Edit{Field: "price:2x8/cedar/8 ft", Value: "20"})
	if err == nil {
		d, err = design.Apply(d, us, design.Edit{Field: "region", Value: "metric"})
	}
	if err != nil {
		t.Fatal(err)
	}
	metric, _ := catalog.ForRegion("metric")
	b := d.Beds[0]
	board, err := metric.Profile(b.Board)
	if err != nil || board.Thickness < 35*measure.Millimetre || board.Width < 145*measure.Millimetre {
		t.Errorf("%s, %v", b.Board, err)
	}
	if b.Length != 2438400*measure.Micrometre || b.Width != 1219200*measure.Micrometre || d.Prices != nil ||
		d.Region != "metric" {
		t.Errorf("%v by %v, prices %v, %s", b.Length, b.Width, d.Prices, d.Region)
	}
	if _, err := design.Apply(d, metric, design.Edit{Field: "region", Value: "moon"}); err == nil ||
		!strings.Contains(err.Error(), "us and metric") {
		t.Errorf("the moon: %v", err)
	}
}
