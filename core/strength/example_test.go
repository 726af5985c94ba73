package strength_test

import (
	"fmt"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/strength"
	_ "chamfer/core/timber" // registers its systems
)

func ExampleWalk() {
	shop, err := catalog.ForRegion("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	f, err := builder.Build(design.New(shop, "Beans").Beds[0], shop)
	if err != nil {
		fmt.Println(err)
		return
	}
	screws := fixing.Choose([]frame.Frame{f}, shop, shop.Habits)
	worst := 0.0
	links := strength.Walk(strength.Input{Frame: &f, Catalog: shop, Fixed: screws.ByJoint, On: design.OnGround})
	for _, l := range links {
		if l.Way == strength.Bending {
			worst = max(worst, l.Ratio())
		}
	}
	fmt.Printf("%d links; the worst board is bent to %.0f %%\n", len(links), 100*worst)
	// Output: 74 links; the worst board is bent to 32 %
}
