package ground

import (
	"fmt"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/site"
	"chamfer/core/terrain"
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

// Moves are the figures of the ground below the beds as it was measured, of one bed or of all.
func Moves(forms []Formation, on *terrain.Surface, s why.Style) []why.Figure {
	var list []why.Figure
	for _, f := range forms {
		name := f.Name
		if f.N > 0 || len(forms) > 1 && slices.ContainsFunc(forms, func(o Formation) bool {
			return o.Bed == f.Bed && o.N != f.N
		}) {
			name += fmt.Sprintf(", number %d", f.N+1)
		}
		cut, fill := f.Checked(on)
		for _, m := range []struct {
			verb            string
			over, all, sect float64
		}{{"dig", f.Moved.CutOver, f.Moved.Cut, cut}, {"fill", f.Moved.FillOn, f.Moved.Fill, fill}} {
			if measure.CubicMetres(m.all) < measure.Litre {
				continue
			}
			list = append(list, s.Figure("", name+", to "+m.verb, why.Why{
				Steps: []why.Step{
					why.Given("over", why.Of(why.Area, m.over)),
					why.Given("on average", why.Of(why.Length, m.all/m.over)),
					{Of: why.Times(why.Of(why.Area, m.over), why.Of(why.Length, m.all/m.over)), As: why.Volume}},
				Given: []string{fmt.Sprintf("once more, by the ends of %d sections across it: %s", sections,
					s.Write(why.Volume, m.sect))},
				Rule:   "Prisms over the triangles between the pegs, from the ground to how it is made.",
				Source: "geometry"}))
		}
	}
	return list
}

// Figures are those of what is dug, with how each came about: where it comes from, where it
// goes, and what leaves.
func (a Account) Figures(cat *catalog.Catalog, s why.Style) []why.Figure {
	flows := func(list []Flow) (steps []why.Step) {
		for _, f := range list {
			steps = append(steps, why.Given(f.What, why.Room(f.Volume)))
		}
		return why.Added("together", why.Volume, steps...)
	}
	if len(a.Out) == 0 && a.Short == 0 {
		return nil
	}
	const asLay = "All of it is counted as it lay in the ground, so that it adds up."
	var list []why.Figure
	if len(a.Out) > 0 {
		list = append(list, s.Figure("", "comes out of the ground", why.Why{Steps: flows(a.Out), Rule: asLay,
			Source: "geometry; holes 10 in (250 mm) across and turf 2 in (50 mm) thick: common practice"}))
	}
	for _, f := range a.In {
		list = append(list, s.Figure("", f.What, why.Why{
			Steps:  []why.Step{why.Given("as it lay", why.Room(f.Volume))},
			Rule:   "What is trodden down takes less room than it did, so that a fill takes more than its own.",
			Source: EarthSource}))
	}
	if a.Short > 0 {
		list = append(list, s.Figure("", "to be brought for the fill", why.Why{
			Steps: []why.Step{why.Given("more than is dug", why.Room(a.Short))},
			Rule:  "Dig a little more elsewhere on the plot, or have it brought.", Source: "geometry"}))
	}
	if a.Leaves == 0 {
		return list
	}
	var used []why.Term
	for _, f := range a.In {
		used = append(used, why.Room(f.Volume).Called(f.What))
	}
	var total measure.Volume
	for _, f := range a.Out {
		total += f.Volume
	}
	left := why.Less(why.Room(total), used...)
	loose := why.Room(a.Loose)
	return append(list,
		s.Figure("", "leaves, loose", why.Why{
			Steps: []why.Step{why.Given("comes out", why.Room(total)), {Name: "is left", Of: left, As: why.Volume},
				{Of: why.Times(why.Room(a.Leaves), why.Of(why.Number, a.Earth.Loose)), As: why.Volume}},
			Rule: "What is dug swells: it takes more room in a barrow than it did in the ground.", Source: EarthSource}),
		s.Figure("", "barrow loads of it", why.Why{
			Steps: []why.Step{why.Given("loose", loose),
				why.Given("a barrow carries", why.Room(measure.CubicMetres(cat.BarrowLitres/1000))),
				{Of: why.Up(why.Over(loose, why.Room(measure.CubicMetres(cat.BarrowLitres/1000)))), As: why.Number}},
			Rule: "The last load is whatever is left.", Source: cat.BarrowSource}),
		s.Figure("", "small trailer loads of it", why.Why{
			Given:  []string{s.Write(why.Volume, a.Loose.CubicMetres()), s.Write(why.Mass, float64(a.Mass))},
			Rule:   "By its room or by its weight, whichever is full first: 40 cu ft (0.65 m³) or 1400 lb (500 kg).",
			Result: fmt.Sprint(a.Loads), Source: "common practice; the plate on the trailer governs"}))
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

// Slants are how the paths of a plot fall.
func Slants(walks []Walk, l *site.Layout, s why.Style) []why.Figure {
	var list []why.Figure
	for _, w := range walks {
		fall := func(share float64) string {
			if share < 0.002 {
				return "level"
			}
			return fmt.Sprintf("1 in %.0f", 1/share)
		}
		list = append(list, why.Figure{Label: "path " + w.Between(l), Text: fall(w.Along) + " along, " + fall(w.Across) +
			" across", Value: w.Along, As: why.Number, Why: why.Why{
			Given: []string{"it is " + s.Write(why.Length, w.Long.Metres()) + " long",
				"to make it even across: " + s.Write(why.Volume, w.Moved.Cut) + " off its high side"},
			Rule:   "The plane nearest the ground along it, by least squares over its whole surface.",
			Result: fall(w.Along) + " along, " + fall(w.Across) + " across", Source: "geometry"}})
	}
	return list
}

// Between says what a path lies between.
func (w Walk) Between(l *site.Layout) string {
	name := func(i int) string {
		n := l.Stands[i].Name
		if l.Stands[i].N > 0 {
			n += fmt.Sprintf(", number %d", l.Stands[i].N+1)
		}
		return n
	}
	if w.B < 0 {
		return "beside " + name(w.A) + ", at the fence"
	}
	return "between " + name(w.A) + " and " + name(w.B)
}
