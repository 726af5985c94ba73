package cost

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/money"
)

// Aisle is a part of a shop, with what is bought there.
type Aisle struct {
	Shop, Name string
	Group      Group
	Lines      []Line
}

// aisles tells where each group is sold, in the order that a day's round has: what is heavy or has to be
// loaded with care comes first (common practice).
var aisles = []Aisle{
	{Shop: "Timber yard", Name: "Timber", Group: Timber},
	{Shop: "Builders' merchant", Name: "Blocks, base and mortar", Group: Masonry},
	{Shop: "Hardware shop", Name: "Fixings", Group: Fixings},
	{Shop: "Hardware shop", Name: "Sheets and cloth", Group: Sheets},
	{Shop: "Hardware shop", Name: "Finish", Group: Finish},
	{Shop: "Garden centre", Name: "Water", Group: Water},
	{Shop: "Garden centre", Name: "Soil", Group: Soil},
}

// Aisles lists what has to be bought by shop and aisle; what is there already is in none. Things of which it was chosen
// where they are bought are in that shop's aisles, the others where such things are sold.
func (b Bill) Aisles() (list []Aisle) {
	for _, a := range aisles {
		for _, l := range b.Lines {
			if l.Group != a.Group || l.Owned {
				continue
			}
			shop := cmp.Or(l.At, a.Shop)
			i := slices.IndexFunc(list, func(o Aisle) bool { return o.Shop == shop && o.Group == a.Group })
			if i < 0 {
				i = len(list)
				list = append(list, Aisle{Shop: shop, Name: a.Name, Group: a.Group})
			}
			list[i].Lines = append(list[i].Lines, l)
		}
	}
	order := map[string]int{}
	for i, a := range list {
		if _, ok := order[a.Shop]; !ok {
			order[a.Shop] = i
		}
	}
	slices.SortStableFunc(list, func(x, y Aisle) int { return cmp.Compare(order[x.Shop], order[y.Shop]) })
	return list
}

// AtShop is what is bought in one shop.
type AtShop struct {
	Name string
	Sum  money.Amount // before tax
}

// Shops lists where something has to be bought, in the order of a day's round.
func (b Bill) Shops() (list []AtShop) {
	for _, a := range b.Aisles() {
		if n := len(list); n == 0 || list[n-1].Name != a.Shop {
			list = append(list, AtShop{Name: a.Shop})
		}
		list[len(list)-1].Sum += a.Sum()
	}
	return list
}

// Sum is what an aisle comes to, before tax.
func (a Aisle) Sum() (sum money.Amount) {
	for _, l := range a.Lines {
		sum += l.Amount
	}
	return sum
}

// Packs writes so many of a unit: "2 boxes of 100", "3 × 40 l bag".
func Packs(n int, unit string) string {
	if unit != "" && unit[0] >= '0' && unit[0] <= '9' {
		return fmt.Sprintf("%d × %s", n, unit)
	}
	if n != 1 {
		word, rest, _ := strings.Cut(unit, " ")
		if word == "box" {
			word += "e"
		}
		unit = strings.TrimSpace(word + "s " + rest)
	}
	return fmt.Sprintf("%d %s", n, unit)
}
