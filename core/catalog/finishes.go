package catalog

import (
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Finish is a tin of something that is brushed on timber.
type Finish struct {
	ID, Of, Name string
	Kind         string // "oil" or "stain"
	Tin          measure.Volume
	Price        money.Amount
	First, Later float64 // m² a litre covers, the first coat and the others, on planed timber
	Coats        int
	Wait         int  // hours between them
	Cure         int  // days before soil and food come near it
	Again        int  // months until it wants doing again, upright in the sun
	Rags         bool // rags with it can take fire by themselves
	Source       string
}

// FinishesOf are the tins one finish is sold in, the smallest first; nil where nobody sells it.
func (c *Catalog) FinishesOf(of string) (list []Finish) {
	for _, f := range c.Finishes {
		if f.Of == of {
			list = append(list, f)
		}
	}
	slices.SortStableFunc(list, func(a, b Finish) int { return int(min(1, max(-1, a.Tin-b.Tin))) })
	return list
}
