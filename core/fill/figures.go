package fill

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Rooms is how the room between the walls comes about, cavity by cavity.
func Rooms(frames []frame.Frame) []why.Step {
	var steps []why.Step
	for _, f := range frames {
		for _, g := range alike(f.Cavities) {
			name := f.Name
			if g.of.Pot {
				name += ", " + measure.Count(g.n, "pot")
			}
			steps = append(steps, why.Step{
				Name: name,
				Of:   why.Times(why.Count(g.n), why.Count(f.Times), g.of.Reckoned()),
				As:   why.Volume,
			})
		}
	}
	return why.Added("together", why.Volume, steps...)
}

// group is so many cavities of one size.
type group struct {
	of frame.Cavity
	n  int
}

func alike(cavities []frame.Cavity) []group {
	var list []group
	for _, c := range cavities {
		if n := len(list); n > 0 && list[n-1].of.Gross() == c.Gross() && list[n-1].of.Pot == c.Pot {
			list[n-1].n++
			continue
		}
		list = append(list, group{c, 1})
	}
	return list
}

// standing is what stands in the soil, by its kind.
func standing(frames []frame.Frame) []why.Step {
	var names []string
	of := map[string]measure.Volume{}
	for _, f := range frames {
		for _, c := range f.Cavities {
			for _, d := range c.Displaced {
				name := "stone and walls"
				if p, ok := f.Part(d.Part); ok {
					name = string(p.Kind)
				}
				if _, ok := of[name]; !ok {
					names = append(names, name)
				}
				of[name] += d.Volume * measure.Volume(f.Times)
			}
		}
	}
	var steps []why.Step
	for _, n := range names {
		steps = append(steps, why.Given(n, why.Room(of[n])))
	}
	return steps
}

// Net is how the settled soil comes about.
func (p Plan) net(frames []frame.Frame) []why.Step {
	steps := []why.Step{why.Given("between the walls", why.Room(p.Gross))}
	var taken []why.Term
	for _, x := range standing(frames) {
		steps, taken = append(steps, x), append(taken, x.Of)
	}
	return append(steps, why.Step{Of: why.Less(why.Room(p.Gross), taken...), As: why.Volume})
}

// found is what lies in and beside the soil that nobody buys.
func found(frames []frame.Frame, s why.Style) []why.Figure {
	var list []why.Figure
	for _, f := range frames {
		for _, x := range f.Found {
			list = append(list, s.Figure("", x.Name, why.Why{
				Steps:  []why.Step{{Name: f.Name, Of: why.Times(why.Count(f.Times), x.Of), As: why.Volume}},
				Rule:   "What is found, not bought.",
				Source: "geometry; how deep: common practice",
			}))
		}
	}
	return list
}

// soils is how what is sold as soil for beds comes about, settled: what all beds have room for less
// what else is in them.
func (p Plan) soils(frames []frame.Frame) (steps []why.Step, soil why.Term) {
	steps = p.net(frames)
	steps[len(steps)-1].Name = "settled"
	if len(frames) > 0 && p.Gross == p.Net {
		steps = []why.Step{why.Given("settled", why.Room(p.Net))}
	}
	soil = why.Room(p.Net)
	if p.Found > 0 {
		below := why.Room(p.Found)
		steps = append(steps, why.Given("found, below it", below),
			why.Step{Name: "so of soil", Of: why.Less(soil, below), As: why.Volume})
		soil = why.Room(p.Net - p.Found)
	}
	var own []why.Term
	if p.Turf > 0 {
		own = append(own, why.Over(why.Room(p.Turf).Called("of turf"), why.Count(TurfSettles)))
	}
	if p.Topsoil > 0 {
		own = append(own, why.Room(p.Topsoil).Called("dug from the ground"))
	}
	if len(own) > 0 {
		steps = append(steps, why.Step{Name: "so to buy, settled", Of: why.Less(soil, own...), As: why.Volume})
		soil = why.Room(p.Net - p.Found - p.Turf/TurfSettles - p.Topsoil)
	}
	return steps, soil
}

// ordered is how much of one material is ordered, from what is settled.
func (n Need) ordered(settled why.Term) why.Term {
	if n.Material.ID == catalog.Mixed {
		return why.Times(settled, why.Of(why.Number, 1+float64(n.Loses)/1000))
	}
	return why.Over(settled, why.Of(why.Number, 1-float64(n.Material.Settles)/1000))
}

// OrderWhy is how what has to be ordered comes about, all materials together.
func (p Plan) OrderWhy(frames []frame.Frame) why.Why {
	w := why.Why{Rule: "Loose soil and compost lose 10 to 20 % of their depth in the first season.",
		Source: fmt.Sprintf("common practice; %d %% more, by your habits", p.Settling/10)}
	if !p.Layered() && len(p.Needs) == 1 && p.Needs[0].Material.ID == catalog.Mixed {
		steps, soil := p.soils(frames)
		w.Steps = append(steps, why.Step{Of: p.Needs[0].ordered(soil), As: why.Volume})
		return w
	}
	w.Rule = "Every material loses some of its depth in the first season: so much more of it is placed. What is found" +
		" is not ordered."
	w.Source = "common practice; soil for beds by your habits"
	var steps []why.Step
	for _, n := range p.Needs {
		if len(n.Ways) > 0 {
			steps = append(steps, why.Step{Name: strings.ToLower(n.Material.Name), Of: n.ordered(why.Room(n.Settled)),
				As: why.Volume})
		}
	}
	w.Steps = why.Added("together", why.Volume, steps...)
	return w
}

// WetWhy is how the weight of what is filled comes about, wet.
func (p Plan) WetWhy(cat *catalog.Catalog) why.Why {
	list := p.weighed(cat)
	if len(list) == 1 {
		net, density := why.Room(list[0].volume), why.Of(why.Density, list[0].density)
		return why.Why{
			Steps: []why.Step{
				why.Given("filled", net), why.Given("when wet", density),
				{Of: why.Times(net, density), As: why.Mass}},
			Rule:   "Soil weighs most when it is wet; all that is filled in is reckoned as soil.",
			Source: list[0].source,
		}
	}
	var steps []why.Step
	for _, h := range list {
		steps = append(steps, why.Step{Name: strings.ToLower(h.name),
			Of: why.Times(why.Room(h.volume), why.Of(why.Density, h.density)), As: why.Mass})
	}
	return why.Why{Steps: why.Added("together", why.Mass, steps...),
		Rule: "It weighs most when it is wet; twigs and turf are reckoned as soil.", Source: "common practice"}
}

// rotting is how long it is until half of a rough filler is gone, years: chips and twigs 2 to 4,
// logs of 4 in 5 to 10 (common practice).
const rotting = 7.0

// Sinks is how much lower the surface of a bed is after so many years because its filler rots, and
// how much that is to top up for all beds.
func (p Plan) Sinks(years float64) (deep measure.Length, volume measure.Volume) {
	for _, l := range p.Laid {
		if !l.Rough {
			continue
		}
		share := 1 - math.Pow(0.5, years/rotting)
		deep = max(deep, measure.Length(float64(l.Depth)*share))
		volume += measure.Volume(float64(l.Volume) * share)
	}
	return deep, volume
}

// Figures are those of the filling, with how each came about.
func (p Plan) Figures(frames []frame.Frame, cat *catalog.Catalog, s why.Style) []why.Figure {
	list := []why.Figure{
		s.Figure("", "between the walls, to the soil depth", why.Why{Steps: Rooms(frames),
			Rule: "The surface inside the walls by the depth of the soil.", Source: "geometry"}),
		s.Figure("", "less what stands in it", why.Why{Steps: p.net(frames),
			Rule: "What stands in the soil is not soil.", Source: "geometry"}),
	}
	list = append(list, found(frames, s)...)
	for _, n := range p.Needs {
		name := strings.ToLower(n.Material.Name)
		switch {
		case !p.Layered():
			list = append(list, s.Figure("", fmt.Sprintf("to order, %d %% more because it settles", p.Settling/10),
				p.OrderWhy(frames)))
		case len(n.Ways) == 0:
			list = append(list, s.Figure("", name+", to be found", why.Why{
				Steps: []why.Step{why.Given("settled", why.Room(n.Settled)), {Of: n.ordered(why.Room(n.Settled)),
					As: why.Volume}},
				Rule: "It sinks into itself as it is watered in: so much more is piled in.", Source: n.Material.Source}))
		default:
			list = append(list, s.Figure("", name+" to order", why.Why{
				Steps: []why.Step{why.Given("settled", why.Room(n.Settled)), {Of: n.ordered(why.Room(n.Settled)),
					As: why.Volume}},
				Rule:   "It loses some of its depth in the first season. A mix takes a tenth less room than its parts.",
				Source: n.Material.Source}))
		}
	}
	for _, years := range []float64{1, 5} {
		if deep, v := p.Sinks(years); v > 0 {
			label := fmt.Sprintf("sinks, %s after, at most", measure.Count(int(years), "year"))
			list = append(list, s.Figure("", label, why.Why{
				Given: []string{"to top up then: " + s.Write(why.Volume, v.CubicMetres())},
				Rule: "Half of a woody filler is gone after about seven years; what lies over it comes down by as much." +
					" Twigs and chips go faster, logs slower.",
				Result: s.Write(why.Length, deep.Metres()), Source: "common practice; first-order decay"}))
		}
	}
	for _, h := range p.Heaps() {
		list = append(list, s.Figure("", "the heap of "+h.Name+" is across", why.Why{
			Given:  []string{s.Write(why.Volume, h.Volume.CubicMetres()), s.Write(why.Length, h.High.Metres()) + " high"},
			Rule:   "A cone as steep as it lies by itself: its room is π times its width cubed by the slope, over 24.",
			Result: s.Write(why.Length, h.Across.Metres()), Source: "geometry; angle of repose: common practice"}))
	}
	order := why.Room(p.Order)
	barrow := why.Room(measure.CubicMetres(cat.BarrowLitres / 1000))
	return append(list,
		s.Figure("", "barrow loads", why.Why{
			Steps: []why.Step{why.Given("to order", order), why.Given("a barrow carries", barrow),
				{Of: why.Up(why.Over(order, barrow)), As: why.Number}},
			Rule: "The last load is whatever is left.", Source: cat.BarrowSource}),
		s.Figure("", "weight when wet", p.WetWhy(cat)),
	)
}

// Lines are what is bought to fill the beds, and its delivery.
func (p Plan) Lines(frames []frame.Frame, s why.Style, own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount) []cost.Line {
	var list []cost.Line
	for _, n := range p.Needs {
		if len(n.Ways) == 0 || n.Order == n.Owned {
			continue
		}
		w := n.Way()
		unit := w.Fill.PackLabel
		if w.Fill.Kind == catalog.Bag {
			unit = "bag"
		}
		sum := "settled soil and what it loses: " + p.OrderWhy(frames).Sum(s)
		if p.Layered() {
			sum = fmt.Sprintf("%s settled and what it loses: %s", s.Write(why.Volume, n.Settled.CubicMetres()),
				s.Write(why.Volume, n.Order.CubicMetres()))
		}
		said := []string{sum}
		if n.Owned > 0 {
			said = append(said, s.Write(why.Volume, n.Owned.CubicMetres())+" of it yours")
		}
		list = append(list, cost.Line{Group: cost.Soil, SKU: w.Fill.ID, Item: w.Fill.Name, Quantity: w.Packs, Unit: unit,
			Price: price(w.Fill.ID, w.Fill.Price), Own: own(w.Fill.ID), Why: strings.Join(said, ", ")})
		if w.Delivery > 0 {
			id, what := w.Fill.ID+catalog.Delivery, "loose soil"
			if n.Material.ID != catalog.Mixed {
				what = strings.ToLower(n.Material.Name)
			}
			list = append(list, cost.Line{Group: cost.Soil, SKU: id, Item: "Delivery of " + what, Quantity: w.Loads,
				Unit: "load", Price: price(id, w.Fill.Delivery), Own: own(id), Why: w.Brought(s.System)})
		}
	}
	for _, f := range p.Forked {
		list = append(list, f.line(s.System, own, price))
	}
	return list
}

// Brought says in how many loads it comes, and why.
func (w Way) Brought(sys measure.System) string {
	if w.Loads < 2 {
		return "one load"
	}
	return fmt.Sprintf("%d loads: a lorry brings %s at most", w.Loads, sys.Volume(w.Fill.Most))
}
