package cost

import (
	"math"

	"chamfer/core/money"
)

// Recovery is the sum that, paid at the end of each of so many years, pays a price back with interest on what is still
// owed: the price times i(1+i)^n / ((1+i)^n − 1), the capital recovery factor of engineering economy; without interest
// the price shared over the years. Rate is a share, 0.03 for three per cent. It is to the nearest cent, and the price
// itself where there are no years to share it over.
func Recovery(price money.Amount, rate float64, years int) money.Amount {
	switch {
	case years < 1:
		return price
	case rate <= 0:
		return price.Per(float64(years))
	}
	grown := math.Pow(1+rate, float64(years))
	return money.Amount(math.Round(float64(price) * rate * grown / (grown - 1)))
}
