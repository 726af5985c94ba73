package fill

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Forked is one thing that is forked into the top layers of all beds that take it.
type Forked struct {
	Of     catalog.Booster
	Amount int // g or ml, as it is sold
	Packs  int
	Beds   []string
}

// boosts reckons what is forked in: so much to the square metre of soil that shows.
func boosts(beds []design.Bed, frames []frame.Frame, cat *catalog.Catalog) []Forked {
	var list []Forked
	for _, of := range cat.Boosters {
		f := Forked{Of: of}
		sum := 0.0
		for i, b := range beds {
			for _, x := range b.BoostsOf(cat) {
				if x.Of.ID != of.ID {
					continue
				}
				area := 0.0
				for _, c := range frames[i].Cavities {
					area += frame.OutlineArea(c.Outline).SquareMetres()
				}
				sum += area * x.Rate * float64(frames[i].Times)
				f.Beds = append(f.Beds, b.Name)
			}
		}
		if f.Amount = int(math.Ceil(sum - 1e-9)); f.Amount > 0 {
			f.Packs = (f.Amount + of.Pack - 1) / of.Pack
			list = append(list, f)
		}
	}
	return list
}

// Words write how much of it there is.
func (f Forked) Words(sys measure.System) string {
	switch {
	case f.Of.Unit == "ml" && sys == measure.Imperial:
		return fmt.Sprintf("%.1f qt", float64(f.Amount)/946.352946)
	case f.Of.Unit == "ml":
		return fmt.Sprintf("%.1f l", float64(f.Amount)/1000)
	case sys == measure.Imperial:
		return fmt.Sprintf("%.1f lb", float64(f.Amount)/453.59237)
	}
	return fmt.Sprintf("%.2f kg", float64(f.Amount)/1000)
}

// lines are the bags of it.
func (f Forked) line(sys measure.System, own func(string) bool,
	price func(string, money.Amount) money.Amount) cost.Line {
	return cost.Line{Group: cost.Soil, SKU: f.Of.ID, Item: f.Of.Name, Quantity: f.Packs, Unit: "bag",
		Price: price(f.Of.ID, f.Of.Price), Own: own(f.Of.ID), Why: f.Words(sys) + ", forked into the top layer"}
}
