package planting

import (
	"bytes"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Every crop that is known is written and read again as it was, as a text and as a line of a table, in inches and in
// millimetres.
func TestCropsRoundTrip(t *testing.T) {
	for _, s := range []measure.System{measure.Imperial, measure.Metric} {
		for _, c := range Crops(s) {
			again, err := ReadCrop(Crop{ID: c.ID}, c.Text(), measure.Metric)
			if err != nil || again.Text() != c.Text() {
				t.Errorf("%s: %v\n%s\n%s", c.ID, err, c.Text(), again.Text())
			}
		}
		var out bytes.Buffer
		if err := WriteCrops(&out, Crops(s)); err != nil {
			t.Fatal(err)
		}
		for _, in := range []measure.System{measure.Imperial, measure.Metric} {
			list, err := ReadCrops(bytes.NewReader(out.Bytes()), in)
			if err != nil || len(list) != len(Crops(s)) {
				t.Fatalf("%v, %d crops", err, len(list))
			}
			for i, c := range list {
				if c.Text() != Crops(s)[i].Text() {
					t.Errorf("%s:\n%s\n%s", c.ID, Crops(s)[i].Text(), c.Text())
				}
			}
		}
	}
}

// Faults of a table are told by line and column, and nothing is half taken in.
func TestTableFaults(t *testing.T) {
	var out bytes.Buffer
	if err := WriteCrops(&out, Crops(measure.Metric)[:3]); err != nil {
		t.Fatal(err)
	}
	good := out.String()
	id := Crops(measure.Metric)[1].ID
	for _, c := range []struct{ name, from, to, want string }{
		{"no size", "," + "veg,", ",tree,", "line 2, column kind: \"tree\""},
		{"twice", "\n" + id + ",", "\n" + Crops(measure.Metric)[0].ID + ",", "line 3, column id: is there twice"},
		{"a column less", "equidistant_min_mm", "apart", "column equidistant_min_mm: there is no such column"},
		{"a cell less", "\n" + id + ",", "\n" + id, "line 3"},
		{"nothing", good, "", "no line that names the columns"},
	} {
		text := strings.Replace(good, c.from, c.to, 1)
		if text == good {
			text = strings.Replace(good, ",herb,", ",tree,", 1)
		}
		if list, err := ReadCrops(strings.NewReader(text), measure.Metric); err == nil || len(list) > 0 ||
			!strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v, wanted %q", c.name, err, c.want)
		}
	}
}

// A crop of one's own stands beside those that are known, or in the place of one.
func TestOwnCrops(t *testing.T) {
	bean, _ := TableOf(measure.Metric, nil).Named("bean_bush")
	mine, err := ReadCrop(bean, "name=Lane bean; each=15 cm; days=50 to 58; sown=1 to 6; hours=5", measure.Metric)
	if err != nil {
		t.Fatal(err)
	}
	table := TableOf(measure.Metric, map[string]string{"lane-bean": mine.Text(), "bean_bush": mine.Text(), "no": "each=x"})
	if len(table) != len(Crops(measure.Metric))+1 {
		t.Errorf("%d crops", len(table))
	}
	for _, id := range []string{"lane-bean", "bean_bush"} {
		c, ok := table.Named(id)
		if !ok || c.Name != "Lane bean" || c.Each != 150*measure.Millimetre || c.Days != (Span{50, 58}) ||
			*c.Direct != (Weeks{1, 6}) || c.SunHours != 5 || c.Family != "Fabaceae" {
			t.Errorf("%s: %+v", id, c)
		}
	}
	for _, bad := range []string{"each=0", "each=9 m", "days=60 to 50", "sown=never", "hours=25", "kind=tree",
		"colour=red",
		"source=", "name=" + strings.Repeat("a", 200)} {
		if _, err := ReadCrop(bean, bad, measure.Metric); err == nil {
			t.Errorf("%q was taken", bad)
		}
	}
}

// What still fits is no more than what a patch of those cells really takes: on open soil, round what stands in it, and
// on
// round soil.
func TestStillIsAtLeast(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	crops := Crops(measure.Metric)
	some, more := 0, 0
	for n := range 60 {
		s := Surface{Hi: frame.Spot{U: measure.Length(500+r.IntN(1500)) * measure.Millimetre,
			V: measure.Length(400+r.IntN(900)) * measure.Millimetre}, Columns: 1 + r.IntN(5), Rows: 1 + r.IntN(4)}
		switch n % 3 {
		case 1:
			s.Holes = [][]frame.Spot{{{U: 0, V: 0}, {U: 90e6, V: 0}, {U: 90e6, V: 90e6}, {U: 0, V: 90e6}}}
		case 2:
			w, d := s.Hi.U, s.Hi.V
			s.Round = []frame.Spot{{U: w / 4}, {U: 3 * w / 4}, {U: w, V: d / 4}, {U: w, V: 3 * d / 4}, {U: 3 * w / 4, V: d},
				{U: w / 4, V: d}, {V: 3 * d / 4}, {V: d / 4}}
		}
		list := []Surface{s}
		c := crops[r.IntN(len(crops))]
		if c.Each < 60*measure.Millimetre {
			continue
		}
		still := Still(c, list, Cells(list))
		most := len(Fit(c, "", s.Patch(0, 0, s.Hi.U, s.Hi.V)).Spots)
		if still > most {
			t.Errorf("%s on %v by %v (%d): %d still fit, %d in all", c.ID, s.Hi.U, s.Hi.V, n%3, still, most)
		}
		some += min(still, 1)
		if half := Share(c, list, 50); half > max(1, still) {
			t.Errorf("half of it is %d, of %d", half, still)
		}
		if len(Free(list, []Patch{{Lo: s.Lo, Hi: s.Hi}})) == 0 {
			more++
		}
	}
	if some < 20 || more < 40 {
		t.Errorf("%d had room, %d were full", some, more)
	}
}
