package cost_test

import (
	"fmt"

	"chamfer/core/cost"
)

func ExampleBill_Add() {
	b := cost.Bill{TaxRate: 725}
	b.Add(cost.Line{Group: cost.Timber, Item: "2x6, 8 ft", Quantity: 3, Price: 700})
	b.Add(cost.Line{Group: cost.Soil, Item: "bag", Quantity: 10, Price: 550})
	fmt.Println(b.Of(cost.Timber), b.Subtotal, b.Tax, b.Total)
	// Output: 21.00 76.00 5.51 81.51
}
