// Package fill reckons the soil: what fits between the walls less the posts
// that stand in it, how much looser it must be ordered because it settles, and
// whether bags or a load in the drive is cheaper. Bagged soil usually costs
// several times as much by volume; a delivery fee evens that out for one small
// bed.
package fill

import (
	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Way is one way to buy the soil.
type Way struct {
	Fill     catalog.Fill
	Packs    int // bags, or steps of loose soil
	Bought   measure.Volume
	Material money.Amount
	Delivery money.Amount
}

// Cost returns what the way costs, delivery with it.
func (w Way) Cost() money.Amount { return w.Material + w.Delivery }

// Plan is the soil for a whole project.
type Plan struct {
	Gross    measure.Volume // between the walls
	Net      measure.Volume // less what stands in it: what is filled
	Found    measure.Volume // of that, what nobody buys: twigs below the soil
	Order    measure.Volume // with the allowance for settling
	Owned    measure.Volume // of it that is there already
	Topsoil  measure.Volume // dug from the ground, settled as it lay
	Turf     measure.Volume // dug, as thick as it was cut: it settles to half
	Settling int            // thousandths added
	Ways     []Way          // every way there is, in the shop's order
	Chosen   int            // index into Ways
	Cheapest int
	Barrows  int
	WetMass  measure.Mass // of the settled soil, wet
}

// Way returns the way chosen.
func (p Plan) Way() Way { return p.Ways[p.Chosen] }

// Input is what the soil is reckoned from.
type Input struct {
	Frames  []frame.Frame
	Catalog *catalog.Catalog
	Habits  catalog.Habits
	By      string         // how soil comes: "cheaper", "bag" or "loose"
	Have    map[string]int // packs of a fill that are there already, by its ID
	// Topsoil and Turf are dug and may go in, as much as there is of them, as they lay.
	Topsoil, Turf measure.Volume
	Price         func(sku string, listed money.Amount) money.Amount // of a fill or its delivery in this shop
}

// TurfSettles is into how many parts turf sinks that lies upside down below soil: half of its
// thickness is left (common practice, a third to a half).
const TurfSettles = 2

// Work reckons the soil for all cavities.
func Work(in Input) Plan {
	p := Plan{Settling: in.Habits.SettlingPerMille}
	for _, f := range in.Frames {
		for _, c := range f.Cavities {
			p.Gross += c.Gross() * measure.Volume(f.Times)
			p.Net += c.Net() * measure.Volume(f.Times)
		}
		for _, x := range f.Found {
			if x.Below {
				p.Found += x.Volume * measure.Volume(f.Times)
			}
		}
	}
	p.Turf = min(in.Turf, TurfSettles*(p.Net-p.Found))
	p.Topsoil = min(in.Topsoil, p.Net-p.Found-p.Turf/TurfSettles)
	p.Order = (p.Net - p.Found - p.Turf/TurfSettles - p.Topsoil).PerMille(1000 + int64(p.Settling))
	for _, f := range in.Catalog.Fills {
		p.Owned += f.Pack * measure.Volume(in.Have[f.ID])
	}
	p.Owned = min(p.Owned, p.Order)
	p.Barrows = ceil(p.Order, measure.CubicMetres(in.Catalog.BarrowLitres/1000))
	for i, f := range in.Catalog.Fills {
		w := Way{Fill: f}
		if rest := p.Order - p.Owned; rest > 0 {
			w.Packs, w.Delivery = ceil(max(rest, f.Least), f.Pack), in.Price(f.ID+catalog.Delivery, f.Delivery)
		}
		w.Bought = f.Pack * measure.Volume(w.Packs)
		w.Material = in.Price(f.ID, f.Price).Times(w.Packs)
		p.Ways = append(p.Ways, w)
		if w.Cost() < p.Ways[p.Cheapest].Cost() {
			p.Cheapest = i
		}
	}
	p.choose(in.By)
	return p
}

// choose takes the way that is asked for, the cheapest where none is.
func (p *Plan) choose(by string) {
	p.Chosen = p.Cheapest
	for i, w := range p.Ways {
		if string(w.Fill.Kind) == by {
			p.Chosen = i
			break
		}
	}
	p.WetMass = measure.Mass(p.Net.CubicMetres() * p.Way().Fill.WetDensity)
}

func ceil(v, step measure.Volume) int { return int((v + step - 1) / step) }
