package planes_test

import (
	"fmt"
	"math"

	"chamfer/core/cutting/planes"
)

// Two ways to cut a board: two long pieces for 3, or a long and two short ones for 4. Wanted are
// three long and two short.
func Example() {
	p := planes.New([]int64{3, 4}, []int64{5, 5})
	p.Add(planes.Row{Of: []int64{2, 1}, Least: 3})
	p.Add(planes.Row{Of: []int64{0, 2}, Least: 2})
	if ray := p.Solve(math.Inf(1)); ray == nil {
		fmt.Println(p.Times(), p.Cost)
	}
	// Output: [1 1] 7
}
