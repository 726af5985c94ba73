package timber

import (
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// By hand: a 2x8 with a 2x6 on it, 5 1/2 in, is 12 3/4 in high, enough for 11 in of soil; with a
// 2x10, 9 1/4 in, it is 16 1/2 in and holds 15 1/2. 12 in of soil and 1 in above it are 13.
// Two whole 2x8, really 7 1/4 in, are 14 1/2; with one of them ripped to 5 3/4 in they are 13. Two
// boards, said, hold 13 1/2 in of soil.
func TestHeights(t *testing.T) {
	const eighth = in / 8
	rim := func(edits ...design.Edit) (measure.Length, []measure.Length, measure.Length) {
		f, bed := build(t, "us", append(edits, set("freeboard", "1 in"))...)
		var wide []measure.Length
		for _, id := range []string{"b1.front.1", "b1.front.2"} {
			p, _ := f.Part(id)
			if lo, hi := p.Body.Bounds(); hi.Z-lo.Z != p.Width {
				t.Errorf("%s is %v wide and stands %v high", id, p.Width, hi.Z-lo.Z)
			}
			wide = append(wide, p.Width)
		}
		return f.Rim, wide, bed.Soil
	}
	whole := 7*in + 2*eighth
	for _, c := range []struct {
		name       string
		edits      []design.Edit
		rim        measure.Length
		first, top measure.Length
		soil       measure.Length
	}{
		{"whole boards", []design.Edit{set("soil", "12 in")}, 2 * whole, whole, whole, 12 * in},
		{"top ripped", []design.Edit{set("soil", "12 in"), set(rippedKey, ripTop)}, 13 * in, whole, 13*in - whole, 12 * in},
		{"lowest ripped", []design.Edit{set("soil", "12 in"), set(rippedKey, ripLowest)}, 13 * in, 13*in - whole, whole,
			12 * in},
		{"top of 2x6", []design.Edit{set("soil", "11 in"), set(topKey, "2x6")}, whole + 5*in + in/2, whole, 5*in + in/2,
			11 * in},
		{"two said, top of 2x10", []design.Edit{set(highKey, "2"), set(topKey, "2x10")}, whole + 9*in + in/4, whole,
			9*in + in/4, whole + 8*in + in/4},
		{"two boards said", []design.Edit{set(highKey, "2")}, 2 * whole, whole, whole, 2*whole - in},
	} {
		high, wide, soil := rim(c.edits...)
		if high != c.rim || wide[0] != c.first || wide[1] != c.top || soil != c.soil {
			t.Errorf("%s: rim %v, boards %v, soil %v", c.name, high, wide, soil)
		}
	}
}

// What was said stays when something else changes, and is let go of by asking for what it
// rules; what cannot be is refused with what would.
func TestHeightsStay(t *testing.T) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	apply := func(d design.Design, edits ...design.Edit) (design.Design, error) {
		for i := range edits {
			edits[i].Bed = "b1"
		}
		return design.Apply(d, c, edits...)
	}
	d, err := apply(design.New(c, "a bed"), set(highKey, "3"), set("freeboard", "1 in"))
	if err != nil || d.Beds[0].Soil != 3*(7*in+in/4)-in {
		t.Fatalf("three boards: %v, %v", d.Beds[0].Soil, err)
	}
	if d, err = apply(d, set("board", "2x6")); err != nil || d.Beds[0].Soil != 3*(5*in+in/2)-in {
		t.Errorf("three boards of 2x6: %v, %v", d.Beds[0].Soil, err)
	}
	if d, err = apply(d, set("soil", "10 in")); err != nil || d.Beds[0].Options[highKey] != design.Auto {
		t.Errorf("10 in asked for: %v, %v", d.Beds[0].Options, err)
	}
	for _, bad := range []struct {
		edits []design.Edit
		says  string
	}{
		{[]design.Edit{set("board", "2x8"), set("soil", "14 in"), set(rippedKey, ripTop)}, `1' 1 1/2" of soil`},
		{[]design.Edit{set(highKey, "0")}, "at least one board"},
		{[]design.Edit{set(highKey, "3"), set(rippedKey, ripTop), set("soil", "6 in")}, "auto works"},
	} {
		if _, err := apply(d, bad.edits...); err == nil || !strings.Contains(err.Error(), bad.says) {
			t.Errorf("%v: %v", bad.edits, err)
		}
	}
}

// Two screws said are two screws in every board's end, of every system that has the decision,
// and no other joint changes; more than a board takes without splitting are refused.
func TestFixingsSaid(t *testing.T) {
	for _, system := range []string{"boarded", "staked", "plain-box", "cleated", "pieced", "legged", "footed"} {
		f, _ := build(t, "us", set("system", system), set(eachKey, "2"))
		ends := 0
		for _, j := range f.Joints {
			if j.Said == 2 {
				ends++
			} else if j.Said != 0 {
				t.Errorf("%s: %s has %d", system, j.ID, j.Said)
			}
		}
		if ends < 4 {
			t.Errorf("%s: %d ends", system, ends)
		}
	}
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	// A course ripped to 3 1/4 in takes three, whatever the whole boards below it take.
	_, err = design.Apply(design.New(c, "a bed"), c, set("soil", "9 1/2 in"), set(rippedKey, ripTop), set(eachKey, "5"))
	if err == nil || !strings.Contains(err.Error(), "from 1 to 3") {
		t.Errorf("5 in a ripped course: %v", err)
	}
	f, _ := build(t, "us", set("system", "pieced"), set(topKey, "2x6"), set("soil", "11 in"))
	for _, p := range f.Pieced {
		if part, ok := f.Part(p.Parts[0]); !ok || part.Profile != p.Profile {
			t.Errorf("course %d is pieced of %s, and is of %s", p.Course, p.Profile, part.Profile)
		}
	}
	for _, n := range []string{"0", "8"} { // 5 1/2 in take five
		_, err := design.Apply(design.New(c, "a bed"), c, design.Edit{Bed: "b1", Field: "board", Value: "2x6"},
			design.Edit{Bed: "b1", Field: eachKey, Value: n})
		if err == nil || !strings.Contains(err.Error(), "from 1 to 5") {
			t.Errorf("%s in a 2x6: %v", n, err)
		}
	}
}
