package draw

import (
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/strength"
	"chamfer/long"
)

var update = flag.Bool("update", false, "rewrite the golden drawings")

func bed(t testing.TB, region string, edits ...design.Edit) *plan.Plan {
	t.Helper()
	shop, err := plan.ShopFor(region)
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(shop.Catalog, "a bed")
	for i := range edits {
		edits[i].Bed = "b1"
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

var sheets = map[string]Sheet{
	"wide":   {W: 860, H: 470, Font: 17, Edit: "?hand=%s"},
	"narrow": {W: 360, H: 320, Font: 15, Edit: "?hand=%s"},
	"paper":  {W: 1120, H: 790, Font: 20, Own: true},
}

// Every part is in every drawing once, and every dimension written is a measure
// of the plan.
func TestPartsAndDimensions(t *testing.T) {
	checkParts(
		t,
		"notched",
		bed(t, "us", design.Edit{Field: "cap", Value: "mitred"}, design.Edit{Field: "cap_out", Value: "1 in"},
			design.Edit{Field: "post_in_ground", Value: "4 in"}, design.Edit{Field: "notch", Value: "back-left"}),
	)
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
				t.Fatal(err)
			}
			checkParts(t, e.Name+" "+region, p)
		}
	}
}

func checkParts(t *testing.T, what string, p *plan.Plan) {
	t.Helper()
	part := regexp.MustCompile(`data-part="([^"]+)"`)
	number := regexp.MustCompile(`<text class="d-text" [^>]*>(.*?)</text>`)
	tags := regexp.MustCompile(`<[^>]+>`)
	for name, s := range sheets {
		for _, v := range Views {
			svg := Bed(p, "b1", v.View, s)
			seen := map[string]int{}
			for _, m := range part.FindAllStringSubmatch(svg, -1) {
				seen[m[1]]++
			}
			for _, q := range p.Frames[0].Parts {
				if seen[q.ID] != 1 {
					t.Errorf("%s, %s %s: %s is drawn %d times", what, name, v.View, q.ID, seen[q.ID])
				}
			}
			if v.View == Loads { // its numbers are shares, and it carries no dimensions
				if strings.Contains(svg, "NaN") || strings.Contains(svg, "Inf") ||
					len(p.Frames[0].Parts) > 0 && !strings.Contains(svg, "d-load") {
					t.Errorf("%s, %s: no loads", what, name)
				}
				continue
			}
			values := map[string]bool{}
			for _, m := range p.Frames[0].Measures {
				values[esc(p.Shop.Precision().Feet(m.Length()))] = true
			}
			found := 0
			for _, m := range number.FindAllStringSubmatch(svg, -1) {
				found++
				if text := tags.ReplaceAllString(m[1], ""); !values[text] {
					t.Errorf("%s, %s %s: dimension %q is no measure of the plan", what, name, v.View, text)
				}
			}
			if v.View == Apart {
				found += 3 // it carries no dimensions
			}
			if found < 3 || strings.Contains(svg, "NaN") || strings.Contains(svg, "Inf") {
				t.Errorf("%s, %s %s: %d dimensions", what, name, v.View, found)
			}
		}
	}
}

// On the plot every bed stands once, where the layout has it, and every number
// written is the plot's or a path's.
func TestPlotDrawing(t *testing.T) {
	p := bed(
		t,
		"us",
		design.Edit{Field: "count", Value: "5"},
		design.Edit{Field: "place:1", Value: "2 ft;11 ft;turned"},
		design.Edit{Field: "length", Value: "6 ft"},
	)
	svg := Plot(p, sheets["wide"])
	d := &plotDrawing{plan: p, sheet: sheets["wide"], precision: p.Shop.Precision(), l: &p.Site}
	d.draw()
	values := map[string]bool{"N": true}
	pr := p.Shop.Precision()
	for _, g := range p.Site.Gaps {
		values[esc(pr.Feet(g.Wide))] = true
	}
	values[esc(pr.Feet(p.Site.Plot.Width))], values[esc(pr.Feet(p.Site.Plot.Depth))] = true, true
	for i, s := range p.Site.Stands {
		if n := strings.Count(svg, fmt.Sprintf(`data-stand="%s:%d"`, s.Bed, s.N)); n != 1 {
			t.Errorf("bed %d is drawn %d times", i, n)
		}
		a, b := bounds(d.corners(s.Lo, s.Hi))
		if turned := b.y-a.y > b.x-a.x; turned != s.Turned {
			t.Errorf("bed %d, turned %v, is drawn %.0f by %.0f", i, s.Turned, b.x-a.x, b.y-a.y)
		}
		values[fmt.Sprintf("%s, %d", s.Name, s.N+1)], values[fmt.Sprint(i+1)] = true, true
	}
	tags := regexp.MustCompile(`<[^>]+>`)
	texts := regexp.MustCompile(`<text class="d-text" [^>]*>(.*?)</text>`).FindAllStringSubmatch(svg, -1)
	for _, m := range texts {
		if text := tags.ReplaceAllString(m[1], ""); !values[text] {
			t.Errorf("%q is written on the plot", text)
		}
	}
	if len(texts) < 10 || strings.Contains(svg, "NaN") {
		t.Errorf("%d texts", len(texts))
	}
}

// Painting order against a brute-force depth test: where two solids are in line
// for the viewer, the one that is nearer there is painted later. First random
// boxes that share no room, then the frames of beds of every kind from all
// sides. Boxes may hide one another in a ring, which no order can paint; frames
// never may.
func TestPaintOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	rings := 0
	for range 150 {
		cam := turned(float64(r.IntN(360)), float64(5+r.IntN(80)))
		var list []*body
		for len(list) < 9 {
			at := func(n int) measure.Length { return measure.Length(r.IntN(n)) * 100 * measure.Millimetre }
			lo := frame.Point{X: at(20), Y: at(20), Z: at(10)}
			step := 100 * measure.Millimetre
			b := newBody(
				nil,
				frame.Box(lo, frame.Point{X: lo.X + step + at(12), Y: lo.Y + step + at(12), Z: lo.Z + step + at(6)}),
				cam,
			)
			free := true
			for _, o := range list {
				free = free && apart(b, o)
			}
			if free {
				list = append(list, b)
			}
		}
		order, ring := paint(list, cam)
		if ring {
			rings++
			continue
		}
		checkOrder(t, order, cam)
	}
	if rings > 30 {
		t.Errorf("%d of 150 scenes were rings", rings)
	}
	for _, system := range design.Systems() {
		edits := []design.Edit{{Field: "system", Value: system.Name}}
		if !slices.Contains(system.Lacks, "cap") {
			edits = append(edits, design.Edit{Field: "cap", Value: "mitred"})
		}
		p := bed(t, "metric", edits...)
		step := 27.0
		if len(p.Frames[0].Units) > 60 { // many units, alike all round
			step = 57
		}
		if !long.Whole() {
			step *= 5
		}
		for yaw := 3.0; yaw < 360; yaw += step {
			d := &drawing{plan: p, f: &p.Frames[0], view: Solid, cam: turned(yaw, 32)}
			order, ring := paint(d.bodies(), d.cam)
			if ring {
				t.Errorf("%s, from %v degrees: the frame is a ring", system.Name, yaw)
			}
			checkOrder(t, order, d.cam)
		}
	}
	for i, name := range []string{"along", "along-level", "outlined", "hollow-block"} { // and what stands beside
		shop, err := plan.ShopFor([]string{"us", "metric"}[i%2])
		if err != nil {
			t.Fatal(err)
		}
		d, err := design.ExampleNamed(name, shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		for _, edit := range []design.Edit{{Field: "fence", Value: "net"}, {Field: "trellis", Value: "wire"}} {
			if next, err := design.Apply(d, shop.Catalog, edit); err == nil {
				d = next
			}
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for yaw := 10.0; yaw < 360; yaw += 97 {
			d := &drawing{plan: p, f: &p.Frames[0], view: Solid, cam: turned(yaw, 32)}
			order, ring := paint(d.bodies(), d.cam)
			if ring {
				t.Errorf("%s, from %v degrees: the frame is a ring", name, yaw)
			}
			checkOrder(t, order, d.cam)
		}
	}
	for _, corners := range []string{design.SidesCover, design.EndsCover, design.Pinwheel} {
		for _, capStyle := range []string{design.NoCap, design.Butted, design.Mitred} {
			p := bed(t, "us", design.Edit{Field: "corners", Value: corners}, design.Edit{Field: "cap", Value: capStyle})
			for yaw := 3.0; yaw < 360; yaw += 27 {
				d := &drawing{plan: p, f: &p.Frames[0], view: Solid, cam: turned(yaw, 32)}
				order, ring := paint(d.bodies(), d.cam)
				if ring {
					t.Errorf("%s, cap %s, from %v degrees: the frame is a ring", corners, capStyle, yaw)
				}
				checkOrder(t, order, d.cam)
			}
		}
	}
}

// apart reports whether two boxes share no room.
func apart(a, b *body) bool {
	for i := range 3 {
		lo := [2]float64{math.Inf(1), math.Inf(1)}
		hi := [2]float64{math.Inf(-1), math.Inf(-1)}
		for k, o := range []*body{a, b} {
			for _, v := range o.all {
				lo[k], hi[k] = min(lo[k], v[i]), max(hi[k], v[i])
			}
		}
		if hi[0] <= lo[1] || hi[1] <= lo[0] {
			return true
		}
	}
	return false
}

// checkOrder samples the paper wherever two bodies may both be seen.
func checkOrder(t *testing.T, order []*body, cam camera) {
	t.Helper()
	for i, a := range order {
		for j, b := range order[i+1:] {
			lo := pt{max(a.lo.x, b.lo.x), max(a.lo.y, b.lo.y)}
			hi := pt{min(a.hi.x, b.hi.x), min(a.hi.y, b.hi.y)}
			for k := range 25 {
				q := pt{lo.x + (hi.x-lo.x)*(float64(k%5)+0.5)/5, lo.y + (hi.y-lo.y)*(float64(k/5)+0.5)/5}
				da, okA := depthAt(a, q, cam)
				db, okB := depthAt(b, q, cam)
				if okA && okB && da > db+1 {
					t.Fatalf("depth %.0f is painted as %d, depth %.0f later as %d", da, i, db, i+1+j)
				}
			}
		}
	}
}

// depthAt is how near to the viewer a body is where the paper shows q.
func depthAt(b *body, q pt, c camera) (float64, bool) {
	for _, f := range b.visible(c) {
		var flat []pt
		for _, v := range f.corners {
			flat = append(flat, c.flat(v))
		}
		if !inside(q, flat) {
			continue
		}
		// The plane n.v = d meets the ray q + s toward.
		foot := vec{}
		for i := range 3 {
			foot[i] = c.right[i]*q.x - c.up[i]*q.y
		}
		return (f.normal.dot(f.corners[0]) - f.normal.dot(foot)) / f.normal.dot(c.toward), true
	}
	return 0, false
}

// A board's pieces and offcut are drawn to one scale: 45, 45 and 5 1/2 in of 96
// with 1/8 in kerfs.
func TestBoardToScale(t *testing.T) {
	in := measure.Inch
	b := cutting.Board{
		Stock:  cutting.Stock{Length: 96 * in},
		Cuts:   []cutting.Cut{{Piece: "A", Length: 45 * in}, {Piece: "A", Length: 45 * in, At: 45*in + in/8}},
		Offcut: 96*in - 90*in - in/4,
	}
	svg := Board(b, in/8, 96*in, measure.Sixteenths, 971)
	for _, want := range []string{`x="2" y="1" width="450"`, `x="453.25" y="1" width="450"`, "5 3/4 in"} {
		if !strings.Contains(strings.NewReplacer(`<tspan class="d-frac">`, "", "</tspan>", "").Replace(svg), want) {
			t.Errorf("no %s in %s", want, svg)
		}
	}
}

// Golden drawings: the demo's defaults in every view.
func TestGolden(t *testing.T) {
	for _, c := range catalog.Regions() {
		p := bed(t, c.ID, design.Edit{Field: "cap", Value: "mitred"})
		for _, v := range Views {
			name := filepath.Join("testdata", fmt.Sprintf("%s-%s.svg", c.ID, v.View))
			got := Bed(p, "b1", v.View, sheets["paper"])
			if *update {
				if err := os.MkdirAll("testdata", 0o755); err != nil {
					t.Fatal(err)
				}
				if err := os.WriteFile(name, []byte(got), 0o644); err != nil {
					t.Fatal(err)
				}
			}
			want, err := os.ReadFile(name)
			if err != nil || string(want) != got {
				t.Errorf("%s has changed (%v); look at it and refresh it with -update", name, err)
			}
		}
	}
}

func BenchmarkBed(b *testing.B) {
	p := bed(b, "us", design.Edit{Field: "cap", Value: "mitred"})
	for _, v := range Views {
		b.Run(string(v.View), func(b *testing.B) {
			for b.Loop() {
				Bed(p, "b1", v.View, sheets["wide"])
			}
		})
	}
}

// A board with a trim, a defect, strips, a blank that is ripped and the shop's cut:
// each is drawn where the board has it.
func TestBoardParts(t *testing.T) {
	in := measure.Inch
	ripped := cutting.Board{Stock: cutting.Stock{Length: 96 * in, Width: 4 * in}, Strips: []measure.Length{2 * in, in},
		Cuts: []cutting.Cut{
			{Piece: "A", Length: 45 * in, Strip: 1, Width: 2 * in},
			{Piece: "B", Length: 30 * in, Strip: 2, Width: in},
		}, Left: []measure.Length{50 * in, 65 * in}, Offcut: 65 * in}
	svg := Board(ripped, in/8, 96*in, measure.Sixteenths, 971)
	// 960 px are 96 in: 45 in are 450 px; 34 px are 4 in: the strips are 17 and 8 1/2
	// px tall, the second from 2 1/8 in on.
	for _, want := range []string{`x="2" y="1" width="450" height="17"`, `x="2" y="19.06" width="300" height="8.5"`} {
		if !strings.Contains(svg, want) {
			t.Errorf("no %s in %s", want, svg)
		}
	}
	// Of a blank that is ripped into two the saw cut leaves room for the letter: 45 in,
	// ripped at 2 in of 4, where 17 px are 2 in.
	blank := cutting.Board{
		Stock:  cutting.Stock{Length: 96 * in, Width: 4 * in},
		Cuts:   []cutting.Cut{{Piece: "A", Length: 45 * in, Width: 2 * in, Out: 2}},
		Offcut: 50 * in,
	}
	svg = Board(blank, 0, 96*in, measure.Sixteenths, 971)
	box := regexp.MustCompile(`class="d-letterbox" x="([0-9.]+)"`).FindStringSubmatch(svg)
	if box == nil {
		t.Fatalf("no letter in %s", svg)
	}
	left, err := strconv.ParseFloat(box[1], 64)
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{fmt.Sprintf(`class="d-kerf" x="2" y="18" width="%s"`, n(left-2)),
		fmt.Sprintf(`class="d-kerf" x="%s" y="18" width="%s"`, n(454-left), n(left-2))} {
		if !strings.Contains(svg, want) {
			t.Errorf("no %s in %s", want, svg)
		}
	}
	flawed := cutting.Board{
		Stock: cutting.Stock{Length: 96 * in, TrimStart: 2 * in, Defects: []cutting.Span{{From: 40 * in, To: 44 * in}}},
		Part:  60 * in,
		Cuts:  []cutting.Cut{{Piece: "A", Length: 30 * in, At: 2 * in}},
	}
	svg = Board(flawed, in/8, 96*in, measure.Sixteenths, 971)
	for _, want := range []string{`class="d-bad" x="2" y="1" width="20"`, `class="d-bad" x="402" y="1" width="40"`,
		`class="d-part" d="M602 0`, `x="22" y="1" width="300"`} {
		if !strings.Contains(svg, want) {
			t.Errorf("no %s in %s", want, svg)
		}
	}
}

// The path of a load is drawn from what it lies on to the ground: a planter has an arrow
// under every leg, its screws as dots, and the worst of each kind in numbers; another path
// that is asked for is another drawing, and what is over looks it.
func TestLoads(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("legged", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	drawn := func(path string, edits ...design.Edit) string {
		d, err := design.Apply(d, shop.Catalog, edits...)
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		return Bed(p, "b1", Loads, Sheet{W: 860, H: 470, Font: 17, Path: path})
	}
	soil := drawn(string(strength.OnFloor))
	arrow := regexp.MustCompile(`<path class="d-load[^"]*" d="M[^"]*V`)
	if n := len(arrow.FindAllString(soil, -1)); n != 4 {
		t.Errorf("%d arrows under four legs", n)
	}
	if strings.Count(soil, `<circle class="d-load`) < 16 || !regexp.MustCompile(`>\d+ %<`).MatchString(soil) {
		t.Error("no dots, or no shares")
	}
	if push := drawn(string(strength.OnSide)); push == soil || arrow.MatchString(push) {
		t.Error("the push on the sides is drawn as the soil's weight")
	}
	if over := drawn(string(strength.OnFloor), design.Edit{Bed: "b1", Field: "soil", Value: "17 in"},
		design.Edit{Bed: "b1", Field: "length", Value: "72 in"},
		design.Edit{Bed: "b1", Field: "leg_screws", Value: "usual"}); !strings.Contains(
		over,
		"d-load-over",
	) {
		t.Error("what is over does not look it")
	}
}
