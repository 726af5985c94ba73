package timber

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// incline is a floor that slopes across the width: in one plane down to the
// front, or in two down to the middle. Its slats run lengthwise and lie, tilted
// with the plane, on bearers along the ends whose upper edges follow it.
//
//	|\\                //|   slats, from the end
//	|  \\            //  |
//	|\   \\        //   /|   bearers, cut plumb at both ends
//	|  \   \\    //   /  |
//	     \   \\//   /
type incline struct {
	rise, run measure.Length // of one plane
	v         bool
	rail      catalog.Profile // bearers on edge, slats flat
}

func newIncline(b design.Bed, board, rail catalog.Profile) incline {
	in := incline{rise: b.OptionLength("floor_rise"), v: b.Options["floor"] == floorV, rail: rail}
	in.run = b.Width
	if b.Cap != design.NoCap {
		in.run += 2 * b.CapIn
	}
	if in.v {
		in.run /= 2
	}
	return in
}

// slant is the plane's length for one of run.
func (in incline) slant() float64 {
	return math.Hypot(float64(in.rise), float64(in.run)) / float64(in.run)
}

// plumb is a thickness square to the plane, measured straight up.
func (in incline) plumb(l measure.Length) measure.Length {
	return measure.Length(math.Round(float64(l) * in.slant()))
}

// low is how far the soil's deepest line lies above the walls' lower edge.
func (in incline) low() measure.Length { return in.plumb(in.rail.Width) + in.plumb(in.rail.Thickness) }

// incline lays the sloping floor, and hollows the soil's room accordingly.
func (f *floored) incline() {
	in := newIncline(f.bed, f.board, f.rail)
	t, w := f.board.Thickness, f.outWidth
	f.slope = in.rise
	f.floor = f.lift + in.low() + in.rise
	type plane struct {
		name      string
		low, high measure.Length // y of its edges
	}
	planes := []plane{{"", t, w - t}}
	lowest := t
	if in.v {
		lowest = t + in.run
		planes = []plane{{"front ", lowest, t}, {"back ", lowest, w - t}}
	}
	corner := func(y, z measure.Length) frame.Spot { return frame.Spot{U: y, V: z} }
	f.wedges = []frame.Prism{{Axis: frame.X, From: t, To: f.outLength - t,
		Outline: []frame.Spot{corner(t, f.floor), corner(lowest, f.floor-in.rise), corner(w-t, f.floor)}}}
	var bearers, slats []string
	gap := f.bed.OptionLength("gap")
	for _, pl := range planes {
		on := f.bearers(in, pl.name, pl.low, pl.high)
		bearers = append(bearers, on...)
		slats = append(slats, f.tilted(in, pl.low, pl.high, gap, len(slats), on)...)
	}
	f.f.Floors = append(f.f.Floors, frame.Floor{ID: f.id("floor"), Bed: f.bed.ID, Slats: slats, Soil: f.bed.Soil,
		Span: f.inLength - f.rail.Thickness, Spans: 1, Rail: bearers[0]})
	f.f.Acts = append(
		f.f.Acts,
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "bearers",
			Title: "Fix the bearers",
			Where: "inside the ends, along the line of the slope",
			Parts: bearers,
			Note: fmt.Sprintf(
				"Both ends are cut plumb, at %.0f° from square: mark the line of the slope inside each end first. %s",
				math.Atan2(float64(in.rise), float64(in.run))*180/math.Pi,
				ledgerNote,
			),
		},
		frame.Act{
			Verb:  frame.MakeUp,
			Of:    "floor",
			Title: "Lay the floor",
			Where: "down onto the bearers, from the walls to the lowest line",
			Parts: slats,
			Note: "Leave the gap at the lowest line open for the water, and lay the fabric over the floor before" +
				" the soil goes in.",
		},
	)
	f.floorCloth()
}

// bearers fixes one along the slope at each end of a plane.
func (f *floored) bearers(in incline, name string, low, high measure.Length) []string {
	t, thick, tall := f.board.Thickness, f.rail.Thickness, in.plumb(f.rail.Width)
	var ids []string
	for _, end := range []struct {
		side  int
		x, at measure.Length // its left face, and the one at the wall
	}{{left, t, t}, {right, f.outLength - t - thick, f.outLength - t}} {
		r := f.sides[end.side]
		p := f.part(f.rail, frame.Ledger, fmt.Sprintf("%sbearer, %s", name, r.name))
		p.ID, p.Grain, p.Hidden = f.id("bearer.%s%s", name[:min(1, len(name))], r.key), frame.Y, true
		p.Ends = [2]frame.End{frame.Mitred, frame.Mitred}
		p.Body = frame.Prism{Axis: frame.X, From: end.x, To: end.x + thick, Outline: upwards([]frame.Spot{
			{
				U: low,
				V: f.lift,
			}, {U: high, V: f.lift + in.rise}, {U: high, V: f.lift + in.rise + tall}, {U: low, V: f.lift + tall}})}
		// To the long points: the slope itself and what the plumb cut adds.
		p.Length = measure.Length(
			math.Round(float64(in.run)*in.slant() + float64(f.rail.Width)*float64(in.rise)/float64(in.run)),
		)
		p.Tilt = tilt(in, low > high)
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
		board, through, into := r.boards[0], f.board.Thickness, thick
		pair := [2]string{board, p.ID}
		if thick < f.board.Thickness {
			pair, through, into = [2]string{p.ID, board}, thick, f.board.Thickness
		}
		f.f.Joints = append(
			f.f.Joints,
			frame.Joint{
				ID:      board + "+" + p.ID,
				Kind:    frame.WallLedger,
				Parts:   pair,
				Through: through,
				Into:    into,
				Run:     p.Length,
				At: frame.Point{
					X: end.at,
					Y: (low + high) / 2,
					Z: f.lift + (in.rise+tall)/2,
				},
				Load: "half the floor and the wet soil on it",
			},
		)
	}
	return ids
}

// upwards turns an outline so that it goes anticlockwise.
func upwards(outline []frame.Spot) []frame.Spot {
	if frame.OutlineArea(outline) < 0 {
		for i, j := 0, len(outline)-1; i < j; i, j = i+1, j-1 {
			outline[i], outline[j] = outline[j], outline[i]
		}
	}
	return outline
}

// tilt is the plane's angle in degrees, positive where it rises with y.
func tilt(in incline, falls bool) float64 {
	a := math.Atan2(float64(in.rise), float64(in.run)) * 180 / math.Pi
	if falls {
		return -a
	}
	return a
}

// tilted lays a plane's slats on its bearers, from the wall down, and leaves
// what is over at the lowest line.
func (f *floored) tilted(in incline, low, high, gap measure.Length, before int, on []string) []string {
	w, thick := f.rail.Width, f.rail.Thickness
	slant := in.slant()
	cos, sin := 1/slant, float64(in.rise)/float64(in.run)/slant
	way := 1.0 // y grows from the wall down to the lowest line
	if high > low {
		way = -1
	}
	top := f.lift + in.plumb(w) + in.rise // of the bearers at the wall
	// The slats' upper corners lean towards the lowest line: they stop short of
	// it by that and half a gap.
	room := measure.Length(float64(in.run)*slant - (float64(thick)*sin+float64(gap)/2)/cos)
	at := func(s, up float64) frame.Spot {
		return frame.Spot{
			U: high + measure.Length(math.Round(way*(s*cos+up*sin))),
			V: top + measure.Length(math.Round(-s*sin+up*cos)),
		}
	}
	var ids []string
	for _, k := range spread(room, w, gap) {
		p := f.part(f.rail, frame.Slat, fmt.Sprintf("floor slat %d", before+len(ids)+1))
		p.ID, p.Grain, p.Hidden, p.Width, p.Length = f.id(
			"slat.%d",
			before+len(ids)+1,
		), frame.X, true, k.wide, f.inLength
		p.Tilt = tilt(in, way > 0)
		s0, s1, up := float64(k.at), float64(k.at+k.wide), float64(thick)
		p.Body = frame.Prism{Axis: frame.X, From: f.board.Thickness, To: f.outLength - f.board.Thickness,
			Outline: upwards([]frame.Spot{at(s0, 0), at(s1, 0), at(s1, up), at(s0, up)})}
		f.f.Parts = append(f.f.Parts, p)
		ids = append(ids, p.ID)
		mid := at((s0+s1)/2, 0)
		for i, bearer := range on {
			x := f.board.Thickness + f.rail.Thickness/2
			if i == 1 {
				x = f.outLength - x
			}
			f.f.Joints = append(
				f.f.Joints,
				frame.Joint{ID: p.ID + "+" + bearer, Kind: frame.SlatLedger, Parts: [2]string{p.ID, bearer},
					Through: thick, Into: f.rail.Width, Run: k.wide, At: frame.Point{X: x, Y: mid.U, Z: mid.V},
					Load: "the wet soil above it"},
			)
		}
	}
	return ids
}

// strip is where a slat lies and how wide it is.
type strip struct{ at, wide measure.Length }

// spread lays whole slats side by side over a room, with a gap before, between
// and after that is at least as asked, what is left over shared out. Where the
// gaps would be twice what was asked, one more is ripped from a board.
func spread(room, w, gap measure.Length) []strip {
	n := max(0, (room-gap)/(w+gap))
	rest := room - n*w // for n+1 gaps, or one more slat and n+2
	last := rest - (n+2)*gap
	if least := 20 * measure.Millimetre; rest/(n+1) < 2*gap || last < least {
		last = 0
	}
	gaps := n + 1
	if last > 0 {
		gaps, rest = n+2, rest-last
	}
	var list []strip
	for k := range n {
		list = append(list, strip{rest*(k+1)/gaps + w*k, w})
	}
	if last > 0 {
		list = append(list, strip{rest*(n+1)/gaps + w*n, last})
	}
	return list
}
