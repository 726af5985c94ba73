package strength

import (
	"chamfer/core/catalog"
	"chamfer/core/fixing"
	"chamfer/core/frame"
)

// Held is one fixing of a joint, as the withdrawal and yield formulas see it.
func Held(j frame.Joint, x fixing.Fixed, f *frame.Frame, cat *catalog.Catalog) Screw {
	var wood catalog.Species
	if p, ok := f.Part(j.Parts[1]); ok {
		wood, _ = cat.SpeciesOf(p.Species)
	}
	return heldIn(j, x, wood)
}

// heldIn is one fixing of a joint whose far piece is of a wood.
func heldIn(j frame.Joint, x fixing.Fixed, wood catalog.Species) Screw {
	s := Screw{Kind: x.Fixing.Kind, Diameter: x.Fixing.Diameter, Root: x.Fixing.Root, Side: j.Through,
		EndGrain: j.EndGrain, Plate: j.Kind == frame.Bracket || j.Kind == frame.Splice}
	s.Wood = wood
	s.Thread = min(x.Fixing.Length-j.Through, x.Fixing.Thread())
	if x.Fixing.Kind == catalog.Lag { // its point holds nothing
		s.Thread -= x.Fixing.Tip()
	}
	return s
}

// Holding is how many of a joint's fixings hold one of its two pieces: of brackets and
// plates half of the screws are in either.
func Holding(j frame.Joint, x fixing.Fixed) int {
	if j.Kind == frame.Bracket || j.Kind == frame.Splice {
		return x.Count / 2
	}
	return x.Count
}
