package plan_test

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/plan"
)

func ExampleMake() {
	shop, err := plan.ShopFor("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	p, err := plan.Make(design.New(shop.Catalog, "Beans"), shop)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range p.Tally {
		fmt.Println(f.Label+":", f.Text)
	}
	// Output:
	// planting: 32 sq ft
	// soil depth: 1'
	// boards: 7
	// fixings: 60
	// soil to order: 1.34 cu yd
	// wet soil: 3,150 lb
	// total: $346.55
	// years: 10–20
}
