package ground

import (
	"math/bits"
	"math/rand/v2"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

var in = measure.Inch

// laidOut is a sheet laid alone.
func laidOut(s frame.Sheet, roll catalog.Sheet) Cover {
	p := Plan{Covers: []Cover{{Sheet: s, Roll: roll, Strips: 1}}}
	p.lay(func(catalog.Sheet) money.Amount { return 1 })
	return p.Covers[0]
}

// Strips by hand. A roll 48 in wide and 50 ft long, lapped 6 in: 51 in across takes 2 strips
// (48 + 42 = 90), 99 in takes 3 (48 + 42 + 42 = 132). Under 99 x 51 in both come from one
// roll, and 2 strips of 99 have the one seam. A lining 40 ft round and 18 in high is one run
// of 40 1/2 ft; one 60 ft round goes on from a second roll. What stands against a wall runs
// along it: 99 in along and 51 high, 2 strips; and the ends of a ring lap.
func TestLayByHand(t *testing.T) {
	roll := catalog.Sheet{ID: "r", RollWidth: 48 * in, RollLength: 600 * in, Lap: 6 * in}
	for _, c := range []struct {
		sheet         frame.Sheet
		strips        int
		strip         measure.Length
		rolls, joints int
	}{
		{frame.Sheet{Length: 99 * in, Width: 51 * in}, 2, 99 * in, 1, 0},
		{frame.Sheet{Length: 99 * in, Width: 48 * in}, 1, 99 * in, 1, 0},
		{frame.Sheet{Length: 90 * in, Width: 90 * in}, 2, 90 * in, 1, 0},
		{frame.Sheet{Length: 90*in + 1, Width: 90*in + 1}, 3, 90*in + 1, 1, 0},
		{frame.Sheet{Length: 84 * in, Width: 40 * in, TurnUp: 3 * in}, 1, 90 * in, 1, 0},
		{frame.Sheet{Length: 480 * in, Width: 18 * in, Along: true, Closed: true}, 1, 486 * in, 1, 0},
		{frame.Sheet{Length: 720 * in, Width: 18 * in, Along: true, Closed: true}, 1, 726 * in, 2, 1},
		{frame.Sheet{Length: 40 * in, Width: 99 * in, Along: true}, 3, 40 * in, 1, 0},
	} {
		got := laidOut(c.sheet, roll)
		if got.Strips != c.strips || got.Strip != c.strip || got.Total != c.strip*measure.Length(c.strips) ||
			got.Rolls != c.rolls ||
			got.Joints != c.joints {
			t.Errorf("%+v: %d strips of %v, %d rolls, %d joints", c.sheet, got.Strips, got.Strip, got.Rolls, got.Joints)
		}
	}
}

// every tries from which rolls each strip comes: a strip from several has a joint fewer than
// they are, each taking a lap. So much can be cut if no strips together need more than the
// rolls they come from hold (Hall's condition).
func every(strips []measure.Length, rolls int, roll, lap measure.Length) (joints int, ok bool) {
	from := make([]int, len(strips))
	joints = -1
	var try func(i, n int)
	try = func(i, n int) {
		if i < len(strips) {
			for set := 1; set < 1<<rolls; set++ {
				from[i] = set
				try(i+1, n+bits.OnesCount(uint(set))-1)
			}
			return
		}
		for some := 1; some < 1<<len(strips); some++ {
			need, of := measure.Length(0), 0
			for k := range strips {
				if some>>k&1 == 1 {
					need += strips[k] + lap*measure.Length(bits.OnesCount(uint(from[k]))-1)
					of |= from[k]
				}
			}
			if need > roll*measure.Length(bits.OnesCount(uint(of))) {
				return
			}
		}
		if joints < 0 || n < joints {
			joints = n
		}
	}
	try(0, 0)
	return joints, joints >= 0
}

// The least rolls and the fewest joints against every way to cut the strips.
func TestRollsAgainstBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 31))
	for i := range 200 {
		var strips []measure.Length
		for range 1 + r.IntN(4) {
			strips = append(strips, measure.Length(40+r.IntN(300))*in)
		}
		roll, lap := measure.Length(200+r.IntN(200))*in, 6*in
		rolls, joints := Rolls(strips, roll, lap)
		want, least := 0, 0
		for n := 1; n <= 5; n++ {
			if j, ok := every(strips, n, roll, lap); ok {
				least, want = n, j
				break
			}
		}
		if least > 0 && (rolls != least || joints != want) {
			t.Errorf(
				"%d: %v from %v: %d rolls with %d joints, every way finds %d with %d",
				i,
				strips,
				roll,
				rolls,
				joints,
				least,
				want,
			)
		}
	}
}
