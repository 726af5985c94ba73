package strength

import (
	"math"
	"slices"

	"chamfer/core/fixing"
	"chamfer/core/frame"
)

// corner is what comes to an upright from walls that run one way, for those that run the
// other to hold.
type corner struct {
	from [2]float64 // N, pushed by walls along x and along y
	path [2]Path
}

// tied follows what a tie's end takes to its other end: the same pull comes there, and its
// own joint there is told with its own wall.
func (w *walk) tied(p prop, load float64, path Path) {
	i, ok := w.index[p.to]
	if !ok || w.nodes[i].Kind != frame.Tie {
		return
	}
	n := &w.nodes[i]
	holds := pulledApart(n)
	w.add(
		Link{
			From:   n.ID,
			To:     n.ID,
			Path:   path,
			Way:    Stretched,
			Load:   load,
			Holds:  holds,
			Breaks: holds * breaksBending(n.wood),
		},
	)
}

// pulledApart is what a tie bears along the grain, N: taken as 0.55 of its bending strength
// (NDS Table 4A: Ft of No. 2 is 0.5 to 0.64 of Fb; EN 338: 0.5 to 0.6 of fm; from memory).
func pulledApart(n *node) float64 {
	_, _, factor, allowed := values(Member{Across: n.Thickness, Deep: n.Width, Species: n.wood})
	return 0.55 * allowed * n.Thickness.Metres() * n.Width.Metres() / factor
}

// heldAlong is a course that a floor's ledger holds all along: its screws are pulled, and
// the slats are ties.
func (w *walk) heldAlong(c *course, load float64, path Path) {
	holds := 0.0
	for _, p := range c.held {
		holds += p.holds
	}
	for _, p := range c.held {
		part := load
		if holds > 0 {
			part = load * p.holds / holds
		}
		w.add(w.through(p, path, part))
		var on []Link
		all := 0.0
		for _, at := range w.at[w.index[p.to]] {
			j := *at
			x, ok := w.Fixed[j.ID]
			if !ok || j.Kind != frame.SlatLedger && j.Kind != frame.SheetDown && j.Kind != frame.FaceToEnd {
				continue
			}
			other := j.Parts[0]
			if other == p.to {
				other = j.Parts[1]
			}
			s, n := w.heldBy(j, x), Holding(j, x)
			h := s.Across()
			if j.Kind == frame.FaceToEnd {
				h = s.Pull()
			}
			h *= float64(n)
			all += h
			on = append(
				on,
				Link{
					From:     p.to,
					To:       other,
					Path:     path,
					Way:      Across,
					Holds:    h,
					Breaks:   h * pullsOut,
					Joint:    j.ID,
					Screws:   n,
					EndGrain: j.EndGrain,
				},
			)
		}
		for _, l := range on {
			if all > 0 {
				l.Load = part * l.Holds / all
			}
			w.add(l)
		}
	}
}

// roundCorners hands what comes to a corner's upright from one wall to the boards of the
// other, whose fixings there are pushed across their length.
func (w *walk) roundCorners(pulls map[int]*corner) {
	var list []int
	for i := range pulls {
		list = append(list, i)
	}
	slices.Sort(list)
	for _, i := range list {
		for way, load := range pulls[i].from {
			if load > 0 {
				w.aroundCorner(i, way, load, pulls[i].path[way])
			}
		}
	}
}

func (w *walk) aroundCorner(i, way int, load float64, path Path) {
	n := &w.nodes[i]
	var on []Link
	all := 0.0
	for _, at := range w.at[i] {
		j := *at
		x, ok := w.Fixed[j.ID]
		if !ok {
			continue
		}
		other := j.Parts[0]
		if other == n.ID {
			other = j.Parts[1]
		}
		o := &w.nodes[w.index[other]]
		if across := o.Grain == frame.Y; !(o.Course > 0 && across == (way == 0)) && o.Kind != frame.Tie {
			continue
		}
		h := w.alongBoard(j, x)
		all += h
		on = append(
			on,
			Link{
				From:     n.ID,
				To:       o.ID,
				Path:     path,
				Way:      Across,
				Holds:    h,
				Breaks:   h * pullsOut,
				Joint:    j.ID,
				Screws:   x.Count,
				EndGrain: j.EndGrain,
			},
		)
	}
	if len(on) == 0 {
		w.add(Link{From: n.ID, Path: path, Way: Across, Load: load})
		return
	}
	for _, l := range on {
		if all > 0 {
			l.Load = load * l.Holds / all
		}
		w.add(l)
	}
}

// alongBoard is what a joint holds along its board: a pocket screw is pulled then.
func (w *walk) alongBoard(j frame.Joint, x fixing.Fixed) float64 {
	s, n := w.heldBy(j, x), Holding(j, x)
	if j.Kind == frame.PocketEnd {
		return s.Pull() * float64(n)
	}
	return s.Across() * float64(n)
}

// spliced checks the plates of a course that is joined end to end: its bending there is a
// couple of the plates on both faces, each held by its screws.
func (w *walk) spliced(c *course, row Row, path Path) {
	for _, j := range w.Frame.Joints {
		if j.Kind != frame.Splice ||
			!slices.ContainsFunc(c.boards, func(i int) bool { return w.nodes[i].ID == j.Parts[0] }) {
			continue
		}
		n := &w.nodes[w.index[j.Parts[0]]]
		moment, shear := row.Inside(j.At.Along(n.Grain).Metres())
		l := Link{
			From:  j.Parts[0],
			To:    j.Parts[1],
			Path:  path,
			Way:   Across,
			Joint: j.ID,
			Load:  math.Abs(moment)/n.Thickness.Metres() + math.Abs(shear),
		}
		if x, ok := w.Fixed[j.ID]; ok {
			s := w.heldBy(j, x)
			l.Screws = x.Count
			l.Holds = s.Across() * float64(x.Count) / 4 // one plate's screws in one of the two pieces
			l.Breaks = l.Holds * pullsOut
		}
		w.add(l)
	}
}
