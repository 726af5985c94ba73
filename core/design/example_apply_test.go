package design_test

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	_ "chamfer/core/timber" // registers its systems
)

func ExampleApply() {
	shop, err := catalog.ForRegion("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	d := design.New(shop, "Beans")
	d, err = design.Apply(d, shop, design.Edit{Bed: "b1", Field: "length", Value: "6 ft"})
	fmt.Println(d.Beds[0].Length, err)
	_, err = design.Apply(d, shop, design.Edit{Bed: "b1", Field: "length", Value: "600 ft"})
	fmt.Println(err)
	// Output:
	// 72 in <nil>
	// b1.length: length "600 ft": a length over 100 m is more than a garden needs; write it like 7'6" or 93 1/2 in
}
