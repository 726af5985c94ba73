package measure_test

import (
	"fmt"

	"chamfer/core/measure"
)

func ExampleParse() {
	l, err := measure.Parse(`7' 6 1/2"`, measure.Imperial)
	fmt.Println(l, err)
	_, err = measure.Parse("about a yard", measure.Imperial)
	fmt.Println(err != nil)
	// Output:
	// 90 1/2 in <nil>
	// true
}
