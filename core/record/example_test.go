package record_test

import (
	"fmt"

	"chamfer/core/record"
)

// What somebody writes beside a step.
func ExampleRead() {
	minutes, people, err := record.Read("1.5 h by 2")
	fmt.Println(minutes, people, err)
	// Output: 90 2 <nil>
}
