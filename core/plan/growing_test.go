package plan_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/planting"
	"chamfer/core/review"
	"chamfer/long"
)

// On random beds of every system, tiers, rings, bays and pots, every plant that a patch or a layout stands anywhere is
// in soil, within the clear opening, in nothing that stands there, and as far from the next of its patch as its crop
// asks; what is placed by hand is not moved.
func TestPlantsStandInSoil(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of beds")
	}
	deal := newDealer(2323)
	n, laid, stood := 0, 0, 0
	for range long.Of(40) * len(design.Systems()) / 4 {
		shop, err := plan.ShopFor([]string{"us", "metric"}[n%2])
		if err != nil {
			t.Fatal(err)
		}
		n++
		d, ok := some(deal, shop)
		if !ok {
			continue
		}
		r := rand.New(rand.NewPCG(9, uint64(n)))
		crops := planting.Crops(shop.Catalog.System)
		p, err := plan.Outline(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		var edits []design.Edit
		for k, s := range p.Growing[0].Surfaces {
			w, h := s.Hi.U-s.Lo.U, s.Hi.V-s.Lo.V
			for range 2 {
				x, y := w*measure.Length(r.IntN(5))/10, h*measure.Length(r.IntN(5))/10
				value := strings.Join([]string{crops[r.IntN(len(crops))].ID, string(rune('0' + min(k, 9))), x.String(), y.String(),
					max(w/2, 30*measure.Millimetre).String(), max(h/2, 30*measure.Millimetre).String()}, "; ")
				edits = append(edits, design.Edit{Bed: "b1", Field: "plant:add", Value: value})
			}
		}
		if len(edits) == 0 {
			continue
		}
		edits = append(edits, design.Edit{Bed: "b1", Field: "want:" + crops[r.IntN(len(crops))].ID, Value: "3"},
			design.Edit{Bed: "b1", Field: "want:bean_bush", Value: "9"}, design.Edit{Bed: "b1",
				Field: "want:radish", Value: "20"})
		if d, err = design.Apply(d, shop.Catalog, edits...); err != nil {
			t.Fatal(err)
		}
		if p, err = plan.Outline(d, shop); err != nil {
			t.Fatal(err)
		}
		stood += stand(t, d.Beds[0].System, p)
		out, err := p.LayPlants("b1", false)
		if err != nil {
			t.Fatal(err)
		}
		laid += len(out.Placed)
		after, err := design.Apply(d, shop.Catalog, out.Edit)
		if err != nil {
			t.Fatal(err)
		}
		if !slices.Equal(after.Beds[0].Plants[:len(d.Beds[0].Plants)], d.Beds[0].Plants) {
			t.Errorf("%s: what was placed by hand is moved", d.Beds[0].System)
		}
		if p, err = plan.Outline(after, shop); err != nil {
			t.Fatal(err)
		}
		stood += stand(t, d.Beds[0].System, p)
	}
	if laid < 15 || stood < 300 {
		t.Errorf("only %d patches laid out and %d plants", laid, stood)
	}
}

// stand checks where the plants of a project's first bed stand, and counts them.
func stand(t *testing.T, system string, p *plan.Plan) (n int) {
	t.Helper()
	f, g := &p.Frames[0], p.Growing[0]
	for _, x := range g.Patches {
		for i, at := range x.Laid.Spots {
			n++
			o := f.Openings[x.Surface]
			if at.U < o.Lo.U || at.U > o.Hi.U || at.V < o.Lo.V || at.V > o.Hi.V || o.Round != nil && !frame.Inside(o.Round, at) {
				t.Fatalf("%s: %s at %v is outside the opening", system, x.Crop.ID, at)
			}
			top, in := measure.Length(0), false
			for _, c := range f.Cavities {
				if frame.Inside(c.Outline, at) {
					top, in = max(top, c.Top), true
				}
			}
			if !in {
				t.Fatalf("%s: %s at %v is in no soil", system, x.Crop.ID, at)
			}
			for _, part := range f.Parts {
				lo, hi := part.Body.Bounds()
				if part.Body.Axis == frame.Z && lo.Z < top-measure.Millimetre && hi.Z >= top &&
					frame.Inside(part.Body.Outline, at) {
					t.Fatalf("%s: %s at %v stands in %s", system, x.Crop.ID, at, part.ID)
				}
			}
			apart := x.Crop.Each
			if x.How != "" {
				apart = min(x.Crop.InRow, x.Crop.Rows)
			}
			for _, b := range x.Laid.Spots[:i] {
				if d := math.Hypot(float64(at.U-b.U), float64(at.V-b.V)); d < float64(apart)-10 && x.Laid.Tried != "one to a pot" {
					t.Fatalf("%s: %s at %v and %v, %v apart", system, x.Crop.ID, at, b, measure.Length(d))
				}
			}
		}
	}
	return n
}

// By hand: a bed 8 ft by 4 ft takes 8 by 4 cells of strings; four peppers and eight lettuces of a cell each, a
// trellis at
// the back: the bean stands at it, and what is tall stands on the side away from the equator of what is low, in both
// hemispheres.
func TestTallStandOnThePoleSide(t *testing.T) {
	cat := catalog.Regions()[0]
	shop := plan.Shop{Catalog: cat, Habits: cat.Habits}
	for _, lat := range []string{"45", "-45"} {
		d, err := design.Apply(design.New(cat, "any"), cat, design.Edit{Bed: "b1", Field: "length", Value: "8 ft"},
			design.Edit{Bed: "b1", Field: "width", Value: "4 ft"},
			design.Edit{Field: "sky:place", Value: lat + ";0;0"}, design.Edit{Bed: "b1", Field: "want:corn_sweet", Value: "8"},
			design.Edit{Bed: "b1", Field: "want:lettuce_leaf", Value: "96"})
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Outline(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		if s := p.Growing[0].Surfaces[0]; s.Columns*s.Rows != 32 {
			t.Fatalf("%d by %d cells", s.Columns, s.Rows)
		}
		out, err := p.LayPlants("b1", false)
		if err != nil || len(out.Left) > 0 {
			t.Fatal(err, out.Left)
		}
		tall, low := 0.0, 0.0
		for _, kind := range []struct {
			id  string
			sum *float64
		}{{"corn_sweet", &tall}, {"lettuce_leaf", &low}} {
			cells := 0
			for _, x := range out.Placed {
				if x.Crop.ID == kind.id {
					for k := range x.Deep {
						*kind.sum += float64((x.Row + k) * x.Wide)
						cells += x.Wide
					}
				}
			}
			*kind.sum /= float64(cells)
		}
		if (lat == "45") != (tall > low) {
			t.Errorf("at %s the corn is in row %.1f, the lettuce in %.1f (proved %v)", lat, tall, low, out.Proved)
		}
	}
}

// Each finding on plants is told where it should be, says why, and its remedies end it.
func TestPlantFindings(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	add := func(what string) design.Edit { return design.Edit{Bed: "b1", Field: "plant:add", Value: what} }
	wall := design.Edit{Field: "sky:tall", Value: "house; -30 ft; -8 ft; 90 ft; 6 ft; 30 ft;"}
	for code, edits := range map[string][]design.Edit{
		"plants-none":    {add("squash_summer; 0; 0 in; 0 in; 12 in; 12 in")},
		"plants-over":    {add("radish; 0; 0 in; 0 in; 24 in; 24 in"), add("carrot; 0; 12 in; 12 in; 24 in; 24 in")},
		"plants-shallow": {add("tomato_indet; 0; 0 in; 0 in; 24 in; 24 in")},
		"plants-shade":   {wall, add("pepper_sweet; 0; 0 in; 0 in; 24 in; 24 in")},
		"plants-tall": {add("corn_sweet; 0; 0 in; 0 in; 60 in; 20 in"),
			add("corn_sweet; 0; 0 in; 20 in; 20 in; 28 in"), add("pepper_sweet; 0; 20 in; 20 in; 24 in; 15 in")},
		"plants-path":    {add("squash_winter_vine; 0; 0 in; 0 in; 48 in; 48 in")},
		"plants-most":    {add("kale; 0; 0 in; 0 in; 70 in; 48 in")},
		"plants-support": {add("bean_pole; 0; 0 in; 0 in; 24 in; 24 in")},
		"plants-family": {add("kale; 0; 0 in; 0 in; 24 in; 24 in"),
			{Bed: "b1", Field: "grown:season", Value: "2026"}, add("cabbage; 0; 12 in; 0 in; 24 in; 24 in")},
		"plants-beside": {add("potato; 0; 0 in; 0 in; 24 in; 24 in"), add("tomato_det; 0; 24 in; 0 in; 24 in; 24 in")},
	} {
		d, err := design.ExampleNamed("boarded", shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		if d, err = design.Apply(d, shop.Catalog, edits...); err != nil {
			t.Fatal(code, err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(code, err)
		}
		i := slices.IndexFunc(p.Findings, func(f review.Finding) bool { return f.Code == code })
		if i < 0 {
			t.Errorf("%s is not told: %+v", code, p.Growing[0].Patches)
			continue
		}
		f := p.Findings[i]
		if f.Text == "" || f.Why.Rule == "" || f.Why.Source == "" || len(f.Remedies) == 0 {
			t.Errorf("%s: %+v", code, f)
		}
		for k := range f.Remedies {
			one := f
			one.Remedies = f.Remedies[k : k+1]
			_, after, err := remedied(d, shop, one)
			if err != nil {
				t.Errorf("%s: %v", code, err)
			} else if slices.ContainsFunc(after.Findings, func(f review.Finding) bool { return f.Code == code }) {
				t.Errorf("%s: %q does not end it", code, one.Remedies[0].Label)
			}
		}
	}
}

// What stands tall at the back of a bed shades it where the back faces the equator, whichever half of the world it
// is in.
func TestTallSidesInBothHalves(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		lat, north string
		told       bool
	}{{"45", "0", false}, {"45", "180", true}, {"-45", "0", true}, {"-45", "180", false}} {
		d, err := design.ExampleNamed("boarded", shop.Catalog)
		if err != nil {
			t.Fatal(err)
		}
		f, _ := design.FieldOf(d.Beds[0], "trellis")
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "trellis",
			Value: f.Choices(shop.Catalog, d.Beds[0])[1].Value}, design.Edit{Field: "plot:north", Value: c.north},
			design.Edit{Field: "sky:lat", Value: c.lat}); err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		if told := slices.ContainsFunc(p.Findings,
			func(f review.Finding) bool { return f.Code == "shades" }); told != c.told {
			t.Errorf("at %s, north %s: told %v", c.lat, c.north, told)
		}
	}
}
