package plan

import (
	"fmt"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/review"
	"chamfer/core/strength"
)

// woodOf is how a bed's walls stand in the wet; false where they are not of boards.
func (p *Plan) woodOf(i int) (strength.Wood, bool) {
	b, f := p.Design.Beds[i], &p.Frames[i]
	s, err := p.Shop.Catalog.SpeciesOf(b.Species)
	if err != nil || len(f.Parts) == 0 {
		return strength.Wood{}, false
	}
	w := strength.Wood{Least: s.LifeMin, Most: s.LifeMax, Thick: measure.Foot, OffGround: f.OnFeet}
	for _, wall := range f.Walls {
		low, ok := f.Part(wall.Boards[0])
		if !ok {
			continue
		}
		w.Thick = min(w.Thick, low.Thickness)
		if s, err := p.Shop.Catalog.SpeciesOf(low.Species); err == nil { // a front of another timber counts
			w.Least, w.Most = min(w.Least, s.LifeMin), min(w.Most, s.LifeMax)
		}
	}
	if w.Thick == measure.Foot { // no walls that hold soil
		w.Thick = 38 * measure.Millimetre
	}
	if l := b.Options["liner"]; l == "fabric" || l == "membrane" {
		w.Lined = l
	}
	return w, true
}

// OfGround are the figures of the ground below all beds, with how each came about.
func (p *Plan) OfGround() []Figure {
	sys, pr := p.Shop.Catalog.System, p.Shop.Precision()
	var list []Figure
	add := func(label, text string, why review.Why) {
		list = append(list, Figure{Label: label, Text: text, Why: why})
	}
	var outer []string
	for _, f := range p.Frames {
		outer = append(outer, fmt.Sprintf("%s: %s by %s outside%s", f.Name, pr.Feet(f.Outside[1].U-f.Outside[0].U), pr.Feet(f.Outside[1].V-f.Outside[0].V), times(f)))
	}
	add("footprint", sys.Area(p.Ground.Footprint), review.Why{Given: outer, Rule: "Length times width outside the walls, of every bed.", Result: sys.Area(p.Ground.Footprint) + ".", Source: "geometry"})
	if a := p.Ground.Grass["strip"]; a > 0 {
		add("turf to strip", sys.Area(a), review.Why{Given: outer, Rule: "The footprint of the beds whose turf is stripped.", Result: sys.Area(a) + ".", Source: "geometry"})
	}
	holes := 0
	for _, h := range p.Ground.Holes {
		holes += h.Count
		add("post holes, "+pr.Feet(h.Depth)+" deep", fmt.Sprint(h.Count), review.Why{Given: []string{"posts that reach " + pr.Feet(h.Depth) + " below the ground"}, Rule: "One to each post.", Result: fmt.Sprintf("%d holes.", h.Count), Source: "the frame"})
	}
	if holes == 0 {
		add("post holes", "none", review.Why{Given: []string{"no post reaches below the ground"}, Rule: "One to each post that does.", Result: "None.", Source: "the frame"})
	}
	var bases []string
	for _, f := range p.Frames {
		for _, b := range f.Bases {
			bases = append(bases, fmt.Sprintf("%s: %s along its middle, %s wide%s", f.Name, pr.Feet(b.Line), pr.Short(b.Wide), times(f)))
		}
	}
	for _, h := range p.Laying.Heaps {
		if h.Loose.Kind == "mortar" {
			continue
		}
		add(h.Loose.Name, sys.Volume(h.Volume), review.Why{Given: append([]string{h.Why}, bases...), Rule: fmt.Sprintf("In place it weighs %.0f kg/m³ (%.0f lb/cu ft); packs are whole.", h.Loose.Density, h.Loose.Density/16.01846),
			Result: fmt.Sprintf("%s, %s: %d × %s.", sys.Volume(h.Volume), sys.Mass(h.Mass), h.Packs, h.Loose.Pack), Source: h.Loose.Source})
	}
	if p.Laying.Dug > 0 {
		add("to dig out of the trench", sys.Volume(p.Laying.Dug), review.Why{Given: bases, Rule: "Its area, corners once, by its depth: stone, screed and what is buried. Loose it is a fifth to two fifths more.", Result: sys.Volume(p.Laying.Dug) + ".", Source: "geometry; swell: Caterpillar Performance Handbook load factors (from memory)"})
	}
	if n := p.Ground.Driven; n > 0 {
		add("stakes to drive", fmt.Sprint(n), review.Why{Given: []string{"pointed parts of the frames"}, Rule: "One at every corner and between, as the boards need.", Result: fmt.Sprintf("%d.", n), Source: "the frame"})
	}
	return list
}

// OfFill are the figures of the soil, with how each came about.
func (p *Plan) OfFill() []Figure {
	sys, pr := p.Shop.Catalog.System, p.Shop.Precision()
	var rooms []string
	for _, f := range p.Frames {
		for _, c := range f.Cavities {
			rooms = append(rooms, fmt.Sprintf("%s: %s deep, %s%s", f.Name, pr.Feet(c.Top-c.Bottom), sys.Volume(c.Gross()), times(f)))
		}
	}
	if len(rooms) > 8 {
		rooms = append(rooms[:8], fmt.Sprintf("and %d more", len(rooms)-8))
	}
	taken := p.Fill.Gross - p.Fill.Net
	cat := p.Shop.Catalog
	way := p.Fill.Way()
	empty, of := p.emptyMass()
	return []Figure{
		{Label: "between the walls, to the soil depth", Text: sys.Volume(p.Fill.Gross), Why: review.Why{Given: rooms, Rule: "The outline inside the walls by the depth of the soil.", Result: sys.Volume(p.Fill.Gross) + ".", Source: "geometry"}},
		{Label: "less what stands in it", Text: sys.Volume(p.Fill.Net), Why: review.Why{Given: []string{sys.Volume(p.Fill.Gross) + " between the walls", sys.Volume(taken) + " of posts, ties or stone in it"}, Rule: "What stands in the soil is not soil.", Result: sys.Volume(p.Fill.Net) + ".", Source: "geometry"}},
		{Label: fmt.Sprintf("to order, %d %% more because it settles", p.Fill.Settling/10), Text: sys.Volume(p.Fill.Order), Why: review.Why{Given: []string{sys.Volume(p.Fill.Net), fmt.Sprintf("%d %% more", p.Fill.Settling/10)}, Rule: "Loose soil and compost lose 10 to 20 % of their depth in the first season.", Result: sys.Volume(p.Fill.Order) + ".", Source: "common practice; your habits"}},
		{Label: "barrow loads", Text: fmt.Sprint(p.Fill.Barrows), Why: review.Why{Given: []string{sys.Volume(p.Fill.Order), "a barrow carries " + sys.Volume(measure.CubicMetres(cat.BarrowLitres/1000))}, Rule: "Divided, and rounded up.", Result: fmt.Sprintf("%d.", p.Fill.Barrows), Source: cat.BarrowSource}},
		{Label: "weight when wet", Text: sys.Mass(p.Fill.WetMass), Why: review.Why{Given: []string{sys.Volume(p.Fill.Net) + " settled"}, Rule: fmt.Sprintf("At %.0f kg/m³ (%.0f lb/cu ft) when wet.", way.Fill.WetDensity, way.Fill.WetDensity/16.01846), Result: sys.Mass(p.Fill.WetMass) + ".", Source: way.Fill.Source}},
		{Label: "all of it empty", Text: sys.Mass(empty), Why: review.Why{Given: of, Rule: "Volume by the density of its timber, dry; blocks and mix by what they weigh.", Result: sys.Mass(empty) + ".", Source: "the catalogue's densities"}},
		{Label: "all of it filled and wet", Text: sys.Mass(empty + p.Fill.WetMass), Why: review.Why{Given: []string{sys.Mass(empty) + " empty", sys.Mass(p.Fill.WetMass) + " of wet soil"}, Rule: "Added up: what a deck has to carry, and what no one moves again.", Result: sys.Mass(empty+p.Fill.WetMass) + ".", Source: "as above"}},
	}
}

// emptyMass is what all beds weigh without soil, and of what.
func (p *Plan) emptyMass() (measure.Mass, []string) {
	var all strength.Masses
	for i := range p.Frames {
		m, n := strength.Weigh(&p.Frames[i], p.Shop.Catalog), float64(p.Frames[i].Times)
		all.Timber, all.Laid, all.Cast = all.Timber+m.Timber*n, all.Laid+m.Laid*n, all.Cast+m.Cast*n
	}
	of := []string{}
	for _, part := range []struct {
		what string
		kg   float64
	}{{"timber", all.Timber}, {"blocks and bricks", all.Laid}, {"cast walls", all.Cast}} {
		if part.kg > 0 {
			of = append(of, part.what+" "+p.Shop.Catalog.System.Mass(measure.Mass(part.kg)))
		}
	}
	return measure.Mass(all.Empty()), of
}

// times says how many are built alike, where there are several.
func times(f frame.Frame) string {
	if f.Times == 1 {
		return ""
	}
	return fmt.Sprintf(", %d times", f.Times)
}

// lifeWhy is how the years came about: those of the bed that lasts least.
func (p *Plan) lifeWhy(least, most int) review.Why {
	why := review.Why{Rule: "Years in wet soil, by the kind of wood: half the thickness lasts half as long, a sleeper longer; a lining and standing clear of the ground add to it.",
		Result: fmt.Sprintf("%d to %d years.", least, most), Source: "common practice"}
	var sources []string
	for i, b := range p.Design.Beds {
		w, ok := p.woodOf(i)
		if !ok {
			why.Given = append(why.Given, b.Name+": blocks or bricks")
			continue
		}
		if l, _ := w.Years(); l > least {
			continue
		}
		s, err := p.Shop.Catalog.SpeciesOf(b.Species)
		if err != nil {
			continue
		}
		words := fmt.Sprintf("%s: %s, %d–%d years at usual thickness, %s thick", b.Name, s.Name, s.LifeMin, s.LifeMax, p.Shop.Precision().Short(w.Thick))
		if w.Lined != "" {
			words += ", lined with " + w.Lined
		}
		if w.OffGround {
			words += ", clear of the ground"
		}
		why.Given, sources = append(why.Given, words), append(sources, s.Source)
	}
	if len(sources) > 0 {
		why.Source = sources[0] + "; the rest common practice"
	}
	return why
}

// OfSizes are the sizes of a bed that follow from others, with what they follow from.
func (p *Plan) OfSizes(bed string) []Figure {
	sys, pr := p.Shop.Catalog.System, p.Shop.Precision()
	var list []Figure
	for i := range p.Frames {
		f := &p.Frames[i]
		if f.Bed != bed {
			continue
		}
		for _, m := range f.Measures {
			if m.Field != "" {
				continue
			}
			axis, l := m.Run()
			why := review.Why{Rule: "As it is built, from face to face.", Result: pr.Feet(l) + ".", Source: "geometry: lengths are whole nanometres, rounded only for reading"}
			for _, o := range f.Measures {
				if a, asked := o.Run(); a == axis && o.Field != "" && asked != l {
					rest := l - asked
					words := pr.Feet(rest) + " more: walls, caps and joints round it"
					if rest < 0 {
						words = pr.Feet(-rest) + " less: what stands in it"
					}
					why.Given, why.Rule = []string{o.Name + " " + pr.Feet(asked), words}, "From the size that was asked for to this one, by what is built between them."
					break
				}
			}
			if axis == frame.Z && f.Courses() > 0 {
				why.Given = append(why.Given, fmt.Sprintf("%d whole courses", f.Courses()))
			}
			if len(why.Given) == 0 {
				why.Given = []string{"the frame, as it is drawn"}
			}
			list = append(list, Figure{Label: m.Name, Text: pr.Feet(l), Why: why})
		}
		var open []string
		for _, o := range f.Openings {
			words := pr.Feet(o.Hi.U-o.Lo.U) + " by " + pr.Feet(o.Hi.V-o.Lo.V)
			if o.Round != nil {
				words += ", less its round corners"
			}
			open = append(open, strings.TrimSpace(o.Name+" "+words))
		}
		if len(open) > 0 {
			a := sys.Area(f.PlantingArea())
			list = append(list, Figure{Label: "planting area", Text: a, Why: review.Why{Given: open, Rule: "Clear length times clear width, inside the cap or the walls.", Result: a + ".", Source: "geometry"}})
		}
	}
	return list
}

// OfWaste is what is cut off of the boards that are bought, with what it is made of.
func (p *Plan) OfWaste() Figure {
	sys := p.Shop.Catalog.System
	bought, pieces := p.sawnWood()
	text := fmt.Sprintf("%d %%", p.Waste())
	return Figure{Label: "of the wood that is cut is kerf and leftovers", Text: text, Why: review.Why{
		Given: []string{sys.Volume(bought) + " of boards", sys.Volume(pieces) + " of pieces", "a kerf of " + p.Shop.Habits.Kerf.String()},
		Rule:  "What is no piece is kerf, trimmed ends and leftovers, reckoned by volume, so that what is ripped off counts as well.", Result: text + ".", Source: "the cut sheet"}}
}
