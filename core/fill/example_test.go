package fill_test

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

func ExampleWork() {
	shop, err := catalog.ForRegion("us")
	if err != nil {
		fmt.Println(err)
		return
	}
	const ft = measure.Foot
	bed := frame.Frame{Times: 1, Cavities: []frame.Cavity{{Top: ft,
		Outline: []frame.Spot{{}, {U: 8 * ft}, {U: 8 * ft, V: 4 * ft}, {V: 4 * ft}}}}}
	listed := func(_ string, price money.Amount) money.Amount { return price }
	p := fill.Work(fill.Input{Frames: []frame.Frame{bed}, Beds: make([]design.Bed, 1), Catalog: shop,
		Habits: shop.Habits, By: "cheaper", Price: listed})
	fmt.Println(measure.Imperial.Volume(p.Net), "and to order", measure.Imperial.Volume(p.Order))
	soil, _ := p.Need(catalog.Mixed)
	fmt.Println(soil.Way().Packs, "×", soil.Way().Fill.PackLabel, "of", soil.Way().Fill.Name)
	// Output:
	// 1.19 cu yd and to order 1.36 cu yd
	// 3 × 0.5 yd3 of Garden soil mix, loose
}
