package plan_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/long"
)

// lawn is ground that falls 300 mm over a plot of 6 by 4 m, from the back to the front, as pegs
// at its corners have it.
const lawn = "peg,right,out,height\nA,0,0,0\nB,6 m,0,0\nC,6 m,4 m,300\nD,0,4 m,300\n"

// on are edits that place the bed on a plot of 6 by 4 m whose ground was read.
func on(readings string, more ...design.Edit) []design.Edit {
	return append([]design.Edit{
		{Field: "plot:width", Value: "6 m"}, {Field: "plot:depth", Value: "4 m"},
		{Field: "ground:readings", Value: readings}, {Bed: "b1", Field: "place:0", Value: "1 m;1 m"}}, more...)
}

// A sloping lawn by hand. The ground rises 75 mm to the metre; a bed 1300 mm deep from front to
// back, outside, whatever its length L, stands on a wedge of 97.5 mm: at its lowest corner
// L x 1.3 x 0.0975 / 2 is dug, at its highest as much is filled. Where as much is dug as is
// filled once it is trodden to 0.9 of its room, with c + f = 97.5 mm: 0.9 c² = f²,
// c = 97.5 / (1 + √0.9) = 50.04 mm at the back, and L x 1.3/97.5 x c²/2 is dug.
func TestMeasuredGround(t *testing.T) {
	p := mustPlan(t, "metric", on(lawn)...)
	x := p.Formations[0]
	l, deep := p.Frames[0].Outside[1].U.Metres(), p.Frames[0].Outside[1].V.Metres()
	drop := deep * 0.075
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got-want) > 1e-6 {
			t.Errorf("%s: %.6f, not %.6f", what, got, want)
		}
	}
	near("dug at the lowest corner", x.Moved.Cut, l*deep*drop/2)
	near("drop", x.Drop().Metres(), drop)
	if x.Way != "lowest" || x.Moved.Fill != 0 || !strings.Contains(x.Where(x.High), "back") {
		t.Errorf("%+v", x)
	}
	high := mustPlan(t, "metric", on(lawn, design.Edit{Bed: "b1", Field: "level:0", Value: "highest"})...)
	near("filled at the highest", high.Formations[0].Moved.Fill, l*deep*drop/2)
	// two posts of 75 mm, 300 mm in the ground, make room for something too
	near("to be brought", high.Ground.Account.Short.CubicMetres(), l*deep*drop/2/0.9-2*0.075*0.075*0.3)
	even := mustPlan(t, "metric", on(lawn, design.Edit{Bed: "b1", Field: "level:0", Value: "balanced"})...)
	c := drop / (1 + math.Sqrt(0.9))
	near("balanced, dug", even.Formations[0].Moved.Cut, l*deep/drop*c*c/2)
	near("balanced, filled", even.Formations[0].Moved.Fill, l*deep/drop*c*c/2*0.9)
	follow := mustPlan(t, "metric", on(lawn, design.Edit{Bed: "b1", Field: "level:0", Value: "follow"})...)
	near("followed", follow.Formations[0].Moved.Cut+follow.Formations[0].Moved.Fill, 0)
	if share, toward := follow.Formations[0].Ground.Fall(); math.Abs(share-0.075) > 1e-9 || toward != 180 {
		t.Errorf("it falls %.4f towards %.0f", share, toward)
	}
	// 5 cm of turf over the outside of the walls, what is dug into the bed: so much less is bought.
	reuse := mustPlan(t, "metric", on(lawn, design.Edit{Field: "ground:spoil", Value: "bed"},
		design.Edit{Field: "ground:turf", Value: "under"}, design.Edit{Bed: "b1", Field: "grass", Value: "strip"})...)
	a := reuse.Ground.Account
	near("turf", a.Under.CubicMetres(), l*deep*0.05)
	near("topsoil", a.Used.CubicMetres(), l*deep*drop/2)
	near("to order", reuse.Fill.Order.CubicMetres(), (p.Fill.Net.CubicMetres()-l*deep*(0.025+drop/2))*1.15)
	near("what the posts leave", a.Leaves.CubicMetres(), 2*0.075*0.075*0.3)
	if reuse.Bill.Total >= p.Bill.Total {
		t.Errorf("%+v: %v against %v", a, reuse.Bill.Total, p.Bill.Total)
	}

	for code, edits := range map[string][]design.Edit{
		"stands-on-fill": on(strings.ReplaceAll(lawn, "300", "500"),
			design.Edit{Bed: "b1", Field: "level:0", Value: "highest"}),
		"falls-along": on(lawn, design.Edit{Bed: "b1", Field: "level:0", Value: "follow"}),
		"bank": on(strings.ReplaceAll(lawn, "300", "1700"),
			design.Edit{Bed: "b1", Field: "level:0", Value: "lowest"}),
		"levels-guessed": on("peg,right,out,height\nA,0,0,0\nB,1 m,0,0\nC,0,1 m,20\n"),
		"levels-open":    on("peg,right,out,back,between\nA,,,1400,\nB,0,0,,1300\nC,6 m,4 m,,1250\n"),
		"levels-out":     on("peg,right,out,back,between,fore\nA,0,0,1400,,\nB,6 m,4 m,,1300,\nA,,,,,1380\n"),
	} {
		p := mustPlan(t, "metric", edits...)
		f, ok := finding(p, code)
		if !ok {
			t.Errorf("no %s among %v", code, codes(p))
			continue
		}
		for _, m := range f.Remedies {
			d, err := design.Apply(p.Design, p.Shop.Catalog, m.Edits...)
			if err != nil {
				t.Errorf("%s: %v", code, err)
				continue
			}
			if after, err := plan.Make(d, p.Shop); err != nil {
				t.Errorf("%s: %v", code, err)
			} else if _, still := finding(after, code); still {
				t.Errorf("%s: %q does not mend it", code, m.Label)
			}
		}
	}
}

// Random grounds and designs: what comes out is what goes in and what leaves, to the cubic
// millimetre; the beds are filled with what they have room for; and the soil that is bought is what
// else there is not.
func TestAccountCloses(t *testing.T) {
	if testing.Short() {
		t.Skip("dozens of designs")
	}
	rounds := 50
	if long.Whole() {
		rounds = 500
	}
	rng := rand.New(rand.NewPCG(19, 1))
	pick := func(list []design.Choice) string { return list[rng.IntN(len(list))].Value }
	for round := range rounds {
		region := []string{"us", "metric"}[round%2]
		var csv strings.Builder
		csv.WriteString("peg,right (m),out (m),height (m)\n")
		for i := range 1 + rng.IntN(20) {
			fmt.Fprintf(&csv, "P%d,%.3f,%.3f,%.3f\n", i, rng.Float64()*9, rng.Float64()*7, rng.Float64()*0.6-0.3)
		}
		systems := design.Systems()
		edits := []design.Edit{{Bed: "b1", Field: "system", Value: systems[rng.IntN(len(systems))].Name},
			{Field: "ground:readings", Value: csv.String()}, {Field: "ground:earth", Value: pick(design.Earths)},
			{Field: "ground:spoil", Value: pick(design.Spoils)}, {Field: "ground:turf", Value: pick(design.Turfs)},
			{Bed: "b1", Field: "level:0", Value: pick(design.LevelWays)},
			{Field: "ground:even", Value: pick(design.Evens)}}
		if round%3 == 0 {
			edits = append(edits, design.Edit{Bed: "b1", Field: "count", Value: "2"})
		}
		p := mustPlan(t, region, edits...)
		if field, ok := design.FieldOf(p.Design.Beds[0], "grass"); ok {
			edits = append(edits, design.Edit{Bed: "b1", Field: field.Key, Value: []string{"strip", "keep"}[rng.IntN(2)]})
			p = mustPlan(t, region, edits...)
		}
		a := p.Ground.Account
		closes(t, fmt.Sprintf("round %d, %s", round, p.Design.Beds[0].System), p)
		var moved float64
		for _, x := range p.Formations {
			moved += x.Moved.Cut
			wanted := x.Moved.Fill / a.Earth.Trodden
			if b := x.Balanced; x.Way == "balanced" && math.Abs(x.Moved.Cut-wanted) > 1e-6 {
				t.Errorf("round %d: at %.4f %.6f is dug and %.6f wanted", round, b, x.Moved.Cut, wanted)
			}
		}
		if cut := measure.CubicMetres(moved); cut > 0 && (len(a.Out) == 0 || !hasFlow(a.Out, cut)) {
			t.Errorf("round %d: %v is dug, and not booked: %+v", round, cut, a.Out)
		}
		f := p.Fill
		if rest := f.Net - f.Found - f.Topsoil - f.Turf/fill.TurfSettles; rest < 0 ||
			f.Order != rest.PerMille(1000+int64(f.Settling)) || f.Topsoil != a.Used || f.Turf != a.Under {
			t.Errorf("round %d: %+v", round, f)
		}
	}
}

// closes holds a plan's account of what is dug to itself: what comes out is what goes in and what leaves.
func closes(t *testing.T, name string, p *plan.Plan) {
	t.Helper()
	a := p.Ground.Account
	var out, in measure.Volume
	for _, f := range a.Out {
		out += f.Volume
	}
	for _, f := range a.In {
		in += f.Volume
	}
	if out != in+a.Leaves || a.Leaves < 0 || a.Short < 0 || a.Short > 0 && a.Used > 0 {
		t.Errorf("%s: %v comes out, %v goes in and %v leaves", name, out, in, a.Leaves)
	}
}

func hasFlow(list []ground.Flow, v measure.Volume) bool {
	for _, f := range list {
		if f.Volume == v {
			return true
		}
	}
	return false
}

// A what-if on measured ground comes to what the whole road does, whatever of the ground it takes over.
func TestWhatIfsOnMeasuredGround(t *testing.T) {
	p := mustPlan(t, "metric", on(lawn, design.Edit{Field: "ground:spoil", Value: "bed"})...)
	var asks [][]design.Edit
	for _, e := range []design.Edit{{Bed: "b1", Field: "length", Value: "3 m"},
		{Bed: "b1", Field: "board", Value: "150x38"},
		{Bed: "b1", Field: "level:0", Value: "highest"}, {Bed: "b1", Field: "level:0", Value: "balanced"},
		{Bed: "b1", Field: "on", Value: "slab"}, {Bed: "b1", Field: "system", Value: "ring"},
		{Bed: "b1", Field: "place:0", Value: "2 m;2 m"}, {Field: "ground:earth", Value: "clay"},
		{Field: "ground:readings", Value: "peg,right,out,height\nA,0,0,0\n"}, {Field: "plot:depth", Value: "5 m"},
		{Bed: "b1", Field: "cap", Value: "mitred"}, {Bed: "b1", Field: "soil", Value: "500 mm"}} {
		asks = append(asks, []design.Edit{e})
	}
	for i, o := range plan.WhatIfs(t.Context(), p, asks) {
		d, err := design.Apply(p.Design, p.Shop.Catalog, asks[i]...)
		if err != nil || o.Err != nil {
			t.Errorf("%+v: %v, %v", asks[i], err, o.Err)
			continue
		}
		whole, err := plan.Make(d, p.Shop)
		if err != nil {
			t.Fatal(err)
		}
		want := plan.Changes(p, whole)
		if len(want) != len(o.Changes) {
			t.Errorf("%+v: %v as a what-if, %v when it is made", asks[i], o.Changes, want)
			continue
		}
		for k := range want {
			if want[k].Key != o.Changes[k].Key || want[k].Text != o.Changes[k].Text {
				t.Errorf("%+v: %v as a what-if, %v when it is made", asks[i], o.Changes[k], want[k])
			}
		}
	}
}

// Walls along a line are laid along a contour, and terraces take the heights of their corners, from ground
// that was measured: every point of the line lies at one height, to what a line is thinned and rounded by; the
// corners are those of the ground.
func TestFollowsTheGround(t *testing.T) {
	wavy := "peg,right (m),out (m),height (m)\n"
	for i := range 9 {
		for k := range 7 {
			x, y := float64(i)*1.5, float64(k)*1.5
			wavy += fmt.Sprintf("P%d-%d,%.1f,%.1f,%.3f\n", i, k, x, y, 0.12*y+0.05*math.Sin(x/2.2))
		}
	}
	at := []design.Edit{{Field: "plot:width", Value: "12 m"}, {Field: "plot:depth", Value: "9 m"},
		{Field: "ground:readings", Value: wavy}, {Bed: "b1", Field: "place:0", Value: "3 m;3 m"}}
	p := mustPlan(t, "metric", append([]design.Edit{set("system", "along")}, at...)...)
	list := p.FromGround("b1")
	if len(list) != 1 {
		t.Fatalf("%d offers", len(list))
	}
	d, err := design.Apply(p.Design, p.Shop.Catalog, list[0].Edits...)
	if err != nil {
		t.Fatal(err)
	}
	q, err := plan.Make(d, p.Shop)
	if err != nil {
		t.Fatal(err)
	}
	put := q.Site.Stands[0].On(&q.Frames[0])
	low, high, n := math.Inf(1), math.Inf(-1), 0
	for _, h := range q.Frames[0].Handles {
		if h.Half {
			continue
		}
		s := put(h.At)
		z, measured := q.Surface.At(s.U.Metres(), s.V.Metres())
		low, high, n = min(low, z), max(high, z), n+1
		if !measured {
			t.Errorf("a point lies beyond the pegs, at %v, %v", s.U, s.V)
		}
	}
	if n < 3 || high-low > 0.02 {
		t.Errorf("%d points lie between %.3f and %.3f m: %s", n, low, high, list[0].Label)
	}

	terraces := mustPlan(t, "metric", append([]design.Edit{set("system", "terraces")}, at...)...)
	list = terraces.FromGround("b1")
	if len(list) != 1 {
		t.Fatalf("%d offers for terraces", len(list))
	}
	heights := strings.Split(list[0].Edits[0].Value, "; ")
	put = terraces.Site.Stands[0].On(&terraces.Frames[0])
	o := terraces.Frames[0].Outside
	var zs []float64
	for _, c := range []frame.Spot{o[0], {U: o[1].U, V: o[0].V}, o[1], {U: o[0].U, V: o[1].V}} {
		s := put(c)
		z, _ := terraces.Surface.At(s.U.Metres(), s.V.Metres())
		zs = append(zs, z)
	}
	least := min(zs[0], zs[1], zs[2], zs[3])
	for i, h := range heights {
		l, err := measure.Parse(h, measure.Metric)
		if err != nil || math.Abs(l.Metres()-(zs[i]-least)) > 0.001 {
			t.Errorf("corner %d is taken at %s, and lies %.4f m above the lowest: %v", i, h, zs[i]-least, err)
		}
	}
	if d, err = design.Apply(terraces.Design, terraces.Shop.Catalog, list[0].Edits...); err != nil {
		t.Fatal(err)
	}
	if _, err := plan.Make(d, terraces.Shop); err != nil {
		t.Error(err)
	}
}

// Two beds beside one another on a plane that falls 1 in 10 to the right and 1 in 25 to the front: the path between
// them, which runs from front to back, falls 1 in 25 along and 1 in 10 across, exactly. Made even, what is scraped off
// fills its low side, and the account closes with it; a wheelchair wants it flatter, and somebody on foot says nothing.
func TestPathsFall(t *testing.T) {
	readings := "peg,right,out,height\nA,0,0,0\nB,10 m,0,-1 m\nC,0,10 m,0.4 m\nD,10 m,10 m,-0.6 m\n"
	base := []design.Edit{{Field: "plot:width", Value: "10 m"}, {Field: "plot:depth", Value: "10 m"},
		set("length", "2 m"), set("width", "1 m"), set("count", "2"), set("place:0", "1 m;3 m"), set("place:1", "4.4 m;3 m"),
		{Field: "ground:readings", Value: readings}}
	told := func(more ...design.Edit) (*plan.Plan, map[string]bool) {
		p := mustPlan(t, "metric", append(slices.Clone(base), more...)...)
		list := map[string]bool{}
		for _, f := range p.Findings {
			list[f.Code] = true
		}
		return p, list
	}
	foot, said := told()
	i := slices.IndexFunc(foot.Walks, func(w ground.Walk) bool { return w.B >= 0 })
	if i < 0 {
		t.Fatalf("no path: %+v", foot.Walks)
	}
	w := foot.Walks[i]
	if math.Abs(w.Along-0.04) > 1e-9 || math.Abs(w.Across-0.1) > 1e-9 || w.Steps != 0 || said["path-steep"] {
		t.Errorf("it falls %v along and %v across, %d steps", w.Along, w.Across, w.Steps)
	}
	// A wedge: half of its width lies high by a tenth of a quarter of it on average.
	wide := w.Outline[1].X - w.Outline[0].X
	long := w.Outline[2].Y - w.Outline[1].Y
	if wedge := long * wide / 2 * wide / 4 * 0.1; math.Abs(w.Moved.Cut-wedge) > wedge*0.06 ||
		math.Abs(w.Moved.Cut*0.9-w.Moved.Fill) > 1e-6 {
		t.Errorf("%.4f m³ off its high side for %.4f on its low one, a wedge is %.4f", w.Moved.Cut, w.Moved.Fill, wedge)
	}
	wheels := design.Edit{Field: "plot:passage", Value: "wheelchair"}
	if _, said = told(wheels); !said["path-slants"] || said["path-steep"] {
		t.Errorf("for a wheelchair it says %v", said)
	}
	even, said := told(wheels, design.Edit{Field: "ground:even", Value: "even"})
	if said["path-slants"] || !slices.ContainsFunc(even.Steps, func(s work.Step) bool { return s.ID == "walks" }) {
		t.Errorf("made even it says %v", said)
	}
	closes(t, "made even", even)
	steep, said := told(design.Edit{Field: "ground:readings", Value: strings.ReplaceAll(strings.ReplaceAll(readings,
		"0.4 m", "2.5 m"), "-0.6 m", "1.5 m")})
	if w := steep.Walks[i]; !said["path-steep"] || w.Steps != 1 { // 1 in 4 over a metre: 83 mm more than 1 in 6
		t.Errorf("at 1 in 4 it takes %d steps and says %v", w.Steps, said)
	}
}
