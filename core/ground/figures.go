package ground

import (
	"fmt"

	"chamfer/core/cost"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/why"
)

// Figures are those of the ground, with how each came about. stripped says of a bed
// whether its turf is lifted.
func (p Plan) Figures(frames []frame.Frame, stripped func(bed string) bool, s why.Style) []why.Figure {
	footprint := func(of func(f frame.Frame) bool) []why.Step {
		var steps []why.Step
		for i := range frames {
			if f := &frames[i]; of(*f) {
				steps = append(steps, why.Step{Name: f.Name, As: why.Area,
					Of: why.Times(why.Count(f.Times), f.Footing())})
			}
		}
		return why.Added("together", why.Area, steps...)
	}
	list := []why.Figure{s.Figure("", "footprint", why.Why{
		Steps: footprint(func(frame.Frame) bool { return true }),
		Rule:  "What lies outside the walls and within, of every bed.", Source: "geometry"})}
	if p.Grass["strip"] > 0 {
		list = append(list, s.Figure("", "turf to strip", why.Why{
			Steps: footprint(func(f frame.Frame) bool { return !f.OnFeet && stripped(f.Bed) }),
			Rule:  "The footprint of the beds whose turf is stripped.", Source: "geometry"}))
	}
	for _, h := range p.Holes {
		deep := s.Write(why.Length, h.Depth.Metres())
		list = append(list, s.Figure("", "post holes, "+deep+" deep", why.Why{
			Steps: []why.Step{why.Given("posts that reach "+deep+" below the ground", why.Count(h.Count))},
			Rule:  "One to each post.", Source: "the frame"}))
	}
	if len(p.Holes) == 0 {
		list = append(list, s.Figure("", "post holes", why.Why{
			Given: []string{"no post reaches below the ground"}, Rule: "One to each post that does.",
			Result: "none", Source: "the frame"}))
	}
	if p.Driven > 0 {
		list = append(list, s.Figure("", "stakes to drive", why.Why{
			Steps: []why.Step{why.Given("pointed parts of the frames", why.Count(p.Driven))},
			Rule:  "One at every corner and between, as the boards need.", Source: "the frame"}))
	}
	return list
}

// Lines are the rolls that are bought.
func (p Plan) Lines(
	s why.Style,
	own func(sku string) bool,
	price func(sku string, listed money.Amount) money.Amount,
) []cost.Line {
	var list []cost.Line
	for _, c := range p.Covers {
		list = append(list, cost.Line{Group: cost.Sheets, SKU: c.Roll.ID, Item: c.Roll.Name, Quantity: c.Rolls,
			Unit: "roll", Price: price(c.Roll.ID, c.Roll.Price), Own: own(c.Roll.ID), Why: c.Words(s.Lengths)})
	}
	return list
}

// Words say what a roll's strips are; one alone laps nothing.
func (c Cover) Words(pr measure.Precision) string {
	words := measure.Count(c.Strips, "strip of "+pr.Feet(c.Strip))
	if c.Strips > 1 || c.Sheet.Closed || c.Joints > 0 {
		words += ", lapped " + pr.Short(c.Roll.Lap)
	}
	if c.Joints > 0 {
		words += fmt.Sprintf(", %d from two rolls", c.Joints)
	}
	return words
}
