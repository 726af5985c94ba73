package work

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// fillGraph puts soil behind what holds it and on what it must not lie under, and what stands on soil after it.
func (w *writer) fillGraph(f *frame.Frame, acts, lined, covers []*Step, square string) {
	var fills []*Step
	w.each(func(s *Step) {
		if s.Bed == f.Bed && s.Phase == Tip {
			fills = append(fills, s)
		}
	})
	for n, s := range fills {
		s.after(square, "walls that are filled stay as they are")
		s.after(f.Bed+".ground", "the ground is level")
		if w.led(f) {
			s.after("water-pipe", "it runs up inside")
		}
		for _, c := range slices.Concat(covers, lined) {
			if c.Phase != Trim && (c.level == 0 || c.level <= n+1) {
				s.after(c.ID, "it lies under the soil")
			}
		}
		w.each(func(t *Step) { // the next wall's ground is made once the level below it is filled
			// What is cast bears no ground behind it for a week: there the next wall goes on.
			if t.Bed == f.Bed && t.level > n+1 && (t.Digs || t.act != nil) && len(f.Pours) == 0 {
				t.after(s.ID, "the level below it is filled first")
			}
		})
		for _, a := range acts {
			if a.Phase == Bench || a.act.Filled() != frame.BeforeSoil {
				continue
			}
			on := w.standsOn(f, a)
			if a.level > 0 {
				if on = -1; a.level > n+1 {
					continue
				}
			}
			switch {
			case on < 0 || on < n:
				wait := []string(nil)
				switch {
				case kindOf(a.act) == "strips":
					wait = []string{"cast"}
				case w.mortared(f, a):
					wait = []string{"mortar"}
				}
				s.after(a.ID, "it holds the soil", wait...)
			case on == n:
				a.after(s.ID, "it stands on that soil", "soil")
			}
		}
		if n > 0 {
			s.after(fills[n-1].ID, "it lies on that")
		}
	}
}

// fillings are the cavities of a bed by when they are filled: at one go, or level by level where something stands on
// the soil of the lower ones.
func (w *writer) fillings(f *frame.Frame) [][]frame.Cavity {
	all := levels(f)
	if climbs(f) {
		all = nil
		for _, c := range f.Cavities {
			all = append(all, []frame.Cavity{c})
		}
		return all
	}
	for _, u := range f.Units {
		if len(all) > 1 && onSoil(all, u.Body) >= 0 {
			return all
		}
	}
	if len(f.Cavities) == 0 {
		return nil
	}
	return [][]frame.Cavity{f.Cavities}
}

// climbs reports whether a bed is built level by level up a slope.
func climbs(f *frame.Frame) bool {
	return len(f.Levels) > 1 && len(f.Levels) == len(f.Cavities) &&
		slices.ContainsFunc(f.Acts, func(a frame.Act) bool { return a.Level > 0 })
}

// standsOn is the filling of a bed, counted from its first, whose soil an act's units stand on; -1 for none.
func (w *writer) standsOn(f *frame.Frame, s *Step) int {
	best := -1
	all := levels(f)
	if len(all) < 2 {
		return best
	}
	for _, id := range s.units {
		body := w.solids(f)[id]
		best = max(best, onSoil(all, body))
	}
	return best
}

// onSoil is the filling whose soil a block stands on, -1 for none.
func onSoil(fillings [][]frame.Cavity, block frame.Prism) int {
	lo, hi := block.Bounds()
	mid := frame.Spot{U: (lo.X + hi.X) / 2, V: (lo.Y + hi.Y) / 2}
	best := -1
	for k, level := range fillings {
		for _, c := range level {
			if lo.Z > c.Bottom && lo.Z <= c.Top && frame.Inside(c.Outline, mid) {
				best = k
			}
		}
	}
	return best
}

// levels are the cavities of a bed in the order they are filled: all that stand on the ground or a floor first, then
// those that lie on the soil of another.
func levels(f *frame.Frame) [][]frame.Cavity {
	var list [][]frame.Cavity
	at := make([]int, len(f.Cavities))
	for i, c := range f.Cavities {
		for j, below := range f.Cavities[:i] {
			if onto(c, below) {
				at[i] = max(at[i], at[j]+1)
			}
		}
		for len(list) <= at[i] {
			list = append(list, nil)
		}
		list[at[i]] = append(list[at[i]], c)
	}
	return list
}

// onto reports whether the soil of a cavity lies on that of another.
func onto(c, below frame.Cavity) bool {
	if c.Pot || below.Pot || c.Bottom < below.Top || below.Top <= 0 {
		return false
	}
	var mid frame.Spot
	for _, s := range c.Outline {
		mid.U, mid.V = mid.U+s.U, mid.V+s.V
	}
	n := measure.Length(len(c.Outline))
	return frame.Inside(below.Outline, frame.Spot{U: mid.U / n, V: mid.V / n})
}
