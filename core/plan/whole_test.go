package plan_test

import (
	"bytes"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/long"
)

// Random designs of every system, with all that can be chosen and added, hold together whatever
// they are built of: nothing shares room with anything else, what is joined touches, the bill
// adds up, and what is written is read back
// to the same plan. Five hundred of each where tests run whole, else seventeen.
func TestEveryDesignHolds(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of designs, each planned twice")
	}
	r := newDealer(31)
	of := map[string]int{}
	each := 12
	if long.Whole() {
		each = 500
	}
	for k := range each * len(design.Systems()) {
		shop, err := plan.ShopFor([]string{"us", "metric"}[k%2])
		if err != nil {
			t.Fatal(err)
		}
		d, ok := some(r, shop)
		if !ok {
			continue
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatalf("%+v: %v", d.Beds[0], err)
		}
		of[d.Beds[0].System]++
		for i := range p.Frames {
			clear(t, &p.Frames[i], d)
		}
		sum := money.Amount(0)
		for _, l := range p.Bill.Lines {
			sum += l.Amount
		}
		if sum != p.Bill.Total {
			t.Errorf("%s: the lines come to %v, the bill to %v", d.Beds[0].System, sum, p.Bill.Total)
		}
		for _, b := range p.Balance() {
			if b.Used == 0 || b.Left < 0 {
				t.Errorf("%s: %s: %d bought, %d used, %d left\n%+v", d.Beds[0].System, b.Name, b.Bought, b.Used, b.Left, d)
			}
		}
		var once, again bytes.Buffer
		if err := export.WritePlan(&once, p); err != nil {
			t.Fatal(err)
		}
		raw, err := d.Encode()
		if err != nil {
			t.Fatal(err)
		}
		back, err := export.ReadDesign(raw)
		if err != nil {
			t.Fatalf("%s: what was written is not read: %v\n%s", d.Beds[0].System, err, raw)
		}
		q, err := plan.Make(back, shop)
		if err != nil {
			t.Fatal(err)
		}
		if err := export.WritePlan(&again, q); err != nil {
			t.Fatal(err)
		}
		if once.String() != again.String() {
			t.Errorf("%s: read back it is another plan", d.Beds[0].System)
		}
	}
	t.Log(of)
}

// clear checks a frame's solids against one another, and its joints.
func clear(t *testing.T, f *frame.Frame, d design.Design) {
	t.Helper()
	type solid struct {
		id     string
		body   frame.Prism
		lo, hi frame.Point
	}
	var all []solid
	add := func(id string, list ...frame.Prism) {
		for _, b := range list {
			lo, hi := b.Bounds()
			all = append(all, solid{id, b, lo, hi})
		}
	}
	for _, p := range f.Parts {
		add(p.ID, p.Solids()...)
	}
	for _, u := range f.Units {
		add(u.ID, u.Solids()...)
	}
	for _, c := range f.Pours {
		add(c.ID, c.Solids()...)
	}
	for i, a := range all {
		for _, b := range all[i+1:] {
			if a.id == b.id || a.lo.X >= b.hi.X || b.lo.X >= a.hi.X || a.lo.Y >= b.hi.Y || b.lo.Y >= a.hi.Y ||
				a.lo.Z >= b.hi.Z || b.lo.Z >= a.hi.Z {
				continue
			}
			if frame.Overlap(a.body, b.body) {
				t.Fatalf("%s: %s and %s share room\n%+v", d.Beds[0].System, a.id, b.id, d.Beds[0])
			}
		}
	}
	const near = measure.Millimetre
	for _, j := range f.Joints {
		a, okA := f.Solid(j.Parts[0])
		b, okB := f.Solid(j.Parts[1])
		if !okA || !okB {
			t.Fatalf("%s: %s joins what is not there", d.Beds[0].System, j.ID)
		}
		alo, ahi := a.Bounds()
		blo, bhi := b.Bounds()
		for _, x := range []frame.Axis{frame.X, frame.Y, frame.Z} {
			if alo.Along(x) > bhi.Along(x)+near || blo.Along(x) > ahi.Along(x)+near {
				t.Fatalf("%s: %s does not touch\n%+v", d.Beds[0].System, j.ID, d.Beds[0])
			}
		}
	}
	for _, c := range f.Cavities {
		if c.Net() <= 0 || c.Net() > c.Gross()+c.Gross()/1000 {
			t.Errorf("%s: %s holds %v of %v\n%+v", d.Beds[0].System, c.ID, c.Net().CubicMetres(), c.Gross().CubicMetres(),
				d.Beds[0])
		}
	}
}
