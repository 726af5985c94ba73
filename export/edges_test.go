package export

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"testing"

	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/long"
)

// edgesOf lists edits of a field to the edges of what it accepts: every choice, the
// least and the most of a number, the lengths at which what is accepted begins or ends.
func edgesOf(d design.Design, cat *catalog.Catalog, f design.Field) []design.Edit {
	bed := d.Beds[0]
	set := func(value string) design.Edit { return design.Edit{Bed: bed.ID, Field: f.Key, Value: value} }
	takes := func(value string) bool { _, err := design.Apply(d, cat, set(value)); return err == nil }
	var list []design.Edit
	add := func(value string) {
		if takes(value) {
			list = append(list, set(value))
		}
	}
	switch f.Kind {
	case design.ChoiceField:
		for _, c := range f.Choices(cat, bed) {
			add(c.Value)
		}
	case design.NumberField:
		add(design.Auto)
		for n := range 21 {
			add(fmt.Sprint(n))
		}
		add(fmt.Sprint(f.Most))
	case design.LengthField:
		mm := measure.Millimetre
		last, ok := measure.Length(0), takes("0 mm")
		if ok {
			add("0 mm")
		}
		for _, next := range []measure.Length{5 * mm, 25 * mm, 60 * mm, 150 * mm, 300 * mm, 500 * mm, 900 * mm,
			1200 * mm, 2000 * mm, 3000 * mm, 6000 * mm, 12100 * mm} {
			is := takes(next.String())
			if is != ok { // the edge lies between
				lo, hi := last, next
				for hi-lo > mm {
					if mid := (lo + hi) / 2 / mm * mm; takes(mid.String()) == ok {
						lo = mid
					} else {
						hi = mid
					}
				}
				add(lo.String())
				add(hi.String())
			}
			last, ok = next, is
		}
	}
	return list
}

// keeps checks that a design that was accepted is planned, written and read back as it
// is.
func keeps(t *testing.T, d design.Design, shop plan.Shop, whole bool) (err error) {
	t.Helper()
	if fault := aside.Catch(func() {
		make := plan.Reckon
		if whole {
			make = plan.Make
		}
		_, err = make(d, shop)
	}); fault != nil {
		return fault
	}
	if err != nil && len(design.Refusals(err)) == 0 {
		return err
	}
	raw, err := Project{Design: d}.Encode()
	if err != nil {
		return err
	}
	back, err := ReadProject(raw)
	if err != nil {
		return err
	}
	again, err := back.Encode()
	if err != nil || !bytes.Equal(raw, again) {
		return fmt.Errorf("read back it is another: %v\n%s\n%s", err, raw, again)
	}
	return nil
}

// Whatever an edit accepts can be planned, kept and read back: every field of every
// system at the edges of what it takes, each alone and each two together.
func TestEdges(t *testing.T) {
	alone, pairs, refused := 0, 0, 0
	part := 8 // of the tenth: the pairs of an eightieth
	if long.Whole() {
		part = 1
	}
	for _, region := range catalog.Regions() {
		shop, err := plan.ShopFor(region.ID)
		if err != nil {
			t.Fatal(err)
		}
		shop.Cut = &cutting.Memo{}
		for k, system := range design.Systems() {
			d, err := design.Apply(
				design.New(region, "edges"),
				region,
				design.Edit{Bed: "b1", Field: "system", Value: system.Name},
			)
			if err != nil {
				t.Fatal(err)
			}
			var edges []design.Edit
			for _, f := range design.FieldsOf(d.Beds[0]) {
				if f.Key == "name" || f.Key == "system" || !f.Matters(d.Beds[0]) {
					continue
				}
				edges = append(edges, edgesOf(d, region, f)...)
			}
			for _, e := range edges {
				next, err := design.Apply(d, region, e)
				if err != nil {
					t.Errorf("%s %s: %v is accepted, and then not: %v", region.ID, system.Name, e, err)
					continue
				}
				if alone++; alone%2 == 1 && !long.Whole() { // every other one
					continue
				}
				if err := keeps(t, next, shop, long.Whole()); err != nil {
					t.Errorf("%s %s: %v: %v", region.ID, system.Name, e, err)
				}
				// What an extra or a cap brings with it has edges of its own.
				for _, f := range design.FieldsOf(next.Beds[0]) {
					if _, had := d.Beds[0].Options[f.Key]; had || f.Matters(d.Beds[0]) || !f.Matters(next.Beds[0]) {
						continue
					}
					for _, inner := range edgesOf(next, region, f) {
						if deep, err := design.Apply(next, region, inner); err == nil {
							alone++
							if err := keeps(t, deep, shop, false); err != nil {
								t.Errorf("%s %s: %v, %v: %v", region.ID, system.Name, e, inner, err)
							}
						}
					}
				}
			}
			r := rand.New(rand.NewPCG(uint64(k), 14))
			for range long.Of(len(edges)*(len(edges)-1)/2) / part {
				a, b := edges[r.IntN(len(edges))], edges[r.IntN(len(edges))]
				if a.Field == b.Field {
					continue
				}
				next, err := design.Apply(d, region, a, b)
				if err != nil {
					if len(design.Refusals(err)) == 0 {
						t.Errorf("%s %s: %v, %v: refused without a reason: %v", region.ID, system.Name, a, b, err)
					}
					refused++
					continue
				}
				pairs++
				if err := keeps(t, next, shop, false); err != nil {
					t.Errorf("%s %s: %v, %v: %v", region.ID, system.Name, a, b, err)
				}
			}
		}
	}
	t.Logf("%d alone, %d pairs, %d pairs refused", alone, pairs, refused)
	if alone < 2000 || pairs < long.Of(20_000)/part {
		t.Errorf("only %d alone and %d pairs were accepted", alone, pairs)
	}
}
