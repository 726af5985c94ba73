package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/core/why"
)

// Six designs counted by hand, American defaults, spares left out.
//
//   - boarded, 2 courses of 2x8, a mid post on each long side: at 4 corner posts 2 boards
//     a course and at 2 mid posts one: (8 + 2) x 2 = 20 joints of 3 screws.
//   - plain box, one 2x12 high, one tie: 4 corners of 3 lags and washers; a cleat at both
//     ends of the tie, 5 screws of 2 1/2 in to the side and 3 of 3 in from the tie.
//   - staked, 3 courses of 1x6, a stake between the corners of each side, none of the
//     ends: (8 + 2) x 3 = 30 joints of 2.
//   - planter on feet, 30 x 14 in: 4 legs, 2 boards, 2 courses, 16 joints, 8 of the lowest
//     boards of 5 and 8 of 2, 56; ledgers
//     of 27 in every 6 in (150 mm, 5.9): 27 / 5.9 = 5 stretches, 6 screws, of 11 in 3, two
//     of each, 18; 6 slats on 2 ledgers, 12 joints of 2, 24: 98 in all. Two straps across 4
//     slats and 2 across one more: 10 joints of 2, 20.
//   - planter on legs, 48 x 24 in: 4 x 2 x 3 = 24 joints at the legs, 8 of the lowest boards
//     of 5, one for every inch of 5 1/2 less one, and 16 of 2, 72; ledgers of 41
//     in 8 and of 17 in 4, two of each, 24; 8 slats on 2 ledgers of 2, 32.
//   - boards in slotted blocks: nothing is drilled.
func TestScrewsOfSixDesigns(t *testing.T) {
	for _, c := range []struct {
		system string
		size   []string
		want   map[string]int // by fixing
	}{
		{"boarded", nil, map[string]int{"deck-10-3-1_2": 60}},
		{"plain-box", nil, map[string]int{"lag-5_16-4": 12, "washer-5_16": 12, "deck-9-2-1_2": 10, "deck-9-3": 6}},
		{"staked", nil, map[string]int{"deck-8-2": 60}},
		{"footed", []string{"30 in", "14 in", "7 1/2 in"}, map[string]int{"deck-8-1-5_8": 98, "deck-8-1": 20}},
		{"legged", []string{"48 in", "24 in", "9 in"}, map[string]int{"deck-10-3-1_2": 72, "deck-8-2-1_2": 24,
			"deck-9-3": 32}},
		{"slotted", nil, map[string]int{}}, // nothing is drilled
	} {
		edits := []design.Edit{set("system", c.system)}
		if c.size != nil {
			edits = append(edits, set("length", c.size[0]), set("width", c.size[1]), set("soil", c.size[2]))
		}
		p := mustPlan(t, "us", edits...)
		if len(p.Fixings.Needs) != len(c.want) {
			t.Errorf("%s: %d kinds of fixing, want %v", c.system, len(p.Fixings.Needs), c.want)
		}
		for _, n := range p.Fixings.Needs {
			if n.Count != c.want[n.Fixing.ID] {
				t.Errorf("%s: %d %s, want %d", c.system, n.Count, n.Fixing.Name, c.want[n.Fixing.ID])
			}
		}
	}
}

// No tip shows through a face, in any design: along the axis on which two pieces touch a
// screw is shorter than both are thick together, by their places in space. And screws
// of a joint stand in the wood: at least two of their diameters from an edge and from
// one another.
func TestNoTipShows(t *testing.T) {
	r := newDealer(3)
	looked := 0
	for k := range 300 {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for i := range p.Frames {
			f := &p.Frames[i]
			for _, j := range f.Joints {
				x, ok := p.Fixings.ByJoint[j.ID]
				a, okA := f.Part(j.Parts[0])
				b, okB := f.Part(j.Parts[1])
				if !ok || !okA || !okB || j.Kind == frame.PocketEnd || j.Kind == frame.Splice {
					continue
				}
				looked++
				if room := together(a.Body, b.Body); room > 0 && x.Fixing.Length >= room {
					t.Fatalf(
						"%s, %s: %s through %s into %s, %v of wood in all",
						d.Beds[0].System,
						j.Kind,
						x.Fixing.Name,
						a.Role,
						b.Role,
						room,
					)
				}
			}
			for _, x := range p.Fixings.Details(p.Frames[i:i+1], shop.Catalog) {
				if x.Behind < 0 && x.Fixing.Kind != catalog.Pocket {
					t.Fatalf("%s: %v behind the tip of %s", x.Kind, x.Behind, x.Fixing.Name)
				}
				if d := x.Fixing.Diameter; x.Edge < d*3/2 || x.Face > 1 && x.Apart < 2*d {
					t.Fatalf(
						"%s of %v: %d of %s, %v from the edge and %v apart",
						x.Kind,
						x.Run,
						x.Each,
						x.Fixing.Name,
						x.Edge,
						x.Apart,
					)
				}
				if x.Pilot >= x.Fixing.Diameter || x.Clear > 0 && x.Clear < x.Fixing.Diameter {
					t.Fatalf("%s: pilot %v, clearance %v", x.Fixing.Name, x.Pilot, x.Clear)
				}
			}
		}
	}
	if looked < 2000 {
		t.Errorf("only %d joints", looked)
	}
}

// together is how thick two pieces are along the axis on which they touch; 0 where they
// touch on none.
func together(a, b frame.Prism) measure.Length {
	alo, ahi := a.Bounds()
	blo, bhi := b.Bounds()
	for _, axis := range []frame.Axis{frame.X, frame.Y, frame.Z} {
		if alo.Along(axis) == bhi.Along(axis) || blo.Along(axis) == ahi.Along(axis) {
			return ahi.Along(axis) - alo.Along(axis) + bhi.Along(axis) - blo.Along(axis)
		}
	}
	return 0
}

// Experience of the trade as check values (common practice): two-inch boards over 8 ft
// bow and with a middle post they do not; one-inch boards on stakes every 4 ft hold at
// two courses; a table of 4 ft by 4 ft on 4x4 legs, with 2x6 walls, a boarded floor and
// its ledgers screwed every 6 in, bears 16 in of wet soil.
func TestExperienceOfTheTrade(t *testing.T) {
	for _, c := range []struct {
		name  string
		edits []design.Edit
		told  []string // that must be among the findings
		not   []string // that may be worth knowing at most
	}{
		{"2x8 over 8 ft", []design.Edit{set("mid_posts", "0")}, []string{"side-bows"}, nil},
		{"2x8 with a middle post", []design.Edit{set("mid_posts", "1")}, nil, []string{"side-bows", "pulls-side"}},
		{"1x6 on stakes every 4 ft, two courses", []design.Edit{set("system", "staked"), set("board", "1x6"),
			set("soil", "9 in"), set("freeboard", "1 in"), set("stakes", "1"), set("end_stakes", "0")}, nil,
			[]string{"side-bows", "end-bows", "pulls-side", "pulls-end"}},
		{"a table of 4 ft by 4 ft", []design.Edit{set("system", "legged"), set("post", "4x4"), set("board", "2x6"),
			set("length", "48 in"), set("width", "48 in"), set("height", "36 in"), set("soil", "16 in")}, nil,
			[]string{"floor-sags", "beams-sag", "ledger-screws", "side-bows"}},
	} {
		p := mustPlan(t, "us", c.edits...)
		for _, code := range c.told {
			if _, ok := finding(p, code); !ok {
				t.Errorf("%s: no %s among %v", c.name, code, codes(p))
			}
		}
		for _, code := range c.not {
			if f, ok := finding(p, code); ok && f.Severity != review.Note {
				t.Errorf("%s: %s (%v)", c.name, f.Text, f.Why)
			}
		}
	}
}

// Figures that follow say from what: by hand, an American default is 8 ft inside and two
// boards of 1 1/2 in longer outside; its soil is 8 x 4 x 1 ft less four corner posts and two
// mid posts of 3 1/2 in; to order 15 % more; the footprint is 99 by 51 in.
func TestFiguresSayWhy(t *testing.T) {
	p := mustPlan(t, "us")
	all := append(append(p.OfSizes("b1"), p.OfGround()...), append(p.OfFill(), p.OfWaste())...)
	byName := map[string]why.Figure{}
	for _, f := range all {
		if told := p.Explain(f.Why); f.Text == "" || told.Sum == "" && told.Result == "" || f.Why.Source == "" {
			t.Errorf("%s %s: %+v", f.Label, f.Text, f.Why)
		}
		byName[f.Label] = f
	}
	for label, want := range map[string][2]string{
		"outside length":                       {`8' 3"`, `8' + 3" = 8' 3"`},
		"footprint":                            {"35.1 sq ft", `8' 3" × 4' 3" = 35`}, // 99 x 51 / 144
		"planting area":                        {"32 sq ft", `8' × 4' = 32`},
		"between the walls, to the soil depth": {"1.19 cu yd", `8' × 4' × 1' = 32 cu ft = 1.19 cu yd`}, // 32 / 27
		"post holes, 1' deep":                  {"2", "below the ground"},
		// 8 boards of 1 1/2 x 7 1/4 in, 4 of 99 and 4 of 48 in, 4 posts of 13 1/2 in and 2 of 25 1/2, all
		// 3 1/2 square: 6395 + 1286 cu in of cedar at 403 kg/m3 (25.16 lb/cu ft), 112 lb.
		"all of it empty": {"112 lb", "× 25.16 lb/cu ft = 112 lb"},
	} {
		f := byName[label]
		if f.Text != want[0] || !strings.Contains(p.Explain(f.Why).String(), want[1]) {
			t.Errorf("%s is %q by %v, want %v", label, f.Text, p.Explain(f.Why), want)
		}
	}
}

// What is there already goes in first: 60 screws and 5 % are 63; with 40 there, 23 are
// bought, with 80 none and the bill has no line of them. What cannot be a number, or is of
// no screw, is refused with what works.
func TestScrewsThatAreThere(t *testing.T) {
	have := func(n string) *plan.Plan {
		return mustPlan(t, "us", design.Edit{Field: "have:deck-10-3-1_2", Value: n})
	}
	plain, some, all := mustPlan(t, "us"), have("40"), have("80")
	if n := some.Fixings.Needs[0]; plain.Fixings.Needs[0].Buy != 63 || n.Buy != 23 || n.Have != 40 || n.Count != 60 {
		t.Errorf("%+v", n)
	}
	if n := all.Fixings.Needs[0]; n.Buy != 0 || len(n.Packs) != 0 || n.Have != 63 {
		t.Errorf("%+v", n)
	}
	if a, b, c := plain.Bill.Total, some.Bill.Total, all.Bill.Total; a < b || b <= c {
		t.Errorf("totals %v, %v and %v", a, b, c)
	}
	for field, words := range map[string]string{"have:deck-10-3-1_2": "0 to 100000 works",
		"have:spoons": "nothing is sold"} {
		_, err := design.Apply(plain.Design, plain.Shop.Catalog, design.Edit{Field: field, Value: "a few"})
		if err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// One bed of a project is tried anew with the screws that the whole project takes: left as it
// is, it gets just those it has.
func TestTriedWithTheOthers(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		d, shop := mixed(t, region)
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		draft := fixing.DraftOf(p.Frames, shop.Catalog, shop.Habits)
		whole := fixing.Choose(p.Frames, shop.Catalog, shop.Habits)
		for i := range p.Frames {
			got := draft.With(i, &p.Frames[i])
			for _, j := range p.Frames[i].Joints {
				g, w := got.ByJoint[j.ID], whole.ByJoint[j.ID]
				if g.Fixing.ID != w.Fixing.ID || g.Count != w.Count || g.Pilot != w.Pilot {
					t.Errorf("%s, %s: %d of %s, with all %d of %s", region, j.ID, g.Count, g.Fixing.ID, w.Count, w.Fixing.ID)
				}
			}
			for k, n := range whole.Needs {
				if g := got.Needs[k]; g.Fixing.ID != n.Fixing.ID || g.Count != n.Count || g.Buy != n.Buy {
					t.Errorf("%s, bed %d: %d of %s, with all %d of %s", region, i, g.Count, g.Fixing.ID, n.Count, n.Fixing.ID)
				}
			}
		}
	}
}

// Corner posts of 2x2, 1 1/2 in square, behind boards as thick: 3 in of wood, so a screw of
// 2 1/2 in, which is 1 2/3 of the board, and stays inside.
func TestSmallCornerPosts(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.Apply(design.New(shop.Catalog, "x"), shop.Catalog, set("post", "2x2"))
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	for _, j := range p.Frames[0].Joints {
		x, ok := p.Fixings.ByJoint[j.ID]
		if !ok || j.Kind == frame.FaceToPost && (j.Into != 3*measure.Inch/2 || x.Fixing.Length != 5*measure.Inch/2) {
			t.Errorf("%s: %s into %v", j.ID, x.Fixing.Name, j.Into)
		}
	}
}
