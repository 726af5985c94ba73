package catalog

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"chamfer/core/measure"
)

// Afters are what may be looked for first among the cheapest ways to cut boards,
// as the cutter names its aims; the last is for nothing at all.
var Afters = []string{"leftovers", "setups", "boards", "nothing"}

// HabitError says which habit makes no sense, and what would be accepted.
type HabitError struct{ Field, Reason string }

func (e *HabitError) Error() string { return e.Field + ": " + e.Reason }

// ModelWall is how high a wall may hold soil without an engineer by the model code: 24 in,
// 610 mm, where anything else presses on it (IRC R404.4, from memory).
const ModelWall = 24 * measure.Inch

// WallsUpTo is the limit for walls where one lives, or the model code's.
func (h Habits) WallsUpTo() measure.Length {
	if h.WallLimit > 0 {
		return h.WallLimit
	}
	return ModelWall
}

// usualCar is what a car carries besides who drives: most have 400 to 500 kg in their papers with the driver (common
// practice).
const usualCar measure.Mass = 300

// CarMass is what the car carries, as it was said or as is usual.
func (h Habits) CarMass() measure.Mass {
	if h.CarKg > 0 {
		return measure.Mass(h.CarKg)
	}
	return usualCar
}

// LeastReach and MostReach are between what anyone's arm reaches from one side of a bed.
const (
	LeastReach = 200 * measure.Millimetre
	MostReach  = 1100 * measure.Millimetre
)

// Check returns a [HabitError] for the first habit out of range.
func (h Habits) Check() error {
	bad := func(field, format string, args ...any) error { return &HabitError{field, fmt.Sprintf(format, args...)} }
	switch {
	case h.Kerf < 0 || h.Kerf > 12*measure.Millimetre:
		return bad("kerf", "a saw cut of %v is out of range: 0 to 12 mm (1/2 in) works", h.Kerf)
	case h.TaxBasisPoints < 0 || h.TaxBasisPoints > 5000:
		return bad("tax", "0 to 50 per cent works")
	case h.SettlingPerMille < 0 || h.SettlingPerMille > 500:
		return bad("settling", "0 to 50 per cent works")
	case h.SparePerMille < 0 || h.SparePerMille > 500:
		return bad("spare", "0 to 50 per cent works")
	case h.SpoiltPerMille < 0 || h.SpoiltPerMille > 500:
		return bad("spoilt", "0 to 50 per cent works")
	case h.Carry < 500*measure.Millimetre || h.Carry > 20*measure.Metre:
		return bad("carry", "the car takes between 500 mm and 20 m, or nothing could be bought")
	case h.ShopFree < 0 || h.ShopFree > 1000:
		return bad("shop_free", "0 to 1000 free cuts works")
	case h.ShopFee < 0 || h.ShopFee > 100_000:
		return bad("shop_fee", "a fee of up to 1000 a cut works")
	case h.ShopLoss < 0 || h.ShopLoss > 50*measure.Millimetre:
		return bad("shop_loss", "0 to 50 mm (2 in) works")
	case h.WallLimit != 0 && (h.WallLimit < 200*measure.Millimetre || h.WallLimit > 1500*measure.Millimetre):
		return bad("wall_limit", "local limits lie between 200 mm (8 in) and 1.5 m (5 ft)")
	case h.Reach != 0 && (h.Reach < LeastReach || h.Reach > MostReach):
		return bad("reach", "an arm reaches between 200 mm (8 in) and 1.1 m (43 in); 0 takes what is usual")
	case !(h.CarLitres >= 0 && h.CarLitres <= 40_000):
		return bad("car_litres", "a car or a trailer has up to 40,000 l (1400 cu ft) of room; 0 looks at none")
	case !(h.CarKg >= 0 && h.CarKg <= 5000):
		return bad("car_kg", "a car or a trailer carries up to 5000 kg (11,000 lb); 0 takes what is usual")
	case h.Trip < 0 || h.Trip > 100_000:
		return bad("trip", "a trip of up to 1000 works")
	case h.Delivery < 0 || h.Delivery > 1_000_000:
		return bad("delivery", "a delivery of up to 10,000 works")
	case h.After != "" && !slices.Contains(Afters, h.After):
		return bad("after", "%q is not offered; leftovers, setups, boards or nothing", h.After)
	case len([]rune(h.CurrencySymbol)) > 4 || strings.ContainsFunc(h.CurrencySymbol,
		func(r rune) bool { return !unicode.IsPrint(r) || r == utf8.RuneError }):
		return bad("currency", "a symbol of up to 4 letters works, such as $ or €")
	}
	if _, ok := measure.Precisions[h.Precision]; !ok {
		return bad("precision", "%q is not offered; 1/8 in, 1/16 in, 1/32 in, 1 mm or 5 mm", h.Precision)
	}
	return nil
}
