package laying

import (
	"math"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

func listed(_ string, a money.Amount) money.Amount { return a }

// By hand: 100 blocks of 8 x 8 x 16 whole and 6 halves of them cut to 7 in: two from
// one, 3; one with a slanting cut, 1. 104 and one in twenty, 6, are 110. Joints of 107
// blocks hold (16 x 8 - 15 5/8 x 7 5/8) x 7 5/8 = 67.6 cu in each: 4.18 cu ft, NCMA has
// 3.85 for 100 on a full bed (own, 3.91); mixed 1.6 times that: 6.69, 11 bags of 0.66.
func TestCountByHand(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	in := measure.Inch
	f := frame.Frame{Times: 1}
	for range 100 {
		f.Units = append(f.Units, frame.Unit{SKU: "cmu8", Kind: frame.StandardUnit})
	}
	for range 6 {
		f.Units = append(f.Units, frame.Unit{SKU: "cmu8", Kind: frame.CutUnit, Cut: 7 * in})
	}
	f.Units = append(f.Units, frame.Unit{SKU: "cmu8", Kind: frame.CutUnit, Cut: 12 * in, Angle: 45})
	f.Beads = []frame.Bead{{Length: 61 * measure.Foot}}
	// 20 ft of trench 13 1/2 in wide, 4 in of stone; the screed is 7 5/8 in wide and 1 in.
	f.Bases = []frame.Base{
		{
			Line:   240 * in,
			Area:   measure.Over(240*in, in*27/2),
			Seat:   measure.Over(240*in, in*61/8),
			Stone:  4 * in,
			Screed: in,
			Buried: 2 * in,
		},
	}
	p, err := Work([]frame.Frame{f}, cat, listed)
	if err != nil {
		t.Fatal(err)
	}
	c := p.Units[0]
	if c.Laid != 107 || c.Cut != 4 || c.Buy != 110 || c.Cost != money.Amount(110*248) {
		t.Errorf("%+v", c)
	}
	if p.Tubes != 3 { // 61 ft of bead, 30 to a tube
		t.Errorf("%d tubes", p.Tubes)
	}
	heap := map[catalog.LooseKind]Heap{}
	for _, h := range p.Heaps {
		heap[h.Loose.Kind] = h
	}
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got/want-1) > 0.001 {
			t.Errorf("%s: %.4f, want %.4f", what, got, want)
		}
	}
	near("mortar", heap[catalog.Mortar].Volume.CubicFeet(), 107*67.553/1728*1.6)
	if heap[catalog.Mortar].Packs != 11 {
		t.Errorf("%d bags of mortar", heap[catalog.Mortar].Packs)
	}
	// Stone: 240 x 13 1/2 x 4 = 7.5 cu ft compacted, 2100 kg/m3: 446 kg, one ton.
	near("stone", heap[catalog.BaseStone].Volume.CubicFeet(), 7.5)
	near("stone's mass", float64(heap[catalog.BaseStone].Mass), 7.5*0.028316846592*2100)
	// Screed: 240 x 7 5/8 x 1 = 1.059 cu ft; loose 1.271, six sevenths sand at 100 pcf
	// (1602 kg/m3), a seventh cement at 94 pcf (1506).
	near("sand", float64(heap[catalog.Sand].Mass), 1.05903*1.2*6/7*0.028316846592*1602)
	near("cement", float64(heap[catalog.Cement].Mass), 1.05903*1.2/7*0.028316846592*1506)
	if heap[catalog.BaseStone].Packs != 1 || heap[catalog.Sand].Packs != 3 || heap[catalog.Cement].Packs != 1 ||
		p.Hire == nil {
		t.Errorf("packs %d, %d, %d", heap[catalog.BaseStone].Packs, heap[catalog.Sand].Packs, heap[catalog.Cement].Packs)
	}
	near("dug", p.Dug.CubicFeet(), 240*13.5*7/1728)
}

// A cubic metre of mix from cement and sand 1:3 takes 479 kg and 0.998 m3, 1:4 383 kg
// and 1.064 m3 (dry factor 1.33, 1440 kg/m3: common practice). With a quarter of rubble
// and a twentieth spilt a wall of 1.2 m3 is 0.945 m3 of mix: 68 bags of 14 l that leave 7
// l, four bricks of 1.43 l; 28 l at a time 34 batches, three days of a dozen.
func TestMixesByHand(t *testing.T) {
	cat, err := catalog.ForRegion("metric")
	if err != nil {
		t.Fatal(err)
	}
	made := func(sand, rubble int, cubic float64) Plan {
		p, err := Work(
			[]frame.Frame{
				{
					Times: 1,
					Pours: []frame.Pour{{Volume: measure.CubicMetres(cubic), Sand: sand, Rubble: rubble, Batch: 2, Daily: 12}},
				},
			},
			cat,
			listed,
		)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	for sand, want := range map[int][2]float64{3: {479, 0.998}, 4: {383, 1.064}} {
		p := made(sand, 0, 1/1.05)
		if got := float64(p.Heaps[0].Mass); p.Heaps[0].Loose.Kind != catalog.Cement || math.Abs(got-want[0]) > 0.5 {
			t.Errorf("1:%d takes %.1f kg of %s, want %.0f", sand, got, p.Heaps[0].Loose.Kind, want[0])
		}
		if got := p.Heaps[1].Volume.CubicMetres(); p.Heaps[1].Loose.Kind != catalog.Sand || math.Abs(got-want[1]) > 0.001 {
			t.Errorf("1:%d takes %.4f m3 of %s, want %.3f", sand, got, p.Heaps[1].Loose.Kind, want[1])
		}
	}
	p := made(0, 250, 1.2)
	if h := p.Heaps[0]; h.Packs != 68 || p.Bricks != 4 || p.Batches() != 34 || p.Days() != 3 {
		t.Errorf(
			"%d bags, %v left makes %d bricks, %d batches in %d days",
			h.Packs,
			p.Left.CubicMetres(),
			p.Bricks,
			p.Batches(),
			p.Days(),
		)
	}
}

// Seven halves of a 16 in block (15 5/8 long) are 7 13/16 each: a saw with its 3 mm gets one
// from a block, a chisel two, so four blocks are split and a half of one is left. With one in
// twenty spare five are needed; with three there two are bought.
func TestHalvesAreSplit(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	f := frame.Frame{Times: 1}
	for range 7 {
		f.Units = append(f.Units, frame.Unit{SKU: "cmu8", Kind: frame.HalfUnit, Dry: true, Cut: measure.Inch * 125 / 16})
	}
	p, err := Work([]frame.Frame{f}, cat, listed)
	if err != nil {
		t.Fatal(err)
	}
	if c := p.Units[0]; c.Cut != 4 || c.Part != 7 || c.Left != 1 || c.Spare != 1 || c.Buy != 5 {
		t.Errorf("%+v", c)
	}
	p.Use(map[string]int{"cmu8": 3}, nil, listed)
	if c := p.Units[0]; c.Have != 3 || c.Buy != 2 || c.Cost != c.Unit.Price.Times(2) {
		t.Errorf("%+v", c)
	}
	// Cut to 7 in, as a joint leaves them, two come from one as well; to 8 in one does.
	f.Units = f.Units[:2]
	for cut, want := range map[measure.Length]int{7 * measure.Inch: 1, 8 * measure.Inch: 2} {
		f.Units[0].Cut, f.Units[1].Cut = cut, cut
		if p, err = Work([]frame.Frame{f}, cat, listed); err != nil || p.Units[0].Cut != want {
			t.Errorf("two of %v from %d blocks, want %d: %v", cut, p.Units[0].Cut, want, err)
		}
	}
}
