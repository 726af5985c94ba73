package design_test

import (
	"reflect"
	"strings"
	"testing"

	"chamfer/core/catalog"
	. "chamfer/core/design"
	"chamfer/core/measure"
)

func apply(t *testing.T, d Design, c *catalog.Catalog, edits ...Edit) Design {
	t.Helper()
	next, err := Apply(d, c, edits...)
	if err != nil {
		t.Fatal(err)
	}
	return next
}

// "My pickets are 5 3/8 wide": one side measured, the other as it is sold; an
// empty value goes back.
func TestMeasuredSizes(t *testing.T) {
	c := region(t, "us")
	d := apply(t, New(c, "a bed"), c, Edit{"", "measured:picket:width", "5 3/8"})
	sold, err := c.Profile("picket")
	if err != nil {
		t.Fatal(err)
	}
	is, err := c.Measured(d.Measured).Profile("picket")
	if err != nil || is.Width != 5*measure.Inch+measure.Inch*3/8 || is.Thickness != sold.Thickness ||
		sold.Width != 5*measure.Inch+measure.Inch/2 {
		t.Errorf("measured %v by %v, sold %v; %v", is.Width, is.Thickness, sold.Width, err)
	}
	if d = apply(t, d, c, Edit{"", "measured:picket:width", " "}); len(d.Measured) != 0 {
		t.Errorf("still measured: %v", d.Measured)
	}
}

func TestPlotEdits(t *testing.T) {
	c := region(t, "metric")
	d := apply(
		t,
		New(c, "beds"),
		c,
		Edit{"", "plot:width", "9 m"},
		Edit{"", "plot:north", "350°"},
		Edit{"", "plot:passage", "barrow"},
		Edit{"", "plot:fences", "back, left"},
		Edit{"b1", "count", "2"},
		Edit{"b1", "place:1", "3 m;1200;turned"},
	)
	if p := d.Plot; p.Width != 9*measure.Metre || p.Depth != 6*measure.Metre || p.North != 350 ||
		p.Passage != "barrow" ||
		!reflect.DeepEqual(p.Fences, []string{"back", "left"}) {
		t.Errorf("plot %+v", p)
	}
	want := []Place{{Free: true}, {X: 3 * measure.Metre, Y: 1200 * measure.Millimetre, Turned: true}}
	if !reflect.DeepEqual(d.Beds[0].Places, want) {
		t.Errorf("places %+v", d.Beds[0].Places)
	}
	if d = apply(t, d, c, Edit{"b1", "place:1", "turn"}, Edit{"b1", "place:1",
		"1;2"}); d.Beds[0].Places[1] != (Place{X: measure.Millimetre, Y: 2 * measure.Millimetre}) {
		t.Errorf("places %+v", d.Beds[0].Places)
	}
	if d = apply(t, d, c, Edit{"b1", "place:1", "free"}); !d.Beds[0].Places[1].Free {
		t.Errorf("places %+v", d.Beds[0].Places)
	}
}

// A new bed starts from an area, a system, or a bed that is there.
func TestThreeStarts(t *testing.T) {
	c := region(t, "us")
	for _, s := range []struct {
		feet, length, width measure.Length // square feet; inches
	}{
		{32, 96, 48}, // reach from both sides is 48 in: 32 x 144 / 48 = 96
		{33, 99, 48},
		{4, 24, 24},  // small ones are square
		{10, 39, 37}, // 1440 sq in: 37 in is the whole inch below its root, 37.9; 37 x 39 = 1443
	} {
		l, w := SizeFor(measure.Over(measure.Foot, measure.Foot)*measure.Area(s.feet), BothSides, c)
		if l != s.length*measure.Inch || w != s.width*measure.Inch {
			t.Errorf("%d sq ft: %v by %v", s.feet, l, w)
		}
	}
	d := apply(
		t,
		New(c, "beds"),
		c,
		Edit{"b1", "count", "3"},
		Edit{"b1", "place:0", "1;1"},
		Edit{"", "plot:width", "30 ft"},
		Edit{
			"",
			"add-bed",
			"staked",
		},
		Edit{"b2", "stakes", "4"},
		Edit{"b2", "copy-bed", ""},
		Edit{"b1", "remove-bed", ""},
		Edit{"", "add-bed", "tiered"},
	)
	var ids, systems []string
	for _, b := range d.Beds {
		ids, systems = append(ids, b.ID), append(systems, b.System)
	}
	if !reflect.DeepEqual(ids, []string{"b2", "b3", "b1"}) ||
		!reflect.DeepEqual(systems, []string{"staked", "staked", "tiered"}) ||
		d.Beds[1].Options["stakes"] != "4" {
		t.Errorf("beds %v of %v", ids, systems)
	}
	one, err := Taken("a copy", d, "b3")
	if err != nil || one.Name != "a copy" || len(one.Beds) != 1 || one.Beds[0].ID != "b1" ||
		one.Beds[0].Options["stakes"] != "4" ||
		one.Plot != nil {
		t.Errorf("%+v, %v", one, err)
	}
	one.Beds[0].Options["stakes"] = "5"
	if d.Beds[1].Options["stakes"] != "4" {
		t.Error("the copy shares its decisions with the bed it was taken from")
	}
	if _, err := Taken("x", d, "b9"); err == nil {
		t.Error("a bed that is not there was copied")
	}
}

// What is added brings its own decisions, and takes them with it; a system that
// has no room for it drops it.
func TestExtras(t *testing.T) {
	c := region(t, "us")
	d := apply(
		t,
		New(c, "a bed"),
		c,
		Edit{"b1", "hoops", "pipe"},
		Edit{"b1", "hoop_rise", "20"},
		Edit{"b1", "bench", "front"},
	)
	if d.Beds[0].Options["hoop_rise"] != "20 in" || d.Beds[0].Options["bench_height"] != "16 in" {
		t.Errorf("options %v", d.Beds[0].Options)
	}
	footed := apply(t, d, c, Edit{"b1", "system", "footed"}, Edit{"b1", "length", "36"})
	if b := footed.Beds[0]; !b.Has("hoops") || b.Has("bench") || b.Options["bench_height"] != "" {
		t.Errorf("options %v", b.Options)
	}
	if d = apply(t, d, c, Edit{"b1", "hoops", "none"}); d.Beds[0].Has("hoops") || d.Beds[0].Options["hoop_rise"] != "" {
		t.Errorf("options %v", d.Beds[0].Options)
	}
}

// What cannot be built is refused at its field, with what would work.
func TestImpossibleBeds(t *testing.T) {
	c := region(t, "us")
	of := func(system string, edits ...Edit) Design {
		d := apply(t, New(c, "a bed"), c, Edit{"b1", "system", system})
		return apply(t, d, c, edits...)
	}
	boarded := of("boarded")
	capped := apply(t, boarded, c, Edit{"b1", "cap", "mitred"}, Edit{"b1", "cap_out", "1"})
	for _, r := range []struct {
		from               Design
		bed, field, value  string
		at, says, orElseIs string // the field, what is said, and a value that works
	}{
		{capped, "b1", "width", "3", "width", "from", "1 ft"},
		{apply(t, capped, c, Edit{"b1", "post", "4x4"}), "b1", "cap_in", "9", "cap_in", "up to that works", "1"},
		{apply(t, of("plain-box"), c, Edit{"b1", "cap", "mitred"}), "b1", "width", "4", "width", "from", "12"},
		{boarded, "b1", "soil", "2", "soil", "less than half a course", "3"},
		{boarded, "b1", "count", "0", "count", "1", "2"},
		{boarded, "b1", "count", "many", "count", "1", "6"},
		{boarded, "b1", "length", "40 m", "length", "works", "12 ft"},
		{of("legged"), "b1", "height", "10", "height", "works", "30"},
		{of("tiered"), "b1", "upper_width", "9 m", "upper_width", "works", "18"},
		{of("tiered"), "b1", "upper_soil", "3 m", "upper_soil", "works", "20"},
		{of("carrier"), "b1", "pot", "3 m", "pot", "works", "10"},
		{capped, "b1", "notch", "back", "notch_deep", "", ""},
		{boarded, "b1", "notch", "back", "notch", "choose a cap first", "none"},
		{boarded, "b1", "grid_cell", "12", "grid_cell", "add it first", ""},
		{apply(t, boarded, c, Edit{"b1", "arch", "panel"}), "b1", "arch_path", "9 ft", "arch_path", "works", "4 ft"},
		{apply(t, boarded, c, Edit{"b1", "hoops", "pipe"}), "b1", "hoop_rise", "6 ft", "hoop_rise", "works", "2 ft"},
		{boarded, "", "plot:width", "3 in", "plot:width", "works", "20 ft"},
		{boarded, "", "plot:north", "north", "plot:north", "degrees", "10"},
		{boarded, "", "plot:fences", "above", "plot:fences", "there is front", "back"},
		{boarded, "", "plot:passage", "tractor", "plot:passage", "there is foot", "mower"},
		{boarded, "b1", "place:7", "1;1", "place:7", "no bed", ""},
		{boarded, "b1", "place:0", "there", "place:0", "how far", "1;1"},
		{boarded, "", "measured:2x8:width", "2 m", "measured:2x8:width", "works", "7 1/8"},
		{boarded, "", "measured:9x9:width", "2 in", "measured:9x9:width", "no board", ""},
		{boarded, "", "add-bed", "igloo", "add-bed", "there is", "tiered"},
	} {
		next, err := Apply(r.from, c, Edit{r.bed, r.field, r.value})
		found := r.says == "" && err == nil
		for _, f := range Refusals(err) {
			found = found || f.Field == r.at && strings.Contains(f.Reason, r.says) && f.Value == r.value
		}
		if !found || err != nil && !reflect.DeepEqual(next, r.from) {
			t.Errorf("%s = %q: %v", r.field, r.value, err)
		}
		if r.orElseIs == "" {
			continue
		}
		if _, err := Apply(r.from, c, Edit{r.bed, r.field, r.orElseIs}); err != nil {
			t.Errorf("%s = %q should work: %v", r.field, r.orElseIs, err)
		}
	}
}

// How the soil comes is one decision of the whole project: set for one bed it is set for
// all, and a bed that is added has it too.
func TestSoilComesOneWay(t *testing.T) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d := apply(
		t,
		New(c, "beds"),
		c,
		Edit{"", "add-bed", "boarded"},
		Edit{"b2", "soil_by", "bag"},
		Edit{"", "add-bed", "boarded"},
	)
	for _, b := range d.Beds {
		if b.SoilBy != "bag" {
			t.Errorf("%s: soil by %s", b.ID, b.SoilBy)
		}
	}
}
