package plan

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/core/water"
	"chamfer/core/why"
)

// woodOf is how a bed's walls stand in the wet; false where they are not of boards.
func (p *Plan) woodOf(i int) (strength.Wood, bool) {
	b, f := p.Design.Beds[i], &p.Frames[i]
	s, err := p.Shop.Catalog.SpeciesOf(b.Species)
	if err != nil || len(f.Parts) == 0 || f.Lasts() && len(f.Walls) == 0 { // what stands beside stone is put up anew
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
	w.Lined = p.Frames[i].Lined()
	return w, true
}

// OfGround are the figures of the ground below all beds, with how each came about.
func (p *Plan) OfGround() []why.Figure {
	st := p.Style()
	stripped := func(bed string) bool { return p.grass[bed] == "strip" }
	return slices.Concat(p.Ground.Figures(p.Frames, stripped, st), p.Laying.Figures(p.Frames, st),
		ground.Moves(p.Formations, p.Surface, st), ground.Slants(p.Walks, &p.Site, st),
		p.Ground.Account.Figures(p.Shop.Catalog, st))
}

// OfFill are the figures of the soil and of what all of it weighs.
func (p *Plan) OfFill() []why.Figure {
	st := p.Style()
	empty := strength.Weighed(p.Frames, p.Shop.Catalog)
	mass := empty[len(empty)-1].Of.Value()
	without, wet := why.Of(why.Mass, mass), why.Of(why.Mass, float64(p.Fill.WetMass))
	list := p.Fill.Figures(p.Frames, p.Shop.Catalog, st)
	if p.Fill.Barrows > 0 {
		list = append(list, p.wheeled())
	}
	if x, ok := p.toppedUp(); ok {
		list = append(list, x)
	}
	return append(list,
		st.Figure("", "all of it empty", why.Why{Steps: empty,
			Rule: "Timber is weighed dry.", Source: "the catalogue's densities and weights"}),
		st.Figure("", "all of it filled and wet", why.Why{
			Steps: []why.Step{why.Given("empty", without), why.Given("wet soil", wet),
				{Of: why.Sum(without, wet), As: why.Mass}},
			Rule:   "What a deck has to carry, and what no one moves again.",
			Source: "as above"}))
}

// lifeWhy is how the years came about: those of the bed that lasts least.
func (p *Plan) lifeWhy(least, most int) why.Why {
	w := why.Why{
		Rule: "Years in wet soil, by the kind of wood: half the thickness lasts half as long, a sleeper longer;" +
			" a lining and standing clear of the ground add to it.",
		Result: fmt.Sprintf("%d to %d years.", least, most), Source: "common practice"}
	var sources []string
	for i, b := range p.Design.Beds {
		wood, ok := p.woodOf(i)
		if !ok {
			w.Given = append(w.Given, b.Name+": blocks or bricks")
			continue
		}
		if l, _ := wood.Years(); l > least {
			continue
		}
		s, err := p.Shop.Catalog.SpeciesOf(b.Species)
		if err != nil {
			continue
		}
		words := fmt.Sprintf(
			"%s: %s, %d–%d years at usual thickness, %s thick",
			b.Name,
			s.Name,
			s.LifeMin,
			s.LifeMax,
			p.Shop.Precision().Short(wood.Thick),
		)
		if wood.Lined != "" {
			words += ", lined with " + wood.Lined
		}
		if wood.OffGround {
			words += ", clear of the ground"
		}
		w.Given, sources = append(w.Given, words), append(sources, s.Source)
	}
	if len(sources) > 0 {
		w.Source = sources[0] + "; the rest common practice"
	}
	return w
}

// OfSizes are the sizes of a bed that follow from others, with what they follow from.
func (p *Plan) OfSizes(bed string) []why.Figure {
	st := p.Style()
	var list []why.Figure
	for i := range p.Frames {
		f := &p.Frames[i]
		if f.Bed != bed {
			continue
		}
		for _, m := range f.Measures {
			if m.Field == "" {
				list = append(list, st.Figure("", m.Name, f.SizeWhy(m)))
			}
		}
		if len(f.Openings) > 0 {
			one := p.Frames[i : i+1 : i+1]
			list = append(list, st.Figure("", "planting area", why.Why{Steps: frame.Planting(one),
				Rule: openRule, Source: "geometry"}))
		}
	}
	return list
}

// openRule is what is counted as planting.
const openRule = "What is clear inside the cap or the walls."

const wasteLabel = "of the wood that is cut is kerf and leftovers"

// OfWaste is what is cut off of the boards that are bought, with what it is made of.
func (p *Plan) OfWaste() why.Figure {
	bought, pieces := p.sawnWood()
	if bought == 0 {
		return why.Figure{Label: wasteLabel, Text: "0 %", Why: why.Why{Given: []string{"no boards"},
			Rule: "What is not sawn leaves nothing.", Result: "0 %", Source: "the cut sheet"}}
	}
	boards, made := why.Room(bought), why.Room(pieces)
	return p.Style().Figure("", wasteLabel, why.Why{
		Given: []string{"a kerf of " + p.Shop.Habits.Kerf.In(p.Shop.Catalog.System)},
		Steps: []why.Step{why.Given("boards", boards), why.Given("pieces", made),
			{Of: why.Over(why.Less(boards, made), boards), As: why.Share}},
		Rule: "What is no piece is kerf, trimmed ends and leftovers, reckoned by volume," +
			" so that what is ripped off counts as well.",
		Source: "the cut sheet",
	})
}

// OfWater are the figures of the water, with how each came about.
func (p *Plan) OfWater() []why.Figure {
	return p.Water.Figures(water.Weathers[p.Design.WaterOr(p.Shop.Catalog).Weather], p.Style())
}

// OfFinish are the figures of what is brushed on, with how each came about.
func (p *Plan) OfFinish() []why.Figure { return p.Finish.Figures(p.Style()) }

// Rates of wheeling soil in (common practice): minutes to load a barrow and to tip it, and how fast one goes on firm
// ground, m/min; and how far it is where nobody knows, from the drive to the garden.
const (
	loadsIn, tipsIn, wheels = 2.0, 0.75, 50.0
	usualWay                = 15.0
)

// wheeled is how long it takes to wheel in what is filled: from the heaps where they lie on the plot, on average to
// each bed.
func (p *Plan) wheeled() why.Figure {
	way, n := 0.0, 0
	for _, h := range p.Heaps() {
		for _, s := range p.Site.Stands {
			if h.Lies {
				way += measure.Hypot((s.Lo.U+s.Hi.U)/2-h.At.U, (s.Lo.V+s.Hi.V)/2-h.At.V).Metres()
				n++
			}
		}
	}
	given := "from heap to bed "
	if n == 0 {
		way, n, given = usualWay, 1, "from the drive, say "
	}
	way /= float64(n)
	minutes := float64(p.Fill.Barrows) * (loadsIn + tipsIn + 2*way/wheels)
	text := fmt.Sprintf("%.0f min", minutes)
	if minutes > 90 {
		text = fmt.Sprintf("%.1f h", minutes/60)
	}
	return why.Figure{Label: "wheeling it in, one person", Text: text, Value: minutes, As: why.Number, Why: why.Why{
		Given: []string{measure.Count(p.Fill.Barrows, "barrow-load"), given + p.Style().Write(why.Length, way)},
		Rule: "Two minutes to load, under one to tip, and there and back at a walk of 50 m (160 ft) a minute; half as long" +
			" again over grass or uphill.",
		Result: text, Source: "common practice"}}
}

// toppedUp is what goes on the beds next spring, and what that costs at today's prices: an inch of compost, as every
// year, and what a rotting filler has sunk by then.
func (p *Plan) toppedUp() (why.Figure, bool) {
	cat := p.Shop.Catalog
	inch := cat.Told(measure.Inch, 25*measure.Millimetre)
	var area measure.Area
	for i := range p.Frames {
		for _, c := range p.Frames[i].Cavities {
			area += frame.OutlineArea(c.Outline) * measure.Area(p.Frames[i].Times)
		}
	}
	_, sunk := p.Fill.Sinks(1)
	v := area.By(inch) + sunk
	way, ok := fill.Cheapest("compost", v, cat, p.price)
	if !ok || v == 0 {
		return why.Figure{}, false
	}
	st := p.Style()
	text := st.Write(why.Volume, v.CubicMetres()) + " of compost, " + p.Shop.Currency().Format(way.Cost())
	return why.Figure{Label: "to top up next spring", Text: text, Value: v.CubicMetres(), As: why.Volume, Why: why.Why{
		Given: []string{st.Write(why.Area, area.SquareMetres()) + " of soil, " + st.Lengths.Short(inch) + " deep",
			"filler that sinks: " + st.Write(why.Volume, sunk.CubicMetres()),
			fmt.Sprintf("%d of %s", way.Packs, way.Fill.Name)},
		Rule: "A bed sinks by 1 to 3 in (25 to 75 mm) in its first year, most of it while it settles, and by about an inch" +
			" (25 mm) every year after: compost makes up for it and feeds.",
		Result: text, Source: "common practice"}}, true
}

// Described says in one sentence what a bed is, for who hears its drawing instead of seeing it.
func (p *Plan) Described(bed string) string {
	for i := range p.Frames {
		f, b := &p.Frames[i], &p.Design.Beds[i]
		if f.Bed != bed {
			continue
		}
		pr := p.Shop.Precision()
		system, _ := design.SystemNamed(b.System)
		words := []string{b.Name + " is a bed of the kind: " + strings.ToLower(system.Title)}
		inside := pr.Feet(b.Length)
		if _, wide := design.FieldOf(*b, "width"); wide {
			inside += " by " + pr.Feet(b.Width)
		}
		lo, hi := f.Outside[0], f.Outside[1]
		words = append(words, "planted "+inside, pr.Feet(hi.U-lo.U)+" by "+pr.Feet(hi.V-lo.V)+" over all",
			pr.Feet(b.Soil)+" of soil")
		if n := len(f.Parts); n > 0 {
			words = append(words, measure.Count(n, "piece")+" of timber")
		}
		if n := len(f.Units); n > 0 {
			courses := 0
			for _, u := range f.Units {
				courses = max(courses, u.Course)
			}
			words = append(words, measure.Count(n, "block")+" in "+measure.Count(courses, "course"))
		}
		if n := b.Times(); n > 1 {
			words = append(words, measure.Count(n, "bed")+" alike")
		}
		return strings.Join(words, ", ") + "."
	}
	return ""
}
