package builder_test

import (
	"fmt"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	_ "chamfer/core/timber" // registers its systems
)

func ExampleBuild() {
	shop, err := catalog.ForRegion("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	frame, err := builder.Build(design.New(shop, "Beans").Beds[0], shop)
	fmt.Println(len(frame.Parts), "parts,", len(frame.Joints), "joints,", frame.Rim, "high,", err)
	// Output: 14 parts, 20 joints, 14 1/2 in high, <nil>
}
