package laying

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Why says in words what a heap is for.
func (h Heap) Why() string {
	var list []string
	for _, x := range h.For {
		if !slices.Contains(list, x.Name) {
			list = append(list, x.Name)
		}
	}
	return strings.Join(list, "; ")
}

// figures are how much of a heap there has to be, and how many packs.
func (h Heap) figures(s why.Style) []why.Figure {
	in := why.Room(h.Volume)
	list := []why.Figure{s.Figure("", h.Loose.Name, why.Why{
		Steps:  why.Added("in place", why.Volume, h.For...),
		Source: h.Loose.Source,
	})}
	packs := why.Why{Steps: []why.Step{why.Given("in place", in)}, Rule: "Packs are whole.", Source: h.Loose.Source}
	if h.Loose.Kind == catalog.Mortar {
		one := why.Room(h.Loose.Volume)
		packs.Steps = append(packs.Steps, why.Given("one "+h.Loose.Pack+" makes", one),
			why.Step{Of: why.Up(why.Over(in, one)), As: why.Number})
	} else {
		density, one := why.Of(why.Density, h.Loose.Density), why.Of(why.Mass, h.Loose.Mass)
		heavy := why.Times(in, density)
		packs.Steps = append(packs.Steps, why.Given("it weighs in place", density),
			why.Step{Name: "so", Of: heavy, As: why.Mass}, why.Given("one "+h.Loose.Pack, one),
			why.Step{Of: why.Up(why.Over(why.Of(why.Mass, heavy.Value()), one)), As: why.Number})
	}
	return append(list, s.Figure("", h.Loose.Name+", by the "+h.Loose.Pack, packs))
}

// Figures are those of the base and what lies loose in and behind the walls.
func (p Plan) Figures(frames []frame.Frame, s why.Style) []why.Figure {
	var list []why.Figure
	for _, h := range p.Heaps {
		list = append(list, h.figures(s)...)
	}
	if p.Dug == 0 {
		return list
	}
	var steps []why.Step
	for _, f := range frames {
		for _, b := range f.Bases {
			deep := why.Sum(why.Long(b.Stone), why.Long(b.Screed), why.Long(b.Buried))
			steps = append(steps, why.Step{Name: f.Name, As: why.Volume,
				Of: why.Times(why.Count(f.Times), b.Reckoned(), deep)})
		}
	}
	return append(list, s.Figure("", "to dig out of the trench", why.Why{
		Steps: why.Added("together", why.Volume, steps...),
		Rule: "Its surface, corners once, by its depth: stone, screed and what is buried." +
			" Loose it is a fifth to two fifths more.",
		Source: "geometry; swell: Caterpillar Performance Handbook load factors (from memory)",
	}))
}

// Lines are what is bought to be laid: units, what comes in heaps, glue, and what is hired.
func (p Plan) Lines(
	s why.Style,
	own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount,
) []cost.Line {
	var list []cost.Line
	add := func(sku, item string, n int, unit string, listed money.Amount, words string) {
		list = append(list, cost.Line{Group: cost.Masonry, SKU: sku, Item: item, Quantity: n, Unit: unit,
			Price: price(sku, listed), Own: own(sku), Why: words})
	}
	long := func(l measure.Length) string { return s.Write(why.Length, l.Metres()) }
	for _, c := range p.Units {
		add(c.Unit.ID, c.Unit.Name, c.Buy, "piece", c.Unit.Price, c.Words()+"; "+s.System.Mass(c.Mass)+" in all")
	}
	for _, h := range p.Heaps {
		words := fmt.Sprintf("%s, %s, %s", s.System.Volume(h.Volume), s.System.Mass(h.Mass), h.Why())
		if h.Have > 0 {
			words += fmt.Sprintf(", %d of all these yours", h.Have)
		}
		add(h.Loose.ID, h.Loose.Name, h.Packs, h.Loose.Pack, h.Loose.Price, words)
	}
	if p.Tubes > 0 {
		add(p.Glue.ID, p.Glue.Name, p.Tubes, "tube", p.Glue.Price,
			fmt.Sprintf("%s of bead, two under every cap; a tube makes %s", long(p.Bead), long(p.Glue.Each)))
	}
	if h := p.Hire; h != nil {
		add(h.ID, h.Name, 1, "hire", h.Price, fmt.Sprintf("for %s of trench", long(p.Trench)))
	}
	return list
}

// Counted is how the number of units to buy comes about.
func (p Plan) Counted() []why.Step {
	var steps []why.Step
	for _, c := range p.Units {
		of := why.Sum(why.Count(c.Laid-c.Part).Called("laid whole"), why.Count(c.Cut).Called("cut up"),
			why.Count(c.Spare).Called("spare"))
		steps = append(steps, why.Step{Name: c.Unit.Name, As: why.Number,
			Of: why.Less(of, why.Count(c.Have).Called("yours"))})
	}
	return why.Added("together", why.Number, steps...)
}
