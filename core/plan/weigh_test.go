package plan_test

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"

	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/long"
)

// boarded is the American example bed, changed, in a shop with leftovers.
func boarded(t *testing.T, shed []catalog.Leftover, edits ...design.Edit) *plan.Plan {
	t.Helper()
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	shop.Shed = shed
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err == nil {
		d, err = design.Apply(d, shop.Catalog, edits...)
	}
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// A year of a bed's life in three timbers, by the factors of an interest table at 3 % (from memory): over 10 years
// 0.1172, 20 years 0.0672, 15 years 0.0838, 30 years 0.0510, 3 years 0.3535, 5 years 0.2184. What is of timber is paid
// back over its life, all else over thirty years; an inch of compost a year comes to that.
func TestAYearOfItsLife(t *testing.T) {
	factor := map[int]float64{3: 0.3535, 5: 0.2184, 10: 0.1172, 15: 0.0838, 20: 0.0672, 30: 0.0510}
	var weighed []plan.Weighed
	for _, species := range []string{"cedar", "treated", "pine"} {
		p := boarded(t, nil, design.Edit{Bed: "b1", Field: "species", Value: species})
		w := p.Weigh()
		weighed = append(weighed, w)
		wood := money.Amount(0)
		for _, l := range p.Bill.Lines {
			if !l.Owned && slices.Contains([]string{"timber", "fixings", "finish"}, string(l.Group)) {
				wood += l.Amount
			}
		}
		tax := 1 + float64(p.Bill.TaxRate)/10000
		area := p.Area().SquareFeet()
		bags := math.Ceil(area / 12 * 0.999) // an inch of it, near enough to 25 mm; bags of 1 cu ft
		for i, years := range []int{w.Life[1], w.Life[0]} {
			want := float64(wood)*tax*factor[years] + (float64(p.Bill.Total)-float64(wood)*tax)*factor[30] +
				bags*648*tax
			if factor[years] == 0 || math.Abs(float64(w.Yearly[i])-want) > 0.01*want {
				t.Errorf("%s over %d years: %v a year, by hand %.0f", species, years, w.Yearly[i], want)
			}
		}
		if w.Spent(0) != p.Bill.Total || w.Spent(1)-w.Spent(0) != w.TopUp+w.Oil {
			t.Errorf("%s: %v at first, %v after a year", species, w.Spent(0), w.Spent(1))
		}
	}
	// Pine is cheaper to build than cedar, and bought again every four years: by hand the lines cross where that is paid.
	cedar, pine := weighed[0], weighed[2]
	year, ok := cedar.Crosses(pine, 40)
	last := 0
	for y := range 41 {
		if cedar.Spent(y) >= pine.Spent(y) {
			last = y
		}
	}
	if !ok || year != last+1 || year < 4 || year > 20 || cedar.Spent(0) <= pine.Spent(0) {
		t.Errorf("cedar wins from year %d, by hand from %d: %v and %v", year, last+1, cedar.Spent(year), pine.Spent(year))
	}
	if _, ok := weighed[1].Crosses(cedar, 40); !ok { // treated is cheaper at once
		t.Error("treated never wins over cedar")
	}
}

// What is offered to make a bed cheaper, longer-lived, lighter or quicker really is, planned anew, and brings nothing
// to
// mend; and no single change that was not told is better.
func TestBetter(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	p := boarded(t, nil)
	shop := p.Shop
	codes := func(p *plan.Plan) (list []string) {
		for _, f := range p.Findings {
			if f.Severity != review.Note {
				list = append(list, f.Code)
			}
		}
		return list
	}
	had := codes(p)
	aims := plan.Aims
	if !long.Whole() {
		aims = aims[:2]
	}
	for _, aim := range aims {
		value := func(w plan.Weighed) float64 {
			switch plan.Aim(aim.Value) {
			case plan.Longer:
				return float64(w.Life[0] + w.Life[1])
			case plan.Lighter:
				return -float64(w.Empty)
			case plan.Quicker:
				return -(w.Minutes[0] + w.Minutes[1]) / 2
			}
			return -float64(w.Cost)
		}
		out, err := p.Better(context.Background(), "b1", plan.Aim(aim.Value))
		if err != nil || len(out.List) == 0 || out.Stopped {
			t.Fatal(aim, err, out)
		}
		is := value(p.Weigh())
		for _, g := range out.List {
			d, err := design.Apply(p.Design, shop.Catalog, g.Edits...)
			if err != nil {
				t.Fatal(err)
			}
			then, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(err)
			}
			if got := value(then.Weigh()) - is; got < g.Gain-1e-6 || g.Gain <= 0 || len(g.Words) == 0 || len(g.Edits) > 2 {
				t.Errorf("%s, %v: it gains %g, and %g was told", aim.Value, g.Words, got, g.Gain)
			}
			for _, c := range codes(then) {
				if !slices.Contains(had, c) {
					t.Errorf("%s, %v brings %s", aim.Value, g.Words, c)
				}
			}
		}
		bed := p.Design.Beds[0]
		for _, key := range []string{"species", "cap", "corners", "post", "board", "under", "mid_posts"} {
			f, _ := design.FieldOf(bed, key)
			for _, c := range f.Choices(shop.Catalog, bed) {
				e := design.Edit{Bed: "b1", Field: key, Value: c.Value}
				d, err := design.Apply(p.Design, shop.Catalog, e)
				if err != nil || c.Value == f.Text(bed, shop.Precision()) {
					continue
				}
				then, err := plan.Make(d, shop)
				if err != nil || slices.ContainsFunc(codes(then), func(c string) bool { return !slices.Contains(had, c) }) {
					continue
				}
				gain, last := value(then.Weigh())-is, out.List[len(out.List)-1]
				told := slices.ContainsFunc(out.List, func(g plan.Gain) bool { return len(g.Edits) == 1 && g.Edits[0] == e })
				if gain > max(0, last.Gain)+1e-6 && !told {
					t.Errorf("%s: %s %s gains %g and is not told; the last that is gains %g", aim.Value, key, c.Value, gain, last.Gain)
				}
			}
		}
	}
	done, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := p.Better(done, "b1", plan.Cheaper); err == nil {
		t.Error("nobody waits, and it goes on")
	}
}

// By hand: of twelve pickets six feet long two stand in each long side and each end of a staked bed of three courses;
// so twelve build it, no longer inside than the foot below six, and as wide as four.
func TestOfTwelvePickets(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	p := boarded(t, []catalog.Leftover{{ID: 1, Profile: "picket", Species: "cedar", Length: 6 * measure.Foot,
		Quantity: 12}})
	out, err := p.OfPile(context.Background(), "b1")
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(out.List, func(f plan.Prospect) bool { return f.System.Name == "staked" })
	if i < 0 {
		t.Fatalf("no staked bed: %+v", out.List)
	}
	if f := out.List[i]; f.Length != 5*measure.Foot || f.Width != 4*measure.Foot || f.Soil != 12*measure.Inch ||
		f.Bought != 0 {
		t.Errorf("staked it is %v by %v, %v deep", f.Length, f.Width, f.Soil)
	}
	if !strings.Contains(out.Claim(), "can be built") || len(out.Next) == 0 {
		t.Errorf("%s; next %+v", out.Claim(), out.Next)
	}
}

// Forty garden wall blocks and nothing else: the largest that is told takes no more than forty, and one a foot longer
// would take more or is no size of it.
func TestOfFortyBlocks(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	p := boarded(t, nil, design.Edit{Bed: "b1", Field: "system", Value: "block-wall"},
		design.Edit{Bed: "b1", Field: "unit", Value: "wall12"}, design.Edit{Field: "have:wall12", Value: "40"},
		design.Edit{Bed: "b1", Field: "soil", Value: "12 in"})
	out, err := p.OfPile(context.Background(), "b1")
	if err != nil || len(out.List) == 0 {
		t.Fatal(err, out)
	}
	blocks := func(f plan.Prospect) (n, bought int, ok bool) {
		d, err := design.Apply(p.Design, p.Shop.Catalog, f.Edits...)
		if err != nil {
			return 0, 0, false
		}
		then, err := plan.Make(d, p.Shop)
		if err != nil {
			return 0, 0, false
		}
		for _, l := range then.Bill.Lines {
			if l.SKU == "wall12" && !l.Owned {
				bought += l.Quantity
			}
		}
		for _, c := range then.Laying.Units {
			if c.Unit.ID == "wall12" {
				n = c.Buy + c.Have - c.Spare
			}
		}
		return n, bought, true
	}
	for _, f := range out.List {
		if n, bought, ok := blocks(f); !ok || bought > 0 || n > 40 || n < 12 {
			t.Errorf("%s, %v by %v: %d blocks, %d of them bought", f.System.Name, f.Length, f.Width, n, bought)
		}
		longer, said := f, measure.Length(0)
		longer.Edits = slices.Clone(f.Edits)
		for k := range longer.Edits {
			if longer.Edits[k].Field == "length" {
				if said, err = measure.Parse(f.Edits[k].Value, measure.Imperial); err != nil {
					t.Fatal(err)
				}
				longer.Edits[k].Value = (said + measure.Foot).String()
			}
		}
		if _, bought, ok := blocks(longer); ok && bought == 0 && said < 16*measure.Foot {
			t.Errorf("%s: a foot longer than %v it is built of them too", f.System.Name, f.Length)
		}
	}
}

// tryAll is the largest bed of every system and size that a sum pays for, and that boards which are there build, each
// planned by itself.
func tryAll(p *plan.Plan, board string, sum money.Amount, step measure.Length) (best, ofPile measure.Area) {
	var mu sync.Mutex
	systems := design.Systems()
	aside.Do(len(systems), func(i int) {
		as := design.Edit{Bed: "b1", Field: "system", Value: systems[i].Name}
		var most, of measure.Area
		for length := measure.Length(2); length <= 16; length += step {
			for _, width := range []measure.Length{2, 3, 4} {
				if length < width && width != 4 {
					continue
				}
				sized := func(more ...design.Edit) []design.Edit {
					return append([]design.Edit{{Bed: "b1", Field: "length", Value: (length * measure.Foot).String()},
						{Bed: "b1", Field: "width", Value: (width * measure.Foot).String()}}, more...)
				}
				if d, err := design.Apply(p.Design, p.Shop.Catalog, sized(as)...); err == nil {
					if then, err := plan.Reckon(d, p.Shop); err == nil && len(then.Bill.Without) == 0 && then.Bill.Total <= sum {
						most = max(most, then.Area())
					}
				}
				for part := measure.Length(1); part <= 3; part++ {
					soil := design.Edit{Bed: "b1", Field: "soil", Value: (p.Design.Beds[0].Soil * part / 3).String()}
					wood := []design.Edit{{Bed: "b1", Field: "species", Value: "cedar"}, {Bed: "b1", Field: "board", Value: board}}
					d, err := design.Apply(p.Design, p.Shop.Catalog, append(sized(soil, as), wood...)...)
					if err != nil {
						continue
					}
					none := design.Edit{Bed: "b1", Field: "cap", Value: "none"}
					if plain, err := design.Apply(d, p.Shop.Catalog, none); err == nil {
						d = plain
					}
					then, err := plan.Reckon(d, p.Shop)
					if err != nil || len(then.Bill.Without) > 0 || then.Design.Beds[0].Board != board {
						continue
					}
					if !slices.ContainsFunc(then.Cuts, func(c plan.Cuts) bool {
						return c.Profile.ID == board && slices.ContainsFunc(c.Answer.Boards,
							func(b cutting.Board) bool { return !strings.HasPrefix(b.Stock.ID, plan.ShedStock) })
					}) {
						of = max(of, then.Area())
					}
				}
			}
		}
		mu.Lock()
		defer mu.Unlock()
		best, ofPile = max(best, most), max(ofPile, of)
	})
	return best, ofPile
}

// Random budgets and piles against trying everything once more, by the plan that a page shows.
func TestBackwardsAgainstTryingAll(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	r := rand.New(rand.NewPCG(24, 24))
	step := measure.Length(1)
	if !long.Whole() { // some of the sizes: none of them may be better
		step = 14
	}
	cases := 1
	if long.Whole() {
		cases = 100
	}
	memo := &cutting.Memo{} // the same pieces of the same boards come again and again
	for n := range cases {
		shed := []catalog.Leftover{{ID: 1, Profile: []string{"picket", "2x6", "2x8"}[r.IntN(3)], Species: "cedar",
			Length: measure.Length(4+r.IntN(7)) * measure.Foot, Quantity: 4 + r.IntN(12)}}
		p := boarded(t, shed, design.Edit{Bed: "b1", Field: "soil", Value: []string{"6 in", "9 in", "12 in"}[r.IntN(3)]})
		p.Shop.Cut = memo
		sum := money.Amount(9000 + r.IntN(40000))
		got, err := p.Within(context.Background(), "b1", sum, plan.MostArea)
		if err != nil {
			t.Fatal(err)
		}
		pile, err := p.OfPile(context.Background(), "b1")
		if err != nil {
			t.Fatal(err)
		}
		best, ofPile := tryAll(p, shed[0].Profile, sum, step)
		if len(got.List) == 0 && best > 0 || len(got.List) > 0 && (got.List[0].Area < best || step == 1 &&
			got.List[0].Area != best) {
			t.Errorf("%d: within %v the largest is %v, and %v was found", n, sum, best, got.List)
		}
		if len(pile.List) == 0 && ofPile > 0 || len(pile.List) > 0 && pile.List[0].Area < ofPile {
			t.Errorf("%d: of %+v the largest is %v, and %v was found", n, shed, ofPile, pile.List)
		}
		for i, f := range got.Front {
			if i > 0 && (f.Total <= got.Front[i-1].Total || f.Area <= got.Front[i-1].Area) {
				t.Errorf("%d: the front turns back at %+v", n, f)
			}
		}
	}
}

// Nine sleepers of 8 ft, 3 1/2 by 5 1/2 in, by hand. Sides cover ends: of 7 ft of planting a side is 7 ft 7 in, of 8
// ft it
// would be longer than a sleeper. An end of 4 ft is 48 in, and two of them with a saw cut between are more than 96 in:
// each takes a sleeper of its own. So a course of 7 by 4 ft is four sleepers, two courses eight, 11 in high for 10 in
// of
// soil, and one sleeper is left; three courses would be twelve. Two ends of 3 ft come out of one sleeper, and three
// courses of 7 by 3 ft are nine; but that is less planting.
func TestOfNineSleepers(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	shed := []catalog.Leftover{{ID: 9, Profile: "4x6", Species: "cedar", Length: 8 * measure.Foot, Quantity: 9}}
	p := boarded(t, shed, design.Edit{Bed: "b1", Field: "system", Value: "sleeper"},
		design.Edit{Bed: "b1", Field: "soil", Value: "15 in"}, design.Edit{Field: "have:mix-bag", Value: "30"})
	out, err := p.OfPile(context.Background(), "b1")
	if err != nil || len(out.List) == 0 {
		t.Fatal(err, out.Claim())
	}
	best := out.List[0]
	d, err := design.Apply(p.Design, p.Shop.Catalog, best.Edits...)
	if err != nil {
		t.Fatal(err)
	}
	then, err := plan.Make(d, p.Shop)
	if err != nil {
		t.Fatal(err)
	}
	opened := 0
	for _, c := range then.Cuts {
		for _, b := range c.Answer.Boards {
			if c.Profile.ID == "4x6" && strings.HasPrefix(b.Stock.ID, plan.ShedStock) {
				opened += b.Count
			}
		}
	}
	if best.Length != 7*measure.Foot || best.Width != 4*measure.Foot || best.Soil != 10*measure.Inch || best.Bought != 0 ||
		then.Frames[0].Courses() != 2 || opened != 8 {
		t.Errorf("%s of %v by %v, %v deep, in %d courses of %d sleepers", best.System.Name, best.Length, best.Width,
			best.Soil,
			then.Frames[0].Courses(), opened)
	}
	// 30 bags are 45 cu ft, and 7 by 4 by 10/12 ft of soil with what it loses is less: some are left, none is bought.
	left, buys := strings.Join(best.Left, "; "), strings.Join(best.Buys, "; ")
	if !strings.Contains(left, "1 × 4x6 of 8'") || !strings.Contains(left, "soil") || strings.Contains(buys, "soil") ||
		!strings.Contains(buys, "4x4") {
		t.Errorf("left are %q, to buy %q", left, buys)
	}
}

// With everything there but nothing of the shop's, what is told to need nothing bought needs nothing: a plain box of
// the shed's boards with screws, cloth and soil that are there.
func TestOfPileAlone(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	shed := []catalog.Leftover{{ID: 1, Profile: "2x6", Species: "cedar", Length: 8 * measure.Foot, Quantity: 12}}
	var have []design.Edit
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range cat.Fixings {
		have = append(have, design.Edit{Field: "have:" + f.ID, Value: "400"})
	}
	for _, id := range []string{"mix-bag", "cardboard", "fabric"} {
		have = append(have, design.Edit{Field: "have:" + id, Value: "60"})
	}
	p := boarded(t, shed, append(have, design.Edit{Bed: "b1", Field: "soil", Value: "10 in"})...)
	out, err := p.OfPile(context.Background(), "b1")
	if err != nil || len(out.Free) == 0 {
		t.Fatal(err, len(out.Free), out.Claim())
	}
	for _, f := range out.Free {
		d, err := design.Apply(p.Design, p.Shop.Catalog, f.Edits...)
		if err != nil {
			t.Fatal(err)
		}
		then, err := plan.Make(d, p.Shop)
		if err != nil || then.Bill.Total != 0 || len(f.Buys) > 0 || len(then.Bill.Without) > 0 {
			t.Errorf("%s of %v by %v: %v is bought: %v, %v", f.System.Name, f.Length, f.Width, then.Bill.Total, f.Buys, err)
		}
	}
	if f := out.Free[0]; f.Area < 24*measure.SquareFoot {
		t.Errorf("of twelve boards only %v by %v", f.Length, f.Width)
	}
}
