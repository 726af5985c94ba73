package plan_test

import (
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A project of six beds, its steps with all else and its calendar.
func BenchmarkCalendarOfSixBeds(b *testing.B) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		b.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", shop.Catalog)
	if err != nil {
		b.Fatal(err)
	}
	for range 5 {
		if d, err = design.Apply(d, shop.Catalog, design.Edit{Bed: "b1", Field: "copy-bed"}); err != nil {
			b.Fatal(err)
		}
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		b.Fatal(err)
	}
	b.Log(len(p.Frames), len(p.Steps))
	for b.Loop() {
		if _, err := p.Schedule(nil); err != nil {
			b.Fatal(err)
		}
	}
}

// A plain box by one person at weekends, 9 to 12 and 13 to 17 on Saturdays and 13 to 17 on Sundays, by hand from the
// rates, halfway between the shorter and the longer times, in fives: 130 min to fetch, 35 to cut 7 pieces, 10 to lay
// out, 45 to drill 16 pilots and 12 lags, 45 to peg out, 60 to lay 4 m2 of card, 40 to join, 25 to square, 15 for a
// tie, 45 for the soil, 100 to fill 1.1 m3, 45 to water: 595 in all, 420 of them on Saturday, so it is done on Sunday
// at 15:55. What has to come one after the other leaves out pegging, card and soil: 445, Sunday at 13:25 at the
// earliest.
func TestPlainBoxByHand(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("plain-box", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	k, err := p.Schedule(nil)
	if err != nil {
		t.Fatal(err)
	}
	by := map[string]int{"buy": 130, "cut": 35, "lay-out": 10, "drill": 45, "b1.ground": 45, "b1.under.cover": 60,
		"b1.join-up.sides": 40, "b1.square": 25, "b1.make-up.cross-ties": 15, "soil": 45, "b1.fill": 100, "settle": 45}
	sum := 0
	for _, j := range k.Jobs {
		id := p.Steps[j.Step].ID
		if sum += j.Minutes; j.Minutes != by[id] {
			t.Errorf("%s takes %d min, by hand %d", id, j.Minutes, by[id])
		}
	}
	const day = 24 * 60
	if sum != 595 || k.End != day+15*60+55 || k.Least != day+13*60+25 {
		t.Errorf("%d min, done at %d and at the earliest at %d", sum, k.End, k.Least)
	}
}
