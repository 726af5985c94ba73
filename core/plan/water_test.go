package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

// Drip in beds of every system, alone and two on one supply: every line lies in soil, every part is
// counted, bought, and used by a step; groups run within what the tap gives; and what they get in a
// week is what the beds need.
func TestDripLaid(t *testing.T) {
	if testing.Short() {
		t.Skip("dozens of designs")
	}
	beds := 0
	for _, region := range []string{"us", "metric"} {
		for _, s := range design.Systems() {
			shop, err := plan.ShopFor(region)
			if err != nil {
				t.Fatal(err)
			}
			d := design.New(shop.Catalog, "x")
			if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "system", Value: s.Name}); err != nil {
				t.Fatal(err)
			}
			if _, ok := design.FieldOf(d.Beds[0], "water"); !ok {
				continue
			}
			if d, err = design.Apply(d, shop.Catalog, set("water", "drip"), design.Edit{Field: "count", Value: "2"},
				design.Edit{Field: "water:tap", Value: "1 m;0"}); err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			w, lines, emitters := p.Water, 0, 0
			for _, b := range w.Beds {
				beds++
				lines, emitters = lines+len(b.Lines), emitters+b.Emitters
				z := w.Zones[b.Zone]
				if got := b.Flow * float64(z.Round()*z.Starts*w.Days) / 60; got < b.Week {
					t.Errorf("%s, %s: it gets %.0f l a week of %.0f", region, s.Name, got, b.Week)
				}
			}
			count := map[string]int{}
			for _, x := range w.Parts {
				count[x.Fitting.ID] = x.Count
			}
			if count["drip-end"] != lines || lines == 0 || emitters < lines || count["drip-timer"] != len(w.Zones) ||
				count["drip-elbow"] < 4 || count["drip-breaker"] != 1 {
				t.Errorf("%s, %s: %d lines, %d emitters: %v", region, s.Name, lines, emitters, count)
			}
			for _, z := range w.Zones {
				if len(z.Beds) > 1 && (z.Flow > w.Supply || z.Lost > 0.2*w.Head) {
					t.Errorf("%s, %s: a group takes %.0f of %.0f l/h", region, s.Name, z.Flow, w.Supply)
				}
			}
			for _, b := range p.Balance() {
				if strings.HasPrefix(b.Item, "drip-") && (b.Left < 0 || b.Left >= b.Pack || b.Used == 0) {
					t.Errorf("%s, %s: %s: %+v", region, s.Name, b.Name, b)
				}
			}
			if f := p.Figure("total"); f.Value != float64(p.Bill.Total) {
				t.Errorf("%s, %s: the total is told as %s", region, s.Name, f.Text)
			}
			n := 0
			for _, l := range p.Bill.Lines {
				if strings.HasPrefix(l.SKU, "drip-") {
					n++
				}
			}
			if n != len(w.Parts) {
				t.Errorf("%s, %s: %d of %d parts are on the bill", region, s.Name, n, len(w.Parts))
			}
		}
	}
	if beds < 60 {
		t.Errorf("only %d beds", beds)
	}
	// A tap that gives little waters the beds one after the other; a low butt gives less an hour.
	p := mustPlan(t, "us", set("water", "drip"), set("count", "4"),
		design.Edit{Field: "water:flow", Value: "1 gal in 60 s"})
	if len(p.Water.Zones) < 2 {
		t.Errorf("four beds run at once off a trickle: %+v", p.Water.Zones)
	}
	butt := mustPlan(t, "us", set("water", "drip"), design.Edit{Field: "water:head", Value: "3 ft"})
	if butt.Water.Flowing > 0.3*butt.Water.Kit.Each || butt.Water.Head != (3*measure.Foot).Metres() {
		t.Errorf("under 3 ft an emitter gives %.2f l/h", butt.Water.Flowing)
	}
}

// A tap a long way off loses more of the head than may be; a butt on the ground trickles; and of more beds than a
// plot holds one by one the rest is told.
func TestFarTap(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	told := func(edits ...design.Edit) map[string]bool {
		d := design.New(shop.Catalog, "x")
		if d, err = design.Apply(d, shop.Catalog, edits...); err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		list := map[string]bool{}
		for _, f := range p.Findings {
			list[f.Code] = true
		}
		return list
	}
	at := design.Edit{Field: "water:tap", Value: "0;0"}
	size := []design.Edit{{Field: "plot:width", Value: "300 ft"}, {Field: "plot:depth", Value: "160 ft"},
		set("water", "drip"), set("length", "25 ft"), set("drip_apart", "6 in")}
	if got := told(append(size, at, set("place:0", "3 ft;3 ft"))...); got["drip-far"] || got["drip-short"] {
		t.Errorf("beside its tap: %v", got)
	}
	if got := told(append(size, at, set("place:0", "270 ft;150 ft"))...); !got["drip-far"] || got["drip-trickle"] {
		t.Errorf("420 ft from its tap: %v", got)
	}
	if got := told(append(size, at, design.Edit{Field: "water:head", Value: "3 ft"})...); !got["drip-trickle"] {
		t.Errorf("from a butt 3 ft up: %v", got)
	}
	if got := told(append(size, at, design.Edit{Field: "water:flow", Value: "1 l in 60 s"})...); !got["drip-short"] {
		t.Errorf("from a tap that drips: %v", got)
	}
	if got := told(set("count", "100"), design.Edit{Field: "copy-bed", Bed: "b1"},
		design.Edit{Bed: "b2", Field: "count", Value: "100"}); !got["not-laid-out"] {
		t.Errorf("200 beds: %v", got)
	}
}
