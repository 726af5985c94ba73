package fill

import (
	"math"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Laid is one layer of one bed's filling, settled, in as many as are built of it.
type Laid struct {
	Bed, Name string
	N         int // from the bottom
	Words     string
	Parts     []design.Share
	Rough     bool
	Top       bool
	Depth     measure.Length // where the bed is deepest
	Volume    measure.Volume // of what is bought, owned or dug
	Taken     measure.Volume // of its room, what is found: twigs, turf
}

// parted is a layer's room shared out among its parts.
func (l Laid) parted() []measure.Volume {
	list := make([]measure.Volume, len(l.Parts))
	n := 0
	for _, s := range l.Parts {
		n += s.Parts
	}
	rest := l.Volume
	for i, s := range l.Parts {
		list[i] = l.Volume * measure.Volume(s.Parts) / measure.Volume(n)
		rest -= list[i]
	}
	list[len(list)-1] += rest
	return list
}

// shares is how much of each part is mixed for a layer: what is mixed takes less room than its
// parts.
func (l Laid) shares() []measure.Volume {
	list := l.parted()
	if len(list) > 1 {
		for i := range list {
			list[i] = over(list[i], 1000, 1000-MixLoses)
		}
	}
	return list
}

// lay is the filling of one bed, layer by layer. The top layer is as deep in every part of the bed;
// what lies below takes up the difference, in proportion. Pots take what is on top alone.
func lay(f *frame.Frame, bed design.Bed, cat *catalog.Catalog) []Laid {
	layers := bed.LayersOf(cat)
	top := len(layers) - 1
	list := make([]Laid, len(layers))
	var lower measure.Length
	for i, l := range layers {
		list[i] = Laid{Bed: f.Bed, Name: f.Name, N: i, Words: l.Words(cat), Parts: l.Parts, Rough: l.Rough(cat),
			Top: i == top, Depth: l.Depth}
		lower += l.Depth
	}
	list[top].Depth = bed.Soil - lower
	times := measure.Volume(f.Times)
	var deepest measure.Length
	for _, c := range f.Cavities {
		if c.Pot {
			list[top].Volume += c.Net() * times
			continue
		}
		at := Heights(c, bed, cat)
		var before measure.Volume
		for i := range list {
			v := Below(f, c, at[i])
			list[i].Volume += (v - before) * times
			before = v
		}
		if d := c.Depth(); d > deepest {
			deepest = d
			low := c.Top - d
			for i := range list {
				list[i].Depth, low = at[i]-low, at[i]
			}
		}
	}
	for _, x := range f.Found { // lies at the bottom
		if x.Below {
			sink(list, x.Volume*times)
		}
	}
	return list
}

// mulch is what lies on a bed's soil, false where nothing does.
func mulch(f *frame.Frame, bed design.Bed, cat *catalog.Catalog) (Laid, bool) {
	deep := bed.MulchOf(cat)
	if m, err := cat.Material(bed.Mulch); deep > 0 && err == nil {
		l := Laid{Bed: f.Bed, Name: f.Name, Words: strings.ToLower(m.Name), Depth: deep,
			Parts: []design.Share{{Material: m.ID, Parts: 1}}}
		for _, c := range f.Cavities {
			l.Volume += frame.OutlineArea(c.Outline).By(deep) * measure.Volume(f.Times)
		}
		return l, l.Volume > 0
	}
	return Laid{}, false
}

// sink takes room from the bottom of a bed for what is found.
func sink(list []Laid, v measure.Volume) {
	for i := range list {
		take := min(v, list[i].Volume)
		list[i].Volume, list[i].Taken = list[i].Volume-take, list[i].Taken+take
		v -= take
	}
}

// under takes room from the bottom of all beds, each by its share, for what is dug.
func (p *Plan) under(v measure.Volume) {
	if v == 0 {
		return
	}
	var all, before measure.Volume
	for _, l := range p.Laid {
		all += l.Volume
	}
	rest := v
	for i := 0; i < len(p.Laid); {
		n := i
		var bed measure.Volume
		for n < len(p.Laid) && p.Laid[n].Bed == p.Laid[i].Bed {
			bed += p.Laid[n].Volume
			n++
		}
		before += bed
		share := min(rest, measure.Volume(math.Ceil(float64(v)*float64(bed)/float64(all))))
		if before == all {
			share = rest
		}
		sink(p.Laid[i:n], share)
		rest -= share
		i = n
	}
}

// Heights are the tops of the layers of a bed in one of its cavities, from the bottom.
func Heights(c frame.Cavity, bed design.Bed, cat *catalog.Catalog) []measure.Length {
	layers := bed.LayersOf(cat)
	var lower measure.Length
	for _, l := range layers {
		lower += l.Depth
	}
	low := c.Top - c.Depth()
	room := max(0, c.Depth()-(bed.Soil-lower))
	list := make([]measure.Length, len(layers))
	var sum measure.Length
	for i, l := range layers[:len(layers)-1] {
		sum += l.Depth
		list[i] = min(c.Top, low+measure.Length(math.Round(float64(sum)*float64(room)/float64(lower))))
	}
	list[len(layers)-1] = c.Top
	return list
}

// Below is the room for soil of a cavity up to a height: what stands in it is taken off, what is
// heaped over its top counts with the top.
func Below(f *frame.Frame, c frame.Cavity, z measure.Length) measure.Volume {
	if z >= c.Top {
		return c.Net()
	}
	v := frame.OutlineArea(c.Outline).By(max(0, z-c.Bottom))
	for _, w := range c.Wedges {
		v += wedge(w, z)
	}
	for _, d := range c.Displaced {
		v -= stands(f, c, d, z)
	}
	return max(0, v)
}

// stands is what of something that stands in a cavity is below a height.
func stands(f *frame.Frame, c frame.Cavity, d frame.Displaced, z measure.Length) measure.Volume {
	if z <= c.Bottom {
		return 0
	}
	share := float64(z-c.Bottom) / float64(c.Top-c.Bottom)
	if part, ok := f.Part(d.Part); ok {
		all, there := c.Takes(part.Body, c.Bottom, c.Top)
		if in, _ := c.Takes(part.Body, c.Bottom, z); there && all > 0 {
			share = float64(in) / float64(all)
		}
	}
	return measure.Volume(math.Round(float64(d.Volume) * share))
}

// wedge is what of a prism lies below a height: its outline is cut there, or it is where it stands
// upright.
func wedge(p frame.Prism, z measure.Length) measure.Volume {
	lo, hi := p.Bounds()
	switch {
	case z >= hi.Z:
		return p.Volume()
	case z <= lo.Z:
		return 0
	case p.Axis == frame.Z:
		return frame.OutlineArea(p.Outline).By(z - p.From)
	}
	area := 0.0
	type at struct{ u, v float64 }
	var cut []at
	top := float64(z)
	for i, s := range p.Outline {
		q := p.Outline[(i+1)%len(p.Outline)]
		a, b := at{float64(s.U), float64(s.V)}, at{float64(q.U), float64(q.V)}
		if a.v <= top {
			cut = append(cut, a)
		}
		if (a.v < top) != (b.v < top) && a.v != top && b.v != top {
			t := (top - a.v) / (b.v - a.v)
			cut = append(cut, at{a.u + t*(b.u-a.u), top})
		}
	}
	whole := 0.0
	twice := func(list []at) (sum float64) {
		for i, a := range list {
			b := list[(i+1)%len(list)]
			sum += a.u*b.v - b.u*a.v
		}
		return math.Abs(sum)
	}
	var all []at
	for _, s := range p.Outline {
		all = append(all, at{float64(s.U), float64(s.V)})
	}
	area, whole = twice(cut), twice(all)
	return measure.Volume(math.Round(float64(p.Volume()) * area / whole))
}
