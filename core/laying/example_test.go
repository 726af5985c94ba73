package laying_test

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/laying"
	"chamfer/core/money"
)

func ExampleWork() {
	shop, err := catalog.ForRegion("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	wall := frame.Frame{Times: 1}
	for range 40 {
		wall.Units = append(wall.Units, frame.Unit{SKU: "wall12", Kind: frame.StandardUnit})
	}
	listed := func(_ string, price money.Amount) money.Amount { return price }
	p, err := laying.Work([]frame.Frame{wall}, shop, listed)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(p.Units[0].Buy, "×", p.Units[0].Unit.Name, "-", p.Units[0].Words())
	// Output: 42 × Garden wall block 4 x 8 x 12 - 40 laid whole, 2 spare
}
