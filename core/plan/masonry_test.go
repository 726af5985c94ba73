package plan_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/work"
)

// blocks plans a bed of a system after some edits, "field=value".
func blocks(t *testing.T, region, system string, edits ...string) *plan.Plan {
	t.Helper()
	shop, err := plan.ShopFor(region)
	if err != nil {
		t.Fatal(err)
	}
	list := []design.Edit{{Bed: "b1", Field: "system", Value: system}}
	for _, e := range edits {
		field, value, _ := strings.Cut(e, "=")
		list = append(list, design.Edit{Bed: "b1", Field: field, Value: value})
	}
	d := design.New(shop.Catalog, "blocks")
	for _, e := range [][]design.Edit{list[:1], list[1:]} {
		if d, err = design.Apply(d, shop.Catalog, e...); err != nil {
			t.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// The bill by hand: three courses of sixteen 8 x 8 x 16 blocks and one in twenty spare,
// 48 + 3 = 51 at 2.48. Mortar: 67.553 cu in a block for 48, 1.6 times: 3.00 cu ft, 5 bags
// of 0.66. Base: a trench 13.53 in wide (7 5/8 and twice 75 mm) along 256 in, 100 mm of
// stone: 7.89 cu ft, 469 kg at 2100, one ton. No board and no screw is bought.
func TestBlocksOnTheBill(t *testing.T) {
	p := blocks(t, "us", "block-wall", "unit=cmu8", "length=72 3/8 in", "width=40 3/8 in", "soil=15 in", "bury=2 in")
	want := map[string]int{"cmu8": 51, "mortar-80": 5, "base-ton": 1, "compactor": 1}
	for _, l := range p.Bill.Lines {
		if n, ok := want[l.SKU]; ok {
			if l.Quantity != n || l.Group != cost.Masonry {
				t.Errorf("%s: %d in %s, want %d", l.SKU, l.Quantity, l.Group, n)
			}
			delete(want, l.SKU)
		}
		if l.Group == cost.Timber || l.Group == cost.Fixings {
			t.Errorf("%s is bought for a wall of blocks", l.Item)
		}
	}
	if len(want) > 0 {
		t.Errorf("not on the bill: %v", want)
	}
	if p.Units() != 51 || p.Figure("units").Value != 51 || p.Figure("boards").Key != "" {
		t.Errorf("%d units; %+v", p.Units(), p.Figure("boards"))
	}
	if least, most := p.Life(); least < 30 || most < least {
		t.Errorf("%d to %d years", least, most)
	}
}

// Steps follow the work: the base before the first course, that before those above,
// caps once nothing is wheeled over them any more; silica only where something is cut, wet cement only where there is
// some, saws only where there are boards.
func TestStepsOfBlocks(t *testing.T) {
	cautions := func(p *plan.Plan) (all string) {
		for _, s := range p.Steps {
			for _, c := range s.Cautions {
				all += c.Text + c.Why
			}
		}
		return all
	}
	whole := blocks(t, "us", "block-wall")
	cut := blocks(t, "us", "block-wall", "unit_cap=mitred")
	at := func(p *plan.Plan, title string) int {
		return slices.IndexFunc(p.Steps, func(s work.Step) bool { return strings.HasPrefix(s.Title, title) })
	}
	order := []string{
		"Have the blocks",
		"Cut the blocks",
		"Make the ground ready",
		"Dig the trench",
		"Lay the first course",
		"Lay the courses above",
		"Have the soil brought",
		"Fill with soil",
		"Water it",
		"Glue the caps on",
	}
	last := -1
	for _, title := range order {
		i := at(cut, title)
		if i <= last {
			t.Errorf("%q is step %d, after %d", title, i, last)
		}
		last = i
	}
	if strings.Contains(cautions(whole), "silica") || !strings.Contains(cautions(cut), "silica") {
		t.Error("the dust of cut blocks is warned of where none is cut, or not where some are")
	}
	if strings.Contains(cautions(whole), "blade") || at(whole, "Cut the pieces") >= 0 {
		t.Error("a saw is warned of, and no board is sawn")
	}
	if slotted := blocks(t, "metric", "slotted"); at(slotted, "Cut the pieces") < 0 ||
		at(slotted, "Mark and drill") >= 0 ||
		at(slotted, "Set course 1") < 0 {
		t.Error("boards in slots are cut, and neither marked nor drilled")
	}
	if cast := blocks(t, "metric", "poured"); !strings.Contains(cautions(cast), "cement") ||
		at(cast, "Have the mix") != 1 {
		t.Errorf("a cast wall begins with %q", cast.Steps[0].Title)
	}
}

// A keyhole is reached from its rim: where it is too far across the finding says so,
// and its remedy mends it.
func TestReachOfKeyholes(t *testing.T) {
	reach := func(p *plan.Plan) int {
		for i, f := range p.Findings {
			if f.Code == "reach" {
				return i
			}
		}
		return -1
	}
	for _, region := range []string{"us", "metric"} {
		if p := blocks(t, region, "keyhole"); reach(p) >= 0 {
			t.Errorf("%s: %s", region, p.Findings[reach(p)].Text)
		}
		far := blocks(
			t,
			region,
			"terraces",
			"length="+map[string]string{"us": "20 ft", "metric": "6 m"}[region],
			"width=4 m",
			"terraces=2",
			"corners_at=0; 0; 500 mm; 500 mm",
		)
		for _, p := range []*plan.Plan{far, blocks(t, region, "keyhole", "length=3 m")} {
			mends(t, region, p, reach)
		}
	}
}

// mends holds the remedy of a finding to mending it.
func mends(t *testing.T, region string, p *plan.Plan, find func(*plan.Plan) int) {
	t.Helper()
	i := find(p)
	if i < 0 {
		t.Fatalf("%s: nobody misses an arm's length", region)
	}
	d, err := design.Apply(p.Design, p.Shop.Catalog, p.Findings[i].Remedies[0].Edits...)
	if err != nil {
		t.Fatal(err)
	}
	if p, err = plan.Make(d, p.Shop); err != nil || find(p) >= 0 {
		t.Errorf("%s: the remedy leaves it out of reach: %v", region, err)
	}
}

// Forty tapered blocks, 12 in outside, 9 1/2 inside, 7 1/2 deep and 4 high, by hand: n of them
// touch at 2 x max(9.5 / (2 tan(180/n)), 12 / (2 tan(180/n)) - 7.5) across inside. Two courses
// of 20: 12 / (2 tan 9) - 7.5 = 30.38, 60.77 in; three of 13, one over: 9.5 / (2 tan 13.846) =
// 19.27, 38.54 in; four of 10: 14.62, 29.24 in. Each is built of just those, and none is
// bought. Every ring is closed: neighbours stand no further apart inside than the joint.
func TestFortyBlocks(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("ring", shop.Catalog)
	if err == nil {
		d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "unit", Value: "ring12"},
			design.Edit{Field: "have:ring12", Value: "40"})
	}
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	unit, have, all := p.OfOwned("b1")
	ways := slices.DeleteFunc(slices.Clone(all), func(w plan.Way) bool { return w.Not != "" })
	if unit != "ring12" || have != 40 || len(ways) < 3 {
		t.Fatalf("%d of %s, %d ways", have, unit, len(ways))
	}
	for i, want := range []struct {
		used   int
		across float64
	}{{40, 60.77}, {39, 38.54}, {40, 29.24}} {
		w := ways[i]
		next, err := design.Apply(d, shop.Catalog, w.Edits...)
		if err != nil {
			t.Fatal(err)
		}
		q, err := plan.Make(next, shop)
		if err != nil {
			t.Fatal(err)
		}
		laid, bought := len(q.Frames[0].Units), 0
		for _, c := range q.Laying.Units {
			bought += c.Buy
		}
		if got := next.Beds[0].Length.Inches(); w.Used != want.used || laid != want.used || bought != 0 ||
			math.Abs(got-want.across) > 0.01 {
			t.Errorf("%s: %d laid, %d bought, %.2f across; by hand %d and %.2f", w.Words, laid, bought, got, want.used,
				want.across)
		}
	}
	// What no ring can be made of is told, and is so: one more block to a course, and one closes.
	last := all[len(all)-1]
	if first := all[0]; first.Not == "" || !strings.HasPrefix(first.Words, "1 course of 40") {
		t.Errorf("one course of 40, too low for soil, is told as %q, not %q", first.Words, first.Not)
	}
	var least int
	if _, err := fmt.Sscanf(last.Not, "these blocks close a course of %d or more", &least); err != nil {
		t.Fatalf("the last way is %q, not %q", last.Words, last.Not)
	}
	for n, closes := range map[int]bool{least: true, least - 1: false} {
		_, err := design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "tiers", Value: "1"},
			design.Edit{Bed: "b1", Field: "ring_units", Value: fmt.Sprint(n)})
		if (err == nil) != closes {
			t.Errorf("a course of %d: %v", n, err)
		}
	}
	if next, err := design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "system", Value: "boarded"}); err == nil {
		if p, err = plan.Make(next, shop); err == nil {
			if _, _, ways := p.OfOwned("b1"); ways != nil {
				t.Errorf("a boarded frame of blocks: %v", ways)
			}
		}
	}
}
