package timber

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A carrier by hand: 48 x 23 in inside, 2x6 rails, rails' upper edges at 24 in.
// Outside 51 x 26. Spanners are 2x4 on edge, level with the rails' lower edges
// at 18 1/2: their upper edges, and the legs' ends, at 22. Two spanners between
// the ends' (20 in, between 1 1/2 in legs) run from rail to rail, 23 in. Slats of
// 1x6: (23 - 1) / 6 1/2 = 3 whole ones, 1 5/8 in apart, 48 long.
//
// Pots 8 in across, 1/4 in apart: in rows and files 5 x 2; shifted, rows are
// 8 1/4 x 0.866 = 7.145 apart, (23 - 8) / 7.145 + 1 = 3 rows; the first of 5, the
// second starting half a pitch in, at 8 1/8: up to 44 in that is 5, the third 5:
// 15 pots, of pi x 4 x 4 x 9 in each.
func TestCarrierByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "carrier"),
		set("board", "2x6"),
		set("length", "48 in"),
		set("width", "23 in"),
		set("soil", "9 in"),
		set("pot", "8 in"),
		set("spanners", "2"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			51 * in: 2,
		}, frame.EndBoard: {23 * in: 2}, frame.Leg: {22 * in: 4}, frame.Spanner: {20 * in: 2, 23 * in: 2},
		frame.Slat: {48 * in: 3}})
	// Legs meet two rails each; two spanners hang between the rails, two lie
	// against the ends; the slats are loose.
	wantJoints(t, f, map[frame.JointKind]int{frame.CarryToPost: 8, frame.FaceToEnd: 4, frame.WallLedger: 2})
	if len(f.Cavities) != 15 {
		t.Errorf("%d pots, want 15", len(f.Cavities))
	}
	wantSoil(t, f, 15*math.Pi*16*9)
}

// Every count of pots against plain geometry: each is inside the rails, none
// reaches into another, and there are at least as many as rows and files of
// them; for squares just as many.
func TestPotsAgainstGeometry(t *testing.T) {
	c, err := catalog.ForRegion("metric")
	if err != nil {
		t.Fatal(err)
	}
	base, err := design.Apply(design.New(c, "pots"), c, design.Edit{Bed: "b1", Field: "system", Value: "carrier"})
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(9, 9))
	shiftedWins := 0
	for range 300 {
		b := base.Beds[0].Copied()
		b.Length, b.Width = measure.Length(
			600+r.IntN(1800),
		)*measure.Millimetre, measure.Length(
			300+r.IntN(900),
		)*measure.Millimetre
		pot, gap := 100+r.IntN(200), r.IntN(20)
		b.Options["pot"], b.Options["pot_gap"] = fmt.Sprint(pot), fmt.Sprint(gap)
		b.Options["holds"] = []string{"pots", "bags"}[r.IntN(2)]
		list := setOut(b)
		d, g := float64(pot), float64(gap)
		rows := int((b.Length.Millimetres()+g)/(d+g)) * int((b.Width.Millimetres()+g)/(d+g))
		if len(list) < rows || b.Options["holds"] == "bags" && len(list) != rows {
			t.Fatalf("%d pots of %d in %v by %v; rows and files hold %d", len(list), pot, b.Length, b.Width, rows)
		}
		if len(list) > rows {
			shiftedWins++
		}
		for i, s := range list {
			x, y := s.U.Millimetres(), s.V.Millimetres()
			if x < d/2-1e-6 || y < d/2-1e-6 || x > b.Length.Millimetres()-d/2+1e-6 ||
				y > b.Width.Millimetres()-d/2+1e-6 {
				t.Fatalf("pot %d at %v, %v stands over the rail", i, x, y)
			}
			for _, o := range list[:i] {
				dx, dy := math.Abs(x-o.U.Millimetres()), math.Abs(y-o.V.Millimetres())
				apart := math.Hypot(dx, dy)
				if b.Options["holds"] == "bags" {
					apart = max(dx, dy)
				}
				if apart < d+g-1e-5 {
					t.Fatalf("two pots of %d are %.3f apart", pot, apart)
				}
			}
		}
	}
	if shiftedWins < 10 {
		t.Errorf("shifted rows held more in %d cases only", shiftedWins)
	}
}
