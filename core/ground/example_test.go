package ground_test

import (
	"fmt"

	"chamfer/core/ground"
	"chamfer/core/measure"
)

func ExampleRolls() {
	const in = measure.Inch
	// Two strips of 99 in and one of 120 from rolls of 25 ft, lapped 6 in where they go on.
	rolls, joints := ground.Rolls([]measure.Length{99 * in, 99 * in, 120 * in}, 300*in, 6*in)
	fmt.Println(rolls, "rolls,", joints, "joints")
	// Output: 2 rolls, 0 joints
}
