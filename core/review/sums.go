package review

import (
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/why"
)

// share is how much of what a link may be counted on for comes to it.
func share(l strength.Link) []why.Step {
	load, holds := why.Of(why.Force, l.Load), why.Of(why.Force, l.Holds)
	if l.Holds <= 0 {
		return []why.Step{why.Given("what comes to it, where nothing holds:", load)}
	}
	return []why.Step{
		why.Given("what comes to it", load), why.Given("what may be counted on", holds),
		{Name: "so it takes", Of: why.Over(load, holds), As: why.Share},
	}
}

// visible is how much of a bow over a span would be seen.
func visible(span measure.Length) why.Step {
	return why.Step{Name: "what would pass unnoticed", As: why.Length,
		Of: why.Over(why.Long(span), why.Count(strength.VisibleBow))}
}

// weighed is how a piece's weight comes about.
func (r *reviewer) weighed(p frame.Part) []why.Step {
	s, err := r.Catalog.SpeciesOf(p.Species)
	if err != nil {
		return nil
	}
	room, density := why.Room(p.Volume()), why.Of(why.Density, s.Density)
	return []why.Step{why.Given(p.Role, room), why.Given(s.Name, density),
		{Of: why.Times(room, density), As: why.Mass}}
}

// pressing is how a bed's weight on what it covers comes about.
func (r *reviewer) pressing(m strength.Masses, size measure.Area) []why.Step {
	soil, rest := why.Of(why.Force, strength.Weight(m.Soil)), why.Of(why.Force, strength.Weight(m.Empty()))
	return []why.Step{why.Given("wet soil", soil), why.Given("the rest", rest), why.Given("on", why.Face(size)),
		{Of: why.Over(why.Sum(soil, rest), why.Face(size)), As: why.Pressure}}
}
