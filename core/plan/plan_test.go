package plan_test

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/demo"
	"chamfer/export"
)

func mustPlan(t testing.TB, region string, edits ...design.Edit) *plan.Plan {
	t.Helper()
	shop, err := plan.ShopFor(region)
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(shop.Catalog, "a bed")
	for i := range edits {
		if !strings.Contains(edits[i].Field, ":") {
			edits[i].Bed = d.Beds[0].ID
		}
	}
	if d, err = design.Apply(d, shop.Catalog, edits...); err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func set(field, value string) design.Edit { return design.Edit{Field: field, Value: value} }

// The default American bed counted by hand. 96 x 48 in clear in 2x8, two
// courses: 4 sides of 99 in, one to a 10 ft board (2 would need 198 1/8 of 192
// in a 16 ft one, and the car takes 12 ft); 4 ends of 48 in, two to a 10 ft
// board (96 1/8 > 96). So 6 ten-foot boards. Posts: 4 of 13 1/2 and, at one mid
// post a side, 2 of 25 1/2 in: 54 + 51 + 5 x 1/8 = 105 5/8 in of one 10 ft 4x4.
// Joints: 8 boards at 2 corner posts and 4 sides at a mid post, 20 x 3 screws.
func TestDefaultBedByHand(t *testing.T) {
	p := mustPlan(t, "us")
	want := map[string]int{"2x8/cedar/10 ft": 6, "4x4/cedar/10 ft": 1}
	for _, l := range p.Bill.Lines {
		if l.Group == cost.Timber && want[l.SKU] != l.Quantity {
			t.Errorf("%d of %s", l.Quantity, l.SKU)
		}
		if l.Group == cost.Timber {
			delete(want, l.SKU)
		}
	}
	if len(want) > 0 || p.Screws() != 60 || p.Boards() != 7 {
		t.Errorf("missing %v, %d screws, %d boards", want, p.Screws(), p.Boards())
	}
	for _, c := range p.Cuts {
		if !c.Answer.Proved {
			t.Errorf("%s is not proved least", c.Profile.ID)
		}
	}
	// The bill adds up, line by line, and to what a foot and a year cost.
	var sum money.Amount
	for _, l := range p.Bill.Lines {
		if l.Amount != l.Price.Times(l.Quantity) {
			t.Errorf("%s: %v", l.SKU, l.Amount)
		}
		sum += l.Amount
	}
	if sum != p.Bill.Total || p.PerArea() != money.Amount(math.Round(float64(sum)/32)) {
		t.Errorf("sum %v, total %v, %v a square foot", sum, p.Bill.Total, p.PerArea())
	}
	if best, worst := p.PerYear(); best != sum.Per(20) || worst != sum.Per(10) {
		t.Errorf("%v to %v a year", best, worst)
	}
}

// Six of a bed: every count is six times one, except where sharing boards,
// boxes and rolls saves something.
func TestCountMultiplies(t *testing.T) {
	one, six := mustPlan(
		t,
		"us",
		set("cap", "butted"),
		set("grass", "strip"),
	), mustPlan(
		t,
		"us",
		set("cap", "butted"),
		set("grass", "strip"),
		set("count", "6"),
	)
	if six.Area() != 6*one.Area() || six.Fill.Net != 6*one.Fill.Net || six.Screws() != 6*one.Screws() ||
		six.Ground.Footprint != 6*one.Ground.Footprint ||
		six.Ground.Grass["strip"] != 6*one.Ground.Grass["strip"] ||
		six.Ground.Holes[0].Count != 6*one.Ground.Holes[0].Count {
		t.Errorf("not six times one: area %v, soil %v, %d screws", six.Area(), six.Fill.Net, six.Screws())
	}
	pieces := 0
	for _, c := range six.Cuts {
		for _, q := range c.Request.Pieces {
			pieces += q.Quantity
		}
		if len(c.Answer.Unmet) > 0 {
			t.Errorf("%s: %v", c.Profile.ID, c.Answer.Unmet)
		}
	}
	if pieces != 6*len(one.Frames[0].Parts) || six.Timber() > 6*one.Timber() || six.Bill.Total > 6*one.Bill.Total {
		t.Errorf("%d pieces, timber %v against %v", pieces, six.Timber(), one.Timber())
	}
	if _, err := design.Apply(one.Design, one.Shop.Catalog, design.Edit{Bed: "b1", Field: "count",
		Value: "0"}); err == nil {
		t.Error("no beds at all are planned")
	}
}

func TestHabitsReachEveryPlan(t *testing.T) {
	base := mustPlan(t, "us")
	shop := base.Shop
	for name, c := range map[string]struct {
		change func(*plan.Shop)
		moved  func(a, b *plan.Plan) bool
	}{
		"tax": {func(s *plan.Shop) { s.Habits.TaxBasisPoints = 1000 }, func(a,
			b *plan.Plan) bool {
			return b.Bill.Total == a.Bill.Total+a.Bill.Total.Rate(1000)
		}},
		"settling": {func(s *plan.Shop) { s.Habits.SettlingPerMille = 300 }, func(a,
			b *plan.Plan) bool {
			return b.Fill.Order > a.Fill.Order
		}},
		"kerf": {func(s *plan.Shop) { s.Habits.Kerf = measure.Inch / 4 }, func(a, b *plan.Plan) bool {
			return b.Cuts[0].Answer.Boards[0].Offcut < a.Cuts[0].Answer.Boards[0].Offcut
		}},
		"carry": {func(s *plan.Shop) { s.Habits.Carry = 16 * measure.Foot }, func(a,
			b *plan.Plan) bool {
			return b.Timber() <= a.Timber()
		}},
		"symbol": {func(s *plan.Shop) { s.Habits.CurrencySymbol = "F" }, func(a,
			b *plan.Plan) bool {
			return strings.HasPrefix(b.Figure("total").Text, "F")
		}},
	} {
		changed := shop
		c.change(&changed)
		p, err := plan.Make(base.Design, changed)
		if err != nil || !c.moved(base, p) {
			t.Errorf("%s does not reach the plan, %v", name, err)
		}
	}
	// A price of one's own reaches the bill and the choice of boards.
	own := mustPlan(t, "us", design.Edit{Field: "price:2x8/cedar/12 ft", Value: "5"})
	if own.Bill.Of(cost.Timber) >= base.Bill.Of(cost.Timber) || !strings.Contains(own.Bill.Lines[0].SKU, "12 ft") ||
		!own.Bill.Lines[0].Own {
		t.Errorf("12 ft boards at 5.00 are not bought: %+v", own.Bill.Lines[0])
	}
}

// A kerf is printed as it is, however coarsely lengths are.
func TestKerfIsNotRounded(t *testing.T) {
	p := mustPlan(t, "metric")
	shop := p.Shop
	shop.Habits.Precision = "5 mm"
	p, err := plan.Make(p.Design, shop)
	if err != nil {
		t.Fatal(err)
	}
	if said := fmt.Sprint(p.Steps, p.Explain(p.Figure("boards").Why)); strings.Count(said, "3 mm") != 2 {
		t.Errorf("a kerf of 3 mm is not said twice: %s", p.Explain(p.Figure("boards").Why))
	}
}

// The steps carry this bed's own numbers, and every part is used in one.
func TestStepsNameEveryPart(t *testing.T) {
	p := mustPlan(t, "us", set("cap", "mitred"), set("post_in_ground", "4 in"))
	used := map[string]int{}
	var all strings.Builder
	ids := map[string]bool{}
	for _, s := range p.Steps {
		if ids[s.ID] || s.Title == "" || len(s.Do) == 0 {
			t.Errorf("step %q comes twice or is empty", s.ID)
		}
		ids[s.ID] = true
		for _, part := range s.New {
			used[part]++
		}
		fmt.Fprintln(&all, s.Title, s.Do, s.Cautions)
	}
	for _, part := range p.Frames[0].Parts {
		if used[part.ID] != 1 {
			t.Errorf("%s is used in %d steps", part.ID, used[part.ID])
		}
	}
	// Outside 8' 7" x 4' 7" (capped: 96 + 4 + 3 in): diagonal 116.73 in.
	for _, words := range []string{`8' 7" by 4' 7"`, `9' 8 3/4"`, "mitred at 45", "9/64 in", "pipes and cables",
		"barrow-load", "local rules"} {
		if !strings.Contains(all.String(), words) {
			t.Errorf("no step says %q", words)
		}
	}
	screws := 0
	for _, n := range p.Fixings.Needs {
		screws += n.Count
	}
	if got := p.Screws(); got != screws {
		t.Errorf("%d screws, the needs say %d", got, screws)
	}
}

// The same design gives the same bytes, whatever was planned in between.
func TestDeterministic(t *testing.T) {
	list, err := demo.Designs()
	if err != nil {
		t.Fatal(err)
	}
	first := make([]bytes.Buffer, len(list))
	for round := range 5 {
		for i, d := range list {
			shop, err := plan.ShopFor(d.Region)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			var b bytes.Buffer
			if err := export.WritePlan(&b, p); err != nil {
				t.Fatal(err)
			}
			if round == 0 {
				first[i] = b
			} else if !bytes.Equal(first[i].Bytes(), b.Bytes()) {
				t.Fatalf("round %d: %s differs", round, d.Name)
			}
		}
	}
}

// Nearby finds, by planning each, the longest size at its price of timber.
func TestNearby(t *testing.T) {
	p := mustPlan(t, "us")
	near := plan.Nearby(context.Background(), p, "b1", "length", measure.Inch, 14)
	now := 0
	for i, k := range near {
		if k.Now {
			now++
			if k.Total != p.Bill.Total {
				t.Errorf("now costs %v, the plan says %v", k.Total, p.Bill.Total)
			}
		}
		if k.Sweet && near[i+1].Timber <= k.Timber {
			t.Errorf("%v is called sweet, the next costs %v against %v", k.Length, near[i+1].Timber, k.Timber)
		}
	}
	// 93 in clear is 96 outside: the longest side that an 8 ft board yields.
	sweet := false
	for _, k := range near {
		sweet = sweet || k.Sweet && k.Length == 93*measure.Inch
	}
	picked := plan.Sweets(near, 2)
	for _, k := range near {
		for _, q := range picked {
			if k.Sweet && !k.Now && k.Length != picked[0].Length && k.Length != picked[len(picked)-1].Length &&
				max(
					k.Length-96*measure.Inch,
					96*measure.Inch-k.Length,
				) < max(
					q.Length-96*measure.Inch,
					96*measure.Inch-q.Length,
				) {
				t.Errorf("%v is nearer than %v, yet left out", k.Length, q.Length)
			}
		}
	}
	if now != 1 || len(near) != 29 || !sweet {
		t.Errorf("%d sizes, %d now, 93 in sweet: %v", len(near), now, sweet)
	}
}

func TestChanges(t *testing.T) {
	p := mustPlan(t, "us")
	changes, err := plan.WhatIf(p, set("species", "treated"))
	if err != nil {
		t.Fatal(err)
	}
	got := map[string]string{}
	for _, c := range changes {
		got[c.Key] = c.Text
	}
	if got["years"] != "+5" || !strings.HasPrefix(got["total"], "−$") || got["area"] != "" {
		t.Errorf("%v", got)
	}
	if _, err := plan.WhatIf(p, set("length", "40 m")); err == nil {
		t.Error("a bed of 40 m is planned")
	}
}

// BenchmarkMakeBlocks plans a ring of 40 units with caps, and a rectangle of some 300.
func BenchmarkMakeBlocks(b *testing.B) {
	for _, c := range []struct {
		name  string
		edits []design.Edit
	}{
		{"ring-of-40", []design.Edit{{Field: "system", Value: "ring"}, {Field: "ring_units", Value: "40"},
			{Field: "unit_cap", Value: "mitred"}, {Field: "soil", Value: "3 in"}}},
		{"rectangle-of-300", []design.Edit{{Field: "system", Value: "block-wall"}, {Field: "length", Value: "196 in"},
			{Field: "width", Value: "52 in"}, {Field: "soil", Value: "20 in"}, {Field: "bury", Value: "4 in"}}},
	} {
		b.Run(c.name, func(b *testing.B) {
			shop, err := plan.ShopFor("us")
			if err != nil {
				b.Fatal(err)
			}
			d, err := design.Apply(design.New(shop.Catalog, "blocks"), shop.Catalog, c.edits...)
			if err != nil {
				b.Fatal(err)
			}
			units := 0
			for b.Loop() {
				p, err := plan.Make(d, shop)
				if err != nil {
					b.Fatal(err)
				}
				units = len(p.Frames[0].Units)
			}
			b.ReportMetric(float64(units), "units")
		})
	}
}

// BenchmarkMake plans every example by itself, and twelve mixed beds in one
// project; a shop without a memory solves every cut anew.
func BenchmarkMake(b *testing.B) {
	for _, e := range design.Examples() {
		shop, err := plan.ShopFor("us")
		if err != nil {
			b.Fatal(err)
		}
		d, err := design.ExampleNamed(e.Name, shop.Catalog)
		if err != nil {
			b.Fatal(err)
		}
		b.Run(e.Name, func(b *testing.B) { makes(b, d, shop) })
	}
	for _, region := range []string{"us", "metric"} {
		d, shop := mixed(b, region)
		b.Run("twelve-mixed-"+region, func(b *testing.B) { makes(b, d, shop) })
	}
}

func makes(b *testing.B, d design.Design, shop plan.Shop) {
	for b.Loop() {
		if _, err := plan.Make(d, shop); err != nil {
			b.Fatal(err)
		}
	}
}

// mixed is one project of twelve beds, of every system and in several sizes.
func mixed(tb testing.TB, region string) (design.Design, plan.Shop) {
	tb.Helper()
	shop, err := plan.ShopFor(region)
	if err != nil {
		tb.Fatal(err)
	}
	d := design.New(shop.Catalog, "twelve")
	d.Beds = nil
	for i := range 12 {
		e := design.Examples()[i%len(design.Examples())]
		one, err := design.ExampleNamed(e.Name, shop.Catalog)
		if err != nil {
			tb.Fatal(err)
		}
		bed := one.Beds[0]
		bed.ID, bed.Name = fmt.Sprintf("b%d", i+1), fmt.Sprintf("%s %d", e.Name, i)
		if i >= len(design.Examples()) {
			bed.Length -= 6 * measure.Inch
		}
		d.Beds = append(d.Beds, bed)
	}
	return d, shop
}

// Every example can be built in both regions: nothing stops it, everything is
// cut and fixed, and its floor and sides hold as they are offered.
func TestExamples(t *testing.T) {
	for _, e := range design.Examples() {
		for _, region := range []string{"us", "metric"} {
			shop, err := plan.ShopFor(region)
			if err != nil {
				t.Fatal(err)
			}
			d, err := design.ExampleNamed(e.Name, shop.Catalog)
			if err != nil {
				t.Fatal(err)
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Errorf("%s, %s: %v", e.Name, region, err)
				continue
			}
			for _, f := range p.Findings {
				if f.Severity == review.Stop || strings.HasPrefix(f.Code, "floor") ||
					strings.HasPrefix(f.Code, "beams") {
					t.Errorf("%s, %s: %s", e.Name, region, f.Text)
				}
			}
			if w := p.Waste(); w < 0 || w > 60 { // a share of the wood, whatever is ripped
				t.Errorf("%s, %s: %d %% is waste", e.Name, region, w)
			}
			t.Logf("%s, %s: %v, findings %v", e.Name, region, p.Bill.Total, codes(p))
		}
	}
}

// checkFinding sees to it that of the codes just one is found, and that its first
// remedy leaves none of them.
func checkFinding(t *testing.T, name string, d design.Design, shop plan.Shop, codes []string, code, says string) {
	t.Helper()
	of := func(d design.Design) (found []review.Finding) {
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		for _, f := range p.Findings {
			if slices.Contains(codes, f.Code) {
				found = append(found, f)
			}
		}
		return found
	}
	found := of(d)
	if code == "" {
		if len(found) > 0 {
			t.Errorf("%s: %+v", name, found)
		}
		return
	}
	if len(found) != 1 || found[0].Code != code || !strings.Contains(found[0].Text, says) ||
		found[0].Why.Source == "" ||
		len(found[0].Remedies) == 0 {
		t.Errorf("%s: %+v, want %s", name, found, code)
		return
	}
	mended, err := design.Apply(d, shop.Catalog, found[0].Remedies[0].Edits...)
	if err != nil {
		t.Errorf("%s: the remedy is refused: %v", name, err)
		return
	}
	if left := of(mended); len(left) > 0 {
		t.Errorf("%s: after its remedy there is %+v", name, left)
	}
}
