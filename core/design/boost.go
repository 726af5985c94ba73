package design

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"chamfer/core/catalog"
)

// Boost is one thing that is forked into a bed's top layer, and how much to the square metre, in the unit
// it is sold by: grams or millilitres.
type Boost struct {
	Of   catalog.Booster
	Rate float64
}

const (
	mostBoosts    = 6
	mostBoost     = 20_000 // to the square metre, of either unit
	boostsWritten = "write them like feed; lime: 200 g; castings: 5 l, so much to the square metre"
)

// ReadBoosts reads what is forked in, "feed; lime: 200 g; castings: 5 l". What has no amount is given as much
// as is usual.
func ReadBoosts(text string, cat *catalog.Catalog) ([]Boost, error) {
	var list []Boost
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ';' || r == ',' }) {
		name, amount, given := strings.Cut(part, ":")
		name = strings.ToLower(strings.TrimSpace(name))
		if name == "" && !given {
			continue
		}
		of, err := boosterNamed(name, cat)
		if err != nil {
			return nil, err
		}
		b := Boost{of, of.Rate}
		if given {
			if b.Rate, err = readRate(strings.TrimSpace(amount), of.Unit); err != nil {
				return nil, fmt.Errorf("%w; %s", err, boostsWritten)
			}
		}
		for _, o := range list {
			if o.Of.ID == of.ID {
				return nil, fmt.Errorf("%s stands there twice", of.ID)
			}
		}
		list = append(list, b)
	}
	if len(list) > mostBoosts {
		return nil, fmt.Errorf("more than %d of them feed nothing but the shop", mostBoosts)
	}
	return list, nil
}

func boosterNamed(name string, cat *catalog.Catalog) (catalog.Booster, error) {
	var ids []string
	for _, b := range cat.Boosters {
		if name != "" && (b.ID == name || strings.HasPrefix(strings.ToLower(b.Name), name)) {
			return b, nil
		}
		ids = append(ids, b.ID)
	}
	return catalog.Booster{}, fmt.Errorf("%q is nothing that is sold to fork in; there is %s", name,
		strings.Join(ids, ", "))
}

// readRate reads so much to the square metre, "200 g" or "5 l", in grams or millilitres.
func readRate(text, unit string) (float64, error) {
	number := strings.TrimRight(text, "abcdefghijklmnopqrstuvwxyz²2/ ")
	if i := strings.IndexFunc(text, func(r rune) bool { return r >= 'a' && r <= 'z' }); i >= 0 {
		number = text[:i]
	}
	n, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(number), ",", ".", 1), 64)
	if err != nil || math.IsNaN(n) {
		return 0, fmt.Errorf("%q is no amount", text)
	}
	by := map[string]map[string]float64{"g": {"": 1, "g": 1, "kg": 1000, "oz": 28.349523, "lb": 453.59237},
		"ml": {"": 1, "ml": 1, "l": 1000, "qt": 946.352946}}[unit]
	said := strings.TrimSuffix(strings.TrimSuffix(strings.TrimSpace(text[len(number):]), "/m2"), "/m²")
	times, ok := by[strings.TrimSpace(said)]
	if !ok {
		return 0, fmt.Errorf("%q is no unit it comes in: it is sold by the %s", said, map[string]string{"g": "gram",
			"ml": "litre"}[unit])
	}
	if n *= times; n <= 0 || n > mostBoost {
		return 0, fmt.Errorf("%q to the square metre is out of all bounds: up to %d %s works", text, mostBoost, unit)
	}
	return n, nil
}

// BoostsOf are a bed's; Check has seen to it that they can be read.
func (b Bed) BoostsOf(cat *catalog.Catalog) []Boost {
	list, _ := ReadBoosts(b.Boost, cat)
	return list
}

// boosts refuses those that cannot be read.
func (c *checker) boosts(b Bed) {
	if _, err := ReadBoosts(b.Boost, c.cat); err != nil {
		c.refuse(b.ID, "boost", "%v", err)
	}
}
