// Package cost is the bill: what is bought, in which packs, for how much, and
// what that comes to for a square foot of planting and a year of the bed's
// life. Amounts are whole cents; tax is reckoned once, on the sum.
package cost

import (
	"strconv"

	"chamfer/core/money"
	"chamfer/core/why"
)

// Group orders the lines of a bill the way a shop is walked.
type Group string

// The groups of a bill.
const (
	Timber  Group = "timber"
	Masonry Group = "masonry"
	Fixings Group = "fixings"
	Sheets  Group = "sheets"
	Soil    Group = "soil"
	Water   Group = "water"
	Finish  Group = "finish"
)

// Line is one thing to buy.
type Line struct {
	Group    Group
	SKU      string
	Item     string
	Quantity int
	Unit     string // "board", "box of 100", "bag", "roll"
	Price    money.Amount
	Amount   money.Amount
	Owned    bool   // it is there already
	Own      bool   // the price is the gardener's own, not the catalogue's
	Why      string // how the quantity came about
	At       string // the shop it is bought at; "" where none was chosen
	Left     int    // that it has, where one was chosen; catalog.Plenty where nobody said
	Brought  bool   // it brings what is bought there
}

// Bill is the whole cost.
type Bill struct {
	Lines    []Line
	Subtotal money.Amount
	TaxRate  int // basis points
	Tax      money.Amount
	Total    money.Amount
	Without  []string // what is needed and cannot be had, so that it is in no line
}

// Add puts a line on the bill, unless there is nothing to buy of it.
func (b *Bill) Add(l Line) {
	if l.Quantity == 0 {
		return
	}
	l.Amount = l.Price.Times(l.Quantity)
	b.Lines = append(b.Lines, l)
	b.Subtotal += l.Amount
	b.Tax = b.Subtotal.Rate(b.TaxRate)
	b.Total = b.Subtotal + b.Tax
}

// Of returns what a group comes to, before tax.
func (b Bill) Of(g Group) money.Amount {
	var sum money.Amount
	for _, l := range b.Lines {
		if l.Group == g {
			sum += l.Amount
		}
	}
	return sum
}

// groups are told in this order, by these names.
var groups = []struct {
	of   Group
	name string
}{
	{Timber, "timber"}, {Masonry, "blocks and base"}, {Fixings, "fixings"}, {Sheets, "sheets"}, {Soil, "soil"},
	{Water, "water"}, {Finish, "finish"},
}

// Added is how the total comes about, group by group.
func (b Bill) Added() []why.Step {
	var steps []why.Step
	for _, g := range groups {
		if sum := b.Of(g.of); sum != 0 {
			steps = append(steps, why.Given(g.name, why.Paid(sum)))
		}
	}
	if b.Tax != 0 {
		name := "tax, " + strconv.FormatFloat(float64(b.TaxRate)/100, 'f', -1, 64) + " %"
		steps = append(steps, why.Given(name, why.Paid(b.Tax)))
	}
	return why.Added("together", why.Money, steps...)
}
