package why_test

import (
	"fmt"

	"chamfer/core/measure"
	"chamfer/core/why"
)

func ExampleWhy() {
	us := why.Style{System: measure.Imperial, Lengths: measure.Sixteenths}
	room := why.Times(why.Long(8*measure.Foot), why.Long(4*measure.Foot), why.Long(measure.Foot))
	soil := why.Why{
		Steps: []why.Step{
			{Name: "between the walls", Of: room, As: why.Volume},
			{Of: why.Times(why.Of(why.Volume, room.Value()), why.Of(why.Number, 1.15)), As: why.Volume},
		},
		Rule: "Loose soil settles.",
	}
	fmt.Println(soil.Text(us))
	fmt.Println(soil.Told(us))
	// Output:
	// 1.36 cu yd
	// between the walls: 8' × 4' × 1' = 32 cu ft. Loose soil settles. 32 cu ft × 1.15 = 36.8 cu ft = 1.36 cu yd.
}
