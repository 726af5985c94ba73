package timber

import (
	"math"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

func fitting(t *testing.T, f frame.Frame, kind string) frame.Fitting {
	t.Helper()
	for _, x := range f.Fittings {
		if x.Kind == kind {
			return x
		}
	}
	t.Fatalf("no %s", kind)
	return frame.Fitting{}
}

// Hoops by hand over 96 x 48 in: at the ends and every 4 ft, three. The pipe of
// one against the ellipse's length by numeric integration (a textbook integral,
// no closed form), and the drawn line against both.
func TestHoops(t *testing.T) {
	f, bed := build(t, "us", set("hoops", "pipe"), set("hoop_rise", "20 in"))
	hoop := fitting(t, f, "hoop")
	a, b := 24.0, 20.0
	arc, steps := 0.0, 200000
	for i := range steps {
		s, c := math.Sincos(math.Pi * (float64(i) + 0.5) / float64(steps))
		arc += math.Hypot(a*s, b*c) * math.Pi / float64(steps)
	}
	want := arc + 2*150/25.4
	if got := float64(hoop.Each) / float64(in); hoop.Count != 3 || math.Abs(got-want) > 0.01 ||
		fitting(t, f, "clip").Count != 6 {
		t.Errorf("%d hoops of %.3f in, want 3 of %.3f", hoop.Count, got, want)
	}
	line := hoop.Lines[1]
	if line[0].Y != f.Openings[0].Lo.V || line[len(line)-1].Y != f.Openings[0].Hi.V ||
		line[len(line)/2].Z != f.Rim+20*in ||
		line[0].X != f.Openings[0].Lo.U+bed.Length/2 {
		t.Errorf("the middle hoop runs %v", line)
	}
}

// A 16 ft wire panel over a path of 4 ft: half the circle of 48 in is 75.40 in
// of 192, the legs 58.30 each, and the head 58.30 + 24 = 82.30 in up.
func TestArch(t *testing.T) {
	if got := float64(archHead(48*in, 192*in)) / float64(in); math.Abs(got-82.30) > 0.005 {
		t.Errorf("the head is %.3f in up", got)
	}
	f, _ := build(t, "us", set("arch", "panel"))
	if x := fitting(t, f, "panel"); x.Count != 1 || x.Each != 16*measure.Foot {
		t.Errorf("%d panels of %v", x.Count, x.Each)
	}
}

// Cells of 12 in in 96 x 48 in: 7 strings across of 48 in and 3 along of 96 in,
// 624 in, on 20 nails. Cells of 13 in: whole cells of at least that, 7 x 3, so 6
// across and 2 along.
func TestGrid(t *testing.T) {
	f, _ := build(t, "us", set("grid", "string"))
	if s, n := fitting(t, f, "string"), fitting(t, f, "nail"); s.Each != 624*in || n.Count != 20 || len(s.Lines) != 10 {
		t.Errorf("%v of string on %d nails", s.Each, n.Count)
	}
	f, _ = build(t, "us", set("grid", "strips"), set("grid_cell", "13 in"))
	strips := map[frame.Axis]int{}
	for _, p := range f.Parts {
		if p.Kind == frame.Strip {
			strips[p.Grain]++
			if p.Width != stripTall {
				t.Errorf("%s is ripped to %v", p.ID, p.Width)
			}
		}
	}
	if strips[frame.X] != 2 || strips[frame.Y] != 6 {
		t.Errorf("strips %v", strips)
	}
}

// A bench along a wall 99 in long, by hand: arms 1 1/2 in thick at most 24 in
// apart, 97 1/2 / 24 is over 4, so five bays and six arms; a seat of at least
// 12 in takes four 2x4 with 6 mm between (14.71 in); legs of 16 - 1 1/2 - 3 1/2
// = 11 in.
func TestBench(t *testing.T) {
	f, _ := build(t, "us", set("bench", "front"), set("soil", "18 in"))
	parts := map[measure.Length]int{}
	for _, p := range f.Parts {
		if p.Kind == frame.BenchPart {
			parts[p.Length]++
		}
	}
	arm := 4*(in*7/2) + 18*measure.Millimetre
	if parts[99*in] != 4 || parts[arm] != 6 || parts[11*in] != 6 || len(parts) != 3 {
		t.Errorf("bench pieces %v", parts)
	}
}

// A trellis on a wall 99 in long: uprights of 1 1/2 in at most 48 in apart, 97
// 1/2 in is over two bays, so four of 72 - 1 1/2 in. Corner posts stand inside up to
// 5 in from the ends: half a bit holder's 18 mm past that, in steps of 5 mm, the first
// upright is 120 mm in, so the head rail is 2514.6 - 240 mm long. The wires: from the
// rim at 14 1/2 in up, 57 1/2 in, four as long as the rail. Sleepers are
// too thick to screw through: there the screws go through the uprights.
func TestTrellis(t *testing.T) {
	f, _ := build(t, "us", set("trellis", "wire"))
	rail := 99*in - 240*measure.Millimetre
	if length(t, f, "b1.trellis.4") != 70*in+in/2 || length(t, f, "b1.trellis.head") != rail ||
		fitting(t, f, "wire").Each != 4*rail {
		t.Errorf("upright %v, wire %v", length(t, f, "b1.trellis.4"), fitting(t, f, "wire").Each)
	}
	f, _ = build(t, "us", set("system", "sleeper"), set("trellis", "wire"))
	for _, j := range f.Joints {
		if p, _ := f.Part(j.Parts[0]); p.Kind == frame.TrellisPart && j.Kind == frame.BehindPost {
			return
		}
	}
	t.Error("the uprights are not screwed to the sleepers from behind")
}

// A mesh basket in walls 96 x 48 in clear, turned up 3 in; a liner round them as
// tall as the soil; another timber in front only.
func TestSheetsAndFace(t *testing.T) {
	f, bed := build(
		t,
		"us",
		set("mesh", "mesh"),
		set("liner", "membrane"),
		set("species", "cedar"),
		set("face", "redwood"),
	)
	for _, s := range f.Sheets {
		switch s.Material {
		case "mesh":
			if s.Length != 96*in || s.Width != 48*in || s.TurnUp != 3*in || s.Stapled != 2*(96+48)*in {
				t.Errorf("mesh %+v", s)
			}
		case "membrane":
			if s.Length != 2*(96+48)*in || s.Width != bed.Soil {
				t.Errorf("liner %+v", s)
			}
		}
	}
	for _, p := range f.Parts {
		if red := p.Species == "redwood"; red != (p.Kind == frame.SideBoard && p.ID[:8] == "b1.front") {
			t.Errorf("%s is of %s", p.ID, p.Species)
		}
	}
}

// The cap is cut round a fence post: nothing of the bed is left where it stands,
// just its room is gone, and the rails that had it are lettered apart from their
// neighbours.
func TestCapNotch(t *testing.T) {
	for _, c := range []struct {
		at   string
		caps int // rails cut
	}{{"back", 1}, {"back-left", 2}, {"back-right", 2}} {
		f, bed := build(t, "us", set("cap", "mitred"), set("cap_profile", "2x6"), set("cap_out", "3 in"),
			set("notch", c.at), set("notch_wide", "4-1/2 in"), set("notch_deep", "2-1/2 in"), set("notch_at", "40 in"))
		o := bed.CapOut
		left := map[string]measure.Length{"back": -o + 40*in - 9*in/4, "back-left": -o,
			"back-right": f.Outside[1].U + o - 9*in/2}[c.at]
		post := frame.Box(
			frame.Point{X: left, Y: f.Outside[1].V + o - 5*in/2, Z: 0},
			frame.Point{X: left + 9*in/2, Y: f.Outside[1].V + o, Z: 2 * measure.Metre},
		)
		var gone measure.Volume
		cut := 0
		for _, p := range f.Parts {
			gone += p.Body.Volume() - p.Volume()
			cut += len(p.Notches)
			for _, s := range p.Solids() {
				if frame.Overlap(s, post) {
					t.Errorf("%s: %s stands where the post does", c.at, p.ID)
				}
			}
		}
		room := measure.Over(9*in/2, 5*in/2).By(3 * in / 2)
		if diff := gone - room; cut != c.caps || diff > 5 || diff < -5 {
			t.Errorf("%s: %d notches, %d gone, want %d", c.at, cut, gone, room)
		}
		frames := []frame.Frame{f}
		frame.Letter(frames)
		front, _ := f.Part("b1.cap.front")
		back, _ := f.Part("b1.cap.back")
		if front.Letter == back.Letter {
			t.Errorf("%s: a notched rail is lettered like a whole one", c.at)
		}
	}
}

// A seat before sleepers of 3 1/2 by 5 1/2 in and 96 in outside, by hand: 16 in is nearest to four
// layers of blocks and the seat on them, 17 1/2 in; 12 in deep to two sleepers and 6 mm, 11.24.
// Stacks 5 1/2 in from the ends and no more than 4 ft apart: three, of four blocks, twelve, and
// two sleepers; 3 x 3 crossings between blocks and 6 on top, two screws each. Nothing is fixed
// to the wall.
func TestSeatOfSleepers(t *testing.T) {
	f, _ := build(t, "us", set("system", "sleeper"), set("length", "89 in"), set("bench", "front"))
	blocks, seats, joints := 0, 0, 0
	deep := 11*in + 6*measure.Millimetre
	for _, p := range f.Parts {
		if p.Kind != frame.BenchPart {
			continue
		}
		_, hi := p.Body.Bounds()
		switch p.Grain {
		case frame.Y:
			blocks++
			if p.Length != deep || hi.Z > 14*in {
				t.Errorf("%s is %v, up to %v", p.ID, p.Length, hi.Z)
			}
		default:
			seats++
			if p.Length != 96*in || hi.Z != 35*in/2 {
				t.Errorf("%s is %v, at %v", p.ID, p.Length, hi.Z)
			}
		}
	}
	for _, j := range f.Joints {
		if j.Kind == frame.Stacked {
			joints++
		}
		if a, _ := f.Part(j.Parts[0]); a.Kind != frame.BenchPart {
			if b, _ := f.Part(j.Parts[1]); b.Kind == frame.BenchPart {
				t.Errorf("%s is fixed to the bench", a.ID)
			}
		}
	}
	if blocks != 12 || seats != 2 || joints != 15 {
		t.Errorf("%d blocks, %d sleepers, %d crossings", blocks, seats, joints)
	}
}
