package web

import (
	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"fmt"
	"strings"
)

// printer prints in the project's words; templates call it.
type printer struct {
	plan *plan.Plan
	pr   measure.Precision
}

// The printer's methods are what templates may print with.

func (p printer) Feet(l measure.Length) string   { return p.pr.Feet(l) }
func (p printer) Short(l measure.Length) string  { return p.pr.Short(l) }
func (p printer) Area(a measure.Area) string     { return p.plan.Shop.Catalog.System.Area(a) }
func (p printer) Volume(v measure.Volume) string { return p.plan.Shop.Catalog.System.Volume(v) }
func (p printer) Mass(m measure.Mass) string     { return p.plan.Shop.Catalog.System.Mass(m) }
func (p printer) Money(a money.Amount) string    { return p.plan.Shop.Currency().Format(a) }
func (p printer) Percent(perMille int) string {
	return strings.TrimSuffix(fmt.Sprintf("%.1f", float64(perMille)/10), ".0") + " %"
}

// Units writes a quantity with its unit: 6 boards, 1 box of 50, 3 × 0.5 yd3.
func (p printer) Units(n int, unit string) string { return cost.Packs(n, unit) }

// signed writes a number with its sign.
func signed(n int) string {
	if n < 0 {
		return fmt.Sprintf("−%d", -n)
	}
	return fmt.Sprintf("+%d", n)
}

// regionName is what a region is called, for lists.
func regionName(id string) string {
	if c, err := catalog.ForRegion(id); err == nil {
		return c.Name
	}
	return id
}
