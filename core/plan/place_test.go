package plan_test

import (
	"context"
	"math/rand/v2"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/long"
)

// Beds that fit a place, random ones: each that is told is no larger over its walls than the place, and of boards none
// an
// inch longer or wider would fit; and beds round a thing: each takes it, and of boards it is just as large.
func TestFitsThePlace(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of plans")
	}
	r := rand.New(rand.NewPCG(24, 30))
	p := boarded(t, nil, design.Edit{Bed: "b1", Field: "soil", Value: "9 in"})
	for n := range long.Of(30) {
		long, wide := measure.Length(40+r.IntN(100))*measure.Inch, measure.Length(26+r.IntN(40))*measure.Inch
		if long < wide {
			long, wide = wide, long
		}
		out, err := p.InPlace(context.Background(), "b1", long, wide)
		if err != nil {
			t.Fatal(n, err)
		}
		made := func(edits []design.Edit) *plan.Plan {
			d, err := design.Apply(p.Design, p.Shop.Catalog, edits...)
			if err != nil {
				return nil
			}
			then, err := plan.Make(d, p.Shop)
			if err != nil {
				return nil
			}
			return then
		}
		for i, f := range out.List {
			then := made(f.Edits)
			if then == nil {
				t.Errorf("%d: %s cannot be built as told", n, f.System.Name)
				continue
			}
			l, w := then.Frames[0].Over()
			if l > long || w > wide || then.Bill.Total != f.Total || then.Area() != f.Area {
				t.Errorf("%d: %s is %v by %v over its walls in %v by %v, for %v (%v)", n, f.System.Name, l, w, long,
					wide, then.Bill.Total, f.Total)
			}
			if i > 0 && f.Area > out.List[i-1].Area {
				t.Errorf("%d: %s is told after a smaller one", n, f.System.Name)
			}
			if f.System.Name != "boarded" {
				continue
			}
			for _, key := range []string{"length", "width"} {
				is := map[string]measure.Length{"length": f.Length, "width": f.Width}[key]
				more := append(f.Edits[:len(f.Edits):len(f.Edits)], design.Edit{Bed: "b1", Field: key,
					Value: (is + measure.Inch).String()})
				if then := made(more); then != nil {
					if l, w := then.Frames[0].Over(); l <= long && w <= wide {
						t.Errorf("%d: boarded an inch more %s fits too", n, key)
					}
				}
			}
		}
		if len(out.List) < 6 {
			t.Errorf("%d: only %d beds fit %v by %v", n, len(out.List), long, wide)
		}
		around, err := p.Around(context.Background(), "b1", long/2, wide/2, 8*measure.Inch)
		if err != nil {
			t.Fatal(n, err)
		}
		for _, f := range around.List {
			if f.Length < max(long/2, wide/2) || f.Width < min(long/2, wide/2) || f.Soil < 8*measure.Inch {
				t.Errorf("%d: %s of %v by %v, %v deep, takes no crate of %v by %v", n, f.System.Name, f.Length, f.Width, f.Soil,
					long/2, wide/2)
			}
			if f.System.Name == "plain-box" && (f.Length != max(long/2, wide/2) || f.Width != min(long/2, wide/2)) {
				t.Errorf("%d: a box of %v by %v round %v by %v", n, f.Length, f.Width, long/2, wide/2)
			}
		}
	}
	if _, err := p.InPlace(context.Background(), "b1", measure.Millimetre, measure.Metre); err == nil {
		t.Error("something fits a millimetre")
	}
}
