package timber

import (
	"encoding/json"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// By hand: walls of 2x8 are 1 1/2 in thick, so that 8 ft 6 in outside leaves 99 in clear; a
// cap that overhangs 2 in inwards at both ends leaves 95. What was said from outside holds.
func TestOutside(t *testing.T) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(c, "a bed")
	apply := func(edits ...design.Edit) error {
		for i := range edits {
			edits[i].Bed = "b1"
		}
		next, err := design.Apply(d, c, edits...)
		if err == nil {
			d = next
		}
		return err
	}
	is := func(what string, length, width measure.Length) {
		t.Helper()
		if b := d.Beds[0]; b.Length != length || b.Width != width {
			t.Errorf("%s: %v by %v, want %v by %v", what, b.Length, b.Width, length, width)
		}
	}
	must := func(edits ...design.Edit) {
		t.Helper()
		if err := apply(edits...); err != nil {
			t.Fatal(err)
		}
	}
	must(set("outside:length", "8'6\""), set("width", "48 in"))
	is("8 ft 6 in outside", 99*in, 48*in)
	must(set("cap", "butted"), set("cap_in", "2 in"))
	is("with a cap", 95*in, 48*in)
	must(set("board", "1x6"))
	if b := d.Beds[0]; b.Outside["length"] != 102*in ||
		b.Length != 102*in-2*(in*3/4+b.CapIn) {
		t.Errorf("thinner boards: %v clear of %v", b.Length, b.Outside["length"])
	}
	must(set("board", "2x8"), set("cap", "none"), set("outside:width", "4'"))
	is("both from outside", 99*in, 45*in)
	must(set("length", "90 in"))
	if b := d.Beds[0]; len(b.Outside) != 1 || b.Length != 90*in || b.Width != 45*in {
		t.Errorf("the inside asked for: %v, outside %v", b.Length, b.Outside)
	}
	must(set("outside:width", ""))
	if b := d.Beds[0]; len(b.Outside) != 0 || b.Width != 45*in {
		t.Errorf("let go of: %v, outside %v", b.Width, b.Outside)
	}

	// The rim: whole boards make 14 1/2 in or 21 3/4; one that is ripped makes any height.
	if err := apply(set("outside:soil", "19 in")); err == nil || !strings.Contains(err.Error(), "ripped board") {
		t.Errorf("19 in of whole boards: %v", err)
	}
	must(set("outside:soil", "19 in"), set("ripped", "top"), set("freeboard", "1 in"))
	if b := d.Beds[0]; b.Soil != 18*in {
		t.Errorf("a rim of 19 in holds %v", b.Soil)
	}
	must(set("freeboard", "2 in"))
	if b := d.Beds[0]; b.Soil != 17*in {
		t.Errorf("a rim of 19 in, 2 in above the soil, holds %v", b.Soil)
	}
	raw, err := d.Encode()
	if err != nil {
		t.Fatal(err)
	}
	var back design.Design
	if err := json.Unmarshal(raw, &back); err != nil || back.Beds[0].Outside["soil"] != 19*in {
		t.Errorf("read back: %v, %v", back.Beds, err)
	}
	for _, bad := range []design.Edit{set("outside:length", "0"), set("outside:length", "1 in"),
		set("outside:height", "4 ft"), set("outside:length", "x")} {
		if err := apply(bad); err == nil {
			t.Errorf("%v is taken", bad)
		}
	}
}

// Another system is tried with what was said from outside where it can make that, and is not
// refused for it where it cannot.
func TestOutsideOfOthers(t *testing.T) {
	for _, c := range catalog.Regions() {
		d := design.New(c, "a bed")
		first, err := design.Apply(d, c, design.Edit{Bed: "b1", Field: "outside:length", Value: "2500 mm"})
		if err != nil {
			t.Fatal(err)
		}
		kept := 0
		for _, s := range design.Systems() {
			now, bare := design.Edit{Bed: "b1", Field: "system", Value: s.Name}, error(nil)
			next, err := design.Apply(first, c, now)
			if _, bare = design.Apply(d, c, now); bare == nil && err != nil {
				t.Errorf("%s, %s: %v", c.ID, s.Name, err)
			}
			if err == nil && next.Beds[0].Outside["length"] == 2500*measure.Millimetre {
				kept++
			}
		}
		if kept < 5 {
			t.Errorf("%s: %d systems keep it", c.ID, kept)
		}
	}
}
