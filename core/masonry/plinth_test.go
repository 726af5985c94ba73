package masonry

import (
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// By hand: metric bricks of 215 x 102.5 with gaps of 10 mm. 5 halves long is 5 x 112.5 -
// 10 = 552.5 mm, 4 rows wide 440 mm. Lengthwise a row of 5 halves is 2 bricks and a
// half: 4 rows, 8 bricks and 4 halves. Across there are 5 rows of 4 halves: the first,
// third and fifth of 2 bricks, the others of a half, one, and a half: 8 and 4 again. Two
// courses: 16 whole ones, 8 halves.
func TestPlinthByHand(t *testing.T) {
	f := mustMake(t, "metric", "plinth", "length=552.5 mm", "width=440 mm")
	if n := kinds(f); n[frame.StandardUnit] != 16 || n[frame.CutUnit] != 8 || f.Rim != 105*measure.Millimetre {
		t.Errorf("%v, %v high", n, f.Rim)
	}
	for _, u := range f.Units {
		if u.Kind == frame.CutUnit && u.Cut != measure.Millimetre*205/2 {
			t.Errorf("%s cut to %v", u.Role, u.Cut)
		}
	}
	_, _, err := made("metric", "plinth", "length=600 mm", "width=440 mm")
	if err == nil || !strings.Contains(err.Error(), "552.5 mm and 665 mm do") {
		t.Errorf("%v", err)
	}
}

// Whatever its size: nothing shares room, a course fills the outline but for gaps, and
// every whole brick of a course lies on two or more of the course below.
func TestPlinthsOfAnySize(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 3))
	for range 40 {
		c := catalog.Regions()[r.IntN(2)]
		u := c.UnitsOf(catalog.Brick)[0]
		n, m := measure.Length(4+r.IntN(9)), measure.Length(4+r.IntN(4))
		n = max(n, m)
		f := mustMake(
			t,
			c.ID,
			"plinth",
			"length="+(n*brickStep(u)-between(u)).String(),
			"width="+(m*brickStep(u)-between(u)).String(),
			"layers="+[]string{"1", "2", "3"}[r.IntN(3)],
		)
		if err := sound(f); err != nil {
			t.Fatal(err)
		}
		for course := 1; course <= f.Courses(); course++ {
			halves := measure.Length(0)
			for _, x := range f.Units {
				if x.Course != course {
					continue
				}
				halves += 2
				if x.Kind == frame.CutUnit {
					halves--
				}
				if course == 1 || x.Kind == frame.CutUnit {
					continue
				}
				below := 0
				for _, y := range f.Units {
					lower := y.Body
					lower.To += in
					if y.Course == course-1 && frame.Overlap(lower, x.Body) {
						below++
					}
				}
				if below < 2 {
					t.Fatalf("%s lies on %d below", x.Role, below)
				}
			}
			if halves != n*m {
				t.Errorf("course %d: %d half bricks fill %d", course, halves, n*m)
			}
		}
	}
}
