package fixing_test

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/fixing"
)

func ExamplePacks() {
	boxes := []catalog.Pack{{SKU: "fifty", Count: 50, Price: 749}, {SKU: "hundred", Count: 100, Price: 1249}}
	for _, b := range fixing.Packs(135, boxes) {
		fmt.Println(b.N, "×", b.Pack.SKU)
	}
	// Output:
	// 1 × fifty
	// 1 × hundred
}
