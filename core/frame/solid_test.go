package frame

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/measure"
)

const mm = measure.Millimetre

func TestPrism(t *testing.T) {
	box := Box(Point{0, 0, 0}, Point{1000 * mm, 38 * mm, 140 * mm})
	if v := box.Volume(); v != 1000*38*140*measure.CubicMillimetre || !box.IsBox() {
		t.Errorf("volume %d, box %v", v, box.IsBox())
	}
	// A mitred rail 1000 long and 100 wide loses two triangles of 100 x 100 / 2.
	rail := Prism{
		Axis:    Z,
		From:    0,
		To:      20 * mm,
		Outline: []Spot{{0, 0}, {1000 * mm, 0}, {900 * mm, 100 * mm}, {100 * mm, 100 * mm}},
	}
	if v := rail.Volume(); v != (1000*100-100*100)*20 || rail.IsBox() {
		t.Errorf("mitred volume %d, box %v", v, rail.IsBox())
	}
	// A pointed stake: its faces' normals point away from its middle.
	stake := Prism{
		Axis:    Y,
		From:    0,
		To:      50 * mm,
		Outline: []Spot{{25 * mm, -100 * mm}, {50 * mm, 0}, {50 * mm, 600 * mm}, {0, 600 * mm}, {0, 0}},
	}
	for _, solid := range []Prism{box, rail, stake} {
		var middle [3]float64
		corners := solid.Corners()
		for _, c := range corners {
			for i, v := range []measure.Length{c.X, c.Y, c.Z} {
				middle[i] += float64(v) / float64(len(corners))
			}
		}
		for _, f := range solid.Faces() {
			c := f.Corners[0]
			out := f.Normal[0]*(float64(c.X)-middle[0]) + f.Normal[1]*(float64(c.Y)-middle[1]) +
				f.Normal[2]*(float64(c.Z)-middle[2])
			if size := math.Hypot(math.Hypot(f.Normal[0], f.Normal[1]), f.Normal[2]); out <= 0 ||
				math.Abs(size-1) > 1e-9 {
				t.Errorf("axis %d: normal %v looks inwards or is not of unit length", solid.Axis, f.Normal)
			}
		}
	}
	if m := rail.Move(Point{5 * mm, 7 * mm, 9 * mm}); m.Volume() != rail.Volume() ||
		m.Corners()[0] != (Point{5 * mm, 7 * mm, 9 * mm}) {
		t.Errorf("moved to %v", m.Corners()[0])
	}
	if _, ok := box.Slice(200*mm, 300*mm); ok {
		t.Error("a slice above the top is not empty")
	}
	if cut, ok := box.Slice(-mm, 40*mm); !ok || cut.Volume() != 1000*38*40 {
		t.Errorf("slice %v", cut)
	}
}

// Letters skip I and O, and go on with two letters.
func TestLetter(t *testing.T) {
	for n, want := range map[int]string{0: "A", 8: "J", 13: "P", 23: "Z", 24: "AA", 48: "BA"} {
		if got := letter(n); got != want {
			t.Errorf("letter(%d) = %s, want %s", n, got, want)
		}
	}
}

// Of three beds, what several need has a bare letter and what one needs its number,
// longest first, and each bed's own letters go on from those of all.
func TestLettersOfBeds(t *testing.T) {
	frames := make([]Frame, 3)
	for n, lengths := range [][]measure.Length{{900, 600, 300}, {900, 500, 400, 500}, {600, 900, 700}} {
		for _, l := range lengths {
			frames[n].Parts = append(frames[n].Parts, Part{Profile: "2x6", Length: l * mm})
		}
	}
	Letter(frames)
	for n, want := range []string{"A B 1C", "A 2C 2D 2C", "B A 3C"} {
		var got []string
		for _, p := range frames[n].Parts {
			got = append(got, p.Letter)
		}
		if strings.Join(got, " ") != want {
			t.Errorf("bed %d: %v, want %s", n+1, got, want)
		}
	}
	if Letter(frames[1:2]); frames[1].Parts[2].Letter != "C" {
		t.Errorf("alone: %s, want C", frames[1].Parts[2].Letter)
	}
}

// A notch takes away just what is inside its block: of many spots, each is in
// one piece of what is left where it is in the body and outside the block, and
// in none otherwise. Boxes and mitred rails, blocks at edges, corners and amid.
func TestNotch(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	rail := Prism{
		Axis:    Z,
		From:    0,
		To:      20 * mm,
		Outline: []Spot{{0, 0}, {1000 * mm, 0}, {900 * mm, 100 * mm}, {100 * mm, 100 * mm}},
	}
	board := Box(Point{0, 0, 0}, Point{1000 * mm, 100 * mm, 20 * mm})
	in := func(p Prism, s Spot) bool {
		for i, a := range p.Outline {
			b := p.Outline[(i+1)%len(p.Outline)]
			if float64(b.U-a.U)*float64(s.V-a.V)-float64(b.V-a.V)*float64(s.U-a.U) < 0 {
				return false
			}
		}
		return true
	}
	for i := range 400 {
		body := []Prism{rail, board}[i%2]
		some := func(most int64) measure.Length { return measure.Length(r.Int64N(most*3/2)-most/4) * mm }
		lo := Point{some(1000), some(100), 0}
		n := Notch{Lo: lo, Hi: Point{lo.X + 1*mm + some(300) + 80*mm, lo.Y + 30*mm + some(60), 20 * mm}}
		p := Part{Body: body, Grain: X, Notches: []Notch{n}}
		if n.Hi.X <= n.Lo.X || n.Hi.Y <= n.Lo.Y {
			continue
		}
		for range 200 {
			s := Spot{measure.Length(r.Int64N(int64(1000 * mm))), measure.Length(r.Int64N(int64(100 * mm)))}
			outline := body.Outline
			if body.Axis == X {
				outline = []Spot{{0, 0}, {1000 * mm, 0}, {1000 * mm, 100 * mm}, {0, 100 * mm}}
			}
			want := in(Prism{Outline: outline}, s) && !(s.U > n.Lo.X && s.U < n.Hi.X && s.V > n.Lo.Y && s.V < n.Hi.Y)
			pieces := 0
			for _, solid := range p.Solids() {
				if solid.Axis == X { // not cut
					solid.Outline = outline
				}
				if in(solid, s) {
					pieces++
				}
			}
			if (pieces == 1) != want || pieces > 1 {
				t.Fatalf("%v out of %v: %v is in %d pieces, want %v", n, body, s, pieces, want)
			}
		}
	}
	// By hand: a corner notch of 90 x 25 mm, from 910 mm on along the rail, in
	// from its far edge.
	p := Part{
		Body:    board,
		Grain:   X,
		Notches: []Notch{{Lo: Point{910 * mm, 75 * mm, 0}, Hi: Point{1000 * mm, 100 * mm, 20 * mm}}},
	}
	from, to, deep, far := p.Notches[0].Cut(p)
	if from != 910*mm || to != 1000*mm || deep != 25*mm || !far || p.Volume() != (1000*100-90*25)*20 {
		t.Errorf("from %v to %v, %v deep, far %v; volume %d", from, to, deep, far, p.Volume())
	}
}
