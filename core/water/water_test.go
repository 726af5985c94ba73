package water

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

func near(t *testing.T, what string, got, want, by float64) {
	t.Helper()
	if math.Abs(got-want) > by {
		t.Errorf("%s: %.4f, not %.4f", what, got, want)
	}
}

// Friction after Darcy, Weisbach and Blasius (Keller & Bliesner, from memory): 100 emitters of 2 l/h
// every 300 mm on a line of 13.6 mm lose 0.229 m, 0.2287 added up step by step by Blasius alone, a
// hair less where the last stretches are laminar; and the longest lines that
// lose 3 and 5 psi, or 2 and 3.5 m (own table, recomputed).
func TestPipes(t *testing.T) {
	near(t, "a hundred emitters", Lateral(100, 2, 0.3, 0.0136), 0.2287, 0.0015)
	const psi, gph, ft = 0.7031, 3.785411784, 0.3048
	for _, c := range []struct {
		gph, spacing, inside float64
		three, five          float64 // ft
	}{{0.6, 1, 0.600, 251, 302}, {0.9, 1, 0.600, 193, 233}, {0.5, 0.5, 0.520, 141, 170}, {1, 2, 0.820, 582, 0},
		{2, 2, 0.600, 180, 216}, {0.9, 1, 0.170, 21, 26}} {
		if c.five == 0 {
			near(t, "3/4 in, 5 psi", Longest(5*psi, c.gph*gph, c.spacing*ft, c.inside*0.0254)/ft, c.three, 2.1)
			continue
		}
		near(t, "3 psi", Longest(3*psi, c.gph*gph, c.spacing*ft, c.inside*0.0254)/ft, c.three, 2.1)
		near(t, "5 psi", Longest(5*psi, c.gph*gph, c.spacing*ft, c.inside*0.0254)/ft, c.five, 2.1)
	}
	for _, c := range []struct{ each, two, more float64 }{{1.6, 76.2, 93.3}, {2, 66.0, 81.0}, {4, 42.3, 51.9}} {
		near(t, "2 m", Longest(2, c.each, 0.3, 0.0136), c.two, 0.31)
		near(t, "3.5 m", Longest(3.5, c.each, 0.3, 0.0136), c.more, 0.31)
	}
	near(t, "3 ft of water", Kilopascals(3*ft)/6.894757, 1.30, 0.003)
}

// Water by hand (FAO-56, from memory, and own examples): a bed of 1.2 by 2.4 m at 5 mm a day takes 36.75 mm
// a week, 105.84 l, 117.6 where nine tenths reach the roots; four lines of eight 2 l/h emitters give that in
// 110.25 min. A bed of 4 by 8 ft at 0.20 in: 32.58 gal. A bucket of 5 gal in 38 s is 7.89 gpm.
func TestWaterByHand(t *testing.T) {
	m := measure.Metre
	near(t, "metric bed", Week(measure.Over(m*6/5, m*12/5), 5, 1, 0.9), 117.6, 0.01)
	near(t, "its run", Week(measure.Over(m*6/5, m*12/5), 5, 1, 0.9)/64*60, 110.25, 0.01)
	near(t, "US bed", Week(32*measure.SquareFoot, 5.08, 1, 0.9)/3.785411784, 32.58, 0.01)
	flow, err := design.ReadFlow("5 gal in 38 s")
	near(t, "bucket", flow/3.785411784, 7.89, 0.005)
	if err != nil {
		t.Error(err)
	}
	if flow, _ := design.ReadFlow("10 l in 25 s"); flow != 24 {
		t.Errorf("10 l in 25 s are %.2f l/min", flow)
	}
	for _, bad := range []string{"", "10 l", "10 m in 3 s", "0 l in 3 s", "10 l in 0 s", "1e9 l in 1 s", "900 l in 1 s"} {
		if _, err := design.ReadFlow(bad); err == nil {
			t.Errorf("%q was taken", bad)
		}
	}
	// inside 93 x 45 in: four lines 11 1/4 in apart, the outer ones 5 5/8 in from the sides, of eight emitters
	in := measure.Inch
	box := []frame.Spot{{}, {U: 93 * in}, {U: 93 * in, V: 45 * in}, {V: 45 * in}}
	list := lines(box, 12*in, 12*in)
	if len(list) != 4 || list[0].From.V != 45*in/8 || list[1].From.V-list[0].From.V != 45*in/4 {
		t.Errorf("%+v", list)
	}
	for _, l := range list {
		if l.Emitters != 8 {
			t.Errorf("%d emitters on %v", l.Emitters, l.Length())
		}
	}
	// an L keeps its lines inside
	ell := []frame.Spot{{}, {U: 96 * in}, {U: 96 * in, V: 24 * in}, {U: 24 * in, V: 24 * in}, {U: 24 * in, V: 72 * in},
		{V: 72 * in}}
	for _, l := range lines(ell, 12*in, 12*in) {
		if long := 96 * in; l.From.V > 24*in && l.To.U > 24*in || l.To.U > long {
			t.Errorf("a line leaves the bed: %+v", l)
		}
	}
}

// Groups take turns at the tap, and what starts twice rests an hour between.
func TestRunsTakeTurns(t *testing.T) {
	p := Plan{Days: 3, Zones: []Zone{{Minutes: 80, Starts: 2}, {Minutes: 25, Starts: 1}, {Minutes: 61, Starts: 2}}}
	last := map[int]int{}
	end := 0
	list := p.Runs()
	for _, r := range list {
		if r.Start < end || last[r.Zone] > 0 && r.Start < last[r.Zone]+60 {
			t.Errorf("%+v begins before %d", r, end)
		}
		end = r.Start + r.Minutes
		last[r.Zone] = end
	}
	if len(list) != 5 || list[0].Start != Dawn || list[0].Minutes != 40 || list[2].Minutes != 31 {
		t.Errorf("%+v", list)
	}
	for n, want := range map[int]string{1: "MO", 2: "MO TH", 3: "MO WE FR", 7: "MO TU WE TH FR SA SU"} {
		if got := strings.Join((Plan{Days: n}).Weekdays(), " "); got != want {
			t.Errorf("%d days: %s", n, got)
		}
	}
}
