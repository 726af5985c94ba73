package planting

import (
	"testing"
	"time"

	"chamfer/core/measure"
)

// A year by hand with the last frost on 15 May and the first on 1 October (date = frost + 7 × weeks; REFERENCE's worked
// calendar), and in the south the same weeks from 15 October to 15 April, over New Year.
func TestYear(t *testing.T) {
	north := FrostsOf(2026, time.May, 15, time.October, 1)
	south := FrostsOf(2026, time.October, 15, time.April, 15)
	if d := north.First.Sub(north.Last).Hours() / 24; d != 139 {
		t.Errorf("%v days without frost, want 139", d)
	}
	if south.First.Year() != 2027 {
		t.Errorf("%+v", south)
	}
	for _, c := range []struct {
		f             Frosts
		crop, do, key string
		from, to      string
	}{
		{north, "tomato_indet", "sow inside", "", "2026-03-20", "2026-04-03"},
		{north, "tomato_indet", "set out", "", "2026-05-22", "2026-05-29"},
		{north, "tomato_indet", "harvest", "", "2026-07-26", "2026-10-01"}, // 65 days on, till frost
		{north, "tomato_indet", "feed", ".1", "2026-06-19", "2026-06-25"},
		{north, "pea_shell", "sow", "", "2026-04-03", ""},
		{north, "bean_bush", "sow", "", "2026-05-22", ""},
		{north, "bean_bush", "sow again", ".2", "2026-06-05", ""},
		{north, "garlic", "plant", "", "2026-10-01", "2026-10-29"},
		{north, "lettuce_leaf", "sow for autumn", "", "", "2026-08-20"},
		{south, "tomato_indet", "sow inside", "", "2026-08-20", "2026-09-03"},
		{south, "tomato_indet", "set out", "", "2026-10-22", "2026-10-29"},
		{south, "tomato_indet", "harvest", "", "2026-12-26", "2027-04-15"}, // 65 days on, till frost,
		{south, "bean_bush", "sow", "", "2026-10-22", ""},
	} {
		crop, _ := TableOf(measure.Imperial, nil).Named(c.crop)
		found := false
		for _, x := range OfCrop(crop, c.f) {
			if x.Key != c.crop+"."+c.do+c.key {
				continue
			}
			found = true
			if got := x.From.Format(time.DateOnly); c.from != "" && got != c.from {
				t.Errorf("%s: %s from %s, want %s", c.crop, c.do, got, c.from)
			}
			if got := x.To.Format(time.DateOnly); c.to != "" && got != c.to {
				t.Errorf("%s: %s to %s, want %s", c.crop, c.do, got, c.to)
			}
		}
		if !found {
			t.Errorf("%s: no %s: %+v", c.crop, c.do, OfCrop(crop, c.f))
		}
	}
	// No crop's year runs backwards, and nothing tender is harvested after the first frost.
	for _, c := range Crops(measure.Metric) {
		for _, f := range []Frosts{north, south} {
			keys := map[string]bool{}
			for _, x := range OfCrop(c, f) {
				if x.To.Before(x.From) || keys[x.Key] || x.Why == "" {
					t.Errorf("%+v", x)
				}
				keys[x.Key] = true
				if c.Tender() && x.Do == "harvest" && x.To.After(f.First) {
					t.Errorf("%s is harvested until %v", c.ID, x.To)
				}
			}
		}
	}
}
