package plan_test

import (
	"math"
	"regexp"
	"strconv"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
)

// By hand, in pounds and feet. 30 in of soil push with 110/3 x 2.5²/2 = 114.6 lb on a
// foot. A 4x4 with 12 in in firm sand gives at 0.5 x 110 x 0.2917 x 1 x 3/(0.8333 + 1) =
// 26 lb, a 2x2 (1 1/2 in) at 11. Of a side of 8 ft with one post in its middle half goes to
// the post; stakes every 2 ft or so get 226 lb. What the ground does not take bends the
// boards as one beam from corner to corner: 5 w L⁴/384 E I, twice that in time.
func TestGroundByHand(t *testing.T) {
	number := func(text, pattern string) float64 {
		t.Helper()
		m := regexp.MustCompile(pattern).FindStringSubmatch(text)
		if m == nil {
			t.Fatalf("%q has no %s", text, pattern)
		}
		v, err := strconv.ParseFloat(m[1], 64)
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	for _, c := range []struct {
		edits       []design.Edit
		push, gives float64
	}{
		{[]design.Edit{set("soil", "30 in")}, 442, 26},
		{[]design.Edit{set("soil", "30 in"), set("system", "staked")}, 226, 11},
	} {
		p := mustPlan(t, "us", c.edits...)
		f, ok := finding(p, "ground-gives")
		if !ok || f.Severity != review.Warning {
			t.Fatalf("no warning among %v", codes(p))
		}
		if push := number(f.Text, `with (\d+) lb; firm`); math.Abs(push-c.push) > 1 {
			t.Errorf("%s: pushed with %.0f lb, want %.0f", f.Text, push, c.push)
		}
		if gives := number(f.Text, `gives at (\d+) lb`); gives != c.gives {
			t.Errorf("%s: gives at %.0f lb, want %.0f", f.Text, gives, c.gives)
		}
	}
	p := mustPlan(t, "us", set("soil", "24 in"))
	f, _ := finding(p, "ground-gives")
	w := p.Frames[0].Walls[0]
	l := (w.Supports[len(w.Supports)-1] - w.Supports[0]).Inches()
	rest := 110.0/3*2*2/2/12 - 0.5*110*3.5/12*3/(2.0/3+1)/3/l // lb/in, one post's hold taken off
	inertia := float64(len(w.Boards)) * 7.25 * 1.5 * 1.5 * 1.5 / 12
	cedar, err := p.Shop.Catalog.SpeciesOf("cedar")
	if err != nil {
		t.Fatal(err)
	}
	bow := 2 * 5 * rest * math.Pow(l, 4) / (384 * cedar.E * 0.9 * inertia)
	said := regexp.MustCompile(`The boards bow ([^,]*),`).FindStringSubmatch(f.Why.Result)
	got, err := measure.Parse(said[1], measure.Imperial)
	if err != nil || math.Abs(got.Inches()-bow) > 1.0/16 {
		t.Errorf("the boards bow %s, by hand %.3f in", said[1], bow)
	}
}

// What stands for years is not called wrong, and nothing jumps at 14 in: from 8 to 40 in of
// soil the severity only rises, and where it does the load is half as much again as that of
// a box of 14 in. A tie across takes the load off the ground, whatever is in it.
func TestGroundHasNoCliff(t *testing.T) {
	for _, system := range []string{"boarded", "staked", "pieced"} {
		rank := 0
		for inches := 8; inches <= 40; inches++ {
			shop, err := plan.ShopFor("us")
			if err != nil {
				t.Fatal(err)
			}
			d, err := design.Apply(
				design.New(shop.Catalog, "deep"),
				shop.Catalog,
				design.Edit{Bed: "b1", Field: "system", Value: system},
				design.Edit{
					Bed:   "b1",
					Field: "soil",
					Value: strconv.Itoa(inches),
				},
				design.Edit{Bed: "b1", Field: "mid_posts", Value: "1"},
			)
			if system == "staked" {
				d, err = design.Apply(
					design.New(shop.Catalog, "deep"),
					shop.Catalog,
					design.Edit{Bed: "b1", Field: "system", Value: system},
					design.Edit{
						Bed:   "b1",
						Field: "soil",
						Value: strconv.Itoa(inches),
					},
					design.Edit{Bed: "b1", Field: "stakes", Value: "3"},
				)
			}
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			now := 0
			if f, ok := finding(p, "ground-gives"); ok {
				now = f.Severity.Rank()
			}
			if inches <= 16 && now > review.Note.Rank() {
				t.Errorf("%s: %d in of soil, as stands for years, is a %d", system, inches, now)
			}
			if now < rank && system == "staked" { // one course more than before carries more elsewhere
				t.Errorf("%s: at %d in it is less severe than below", system, inches)
			}
			rank = now
		}
		if rank < review.Warning.Rank() {
			t.Errorf("%s: 40 in of soil is no more than worth knowing", system)
		}
	}
	if f, ok := finding(mustPlan(t, "us", set("soil", "24 in"), set("cross_ties", "3")), "ground-gives"); ok &&
		f.Severity != review.Note {
		t.Errorf("with three ties: %s", f.Text)
	}
}
