package design_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
)

// What a history comes to without one step is what the others come to by themselves, whoever made them: random
// histories
// of two people's edits, each step taken back or standing in the way; and with the step that takes it back taken back
// too, all is as it was.
func TestWithout(t *testing.T) {
	r := rand.New(rand.NewPCG(20, 7))
	cat := catalog.Regions()[0]
	taken, stood := 0, 0
	for round := range 200 {
		d := design.New(cat, "a bed")
		chain := []design.Step{{ID: 1, Made: d}}
		for len(chain) < 3+r.IntN(8) {
			bed := d.Beds[r.IntN(len(d.Beds))].ID
			edits := []design.Edit{
				{Bed: bed, Field: "length", Value: fmt.Sprintf("%d in", 60+r.IntN(60))},
				{Bed: bed, Field: "width", Value: fmt.Sprintf("%d in", 30+r.IntN(18))},
				{Bed: bed, Field: "soil", Value: fmt.Sprintf("%d in", 8+r.IntN(8))},
				{Bed: bed, Field: "name", Value: fmt.Sprintf("bed %d", r.IntN(1000))},
				{Bed: bed, Field: "count", Value: fmt.Sprint(1 + r.IntN(5))},
				{Field: "name", Value: fmt.Sprintf("project %d", r.IntN(1000))},
				{Field: "plot:width", Value: fmt.Sprintf("%d ft", 20+r.IntN(20))},
				{Field: "add-bed", Value: "staked"},
				{Bed: bed, Field: "copy-bed"},
				{Field: "price:2x6/cedar/8 ft", Value: fmt.Sprintf("%d.50", 5+r.IntN(20))},
			}
			e := edits[r.IntN(len(edits))]
			next, err := design.Apply(d, cat, e)
			if err != nil {
				continue
			}
			d = next
			chain = append(chain, design.Step{ID: int64(len(chain) + 1), Edits: []design.Edit{e}, Made: d})
		}
		at := 1 + r.IntN(len(chain)-1)
		got, err := design.Without(chain, chain[at].ID)
		var stands *design.Stands
		if errors.As(err, &stands) {
			stood++
			later := slices.IndexFunc(chain, func(s design.Step) bool { return s.ID == stands.Step })
			if later <= at {
				t.Fatalf("round %d: step %d stands in the way of %d", round, stands.Step, chain[at].ID)
			}
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		taken++
		want := chain[0].Made
		for i, st := range chain[1:] {
			if i+1 == at {
				continue
			}
			if want, err = design.Apply(want, cat, st.Edits...); err != nil {
				t.Fatalf("round %d: %v", round, err)
			}
		}
		if !reflect.DeepEqual(got, want) {
			t.Fatalf("round %d, without step %d:\n%+v\nwant\n%+v", round, chain[at].ID, got, want)
		}
		back := append(slices.Clone(chain), design.Step{ID: int64(len(chain) + 1), Undoes: chain[at].ID, Made: got})
		again, err := design.Without(back, back[len(back)-1].ID)
		if err != nil || !reflect.DeepEqual(again, d) {
			t.Fatalf("round %d: done again it is not as it was: %v", round, err)
		}
		if un := design.Undone(back); len(un) != 1 || !un[chain[at].ID] {
			t.Fatalf("round %d: %v are undone", round, un)
		}
	}
	if taken < 60 || stood < 30 {
		t.Errorf("%d were taken back, in the way of %d others stood: too few to say", taken, stood)
	}
}

func TestTouches(t *testing.T) {
	e := func(bed, field string) design.Edit { return design.Edit{Bed: bed, Field: field, Value: "x"} }
	for _, c := range []struct {
		a, b design.Edit
		want bool
	}{
		{e("b1", "length"), e("b1", "length"), true},
		{e("b1", "length"), e("b1", "width"), false},
		{e("b1", "length"), e("b2", "length"), false},
		{e("b1", "length"), e("b1", "remove-bed"), true},
		{e("b1", "length"), e("b1", "system"), true},
		{e("b1", "plot:width"), e("b2", "plot:width"), true}, // the project's, whichever bed is in hand
		{e("b1", "plot:width"), e("b1", "length"), false},
		{e("", "region"), e("b1", "length"), true},
		{e("", "add-bed"), e("b1", "copy-bed"), true},
		{e("", "add-bed"), e("b1", "length"), false},
		{e("", "name"), e("b1", "name"), false},
	} {
		if c.a.Touches(c.b) != c.want || c.b.Touches(c.a) != c.want {
			t.Errorf("%v and %v: want %v", c.a, c.b, c.want)
		}
	}
	for field, down := range map[string]bool{"price:2x6": true, "have:x": true, "saw": true, "without:x": true,
		"length": false, "plot:width": false, "add-bed": false, "ground:readings": false, "nonsense": false} {
		if e("b1", field).TakesDown() != down {
			t.Errorf("%s takes down: want %v", field, down)
		}
	}
}
