package ground

import (
	"math"
	"slices"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/site"
	"chamfer/core/terrain"
)

// Formation is the ground one bed stands on, where it was measured: how high it is made, and
// what is dug and filled for that.
type Formation struct {
	Stand    int // of the site's
	Bed      string
	N        int
	Name     string
	Outlines [][]terrain.Spot // of what it stands on, on the plot
	Lo, Hi   terrain.Spot     // about them
	Way      string           // one of design.LevelWays, or "" where a height was typed
	To       terrain.Plane    // as it is made
	Ground   terrain.Plane    // nearest the ground as it is
	Low      terrain.Spot     // its lowest and highest ground
	High     terrain.Spot
	Balanced float64 // level at which what is dug is filled
	Moved    terrain.Moved
}

// At is how high the ground is made below the bed's middle, m.
func (f Formation) At() float64 { return f.To.At((f.Lo.X+f.Hi.X)/2, (f.Lo.Y+f.Hi.Y)/2) }

// Drop is how much lower the lowest ground below the bed is than the highest.
func (f Formation) Drop() measure.Length { return measure.Metres(f.High.Z - f.Low.Z) }

// Where says where on a bed a place is, as whoever stands before the plot sees it.
func (f Formation) Where(s terrain.Spot) string {
	third := func(at, lo, hi float64, low, high string) string {
		switch t := (at - lo) / (hi - lo); {
		case t < 1./3:
			return low
		case t > 2./3:
			return high
		}
		return ""
	}
	v, u := third(s.Y, f.Lo.Y, f.Hi.Y, "front", "back"), third(s.X, f.Lo.X, f.Hi.X, "left", "right")
	switch {
	case v == "" && u == "":
		return "in the middle"
	case v == "":
		return "at the " + u
	case u == "":
		return "at the " + v
	}
	return v + " " + u
}

// Base is what a frame stands on, from above: outlines that do not cover one another.
func Base(f *frame.Frame) [][]frame.Spot {
	switch {
	case f.Taken != nil:
		return [][]frame.Spot{f.Taken}
	case len(f.Pours) > 0 && !f.Pours[0].Open:
		var list [][]frame.Spot
		for _, p := range f.Pours {
			list = append(list, p.Outside)
		}
		return list
	case len(f.Arcs) > 0 && len(f.Cavities) > 0:
		list := [][]frame.Spot{f.Cavities[0].Outline}
		for _, u := range f.Units {
			if u.Kind != frame.CapUnit && u.Course == 1 {
				list = append(list, u.Body.Outline)
			}
		}
		return list
	}
	return [][]frame.Spot{f.Around()}
}

// Surface is the plot's ground through its pegs, reaching as far as beds and pegs do; nil where
// none was read.
func Surface(pegs []terrain.Peg, l *site.Layout) *terrain.Surface {
	hi := terrain.Spot{X: l.Plot.Width.Metres(), Y: l.Plot.Depth.Metres()}
	var lo terrain.Spot
	see := func(x, y float64) {
		lo.X, lo.Y, hi.X, hi.Y = min(lo.X, x), min(lo.Y, y), max(hi.X, x), max(hi.Y, y)
	}
	for _, s := range l.Stands {
		see(s.Lo.U.Metres(), s.Lo.V.Metres())
		see(s.Hi.U.Metres(), s.Hi.V.Metres())
	}
	for _, p := range pegs {
		see(p.X.Metres(), p.Y.Metres())
	}
	return terrain.Over(pegs, lo, hi)
}

// Form works out the ground below every bed that stands on it. What makes its own levels, as
// terraces do, and what stands on feet, is left out. keeps is how much room what is dug takes
// once it is filled and trodden down.
func Form(s *terrain.Surface, l *site.Layout, beds []design.Bed, frames []frame.Frame, keeps float64) []Formation {
	if s == nil {
		return nil
	}
	var list []Formation
	for i, stand := range l.Stands {
		k := slices.IndexFunc(beds, func(b design.Bed) bool { return b.ID == stand.Bed })
		if k < 0 {
			continue
		}
		f := &frames[k]
		if beds[k].On != design.OnGround || f.OnFeet || len(f.Levels) > 0 {
			continue
		}
		list = append(list, form(s, stand, i, beds[k], f, keeps))
	}
	return list
}

func form(s *terrain.Surface, stand site.Stand, i int, bed design.Bed, f *frame.Frame, keeps float64) Formation {
	x := Formation{Stand: i, Bed: stand.Bed, N: stand.N, Name: stand.Name}
	first, put := true, stand.On(f)
	for _, o := range Base(f) {
		var line []terrain.Spot
		for _, q := range o {
			at := put(q)
			p := terrain.Spot{X: at.U.Metres(), Y: at.V.Metres()}
			if line = append(line, p); first {
				x.Lo, x.Hi, first = p, p, false
			}
			x.Lo = terrain.Spot{X: min(x.Lo.X, p.X), Y: min(x.Lo.Y, p.Y)}
			x.Hi = terrain.Spot{X: max(x.Hi.X, p.X), Y: max(x.Hi.Y, p.Y)}
		}
		low, high := s.Reach(line)
		if len(x.Outlines) == 0 || low.Z < x.Low.Z {
			x.Low = low
		}
		if len(x.Outlines) == 0 || high.Z > x.High.Z {
			x.High = high
		}
		x.Outlines = append(x.Outlines, line)
	}
	x.Balanced = s.Balanced(x.Outlines, keeps)
	box := []terrain.Spot{x.Lo, {X: x.Hi.X, Y: x.Lo.Y}, x.Hi, {X: x.Lo.X, Y: x.Hi.Y}}
	if len(x.Outlines) == 1 {
		box = x.Outlines[0]
	}
	x.Ground = s.Best(box)
	way, at, typed := bed.LevelOf(stand.N)
	if x.Way = way; typed {
		x.Way = ""
	}
	switch {
	case typed:
		x.To = terrain.Level(measure.Length(at).Metres())
	case way == "balanced":
		x.To = terrain.Level(x.Balanced)
	case way == "highest":
		x.To = terrain.Level(x.High.Z)
	case way == "follow":
		x.To = x.Ground
	default:
		x.To = terrain.Level(x.Low.Z)
	}
	x.Moved = x.moved(s, x.To)
	return x
}

// moved is what is moved below all of a bed to make its ground even.
func (f Formation) moved(s *terrain.Surface, to terrain.Plane) terrain.Moved {
	var m terrain.Moved
	for _, o := range f.Outlines {
		x := s.Move(o, to)
		m.Cut, m.Fill, m.Area, m.Guessed = m.Cut+x.Cut, m.Fill+x.Fill, m.Area+x.Area, m.Guessed+x.Guessed
		m.CutOver, m.FillOn = m.CutOver+x.CutOver, m.FillOn+x.FillOn
		m.Deepest, m.Highest = max(m.Deepest, x.Deepest), max(m.Highest, x.Highest)
	}
	return m
}

// sections is how many are taken across a bed to see whether another way of reckoning says the same.
const sections = 9

// Checked is what is dug and filled below a bed reckoned once more, by sections across it and the means of their ends.
func (f Formation) Checked(s *terrain.Surface) (cut, fill float64) {
	for _, o := range f.Outlines {
		areas, apart := s.Sections(o, f.To, true, sections)
		cut += terrain.EndAreas(areas, apart)
		areas, apart = s.Sections(o, f.To, false, sections)
		fill += terrain.EndAreas(areas, apart)
	}
	return cut, fill
}

// Offer is one way to level a bed's ground, with what it moves.
type Offer struct {
	design.Choice
	To    terrain.Plane
	Moved terrain.Moved
	Taken bool
}

// Offers are the ways there are, side by side.
func (f Formation) Offers(s *terrain.Surface) []Offer {
	var list []Offer
	for _, c := range design.LevelWays {
		to := map[string]terrain.Plane{"lowest": terrain.Level(f.Low.Z), "balanced": terrain.Level(f.Balanced),
			"highest": terrain.Level(f.High.Z), "follow": f.Ground}[c.Value]
		list = append(list, Offer{c, to, f.moved(s, to), c.Value == f.Way})
	}
	return list
}

// Level is the height at which all beds together are dug as much as filled, were they all to
// stand at one.
func Level(s *terrain.Surface, list []Formation, keeps float64) float64 {
	var all [][]terrain.Spot
	for _, f := range list {
		all = append(all, f.Outlines...)
	}
	return s.Balanced(all, keeps)
}

// Formed is the ground of the n-th of a bed, and whether it was measured.
func Formed(list []Formation, bed string, n int) (Formation, bool) {
	i := slices.IndexFunc(list, func(f Formation) bool { return f.Bed == bed && f.N == n })
	if i < 0 {
		return Formation{}, false
	}
	return list[i], true
}

// Direction names the way a fall goes, in degrees clockwise from straight away from the front.
func Direction(toward float64) string {
	names := []string{"the back", "the back right", "the right", "the front right", "the front", "the front left",
		"the left", "the back left"}
	return names[int(math.Round(toward/45))%len(names)]
}
