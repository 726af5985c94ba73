package plan_test

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A deep bed filled with branches under too little soil is told of, and each way to mend it does;
// what is bought for its layers is used by the step that fills it, which says them in order.
func TestFillerMends(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		p := mustPlan(t, region, set("soil", "800 mm"), set("filling", "branches: 600 mm; compost: 100 mm; mix"))
		f, ok := finding(p, "over-filler")
		if !ok || len(f.Remedies) < 2 {
			t.Fatalf("%s: %v, %d remedies", region, codes(p), len(f.Remedies))
		}
		for _, m := range f.Remedies {
			d, err := design.Apply(p.Design, p.Shop.Catalog, m.Edits...)
			if err != nil {
				t.Fatal(err)
			}
			after, err := plan.Make(d, p.Shop)
			if err != nil {
				t.Fatal(err)
			}
			if _, still := finding(after, "over-filler"); still {
				t.Errorf("%s: %s leaves it", region, m.Label)
			}
		}
		for _, s := range p.Steps {
			if s.ID != "fill" {
				continue
			}
			words := strings.Join(s.Do, " ")
			if i, j := strings.Index(words, "branches"), strings.Index(words, "compost"); i < 0 || j < i {
				t.Errorf("%s: %s", region, words)
			}
			if !strings.Contains(strings.Join(s.Have, " "), "found") || len(s.Uses) != 2 {
				t.Errorf("%s: %v, %v", region, s.Have, s.Uses)
			}
		}
		all := mustPlan(t, region, set("soil", "800 mm"))
		if p.Bill.Total >= all.Bill.Total || p.Fill.WetMass >= all.Fill.WetMass {
			t.Errorf("%s: filler saves no money, or no weight", region)
		}
	}
}

// Mulch and paths by hand: a bed of 2.4 by 1.2 m clear on a plot of 6 by 4 m, 50 mm of chips on its soil and 75 on
// the paths, which are all of the plot but the bed over its walls; cloth lies under them, lapped 100 mm of a
// metre; each is bought with what else is of chips, and used by its own step.
func TestMulchAndPaths(t *testing.T) {
	p := mustPlan(t, "metric", set("mulch", "chips"), set("freeboard", "60 mm"),
		design.Edit{Field: "plot:width", Value: "6 m"}, design.Edit{Field: "plot:depth", Value: "4 m"},
		design.Edit{Field: "ground:paths", Value: "chips"})
	c := p.Frames[0].Cavities[0]
	inside := (c.Outline[2].U - c.Outline[0].U).Metres() * (c.Outline[2].V - c.Outline[0].V).Metres()
	lo, hi := p.Frames[0].Bounds()
	paths := 24 - (hi.X-lo.X).Metres()*(hi.Y-lo.Y).Metres()
	n, ok := p.Fill.Need("chips")
	if want := inside*0.05 + paths*0.075; !ok || math.Abs(n.Settled.CubicMetres()-want) > 1e-5 {
		t.Errorf("%.5f m³ of chips, not %.5f", n.Settled.CubicMetres(), want)
	}
	cloth := false
	for _, x := range p.Ground.Covers {
		if x.Sheet.ID == "paths" {
			cloth = math.Abs(x.Total.Metres()-paths/0.9) < 0.001
		}
	}
	if !cloth {
		t.Errorf("no cloth of %.2f m under the paths", paths/0.9)
	}
	steps := map[string]bool{}
	for _, s := range p.Steps {
		steps[s.ID] = len(s.Uses) > 0
	}
	if !steps["mulch"] || !steps["paths"] {
		t.Errorf("steps: %v", steps)
	}
	for _, b := range p.Balance() {
		if b.Left < 0 || b.Used == 0 {
			t.Errorf("%+v", b)
		}
	}
	bare := mustPlan(t, "metric", set("freeboard", "60 mm"))
	if p.Fill.WetMass <= bare.Fill.WetMass || p.Frames[0].Wet <= bare.Frames[0].Wet {
		t.Error("mulch weighs nothing")
	}
}
