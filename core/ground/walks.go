package ground

import (
	"math"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/site"
	"chamfer/core/terrain"
)

// Walk is a path between two beds, or a bed and a fence, on ground that was measured: how it falls, and what
// makes it even across.
type Walk struct {
	A, B    int // stands; B is -1 at a fence
	Outline []terrain.Spot
	Long    measure.Length
	Along   float64 // its fall from end to end, of its length
	Across  float64 // and from side to side, of its width
	Moved   terrain.Moved
	Steps   int          // that it takes where it is too steep to walk
	From    terrain.Spot // the upper end of its middle line
	To      terrain.Spot // and the lower
}

// Slopes a path may have: those of routes for wheelchairs are published, the others are common practice.
type Slopes struct {
	Along, Across float64
	Source        string
}

// SlopesOf are those for whoever goes there. For a wheelchair 1 in 20 along, more is a ramp with rails, and 1 in
// 48 across: 2010 ADA Standards 403.3.
func SlopesOf(passage string) Slopes {
	switch passage {
	case "wheelchair":
		return Slopes{1.0 / 20, 1.0 / 48, "2010 ADA Standards 403.3 (from memory)"}
	case "barrow", "mower":
		return Slopes{1.0 / 12, 1.0 / 15, "common practice"}
	}
	return Slopes{1.0 / 6, 1.0 / 10, "common practice"}
}

// widestWalk is as wide as what lies between beds is a path, and not a part of the garden; riser is the height of a
// garden step: 6 in, 150 mm (common practice).
const (
	widestWalk = 2500 * measure.Millimetre
	riser      = 150 * measure.Millimetre
)

// Walks are the paths of a plot. keeps is what is left of the room of what is dug once it is trodden down.
func Walks(s *terrain.Surface, l *site.Layout, keeps float64) []Walk {
	if s == nil {
		return nil
	}
	var list []Walk
	for _, g := range l.Gaps {
		if g.Wide > widestWalk || g.Wide < l.Passage || g.Lo.U >= g.Hi.U || g.Lo.V >= g.Hi.V {
			continue
		}
		w := Walk{A: g.A, B: g.B}
		lo, hi := spot(g.Lo), spot(g.Hi)
		w.Outline = []terrain.Spot{lo, {X: hi.X, Y: lo.Y}, hi, {X: lo.X, Y: hi.Y}}
		fit := s.Best(w.Outline)
		w.Long, w.Along, w.Across = g.Hi.V-g.Lo.V, math.Abs(fit.Away), math.Abs(fit.Right)
		even := terrain.Plane{Z: fit.Z + fit.Right*(lo.X+hi.X)/2, Away: fit.Away}
		if g.Along == frame.Y { // it is so wide from front to back, and runs from left to right
			w.Long, w.Along, w.Across = g.Hi.U-g.Lo.U, math.Abs(fit.Right), math.Abs(fit.Away)
			even = terrain.Plane{Z: fit.Z + fit.Away*(lo.Y+hi.Y)/2, Right: fit.Right}
		}
		mid := terrain.Spot{X: (lo.X + hi.X) / 2, Y: (lo.Y + hi.Y) / 2}
		w.From, w.To = terrain.Spot{X: mid.X, Y: hi.Y}, terrain.Spot{X: mid.X, Y: lo.Y}
		if g.Along == frame.Y {
			w.From, w.To = terrain.Spot{X: hi.X, Y: mid.Y}, terrain.Spot{X: lo.X, Y: mid.Y}
		}
		if fit.At(w.From.X, w.From.Y) < fit.At(w.To.X, w.To.Y) {
			w.From, w.To = w.To, w.From
		}
		w.Moved = balancedTo(s, w.Outline, even, keeps)
		if most := SlopesOf(l.Plot.Passage).Along; w.Along > most {
			rest := w.Long.Metres() * (w.Along - most)
			w.Steps = int(math.Ceil(rest/riser.Metres() - 1e-9))
		}
		list = append(list, w)
	}
	return list
}

// balancedTo is what is moved to a plane that is set as high as lets what is dug fill the rest.
func balancedTo(s *terrain.Surface, outline []terrain.Spot, to terrain.Plane, keeps float64) terrain.Moved {
	low, high := to.Z-2, to.Z+2
	laid := s.Lay(outline)
	for range 50 {
		at := to
		at.Z = (low + high) / 2
		if m := laid.Move(at); m.Cut*keeps > m.Fill {
			low = at.Z
		} else {
			high = at.Z
		}
	}
	to.Z = (low + high) / 2
	return laid.Move(to)
}

func spot(q frame.Spot) terrain.Spot { return terrain.Spot{X: q.U.Metres(), Y: q.V.Metres()} }
