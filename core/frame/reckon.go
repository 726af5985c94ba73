package frame

import (
	"math"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/why"
)

// manyCorners is more than whoever reckons by hand goes round.
const manyCorners = 12

// Surface is how the surface inside an outline is reckoned: a circle or its part by its
// radius, what has few corners in strips from side to side, other shapes as they are drawn.
func Surface(outline []Spot) why.Term {
	area := OutlineArea(outline)
	if len(outline) <= manyCorners {
		return strips(outline)
	}
	for _, part := range []int{1, 2, 4} {
		middle, rim := outline[0], outline[1:]
		if part == 1 {
			middle, rim = middleOf(outline), outline
		}
		if evenly(middle, rim) {
			r := measure.Length(
				math.Round(math.Sqrt(area.SquareMetres()*float64(part)/math.Pi) * float64(measure.Metre)),
			)
			if part == whole(rim, middle) {
				return Circle(r, part)
			}
		}
	}
	lo, hi := outline[0], outline[0]
	for _, s := range outline {
		lo, hi = Spot{min(lo.U, s.U), min(lo.V, s.V)}, Spot{max(hi.U, s.U), max(hi.V, s.V)}
	}
	box := measure.Over(hi.U-lo.U, hi.V-lo.V)
	return why.Less(
		why.Times(why.Long(hi.U-lo.U), why.Long(hi.V-lo.V)),
		why.Face(box-area).Called("of rounded corners"),
	)
}

// Circle is how a circle of a radius, or so great a part of one, is reckoned.
func Circle(radius measure.Length, part int) why.Term {
	t := why.Times(why.Pi, why.Long(radius), why.Long(radius))
	if part > 1 {
		return why.Over(t, why.Count(part))
	}
	return t
}

func middleOf(outline []Spot) Spot {
	var u, v measure.Length
	for _, s := range outline {
		u, v = u+s.U, v+s.V
	}
	n := measure.Length(len(outline))
	return Spot{u / n, v / n}
}

// evenly reports whether corners are all as far from a middle.
func evenly(middle Spot, corners []Spot) bool {
	least, most := measure.MaxLength, measure.Length(0)
	for _, s := range corners {
		d := measure.Hypot(s.U-middle.U, s.V-middle.V)
		least, most = min(least, d), max(most, d)
	}
	return most-least < measure.Millimetre/100
}

// whole is into how many parts like it a circle is cut of which corners are the rim: a
// whole circle turns as far as it has corners, a part of one stops before it comes round.
func whole(rim []Spot, middle Spot) int {
	a, b := rim[0], rim[len(rim)-1]
	turn := func(s Spot) float64 { return math.Atan2(float64(s.V-middle.V), float64(s.U-middle.U)) }
	angle := math.Mod(turn(b)-turn(a)+4*math.Pi, 2*math.Pi)
	switch {
	case math.Abs(angle-math.Pi) < 1e-4:
		return 2
	case math.Abs(angle-math.Pi/2) < 1e-4:
		return 4
	}
	return 1
}

// strips cuts an outline of few corners across at each of them: strips with two sides
// along, whose surface is half the sum of those by what lies between.
func strips(outline []Spot) why.Term {
	var at []measure.Length
	for _, s := range outline {
		at = append(at, s.V)
	}
	slices.Sort(at)
	at = slices.Compact(at)
	var list []why.Term
	for i := 1; i < len(at); i++ {
		low, high := across(outline, at[i-1], at[i])
		side := why.Long(measure.Length(math.Round(low)))
		switch {
		case math.Abs(low-high) > 1:
			side = why.Over(why.Sum(side, why.Long(measure.Length(math.Round(high)))), why.Count(2))
		case low < 0.5:
			continue
		}
		list = append(list, why.Times(side, why.Long(at[i]-at[i-1])))
	}
	return why.Sum(list...)
}

// across is how wide an outline is just above one height and just below another, between
// which it has no corner, in nm.
func across(outline []Spot, from, to measure.Length) (low, high float64) {
	type edge struct{ low, high float64 }
	var edges []edge
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if min(a.V, b.V) > from || max(a.V, b.V) < to || a.V == b.V {
			continue
		}
		at := func(v measure.Length) float64 {
			return float64(a.U) + float64(b.U-a.U)*float64(v-a.V)/float64(b.V-a.V)
		}
		edges = append(edges, edge{at(from), at(to)})
	}
	slices.SortFunc(edges, func(a, b edge) int {
		if a.low+a.high < b.low+b.high {
			return -1
		}
		return 1
	})
	for i := 0; i+1 < len(edges); i += 2 {
		low += edges[i+1].low - edges[i].low
		high += edges[i+1].high - edges[i].high
	}
	return low, high
}

// Reckoned is how the opening's surface comes about.
func (o Opening) Reckoned() why.Term {
	switch {
	case o.Surface != nil:
		return *o.Surface
	case o.Round != nil:
		return Surface(o.Round)
	}
	return why.Times(why.Long(o.Hi.U-o.Lo.U), why.Long(o.Hi.V-o.Lo.V))
}

// Reckoned is how the room before anything is displaced comes about.
func (c Cavity) Reckoned() why.Term {
	surface := c.Surface
	if surface == nil {
		t := Surface(c.Outline)
		surface = &t
	}
	list := []why.Term{why.Times(*surface, why.Long(c.Top-c.Bottom))}
	for _, w := range c.Wedges {
		list = append(list, why.Times(strips(w.Outline), why.Long(w.To-w.From)))
	}
	return why.Sum(append(list, why.Room(c.Heaped).Called(c.HeapedAs))...)
}

// Reckoned is how the trench's surface comes about: along its middle by its width, where
// it is that.
func (b Base) Reckoned() why.Term {
	const hair = measure.SquareMetre / 1_000_000
	if d := measure.Over(b.Line, b.Wide) - b.Area; -hair < d && d < hair {
		return why.Times(why.Long(b.Line), why.Long(b.Wide))
	}
	return why.Face(b.Area).Called("of trench")
}

// Footing is how the surface that a frame covers comes about.
func (f *Frame) Footing() why.Term {
	deep, wide := f.Outside[1].V-f.Outside[0].V, f.Outside[1].U-f.Outside[0].U
	box := measure.Over(wide, deep)
	t := why.Times(why.Long(wide), why.Long(deep))
	if area := f.Footprint(); area != box {
		return why.Less(t, why.Face(box-area).Called("of corners that it leaves free"))
	}
	return t
}

// Planting is how the clear surface for planting comes about, opening by opening.
func Planting(frames []Frame) []why.Step {
	var steps []why.Step
	for _, f := range frames {
		for _, o := range f.Openings {
			name := f.Name
			if o.Name != "" {
				name += ", " + o.Name
			}
			steps = append(steps, why.Step{Name: name, As: why.Area,
				Of: why.Times(why.Count(f.Times), o.Reckoned())})
		}
	}
	return why.Added("together", why.Area, steps...)
}

// SizeWhy is how a size follows from the one beside it that was asked for.
func (f *Frame) SizeWhy(m Measure) why.Why {
	axis, l := m.Run()
	w := why.Why{Rule: "As it is built, from face to face.",
		Steps:  []why.Step{why.Given("the frame, as it is drawn:", why.Long(l))},
		Source: "geometry: lengths are whole nanometres, rounded only for reading"}
	for _, o := range f.Measures {
		a, asked := o.Run()
		if a != axis || o.Field == "" || asked == l || 2*l < asked {
			continue
		}
		round, in := "walls, caps and joints round it", "what stands in it"
		if o.Field == "soil" {
			round, in = "from there to the top", "from there down"
		}
		w.Rule = "From the size that was asked for to this one, by what is built between them."
		w.Steps = []why.Step{why.Given(o.Name, why.Long(asked))}
		if more := l - asked; more > 0 {
			w.Steps = append(w.Steps, why.Given(round, why.Long(more)),
				why.Step{Of: why.Sum(why.Long(asked), why.Long(more)), As: why.Length})
		} else {
			w.Steps = append(w.Steps, why.Given(in, why.Long(-more)),
				why.Step{Of: why.Less(why.Long(asked), why.Long(-more)), As: why.Length})
		}
		break
	}
	if axis == Z && f.Courses() > 0 {
		w.Given = append(w.Given, measure.Count(f.Courses(), "course")+", all of them whole")
	}
	return w
}
