package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/long"
)

// orders are those people could not follow once, by number: the first before the second wherever a job has both. Each
// is the end of a step's ID or, in stars, a part of it.
var orders = []struct {
	n           int
	what        string
	first, then string
}{
	{1, "a sleeper bed's posts stand before it is squared", ".set-post.posts", ".square"},
	{2, "its sleepers are joined before it is squared", "*.join-up.*", ".square"},
	{3, "it is squared before a floor stiffens it", ".square", "*.make-up.floor*"},
	{4, "its inner floor goes in before its soil", "*.make-up.floor*", "*.fill*"},
	{5, "a second ring is laid on soil that is there", ".fill.1", ".lay.ring-2"},
	{6, "and filled after that", ".lay.ring-2", ".fill.2"},
	{7, "a keyhole's pegs stand before the mesh goes round them", ".fit-out.basket", ".basket.line"},
	{8, "its mesh is there before it is filled", ".basket.line", "*.fill*"},
	{9, "a grid lies on soil that has settled", "settle", ".fit-out.grid"},
	{10, "cloth goes in before the cap", "*.liner*", "*.fix-cap.*"},
	{11, "an arch stands on soil", "settle", ".fit-out.arch"},
	{12, "so do hoops", "settle", ".fit-out.hoops"},
	{13, "cloth hangs before the stone that it holds off the soil", ".cloth.1.line", ".lay.drains"},
	{25, "up a slope too", ".cloth.2.line", ".lay.drains-2"},
	{14, "pins go down before the cores are filled", ".fit-out.pins", ".fit-out.cores"},
	{15, "tiers are squared before the straps", ".square", "*straps"},
	{16, "a tiered bed is lined before the cap", "*.liner*", ".fix-cap.lower-cap"},
	{17, "what is fixed from below comes before the soil", ".fit-out.casters", "*.fill*"},
	{18, "soil is filled before it settles", "*.fill*", "settle"},
	{19, "stakes are driven once the frame is square", ".square", ".drive.stakes"},
	{21, "each wall up a slope is filled behind before the ground of the next is made", ".fill.1", ".trench.2"},
	{22, "and before that is laid", ".trench.2", ".lay.wall-2"},
	{23, "soil is there before the pockets of hollow blocks are planted", "soil", ".fit-out.cores"},
	{24, "card is cut to fit between walls that stand on a base", ".lay.first-course", ".under.cover"},
	{20, "mulch goes over the drip lines", "drip", "mulch"},
}

// means reports whether a step is what an order says.
func means(id, rule string) bool {
	if strings.HasPrefix(rule, "*") {
		return strings.Contains(id, strings.Trim(rule, "*"))
	}
	return id == rule || strings.HasPrefix(rule, ".") && strings.HasSuffix(id, rule)
}

// The orders hold over random designs and the systems that have them, and each of them is met with.
func TestStepsInOrder(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := newDealer(31)
	seen := map[int]int{}
	for k := range long.Of(600) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		for _, e := range []design.Edit{{Bed: "b1", Field: "liner", Value: "fabric"},
			{Bed: "b1", Field: "cap", Value: "mitred"}, {Bed: "b1", Field: "grid", Value: "string"}} {
			if next, err := design.Apply(d, shop.Catalog, e); err == nil {
				d = next
			}
		}
		inOrder(t, d, shop, seen)
	}
	for _, name := range []string{"keyhole", "sleeper", "tiered", "boarded", "staked", "ring", "hollow-block", "terraces",
		"block-wall", "legged"} {
		shop, err := plan.ShopFor("us")
		if err != nil {
			t.Fatal(err)
		}
		d, err := design.ExampleNamed(name, shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		for _, e := range []design.Edit{set("length", map[bool]string{true: "10 ft"}[name == "ring"]),
			set("tiers", "2"), set("drain", "stone"),
			set("liner", "fabric"), set("cap", "butt"), set("hoops", "pipe"), set("arch", "panel"), set("trellis", "wire"),
			set("casters", "casters"), set("water", "drip"), set("mulch", "straw"), set("mulch_deep", "2 in")} {
			if next, err := design.Apply(d, shop.Catalog, e); err == nil {
				d = next
			}
		}
		inOrder(t, d, shop, seen)
	}
	for _, o := range orders {
		if seen[o.n] == 0 {
			t.Errorf("order %d was not met with: %s", o.n, o.what)
		}
	}
	t.Log(seen)
}

func inOrder(t *testing.T, d design.Design, shop plan.Shop, seen map[int]int) {
	t.Helper()
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	of := func(s work.Step) string { return s.Bed }
	for a, first := range p.Steps {
		for b, then := range p.Steps {
			for _, o := range orders {
				if o.n == 21 && len(p.Frames[0].Pours) > 0 { // what is cast bears no soil for a week: the next wall goes on
					continue
				}
				if o.n == 23 && !strings.Contains(then.Title, "plant") { // stone alone
					continue
				}
				if of(first) != "" && of(then) != "" && of(first) != of(then) || !means(first.ID, o.first) ||
					!means(then.ID, o.then) {
					continue
				}
				if seen[o.n]++; a > b {
					t.Errorf("%s: %s comes after %s: %d, %s", d.Beds[0].System, first.ID, then.ID, o.n, o.what)
				}
			}
		}
	}
}
