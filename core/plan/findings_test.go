package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
)

// Every finding comes up where it should, says why and on whose word, and every
// remedy it offers mends it.
func TestFindingsAndRemedies(t *testing.T) {
	for _, c := range []struct {
		name, region, code string
		edits              []design.Edit
		remedies           int
	}{
		{"no mid posts", "us", "side-bows", []design.Edit{set("mid_posts", "0")}, 1},
		{"thin and long", "metric", "side-bows", []design.Edit{set("species", "larch"), set("board", "150x25"),
			set("mid_posts", "0")}, 1},
		{"wide for one side", "us", "reach", []design.Edit{set("access", "one")}, 2},
		{"wide for two sides", "metric", "reach", []design.Edit{set("width", "1500")}, 1},
		{"an arm of 20 in", "us", "reach", []design.Edit{set("reach", "20 in")}, 1},
		{"pickets", "us", "thin", []design.Edit{set("board", "picket")}, 1},
		{"untreated pine", "us", "short-lived", []design.Edit{set("species", "pine")}, 2},
		{"untreated spruce", "metric", "short-lived", []design.Edit{set("board", "150x38"), set("species", "spruce")},
			2},
		{"mid posts on the ground", "us", "mid-loose", []design.Edit{set("mid_in_ground", "0")}, 1},
		{"two courses for a little soil", "us", "idle-rim", []design.Edit{set("soil", "8 in")}, 1},
		{"wide ends of thin stock", "us", "end-bows", []design.Edit{set("board", "1x6"), set("mid_posts", "5")}, 1},
		{"a long planter of pickets", "us", "side-bows", []design.Edit{set("system", "footed"), set("length", "48 in"),
			set("soil", "12 in")}, 1},
		{"a plain box without a tie", "us", "side-bows", []design.Edit{set("system", "plain-box"), set("length",
			"10 ft"), set("ties", "0")}, 1},
		{"few stakes", "metric", "side-bows", []design.Edit{set("system", "staked"), set("stakes", "0")}, 1},
		{"deep soil behind posts a foot in the ground", "us", "ground-gives", []design.Edit{set("soil", "30 in")}, 3},
		{"deep soil behind stakes", "us", "ground-gives-ends", []design.Edit{set("system", "staked"), set("soil",
			"30 in")}, 0},
		{"stakes hardly in the ground", "us", "mid-loose", []design.Edit{set("system", "staked"), set("stake_in_ground",
			"6 in")}, 1},
		{"a wide floor without a beam", "us", "floor-sags", []design.Edit{set("system", "legged"), set("board", "1x6"),
			set("width", "3 ft"), set("beams", "0")}, 1},
		{"a floor on too few beams", "metric", "beams-sag", []design.Edit{set("system", "legged"), set("board",
			"150x25"), set("length", "1600"), set("soil", "300"), set("beams", "1")}, 1},
		{"a long deep floor", "metric", "beams-sag", []design.Edit{set("system", "legged"), set("length", "2400"),
			set("soil", "400"), set("beams", "1")}, 1},
		{"rails under a floor from corner to corner", "metric", "ledgers-sag", []design.Edit{set("system", "sleeper"),
			set("mid_posts", "0")}, 1},
		{"slats without spanners", "us", "floor-sags", []design.Edit{set("system", "carrier"), set("spanners", "0")},
			1},
		{"more soil than casters carry", "metric", "casters", []design.Edit{set("system", "legged"), set("soil", "400"),
			set("casters", "yes")}, 1},
		{"a tier's long front without ties", "us", "side-bows", []design.Edit{set("system", "tiered"), set("length",
			"72 in"), set("ties", "0")}, 1},
		{"longer than any picket", "us", "too-long", []design.Edit{set("board", "picket"), set("length", "7'")}, 1},
		{"tall panels that hang on their cleats", "us", "pulls-side", []design.Edit{set("system", "cleated"),
			set("soil", "22 in")}, 1},
		{"ledgers that hang on too few screws", "us", "floor-path", []design.Edit{set("system", "legged"), set("length",
			"6 ft"), set("width", "4 ft"), set("board", "2x8"), set("soil", "16 in"), set("beams", "0")}, 1},
		{"tomatoes in a planter of lettuce's depth", "us", "shallow", []design.Edit{set("system", "legged"), set("soil",
			"8 in"), set("grows", "greens")}, 1},
		{"on a deck", "metric", "deck", []design.Edit{set("on", "deck"), set("mid_posts", "0"), set("length", "1200")},
			1},
		{"stakes and paving", "us", "into-paving", []design.Edit{set("on", "slab")}, 1},
		{"tended standing", "us", "low", []design.Edit{set("tended", "standing")}, 1},
		{"knees under it", "us", "knees", []design.Edit{set("system", "legged"), set("length", "48 in"), set("width",
			"24 in"), set("soil", "9 in"), set("height", "30 in"), set("tended", "wheelchair")}, 1},
		{"a floor without gaps", "metric", "no-drain", []design.Edit{set("system", "legged"), set("gap", "0")}, 1},
		{"railway ties", "us", "unfit-timber", []design.Edit{set("found", "ties")}, 1},
		{"plastic by food", "us", "liner-food", []design.Edit{set("liner", "membrane")}, 2},
		{"treated timber", "us", "metal", []design.Edit{set("species", "treated")}, 0},
		{"mesh", "metric", "mesh-points", []design.Edit{set("mesh", "mesh")}, 0},
		{"a trellis to the south", "us", "shades", []design.Edit{set("trellis", "wire"), {Field: "plot:north",
			Value: "180"}}, 1},
		{"a front alone", "us", "wall-slides", []design.Edit{set("system", "block-wall"), set("walls", "straight"),
			set("soil", "17 in")}, 1},
		{"longer than the car", "metric", "carry", []design.Edit{set("length", "3.5 m")}, 0},
	} {
		p := mustPlan(t, c.region, c.edits...)
		f, ok := finding(p, c.code)
		if !ok {
			t.Errorf("%s: no %s among %v", c.name, c.code, codes(p))
			continue
		}
		if f.Text == "" || f.Why.Rule == "" || f.Why.Source == "" || len(f.Remedies) < c.remedies {
			t.Errorf("%s: %+v", c.name, f)
		}
		for _, r := range f.Remedies {
			d, err := design.Apply(p.Design, p.Shop.Catalog, r.Edits...)
			if err != nil {
				t.Errorf("%s: remedy %q is refused: %v", c.name, r.Label, err)
				continue
			}
			after, err := plan.Make(d, p.Shop)
			if err != nil {
				t.Errorf("%s: remedy %q: %v", c.name, r.Label, err)
				continue
			}
			if now, still := finding(after, c.code); still && now.Severity == f.Severity {
				t.Errorf("%s: remedy %q does not mend it", c.name, r.Label)
			}
		}
	}
	// A bed of defaults has nothing to mend: only what the ground does not hold is told,
	// as worth knowing. What is kept stays kept.
	for _, region := range []string{"us", "metric"} {
		for _, f := range mustPlan(t, region).Findings {
			if f.Code != "ground-gives" || f.Severity != review.Note {
				t.Errorf("%s: %s %s", region, f.Severity, f.Code)
			}
		}
	}
	if f, _ := finding(mustPlan(t, "us", set("mid_posts", "0"), set("keep", "side-bows")), "side-bows"); !f.Kept {
		t.Error("a finding that was kept is not marked so")
	}
}

func finding(p *plan.Plan, code string) (review.Finding, bool) {
	for _, f := range p.Findings {
		if f.Code == code {
			return f, true
		}
	}
	return review.Finding{}, false
}

func codes(p *plan.Plan) []string {
	var list []string
	for _, f := range p.Findings {
		list = append(list, f.Code)
	}
	return list
}

// A remedy for bowing sides never takes stakes out of the ground that are deeper
// already, and says which walls it is about.
func TestRemedyKeepsDeeperStakes(t *testing.T) {
	p := mustPlan(
		t,
		"us",
		set("system", "staked"),
		set("width", "4 ft"),
		set("stake_in_ground", "18 in"),
		set("stakes", "6"),
		set("end_stakes", "0"),
	)
	f, ok := finding(p, "end-bows")
	if !ok || len(f.Remedies) == 0 {
		t.Fatalf("no ends that bow among %v", codes(p))
	}
	d, err := design.Apply(p.Design, p.Shop.Catalog, f.Remedies[0].Edits...)
	if err != nil || d.Beds[0].OptionLength("stake_in_ground") != 18*measure.Inch ||
		!strings.Contains(f.Remedies[0].Label, "on each end") {
		t.Errorf("%q leaves stakes %v deep, %v", f.Remedies[0].Label, d.Beds[0].OptionLength("stake_in_ground"), err)
	}
}

// Where the beds stand, and what stands on casters: each finding is tripped, says
// its numbers, and the first remedy mends it. By hand: a default bed reaches 99 by
// 51 in; from 24 and 60 in of the front they share 15 in of ground, from 24 and 89
// 14 in are between them where a person wants 24 in and more, from 24 and 75 they
// touch, which is right.
func TestWhereBedsStand(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name  string
		edits []design.Edit
		code  string // none where empty
		says  string
	}{
		{"one on the other", []design.Edit{{Bed: "b1", Field: "place:0", Value: "24;24"}, {Bed: "b1", Field: "place:1",
			Value: "24;60"}}, "beds-overlap", "same ground"},
		{"too close", []design.Edit{{Bed: "b1", Field: "place:0", Value: "24;24"}, {Bed: "b1", Field: "place:1",
			Value: "24;89"}}, "path-narrow", `1' 2"`},
		{"touching", []design.Edit{{Bed: "b1", Field: "place:0", Value: "24;24"}, {Bed: "b1", Field: "place:1",
			Value: "24;75"}}, "", ""},
		{"over the edge", []design.Edit{{Bed: "b1", Field: "place:0", Value: "24;24"}, {Bed: "b1", Field: "place:1",
			Value: "240;120"}, {Field: "plot:width", Value: "24 ft"}}, "off-plot", "over the edge"},
		{"close to a fence", []design.Edit{{Field: "plot:fences", Value: "left"}, {Bed: "b1", Field: "place:0",
			Value: "10;24"}}, "path-narrow", "the fence"},
		{"room for feet, not for a wheelchair", []design.Edit{{Field: "plot:passage", Value: "wheelchair"}, {Bed: "b1",
			Field: "place:0", Value: "40;40"}, {Bed: "b1", Field: "place:1", Value: "40;120"}}, "path-narrow",
			"wheelchair"},
	} {
		d, err := design.Apply(
			design.New(shop.Catalog, "beds"),
			shop.Catalog,
			append(
				[]design.Edit{{Bed: "b1", Field: "count", Value: "2"}, {Field: "plot:depth", Value: "40 ft"}},
				c.edits...)...)
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		checkFinding(t, c.name, d, shop, []string{"beds-overlap", "path-narrow", "off-plot"}, c.code, c.says)
	}
	// Four casters of a planter 5 ft by 3 ft with 14 in of wet soil: 17 1/2 cubic
	// feet of it weigh over 1700 lb, and casters of the trade carry some hundreds
	// each.
	d := design.New(shop.Catalog, "a table")
	for _, e := range []design.Edit{{Bed: "b1", Field: "system", Value: "legged"}, {Bed: "b1", Field: "length",
		Value: "5 ft"}, {Bed: "b1", Field: "width", Value: "3 ft"}, {Bed: "b1", Field: "height", Value: "38"},
		{Bed: "b1", Field: "soil", Value: "14"}, {Bed: "b1", Field: "casters", Value: "yes"}} {
		if d, err = design.Apply(d, shop.Catalog, e); err != nil {
			t.Fatal(err)
		}
	}
	checkFinding(t, "on casters", d, shop, []string{"casters"}, "casters", "casters may carry")
}

// An arch is bent for the path it spans: alone it lands nowhere; over 3 ft it is not bent
// for 4, its remedy bends it for what there is, and over 4 nothing is said.
func TestArchOverItsPath(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	look := func(d design.Design) map[string]review.Finding {
		t.Helper()
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		found := map[string]review.Finding{}
		for _, f := range p.Findings {
			found[f.Code] = f
		}
		return found
	}
	edit := func(d design.Design, edits ...design.Edit) design.Design {
		t.Helper()
		d, err := design.Apply(d, shop.Catalog, edits...)
		if err != nil {
			t.Fatal(err)
		}
		return d
	}
	one := edit(design.New(shop.Catalog, "arched"), design.Edit{Bed: "b1", Field: "arch", Value: "panel"})
	if _, told := look(one)["arch-alone"]; !told {
		t.Error("an arch with no bed beside it is not told of")
	}
	// 4 ft inside, 1 1/2 in of board on each side: the second bed begins at 51 in and the path.
	apart := func(path string) design.Design {
		return edit(
			one,
			design.Edit{Field: "plot:width", Value: "30 ft"},
			design.Edit{Field: "plot:depth", Value: "30 ft"},
			design.Edit{
				Field: "add-bed",
				Value: "boarded",
			},
			design.Edit{Bed: "b1", Field: "place:0", Value: "1 ft;1 ft"},
			design.Edit{Bed: "b2", Field: "place:0", Value: "1 ft;" + path},
		)
	}
	if f, told := look(apart("75 in"))["arch-path"]; told || f.Text != "" { // 12 + 51 + ... is nearer than bent for
		for _, r := range f.Remedies[:1] {
			if again, told := look(edit(apart("75 in"), r.Edits...))["arch-path"]; told {
				t.Errorf("%s does not mend it: %s", r.Label, again.Text)
			}
		}
	} else {
		t.Error("a path of a foot under an arch for four is not told of")
	}
	p, err := plan.Make(apart("100 in"), shop)
	if err != nil {
		t.Fatal(err)
	}
	gap := measure.Length(0)
	for _, g := range p.Site.Gaps {
		if g.B >= 0 {
			gap = g.Wide
		}
	}
	exact := edit(apart("100 in"), design.Edit{Bed: "b1", Field: "arch_path", Value: gap.String()})
	if f, told := look(exact)["arch-path"]; told {
		t.Errorf("bent for what it spans, it is told of: %s", f.Text)
	}
}
