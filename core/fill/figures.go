package fill

import (
	"fmt"
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

// OrderWhy is how what has to be ordered comes about.
func (p Plan) OrderWhy(frames []frame.Frame) why.Why {
	steps := p.net(frames)
	steps[len(steps)-1].Name = "settled"
	if len(frames) > 0 && p.Gross == p.Net {
		steps = []why.Step{why.Given("settled", why.Room(p.Net))}
	}
	soil := why.Room(p.Net)
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
	return why.Why{
		Steps: append(steps, why.Step{
			Of: why.Times(soil, why.Of(why.Number, 1+float64(p.Settling)/1000)), As: why.Volume}),
		Rule:   "Loose soil and compost lose 10 to 20 % of their depth in the first season.",
		Source: fmt.Sprintf("common practice; %d %% more, by your habits", p.Settling/10),
	}
}

// WetWhy is how the weight of the wet soil comes about.
func (p Plan) WetWhy() why.Why {
	net, density := why.Room(p.Net), why.Of(why.Density, p.Way().Fill.WetDensity)
	return why.Why{
		Steps: []why.Step{
			why.Given("filled", net), why.Given("when wet", density),
			{Of: why.Times(net, density), As: why.Mass}},
		Rule:   "Soil weighs most when it is wet; all that is filled in is reckoned as soil.",
		Source: p.Way().Fill.Source,
	}
}

// Figures are those of the soil, with how each came about.
func (p Plan) Figures(frames []frame.Frame, cat *catalog.Catalog, s why.Style) []why.Figure {
	order := why.Room(p.Order)
	barrow := why.Room(measure.CubicMetres(cat.BarrowLitres / 1000))
	list := []why.Figure{
		s.Figure("", "between the walls, to the soil depth", why.Why{Steps: Rooms(frames),
			Rule: "The surface inside the walls by the depth of the soil.", Source: "geometry"}),
		s.Figure("", "less what stands in it", why.Why{Steps: p.net(frames),
			Rule: "What stands in the soil is not soil.", Source: "geometry"}),
	}
	list = append(list, found(frames, s)...)
	return append(list,
		s.Figure("", fmt.Sprintf("to order, %d %% more because it settles", p.Settling/10), p.OrderWhy(frames)),
		s.Figure("", "barrow loads", why.Why{
			Steps: []why.Step{why.Given("to order", order), why.Given("a barrow carries", barrow),
				{Of: why.Up(why.Over(order, barrow)), As: why.Number}},
			Rule: "The last load is whatever is left.", Source: cat.BarrowSource}),
		s.Figure("", "weight when wet", p.WetWhy()),
	)
}

// Lines are what is bought of soil, and its delivery.
func (p Plan) Lines(frames []frame.Frame, s why.Style, own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount) []cost.Line {
	if p.Order == p.Owned {
		return nil
	}
	w := p.Way()
	unit := w.Fill.PackLabel
	if w.Fill.Kind == catalog.Bag {
		unit = "bag"
	}
	said := []string{"settled soil and what it loses: " + p.OrderWhy(frames).Sum(s)}
	if p.Owned > 0 {
		said = append(said, s.Write(why.Volume, p.Owned.CubicMetres())+" of it yours")
	}
	list := []cost.Line{{Group: cost.Soil, SKU: w.Fill.ID, Item: w.Fill.Name, Quantity: w.Packs, Unit: unit,
		Price: price(w.Fill.ID, w.Fill.Price), Own: own(w.Fill.ID), Why: strings.Join(said, ", ")}}
	if w.Delivery > 0 {
		id := w.Fill.ID + catalog.Delivery
		list = append(list, cost.Line{Group: cost.Soil, SKU: id, Item: "Delivery of loose soil", Quantity: 1,
			Unit: "load", Price: w.Delivery, Own: own(id), Why: "one load"})
	}
	return list
}
