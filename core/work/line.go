package work

import (
	"fmt"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
)

// line puts in the sheets that go inside the walls, and those that are laid outside of all.
func (w *writer) line(f *frame.Frame, of string) {
	for _, c := range w.Ground.Covers {
		if c.Sheet.Bed == f.Bed && (c.Sheet.Inside || c.Sheet.Outside) {
			w.add(w.sheet(f, c, of))
		}
	}
}

// sheet is the step that puts one in.
func (w *writer) sheet(f *frame.Frame, c ground.Cover, of string) Step {
	name, _, _ := strings.Cut(c.Roll.Name, ", roll")
	s := Step{ID: c.Sheet.ID + ".line", Bed: f.Bed, Sheet: c.Sheet.ID, Phase: Line,
		Title: "Put in the " + strings.ToLower(name[:1]) + name[1:] + of, Where: c.Sheet.Place,
		Have: []string{c.Roll.Name, "knife or tin snips"},
		Do:   []string{fmt.Sprintf("It takes %s of %s%s.", measure.Count(c.Strips, "strip"), w.p.Feet(c.Strip), w.seams(c))}}
	if c.Sheet.Stapled > 0 {
		s.Have = append(s.Have, "stapler")
	}
	if c.Sheet.Along && c.Strips > 1 {
		s.Do = append(s.Do,
			"The strips run along the wall; the upper hangs over the lower, so that water runs off and not behind.")
	}
	w.sheeted(&s, c, f.Times)
	h := c.Sheet.Holes
	switch {
	case h.Count > 0:
		s.Do = append(s.Do, "Lay it in loosely, too large rather than too small, and press it into the corners; fold what is"+
			" over in a corner flat, never cut it there. Its edge is folded under, an inch (25 mm) below the soil.",
			fmt.Sprintf("Then make %d holes of %s in its floor, in rows no more than %s apart, the outer ones %s from the"+
				" walls. Pack the back of the bed up by %s, so that water runs to the front.", h.Count, w.p.Short(h.Across),
				w.p.Feet(h.Apart), w.p.Short(h.Near), w.p.Short(h.Tilt)),
			"Pour in a can of water before the soil: it has to leave within a minute. Trim the edge last.")
	case c.Sheet.TurnUp > 0:
		s.Do = append(s.Do, fmt.Sprintf(
			"Turn it up the walls %s all round, and cut the corners so that they fold over one another.",
			w.p.Short(c.Sheet.TurnUp)))
	case c.Sheet.Outside:
		s.Phase = Trim
		s.Title = "Turn the mesh out at the fence" + of
		s.Do = append(s.Do, "Fold it lengthways, a hand up the net and the rest flat on the ground outside; wire it to the"+
			" net, and peg down its outer edge. Grass grows through it in a season: mow over it.")
	}
	if c.Sheet.Stapled > 0 {
		s.Do = append(s.Do, "Staple its edge every 5 to 6 in (125 to 150 mm).")
	}
	w.fits(&s, f, c.Sheet.Fits)
	if c.Roll.ID == "mesh" {
		s.Cautions = []Caution{mesh}
	}
	return s
}
