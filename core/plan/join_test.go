package plan

import (
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// A pieced bed is joined anew for what lies in the shed: fewer boards are bought,
// the joints stand where the cutter put them, and the edit is one that a person
// could have typed.
func TestJointsFitWhatThereIs(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		shop, err := ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		d := design.New(shop.Catalog, "pieced")
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "system",
			Value: "pieced"}); err != nil {
			t.Fatal(err)
		}
		bed := d.Beds[0]
		for i, l := range []measure.Length{61, 47, 33, 29} {
			shop.Shed = append(
				shop.Shed,
				catalog.Leftover{
					ID:       int64(i + 1),
					Profile:  bed.Board,
					Species:  bed.Species,
					Length:   l * measure.Inch,
					Quantity: 2,
				},
			)
		}
		now, err := Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		var fits []Fit
		for _, c := range now.Cuts {
			fits = append(fits, now.FitJoints(c)...)
		}
		if len(fits) != 1 || fits[0].More >= 0 {
			t.Fatalf("%s: %+v", region, fits)
		}
		if d, err = design.Apply(d, shop.Catalog, fits[0].Edit); err != nil {
			t.Fatal(err)
		}
		then, err := Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		if then.Bill.Total > now.Bill.Total+fits[0].More {
			t.Errorf("%s: %v, was %v, and %v was said", region, then.Bill.Total, now.Bill.Total, fits[0].More)
		}
		var lines []string
		for _, r := range then.Frames[0].Pieced {
			at := r.Side + " " + string(rune('0'+r.Course))
			for k, j := range r.Joints {
				at += []string{" at ", " and "}[min(k, 1)] + j.String()
			}
			lines = append(lines, at)
		}
		if got := strings.Join(lines, "; "); got != fits[0].Edit.Value {
			t.Errorf("%s: joined %s; asked for %s", region, got, fits[0].Edit.Value)
		}
		for _, c := range then.Cuts {
			if slices.ContainsFunc(then.FitJoints(c), func(f Fit) bool { return f.More < -100 }) {
				t.Errorf("%s: it can be joined better still: %+v", region, then.FitJoints(c))
			}
		}
		t.Log(now.Bill.Total, then.Bill.Total, fits[0].Edit.Value, fits[0].Joints)
	}
}
