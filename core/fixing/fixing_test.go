package fixing

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

const in, mm = measure.Inch, measure.Millimetre

// Length, number and pilot against common practice: a 1 1/2 in board takes 3
// 1/2 in screws into a post and 3 in down through a cap; 3/4 in boards 1 5/8 to
// 2 in; two screws in a 2x6, three in a 2x8, four in a 2x10. Pilots are 7/8 of
// the root (NDS 2018 12.1.5.3; roots NDS Table L3, from memory): #10 0.152 in
// -> 0.133, nearest drill 9/64 (0.141); #8 0.131 -> 0.115, 7/64.
func TestScrewChoice(t *testing.T) {
	us, _ := catalog.ForRegion("us")
	metric, _ := catalog.ForRegion("metric")
	for _, c := range []struct {
		name         string
		cat          *catalog.Catalog
		kind         frame.JointKind
		through      measure.Length
		into, run    measure.Length
		length       measure.Length
		count        int
		pilot        measure.Length
		unfastenable bool
	}{
		{"2x6 to 4x4", us, frame.FaceToPost, in * 3 / 2, in * 7 / 2, in * 11 / 2, in * 7 / 2, 2, in * 9 / 64, false},
		{"2x8 to 4x4", us, frame.FaceToPost, in * 3 / 2, in * 7 / 2, in * 29 / 4, in * 7 / 2, 3, in * 9 / 64, false},
		{"2x10 to 4x4", us, frame.FaceToPost, in * 3 / 2, in * 7 / 2, in * 37 / 4, in * 7 / 2, 4, in * 9 / 64, false},
		{"1x6 to 4x4", us, frame.FaceToPost, in * 3 / 4, in * 7 / 2, in * 11 / 2, 2 * in, 2, in * 7 / 64, false},
		{"picket to 4x4", us, frame.FaceToPost, in * 5 / 8, in * 7 / 2, in * 11 / 2, in * 13 / 8, 2, in * 7 / 64,
			false},
		{"2x4 cap, 8 ft", us, frame.CapToWall, in * 3 / 2, in * 29 / 4, 96 * in, 3 * in, 10, in / 8, false},
		{"50 mm sleeper to 75 post", metric, frame.FaceToPost, 50 * mm, 75 * mm, 200 * mm, 120 * mm, 3, mm * 7 / 2,
			false},
		{"38 mm board to 75 post", metric, frame.FaceToPost, 38 * mm, 75 * mm, 150 * mm, 90 * mm, 2, 3 * mm, false},
		{"75 mm sleeper to 100 post: no 175, at least 131", metric, frame.FaceToPost, 75 * mm, 100 * mm, 200 * mm,
			160 * mm, 3, mm * 7 / 2, false},
		{"into a lath: every screw would come out", us, frame.FaceToPost, in * 3 / 2, in / 2, in * 7 / 2, 0, 0, 0,
			true},
	} {
		f := frame.Frame{
			Times:  1,
			Joints: []frame.Joint{{ID: "j", Kind: c.kind, Through: c.through, Into: c.into, Run: c.run}},
		}
		p := Choose([]frame.Frame{f}, c.cat, catalog.Habits{SparePerMille: 50})
		if c.unfastenable {
			if len(p.Missing) != 1 || len(p.Needs) != 0 {
				t.Errorf("%s: %+v", c.name, p)
			}
			continue
		}
		if len(p.Needs) != 1 {
			t.Errorf("%s: %+v", c.name, p)
			continue
		}
		n := p.Needs[0]
		if n.Fixing.Length != c.length || n.Count != c.count || n.Pilot != c.pilot {
			t.Errorf(
				"%s: %v long, %d of them, pilot %v; want %v, %d, %v",
				c.name,
				n.Fixing.Length,
				n.Count,
				n.Pilot,
				c.length,
				c.count,
				c.pilot,
			)
		}
	}
}

// Packs against trying every number of every pack.
func TestPacksAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 300 {
		var packs []catalog.Pack
		for range 1 + r.IntN(3) {
			packs = append(packs, catalog.Pack{Count: 1 + r.IntN(40), Price: money.Amount(50 + r.IntN(900))})
		}
		need := 1 + r.IntN(120)
		best := money.Amount(1 << 60)
		var try func(i, have int, cost money.Amount)
		try = func(i, have int, cost money.Amount) {
			if have >= need {
				best = min(best, cost)
				return
			}
			if i == len(packs) || cost >= best {
				return
			}
			try(i+1, have, cost)
			try(i, have+packs[i].Count, cost+packs[i].Price)
		}
		try(0, 0, 0)
		have, cost := 0, money.Amount(0)
		for _, p := range Packs(need, packs) {
			have += p.N * p.Pack.Count
			cost += p.Pack.Price.Times(p.N)
		}
		if have < need || cost != best {
			t.Fatalf("need %d of %v: %d for %v, least is %v", need, packs, have, cost, best)
		}
	}
}

// Pocket screws by the thickness of the stock (common practice: the table that
// is repeated wherever the jigs are used).
func TestPocketScrewLengths(t *testing.T) {
	for region, table := range map[string]map[measure.Length]measure.Length{
		"us": {in * 5 / 8: in, in * 3 / 4: in * 5 / 4, in * 7 / 8: in * 3 / 2, in: in * 3 / 2, in * 5 / 4: 2 * in,
			in * 3 / 2: in * 5 / 2},
		"metric": {19 * mm: 32 * mm, 25 * mm: 38 * mm, 32 * mm: 50 * mm, 38 * mm: 64 * mm},
	} {
		cat, err := catalog.ForRegion(region)
		if err != nil {
			t.Fatal(err)
		}
		for stock, want := range table {
			f := frame.Frame{
				Times: 1,
				Joints: []frame.Joint{
					{ID: "j", Kind: frame.PocketEnd, Through: stock, Into: 3 * stock, Run: 140 * mm, EndGrain: true},
				},
			}
			p := Choose([]frame.Frame{f}, cat, catalog.Habits{})
			if len(p.Needs) != 1 || p.Needs[0].Fixing.Length != want {
				t.Errorf("%s, %v thick: %+v, want %v", region, stock, p.Needs, want)
			}
		}
	}
}

// Spares yield to the pack: 96 screws and 5 spare do not open a second box of 100, since 4 of
// the first are left; 99 do, since one is too few; 50 of a box of 50 leave none.
func TestSparesYieldToThePack(t *testing.T) {
	for count, boxes := range map[int]int{90: 1, 96: 1, 97: 1, 99: 2, 100: 2} {
		n := Need{Count: count, Fixing: catalog.Fixing{Packs: []catalog.Pack{{Count: 100, Price: 900}}}}
		n.buy((count*50 + 999) / 1000)
		if n.Packs[0].N != boxes || n.Buy < count || n.Buy > 100*boxes {
			t.Errorf("%d screws: %d boxes for %d", count, n.Packs[0].N, n.Buy)
		}
	}
}
