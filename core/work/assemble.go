package work

import (
	"fmt"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/setout"
	"chamfer/core/strength"
)

// assemble writes the acts of assembly, and the squaring of what is screwed together.
func (w *writer) assemble(f *frame.Frame, diagonal measure.Length, of string) {
	w.loose = map[string]int{}
	var so []string
	for n := range f.Acts {
		a := &f.Acts[n]
		if a.Verb == frame.Fill { // told with the filling
			continue
		}
		in := slices.Concat(a.Parts, a.Again)
		if a.Loose {
			for _, id := range in {
				w.loose[id] = n + 1
			}
		} else {
			so = append(so, in...)
		}
		var s Step
		switch {
		case a.Loose:
			s = w.act(f, *a, in, of)
		case !f.Screwed() && !joins(f, *a):
			s = w.laid(f, *a, so, of)
		default:
			s = w.act(f, *a, so, of)
		}
		s.act, s.Phase, s.level = a, w.phase(f, a), a.Level
		if a.Loose && s.Phase != Bench {
			s.Where = "on flat ground beside its place: two cannot carry it far"
		}
		for _, id := range a.Parts {
			if _, ok := f.Part(id); ok {
				s.timber = append(s.timber, id)
			} else if slices.ContainsFunc(f.Units, func(u frame.Unit) bool { return u.ID == id }) {
				s.units = append(s.units, id)
			}
		}
		w.add(s)
	}
	if f.Screwed() {
		w.add(w.square(f, so, diagonal, of))
	}
}

// phase is what kind of thing an act is. What is made up and put in place by a later act is made on the bench, where
// two can carry it from there.
func (w *writer) phase(f *frame.Frame, a *frame.Act) Phase {
	switch {
	case a.Loose && w.carried(f, a):
		return Bench
	case a.Verb == frame.FixCap || a.Filled() != frame.BeforeSoil:
		return Trim
	}
	return Stand
}

// carried reports whether each of the pieces an act makes up can be carried by two.
func (w *writer) carried(f *frame.Frame, a *frame.Act) bool {
	for _, m := range w.made(f, a) {
		if m > 2*twoPeople {
			return false
		}
	}
	return true
}

// made are the weights in kg of what an act's parts are when they are joined to one another: one for each that hangs
// together.
func (w *writer) made(f *frame.Frame, a *frame.Act) []float64 {
	in := slices.Concat(a.Parts, a.Again)
	of := map[string]int{}
	for i, id := range in {
		of[id] = i
	}
	root := make([]int, len(in))
	for i := range root {
		root[i] = i
	}
	find := func(i int) int {
		for root[i] != i {
			i = root[i]
		}
		return i
	}
	for _, j := range f.Joints {
		x, okX := of[j.Parts[0]]
		y, okY := of[j.Parts[1]]
		if okX && okY {
			root[find(x)] = find(y)
		}
	}
	sum := make([]float64, len(in))
	for i, id := range in {
		if p, ok := f.Part(id); ok {
			sum[find(i)] += strength.Mass(p, w.Catalog)
		}
	}
	var list []float64
	for i, m := range sum {
		if find(i) == i {
			list = append(list, m)
		}
	}
	return list
}

// joins reports whether an act beside walls that are laid is of timber: posts, or pieces that
// are fixed to one another.
func joins(f *frame.Frame, a frame.Act) bool {
	return a.Verb == frame.SetPost || slices.ContainsFunc(f.Joints, func(j frame.Joint) bool {
		return slices.Contains(a.Parts, j.Parts[0])
	})
}

// madeUp reports whether a joint was made in an earlier, loose act.
func (w *writer) madeUp(j frame.Joint, a frame.Act) bool {
	return slices.Contains(a.Again, j.Parts[0]) && slices.Contains(a.Again, j.Parts[1]) &&
		w.loose[j.Parts[0]] == w.loose[j.Parts[1]]
}

// angles are the sides of an outline of more than four corners, and the lengths across its
// corners, as they are set out.
func (w *writer) angles(f *frame.Frame) (sides, across string) {
	n := len(f.Outline)
	for i, c := range setout.Of(f, w.p).Checks {
		words := fmt.Sprintf("%s to %s %s", c.From, c.To, w.p.Feet(c.Length))
		list := &sides
		if i >= n {
			list = &across
		}
		if *list != "" {
			*list += ", "
		}
		*list += words
	}
	return sides, across
}

func (w *writer) square(f *frame.Frame, so []string, diagonal measure.Length, of string) Step {
	how := fmt.Sprintf("Measure corner to corner, outside to outside, both ways: both are %s when the frame is square."+
		" Push the long diagonal's corner in until they are equal.", w.p.Feet(diagonal))
	where := "on all four sides"
	if f.Outline != nil {
		_, across := w.angles(f)
		how = "Measure across, outside, corner to corner; the front left is A, and they go round anticlockwise: " +
			across + ". Push a corner in or out until its length is right."
		where = "along every side"
	}
	return Step{
		ID:     f.Bed + ".square",
		Bed:    f.Bed,
		Phase:  Stand,
		Chores: []Chore{{Rates()["square"], float64(f.Times)}},
		Title:  "Square it and level it" + of,
		Have:   []string{"tape", "level"},
		Parts:  slices.Clone(so),
		Do:     []string{how, "Then drive the rest of the screws, and check the level again " + where + "."},
	}
}
