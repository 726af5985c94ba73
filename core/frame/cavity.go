package frame

import (
	"chamfer/core/measure"
	"chamfer/core/why"
)

// Cavity is the room the soil fills.
type Cavity struct {
	ID, Bed string
	Outline []Spot // from above, inside the walls, anticlockwise
	// Free are sides, by their first corner, that nothing built holds: what was there before
	// does, the ground of a slope or a wall.
	Free      []int
	Pieces    [][]Spot  // that make it up, where it has hollows: none of them has
	Surface   *why.Term // how its surface is reckoned, where the outline does not tell
	Bottom    measure.Length
	Top       measure.Length // of the soil
	Rim       measure.Length // of the walls round it
	Wedges    []Prism        // room below Bottom where the floor slopes
	Pot       bool           // a pot or grow bag, not the room between walls
	Displaced []Displaced
	HeapedAs  string // what Heaped is, inside a sum
	// soil above Top, where it slopes up, in pockets beside, and below Bottom where the ground falls away
	Heaped measure.Volume
}

// Takes is how much of a solid stands in a cavity between two heights.
func (c Cavity) Takes(p Prism, from, to measure.Length) (v measure.Volume, ok bool) {
	pieces := c.Pieces
	if pieces == nil {
		pieces = [][]Spot{c.Outline}
	}
	for _, o := range pieces {
		lo, hi := o[0], o[0]
		for _, s := range o[1:] {
			lo, hi = Spot{min(lo.U, s.U), min(lo.V, s.V)}, Spot{max(hi.U, s.U), max(hi.V, s.V)}
		}
		if in, there := p.Within(Point{lo.U, lo.V, from}, Point{hi.U, hi.V, to}); there {
			v, ok = v+in.Volume(), true
		}
	}
	return v, ok
}

// Depth is the soil's at its deepest.
func (c Cavity) Depth() measure.Length {
	low := c.Bottom
	for _, w := range c.Wedges {
		lo, _ := w.Bounds()
		low = min(low, lo.Z)
	}
	return c.Top - low
}

// Displaced is what stands in the soil and takes its room.
type Displaced struct {
	Part   string
	Volume measure.Volume
}

// Gross returns the room before anything is displaced.
func (c Cavity) Gross() measure.Volume {
	v := OutlineArea(c.Outline).By(c.Top - c.Bottom)
	for _, w := range c.Wedges {
		v += w.Volume()
	}
	return v + c.Heaped
}

// Net returns the soil that fits.
func (c Cavity) Net() measure.Volume {
	v := c.Gross()
	for _, d := range c.Displaced {
		v -= d.Volume
	}
	return v
}

// Found is what goes into a bed that nobody buys: twigs below the soil, waste in a basket.
type Found struct {
	Name   string
	Volume measure.Volume
	Of     why.Term // how the volume comes about
	Below  bool     // it lies below the soil, and that much less of it is needed
}
