package money_test

import (
	"fmt"

	"chamfer/core/money"
)

func ExampleParse() {
	price, err := money.Parse("$11.40")
	fmt.Println(price.Times(3), price.Rate(725), err)
	// Output: 34.20 0.83 <nil>
}
