package cutting_test

import (
	"fmt"

	"chamfer/core/cutting"
	"chamfer/core/measure"
)

func ExampleSolve() {
	const in = measure.Inch
	answer, err := cutting.Solve(cutting.Request{
		Kerf: in / 8,
		Stock: []cutting.Stock{
			{ID: "8 ft", Profile: "2x6", Length: 96 * in, Price: 700, Quantity: cutting.Unlimited},
			{ID: "12 ft", Profile: "2x6", Length: 144 * in, Price: 1050, Quantity: cutting.Unlimited},
		},
		Pieces: []cutting.Piece{
			{ID: "side", Profile: "2x6", Length: 48 * in, Quantity: 4},
			{ID: "end", Profile: "2x6", Length: 36 * in, Quantity: 2},
		},
	})
	fmt.Println(answer.Cost, answer.Proved, err)
	for _, b := range answer.Boards {
		fmt.Println(b.Count, "×", b.Stock.ID, "leaves", b.Offcut)
	}
	// Output:
	// 21.00 true <nil>
	// 2 × 12 ft leaves 11 5/8 in
}
