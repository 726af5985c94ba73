package plan_test

import (
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
)

// What the shed holds goes before what the shop sells: the default bed's four
// ends of 48 in, two from leftovers of 50 and 62 in (a cracked end of 2 in off
// the second), the other two from one 10 ft board; of six 10 ft boards five are
// left to buy.
func TestShedFirst(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	in := measure.Inch
	shop.Shed = []catalog.Leftover{
		{ID: 7, Profile: "2x8", Species: "cedar", Length: 50 * in, Quantity: 1},
		{ID: 9, Profile: "2x8", Species: "cedar", Length: 62 * in, Quantity: 1, TrimEnd: 2 * in},
		{ID: 11, Profile: "2x8", Species: "redwood", Length: 90 * in, Quantity: 4},
	}
	p, err := plan.Make(design.New(shop.Catalog, "a bed"), shop)
	if err != nil {
		t.Fatal(err)
	}
	n := map[string]int{}
	for _, l := range p.Bill.Lines {
		n[l.SKU] = l.Quantity
		if l.SKU == "shed/7" && (l.Amount != 0 || !l.Owned) {
			t.Errorf("the shed's board is on the bill as %+v", l)
		}
	}
	if n["shed/7"] != 1 || n["shed/9"] != 1 || n["shed/11"] != 0 || n["2x8/cedar/10 ft"] != 5 {
		t.Errorf("bill %v", n)
	}
	// A knot in the middle leaves no 48 in; one near the end does, and the mark is
	// on the board that is cut.
	for bad, want := range map[measure.Length]int{30 * in: 0, 52 * in: 1} {
		shop.Shed[1].BadFrom, shop.Shed[1].BadTo = bad, bad+2*in
		if p, err = plan.Make(design.New(shop.Catalog, "a bed"), shop); err != nil {
			t.Fatal(err)
		}
		used := 0
		for _, b := range p.Cuts[0].Answer.Boards {
			if b.Stock.ID == "shed/9" {
				used += b.Count
				if len(b.Stock.Defects) != 1 || b.Cuts[0].End() > bad {
					t.Errorf("bad at %v: %+v", bad, b)
				}
			}
		}
		if used != want {
			t.Errorf("bad at %v: %d of the board used", bad, used)
		}
	}
}

// Strips by hand: the legged planter's two end slats are ripped to the legs' 3 1/2
// in. A strip of 4 in in the shed is long enough for both, a board of the same
// length takes walls too; the strip never does. What is ripped off goes back.
func TestStripsGoAndComeBack(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	in := measure.Inch
	d, err := design.Apply(
		design.New(shop.Catalog, "a table"),
		shop.Catalog,
		design.Edit{Bed: "b1", Field: "system", Value: "legged"},
		design.Edit{Bed: "b1", Field: "width", Value: "24 in"},
		design.Edit{Bed: "b1", Field: "soil", Value: "9 in"},
	)
	if err != nil {
		t.Fatal(err)
	}
	// A length at which the strip saves a board: where it saves nothing it is left whole.
	strip := []catalog.Leftover{
		{ID: 3, Profile: d.Beds[0].Board, Species: "cedar", Length: 60 * in, Width: 4 * in, Quantity: 1},
	}
	var p *plan.Plan
	for long := 36 * in; ; long += in {
		if long > 96*in {
			t.Fatal("the strip never saves a board")
		}
		d.Beds[0].Length = long
		shop.Shed = nil
		without, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		shop.Shed = strip
		if p, err = plan.Make(d, shop); err != nil {
			t.Fatal(err)
		}
		if p.Bill.Total < without.Bill.Total {
			break
		}
		if _, taken := p.Leaves(); taken[3] > 0 {
			t.Errorf("at %v the strip is opened and saves nothing", long)
		}
	}
	narrow := 0
	for g, c := range p.Cuts {
		for i, b := range c.Answer.Boards {
			if b.Stock.ID != "shed/3" {
				continue
			}
			for _, cut := range b.Cuts {
				if narrow += b.Count; cut.Width > 4*in || cut.Width == 0 {
					t.Errorf("%v of %v from a strip of 4 in", cut.Length, cut.Width)
				}
			}
			e, err := p.AtSaw(g, i, len(b.Cuts), 1, plan.Cut)
			if err != nil {
				t.Fatal(err)
			}
			if d, err = design.Apply(p.Design, shop.Catalog, e); err != nil {
				t.Fatal(err)
			}
		}
	}
	if narrow != 2 {
		t.Errorf("%d pieces from the strip, want both end slats", narrow)
	}
	// Without the strip they are ripped from a board, and a strip of 5 1/2 - 3 1/2 -
	// 1/8 in is left of what they come from.
	shop.Shed = nil
	if p, err = plan.Make(p.Design, shop); err != nil {
		t.Fatal(err)
	}
	rest := func(p *plan.Plan) bool {
		left, _ := p.Leaves()
		return slices.ContainsFunc(
			left,
			func(l catalog.Leftover) bool { return l.Width == 15*in/8 && l.Length >= 17*in },
		)
	}
	if !rest(p) {
		left, _ := p.Leaves()
		t.Errorf("no strip is left: %+v", left)
	}
	for again := true; again; { // and still is once everything is cut
		again = false
		for g, c := range p.Cuts {
			if len(c.Answer.Boards) > 0 {
				e, err := p.AtSaw(g, 0, len(c.Answer.Boards[0].Cuts), c.Answer.Boards[0].Count, plan.Cut)
				if err != nil {
					t.Fatal(err)
				}
				next, err := design.Apply(p.Design, shop.Catalog, e)
				if err != nil {
					t.Fatal(err)
				}
				if p, err = plan.Make(next, shop); err != nil {
					t.Fatal(err)
				}
				again = true
				break
			}
		}
	}
	if !rest(p) {
		left, _ := p.Leaves()
		t.Errorf("cut, and no strip is left: %+v", left)
	}
}

// At the saw: what is cut is not asked for again, what is left of a board is used
// before another is bought, and what has been bought stays on the bill. The
// default bed's first 10 ft board gives an end of 48 in; its second piece is
// spoiled. Then the bed grows, and a piece cut for the old size is stock.
func TestSawAndPlanAnew(t *testing.T) {
	p := mustPlan(t, "us")
	in := measure.Inch
	ends := func(p *plan.Plan) (n int) {
		for _, c := range p.Cuts {
			for _, b := range c.Answer.Boards {
				for _, cut := range b.Cuts {
					if cut.Length == 48*in {
						n += b.Count
					}
				}
			}
		}
		return n
	}
	again := func(d design.Design) *plan.Plan {
		t.Helper()
		q, err := plan.Make(d, p.Shop)
		if err != nil {
			t.Fatal(err)
		}
		return q
	}
	saw := func(d design.Design, value string) design.Design {
		t.Helper()
		d, err := design.Apply(d, p.Shop.Catalog, design.Edit{Field: "saw", Value: value})
		if err != nil {
			t.Fatal(err)
		}
		return d
	}
	d := saw(
		p.Design,
		`[{"profile": "2x8", "species": "cedar", "sku": "2x8/cedar/10 ft", "length": "120 in", "left": "71 7/8 in", `+
			`"cuts": [{"length": "48 in"}]}]`,
	)
	q := again(d)
	if ends(p) != 4 || ends(q) != 3 || q.Bill.Total != p.Bill.Total || q.Boards() != p.Boards() {
		t.Errorf(
			"%d ends to cut after %d, total %v after %v, %d boards after %d",
			ends(q),
			ends(p),
			q.Bill.Total,
			p.Bill.Total,
			q.Boards(),
			p.Boards(),
		)
	}
	used := false
	for _, b := range q.Cuts[0].Answer.Boards {
		used = used || b.Stock.ID == "hand/0" && b.Cuts[0].Length == 48*in
	}
	if !used {
		t.Errorf("what is left of the board is not used: %+v", q.Cuts[0].Answer.Boards)
	}
	// The second end from it is cut wrong: three are still wanted, 23 3/4 in are
	// left, and one more board has to be bought.
	d = saw(
		d,
		`[{"at": 0, "profile": "", "species": "", "sku": "", "length": "1 in", "left": "23 3/4 in", "cuts": [{"length": `+
			`"48 in", "waste": true}]}]`,
	)
	r := again(d)
	if ends(r) != 3 || r.Bill.Total <= q.Bill.Total || len(d.Saw) != 1 || len(d.Saw[0].Cuts) != 2 ||
		d.Saw[0].Length != 120*in {
		t.Errorf("%d ends, total %v after %v, %+v", ends(r), r.Bill.Total, q.Bill.Total, d.Saw)
	}
	// Wider by a foot: the end that was cut is too short, and is stock.
	d, err := design.Apply(d, p.Shop.Catalog, design.Edit{Bed: "b1", Field: "width", Value: "5 ft"})
	if err != nil {
		t.Fatal(err)
	}
	w := again(d)
	found := false
	for _, s := range w.Cuts[0].Request.Stock {
		found = found || s.ID == "cut/0.0" && s.Length == 48*in && s.Price == 0
	}
	if !found {
		t.Errorf("the end is forgotten: %+v", w.Cuts[0].Request.Stock)
	}
	for _, bad := range []string{"", "{}", `[{"at": 4}]`,
		`[{"profile": "9x9", "species": "cedar", "sku": "x", "length": "3 in", "left": "1 in"}]`,
		`[{"profile": "2x8", "species": "cedar", "sku": "x", "length": "3 in", "left": "9 in"}]`} {
		if _, err := design.Apply(d, p.Shop.Catalog, design.Edit{Field: "saw", Value: bad}); err == nil {
			t.Errorf("%q was taken down", bad)
		}
	}
}

// A length that is not there today is not planned with, and the shop's next best
// are dearer or of more boards, each as it says.
func TestWithoutAndOthers(t *testing.T) {
	p := mustPlan(t, "us")
	d, err := design.Apply(p.Design, p.Shop.Catalog, design.Edit{Field: "without:2x8/cedar/10 ft", Value: "yes"})
	if err != nil {
		t.Fatal(err)
	}
	q, err := plan.Make(d, p.Shop)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range q.Bill.Lines {
		if l.SKU == "2x8/cedar/10 ft" {
			t.Error("it is bought all the same")
		}
	}
	others := p.Others(p.Cuts[0])
	if len(others) == 0 || q.Bill.Total < p.Bill.Total {
		t.Fatalf("%+v", others)
	}
	for _, o := range others {
		d := p.Design
		for _, sku := range o.Without {
			if d, err = design.Apply(d, p.Shop.Catalog, design.Edit{Field: "without:" + sku,
				Value: "yes"}); err != nil {
				t.Fatal(err)
			}
		}
		r, err := plan.Make(d, p.Shop)
		if err != nil {
			t.Fatal(err)
		}
		if more := r.Cuts[0].Answer.Cost - p.Cuts[0].Answer.Cost; more != o.More || o.More < 0 {
			t.Errorf("%s: %v more, said %v", o.Words, more, o.More)
		}
	}
	back, err := design.Apply(d, p.Shop.Catalog, design.Edit{Field: "without:2x8/cedar/10 ft", Value: ""})
	if err != nil || len(back.Without) != 0 {
		t.Errorf("%v, %v", back.Without, err)
	}
}

// A car of 6 ft and a bed whose longest piece is 5 ft 3 in: without the shop's saw
// nothing sold fits; with it the boards come home in parts, the steps say where
// they are cut, and what is over the free cuts is on the bill.
func TestShopCuts(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.Apply(
		design.New(shop.Catalog, "a bed"),
		shop.Catalog,
		design.Edit{Bed: "b1", Field: "length", Value: "5 ft"},
		design.Edit{Bed: "b1", Field: "width", Value: "4 ft"},
	)
	if err != nil {
		t.Fatal(err)
	}
	shop.Habits.Carry = 72 * measure.Inch
	if p, err := plan.Make(d, shop); err != nil || len(p.Cuts[0].Answer.Unmet) == 0 {
		t.Fatalf("%v, %+v", err, p.Cuts[0].Answer)
	}
	shop.Habits.ShopCuts, shop.Habits.ShopFree, shop.Habits.ShopFee = true, 1, 150
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	cuts, lines := 0, money.Amount(0)
	for _, c := range p.Cuts {
		if c.Request.Shop != nil && c.Request.Shop.Free != max(0, 1-cuts) {
			t.Errorf("%s: %d cuts free after %d", c.Profile.ID, c.Request.Shop.Free, cuts)
		}
		cuts += c.Answer.ShopCuts
		if len(c.Answer.Unmet) > 0 {
			t.Errorf("%s: %v", c.Profile.ID, c.Answer.Unmet)
		}
	}
	billed := 0
	for _, l := range p.Bill.Lines {
		lines += l.Amount
		if l.SKU == "shop cut" {
			billed = l.Quantity
		}
	}
	if cuts < 2 || billed != cuts-1 || lines != p.Bill.Subtotal {
		t.Errorf("%d cuts, %d on the bill, lines %v of %v", cuts, billed, lines, p.Bill.Subtotal)
	}
	if words := strings.Join(p.Steps[0].Do, " "); !strings.Contains(words, "Have the shop cut") {
		t.Errorf("the first step says %s", words)
	}
}

// What is looked for among the cheapest ways to cut changes no price, and is got.
func TestAfterThePrice(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(shop.Catalog, "a bed")
	boards := map[string]int{}
	total := map[string]money.Amount{}
	for _, after := range catalog.Afters {
		shop.Habits.After = after
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range p.Cuts {
			boards[after] += c.Answer.Count()
			total[after] += c.Answer.Cost
			if want := after == "nothing"; (len(c.Request.Aims) == 0) != want {
				t.Errorf("%s: aims %v", after, c.Request.Aims)
			}
		}
		if total[after] != total["leftovers"] {
			t.Errorf("%s: %v, %d boards", after, total[after], boards[after])
		}
	}
	for after, n := range boards {
		if n < boards["boards"] {
			t.Errorf("%d boards looking for %s, %d looking for the fewest", n, after, boards["boards"])
		}
	}
}

// A board that is ripped is cut whole or spoiled whole: spoiled, it has given
// nothing, and its pieces are still asked for.
func TestRippedBoardSpoiled(t *testing.T) {
	p := mustPlan(t, "us", set("system", "cleated"))
	for g, c := range p.Cuts {
		for i, b := range c.Answer.Boards {
			if len(b.Strips) == 0 {
				continue
			}
			for how, good := range map[plan.How]int{plan.Cut: len(b.Cuts), plan.Short: 0, plan.Spoiled: 0} {
				e, err := p.AtSaw(g, i, 1, 1, how)
				if err != nil {
					t.Fatal(err)
				}
				d, err := design.Apply(p.Design, p.Shop.Catalog, e)
				if err != nil {
					t.Fatal(err)
				}
				if s := d.Saw[0]; len(s.Cuts) != good || s.Left != 0 {
					t.Errorf("%q: %+v, want %d good pieces", how, s, good)
				}
			}
			return
		}
	}
	t.Error("no board of a cleated bed is ripped")
}

// A board with a blank is cut whole or not at all: what came off it is not asked for again,
// and the next plan goes on with the rest.
func TestBlanksAtTheSaw(t *testing.T) {
	d, shop := mixed(t, "us")
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	pieces := func(c plan.Cuts) (n int) {
		for _, b := range c.Answer.Boards {
			for _, cut := range b.Cuts {
				n += b.Count * max(1, cut.Out)
			}
		}
		return n
	}
	cut := 0
	for g, c := range p.Cuts {
		for i, b := range c.Answer.Boards {
			if len(b.Blanks) == 0 {
				continue
			}
			e, err := p.AtSaw(g, i, len(b.Cuts), 1, plan.Cut)
			if err != nil {
				t.Fatal(err)
			}
			next, err := design.Apply(p.Design, shop.Catalog, e)
			if err != nil {
				t.Fatal(err)
			}
			q, err := plan.Make(next, shop)
			if err != nil {
				t.Fatal(err)
			}
			came := 0
			for _, x := range b.Cuts {
				came += max(1, x.Out)
			}
			if after := pieces(q.Cuts[g]); after != pieces(c)-came || len(q.Cuts[g].Answer.Unmet) > 0 {
				t.Errorf("%s: %d pieces left of %d, %d came off", c.Profile.ID, after, pieces(c), came)
			}
			cut++
		}
	}
	if cut == 0 {
		t.Error("no board has a blank")
	}
}
