// Package site lays the beds out on the ground they stand on: where each of them
// is, how wide the paths between them are, and whether who has to get through
// does.
//
//	+-----------------------+
//	| [ bed ]  path [ bed ] |   ^ north
//	|   path                |
//	| [     long bed     ]  |
//	+-----------------------+
//
// Beds whose place has been decided stand there; the others are put wherever
// there is room, row by row from the front left corner, the same way every time.
package site

import (
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Most is how many beds are laid out one by one.
const Most = 120

// Stand is one bed on the ground: its room from above, with everything that
// reaches out of its walls.
type Stand struct {
	Bed    string
	Name   string
	N      int // which of the bed's count, from 0
	Lo, Hi frame.Spot
	Turned bool
	Set    bool // its place was decided
}

// Gap is what is between two neighbours, or between a bed and a fence.
type Gap struct {
	A, B  int    // indices of stands; B is -1 at a fence
	Fence string // which edge
	Wide  measure.Length
	Along frame.Axis // the axis it is measured on
	Lo    frame.Spot // its room
	Hi    frame.Spot
}

// Layout is the whole plot.
type Layout struct {
	Plot    design.Plot
	Passage measure.Length // the least width of a path
	Stands  []Stand
	Gaps    []Gap
	More    int  // beds that were not laid out
	Decided bool // the plot itself has been
}

// Arrange lays beds and their frames, in the same order, out on a plot.
func Arrange(beds []design.Bed, frames []frame.Frame, plot design.Plot, decided bool, passage measure.Length) Layout {
	l := Layout{Plot: plot, Passage: passage, Decided: decided}
	type free struct{ at int }
	var wanting []free
	for i, b := range beds {
		lo, hi := frames[i].Bounds()
		size := frame.Spot{U: hi.X - lo.X, V: hi.Y - lo.Y}
		for n := range b.Times() {
			if len(l.Stands) >= Most {
				l.More++
				continue
			}
			s := Stand{Bed: b.ID, Name: b.Name, N: n, Hi: size}
			if n < len(b.Places) {
				p := b.Places[n]
				if p.Turned {
					s.Turned, s.Hi = true, frame.Spot{U: size.V, V: size.U}
				}
				if !p.Free {
					s = s.moved(p.X, p.Y)
					s.Set = true
				}
			}
			if !s.Set {
				wanting = append(wanting, free{len(l.Stands)})
			}
			l.Stands = append(l.Stands, s)
		}
	}
	var placed []int
	for i, s := range l.Stands {
		if s.Set {
			placed = append(placed, i)
		}
	}
	for _, w := range wanting {
		l.settle(w.at, placed)
		placed = append(placed, w.at)
	}
	if !decided { // the plot is as large as what stands on it
		for _, s := range l.Stands {
			l.Plot.Width, l.Plot.Depth = max(l.Plot.Width, s.Hi.U+passage), max(l.Plot.Depth, s.Hi.V+passage)
		}
	}
	l.gaps()
	return l
}

func (s Stand) moved(x, y measure.Length) Stand {
	size := frame.Spot{U: s.Hi.U - s.Lo.U, V: s.Hi.V - s.Lo.V}
	s.Lo, s.Hi = frame.Spot{U: x, V: y}, frame.Spot{U: x + size.U, V: y + size.V}
	return s
}

// On is where places of the bed's frame come to be on the plot: the bed stands with the corner
// of its bounds at the stand's, as it is or turned a quarter to the left.
func (s Stand) On(f *frame.Frame) func(frame.Spot) frame.Spot {
	lo, _ := f.Bounds()
	return func(at frame.Spot) frame.Spot {
		u, v := at.U-lo.X, at.V-lo.Y
		if s.Turned { // what was the front faces right
			u, v = (s.Hi.U-s.Lo.U)-v, u
		}
		return frame.Spot{U: s.Lo.U + u, V: s.Lo.V + v}
	}
}

// settle puts a stand at the first place, row by row, where a path is left all
// round it. Places worth trying are those a path away from the plot's corner and
// from the far edges of what stands already.
func (l *Layout) settle(i int, placed []int) {
	xs, ys := []measure.Length{l.Passage}, []measure.Length{l.Passage}
	for _, k := range placed {
		xs, ys = append(xs, l.Stands[k].Hi.U+l.Passage), append(ys, l.Stands[k].Hi.V+l.Passage)
	}
	slices.Sort(xs)
	slices.Sort(ys)
	xs, ys = slices.Compact(xs), slices.Compact(ys)
	wide := l.Plot.Width - l.Passage
	size := l.Stands[i].Hi.U - l.Stands[i].Lo.U
	for _, y := range ys {
		for _, x := range xs {
			if x+size > wide && x > l.Passage {
				break
			}
			s := l.Stands[i].moved(x, y)
			if !slices.ContainsFunc(placed, func(k int) bool { return l.Stands[k].within(s, l.Passage) }) {
				l.Stands[i] = s
				return
			}
		}
	}
}

// within reports whether two stands come closer than a distance, both ways.
func (s Stand) within(o Stand, d measure.Length) bool {
	return s.Lo.U < o.Hi.U+d && o.Lo.U < s.Hi.U+d && s.Lo.V < o.Hi.V+d && o.Lo.V < s.Hi.V+d
}

// gaps measures between every two stands that face each other with nothing
// between, and from stands to fences.
func (l *Layout) gaps() {
	for i, a := range l.Stands {
		for j := i + 1; j < len(l.Stands); j++ {
			if g, ok := between(a, l.Stands[j]); ok && !l.blocked(g, i, j) {
				g.A, g.B = i, j
				l.Gaps = append(l.Gaps, g)
			}
		}
		for _, e := range l.Plot.Fences {
			g := Gap{A: i, B: -1, Fence: e, Along: frame.X}
			switch e {
			case "left":
				g.Wide, g.Lo, g.Hi = a.Lo.U, frame.Spot{V: a.Lo.V}, frame.Spot{U: a.Lo.U, V: a.Hi.V}
			case "right":
				g.Wide, g.Lo, g.Hi = l.Plot.Width-a.Hi.U, frame.Spot{
					U: a.Hi.U,
					V: a.Lo.V,
				}, frame.Spot{
					U: l.Plot.Width,
					V: a.Hi.V,
				}
			case "front":
				g.Along = frame.Y
				g.Wide, g.Lo, g.Hi = a.Lo.V, frame.Spot{U: a.Lo.U}, frame.Spot{U: a.Hi.U, V: a.Lo.V}
			case "back":
				g.Along = frame.Y
				g.Wide, g.Lo, g.Hi = l.Plot.Depth-a.Hi.V, frame.Spot{
					U: a.Lo.U,
					V: a.Hi.V,
				}, frame.Spot{
					U: a.Hi.U,
					V: l.Plot.Depth,
				}
			}
			if !l.blocked(g, i, -1) {
				l.Gaps = append(l.Gaps, g)
			}
		}
	}
}

// between is the room between two stands that overlap seen along one axis.
func between(a, b Stand) (Gap, bool) {
	lo := frame.Spot{U: max(a.Lo.U, b.Lo.U), V: max(a.Lo.V, b.Lo.V)}
	hi := frame.Spot{U: min(a.Hi.U, b.Hi.U), V: min(a.Hi.V, b.Hi.V)}
	switch {
	case lo.U < hi.U && lo.V >= hi.V:
		return Gap{
			Along: frame.Y,
			Wide:  lo.V - hi.V,
			Lo:    frame.Spot{U: lo.U, V: hi.V},
			Hi:    frame.Spot{U: hi.U, V: lo.V},
		}, true
	case lo.V < hi.V && lo.U >= hi.U:
		return Gap{
			Along: frame.X,
			Wide:  lo.U - hi.U,
			Lo:    frame.Spot{U: hi.U, V: lo.V},
			Hi:    frame.Spot{U: lo.U, V: hi.V},
		}, true
	}
	return Gap{}, false
}

// blocked reports whether another bed stands in a gap.
func (l *Layout) blocked(g Gap, i, j int) bool {
	for k, s := range l.Stands {
		if k != i && k != j && s.Lo.U < g.Hi.U && s.Hi.U > g.Lo.U && s.Lo.V < g.Hi.V && s.Hi.V > g.Lo.V {
			return true
		}
	}
	return false
}

// closes is how near another bed's edge, or the plot's, a moved bed is drawn up
// to it.
const closes = 75 * measure.Millimetre

// Moved is where a stand comes to when it is moved by some way: on whole steps,
// inside the plot, and close up against what it nearly touches.
func (l *Layout) Moved(i int, by frame.Spot, step measure.Length) frame.Spot {
	s := l.Stands[i]
	to := s.moved(whole(s.Lo.U+by.U, step), whole(s.Lo.V+by.V, step))
	snap := func(lo, hi, at measure.Length) measure.Length { // the shift that brings either edge to at
		for _, d := range []measure.Length{at - lo, at - hi} {
			if d != 0 && max(d, -d) <= closes {
				return d
			}
		}
		return 0
	}
	dx, dy := measure.Length(0), measure.Length(0)
	for k, o := range l.Stands {
		if k == i {
			continue
		}
		if to.Lo.V < o.Hi.V && o.Lo.V < to.Hi.V && dx == 0 {
			dx = nearest(snap(to.Lo.U, to.Lo.U, o.Hi.U), snap(to.Hi.U, to.Hi.U, o.Lo.U))
		}
		if to.Lo.U < o.Hi.U && o.Lo.U < to.Hi.U && dy == 0 {
			dy = nearest(snap(to.Lo.V, to.Lo.V, o.Hi.V), snap(to.Hi.V, to.Hi.V, o.Lo.V))
		}
	}
	x := min(max(0, to.Lo.U+dx), max(0, l.Plot.Width-(s.Hi.U-s.Lo.U)))
	y := min(max(0, to.Lo.V+dy), max(0, l.Plot.Depth-(s.Hi.V-s.Lo.V)))
	return frame.Spot{U: x, V: y}
}

func nearest(a, b measure.Length) measure.Length {
	if a == 0 || b != 0 && max(b, -b) < max(a, -a) {
		return b
	}
	return a
}

// whole rounds to whole steps.
func whole(l, step measure.Length) measure.Length {
	if l < 0 {
		return -whole(-l, step)
	}
	return (l + step/2) / step * step
}

// Stand finds the n-th of a bed.
func (l *Layout) Stand(bed string, n int) (int, bool) {
	i := slices.IndexFunc(l.Stands, func(s Stand) bool { return s.Bed == bed && s.N == n })
	return i, i >= 0
}

// Overlaps lists pairs of stands that take the same ground.
func (l *Layout) Overlaps() [][2]int {
	var list [][2]int
	for i, a := range l.Stands {
		for j := i + 1; j < len(l.Stands); j++ {
			if a.within(l.Stands[j], 0) {
				list = append(list, [2]int{i, j})
			}
		}
	}
	return list
}

// Off lists stands that reach over the plot's edge.
func (l *Layout) Off() []int {
	var list []int
	for i, s := range l.Stands {
		if s.Lo.U < 0 || s.Lo.V < 0 || s.Hi.U > l.Plot.Width || s.Hi.V > l.Plot.Depth {
			list = append(list, i)
		}
	}
	return list
}

// Tight lists gaps that are neither closed nor wide enough to go through.
func (l *Layout) Tight() []Gap {
	return slices.DeleteFunc(slices.Clone(l.Gaps), func(g Gap) bool { return g.Wide <= 0 || g.Wide >= l.Passage })
}
