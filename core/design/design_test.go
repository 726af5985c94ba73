package design_test

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"

	"chamfer/core/catalog"
	. "chamfer/core/design"
	_ "chamfer/core/masonry"
	"chamfer/core/measure"
	_ "chamfer/core/timber" // registers the systems
)

func region(t *testing.T, id string) *catalog.Catalog {
	t.Helper()
	c, err := catalog.ForRegion(id)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func TestApply(t *testing.T) {
	c := region(t, "us")
	d := New(c, "a bed")
	next, err := Apply(
		d,
		c,
		Edit{"b1", "length", "7' 6 1/2\""},
		Edit{"b1", "mid_posts", "2"},
		Edit{"b1", "cap", "butted"},
		Edit{"", "price:2x8/cedar/8 ft", "12.50"},
	)
	if err != nil {
		t.Fatal(err)
	}
	b := next.Beds[0]
	if b.Length != 90*measure.Inch+measure.Inch/2 || b.MidPosts != "2" || b.Cap != Butted ||
		next.Prices["2x8/cedar/8 ft"] != 1250 {
		t.Errorf("%+v", next)
	}
	if d.Beds[0].Length != 8*measure.Foot || len(d.Prices) != 0 {
		t.Error("the design itself was changed")
	}
	// The overhangs share the cap's width: 3 1/2 - 1 1/2 = 2 in.
	for _, e := range []struct {
		field, value string
		in, out      measure.Length
	}{{"cap_out", "1/2 in", measure.Inch * 3 / 2, measure.Inch / 2}, {"cap_in", "1", measure.Inch, measure.Inch},
		{"cap_profile", "2x6", 4 * measure.Inch, 0}} {
		n, err := Apply(next, c, Edit{"b1", e.field, e.value})
		if err != nil || n.Beds[0].CapIn != e.in || n.Beds[0].CapOut != e.out {
			t.Errorf("%s %s: in %v, out %v, %v", e.field, e.value, n.Beds[0].CapIn, n.Beds[0].CapOut, err)
		}
	}
	n, err := Apply(next, c, Edit{"b1", "keep", "reach"})
	if err != nil || !reflect.DeepEqual(n.Beds[0].Kept, []string{"reach"}) {
		t.Errorf("kept %v, %v", n.Beds[0].Kept, err)
	}
	if n, err = Apply(n, c, Edit{"b1", "keep", "reach"}); err != nil || len(n.Beds[0].Kept) != 0 {
		t.Errorf("kept %v, %v", n.Beds[0].Kept, err)
	}
}

// Every refusal names its field and says what would work, and changes nothing.
func TestRefusals(t *testing.T) {
	c := region(t, "us")
	d := New(c, "a bed")
	capped, err := Apply(d, c, Edit{"b1", "cap", "mitred"})
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range []struct {
		from                     Design
		field, value, want, says string
	}{
		{d, "length", "eight feet", "length", "write it like"},
		{d, "length", "40 m", "length", "works"},
		{d, "length", "3 ft", "width", "up to 3'"},
		{d, "width", "2 mm", "width", "from"},
		{d, "soil", "0", "soil", "works"},
		{d, "board", "9x9", "board", "there is"},
		{d, "species", "teak", "species", "there is"},
		{d, "post_below_rim", "6 in", "post_below_rim", "works"},
		{d, "mid_posts", "many", "mid_posts", "auto"},
		{d, "mid_posts", "19", "mid_posts", "up to"},
		{d, "width", "1 ft", "width", "works"}, // inside, two 4x4 posts and a hand need 9 in: allowed
		{capped, "cap_out", "5 in", "cap_out", "works"},
		{capped, "cap_in", "3 in", "cap_in", "works"},
		{d, "colour", "red", "colour", "nothing that is called so"},
		{d, "system", "igloo", "system", "there is boarded"},
		{d, "ties", "2", "ties", "has no “"}, // another system's
		{d, "name", "", "name", "will do"},
		{d, "name", strings.Repeat("x", 81), "name", "will do"},
	} {
		next, err := Apply(r.from, c, Edit{"b1", r.field, r.value})
		if r.field == "width" && r.value == "1 ft" {
			if err != nil {
				t.Errorf("a bed a foot wide: %v", err)
			}
			continue
		}
		found := false
		for _, f := range Refusals(err) {
			if f.Field == r.want && strings.Contains(f.Reason, r.says) {
				found = true
			}
		}
		if !found || !reflect.DeepEqual(next, r.from) {
			t.Errorf("%s = %q: %v", r.field, r.value, err)
		}
	}
	// The post below a narrow cap: 300 mm clear less two 100 mm posts is 100 mm.
	m := region(t, "metric")
	if _, err := Apply(New(m, "b"), m, Edit{"b1", "post", "100x100"}, Edit{"b1", "width", "300"}); err != nil {
		t.Errorf("two 100 mm posts in 300 mm: %v", err)
	}
}

func TestFileReadsBack(t *testing.T) {
	for _, id := range []string{"us", "metric"} {
		c := region(t, id)
		for _, e := range Examples() {
			d, err := ExampleNamed(e.Name, c)
			if err != nil {
				t.Fatal(err)
			}
			raw, err := d.Encode()
			if err != nil {
				t.Fatal(err)
			}
			var back Design
			if err := json.Unmarshal(raw, &back); err != nil || !reflect.DeepEqual(d, back) {
				t.Errorf("%s: %v\n%+v\n%+v", e.Name, err, d, back)
			}
			if err := Check(back, c); err != nil {
				t.Errorf("%s: %v", e.Name, err)
			}
		}
	}
}

// Whatever is typed into whatever field, the design comes back checked or not
// at all.
func FuzzApply(f *testing.F) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		f.Fatal(err)
	}
	d := New(c, "a bed")
	fields := FieldsOf(d.Beds[0])
	for i := range fields {
		f.Add(i, "7' 6 1/2\"")
		f.Add(i, "auto")
		f.Add(i, "mitred")
	}
	f.Fuzz(func(t *testing.T, field int, value string) {
		key := fields[((field%len(fields))+len(fields))%len(fields)].Key
		next, err := Apply(d, c, Edit{"b1", key, value})
		if err == nil {
			err = Check(next, c)
		} else if len(Refusals(err)) == 0 {
			t.Errorf("%s = %q: an error that is no refusal: %v", key, value, err)
			return
		} else {
			return
		}
		if err != nil {
			t.Errorf("%s = %q was taken but breaks a rule: %v", key, value, err)
		}
	})
}
